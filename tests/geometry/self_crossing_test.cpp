#include "geometry/self_crossing.h"

#include "geometry/cubic_fit.h"
#include "geometry/flatten.h"
#include "geometry/shapes.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;

namespace {
Path path(const char* text) {
    auto read = pathsFromText(text);
    REQUIRE(read);
    return read->front();
}
} // namespace

TEST_CASE("self-crossing: bows, loops and hooks are seen where they cross, simple shapes are none") {
    for (const char* crossed : {"M0 0L10 10L10 0L0 10Z",             // a bow of lines
                                "M0 0C30 20 -20 20 10 0Z",           // a loop in one curve
                                "M0 0C5 10 12 8 10 3C8 -2 4 6 0 9Z", // two that follow each other
                                "M0 0A4 3 + 8 0L0 -6L8 -6Z"}) {
        const Path it = path(crossed);
        CAPTURE(crossed);
        const auto at = selfCrossing(it, 0.001);
        REQUIRE(at);
        CHECK(boundsOf(it).contains(*at));
        CHECK(selfCrossing(transformed(it, Transform::rotated(1.234)), 0.001));
        CHECK(selfCrossing(reversed(it), 0.001));
    }
    for (const char* simple : {"M0 0L10 0L10 10L0 10Z", "M0 0A5 0 + 10 0A5 0 + 0 0Z", "M0 0C0 10 10 10 10 0Z",
                               "M0 0L10 0L10 10L5 1L0 10Z", "M0 0C10 20 10 -20 20 0L20 -20L0 -20Z"}) {
        CAPTURE(simple);
        CHECK_FALSE(selfCrossing(path(simple), 0.001));
        CHECK_FALSE(selfCrossing(transformed(path(simple), Transform::rotated(1.234)), 0.001));
        CHECK_FALSE(selfCrossing(reversed(path(simple)), 0.001));
    }
}

TEST_CASE("self-crossing: random curves cross where their points do", "[property]") {
    std::mt19937 random(3);
    const auto place = [&] {
        return Vec2{std::uniform_real_distribution<>(0, 40)(random), std::uniform_real_distribution<>(0, 40)(random)};
    };
    int crossed = 0;
    for (int round = 0; round < 400; ++round) {
        Path it{place(), {}, true};
        for (int i = 0, n = 1 + round % 4; i < n; ++i)
            it.segments.push_back(round % 3 ? Segment::cubic(place(), place(), place()) : Segment::line(place()));
        it.segments.push_back(Segment::line(it.start));
        const auto points = selfCrossing(flattened(it, 1e-3), true);
        CAPTURE(toText(it));
        CHECK(selfCrossing(it, 1e-3).has_value() == points.has_value());
        crossed += points.has_value();
    }
    CHECK(crossed > 100);
}

TEST_CASE("self-crossing: a curve fitted to a hook makes no loop of it", "[property]") {
    std::mt19937 random(4);
    for (int round = 0; round < 60; ++round) {
        Ring chain; // a line with a tiny bump of dust on it
        const double size = 0.2 + 0.05 * (round % 20);
        for (int i = 0; i < 20; ++i) chain.push_back({0.8 * i, 0.05 * static_cast<double>(random() % 3)});
        for (double a = -1.2; a < pi + 1.2; a += 0.5)
            chain.push_back(chain[19] + Vec2{1.2 * size - size * std::cos(a), size * (1 + std::sin(a))});
        for (int i = 0; i < 20; ++i)
            chain.push_back({16.5 + 3 * size + 0.8 * i, 0.05 * static_cast<double>(random() % 3)});
        Path fitted{chain.front(), {}, false};
        fitCubics(chain, {1, 0}, {1, 0}, 0.4, fitted.segments);
        for (std::size_t i = 0; i < fitted.segments.size(); ++i) {
            const Path one{fitted.from(i), {fitted.segments[i]}, false};
            CAPTURE(round, toText(one));
            CHECK_FALSE(selfCrossing(flattened(one, 1e-4), false));
        }
    }
}
