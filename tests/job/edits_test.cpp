#include "job/job_file.h"
#include "support/failing_disk.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE("job edits: what is out of range is refused and says why, the job stays") {
    const auto job = stepped(drawn(fresh(), {{rectangle({50, 50}, {100, 90}), {}}}), "outline");
    const auto stock = [&](auto change) {
        auto s = job.sheet().stock;
        change(s);
        return job::withStock(job, s);
    };
    const auto refused = [](const Result<job::Job>& next) {
        REQUIRE_FALSE(next);
        return !next.problem().what.empty();
    };
    CHECK(refused(stock([](auto& s) { s.width = 0; })));
    CHECK(refused(stock([](auto& s) { s.thickness = -3; })));
    CHECK(refused(stock([](auto& s) { s.height = 20'000; })));
    CHECK(refused(stock([](auto& s) { s.width = std::numeric_limits<double>::quiet_NaN(); })));
    CHECK(refused(job::withClamp(job, {{{10, 10}, {10, 10}}, 5})));
    CHECK(refused(job::withClamp(job, {{{10, 10}, {20, 20}}, -5})));
    CHECK(refused(job::withoutClamp(job, 0)));
    CHECK(refused(job::withStepMoved(job, {77}, 0)));
    CHECK(refused(job::withStepAdded(job, "drill", "no-such")));
    CHECK(refused(job::withStepSetting(job, lastStep(job), "feed", "-4")));
    CHECK(refused(job::withStepSetting(job, lastStep(job), "tool", "no-such")));
    CHECK(refused(job::withStepItems(job, lastStep(job), {{1234}})));
    CHECK(refused(job::withTabs(job, lastStep(job), job.artwork->items[0].id, 0, {0.5}))); // it has no opening
    CHECK(refused(job::withTabs(job, lastStep(job), job.artwork->items[0].id, -1, {1.5})));
}

TEST_CASE("job edits: steps are added, moved, set, reset and removed, the tools they use come along") {
    auto job = drawn(fresh(), {{rectangle({50, 50}, {100, 90}), {}}});
    job = stepped(job, "drill");
    job = stepped(job, "scribe");
    job = stepped(job, "outline");
    REQUIRE(job.plan.steps.size() == 3);
    for (const auto& step : job.plan.steps) {
        const auto* tool = job::toolOf(job, step);
        REQUIRE(tool);
        CHECK((plan::kindOf(step).name == "drill") == (tool->kind == shop::ToolKind::drill));
    }
    const auto first = job.plan.steps[0].id;
    auto moved = with(job, job::withStepMoved(job, first, 2));
    CHECK(moved.plan.steps[2].id == first);
    CHECK(moved.plan.order == plan::Order::byHand);
    moved = with(moved, job::withStepMoved(moved, first, 99));
    CHECK(moved.plan.steps[2].id == first);
    const double book = numberOf(job.plan.steps[2], "feed");
    auto typed = set(job, "feed", "123");
    CHECK(typed.plan.steps[2].typed == std::vector<std::string>{"feed"});
    typed = with(typed, job::withStepReset(typed, lastStep(typed), "feed"));
    CHECK(numberOf(typed.plan.steps[2], "feed") == book);
    CHECK(typed.plan.steps[2].typed.empty());
    const auto fewer = with(job, job::withoutStep(job, first));
    CHECK(fewer.plan.steps.size() == 2);
    CHECK(fewer.plan.steps[0].id == job.plan.steps[1].id);
    const auto placed = with(job, job::withTabs(job, lastStep(job), job.artwork->items[0].id, -1, {0.25, 0.75}));
    CHECK(plan::tabsIn(placed.plan.steps[2])->size() == 2);
    const auto bare = with(placed, job::withTabs(placed, lastStep(placed), job.artwork->items[0].id, -1, {}));
    CHECK(plan::tabsIn(bare.plan.steps[2])->empty());
}

TEST_CASE("job: the zero lies where corner and height say, rapids pass over clearance and clamps") {
    auto job = fresh();
    job.sheet().stock = {.width = 300, .height = 200, .thickness = 10};
    const std::pair<job::ZeroCorner, Vec2> corners[] = {{job::ZeroCorner::lowerLeft, {0, 0}},
                                                        {job::ZeroCorner::lowerRight, {300, 0}},
                                                        {job::ZeroCorner::upperRight, {300, 200}},
                                                        {job::ZeroCorner::upperLeft, {0, 200}},
                                                        {job::ZeroCorner::centre, {150, 100}}};
    for (const auto& [corner, at] : corners) {
        job.sheet().stock.corner = corner;
        CHECK(job::zeroOf(job.sheet().stock).at == at);
    }
    CHECK(job::zeroOf(job.sheet().stock).z == 0);
    job.sheet().stock.zeroAt = job::ZeroHeight::bottom;
    CHECK(job::zeroOf(job.sheet().stock).z == -10);
    job.plan.clearance = 4;
    CHECK(job::travelHeight(job) == 4);
    job = with(job, job::withClamp(job, {{{0, 0}, {20, 20}}, 18}));
    CHECK(job::travelHeight(job) > 18);
    job = with(job, job::withClampAt(job, 0, {40, 50}));
    CHECK(job.sheet().clamps[0].area == Box{{40, 50}, {60, 70}});
}

TEST_CASE("job file: what the middle layer reads from bent text is a job or a reason", "[fuzz]") {
    const std::string text = job::jsonOf(randomJob(3));
    std::mt19937 random(12);
    int read = 0;
    for (int i = 0; i < 1500; ++i) {
        std::string bent = text;
        for (unsigned k = 0; k < 1 + random() % 3; ++k) {
            const auto at = random() % bent.size();
            switch (random() % 4) {
            case 0: bent.erase(at, 1 + random() % 30); break;
            case 1: bent[at] = "0123456789-eE.,:[]{}\"tfn"[random() % 24]; break;
            case 2: bent.insert(at, bent.substr(random() % bent.size(), random() % 40)); break;
            default: bent[at] = static_cast<char>(random() % 256);
            }
            if (bent.empty()) bent = "{";
        }
        const auto job = job::jobFromJson(bent, {});
        if (!job) {
            CHECK_FALSE(job.problem().what.empty());
            continue;
        }
        ++read;
        const auto again = job::jobFromJson(job::jsonOf(*job), {});
        REQUIRE(again);
        CHECK(*again == *job);
    }
    CHECK(read > 20); // a changed digit often is a job as good as before
}

TEST_CASE("job file: the demo jobs open, and are what they were when saved again") {
    for (const char* name : {"heron-trace", "heron", "proscenium"}) {
        const auto job = job::load(realDisk(), std::filesystem::path(FERRO_DEMO) / fmt::format("{}.ferro", name));
        INFO(name);
        REQUIRE(job);
        const auto again = job::fromBytes(*job::toBytes(*job));
        REQUIRE(again);
        CHECK(*again == *job);
    }
    CHECK_FALSE(job::load(realDisk(), "/nowhere/lost.ferro"));
}
