// The axis is judged by what makes it one: its discs lie in the area, touch the edge, and together are the area.
#include "geometry/area_axis.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;
using namespace ferro::test;

namespace {

double toEdge(const Rings& rings, Vec2 p) {
    double least = 1e9;
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i)
            least = std::min(least, distanceToLine(p, ring[i], ring[(i + 1) % ring.size()]));
    return least;
}
struct Judged {
    double radiusOff = 0, beyond = 0, untouched = 0; ///< mm
    Vec2 at;
};
Judged judged(const std::vector<Path>& area, const AreaAxis& axis) {
    Rings rings;
    for (const auto& path : area) rings.push_back(flattened(path, 0.0005));
    Judged out;
    struct Disc {
        Vec2 at;
        double radius;
    };
    std::vector<Disc> discs;
    const auto disc = [&](Vec2 at, double radius) {
        const double room = toEdge(rings, at) * (contains(rings, at) ? 1 : -1);
        out.beyond = std::max(out.beyond, radius - room);
        discs.push_back({at, radius});
        return room;
    };
    for (const auto& node : axis.nodes)
        out.radiusOff = std::max(out.radiusOff, std::abs(disc(node.at, node.radius) - node.radius));
    for (const auto& edge : axis.edges) {
        const auto &a = axis.nodes[edge.a], &b = axis.nodes[edge.b];
        const int parts = static_cast<int>(std::ceil(distance(a.at, b.at) / 0.02));
        for (int k = 1; k < parts; ++k) {
            const double t = static_cast<double>(k) / parts;
            disc(lerp(a.at, b.at, t), a.radius + (b.radius - a.radius) * t);
        }
    }
    // Every place of the edge is touched, but for what bends leave; smaller discs inside are in those then.
    for (const auto& path : area)
        for (std::size_t i = 0; i < path.segments.size(); ++i)
            for (int k = 0; k < 40; ++k) {
                const Vec2 p = pointAt(path.from(i), path.segments[i], (k + 0.5) / 40);
                double least = 1e9;
                for (const auto& d : discs) least = std::min(least, distance(d.at, p) - d.radius);
                if (least > out.untouched) out.untouched = least, out.at = p;
            }
    return out;
}
std::vector<Path> shape(unsigned seed) {
    std::vector<Path> area;
    const Vec2 middle{40, 40};
    switch (seed % 6) {
    case 0: area = {rectangle({10, 10}, {70, 40})}; break;
    case 1: area = {curvedBlob(seed, middle, 12), circle(middle, 6)}; break;
    case 2: area = {pathOf(blob(seed, middle, 25, 17, 0.6), true)}; break;
    case 3: area = {rectangle({10, 10}, {70, 60}, 8), circle({30, 35}, 6), rectangle({44, 20}, {56, 50})}; break;
    case 4: area = {pathOf(ring("0,0 60,0 60,10 35,12 35,50 60,52 60,60 0,60 0,52 25,50 25,12 0,10"), true)}; break;
    default: area = {circle(middle, 20), circle(middle + Vec2{3, 0}, 9)};
    }
    for (std::size_t i = 0; i < area.size(); ++i) area[i] = wound(area[i], i == 0);
    return area;
}

} // namespace

TEST_CASE("axis of an area: its discs lie in it, touch its edge, and are it all", "[property]") {
    for (unsigned seed = 0; seed < 24; ++seed) {
        CAPTURE(seed);
        const auto area = shape(seed);
        const auto axis = areaAxis(area, 0.002);
        REQUIRE(axis);
        const auto j = judged(area, *axis);
        CAPTURE(j.radiusOff, j.beyond, j.untouched, j.at.x, j.at.y);
        CHECK(j.radiusOff < 0.004);
        CHECK(j.beyond < 0.004);
        CHECK(j.untouched < 0.01);
        CHECK(areaAxis(area, 0.002)->nodes.size() == axis->nodes.size());
    }
}

TEST_CASE("axis of an area: sharp corners have branches, bends have none") {
    const auto count = [](const Path& path) { // ends at the edge
        const auto axis = areaAxis({wound(path, true)}, 0.002);
        REQUIRE(axis);
        return std::count_if(axis->nodes.begin(), axis->nodes.end(), [](const auto& n) { return n.radius < 1e-6; });
    };
    CHECK(count(rectangle({0, 0}, {50, 20})) == 4);
    CHECK(count(rectangle({0, 0}, {50, 20}, 5)) == 0);
    Path bean{
        {0, 0}, {Segment::cubic({30, -20}, {60, 20}, {40, 30}), Segment::cubic({20, 40}, {-30, 20}, {0, 0})}, true};
    CHECK(count(bean) == 0);
    CHECK(count(pathOf(ring("0,0 40,0 0,9"), true)) == 3);
    // A disc has its middle alone, or so nearly that it is one place.
    const auto disc = areaAxis({wound(circle({10, 10}, 4), true)}, 0.002);
    REQUIRE(disc);
    REQUIRE(!disc->nodes.empty());
    for (const auto& node : disc->nodes) {
        CHECK(distance(node.at, {10, 10}) < 0.1);
        CHECK(node.radius == Approx(4).margin(0.005));
    }
    CHECK((!disc->edges.empty() || !disc->spots.empty()));
}

TEST_CASE("axis of an area: what is no area is refused with the place, or is nothing") {
    const auto crossed = areaAxis({pathOf(ring("0,0 40,30 40,0 0,30"), true)}, 0.002);
    REQUIRE(!crossed);
    CHECK(crossed.problem().what.find("20.00, 15.00") != std::string::npos);
    CHECK(!areaAxis({rectangle({0, 0}, {9, 9}), rectangle({9, 2}, {15, 5})}, 0.002)); // on each other
    CHECK(!areaAxis({rectangle({0, 0}, {20'000, 9})}, 0.002));
    CHECK(areaAxis({}, 0.002)->nodes.empty());
    CHECK(areaAxis({pathOf(ring("0,0 40,0"), true), pathOf(ring("5,5"), true)}, 0.002)->nodes.empty());
    CHECK(areaAxis({wound(rectangle({0, 0}, {1e-4, 1e-4}), true)}, 0.002)); // hair-thin, and an answer
}

TEST_CASE("area axis: the largest disc of an area lies where it should, openings and touching edges heeded") {
    const auto disc = [](std::vector<Path> area) { return largestDisc(area); };
    const auto board = disc({wound(rectangle({0, 0}, {40, 20}), true)});
    CHECK(board.radius == Approx(10).margin(1e-6));
    CHECK(board.centre.y == Approx(10).margin(1e-6));
    const auto holed = disc({wound(rectangle({0, 0}, {40, 20}), true), wound(circle({10, 10}, 6), false)});
    CHECK(holed.radius == Approx(10).margin(0.01));
    CHECK(holed.centre.x > 25);
    const auto touching = disc({wound(rectangle({0, 0}, {40, 20}), true), wound(rectangle({20, 0}, {40, 20}), false)});
    CHECK(touching.radius == Approx(10).margin(0.02));
    CHECK(touching.centre.x == Approx(10).margin(0.02));
    CHECK(disc({}).radius == 0);
}
