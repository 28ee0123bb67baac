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

TEST_CASE("line to outline: a curve drawn with a wide pen is one area of few lines, and is there in no time") {
    // Thousands of stretches and joins between them, that touch along their sides: some made the sweep run for ever.
    Ring line;
    for (int i = 0; i <= 1200; ++i) {
        const double a = i * 0.009;
        line.push_back(Vec2{std::cos(a), std::sin(a)} * (30 + 12 * std::sin(2.3 * a)));
    }
    const Path middle = pathOf(line, false);
    const Ruler ruler(middle);
    for (const auto corner : {Corner::flat, Corner::sharp})
        for (const double width : {0.5, 4.0, 11.0}) {
            const auto paths = widenedPaths({line}, false, width, Cap::flat, {.corner = corner});
            REQUIRE(paths);
            std::size_t segments = 0, outer = 0;
            for (const auto& path : *paths) {
                segments += path.segments.size();
                outer += areaOf(path) > 0;
                for (std::size_t k = 0; k < path.segments.size(); ++k) {
                    const Vec2 p = pointAt(path.from(k), path.segments[k], 0.5);
                    CAPTURE(width, p.x, p.y);
                    CHECK(distance(p, ruler.at(ruler.nearest(p)).point) < width / 2 + 0.01);
                }
            }
            CHECK(outer == 1);
            CHECK(segments < 400);
        }
}

TEST_CASE("fill: crossing outlines fill what their rule says, and those that only touch stay as they are") {
    const auto filled = [](std::vector<Path> paths, FillRule rule) {
        auto out = filledPieces(std::move(paths), rule);
        REQUIRE(out);
        return *out;
    };
    Ring star;
    for (int i = 0; i < 5; ++i) star.push_back(Vec2{std::sin(i * 0.8 * pi), std::cos(i * 0.8 * pi)} * 10);
    const auto solid = filled({pathOf(star, true)}, FillRule::nonZero);
    const auto hollow = filled({pathOf(star, true)}, FillRule::evenOdd);
    REQUIRE(solid.size() == 1);
    CHECK(solid[0].outline.segments.size() == 10);
    CHECK(solid[0].openings.empty());
    const double inner = 10 * std::cos(0.4 * pi) / std::cos(0.2 * pi); // radius of the pentagon between the points
    CHECK(area(solid) - area(hollow) == Approx(2.5 * inner * inner * std::sin(0.4 * pi)).epsilon(1e-5));
    // Two discs, drawn the same way round and against each other.
    const std::vector<Path> discs{circle({0, 0}, 10), circle({12, 0}, 10)};
    const double lens = 2 * (100 * std::acos(0.6) - 6 * 8.0), both = 200 * pi - lens;
    CHECK(area(filled(discs, FillRule::nonZero)) == Approx(both).epsilon(1e-9));
    CHECK(area(filled({discs[0], reversed(discs[1])}, FillRule::nonZero)) == Approx(both - lens).epsilon(1e-9));
    CHECK(area(filled(discs, FillRule::evenOdd)) == Approx(both - lens).epsilon(1e-9));
    shouldBeStretches(filled(discs, FillRule::evenOdd), pieces({discs[0]}), pieces({discs[1]}));
    // Drawn twice, it fills itself or nothing.
    CHECK(filled({discs[0], discs[0]}, FillRule::evenOdd).empty());
    CHECK(area(filled({discs[0], discs[0]}, FillRule::nonZero)) == Approx(100 * pi));
    // Sharing an edge, or a point, or one in the other: nothing is made anew. A line goes along.
    const auto squares = filled({rectangle({0, 0}, {5, 5}), rectangle({5, 0}, {9, 5}), rectangle({9, 5}, {12, 9}),
                                 rectangle({1, 1}, {2, 2}), pathOf({{0, 0}, {9, 9}}, false)},
                                FillRule::evenOdd);
    REQUIRE(squares.size() == 4);
    CHECK(squares[0].outline == rectangle({0, 0}, {5, 5}));
    CHECK(squares[0].openings.size() == 1);
    CHECK(squares[1].outline == rectangle({5, 0}, {9, 5}));
    CHECK_FALSE(squares[3].outline.closed);
    // A loop of a single curve is an outline like any other.
    const Path drop{{0, 0}, {Segment::cubic({30, 40}, {-30, 40}, {0, 0})}, true};
    const auto drops = filled({drop, circle({0, 15}, 2)}, FillRule::evenOdd);
    REQUIRE(drops.size() == 1);
    CHECK(drops[0].openings.size() == 1);
}

TEST_CASE("fill: a thicket of crossings is left as it is, in bounded time") {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> in(0, 1000);
    Ring wild, comb;
    for (int i = 0; i < 20'000; ++i) wild.push_back({in(random), in(random)});
    for (int i = 0; i < 20'000; ++i) comb.push_back({i * 0.02 + (i % 2 ? 400 : 0), i % 2 ? 400.0 : 0.0});
    for (const auto& ring : {wild, comb}) {
        const auto out = filledPieces({pathOf(ring, true)}, FillRule::evenOdd);
        REQUIRE(out);
        REQUIRE(out->size() == 1);
        CHECK(out->front().outline.segments.size() == ring.size());
        CHECK_FALSE(combinedPieces(*out, pieces({rectangle({0, 0}, {900, 900})}), Combine::overlap));
    }
}

TEST_CASE("fill: whatever lies over what, a place is filled as often as its windings say", "[property]") {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> in(0, 100);
    for (int round = 0; round < 60; ++round) {
        std::vector<Path> paths;
        Rings rings;
        for (int k = 0; k < 1 + round % 3; ++k) {
            Ring ring;
            for (int i = 0; i < 4 + round % 5; ++i) // on whole numbers many meet in their corners
                ring.push_back(round % 2 ? Vec2{in(random), in(random)}
                                         : Vec2{std::round(in(random) / 10), std::round(in(random) / 10)} * 10);
            paths.push_back(pathOf(ring, true));
            rings.push_back(std::move(ring));
        }
        for (const auto rule : {FillRule::evenOdd, FillRule::nonZero}) {
            const auto out = filledPieces(paths, rule);
            REQUIRE(out);
            Rings made;
            for (const auto& piece : *out)
                for (auto& ring : flattened(piece, 0.001)) made.push_back(std::move(ring));
            for (int i = 0; i < 200; ++i) {
                const Vec2 p{in(random), in(random)};
                int winding = 0;
                double away = 1e9;
                for (const auto& ring : rings)
                    for (std::size_t k = 0; k < ring.size(); ++k) {
                        const Vec2 a = ring[k], b = ring[(k + 1) % ring.size()];
                        away = std::min(away, distanceToLine(p, a, b));
                        if ((a.y > p.y) != (b.y > p.y) && (cross(b - a, p - a) > 0) == (b.y > a.y))
                            winding += b.y > a.y ? 1 : -1;
                    }
                if (away < 0.001) continue;
                CAPTURE(round, rule == FillRule::evenOdd, p.x, p.y, winding);
                CHECK(contains(made, p) == (rule == FillRule::evenOdd ? winding % 2 != 0 : winding != 0));
            }
        }
    }
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
