#include "artwork/edits.h"
#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "mend/bridges.h"
#include "support/shapes.h"

using namespace ferro;
using mend::BridgeSettings;

namespace {

/// An outline with openings: an O, an 8, a window of many panes.
Piece ring(Vec2 centre, double outer, double inner) {
    return {circle(centre, outer), {reversed(circle(centre, inner))}};
}
artwork::Artwork drawn(std::vector<Piece> pieces) {
    return artwork::withPieces({}, std::move(pieces), "stencil", "sign").artwork;
}
mend::WithBridges bridged(const artwork::Artwork& art, const BridgeSettings& settings = {}) {
    Progress progress;
    auto out = mend::withBridges(art, {}, settings, progress);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    return *out;
}
std::vector<Piece> placedPieces(const artwork::Artwork& art) {
    std::vector<Piece> out;
    for (const auto& item : art.items) out.push_back(artwork::placed(item));
    return out;
}
double area(const std::vector<Piece>& pieces) {
    double sum = 0;
    for (const auto& piece : pieces) {
        sum += areaOf(piece.outline);
        for (const auto& opening : piece.openings) sum += areaOf(opening);
    }
    return sum;
}

} // namespace

TEST_CASE("bridges: what would drop out is found, by whether areas fall out or stay") {
    auto art = drawn({ring({50, 50}, 20, 10), {circle({50, 50}, 4), {}}, {rectangle({100, 0}, {120, 20}), {}}});
    const auto out = mend::dropOuts(art, {}, artwork::Bridged::Areas::fallOut);
    REQUIRE(out.size() == 1);
    CHECK(out[0].item == art.items[0].id);
    CHECK(out[0].opening == 0);
    CHECK(out[0].area == Approx(100 * pi));
    const auto stay = mend::dropOuts(art, {}, artwork::Bridged::Areas::stay);
    REQUIRE(stay.size() == 1);
    CHECK(stay[0].item == art.items[1].id);
    CHECK(mend::dropOuts(drawn({{circle({0, 0}, 5), {}}}), {}, artwork::Bridged::Areas::fallOut).empty());
}

TEST_CASE("bridges: a counter gets two in one line, exactly as wide as asked, and nothing is an island any more") {
    const auto art = drawn({ring({50, 50}, 20, 10)});
    const auto made = bridged(art, {.width = 3});
    CHECK(made.did == "1 island held by 2 bridges");
    REQUIRE(made.artwork.items.size() == 2); // two halves
    REQUIRE(made.artwork.groups.size() == 1);
    const auto pieces = placedPieces(made.artwork);
    for (const auto& piece : pieces) CHECK(piece.openings.empty());
    // Two straight bands of 3 mm across a ring: what they take is the ring's area between the two lines.
    const auto below = [](double r, double h) { return h * std::sqrt(r * r - h * h) + r * r * std::asin(h / r); };
    CHECK(area(pieces) == Approx(300 * pi - 2 * (below(20, 1.5) - below(10, 1.5))).epsilon(1e-6));
    // Upright, by liking, and in line.
    for (const auto& b : mend::bridgesOf(made.artwork)) {
        CHECK(std::abs(b.bridge.from.x - 50) < 0.3);
        CHECK(b.bridge.width == 3);
    }
    // Arcs are arcs still.
    for (const auto& piece : pieces)
        for (const auto& s : piece.outline.segments) CHECK(s.kind != Segment::Kind::cubic);
    CHECK(mend::dropOuts(made.artwork, {}, artwork::Bridged::Areas::fallOut).empty());
    CHECK(bridged(art, {.width = 1, .number = 5}).bridges == 5);
    CHECK(bridged(art, {.width = 1, .number = 1}).artwork.items.size() == 1);
}

TEST_CASE("bridges: whatever the shape, every island ends up held", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        // Islands of any form beside each other in a cut-out area of any form.
        Piece piece{wound(test::curvedBlob(seed, {100, 100}, 90), true), {}};
        for (int k = 0; k < 4; ++k) {
            const double turn = k * pi / 2 + seed;
            const Vec2 at{100 + 28 * std::cos(turn), 100 + 28 * std::sin(turn)};
            piece.openings.push_back(wound(test::curvedBlob(seed * 7 + static_cast<unsigned>(k), at, 12), false));
        }
        const auto art = drawn({piece});
        for (const auto lie : {BridgeSettings::Lie::inLine, BridgeSettings::Lie::across}) {
            const auto made = bridged(art, {.width = 1.5, .lie = lie});
            CAPTURE(seed, made.did);
            CHECK(made.islands == 4);
            CHECK(made.bridges >= 4);
            for (const auto& p : placedPieces(made.artwork)) CHECK(p.openings.empty());
            // Bridges only add to what stays.
            const auto pieces = placedPieces(made.artwork);
            CHECK(area(pieces) < area({piece}));
            const auto beyond = combinedPieces(pieces, {piece}, Combine::takeAway);
            REQUIRE(beyond);
            CHECK(std::abs(area(*beyond)) < 0.01);
        }
    }
}

TEST_CASE("bridges: areas that stay are joined to the plate round them, openings and all") {
    const auto art = drawn({{rectangle({0, 0}, {100, 80}), {reversed(rectangle({10, 10}, {90, 70}, 5))}},
                            ring({50, 40}, 20, 8),
                            {rectangle({200, 0}, {210, 9}), {}}});
    const auto made = bridged(art, {.width = 4, .areas = artwork::Bridged::Areas::stay});
    CHECK(made.did == "1 island held by 2 bridges");
    REQUIRE(made.artwork.items.size() == 2);
    const Piece plate = artwork::placed(made.artwork.items[0]);
    CHECK(plate.outline == rectangle({0, 0}, {100, 80}));
    REQUIRE(plate.openings.size() == 3); // two halves of the window, the ring's own hole
    CHECK(mend::dropOuts(made.artwork, {}, artwork::Bridged::Areas::stay).empty());
}

TEST_CASE("bridges: one is moved, taken away, all of them too, and what was there comes back as it was") {
    auto art = bridged(drawn({ring({50, 50}, 20, 10)}), {.width = 3}).artwork;
    const auto group = art.groups[0].id;
    const auto before = mend::bridgesOf(art);
    auto moved = mend::withBridgeMoved(art, group, 0, {66, 51});
    REQUIRE(moved);
    const auto after = mend::bridgesOf(*moved);
    REQUIRE(after.size() == 2);
    CHECK(after[1].bridge == before[1].bridge);
    CHECK(distance((after[0].bridge.from + after[0].bridge.to) / 2, {65, 50.9}) < 0.3);
    CHECK(std::abs(distance(after[0].bridge.from, after[0].bridge.to) - 10) < 0.05);
    CHECK(placedPieces(*moved).size() == 2);
    // Moved and turned as a group, its bridges go with it and can be moved on.
    artwork::Ids all;
    for (const auto& item : moved->items) all.push_back(item.id);
    const auto turned = artwork::withTransformed(*moved, all, Transform::moved({100, 0}) * Transform::rotated(1));
    REQUIRE(turned);
    const Vec2 middle = (Transform::moved({100, 0}) * Transform::rotated(1))({50, 50});
    const auto again = mend::withBridgeMoved(*turned, group, 0, middle + Vec2{0, -15});
    REQUIRE(again);
    CHECK(distance((mend::bridgesOf(*again)[0].bridge.from + mend::bridgesOf(*again)[0].bridge.to) / 2,
                   middle + Vec2{0, -15}) < 0.1);
    const auto one = mend::withoutBridge(*again, group, 1);
    REQUIRE(one);
    CHECK(placedPieces(*one).size() == 1);
    const auto none = mend::withoutBridge(*one, group, 0);
    REQUIRE(none);
    CHECK(none->groups.empty());
    REQUIRE(none->items.size() == 1);
    CHECK(artwork::shapeOf(none->items[0])->piece == ring({50, 50}, 20, 10));
    CHECK(mend::withoutBridges(art, group)->items.size() == 1);
    CHECK_FALSE(mend::withoutBridge(art, group, 7));
    CHECK_FALSE(mend::withBridgeMoved(art, {999}, 0, {}));
}

TEST_CASE("bridges: islands that stay go back to their own layers and names when the bridges go") {
    auto art = drawn({{rectangle({0, 0}, {100, 80}), {reversed(rectangle({10, 10}, {90, 70}))}}});
    art = artwork::withPieces(art, {{circle({50, 40}, 20), {}}}, "moon", "the moon").artwork;
    Progress progress;
    const auto outer = artwork::withGrouped(art, {art.items[0].id, art.items[1].id}, "window");
    REQUIRE(outer);
    const auto made = bridged(*outer, {.width = 4, .areas = artwork::Bridged::Areas::stay});
    REQUIRE(made.artwork.items.size() == 1);
    const auto back = mend::withoutBridges(made.artwork, made.artwork.groups.back().id);
    REQUIRE(back);
    REQUIRE(back->items.size() == 2);
    for (std::size_t i = 0; i < 2; ++i) {
        CHECK(back->items[i].layer == art.items[i].layer);
        CHECK(back->items[i].name == art.items[i].name);
        CHECK(back->items[i].group == outer->items[i].group);
        CHECK(artwork::placed(back->items[i]) == artwork::placed(art.items[i]));
    }
    CHECK(back->groups.size() == 1);
    // A layer that has been taken away since is not missed.
    auto less = made.artwork;
    std::erase_if(less.layers, [](const auto& layer) { return layer.name == "moon"; });
    const auto still = mend::withoutBridges(less, less.groups.back().id);
    REQUIRE(still);
    CHECK(still->items[1].layer == still->items[0].layer);
}

TEST_CASE("bridges: too wide, nothing there, locked: said, and nothing done") {
    Progress progress;
    const auto art = drawn({ring({50, 50}, 20, 1)});
    const auto wide = mend::withBridges(art, {}, {.width = 6}, progress);
    REQUIRE_FALSE(wide);
    CHECK(wide.problem().what.find("no room") != std::string::npos);
    CHECK_FALSE(mend::withBridges(drawn({{circle({0, 0}, 5), {}}}), {}, {}, progress));
    CHECK_FALSE(mend::withBridges(art, {}, {.width = 0}, progress));
    const auto locked = artwork::withFlag(art, {art.items[0].id}, artwork::Flag::locked, true);
    CHECK_FALSE(mend::withBridges(*locked, {}, {}, progress));
    progress.cancel();
    CHECK(mend::withBridges(art, {}, {}, progress).problem().isCancelled);
}
