// A picture that is traced again: what is replaced, what stays.
#include "artwork/copies.h"
#include "support/ink.h"
#include "support/shapes.h"
#include "trace/accept.h"

using namespace ferro;
using namespace ferro::test;

namespace {

artwork::Added pictured(const std::vector<const char*>& shapes) {
    Rings rings;
    for (const auto* shape : shapes) rings.push_back(ring(shape));
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(inked(rings, 600, 400, 8).values);
    return artwork::withPicture(
        {}, {"masks.png", std::make_shared<const std::string>("x"), {600, 400, 1, pixels, {}, {}}, {75, 50}}, {10, 20});
}
trace::Accepted accepted(const artwork::Artwork& art, const trace::Recipe& recipe = {}) {
    Progress progress;
    const auto traced = trace::tracedItem(art.items[0], recipe, progress);
    REQUIRE(traced);
    return trace::withAccepted(art, art.items[0].id, *traced, "trace");
}
const char* const three[] = {"5,5 25,5 25,25 5,25", "32,6 50,8 40,24", "56,10 70,10 70,20 56,20"};

} // namespace

TEST_CASE("trace again: untouched pieces take the new shape and keep number, name, layer, group and part") {
    const auto source = pictured({three[0], three[1], three[2]});
    auto first = accepted(source.artwork);
    REQUIRE(first.ids.size() == 3);
    CHECK(first.words().empty()); // nothing was there before
    auto art = first.artwork;
    art = *artwork::withLayer(art, {first.ids[0]}, "masks");
    art = *artwork::withName(art, {first.ids[0]}, "grandmother");
    art = *artwork::withPart(art, {first.ids[0]}, {.quantity = 4});
    const auto copied = artwork::withCopies(art, {first.ids[0]}, {0, 60}, 1);
    REQUIRE(copied);
    art = copied->artwork;
    const auto before = artwork::boundsOf(*artwork::find(art, first.ids[0]));
    // The level moved: all outlines a little.
    const auto next = accepted(art, {.whole = {.level = 250}, .patches = {}});
    CHECK(next.replaced == 3);
    CHECK(next.added == 0);
    CHECK(next.gone == 0);
    CHECK(next.kept.empty());
    CHECK(next.ids == first.ids);
    const auto* one = artwork::find(next.artwork, first.ids[0]);
    REQUIRE(one);
    CHECK(one->name == "grandmother");
    CHECK(artwork::find(next.artwork, one->layer)->name == "masks");
    CHECK(artwork::partOf(next.artwork, *one).quantity == 4);
    CHECK_FALSE(artwork::boundsOf(*one) == before);
    CHECK(next.artwork.items.size() == art.items.size());
    const auto* copy = artwork::find(next.artwork, copied->ids[0]); // it follows, in its own place
    CHECK(copy->leaf == one->leaf);
    CHECK(artwork::boundsOf(*copy).low.y == Approx(artwork::boundsOf(*one).low.y + 60));
    CHECK(next.words() == "3 pieces of the trace before have the new shape.");
}

TEST_CASE("trace again: what was moved, reshaped or deleted by hand is not undone") {
    const auto first = accepted(pictured({three[0], three[1], three[2]}).artwork);
    auto art = *artwork::withTransformed(first.artwork, {first.ids[0]}, Transform::moved({200, 0}));
    art = *artwork::withName(art, {first.ids[0]}, "moved");
    const auto next = accepted(art, {.whole = {.level = 250}, .patches = {}});
    CHECK(next.replaced == 2);
    CHECK(next.kept == artwork::Ids{first.ids[0]});
    CHECK(next.artwork.items.size() == 4); // no twin where it was
    CHECK(artwork::boundsOf(*artwork::find(next.artwork, first.ids[0])) ==
          artwork::boundsOf(*artwork::find(art, first.ids[0])));
    CHECK(next.words().find("1 changed by hand since stays as it is: “moved”") != std::string::npos);
    // Once it is kept it is kept the next time too; back where it was it is untouched again.
    CHECK(accepted(next.artwork).kept.size() == 1);
    const auto back = artwork::withTransformed(art, {first.ids[0]}, Transform::moved({-200, 0}));
    CHECK(accepted(*back).kept.empty());
}

TEST_CASE("trace again: pieces come and go with the picture, wherever it was moved to meanwhile") {
    const auto first = accepted(pictured({three[0], three[1]}).artwork);
    auto art = first.artwork;
    const auto other = pictured({three[0], three[2]}).artwork.items[0];
    for (auto& item : art.items)
        if (artwork::pictureOf(item)) {
            item.leaf = other.leaf;
            item.place = Transform::moved({100, 5}) * item.place;
        }
    const auto next = accepted(art);
    CHECK(next.replaced == 1);
    CHECK(next.added == 1);
    CHECK(next.gone == 1);
    CHECK(next.ids.front() == first.ids.front());
    CHECK_FALSE(artwork::find(next.artwork, first.ids[1]));
    CHECK(artwork::boundsOf(*artwork::find(next.artwork, first.ids[0])).low.x == Approx(115).margin(0.1));
    CHECK(next.words() == "1 piece of the trace before has the new shape, 1 is new, 1 is gone.");
}

TEST_CASE("trace again: a thousand holes find their own again") {
    Rings rings;
    for (int row = 0; row < 20; ++row)
        for (int column = 0; column < 50; ++column)
            rings.push_back(ring(fmt::format("{0},{1} {2},{1} {2},{3} {0},{3}", 1 + column * 1.45, 1 + row * 2.4,
                                             1.8 + column * 1.45, 2.2 + row * 2.4)));
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(inked(rings, 600, 400, 8).values);
    const auto source = artwork::withPicture(
        {}, {"rain.png", std::make_shared<const std::string>("x"), {600, 400, 1, pixels, {}, {}}, {75, 50}}, {});
    const auto first = accepted(source.artwork, {.whole = {.speck = 0}, .patches = {}});
    REQUIRE(first.ids.size() == 1000);
    const auto next = accepted(first.artwork, {.whole = {.level = 200, .speck = 0}, .patches = {}});
    CHECK(next.replaced == 1000);
    CHECK(next.ids == first.ids);
}
