#include "geometry/shapes.h"

#include "geometry/flatten.h"
#include "support/shapes.h"

using namespace ferro;

namespace {
Path between(ShapeSettings settings, Vec2 from, Vec2 to) {
    const auto made = shapeBetween(settings, from, to);
    INFO((made ? "" : made.problem().text()));
    REQUIRE(made);
    return *made;
}
} // namespace

TEST_CASE("shapes: exact sizes, whichever way they are drawn, closed ones counter-clockwise", "[property]") {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> place(-100, 100);
    for (int round = 0; round < 40; ++round) {
        const Vec2 a{place(random), place(random)}, b{place(random), place(random)};
        const double w = std::abs(a.x - b.x), h = std::abs(a.y - b.y), r = distance(a, b);
        CAPTURE(a, b);
        const double corner = std::min(w, h) / 5;
        CHECK(areaOf(between({.kind = ShapeKind::rectangle, .corner = corner}, a, b)) ==
              Approx(w * h - (4 - pi) * corner * corner));
        CHECK(areaOf(between({.kind = ShapeKind::circle}, a, b)) == Approx(pi * r * r));
        const Path round_ = between({.kind = ShapeKind::ellipse}, a, b);
        CHECK(areaOf(round_) == Approx(pi * w * h / 4).epsilon(2e-5));
        CHECK(boundsOf(round_).width() == Approx(w));
        CHECK(boundsOf(round_).height() == Approx(h));
        const int n = 3 + round % 9;
        const Path polygon = between({.kind = ShapeKind::polygon, .corners = n}, a, b);
        CHECK(polygon.segments.size() == static_cast<std::size_t>(n));
        CHECK(polygon.start == b);
        CHECK(areaOf(polygon) == Approx(n * r * r * std::sin(2 * pi / n) / 2));
        const Path star = between({.kind = ShapeKind::star, .corners = n, .inner = 0.4}, a, b);
        CHECK(areaOf(star) == Approx(n * r * r * 0.4 * std::sin(pi / n)));
        CHECK(areaOf(between({.kind = ShapeKind::slot, .width = 5}, a, b)) == Approx(5 * r + pi * 6.25));
        const Path line = between({.kind = ShapeKind::line}, a, b);
        CHECK((line.start == a && line.end() == b && !line.closed));
        const double rise = (round % 2 ? 1 : -1) * r * 0.3;
        const Path arc = between({.kind = ShapeKind::arc, .rise = rise}, a, b);
        CHECK(distance(pointAt(a, arc.segments[0], 0.5), (a + b) / 2 + unit(perpendicular(b - a)) * rise) < 1e-9 * r);
    }
}

TEST_CASE("shapes: what has no extent or is out of range is refused with a reason") {
    const double nan = std::numeric_limits<double>::quiet_NaN();
    for (const auto kind : shapeKinds) {
        CAPTURE(wordOf(kind));
        CHECK_FALSE(shapeBetween({.kind = kind}, {3, 3}, {3, 3}));
        CHECK_FALSE(shapeBetween({.kind = kind}, {3, 3}, {nan, 4}));
        CHECK_FALSE(shapeBetween({.kind = kind}, {3, 3}, {1e9, 4}));
        CHECK(shapeBetween({.kind = kind}, {3, 3}, {13, 4}));
    }
    CHECK_FALSE(shapeBetween({.kind = ShapeKind::rectangle}, {0, 0}, {10, 0}));
    CHECK_FALSE(shapeBetween({.kind = ShapeKind::polygon, .corners = 2}, {0, 0}, {10, 0}));
    CHECK_FALSE(shapeBetween({.kind = ShapeKind::star, .inner = 0}, {0, 0}, {10, 0}));
    CHECK_FALSE(shapeBetween({.kind = ShapeKind::slot, .width = -1}, {0, 0}, {10, 0}));
    CHECK(shapeBetween({.kind = ShapeKind::arc, .rise = 0}, {0, 0}, {10, 0})->segments[0].kind == Segment::Kind::line);
}
