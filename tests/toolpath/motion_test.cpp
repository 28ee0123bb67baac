#include "support/jobs.h"
#include "toolpath/motion.h"

using namespace ferro;
using toolpath::Move;

TEST_CASE("motion: a straight run takes the time of its trapezoid") {
    shop::Machine machine;
    machine.acceleration = 500;
    toolpath::MotionPlanner planner(machine);
    CHECK(planner.push({Move::Kind::line, true, {100, 0, 0}, {}, 3000, 0}));
    CHECK_FALSE(planner.push({Move::Kind::line, true, {100, 0, 0}, {}, 3000, 0}));
    const auto ride = planner.pop();
    // 50 mm/s: 0.1 s and 2.5 mm on each flank, 95 mm between.
    CHECK(ride.seconds() == Approx(0.2 + 95.0 / 50));
    CHECK(ride.distanceAt(0.1) == Approx(2.5));
    CHECK(ride.distanceAt(ride.seconds()) == Approx(100));
}

TEST_CASE("motion: speeds join, never beyond corner, feed or braking", "[property]") {
    std::mt19937 random(5);
    std::uniform_real_distribution<> part(-1, 1);
    shop::Machine machine;
    toolpath::MotionPlanner planner(machine);
    std::vector<toolpath::Ride> rides;
    toolpath::Vec3 at{};
    for (int i = 0; i < 5000; ++i) {
        if (planner.full()) rides.push_back(planner.pop());
        at = {at.x + part(random) * (i % 7 ? 3 : 60), at.y + part(random) * 3, at.z + (i % 11 ? 0 : part(random))};
        planner.push({Move::Kind::line, true, at, {}, 200 + 3000 * std::abs(part(random)), 0});
    }
    while (!planner.empty()) rides.push_back(planner.pop());
    double speed = 0;
    for (const auto& ride : rides) {
        REQUIRE(ride.entry == Approx(speed).margin(1e-9));
        REQUIRE(ride.exit <= ride.cruise + 1e-9);
        REQUIRE(std::abs(ride.exit * ride.exit - ride.entry * ride.entry) <=
                2 * ride.acceleration * ride.length + 1e-6);
        speed = ride.exit;
    }
    CHECK(speed == 0);
}

TEST_CASE("motion: fine chords of a round are as quick as the arc itself, nearly") {
    shop::Machine machine;
    const auto timed = [&](int parts) {
        toolpath::MotionPlanner planner(machine);
        planner.startAt({30, 0, 0});
        double sum = 0;
        for (int i = 1; i <= parts; ++i) {
            const double a = pi * i / parts;
            if (planner.full()) sum += planner.pop().seconds();
            planner.push({parts == 1 ? Move::Kind::arc : Move::Kind::line,
                          true,
                          {30 * std::cos(a), 30 * std::sin(a), 0},
                          {0, 0},
                          3000,
                          0});
        }
        while (!planner.empty()) sum += planner.pop().seconds();
        return sum;
    };
    CHECK(timed(200) == Approx(timed(1)).epsilon(0.05));
}
