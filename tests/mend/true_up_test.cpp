#include "mend/true_up.h"

#include "artwork/edits.h"
#include "geometry/flatten.h"
#include "support/shapes.h"

using namespace ferro;
using mend::Truth;

namespace {
artwork::Artwork drawn(std::vector<Piece> pieces) {
    return artwork::withPieces({}, std::move(pieces), "kit", "plate").artwork;
}
/// A hand that is off by up to `by` at each point.
Path wobbled(Ring ring, double by, unsigned seed, bool closed = true) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> off(-by, by);
    for (Vec2& p : ring) p += Vec2{off(random), off(random)};
    return pathOf(ring, closed);
}
Ring around(Vec2 centre, double radius, int n = 40) {
    Ring ring;
    for (int i = 0; i < n; ++i)
        ring.push_back(centre + Vec2{std::cos(2 * pi * i / n), std::sin(2 * pi * i / n)} * radius);
    return ring;
}
} // namespace

TEST_CASE("true up: near-circles, near-rectangles and near-straight lines become exact within the tolerance",
          "[property]") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        CAPTURE(seed);
        const double turn = seed % 4 == 0 ? 0.3 : 0;
        Ring square{{0, 0}, {60, 0}, {60, 25}, {0, 25}}, line;
        for (Vec2& p : square) p = Transform::rotated(turn)(p);
        for (int i = 0; i <= 10; ++i) line.push_back({i * 6.0, 100 + i * 2.5});
        const auto art = drawn({{wobbled(around({200, 200}, 20), 0.06, seed), {}},
                                {wobbled(square, 0.08, seed), {}},
                                {wobbled(line, 0.04, seed, false), {}},
                                {test::curvedBlob(seed, {300, 100}, 90), {}}});
        const auto found = mend::proposals(art, {}, 0.2);
        REQUIRE(found.size() == 3);
        CHECK(found[0].truth == Truth::circle);
        CHECK(found[1].truth == Truth::rectangle);
        CHECK(found[2].truth == Truth::straight);
        for (const auto& p : found) CHECK(p.deviation <= 0.2);
        const auto done = mend::withTruedUp(art, found);
        const auto round = circleOf(artwork::placed(done.items[0]).outline, 1e-9);
        REQUIRE(round);
        CHECK(round->radius == Approx(20).margin(0.1));
        const Path box = artwork::placed(done.items[1]).outline;
        REQUIRE(box.segments.size() == 4);
        for (std::size_t i = 0; i < 4; ++i)
            CHECK(std::abs(dot(tangentAt(box.from(i), box.segments[i], 0),
                               tangentAt(box.from((i + 1) % 4), box.segments[(i + 1) % 4], 0))) < 1e-9);
        CHECK(artwork::placed(done.items[2]).outline.segments.size() == 1);
        CHECK(artwork::shapeOf(done.items[3])->piece == artwork::shapeOf(art.items[3])->piece);
        // Exact now: nothing more of the kind.
        for (const auto& p : mend::proposals(done, {}, 0.2)) CHECK(p.truth > Truth::straight);
    }
}

TEST_CASE("true up: rounded corners stay round, lines become level, circles get one size and one middle") {
    const auto art = drawn({{wobbled({{0, 0}, {50, 0.1}, {50.1, 30}, {20, 60}, {0, 30}}, 0, 1), {}},
                            {circle({100, 100}, 4.02), {reversed(circle({100.03, 100}, 2))}},
                            {circle({150, 100}, 3.98), {}},
                            {transformed(rectangle({200, 0}, {260, 40}, 6), Transform::rotated(0.0004)), {}},
                            {rectangle({300, 0}, {360, 40}, 6), {}}});
    const auto found = mend::proposals(art, {}, 0.1);
    std::vector<Truth> kinds;
    for (const auto& p : found) kinds.push_back(p.truth);
    CHECK(kinds == std::vector{Truth::level, Truth::rectangle, Truth::size, Truth::size, Truth::centre});
    const auto done = mend::withTruedUp(art, found);
    CHECK(circleOf(artwork::placed(done.items[2]).outline, 1e-9)->radius == Approx(4));
    CHECK(circleOf(artwork::placed(done.items[1]).openings[0], 1e-9)->centre.x == Approx(100));
    CHECK(areaOf(artwork::placed(done.items[1]).openings[0]) < 0);
    const Path box = artwork::placed(done.items[3]).outline;
    CHECK(box.segments.size() == 8);
    CHECK(boundsOf(box).height() == Approx(40).margin(0.05));
    CHECK(mend::proposals(art, std::array{art.items[2].id}, 0.1).empty()); // alone it is as large as none
    CHECK(mend::proposals(art, {}, 0).empty());
    const auto locked = artwork::withLayerFlag(art, "kit", artwork::Flag::locked, true);
    CHECK(mend::proposals(*locked, {}, 0.1).empty());
    for (const auto t : mend::truths) CHECK(mend::truthFrom(mend::wordOf(t)) == t);
}

TEST_CASE("true up: runs that are nearly arcs become one, near-symmetric outlines the same on both sides",
          "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> off(-0.03, 0.03);
        // A plate whose upper edge is a bow, drawn by short lines.
        Path bow{{0, 0}, {Segment::line({80, 0}), Segment::line({80, 20})}, true};
        const Segment true_ = Segment::arc({40, -40}, {0, 20}, true);
        for (int i = 1; i < 20; ++i) {
            const Vec2 p = pointAt({80, 20}, true_, i / 20.0);
            bow.segments.push_back(Segment::line(p + Vec2{off(random), off(random)}));
        }
        bow.segments.push_back(Segment::line({0, 20}));
        bow.segments.push_back(Segment::line({0, 0}));
        auto found = mend::proposals(drawn({{bow, {}}}), {}, 0.1);
        REQUIRE(found.size() == 1);
        CHECK(found[0].truth == Truth::arc);
        CHECK(found[0].deviation <= 0.15);
        const auto arcs = std::count_if(found[0].becomes.segments.begin(), found[0].becomes.segments.end(),
                                        [](const Segment& s) { return s.kind == Segment::Kind::arc; });
        CHECK(arcs == 1);
        CHECK(found[0].becomes.segments.size() == 4);
        // A vase, turned or not, one side of which was drawn a little off.
        Path vase{{-10, 0}, {}, false};
        vase.segments = {Segment::line({10, 0}),
                         Segment::cubic({30, 12}, {24, 30}, {8, 44}),
                         Segment::line({14 + off(random), 60}),
                         Segment::line({-14, 60}),
                         Segment::line({-8, 44 + off(random)}),
                         Segment::cubic({-24 + off(random), 30}, {-30, 12}, {-10, 0})};
        vase.closed = true;
        const double turn = seed % 3 == 0 ? 0.4 : 0;
        const Path lying = transformed(vase, Transform::rotated(turn, {5, 5}));
        const auto art = drawn({{lying, {}}});
        found = mend::proposals(art, {}, 0.1);
        REQUIRE(found.size() == 1);
        CHECK(found[0].truth == Truth::symmetry);
        CHECK(found[0].deviation <= 0.1);
        const auto even = artwork::placed(mend::withTruedUp(art, found).items[0]).outline;
        // Mirrored at its own axis it is itself.
        const Vec2 way = turn > 0 ? Transform::rotated(turn).direction({0, 1}) : Vec2{0, 1};
        const double angle = std::atan2(way.y, way.x);
        Vec2 middle;
        const Ring points = flattened(even, 0.01);
        Box box;
        for (const Vec2 p : points) box.take(Transform::rotated(-angle)(p));
        middle = Transform::rotated(angle)(box.centre());
        const Path other = transformed(even, Transform::rotated(angle, middle) * Transform::scaled(1, -1, middle) *
                                                 Transform::rotated(-angle, middle));
        CHECK(std::abs(areaOf(even)) == Approx(std::abs(areaOf(other))));
        for (const Vec2 p : flattened(other, 0.5)) {
            double nearest = 1e9;
            for (std::size_t i = 0; i < points.size(); ++i)
                nearest = std::min(nearest, distanceToLine(p, points[i], points[(i + 1) % points.size()]));
            CHECK(nearest < (turn > 0 ? 0.05 : 0.02));
        }
        for (const auto& again : mend::proposals(mend::withTruedUp(art, found), {}, 0.1)) FAIL_CHECK(again.what);
        for (const auto& none : mend::proposals(drawn({{pathOf(test::blob(seed, {0, 0}, 30), true), {}}}), {}, 0.1))
            CHECK((none.truth == Truth::straight || none.truth == Truth::level));
    }
}

TEST_CASE("true up: rectangles of nearly one size get their mean, turned or not, about their own middles") {
    const auto plate = [](Vec2 middle, double w, double h, double turn) {
        return Piece{
            transformed(rectangle(middle - Vec2{w, h} / 2, middle + Vec2{w, h} / 2), Transform::rotated(turn, middle)),
            {}};
    };
    const auto art = drawn({plate({20, 20}, 40, 25, 0), plate({120, 20}, 40.06, 24.94, 0.3),
                            plate({220, 20}, 25.03, 40.03, 0), plate({320, 20}, 60, 25, 0)});
    const auto found = mend::proposals(art, {}, 0.1);
    REQUIRE(found.size() == 3);
    for (const auto& p : found) CHECK(p.truth == Truth::size);
    const auto even = mend::withTruedUp(art, found);
    const double w = (40 + 40.06 + 40.03) / 3, h = (25 + 24.94 + 25.03) / 3;
    for (const std::size_t i : {0u, 1u, 2u}) {
        const Path now = artwork::placed(even.items[i]).outline, then = artwork::placed(art.items[i]).outline;
        CHECK(areaOf(now) == Approx(w * h));
        CHECK(std::max(lengthOf(now.start, now.segments[0]), lengthOf(now.from(1), now.segments[1])) == Approx(w));
        CHECK(distance((now.start + now.from(2)) / 2, (then.start + then.from(2)) / 2) < 1e-9);
    }
    CHECK(artwork::placed(even.items[3]).outline == artwork::placed(art.items[3]).outline);
    CHECK(mend::proposals(even, {}, 0.1).empty());
}

TEST_CASE("true up: openings go with the symmetry of the piece they are in", "[property]") {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> off(-0.03, 0.03);
        const auto moved = [&](const Path& path) {
            return transformed(path, Transform::moved({off(random), off(random)}));
        };
        // A mask: two eyes of a shape of their own, a mouth on the axis, and a scar on one cheek only.
        const Path eye = wound(pathOf(test::ring("-9,10 -4,9 -3,13 -8,15"), true), false);
        const Path mouth = wound(pathOf(test::ring("-6,-12 6,-12 8,-7 0,-9 -8,-7"), true), false);
        Path scar = wound(pathOf(test::ring("10,-2 13.3,-4 12,1.7"), true), false);
        const Path face{{0, -25},
                        {Segment::cubic({14, -25}, {20, -5}, {20, 5}), Segment::line({15, 25}),
                         Segment::line({-15, 25}), Segment::line({-20, 5}),
                         Segment::cubic({-20, -5}, {-14, -25}, {0, -25})},
                        true};
        Path bent = mouth;
        bent.segments[1].end += {0.03, 0.02};
        const Piece mask{face, {eye, moved(transformed(eye, Transform::scaled(-1, 1))), bent, scar}};
        const double turn = seed % 2 ? 0 : 0.3;
        const auto art = drawn({transformed(mask, Transform::rotated(turn))});
        const auto found = mend::proposals(art, {}, 0.1);
        for (const auto& p : found) UNSCOPED_INFO(p.what << " opening " << p.opening << toText(p.becomes));
        REQUIRE(found.size() == 2);
        for (const auto& p : found) {
            CHECK(p.truth == Truth::symmetry);
            CHECK(p.deviation <= 0.1);
            CHECK(p.opening <= 2); // the eye to the right of the axis, whichever way that runs, and the mouth
        }
        const auto even =
            transformed(artwork::placed(mend::withTruedUp(art, found).items[0]), Transform::rotated(-turn));
        const auto same = [](const Path& a, const Path& b) {
            const Box p = boundsOf(a), q = boundsOf(b);
            return distance(p.low, q.low) < 1e-3 && distance(p.high, q.high) < 1e-3;
        };
        const auto flip = Transform::scaled(-1, 1);
        CHECK(same(even.openings[1], transformed(even.openings[0], flip)));
        UNSCOPED_INFO(toText(even.openings[2]));
        CHECK(same(even.openings[2], transformed(even.openings[2], flip)));
        CHECK(same(even.openings[3], scar));
        for (const auto& opening : even.openings) CHECK(areaOf(opening) < 0);
        CHECK(mend::proposals(mend::withTruedUp(art, found), {}, 0.1).empty());
    }
}

TEST_CASE("true up: what is hardly larger than the tolerance is let be, mirrored pieces keep their openings open") {
    // A third of a millimetre across, anything within half a millimetre: none becomes nothing, or another.
    const auto tiny = drawn({{wobbled({{0, 0}, {0.3, 0}, {0.2, 0.1}}, 0.02, 1), {}},
                             {wobbled({{2, 0}, {2.06, 0}, {2.06, 0.4}, {2, 0.4}}, 0.004, 2), {}},
                             {wobbled({{4, 0}, {4.4, 0}, {4.4, 0.4}, {4, 0.4}}, 0.004, 3), {}}});
    for (const auto& p : mend::proposals(tiny, {}, 0.5)) {
        const double was = areaOf(artwork::placed(*artwork::find(tiny, p.item)).outline);
        CAPTURE(p.what);
        CHECK(areaOf(p.becomes) / was == Approx(1).margin(0.5));
    }
    // On the sheet a mirrored piece runs the other way round.
    Piece plate{pathOf({{0, 0}, {60.04, 0}, {60, 40}, {0.03, 40}}, true),
                {reversed(pathOf({{20, 10}, {40, 10.03}, {40, 30}, {20, 30.02}}, true))}};
    auto art = drawn({plate});
    const auto mirrored = artwork::withTransformed(art, {art.items[0].id}, Transform::scaled(-1, 1));
    REQUIRE(mirrored);
    const auto found = mend::proposals(*mirrored, {}, 0.1);
    REQUIRE(found.size() == 2);
    const auto made = mend::withTruedUp(*mirrored, found);
    const Piece now = artwork::placed(made.items[0]);
    CHECK(std::abs(areaOf(now.outline)) == Approx(60.02 * 40).margin(2));
    REQUIRE(now.openings.size() == 1);
    CHECK(areaOf(now.openings[0]) * areaOf(now.outline) < 0);
}
