#include "artwork/copies.h"
#include "artwork/listing.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::artwork;

namespace {
/// "cut(bird(wing head)moon)": the tree in one line.
std::string drawnOut(const Artwork& art, const Listing& listing, const std::vector<std::size_t>& lines) {
    std::string out;
    for (const auto i : lines) {
        const auto& line = listing.lines[i];
        CHECK(&line == &listing.lines[lines[line.place]]);
        std::string name;
        for (const auto& l : art.layers)
            if (line.kind == Listed::Kind::layer && l.id.value == line.id) name = l.name;
        for (const auto& g : art.groups)
            if (line.kind == Listed::Kind::group && g.id.value == line.id) name = g.name;
        if (line.kind == Listed::Kind::item) name = find(art, ItemId{line.id})->name;
        out += (out.empty() || out.back() == ')' ? "" : " ") + name;
        if (line.kind != Listed::Kind::item) out += "(" + drawnOut(art, listing, line.under) + ")";
    }
    return out;
}
std::string listed(const Artwork& art, std::string_view search = {}, ListOrder order = ListOrder::drawing,
                   bool descending = false) {
    const auto wanted = [search](const std::string& name) { return name.find(search) != std::string::npos; };
    const auto listing =
        search.empty() ? listingOf(art, {}, order, descending) : listingOf(art, wanted, order, descending);
    return drawnOut(art, listing, listing.top);
}
Artwork scene() {
    Path eye = circle({12, 12}, 1), line;
    line.start = {0, 0};
    line.segments = {Segment::line({30, 0})};
    auto art = withAllPieces({}, {{{{rectangle({0, 0}, {40, 30}), {}}}, "cut", "wing"},
                                  {{{eye, {}}}, "holes", "eye"},
                                  {{{circle({80, 20}, 9), {}}}, "cut", "moon"},
                                  {{{line, {}}}, "score", "feather"}})
                   .artwork;
    art = *withGrouped(art, {art.items[0].id, art.items[1].id}, "bird");
    auto more = withPieces(art, {{circle({0, 0}, 3), {}}}, "spare", "nut");
    return *withRemoved(more.artwork, more.ids);
}
} // namespace

TEST_CASE("listing: layers hold groups and pieces, a group stands under each layer it is on, empty layers stand too") {
    const auto art = scene();
    CHECK(listed(art) == "cut(bird(wing)moon)holes(bird(eye))score(feather)spare()");
    const auto listing = listingOf(art);
    CHECK(itemsUnder(listing, listing.top[0]).size() == 2);
    CHECK(itemsUnder(listing, listing.top[3]).empty());
}

TEST_CASE("listing: what is looked for by name stands with what holds it, a wanted holder with all it holds") {
    const auto art = scene();
    CHECK(listed(art, "moon") == "cut(moon)");
    CHECK(listed(art, "bird") == "cut(bird(wing))holes(bird(eye))");
    CHECK(listed(art, "holes") == "holes(bird(eye))");
    CHECK(listed(art, "spare") == "spare()");
    CHECK(listed(art, "rook").empty());
}

TEST_CASE("listing: sorted by name, size and points, both ways, and without what lies on another sheet") {
    auto art = scene();
    CHECK(listed(art, "", ListOrder::name) == "cut(bird(wing)moon)holes(bird(eye))score(feather)spare()");
    CHECK(listed(art, "", ListOrder::name, true) == "spare()score(feather)holes(bird(eye))cut(moon bird(wing))");
    CHECK(listed(art, "", ListOrder::size, true) == "cut(bird(wing)moon)holes(bird(eye))score(feather)spare()");
    CHECK(listed(art, "", ListOrder::size).substr(0, 7) == "score(f"); // a line covers nothing
    CHECK(listed(art, "", ListOrder::points, true).substr(0, 9) == "cut(bird(");
    art.items[2].sheet = SheetId{2};
    CHECK(listed(art, "moon").empty());
    CHECK(sortOf(art.items[0]) == "outline");
    CHECK(sortOf(art.items[3]) == "line");
    CHECK(sortOf(withCopies(art, {art.items[0].id}, {5, 0}, 1)->artwork.items.back()) == "copy");
}
