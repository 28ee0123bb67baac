// Maps and cameras from places, against those that the places were made by.
#include "geometry/place_fit.h"
#include "support/shapes.h"

#include <random>

using namespace ferro;

namespace {
double someOf(std::mt19937& random, double size) { return size * (static_cast<double>(random() % 20001) / 10000 - 1); }
} // namespace

TEST_CASE("fitted map: what it was made by, as far as so many places tell", "[property]") {
    std::mt19937 random(3);
    for (int round = 0; round < 50; ++round) {
        const Transform made{1 + someOf(random, 0.1), someOf(random, 0.2), someOf(random, 0.2),
                             1 + someOf(random, 0.1), someOf(random, 100), someOf(random, 100)};
        std::vector<Vec2> from{{0, 0}, {90, someOf(random, 20)}, {someOf(random, 20), 70}}, to;
        for (int k = 0; k < round % 5; ++k) from.push_back({someOf(random, 200), someOf(random, 200)});
        for (const Vec2 p : from) to.push_back(made(p));
        const auto fit = fittedMap(from, to);
        CHECK(fit.worst() < 1e-6);
        CHECK(distance(fit.map({500, -300}), made({500, -300})) < 1e-4);
    }
    // Two tell a turn and a size, and so do more in a line; one a shift.
    const Transform turned = Transform::moved({5, -2}) * Transform::rotated(0.3) * Transform::scaled(1.1, 1.1);
    for (const int count : {1, 2, 5}) {
        std::vector<Vec2> from, to;
        for (int k = 0; k < count; ++k) from.push_back({10.0 * k, 4.0 * k}), to.push_back(turned(from.back()));
        const auto fit = fittedMap(from, to);
        CHECK(fit.worst() < 1e-9);
        if (count > 1) CHECK(distance(fit.map({7, 90}), turned({7, 90})) < 1e-9);
    }
    // What does not go together is told of each.
    const Vec2 from[] = {{0, 0}, {100, 0}, {100, 100}, {0, 100}}, to[] = {{0, 0}, {100, 0}, {100, 101}, {0, 100}};
    const auto fit = fittedMap(from, to);
    CHECK(fit.off.size() == 4);
    CHECK(fit.worst() == Approx(0.25).margin(0.01));
}

TEST_CASE("matched places: found among others, with some missing, and never the wrong way round", "[property]") {
    std::mt19937 random(11);
    const std::vector<Vec2> marks{{0, 0}, {140, 0}, {280, 0}, {280, 180}, {140, 180}, {0, 180}, {15, 0}};
    for (int round = 0; round < 60; ++round) {
        // Any turn, for they are not alike from any two sides.
        const Transform lies = Transform::moved({someOf(random, 300), someOf(random, 300)}) *
                               Transform::rotated(someOf(random, pi)) *
                               Transform::scaled(1 + someOf(random, 0.02), 1 + someOf(random, 0.02));
        std::vector<Vec2> found;
        std::vector<std::optional<std::size_t>> truth(marks.size());
        const std::size_t hidden = round % 3 == 0 ? marks.size() : random() % 6; // the odd one out tells the way round
        for (std::size_t k = 0; k < 12; ++k) found.push_back({someOf(random, 900), someOf(random, 900)});
        for (std::size_t i = 0; i < marks.size(); ++i)
            if (i != hidden) {
                truth[i] = found.size();
                found.push_back(lies(marks[i]) + Vec2{someOf(random, 0.1), someOf(random, 0.1)});
            }
        CAPTURE(round, hidden);
        CHECK(matchedPlaces(marks, found, 3) == truth);
    }
    CHECK(matchedPlaces(marks, {}, 1) == std::vector<std::optional<std::size_t>>(marks.size()));
    // Nothing tells a plain pair apart: as it lies, not the other way round.
    const Vec2 pair[] = {{0, 0}, {100, 0}}, there[] = {{1, 1}, {101, 1}};
    CHECK(matchedPlaces(pair, there, 1) == std::vector<std::optional<std::size_t>>{0, 1});
}

TEST_CASE("fitted view: a camera is found again by what it sees, and both ways are one", "[property]") {
    std::mt19937 random(5);
    for (int round = 0; round < 8; ++round) {
        Viewed truth;
        truth.width = 3000, truth.height = 2000;
        truth.middle = {1500 + someOf(random, 20), 1000 + someOf(random, 20)};
        truth.reach = std::hypot(3000, 2000) / 2;
        truth.bend = {someOf(random, 0.05), someOf(random, 0.01), 0};
        const double turn = someOf(random, 0.2);
        truth.plane = {170 * std::cos(turn), 170 * std::sin(turn),  150,
                       170 * std::sin(turn), -170 * std::cos(turn), 100,
                       someOf(random, 0.05), someOf(random, 0.05),  1};
        std::vector<Vec2> px, mm;
        for (int x = 0; x < 7; ++x)
            for (int y = 0; y < 5; ++y) {
                mm.push_back({15.0 + 45 * x, 10.0 + 45 * y});
                px.push_back(truth.seen(mm.back()));
                REQUIRE(distance(truth(px.back()), mm.back()) < 1e-6);
            }
        mm.push_back({37.5, 32.5}); // tells which way round
        px.push_back(truth.seen(mm.back()));
        const auto fit = fittedView(px, mm, 3000, 2000);
        REQUIRE(fit);
        CAPTURE(round);
        CHECK(fit->worst() < 0.001);
        for (const Vec2 at : {Vec2{20, 30}, {150, 100}, {270, 190}})
            CHECK(distance(fit->view(truth.seen(at)), at) < 0.002);
        // And which is which needs nobody to say.
        auto shuffled = px;
        std::vector<std::size_t> order(px.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        for (std::size_t i = order.size(); i > 1; --i) std::swap(order[i - 1], order[random() % i]);
        for (std::size_t i = 0; i < order.size(); ++i) shuffled[order[i]] = px[i];
        const auto match = matchedField(mm, shuffled, 3000, 2000);
        REQUIRE(match);
        for (std::size_t i = 0; i < mm.size(); ++i) CHECK((*match)[i] == order[i]);
    }
    const Vec2 line[] = {{0, 0}, {1, 0}, {2, 0}, {3, 0}};
    CHECK_FALSE(fittedView(line, line, 100, 100));
    CHECK_FALSE(matchedField(line, line, 100, 100));
}
