#include "artwork/arrange.h"
#include "artwork/choose.h"
#include "mend/reshape.h"
#include "support/shapes.h"

using namespace ferro;
using mend::Together;

namespace {
artwork::Added drawn(std::vector<Piece> pieces, const char* layer = "kit") {
    return artwork::withPieces({}, std::move(pieces), layer, "plate");
}
double area(const artwork::Artwork& art) {
    double sum = 0;
    for (const auto& item : art.items) {
        const Piece piece = artwork::placed(item);
        sum += areaOf(piece.outline);
        for (const auto& opening : piece.openings) sum += areaOf(opening);
    }
    return sum;
}
} // namespace

TEST_CASE("combine: joined, taken away, overlapped and split pieces keep the first one's number, name and layer") {
    auto art =
        drawn({{rectangle({0, 0}, {40, 20}), {}}, {circle({40, 10}, 5), {}}, {rectangle({100, 0}, {110, 9}), {}}});
    const artwork::Ids two{art.ids[0], art.ids[1]};
    const auto made = [&](Together how, const artwork::Ids& ids) {
        auto out = mend::withCombined(art.artwork, ids, how);
        REQUIRE(out);
        CHECK(out->items[0].id == ids[0]);
        CHECK(out->items.back().id == art.ids[2]);
        return *out;
    };
    const double half = 12.5 * pi;
    CHECK(area(made(Together::join, two)) == Approx(800 + half + 90));
    CHECK(area(made(Together::takeAway, two)) == Approx(800 - half + 90));
    CHECK(area(made(Together::takeAway, {two[1], two[0]})) == Approx(half + 90)); // the first chosen counts
    CHECK(area(made(Together::overlap, two)) == Approx(half + 90));
    const auto split = made(Together::split, two);
    CHECK(split.items.size() == 4);
    CHECK(area(split) == Approx(800 + half + 90));
    CHECK_FALSE(mend::withCombined(art.artwork, {art.ids[0]}, Together::join));
    CHECK_FALSE(mend::withCombined(art.artwork, {art.ids[0], art.ids[2]}, Together::overlap));
    const auto locked = artwork::withFlag(art.artwork, {art.ids[1]}, artwork::Flag::locked, true);
    CHECK_FALSE(mend::withCombined(*locked, two, Together::join));
}

TEST_CASE("offset: round, sharp and flat corners outside, inside until nothing is left, a line becomes an outline") {
    auto art = drawn({{rectangle({0, 0}, {40, 20}), {reversed(circle({20, 10}, 5))}}});
    const auto outside = [&](Corner corner) {
        auto out = mend::withOffset(art.artwork, art.ids, 3, corner);
        REQUIRE(out);
        REQUIRE(out->ids.size() == 1);
        return areaOf(artwork::placed(*artwork::find(out->artwork, out->ids[0])).outline);
    };
    CHECK(outside(Corner::round) == Approx(800 + 360 + 9 * pi).epsilon(1e-3));
    CHECK(outside(Corner::sharp) == Approx(46 * 26).epsilon(1e-3));
    CHECK(outside(Corner::flat) < 46 * 26);
    CHECK(outside(Corner::flat) > 800 + 360 + 9 * pi);
    CHECK_FALSE(mend::withOffset(art.artwork, art.ids, -12, Corner::round));
    auto line = drawn({{{{0, 0}, {Segment::line({30, 0})}, false}, {}}});
    CHECK(area(*mend::withLinesWidened(line.artwork, line.ids, 4, Cap::flat)) == Approx(120));
    CHECK_FALSE(mend::withLinesWidened(line.artwork, line.ids, 0, Cap::flat));
    // The space around: a border less the design, its hole filled.
    const auto negative = mend::withNegative(art.artwork, art.ids, 10);
    REQUIRE(negative);
    CHECK(area(*negative) == Approx(60 * 40 - 800 + 25 * pi));
}

TEST_CASE("choosing: by size, form, layer, likeness, what lies inside, and all the others") {
    std::vector<artwork::NamedPieces> sets(2);
    const Piece slot{rectangle({0, 0}, {20, 6}, 3), {}};
    sets[0].layer = "cut";
    sets[0].pieces = {slot,
                      transformed(slot, Transform::moved({50, 50}) * Transform::rotated(0.7)),
                      transformed(slot, Transform::moved({80, 0}) * Transform::scaled(-1, 1)),
                      {rectangle({200, 0}, {221, 6}, 2), {}},
                      {circle({300, 300}, 2), {}},
                      {rectangle({250, 250}, {350, 350}), {}}};
    sets[1].layer = "fold";
    sets[1].pieces = {{{{0, 90}, {Segment::line({90, 90})}, false}, {}}, {{{5, 5}, {}, false}, {}}};
    const auto all = artwork::withAllPieces({}, sets);
    const auto& art = all.artwork;
    const auto& id = all.ids;
    CHECK(artwork::likeThese(art, {id[0]}) == artwork::Ids{id[0], id[1], id[2]});
    CHECK(artwork::upToSize(art, 20) == artwork::Ids{id[0], id[1], id[2], id[4], id[7]});
    CHECK(artwork::ofForm(art, artwork::Form::openLines) == artwork::Ids{id[6]});
    CHECK(artwork::ofForm(art, artwork::Form::points) == artwork::Ids{id[7]});
    CHECK(artwork::ofForm(art, artwork::Form::circles) == artwork::Ids{id[4]});
    CHECK(artwork::inside(art, {id[5]}) == artwork::Ids{id[4]});
    CHECK(artwork::onSameLayers(art, {id[7]}) == artwork::Ids{id[6], id[7]});
    CHECK(artwork::inverted(art, artwork::likeThese(art, {id[0]})).size() == 5);
    const auto locked = artwork::withLayerFlag(art, "cut", artwork::Flag::locked, true);
    CHECK(artwork::everything(*locked) == artwork::Ids{id[6], id[7]});
}

TEST_CASE("align and space: edges meet exactly, a group moves as one, spaces are even") {
    std::vector<artwork::NamedPieces> sets(3);
    for (auto& set : sets) set.layer = "cut";
    sets[0].pieces = {{rectangle({0, 0}, {10, 10}), {}}};
    sets[1].pieces = {{rectangle({30, 5}, {40, 25}), {}}, {rectangle({42, 5}, {44, 9}), {}}};
    sets[1].grouped = true;
    sets[2].pieces = {{rectangle({95, 2}, {100, 4}), {}}};
    const auto all = artwork::withAllPieces({}, sets);
    const Box whole = artwork::boundsOf(all.artwork, all.ids);
    const auto top = artwork::withAligned(all.artwork, all.ids, artwork::Edge::top, whole);
    REQUIRE(top);
    CHECK(artwork::boundsOf(*top, {all.ids[0]}).high.y == 25);
    CHECK(artwork::boundsOf(*top, {all.ids[2]}) == Box{{42, 5}, {44, 9}}); // with its group, which was there
    const auto centre = artwork::withAligned(all.artwork, {all.ids[3]}, artwork::Edge::centre, {{0, 0}, {600, 400}});
    CHECK(artwork::boundsOf(*centre, {all.ids[3]}).centre().x == 300);
    const auto even = artwork::withSpaced(all.artwork, all.ids, artwork::Along::across);
    REQUIRE(even);
    CHECK(artwork::boundsOf(*even, {all.ids[1]}).low.x == Approx(10 + (100 - 10 - 14 - 5) / 2.0));
    CHECK(artwork::boundsOf(*even, {all.ids[3]}).low.x == 95);
    const auto gap = artwork::withSpaced(all.artwork, all.ids, artwork::Along::upward, 3);
    REQUIRE(gap);
    CHECK(artwork::boundsOf(*gap, {all.ids[3]}).low.y == 13);
    CHECK(artwork::boundsOf(*gap, {all.ids[1]}).low.y == 18);
    CHECK_FALSE(artwork::withSpaced(all.artwork, {all.ids[0], all.ids[3]}, artwork::Along::across));
}
