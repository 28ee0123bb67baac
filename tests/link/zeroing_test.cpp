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
    table.send({"G38.2 X5 F150", "G38.2 Z2 F150"});
    CHECK(table.machine.status().machine.x == Approx(30)); // straight down only
    CHECK(table.machine.status().machine.z == Approx(-10));
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
