#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/stroke.h"
#include "support/shapes.h"

using namespace ferro;

namespace {
std::vector<Piece> pieces(std::initializer_list<Path> outlines) {
    std::vector<Piece> out;
    for (const auto& path : outlines) out.push_back({path, {}});
    return out;
}
std::vector<Piece> made(const std::vector<Piece>& a, const std::vector<Piece>& b, Combine how) {
    auto out = combinedPieces(a, b, how);
    REQUIRE(out);
    return *out;
}
double area(const std::vector<Piece>& all) {
    double sum = 0;
    for (const auto& piece : all) {
        sum += areaOf(piece.outline);
        for (const auto& opening : piece.openings) sum += areaOf(opening);
    }
    return sum;
}
/// Every outline closed, its segments sound, each of them on one of the curves that went in.
void shouldBeStretches(const std::vector<Piece>& out, const std::vector<Piece>& a, const std::vector<Piece>& b) {
    std::vector<Ruler> sources;
    for (const auto* set : {&a, &b})
        for (const auto& piece : *set) {
            sources.emplace_back(pathOf(flattened(piece.outline, 1e-5), true));
            for (const auto& opening : piece.openings) sources.emplace_back(pathOf(flattened(opening, 1e-5), true));
        }
    for (const auto& piece : out)
        for (int k = -1; k < static_cast<int>(piece.openings.size()); ++k) {
            const Path& path = k < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(k)];
            CHECK(path.closed);
            CHECK(path.start == path.end());
            for (std::size_t i = 0; i < path.segments.size(); ++i)
                for (const double t : {0.0, 0.3, 0.5, 0.8}) {
                    const Vec2 p = pointAt(path.from(i), path.segments[i], t);
                    double off = 1e9;
                    for (const auto& source : sources)
                        off = std::min(off, distance(p, source.at(source.nearest(p)).point));
                    CAPTURE(toText(path), i, t);
                    CHECK(off < 0.0025);
                }
        }
}
} // namespace

TEST_CASE("combine: two discs give exact lenses, crescents and unions, of arcs about the same centres") {
    const auto a = pieces({circle({0, 0}, 10)}), b = pieces({circle({12, 0}, 10)});
    const double lens = 2 * (100 * std::acos(0.6) - 6 * 8.0);
    const auto overlap = made(a, b, Combine::overlap);
    REQUIRE(overlap.size() == 1);
    CHECK(area(overlap) == Approx(lens).epsilon(1e-9));
    for (const auto& s : overlap[0].outline.segments) CHECK(s.kind == Segment::Kind::arc);
    CHECK(std::abs(std::abs(overlap[0].outline.start.y) - 8) < 1e-8);
    CHECK(area(made(a, b, Combine::join)) == Approx(200 * pi - lens).epsilon(1e-9));
    CHECK(area(made(a, b, Combine::takeAway)) == Approx(100 * pi - lens).epsilon(1e-9));
    CHECK(area(made(a, b, Combine::eitherNotBoth)) == Approx(200 * pi - 2 * lens).epsilon(1e-9));
    // One in the other: an opening, and both as they were, bit by bit.
    const auto ring = made(a, pieces({circle({0, 1}, 4)}), Combine::takeAway);
    REQUIRE(ring.size() == 1);
    REQUIRE(ring[0].openings.size() == 1);
    CHECK(boundsOf(ring[0].openings[0]) == boundsOf(circle({0, 1}, 4)));
    const auto apart = made(a, pieces({rectangle({50, 0}, {60, 9}, 2)}), Combine::join);
    REQUIRE(apart.size() == 2);
    CHECK(apart[0].outline == circle({0, 0}, 10));
    CHECK(apart[1].outline == rectangle({50, 0}, {60, 9}, 2));
    CHECK(made(a, a, Combine::takeAway).empty());
    CHECK(area(made(a, a, Combine::join)) == Approx(100 * pi));
    CHECK(made({}, {}, Combine::join).empty());
}

TEST_CASE("combine: whatever the shapes, areas add up and outlines are stretches of what went in", "[property]") {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        CAPTURE(seed);
        std::vector<Piece> a{{test::curvedBlob(seed, {50, 50}, 40), {}}},
            b{{test::curvedBlob(seed + 500, {70, 55}, 30), {}}, {rectangle({20, 20}, {35, 90}, 4), {}}};
        if (seed % 3 == 0) a[0].openings.push_back(reversed(circle({50, 50}, 6)));
        for (auto* set : {&a, &b})
            for (auto& piece : *set) piece.outline = wound(piece.outline, true);
        const auto overlap = made(a, b, Combine::overlap), join = made(a, b, Combine::join),
                   less = made(a, b, Combine::takeAway), other = made(b, a, Combine::takeAway);
        const double whole = area(made(b, {}, Combine::join)); // its own two may overlap
        CHECK(area(join) == Approx(area(a) + whole - area(overlap)).margin(0.01));
        CHECK(area(less) == Approx(area(a) - area(overlap)).margin(0.01));
        CHECK(area(other) == Approx(whole - area(overlap)).margin(0.01));
        for (const auto& out : {overlap, join, less, other}) shouldBeStretches(out, a, b);
        // What is cut off again by the same knife is not cut any more.
        CHECK(area(made(less, b, Combine::takeAway)) == Approx(area(less)).margin(0.01));
    }
}

TEST_CASE("line to outline: a drawn line becomes the area that a pen of that width covers") {
    const auto wide = [](const Rings& lines, bool closed, Cap cap) {
        auto out = widenedPaths(lines, closed, 4, cap);
        REQUIRE(out);
        double sum = 0;
        for (const auto& path : *out) sum += areaOf(path);
        return sum;
    };
    const Ring line{{0, 0}, {30, 0}};
    CHECK(wide({line}, false, Cap::flat) == Approx(120));
    CHECK(wide({line}, false, Cap::round) == Approx(120 + 4 * pi).epsilon(1e-3));
    CHECK(wide({line}, false, Cap::square) == Approx(136));
    CHECK(wide({{{0, 0}, {30, 0}}, {{15, -15}, {15, 15}}}, false, Cap::flat) == Approx(224)); // crossing: counted once
    CHECK(wide({flattened(circle({0, 0}, 10), 0.001)}, true, Cap::round) == Approx(pi * (144 - 64)).epsilon(1e-3));
}

TEST_CASE("line to outline: corners are cut from edge to edge, or sharp up to their limit") {
    const auto area = [](const Ring& line, bool closed, Corner corner, double limit, Cap cap = Cap::flat) {
        const auto rings = widened({line}, closed, 2, cap, {.corner = corner, .sharpLimit = limit});
        REQUIRE(rings);
        double sum = 0;
        for (const auto& ring : *rings) sum += areaOf(pathOf(ring, true));
        return sum;
    };
    for (const double side : {1.0, -1.0}) { // turning to the left and to the right
        const Ring hook{{0, 0}, {10, 0}, {10, 10 * side}};
        CHECK(area(hook, false, Corner::flat, 4) == Approx(39.5));
        CHECK(area(hook, false, Corner::sharp, 4) == Approx(40));
        CHECK(area(hook, false, Corner::sharp, 1.41) == Approx(39.5)); // a right angle reaches out by the root of 2
        CHECK(area(hook, false, Corner::flat, 4, Cap::square) == Approx(43.5));
        const Ring frame{{0, 0}, {10, 0}, {10, 10 * side}, {0, 10 * side}};
        CHECK(area(frame, true, Corner::sharp, 4) == Approx(80));
        CHECK(area(frame, true, Corner::flat, 4) == Approx(78));
    }
    CHECK(area({{0, 0}, {10, 0}, {0, 0}}, false, Corner::sharp, 4) == Approx(20)); // right back
    CHECK(area({{3, 3}, {3, 3}}, false, Corner::flat, 4, Cap::square) == Approx(4));
    CHECK(area({{3, 3}}, false, Corner::flat, 4) == 0);
}

TEST_CASE("dashes: a line is cut into its pattern, from where it starts, round the corners", "[property]") {
    const auto lengthOfRing = [](const Ring& ring) {
        double sum = 0;
        for (std::size_t i = 0; i + 1 < ring.size(); ++i) sum += distance(ring[i], ring[i + 1]);
        return sum;
    };
    const auto plain = dashed({{0, 0}, {10, 0}}, false, {3, 2});
    REQUIRE(plain.size() == 2);
    CHECK(plain[0] == Ring{{0, 0}, {3, 0}});
    CHECK(plain[1] == Ring{{5, 0}, {8, 0}});
    CHECK(dashed({{0, 0}, {10, 0}}, false, {3, 2}, 4).front() == Ring{{1, 0}, {4, 0}});
    CHECK(dashed({{0, 0}, {10, 0}}, false, {3, 2}, -1).front() == Ring{{1, 0}, {4, 0}});
    CHECK(dashed({{0, 0}, {12, 0}}, false, {1, 2, 3})[2] == Ring{{7, 0}, {9, 0}}); // an odd pattern goes on turned over
    CHECK(dashed({{0, 0}, {5, 0}, {5, 5}}, false, {7, 1})[0] == Ring{{0, 0}, {5, 0}, {5, 2}});
    for (const std::vector<double>& useless : {std::vector<double>{}, {0, 0}, {3, -1}, {1e-9, 1e-9}})
        CHECK(dashed({{0, 0}, {10, 0}}, false, useless) == Rings{{{0, 0}, {10, 0}}});
    std::mt19937 random(5);
    std::uniform_real_distribution<double> in(0.3, 4);
    for (int round = 0; round < 40; ++round) {
        Ring line{{0, 0}};
        for (int i = 0; i < 12; ++i) line.push_back({in(random)*10, in(random)*10});
        std::vector<double> pattern{in(random), in(random), in(random), in(random)};
        const double start = in(random)*20 - 40;
        const auto dashes = dashed(line, round % 2, pattern, start);
        // What is drawn and what is left are each other's gaps, and make up the whole.
        std::rotate(pattern.begin(), pattern.begin() + 1, pattern.end());
        const auto gaps = dashed(line, round % 2, pattern, start - pattern.back());
        double sum = 0;
        for (const auto& set : {dashes, gaps})
            for (const auto& dash : set) sum += lengthOfRing(dash);
        Ring whole = line;
        if (round % 2) whole.push_back(line.front());
        CHECK(sum == Approx(lengthOfRing(whole)));
        for (std::size_t i = 1; i + 1 < dashes.size(); ++i)
            CHECK(std::min(std::abs(lengthOfRing(dashes[i]) - pattern[3]),
                           std::abs(lengthOfRing(dashes[i]) - pattern[1])) < 1e-9);
    }
}
