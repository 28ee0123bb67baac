// Parts that go together: what is found in a drawing, and whether the tongue goes in afterwards, measured along lines.
#include "mend/fits.h"

#include "artwork/edits.h"
#include "geometry/flatten.h"
#include "geometry/sides.h"
#include "support/shapes.h"

using namespace ferro;
using artwork::Joint;

namespace {

/// How wide a line is crossed: of all the places where a straight cut meets the outline, the stretch about `at`.
double across(const Path& path, Vec2 at, Vec2 way) {
    const auto ring = flattened(path, 1e-4);
    double before = -1e9, behind = 1e9;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
        const double sa = cross(way, a - at), sb = cross(way, b - at);
        if ((sa < 0) == (sb < 0)) continue;
        const double along = dot(way, a + (b - a) * (sa / (sa - sb)) - at);
        (along < 0 ? before : behind) = along < 0 ? std::max(before, along) : std::min(behind, along);
    }
    return behind - before;
}

/// A panel with a slot, a part with a tongue for it, a rib with a notch from above; turned, and mirrored or not.
struct Kit {
    Transform place;
    artwork::Artwork art;
    Vec2 slot{60, 50}, tongue{165, 103}, notch{260, 40};

    explicit Kit(double turn = 0, bool mirrored = false, double round = 0)
        : place(Transform::rotated(turn) * Transform{mirrored ? -1.0 : 1.0, 0, 0, 1, 0, 0}) {
        const auto add = [&](Piece piece, const char* name) {
            art = artwork::withPieces(art, {transformed(piece, place)}, "cut", name).artwork;
        };
        add({rectangle({0, 0}, {120, 100}), {wound(rectangle({57, 30}, {63, 70}, round), false)}}, "panel");
        // Its tongue is 40 wide and stands out by 6.
        add({pathOf({{140, 0}, {190, 0}, {190, 100}, {185, 100}, {185, 106}, {145, 106}, {145, 100}, {140, 100}}, true),
             {}},
            "part");
        add({pathOf({{200, 0}, {320, 0}, {320, 60}, {263, 60}, {263, 20}, {257, 20}, {257, 60}, {200, 60}}, true), {}},
            "rib");
    }
    [[nodiscard]] Piece piece(std::size_t i) const { return artwork::placed(art.items[i]); }
    [[nodiscard]] Vec2 way(Vec2 v) const { return place(v) - place({}); }
};

/// An edge with fingers: five notches 20 wide between tongues 20 wide, 6 deep.
Path comb(double y, bool begins) {
    Ring ring{{0, y}, {220, y}, {220, y + 50}};
    for (int i = 10; i >= 0; --i) {
        const bool out = (i % 2 == 0) == begins;
        const double top = y + 50 + (out ? 6 : 0);
        ring.push_back({20.0 * i + 20, top});
        ring.push_back({20.0 * i, top});
    }
    ring.push_back({0, y + 50});
    Ring clean;
    for (const Vec2 p : ring)
        if (clean.empty() || distance(clean.back(), p) > 1e-9) clean.push_back(p);
    return pathOf(clean, true);
}

} // namespace

TEST_CASE("fits: slots, notches and tongues are found however they lie, and become as wide as the sheet",
          "[property]") {
    for (const double turn : {0.0, 0.4, 2.0, -1.1})
        for (const bool mirrored : {false, true})
            for (const double round : {0.0, 1.5}) {
                CAPTURE(turn, mirrored, round);
                Kit kit(turn, mirrored, round);
                const mend::Fitting fitting{6, 6.35, 0.12};
                const auto fits = mend::fitsOf(kit.art, {}, fitting);
                REQUIRE(fits.joints.size() == 2);
                CHECK(fits.joints[0].kind == Joint::Kind::slot);
                CHECK(fits.joints[0].width == Approx(6));
                CHECK(fits.joints[0].length == Approx(40));
                CHECK(distance(fits.joints[0].middle, kit.place(kit.slot)) < 1e-6);
                REQUIRE(fits.joints[0].tongue);
                CHECK(fits.joints[0].tongue->item == kit.art.items[1].id);
                CHECK(fits.joints[1].kind == Joint::Kind::notch);
                CHECK(fits.joints[1].length == Approx(40));
                CHECK(fits.left.empty());
                REQUIRE(fits.changes.size() == 2);
                const auto before = kit.piece(1);
                kit.art = mend::withTruedUp(kit.art, fits.changes);
                const auto slot = kit.piece(0).openings[0];
                CHECK(across(slot, kit.place(kit.slot), kit.way({1, 0})) == Approx(6.47).margin(1e-6));
                CHECK(across(slot, kit.place(kit.slot), kit.way({0, 1})) == Approx(40.12).margin(1e-6));
                CHECK(across(kit.piece(2).outline, kit.place(kit.notch), kit.way({1, 0})) == Approx(6.47).margin(1e-6));
                CHECK(across(kit.piece(2).outline, kit.place({230, 30}), kit.way({1, 0})) ==
                      Approx(60 - 3 - 0.235).margin(1e-6)); // the rib's shoulder gave way, its outer edge did not
                CHECK(kit.piece(1) == before);
                // What is round stays as round.
                if (round > 0)
                    for (const auto& s : slot.segments)
                        if (s.kind == Segment::Kind::arc) CHECK(distance(s.a, s.end) == Approx(round).margin(1e-6));
                // Once more for the same sheet: nothing. For a thinner one: back.
                CHECK(mend::fitsOf(kit.art, {}, fitting).changes.empty());
                const auto thinner = mend::fitsOf(kit.art, {}, {6, 5.7, 0});
                kit.art = mend::withTruedUp(kit.art, thinner.changes);
                CHECK(across(kit.piece(0).openings[0], kit.place(kit.slot), kit.way({1, 0})) ==
                      Approx(5.7).margin(1e-6));
            }
}

TEST_CASE("fits: fingers and the tongues between them share what is missing, on both parts alike") {
    artwork::Artwork art = artwork::withPieces({}, {{comb(0, true), {}}}, "cut", "front").artwork;
    art = artwork::withPieces(art, {{comb(100, false), {}}}, "cut", "side").artwork;
    const auto fits = mend::fitsOf(art, {}, {6, 6, 0.2});
    CHECK(fits.joints.size() == 9); // five, and four: the other's outer ones are steps, not notches
    CHECK(fits.left.empty());
    art = mend::withTruedUp(art, fits.changes);
    const auto front = artwork::placed(art.items[0]).outline, side = artwork::placed(art.items[1]).outline;
    for (int i = 1; i < 10; ++i) {
        CAPTURE(i);
        const Vec2 x{20.0 * i + 10, 0};
        // One's notch over the other's tongue.
        const double a = across(front, x + Vec2{0, 53}, {1, 0}), b = across(side, x + Vec2{0, 153}, {1, 0});
        CHECK(std::abs(a - b) == Approx(0.2).margin(0.051)); // the outermost have one wall less to give
        CHECK((a > b) == (i % 2 == 1));
    }
}

TEST_CASE("fits: what cannot be widened stays and is told, and what is no joint is left alone") {
    Kit kit;
    // The notch opens on a curve; a slot has no tongue of its length; one is locked.
    Path curved{{400, 0}, {}, true};
    for (const Vec2 p : {Vec2{500, 0}, {500, 60}}) curved.segments.push_back(Segment::line(p));
    curved.segments.push_back(Segment::cubic({490, 70}, {470, 70}, {456, 60}));
    for (const Vec2 p : {Vec2{456, 20}, {450, 20}, {450, 60}, {400, 60}, {400, 0}})
        curved.segments.push_back(Segment::line(p));
    auto art = artwork::withPieces(kit.art, {{curved, {}}}, "cut", "curved").artwork;
    art = artwork::withPieces(
              art,
              {{rectangle({600, 0}, {700, 60}),
                {wound(rectangle({620, 20}, {680, 26}), false), wound(rectangle({610, 40}, {625, 50}), false)}}},
              "cut", "lonely")
              .artwork;
    art = artwork::withPieces(art, {transformed(kit.piece(2), Transform::moved({600, 0}))}, "cut", "kept").artwork;
    art.items.back().locked = true;
    const auto fits = mend::fitsOf(art, {}, {6, 6.3, 0});
    CHECK(fits.joints.size() == 5);
    CHECK(fits.changes.size() == 3);
    REQUIRE(fits.left.size() == 3);
    CHECK(fits.left[0].find("curve") != std::string::npos);
    CHECK(fits.left[1].find("60.00 mm") != std::string::npos);
    CHECK(fits.left[2].find("locked") != std::string::npos);
    // Walls that lean make no joint, and neither does an opening like a diamond.
    const auto leaning =
        artwork::withPieces(
            {},
            {{pathOf({{0, 0}, {90, 0}, {90, 60}, {60, 60}, {57, 20}, {51, 20}, {48, 60}, {0, 60}}, true),
              {wound(pathOf({{20, 10}, {26, 12}, {24, 40}, {18, 38}}, true), false)}}},
            "cut", "leaning")
            .artwork;
    CHECK(mend::fitsOf(leaning, {}, {6, 6.3, 0}).joints.empty());
    const auto shallow =
        artwork::withPieces(
            {}, {{pathOf({{0, 0}, {90, 0}, {90, 60}, {57, 60}, {57, 58}, {51, 58}, {51, 60}, {0, 60}}, true), {}}},
            "cut", "shallow")
            .artwork;
    CHECK(mend::fitsOf(shallow, {}, {6, 6.3, 0}).joints.empty());
    // Only where it was asked for, and only as thick.
    CHECK(mend::fitsOf(art, std::vector{art.items[0].id}, {6, 6.3, 0}).changes.size() == 1);
    CHECK(mend::fitsOf(art, {}, {4, 6.3, 0}).joints.empty());
    // A press fit makes them narrower; too thin a web beside one is no room.
    CHECK(mend::fitsOf(kit.art, {}, {6, 6, -0.1}).changes.size() == 2);
    auto thin = artwork::withPieces({},
                                    {{pathOf({{0, 0},
                                              {90, 0},
                                              {90, 60},
                                              {63.1, 60},
                                              {63.1, 20},
                                              {57.1, 20},
                                              {57.1, 60},
                                              {57, 60},
                                              {57, 20},
                                              {51, 20},
                                              {51, 60},
                                              {0, 60}},
                                             true),
                                      {}}},
                                    "cut", "web")
                    .artwork;
    const auto crowded = mend::fitsOf(thin, {}, {6, 6.3, 0});
    CHECK(crowded.changes.empty());
    CHECK(crowded.left.size() == 1);
}

TEST_CASE("sides: any closed path keeps its shape when nothing moves, and sides go where they are told", "[property]") {
    for (unsigned seed = 1; seed <= 40; ++seed) {
        CAPTURE(seed);
        const Path path =
            seed % 2 ? test::curvedBlob(seed, {0, 0}, 40) : rectangle({0, 0}, {30.0 + seed, 20}, seed % 5);
        const auto clean = withoutSeams(path);
        CHECK(areaOf(clean) == Approx(areaOf(path)));
        const auto sides = sidesOf(clean);
        CHECK(withSidesShifted(clean, sides, std::vector<double>(sides.size())) == clean);
        if (seed % 2) continue;
        REQUIRE(sides.size() == 4);
        const auto grown = withSidesShifted(clean, sides, std::vector{-1.0, -1.0, -1.0, -1.0});
        REQUIRE(grown);
        const double w = 30.0 + seed, h = 20, r = seed % 5;
        CHECK(areaOf(*grown) == Approx((w + 2) * (h + 2) - (4 - pi) * r * r));
        CHECK_FALSE(withSidesShifted(clean, sides, std::vector{11.0, 0.0, 11.0, 0.0})); // it would turn inside out
    }
    // A square drawn with points in the middle of its sides, begun at one of them.
    const auto seamed = pathOf({{5, 0}, {10, 0}, {10, 5}, {10, 10}, {0, 10}, {0, 0}}, true);
    CHECK(withoutSeams(seamed).segments.size() == 4);
    CHECK(sidesOf(withoutSeams(seamed)).size() == 4);
    CHECK(sidesOf(pathOf({{0, 0}, {5, 0}}, false)).empty());
}
