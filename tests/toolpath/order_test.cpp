// The order of work, against the nearest next, with what holds the parts kept.
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

TEST_CASE("order: five hundred parts take at least 12 % less way than from each to the nearest next", "[property]") {
    double ours = 0, nearest = 0;
    for (unsigned seed = 0; seed < 4; ++seed) {
        std::mt19937 random(seed + 1);
        std::vector<Vec2> places;
        while (places.size() < 500) {
            const Vec2 p{10.0 + static_cast<double>(random() % 5800) / 10,
                         10.0 + static_cast<double>(random() % 3800) / 10};
            if (std::all_of(places.begin(), places.end(), [&](Vec2 q) { return distance(p, q) > 10; }))
                places.push_back(p);
        }
        std::vector<Piece> parts;
        for (const Vec2 p : places) parts.push_back({wound(circle(p, 3), true), {}});
        const auto path = planned(set(stepped(drawn(fresh(), parts), "outline", "end-3"), "hold", "none"));
        REQUIRE(path.steps.size() == 1);
        std::vector<Vec2> starts;
        Vec2 at = path.start.flat();
        const Vec2 start = at;
        double here = 0;
        for (const auto& cut : path.steps[0].cuts) {
            const Vec2 to = path.steps[0].moves[cut.first].to.flat();
            here += distance(at, to);
            starts.push_back(to);
            at = path.steps[0].moves[cut.end - 1].to.flat();
        }
        CHECK(starts.size() == 500);
        ours += here;
        for (at = start; !starts.empty();) {
            const auto next = std::min_element(starts.begin(), starts.end(),
                                               [&](Vec2 a, Vec2 b) { return distance(at, a) < distance(at, b); });
            nearest += distance(at, *next);
            at = *next;
            starts.erase(next);
        }
    }
    CAPTURE(ours, nearest);
    CHECK(ours < 0.88 * nearest);
}

TEST_CASE("order: whatever is shorter, inner goes before outer and small before large", "[safety]") {
    for (unsigned seed = 0; seed < 6; ++seed) {
        std::mt19937 random(seed * 3 + 1);
        std::vector<Piece> parts;
        for (int i = 0; i < 40; ++i) {
            const Vec2 p{45.0 + 70 * (i % 8), 40.0 + 65 * (i / 8)};
            const double size = 6.0 + static_cast<double>(random() % 22);
            parts.push_back({wound(circle(p, size), true), {}});
            if (size > 16) parts.back().openings.push_back(wound(circle(p, size / 2), false));
        }
        std::shuffle(parts.begin(), parts.end(), random);
        const auto path = planned(set(stepped(drawn(fresh(), parts), "outline", "end-3"), "hold", "none"));
        int nesting = 99;
        double size = 0;
        for (const auto& cut : path.steps[0].cuts) {
            const auto& contour = path.pieces->contours[*cut.intent.contour];
            if (cut.intent.nesting != nesting) size = 0;
            CHECK(cut.intent.nesting <= nesting);
            CHECK(contour.size > size / std::sqrt(10.0) - 1e-9); // in steps of half a power of ten
            nesting = cut.intent.nesting;
            size = std::max(size, contour.size);
        }
        CHECK(path.count() == planned(set(stepped(drawn(fresh(), parts), "outline", "end-3"), "hold", "none")).count());
    }
}
