#include "geometry/measure.h"
#include "mend/overlaps_internal.h"
#include "support/shapes.h"

using namespace ferro;
using mend::Overlap;

namespace {
std::vector<Overlap> found(const std::vector<Path>& lines, double tolerance = 0.05) {
    Progress progress;
    return mend::overlapsOf(lines, std::vector<bool>(lines.size(), false), tolerance, progress);
}
std::vector<Path> paths(const char* text) {
    auto read = pathsFromText(text);
    REQUIRE(read);
    return *read;
}
void only(const std::vector<Overlap>& all, std::size_t line, std::size_t on, double from, double to) {
    REQUIRE(all.size() == 1);
    CHECK(all[0].line == line);
    CHECK(all[0].on == on);
    CHECK(all[0].from == Approx(from).margin(1e-6));
    CHECK(all[0].to == Approx(to).margin(1e-6));
}
} // namespace

TEST_CASE("overlaps: the shorter of two lines gives way where they share their course, either way round") {
    only(found(paths("M0 0L50 0M40 0L60 0")), 1, 0, 0, 10);
    only(found(paths("M60 0L40 0M0 0L50 0")), 0, 1, 10, 20);
    only(found(paths("M0 0L50 0M20 0.03L40 0.03")), 1, 0, 0, 20);
    CHECK(found(paths("M0 0L50 0M20 0.08L40 0.08")).empty()); // beside it
    CHECK(found(paths("M0 0L50 0M25 -10L25 10")).empty());    // across
    CHECK(found(paths("M0 0L50 0M50 0L90 0")).empty());       // end to end
    CHECK(found(paths("M0 0L50 0M49.9 0L90 0")).empty());     // less than counts
    only(found(paths("M0 0L50 0L50 30M50 10L50 60")), 1, 0, 0, 20);
    // Drawn by hand they lie a little askew: all that lies beside each other is near. The tip of a needle is not drawn
    // twice, and of two long ones that part company neither is the other.
    only(found(paths("M0 0L50 0M20 -0.03L24 0.03")), 1, 0, 0, std::hypot(4, 0.06));
    CHECK(found(paths("M0 0L50 0.4M0 0L50 0")).empty());
    CHECK(found(paths("M0 0L300 0M0 0.01L280 0.4")).empty());
    // A closed outline stays whole, whichever is longer.
    only(found(paths("M10 0L40 0M0 0L50 0L50 5L0 5Z")), 0, 1, 0, 30);
    CHECK(found(paths("M0 0L50 0L50 5L0 5ZM0 0L50 0L50 9L0 9Z")).empty());
}

TEST_CASE("overlaps: arcs and curves share stretches too, a line its own beginning, and all are found at once") {
    const Path round = circle({0, 0}, 20);
    const Ruler ruler(round);
    const Path bit{ruler.at(100).point, ruler.stretch(100, 150), false}; // across the start
    only(found({round, bit}), 1, 0, 0, ruler.at(0).t * 0 + 50);
    // A curve's stretch, cut elsewhere than the curve itself was.
    const auto wave = paths("M0 0C20 40 40 -40 60 0C80 40 100 0 120 0");
    const Ruler along(wave[0]);
    const Path part{along.at(30).point, along.stretch(30, 90), false};
    const auto curves = found({wave[0], part});
    REQUIRE(curves.size() == 1);
    CHECK(curves[0].to - curves[0].from == Approx(Ruler(part).length()).epsilon(0.01));
    // Once round and on over its own beginning.
    const Path twice{ruler.at(0).point, ruler.stretch(0, ruler.length() + 12), false};
    only(found({twice}), 0, 0, ruler.length(), ruler.length() + 12);
    // There and back.
    only(found(paths("M0 0L30 0L10 0")), 0, 0, 30, 50);
    // Two stretches of one line, on two others.
    const auto two = found(paths("M0 0L100 0M-50 0L20 0M80 0L200 0"));
    REQUIRE(two.size() == 2);
    CHECK(two[0].line == 0); // the middle one is longer than the first, shorter than the last
}

TEST_CASE("overlaps: whatever is cut out of a line lies on what stays", "[property]") {
    for (unsigned seed = 1; seed <= 25; ++seed) {
        std::mt19937 random(seed);
        const Path shape = test::curvedBlob(seed, {50, 50}, 40, 9);
        const Ruler ruler(shape);
        std::uniform_real_distribution<> place(0, ruler.length()), size(3, 60);
        std::vector<Path> lines{shape};
        for (int i = 0; i < 6; ++i) {
            const double from = place(random), long_ = size(random);
            Path bit{ruler.at(from).point, ruler.stretch(from, from + long_), false};
            if (i % 2) bit = transformed(bit, Transform::moved({0, i == 3 ? 3 : 0.01})); // one of them is another line
            lines.push_back(random() % 2 ? bit : reversed(bit));
        }
        std::vector<double> left(lines.size(), 0);
        for (const auto& o : found(lines)) {
            CAPTURE(seed, o.line, o.on, o.from, o.to);
            CHECK(o.line != o.on);
            const Ruler own(lines[o.line]), other(lines[o.on]);
            REQUIRE(o.from >= 0);
            REQUIRE(o.to <= own.length() + 1e-6);
            left[o.line] += o.to - o.from;
            for (int k = 0; k <= 20; ++k) {
                const Vec2 p = own.at(std::lerp(o.from, o.to, k / 20.0)).point;
                double near = 1e300; // on the one it is said to lie on, or on one that this one lies on
                for (std::size_t j = 0; j < lines.size(); ++j)
                    if (j != o.line) {
                        const Ruler r(lines[j]);
                        near = std::min(near, distance(p, r.at(r.nearest(p)).point));
                    }
                CHECK(near < 0.06);
            }
        }
        // Each bit of the outline is doubled from end to end, the one beside it is not.
        for (std::size_t i = 1; i < lines.size(); ++i) {
            CAPTURE(seed, i);
            if (i == 4)
                CHECK(left[i] < 0.5 * lengthOf(lines[i]));
            else
                CHECK(left[i] > 0.97 * lengthOf(lines[i]) - 0.3);
        }
    }
}
