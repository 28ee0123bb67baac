#include "link/measuring.h"
#include "link/run_times.h"
#include "link/streamer.h"
#include "link/zeroing.h"
#include "standin/standin.h"
#include "support/failing_disk.h"
#include "support/jobs.h"
#include "support/talk.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// The stand-in without a line: blocks go in, time passes until it rests or has tripped.
struct Table {
    explicit Table(std::optional<double> plate) {
        machine.setPlate(plate);
        send({"G21 G90", "G28", "G92 X0 Y0 Z0", "G0 X30 Y20 Z-10", "G92 X0 Y0 Z0"});
    }
    void send(const std::vector<std::string>& blocks) {
        for (const auto& block : blocks) {
            machine.receive(checkedTalk().framedLoose(++number, block));
            for (int i = 0; i < 4000 && moves(); ++i) machine.advance(0.02);
            answers += machine.replies();
        }
    }
    [[nodiscard]] bool moves() const { return machine.status().state == link::MachineState::moving; }

    standin::StandIn machine{*book().machine("mill-600"), {}, checkedTalk()};
    long number = 0;
    std::string answers;
};

} // namespace

TEST_CASE("touch-off: the zero is a plate's thickness under its top, wherever the tool began", "[safety]") {
    for (const double plate : {-22.0, -31.37, -49.5})
        for (const double thick : {1.0, 10.0, 19.05}) {
            Table table(plate);
            const double before = table.machine.status().machine.z;
            table.send(link::blocksFor({.plate = thick}));
            CAPTURE(plate, thick, table.answers);
            const auto status = table.machine.status();
            CHECK(status.state == link::MachineState::resting);
            const double zero = status.machine.z - status.at.z; // in machine coordinates
            CHECK(std::abs(zero - (plate - thick)) < 0.002);
            CHECK(status.machine.z > plate + 5); // clear of the plate again
            CHECK(status.machine.z < before + 1e-9);
            // The first touch alone runs on into the plate by more than that.
            Table quick(plate);
            quick.send({"G21 G91 G38.2 Z-40 F150", "G90 G92 Z10"});
            const auto at = quick.machine.status();
            CHECK(std::abs(at.machine.z - at.at.z - (plate - 10)) > 0.005);
        }
}

TEST_CASE("touch-off: the second touch goes twice as far down as the tool went up, no farther", "[safety]") {
    Table table(-22.0);
    const auto blocks = link::blocksFor({.plate = 10, .back = 3});
    REQUIRE(blocks.size() == 5);
    table.send({blocks[0], blocks[1]});
    table.machine.setPlate({}); // it slips off in between
    table.send({blocks[2]});
    CHECK(table.machine.status().state == link::MachineState::tripped);
    CHECK(table.machine.status().machine.z == Approx(-22 - 3).margin(0.02));
}

TEST_CASE("touch-off: where nothing is met the machine trips, and the zero stays what it was", "[safety]") {
    for (const std::optional<double> plate : {std::optional<double>{}, std::optional<double>{-60}}) {
        Table table(plate);
        table.send(link::blocksFor({.plate = 10}));
        const auto status = table.machine.status();
        CHECK(status.state == link::MachineState::tripped);
        CHECK(status.machine.z == Approx(-50)); // 40 down, no farther
        CHECK(status.machine.z - status.at.z == Approx(-10));
        CHECK(table.answers.find("tripped") != std::string::npos);
    }
    Table table(-5.0); // the tool is below the plate's top: a wire is off
    table.send({"G21 G91 G38.2 Z-40 F150"});
    CHECK(table.answers.find("before it is begun") != std::string::npos);
    CHECK(table.machine.status().machine.z == Approx(-10));
    table.send({"G38.2 X5 Y5 F150", "G38.2 Z2 F150"});
    CHECK(table.machine.status().machine.x == Approx(30)); // straight down, or along one axis
    CHECK(table.machine.status().machine.z == Approx(-10));
}

TEST_CASE("edges: a pin beside the sheet finds X and Y of its zero, whichever edge, corner and pin", "[safety]") {
    const auto size = [](const job::Job& job) {
        auto stock = job.sheet().stock;
        stock.width = 210.5, stock.height = 140.25, stock.thickness = 12;
        return stock;
    };
    int touched = 0;
    for (unsigned seed = 0; seed < 20; ++seed) {
        std::mt19937 random(seed + 5);
        auto job = fresh();
        auto stock = size(job);
        stock.corner = static_cast<job::ZeroCorner>(seed % 5);
        job = with(job, job::withStock(job, stock));
        const Vec2 corner{60.0 + static_cast<double>(random() % 100) / 7,
                          70.0 + static_cast<double>(random() % 100) / 9};
        const double pin = 1.0 + static_cast<double>(random() % 90) / 10;
        const auto edge = static_cast<link::Edge>(random() % 4);
        Table table({});
        table.machine.setBoard({{corner, corner + Vec2{stock.width, stock.height}}, -60, pin});
        // Beside the edge by less than it may seek, somewhere along it, and 3 mm lower than the top.
        const double gap = pin / 2 + 3 + static_cast<double>(random() % 14),
                     along = 20.0 + static_cast<double>(random() % 80);
        const Vec2 starts[] = {corner + Vec2{-gap, along}, corner + Vec2{stock.width + gap, along},
                               corner + Vec2{along, -gap}, corner + Vec2{along, stock.height + gap}};
        const Vec2 start = starts[static_cast<std::size_t>(edge)];
        const auto now = table.machine.status().machine;
        table.send({"G21 G91", fmt::format("G0 X{:.4f} Y{:.4f}", start.x - now.x, start.y - now.y),
                    fmt::format("G0 Z{:.4f}", -63 - now.z), "G90"});
        const auto before = table.machine.status();
        const auto touch = link::edgeTouch(job, edge, pin);
        REQUIRE(touch);
        table.send(link::blocksFor(*touch));
        const auto after = table.machine.status();
        CAPTURE(seed, static_cast<int>(edge), pin, table.answers);
        REQUIRE(after.state == link::MachineState::resting);
        const Vec2 zero = corner + job::zeroOf(stock).at; // where it really is, of the machine
        const Vec2 told = after.machine.flat() - after.at.flat(), was = before.machine.flat() - before.at.flat();
        CHECK(std::abs(touch->inX() ? told.x - zero.x : told.y - zero.y) < 0.002);
        CHECK((touch->inX() ? told.y == Approx(was.y) : told.x == Approx(was.x))); // the other stays what it was
        CHECK(after.machine.z - after.at.z == Approx(before.machine.z - before.at.z));
        CHECK(after.machine.z == Approx(-63));
        // Clear of it again.
        const Vec2 at = after.machine.flat();
        const Box board{corner, corner + Vec2{stock.width, stock.height}};
        CHECK_FALSE(board.grown(pin / 2 + 0.5).contains(at));
        ++touched;
    }
    CHECK(touched == 20);
}

TEST_CASE("edges: where nothing is met the machine trips and the zero stays, and an outline has no edge", "[safety]") {
    auto job = fresh();
    const auto touch = link::edgeTouch(job, link::Edge::left, 6);
    REQUIRE(touch);
    Table table({});
    table.machine.setBoard({{{60, 0}, {200, 200}}, -5, 6}); // 30 mm from where the pin stands
    table.send(link::blocksFor(*touch));
    CHECK(table.machine.status().state == link::MachineState::tripped);
    CHECK(table.machine.status().machine.x == Approx(50)); // 20 on, no farther
    CHECK(table.machine.status().at.x == Approx(20));
    Table above({});
    above.machine.setBoard({{{40, 0}, {200, 200}}, -15, 6}); // the pin stands higher than its top
    above.send(link::blocksFor(*touch));
    CHECK(above.machine.status().state == link::MachineState::tripped);
    Table within({});
    within.machine.setBoard(
        {{{31, 0}, {200, 200}}, -5, 6}); // the pin touches it already: a wire is off, or it stands askew
    within.send({link::blocksFor(*touch).front()});
    CHECK(within.answers.find("before it is begun") != std::string::npos);
    CHECK(within.machine.status().at.x == Approx(0));
    CHECK_FALSE(link::edgeTouch(job, link::Edge::left, 0));
    CHECK_FALSE(
        link::edgeTouch(with(job, job::withBlank(job, Piece{circle({100, 100}, 80), {}})), link::Edge::left, 6));
}

TEST_CASE("feeling: an uneven top is felt place by place, as high as it is, whatever zero and plate", "[safety]") {
    const auto top = [](Vec2 p) { return -40 + 0.004 * p.x - 0.00002 * p.y * p.y + (p.x > 120 ? 0.8 : 0.0); };
    for (const double plate : {0.0, 6.35})
        for (const double zeroZ : {0.0, -12.0}) { // at the top, or at the bottom of a blank 12 thick
            Table table({});
            // The sheet's corner lies at 40, 30 of the machine, its zero 25, 15 from there.
            const Vec2 corner{40, 30}, zero{25, 15};
            table.machine.setTop([&](Vec2 p) { return top(p) + plate; });
            const double nominal = top(corner + zero);
            const auto now = table.machine.status().machine;
            table.send({fmt::format("G21 G90 G92 X{:.4f} Y{:.4f} Z{:.4f}", now.x - corner.x - zero.x,
                                    now.y - corner.y - zero.y, now.z - nominal - zeroZ)});
            link::FeelGrid grid;
            grid.area = {{10, 10}, {130, 90}};
            grid.columns = 5, grid.rows = 3, grid.plate = plate;
            REQUIRE(link::checked(grid));
            link::Feeling feeling(grid, zero, zeroZ);
            double lowest = 0;
            while (!feeling.finished()) {
                table.send(feeling.blocks());
                REQUIRE(table.machine.status().state == link::MachineState::resting);
                feeling.met(table.machine.status().at.z);
                lowest = std::min(lowest, table.machine.status().machine.z);
            }
            table.send(feeling.blocks());
            CAPTURE(plate, zeroZ, table.answers);
            CHECK(table.machine.status().machine.z == Approx(nominal + plate + grid.above).margin(0.01));
            const auto lie = feeling.lie();
            REQUIRE(job::checked(lie));
            for (const double x : {10.0, 40.0, 70.0, 100.0, 130.0})
                for (const double y : {10.0, 50.0, 90.0}) {
                    CAPTURE(x, y);
                    CHECK(lie.at({x, y}) == Approx(top(corner + Vec2{x, y}) - nominal).margin(0.003));
                }
        }
    // Over a job's sheet it passes over all clamps, and comes down on none, nor beside the blank.
    auto job = fresh();
    job.sheet().stock = {.width = 300, .height = 200, .thickness = 12};
    link::FeelGrid asked;
    CHECK(link::placedOn(job, asked, 10)->area.high.x == Approx(290));
    CHECK(link::placedOn(job, asked, 10)->above == Approx(job.plan.clearance));
    job.sheet().clamps = {{{{120, 80}, {140, 95}}, 22}};
    REQUIRE(link::placedOn(job, asked, 10));
    CHECK(link::placedOn(job, asked, 10)->above >= 24);
    job.sheet().clamps.push_back({{{0, 0}, {30, 20}}, 22});
    const auto onClamp = link::placedOn(job, asked, 10);
    REQUIRE_FALSE(onClamp);
    CHECK(onClamp.problem().what == "The place at x 10 mm, y 10 mm of the sheet lies on a clamp.");
    CHECK(link::placedOn(job, asked, 40));
    job.sheet().clamps.clear();
    job.sheet().stock.outline = Piece{wound(pathOf(ring("0,0 300,0 300,200 150,30 0,200"), true), true), {}};
    CHECK(link::placedOn(job, asked, 10).problem().what.find("beside the blank") != std::string::npos);
    // Where nothing is met within what was asked it trips; it goes no deeper.
    Table table(-45.0); // 35 below where it stands
    link::FeelGrid grid;
    grid.area = {{0, 0}, {50, 50}};
    table.send(link::Feeling(grid, {}, 0).blocks());
    CHECK(table.machine.status().state == link::MachineState::tripped);
    CHECK(table.machine.status().at.z == Approx(-8));
    grid.columns = 1;
    CHECK_FALSE(link::checked(grid));
    grid.columns = 4, grid.area = {{20, 20}, {20, 80}};
    CHECK_FALSE(link::checked(grid));
}

TEST_CASE("run times: kept a line each, spoilt lines passed over, reckoned for each machine by itself") {
    const TemporaryFolder folder;
    const auto file = folder.path / "kept" / "run-times.csv";
    CHECK(link::runTimes(realDisk(), file).empty());
    const link::RunTime first{"2026-11-30 21:05", "mill-600", 1000, 1020, "Owls, three of them"};
    REQUIRE(link::keepRunTime(realDisk(), file, first));
    REQUIRE(link::keepRunTime(realDisk(), file, {"2026-11-30 22:05", "mill-600", 200, 210, "line\nbreak"}));
    REQUIRE(link::keepRunTime(realDisk(), file, {"2026-11-30 22:15", "laser-700", 50, 100, "card"}));
    auto runs = link::runTimes(realDisk(), file);
    REQUIRE(runs.size() == 3);
    CHECK(runs[0] == first);
    CHECK(runs[1].job == "line break");
    CHECK(link::runsOn(runs, "mill-600").runs == 2);
    CHECK(link::runsOn(runs, "mill-600").share == Approx(1230.0 / 1200));
    CHECK(link::runsOn(runs, "laser-700").share == Approx(2));
    CHECK(link::runsOn(runs, "knife").runs == 0);
    const std::string text = *realDisk().read(file);
    REQUIRE(writeAtomically(realDisk(), file, "spoilt\n,,,,\n2026,mill-600,x,3,y\n2026,mill-600,-1,3,y\n" + text));
    CHECK(link::runTimes(realDisk(), file) == runs);
    // Of many the last count, and the oldest are let go.
    for (int k = 0; k < 25; ++k) runs.push_back({"2026-12-01 08:00", "mill-600", 100, 100, "many"});
    CHECK(link::runsOn(runs, "mill-600").runs == 20);
    CHECK(link::runsOn(runs, "mill-600").share == 1);
    std::string many;
    for (int k = 0; k < 2100; ++k) many += fmt::format("{},mill-600,10,10,many\n", k);
    REQUIRE(writeAtomically(realDisk(), file, many));
    REQUIRE(link::keepRunTime(realDisk(), file, first));
    runs = link::runTimes(realDisk(), file);
    CHECK(runs.size() == 2000);
    CHECK(runs.front().when == "101");
    CHECK(runs.back() == first);
}

TEST_CASE("last zero: kept for each machine, and made the zero again from anywhere") {
    const TemporaryFolder folder;
    const auto file = folder.path / "kept" / "last-zero";
    CHECK_FALSE(link::lastZero(realDisk(), file, "mill-600"));
    REQUIRE(link::keepZero(realDisk(), file, "mill-600", {12.5, 40, -38.25}));
    REQUIRE(link::keepZero(realDisk(), file, "laser-600", {1, 2, 3}));
    REQUIRE(link::keepZero(realDisk(), file, "mill-600", {12.5, 40, -38.5}));
    const auto zero = link::lastZero(realDisk(), file, "mill-600");
    REQUIRE(zero);
    CHECK(*zero == toolpath::Vec3{12.5, 40, -38.5});
    CHECK(link::lastZero(realDisk(), file, "laser-600")->x == 1);
    CHECK_FALSE(link::lastZero(realDisk(), file, "mill"));
    Table table({});
    table.send({"G28", "G92 X7 Y7 Z7", "G0 X60 Y10 Z-4"});
    table.send(link::blocksForZero(*zero, table.machine.status().machine));
    const auto status = table.machine.status();
    CHECK(status.machine.x - status.at.x == Approx(12.5));
    CHECK(status.machine.y - status.at.y == Approx(40));
    CHECK(status.machine.z - status.at.z == Approx(-38.5));
    REQUIRE(writeAtomically(realDisk(), file, "nan 1 2 mill-600\n3 4\n\xff\n1e999 0 0 mill-600\n5 6 7 other\n"));
    CHECK_FALSE(link::lastZero(realDisk(), file, "mill-600")); // what cannot be read was not kept
    CHECK(link::lastZero(realDisk(), file, "other")->z == 7);
    FailingDisk full(0);
    CHECK_FALSE(link::keepZero(full, file, "other", {}));
}
