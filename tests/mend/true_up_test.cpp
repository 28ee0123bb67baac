#include "mend/true_up.h"

#include "artwork/edits.h"
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
                                {test::curvedBlob(seed, {300, 100}, 30), {}}});
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
