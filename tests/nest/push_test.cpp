// A part pushed by hand: never nearer than it may, as far as it can, and along what it touches.
#include "nest/check.h"
#include "nest/push.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::nest;

namespace {
std::vector<Piece> at(Piece piece, Vec2 by) { return {transformed(piece, Transform::moved(by))}; }
Sheet plate(double width, double height) { return {{rectangle({0, 0}, {width, height}), {}}, {}}; }
} // namespace

TEST_CASE("push: against a wall it stops at its distance, pushed aslant it slides along, in a corner it stays") {
    const Piece square{rectangle({0, 0}, {20, 20}), {}};
    const Pushing push(at(square, {10, 10}), plate(200, 100), {at(square, {100, 10})}, 3, 5);
    const double close = 0.006;
    // Straight at the neighbour: 70 mm of room less 3.
    CHECK(distance(push.pushed({}, {90, 0}), {67, 0}) < close);
    // Aslant: up along its flank, over its top where that is free, to where the pointer is.
    CHECK(distance(push.pushed({}, {90, 60}), {90, 60}) < close);
    CHECK(distance(push.pushed({}, {90, 15}), {67, 15}) < close);
    // Into the sheet's corner, 5 mm from both edges, and no farther; out again freely.
    CHECK(distance(push.pushed({}, {-50, -30}), {-5, -5}) < close);
    CHECK(distance(push.pushed({-4.99, -4.99}, {30, 20}), {30, 20}) < 1e-6);
    // Along the edge while it is pressed against it.
    CHECK(distance(push.pushed({-4.99, 0}, {-40, 55}), {-5, 55}) < close);
    CHECK(push.hits({}).none());
    CHECK(push.hits(Transform::moved({67.01, 0})).others == std::vector<std::size_t>{0});
    CHECK(push.hits(Transform::moved({66.99, 0})).none());
    CHECK(push.hits(Transform::moved({90, 0})).others == std::vector<std::size_t>{0});
    CHECK(push.hits(Transform::moved({-6, 0})).beyond);
    CHECK(push.hits(Transform::moved({500, 0})).beyond);
    CHECK_FALSE(push.hits(Transform::rotated(0.6, {80, 20})).none());
    // Where it overlaps: five by twenty of the neighbour; three beyond the sheet; too near only, nothing.
    const auto overlap = [&](Vec2 by) {
        double area = 0;
        const auto t = Transform::moved(by);
        for (const auto& ring : push.overlap(t, push.hits(t))) area += areaOf(ring);
        return area;
    };
    CHECK(overlap({75, 0}) == Approx(5 * 20).margin(0.1));
    CHECK(overlap({-13, 0}) == Approx(3 * 20).margin(0.1));
    CHECK(overlap({68, 0}) == 0);
    // A point that meets its flank lets it slide straight along.
    const Piece wedge{pathOf({{100, 18}, {140, 10}, {140, 26}}, true), {}};
    const Pushing flank(at(square, {10, 10}), plate(200, 100), {{wedge}}, 3, 0);
    CHECK(distance(flank.pushed({}, {90, 0}), {67, 0}) < close);
    CHECK(distance(flank.pushed({}, {90, 6}), {67, 6}) < close);
    CHECK(distance(flank.pushed({67, 0}, {80, -9}), {67, -9}) < close);
    // A small part within the opening of a larger one stays in it; on its material it is told.
    const Piece frame{rectangle({50, 20}, {150, 80}), {wound(rectangle({60, 30}, {140, 70}), false)}};
    const Pushing inside(at(square, {90, 40}), plate(200, 100), {{frame}}, 2, 0);
    CHECK(distance(inside.pushed({}, {300, 0}), {28, 0}) < close);
    CHECK(distance(inside.pushed({}, {300, 100}), {28, 8}) < close);
    CHECK(inside.hits({}).none());
    const Pushing on({{circle({55, 50}, 3), {}}}, plate(200, 100), {{frame}}, 0, 0);
    CHECK(on.hits({}).others.size() == 1);
}

TEST_CASE("push: wherever it is pushed it keeps its distance by the exact check, and one more push goes no farther",
          "[property]") {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> along(-260, 260);
    for (unsigned seed = 1; seed <= 8; ++seed) {
        CAPTURE(seed);
        const Sheet sheet = plate(300, 200);
        const Settings settings{.spacing = seed % 3 * 1.5, .margin = seed % 2 * 4.0};
        std::vector<Part> parts;
        std::vector<std::vector<Piece>> others;
        Layout layout{{}, {}, 1, 0, 0};
        const auto put = [&](Piece piece) {
            parts.push_back({{std::move(piece)}, 1, 0, false, false});
            layout.placed.push_back({parts.size() - 1, 0, {}});
        };
        put({test::curvedBlob(seed, {150, 100}, 22), {}});
        const Vec2 places[] = {{50, 50}, {60, 150}, {240, 60}, {235, 150}, {150, 40}, {150, 165}};
        for (unsigned k = 0; k < 6; ++k) {
            const Vec2 p = places[k];
            if (k % 2)
                put({test::curvedBlob(seed * 9 + k, p, 28), {}});
            else // with an inlet from above
                put({pathOf({p + Vec2{-25, -20}, p + Vec2{25, -20}, p + Vec2{25, 20}, p + Vec2{5, 20}, p + Vec2{0, -10},
                             p + Vec2{-8, 20}},
                            true),
                     {}});
            others.push_back(parts.back().pieces);
        }
        if (!faultsOf(parts, {sheet}, settings, layout).empty()) continue; // it begins free
        const Pushing push(parts[0].pieces, sheet, others, settings.spacing, settings.margin);
        Vec2 shift;
        int moved = 0;
        for (int i = 0; i < 28; ++i) {
            const Vec2 to{along(random), along(random)};
            const Vec2 next = push.pushed(shift, to);
            CAPTURE(i, shift, to, next);
            layout.placed[0].place = Transform::moved(next);
            const auto faults = faultsOf(parts, {sheet}, settings, layout);
            if (!faults.empty()) FAIL_CHECK(faults[0].what);
            CHECK(push.hits(layout.placed[0].place).none());
            CHECK(distance(next, to) <= distance(shift, to) + 1e-9); // never away from the pointer
            CHECK(distance(push.pushed(next, to), next) < 0.01 + 0.02 * distance(next, to));
            moved += distance(shift, next) > 1;
            shift = next;
        }
        CHECK(moved > 7);
    }
}
