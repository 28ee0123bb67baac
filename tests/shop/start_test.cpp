#include "shop/fields.h"
#include "shop/own.h"
#include "support/failing_disk.h"

using namespace ferro;

TEST_CASE("starting values: within the machine, deeper only for thicker tools, softer for scribing", "[property]") {
    const auto book = *shop::openBook(realDisk());
    for (const auto& machine : book.machines)
        for (const auto& tool : book.tools) {
            if (!machine.does(tool.process())) continue;
            for (const auto& material : book.materials)
                for (const auto work : {shop::Work::cut, shop::Work::scribe, shop::Work::drill}) {
                    const auto start = shop::startFor(tool, material, machine, work, 6);
                    CAPTURE(machine.key, tool.key, material.key, static_cast<int>(work));
                    CHECK(start.feed > 0);
                    CHECK(start.feed <= machine.maxFeed);
                    if (tool.process() == shop::Process::beam) {
                        CHECK((start.power > 0 && start.power <= 100));
                        CHECK(start.passes >= 1);
                        continue;
                    }
                    CHECK((start.plunge > 0 && start.plunge <= machine.maxFeedZ));
                    CHECK((start.spindle >= machine.minSpindle && start.spindle <= machine.maxSpindle));
                    CHECK(start.depthPerPass > 0);
                }
        }
    const auto mill = *book.machine("mill-600");
    const auto ply = *book.material("birch-ply");
    const auto thin = shop::startFor(*book.tool("end-3"), ply, mill, shop::Work::cut, 12),
               thick = shop::startFor(*book.tool("end-6"), ply, mill, shop::Work::cut, 12);
    CHECK(thin.depthPerPass < thick.depthPerPass);
    CHECK(thin.spindle >= thick.spindle);
    const auto laser = *book.machine("laser-700");
    const auto beam = *book.tool("beam");
    CHECK(shop::startFor(beam, ply, laser, shop::Work::scribe, 4).power <
          shop::startFor(beam, ply, laser, shop::Work::cut, 4).power);
    CHECK(shop::startFor(beam, ply, laser, shop::Work::cut, 12).passes >
          shop::startFor(beam, ply, laser, shop::Work::cut, 4).passes);
}

TEST_CASE("tools: a profile rises from its lowest point and ends at the radius") {
    const auto book = *shop::openBook(realDisk());
    for (const auto& tool : book.tools) {
        CAPTURE(tool.key);
        CHECK(tool.profile(0) == Approx(0).margin(1e-9));
        double before = 0;
        for (double r = 0; r <= tool.radius(); r += tool.radius() / 50) {
            CHECK(tool.profile(r) >= before - 1e-12);
            before = tool.profile(r);
        }
        CHECK(std::isinf(tool.profile(tool.radius() * 1.01)));
        CHECK(tool.radiusAt(tool.fluteLength) <= tool.radius() + 1e-9);
    }
    const shop::Tool ball{.key = "b", .name = "b", .kind = shop::ToolKind::ball, .diameter = 6};
    CHECK(ball.profile(3) == Approx(3));
    CHECK(ball.profile(1.5) == Approx(3 - std::sqrt(9 - 2.25)));
    const shop::Tool vee{.key = "v", .name = "v", .kind = shop::ToolKind::vBit, .diameter = 12, .tip = 0, .angle = 90};
    CHECK(vee.profile(2) == Approx(2));
}

TEST_CASE("tools: rounded and tapered shapes are circles that go over into lines where the two touch", "[property]") {
    for (unsigned seed = 0; seed < 40; ++seed) {
        std::mt19937 random(seed);
        const auto part = [&] { return static_cast<double>(random() % 1000) / 1000; };
        shop::Tool tool{.key = "t", .name = "t", .kind = shop::ToolKind::bullNose, .diameter = 3 + 9 * part()};
        tool.corner = 0.1 + (tool.radius() - 0.2) * part();
        REQUIRE(shop::checked(tool));
        CAPTURE(seed, tool.diameter, tool.corner, tool.angle);
        const double flat = tool.radius() - tool.corner;
        CHECK(tool.flatRadius() == Approx(flat));
        for (int k = 0; k <= 50; ++k) {
            const double r = tool.radius() * k / 50, h = tool.profile(r);
            if (r <= flat) CHECK(h == 0);
            if (r > flat) CHECK(std::hypot(r - flat, h - tool.corner) == Approx(tool.corner));
            if (r > flat) CHECK(tool.radiusAt(h) == Approx(r));
        }
        CHECK(tool.radiusAt(50) == Approx(tool.radius()));
        CHECK(tool.isUpright());

        tool.kind = shop::ToolKind::taperedBall;
        tool.angle = 4 + 60 * part();
        tool.corner = (0.1 + 0.8 * part()) * tool.radius();
        REQUIRE(shop::checked(tool));
        CHECK(tool.isPointed());
        double before = -1;
        std::size_t balls = 0, cones = 0;
        for (int k = 1; k < 200; ++k) {
            const double r = tool.radius() * k / 200, h = tool.profile(r);
            CHECK(h > before);
            CHECK(tool.radiusAt(h) == Approx(r));
            before = h;
            const bool ball = std::abs(std::hypot(r, h - tool.corner) - tool.corner) < 1e-9;
            // A line at half the angle from upright that touches the ball: its distance from the ball's middle.
            const double half = tool.angle * 3.14159265358979323846 / 360;
            const double off = r * std::cos(half) - (h - tool.corner) * std::sin(half);
            const bool cone = std::abs(off - tool.corner) < 1e-9;
            CHECK((ball || cone));
            balls += ball, cones += cone;
        }
        CHECK(balls > 5);
        CHECK(cones > 0);
    }
    shop::Tool ball{.key = "t", .name = "t", .kind = shop::ToolKind::bullNose, .diameter = 6};
    CHECK_FALSE(shop::checked(ball)); // no corner
    ball.corner = 3;
    CHECK_FALSE(shop::checked(ball)); // nothing flat
    ball.kind = shop::ToolKind::taperedBall, ball.angle = 10, ball.corner = 3.1;
    CHECK_FALSE(shop::checked(ball)); // wider than itself
    const shop::Tool spot{.key = "s", .name = "s", .kind = shop::ToolKind::spotDrill, .diameter = 10, .angle = 90};
    CHECK(spot.profile(4) == Approx(4));
    const shop::Tool bevel{
        .key = "s", .name = "s", .kind = shop::ToolKind::bevel, .diameter = 12, .tip = 4, .angle = 90};
    CHECK(bevel.profile(2) == 0);
    CHECK(bevel.profile(5) == Approx(3));
}

TEST_CASE("shop book: a damaged book of one's own is named and hides nothing of the shipped one", "[fuzz]") {
    const std::string text = shop::toText(*shop::openBook(realDisk()));
    std::mt19937 random(4);
    for (int i = 0; i < 400; ++i) {
        std::string bent = text;
        for (int k = 0; k < 2; ++k) bent[random() % bent.size()] = "0123456789-{}[]\",:e"[random() % 19];
        const auto book = shop::bookFromText(bent);
        if (!book) {
            CHECK_FALSE(book.problem().what.empty());
            continue;
        }
        for (const auto& tool : book->tools) CHECK((tool.diameter > 0 && tool.fluteLength > 0));
        for (const auto& machine : book->machines) CHECK((machine.bedX > 0 && machine.acceleration > 0));
    }
    const test::OwnDataFolder data;
    const auto file = userDataFolder() / "shop.json";
    REQUIRE(realDisk().write(file, "{ \"tools\": [ {"));
    const auto opened = shop::openBook(realDisk());
    REQUIRE_FALSE(opened);
    CHECK(opened.problem().where.find("shop.json") != std::string::npos);
    realDisk().remove(file);
    test::FailingDisk disk(0);
    CHECK_FALSE(shop::saveShelves(disk, *shop::openShelves(realDisk())));
    CHECK(shop::openBook(realDisk()));
}
