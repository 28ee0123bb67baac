#include "job/history.h"
#include "job/job_file.h"
#include "support/failing_disk.h"
#include "support/jobs.h"

#include <fstream>

using namespace ferro;
using namespace ferro::test;

namespace {
std::string pictureBytes() {
    auto bytes = realDisk().read(std::string(FERRO_DEMO) + "/heron-ink.png");
    REQUIRE(bytes);
    return *bytes;
}
job::Job pictured(const job::Job& job) {
    const auto bytes = std::make_shared<const std::string>(pictureBytes());
    return job::withArtwork(
        job, artwork::withPicture(*job.artwork, {"heron-ink.png", bytes, *picture::decoded(*bytes), {148, 196}}, {3, 4})
                 .artwork);
}
} // namespace

TEST_CASE("job file: job → file → job is equal, and the same job gives the same bytes", "[property]") {
    for (unsigned seed = 1; seed <= 25; ++seed) {
        auto job = randomJob(seed);
        if (seed % 3 == 0) job = pictured(job);
        if (seed % 2)
            job = job::withArtwork(
                job,
                *artwork::withGrouped(*job.artwork, {job.artwork->items[0].id, job.artwork->items[1].id}, "puppets"));
        job = job::withArtwork(job, *artwork::withTransformed(*job.artwork, {job.artwork->items[0].id},
                                                              Transform::rotated(0.1 * seed, {1, 2})));
        job.units = seed % 2 ? Units::inch : Units::mm;
        const auto bytes = job::toBytes(job);
        REQUIRE(bytes);
        const auto back = job::fromBytes(*bytes);
        INFO((back ? "" : back.problem().text()));
        REQUIRE(back);
        CAPTURE(seed);
        CHECK(*back == job);
        CHECK(*job::toBytes(*back) == *bytes);
    }
}

TEST_CASE("job file: a save that fails leaves the old job whole, whichever call fails") {
    TemporaryFolder folder;
    const auto file = folder.path / "proscenium.ferro";
    const auto original = randomJob(1), edited = randomJob(2);
    for (int n = 0;; ++n) {
        REQUIRE(job::save(realDisk(), original, file));
        FailingDisk disk(n);
        if (job::save(disk, edited, file)) break;
        CHECK(*job::load(realDisk(), file) == original);
    }
    CHECK(*job::load(realDisk(), file) == edited);
}

TEST_CASE("job file: damaged, newer and lying files are refused with a reason") {
    const auto bytes = *job::toBytes(pictured(randomJob(1)));
    for (std::size_t cut = 0; cut < bytes.size(); cut += bytes.size() / 40)
        CHECK_FALSE(job::fromBytes(std::string_view(bytes).substr(0, cut)));
    std::mt19937 random(3);
    for (int i = 0; i < 300; ++i) { // any answer will do, but an answer
        std::string bent = bytes;
        for (int k = 0; k < 4; ++k) bent[random() % bent.size()] = static_cast<char>(random());
        (void)job::fromBytes(bent).has_value();
    }
    const std::string json = job::jsonOf(randomJob(1));
    const auto changed = [&](std::string_view from, std::string_view to) {
        std::string text = json;
        const auto at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
        return job::jobFromJson(text, {});
    };
    CHECK(changed(fmt::format("\"ferrograph\": {}", job::schemaVersion), "\"ferrograph\": 99")
              .problem()
              .what.find("newer") != std::string::npos);
    CHECK_FALSE(changed("\"thickness\": ", "\"thickness\": -"));
    CHECK_FALSE(changed("\"plunge\": ", "\"plunge\": -"));
    CHECK_FALSE(changed("\"path\": \"M", "\"path\": \"X"));
    CHECK_FALSE(job::jobFromJson("{}", {}));
    CHECK_FALSE(job::jobFromJson(std::string(200'000, '['), {}));
}

TEST_CASE("history: one gesture is one undo, and undo goes back to the opening") {
    const auto first = fresh();
    job::History history(first);
    auto moved = first;
    for (int i = 0; i < 5; ++i) {
        moved.sheet().stock.width += 1;
        history.push(moved, {"Stock width", 42});
    }
    moved.name = "lantern";
    history.push(moved, {"Name", 0});
    CHECK(history.undoLabel() == "Name");
    CHECK(history.undo().sheet().stock.width == first.sheet().stock.width + 5);
    CHECK(history.undo() == first);
    CHECK_FALSE(history.canUndo());
    CHECK(history.redo().sheet().stock.width == first.sheet().stock.width + 5);
    history.markSaved();
    history.undo();
    CHECK_FALSE(history.isSaved());
}

TEST_CASE("edits: typed settings survive another material, the rest take the book's") {
    auto job = stepped(drawn(fresh(), {{rectangle({50, 50}, {250, 200}), {}}}), "outline", "end-6");
    job = set(job, "feed", "777");
    const double before = numberOf(job.plan.steps[0], "depthPerPass");
    const auto acrylic = job::withMaterial(job, *book().material("acrylic"));
    CHECK(numberOf(acrylic.plan.steps[0], "feed") == 777);
    CHECK(numberOf(acrylic.plan.steps[0], "depthPerPass") != before);
    CHECK(numberOf(with(acrylic, job::withStepReset(acrylic, lastStep(acrylic), "feed")).plan.steps[0], "feed") != 777);
    CHECK_FALSE(job::withStepSetting(job, lastStep(job), "feed", "-3"));
    CHECK(job::withStepSetting(job, lastStep(job), "fed", "3").problem().mend.find("feed") != std::string::npos);
    CHECK_FALSE(job::withStock(job, {.width = -1}));
    const auto laser = job::withMachine(job, *book().machine("laser-700"));
    CHECK(job::toolOf(laser, laser.plan.steps[0])->kind == shop::ToolKind::laser);
}

TEST_CASE("history: through any edits, undos and redos the job is the one that was there at that place", "[property]") {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        std::mt19937 random(seed);
        job::History history(fresh());
        std::vector<job::Job> model{history.current()}; // what a list of snapshots would hold
        std::vector<std::uint64_t> gestures{0};
        std::size_t at = 0;
        std::optional<std::size_t> saved = 0;
        std::uint64_t revision = history.revision();
        for (int i = 0; i < 200; ++i) {
            switch (random() % 6) {
            case 0:
                if (at > 0) CHECK(history.undo() == model[--at]);
                break;
            case 1:
                if (at + 1 < model.size()) CHECK(history.redo() == model[++at]);
                break;
            case 2:
                history.markSaved();
                saved = at;
                break;
            default: {
                auto next = model[at];
                next.sheet().stock.width += 1 + static_cast<double>(random() % 50);
                const std::uint64_t gesture = random() % 3 ? 0 : 1 + random() % 2;
                history.push(next, {fmt::format("Edit {}", i), gesture});
                if (gesture != 0 && at > 0 && at + 1 == model.size() && gestures[at] == gesture) { // the drag goes on
                    model[at] = next;
                    if (saved == at) saved.reset();
                    break;
                }
                if (saved > at) saved.reset(); // it cannot be gone back to any more
                model.resize(at + 1), gestures.resize(at + 1);
                model.push_back(next), gestures.push_back(gesture);
                ++at;
            }
            }
            CAPTURE(seed, i, at);
            CHECK(history.current() == model[at]);
            CHECK(history.isSaved() == (saved == at));
            CHECK(history.canUndo() == (at > 0));
            CHECK(history.canRedo() == (at + 1 < model.size()));
            CHECK(history.revision() >= revision);
            revision = history.revision();
        }
        while (history.canUndo()) history.undo();
        CHECK(history.current() == model[0]);
    }
}

TEST_CASE("job file: whatever was ever written opens, and is the same after it was saved anew") {
    std::size_t count = 0;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(FERRO_TESTS "/old-jobs")) {
        if (entry.path().extension() != ".ferro") continue;
        ++count;
        CAPTURE(entry.path().string());
        const auto job = job::load(realDisk(), entry.path());
        INFO((job ? "" : job.problem().text()));
        REQUIRE(job);
        CHECK_FALSE(job->tools.empty());
        const auto again = job::fromBytes(*job::toBytes(*job));
        REQUIRE(again);
        CHECK(*again == *job);
    }
    CHECK(count >= 5);
}

TEST_CASE("job file: what nobody knows is refused with its place and in plain words, never taken for something else") {
    const std::string good = job::jsonOf(randomJob(3));
    const auto refused = [&](std::string_view from, std::string_view to, std::string_view place,
                             std::string_view word) {
        std::string text = good;
        const auto at = text.find(from);
        CAPTURE(from, to);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
        const auto job = job::jobFromJson(text, {});
        REQUIRE_FALSE(job);
        CAPTURE(job.problem().text());
        CHECK(job.problem().where.find(place) != std::string::npos);
        CHECK(job.problem().what.find(word) != std::string::npos);
        CHECK(job.problem().text().find("json.exception") == std::string::npos);
        CHECK(job.problem().text().size() < 400);
    };
    refused("\"kind\": \"drill\"", "\"kind\": \"nibble\"", "plan, steps, “Holes”, kind", "nibble");
    refused("\"side\": \"auto\"", "\"side\": \"above\"", "side", "above");
    refused("\"entry\": \"", "\"entry\": \"x", "entry", "known");
    refused("\"order\": \"automatic\"", "\"order\": \"backwards\"", "order", "backwards");
    refused("\"spacer\":", "\"spaser\":", "stock", "spaser");
    refused("\"clearance\": 5.0", "\"clearance\": \"high\"", "clearance", "number");
    refused("\"clearance\": 5.0", "\"clearance\": 1e9", "", "clearance");
    refused("\"processes\": [", "\"processes\": [\"magic\",", "processes", "magic");
    refused("\"lead\":", "\"lead\": -1, \"x\":", "“Outlines”", "");
    refused("\"width\": ", "\"width\": -", "", "sheet");
    refused("\"units\": \"mm\"", "\"units\": \"ell\"", "units", "ell");
    refused("\"name\": \"", "\"name\" \"", "", "colon");
    refused("\"clamps\": []", "\"clamps\": [] \"x\": 1", "", "comma");
    const auto line = job::jobFromJson("{\n \"ferrograph\": 2,\n \"name\" 5\n}", {});
    REQUIRE_FALSE(line);
    CHECK(line.problem().what.starts_with("Line 3"));
}

TEST_CASE("edits: name, units, order, dialect, clearance and clamps each have their one range") {
    const auto job = fresh();
    CHECK_FALSE(job::withName(job, ""));
    CHECK(job::withName(job, "kit")->name == "kit");
    CHECK(job::withUnits(job, Units::inch).units == Units::inch);
    CHECK(job::withOrder(job, plan::Order::byHand).plan.order == plan::Order::byHand);
    for (const char* path : {"../x", "a/b", "x.json", "./mill", ".hidden", "c:\\x"})
        CHECK_FALSE(job::withDialect(job, path));
    CHECK(job::withDialect(job, "mill-inch")->dialect == "mill-inch");
    CHECK(job::withDialect(job, "")->dialect.empty());
    for (const double wrong : {0.0, -1.0, 500.0, std::nan("")}) CHECK_FALSE(job::withClearance(job, wrong));
    CHECK(job::withClearance(job, 499.9)->plan.clearance == 499.9);
    const auto clamped = with(job, job::withClamp(job, {{{10, 10}, {40, 30}}, 15}));
    CHECK(job::withClampHeight(clamped, 0, 20)->sheet().clamps[0].height == 20);
    CHECK_FALSE(job::withClampHeight(clamped, 1, 20));
    for (const double wrong : {0.0, -2.0, 501.0}) CHECK_FALSE(job::withClampHeight(clamped, 0, wrong));
    CHECK_FALSE(job::withClamp(job, {{{10, 10}, {10, 30}}, 15}));
    CHECK_FALSE(job::withClamp(job, {{{1e9, 10}, {1e9 + 5, 30}}, 15}));
}

TEST_CASE("job: what does again a step that is gone stands by itself, and the file opens") {
    auto job = test::drawn(test::fresh(), {{rectangle({20, 20}, {120, 90}), {}}});
    job = with(job, job::withStepAdded(job, "clear", "end-6"));
    const auto clear = job.plan.steps[0].id;
    job = with(job, job::withStepTools(job, clear, {"end-6", "end-3"}));
    REQUIRE(job.plan.steps.size() == 2);
    job = with(job, job::withStepAgain(job, job.plan.steps[1].id));
    CHECK(job.plan.steps[2].again == job.plan.steps[1].id);
    CHECK(*job::fromBytes(*job::toBytes(job)) == job);
    // Other tools make other rest steps: the one that was done again goes.
    const auto one = with(job, job::withStepTools(job, clear, {"end-3"}));
    for (const auto& step : one.plan.steps) CHECK((!step.again || plan::find(one.plan, step.again)));
    CHECK(job::fromBytes(*job::toBytes(one)));
    const auto first = with(job, job::withStepAgain(job, clear));
    const auto more = with(first, job::withStepTools(first, first.plan.steps[1].id, {"end-6", "end-3"}));
    for (const auto& step : more.plan.steps) CHECK((!step.again || plan::find(more.plan, step.again)));
    CHECK(job::fromBytes(*job::toBytes(more)));
    auto lost = job;
    lost.plan.steps.erase(lost.plan.steps.begin() + 1);
    CHECK_FALSE(job::fromBytes(*job::toBytes(lost)));
}

TEST_CASE("job: the steps that fit take all that no step takes yet, and say when there is nothing") {
    auto job = test::fresh();
    CHECK_FALSE(job::withFittingSteps(job));
    job = test::drawn(job, {{rectangle({20, 20}, {120, 90}), {}}});
    job = test::drawn(job, {{circle({40, 40}, 4), {}}, {circle({90, 60}, 4), {}}, {circle({70, 60}, 11), {}}}, "holes");
    job = test::drawn(job, {{pathOf(test::ring("30,30 60,31"), false), {}}}, "lines");
    const auto fit = job::withFittingSteps(job);
    REQUIRE(fit);
    REQUIRE(fit->plan.steps.size() == 3);
    CHECK(plan::kindOf(fit->plan.steps[0]).name == std::string("drill"));
    CHECK(fit->plan.steps[0].tool == "drill-8");
    const auto pieces = plan::piecesOf(fit->plan, *fit->artwork, fit->tools);
    CHECK(pieces.taken[0].size() == 2); // the two that the drill fits
    CHECK(pieces.taken[1].size() == 1); // the line
    CHECK(pieces.taken[2].size() == 2);
    CHECK_FALSE(job::withFittingSteps(*fit));
    // Holes that no drill fits are bored, each size by the widest mill that leaves no core, and by a rule.
    auto bored = test::drawn(test::fresh(), {{rectangle({20, 20}, {180, 90}), {}}});
    bored = test::drawn(bored, {{circle({40, 40}, 4.8), {}},
                                {circle({60, 60}, 4.8), {}},
                                {circle({90, 60}, 2.5), {}},
                                {circle({120, 55}, 12), {}},
                                {circle({150, 60}, 4), {}}});
    const auto sizes = with(bored, job::withFittingSteps(bored));
    REQUIRE(sizes.plan.steps.size() == 4);
    const auto of = plan::piecesOf(sizes.plan, *sizes.artwork, sizes.tools);
    CHECK(sizes.plan.steps[0].tool == "drill-8");
    CHECK(sizes.plan.steps[1].name == "Holes of 5 mm");
    CHECK(sizes.plan.steps[1].tool == "end-3");
    CHECK(of.taken[1].size() == 1);
    CHECK(sizes.plan.steps[2].tool == "end-6");
    CHECK(of.taken[2].size() == 2);
    CHECK(sizes.plan.steps[2].rule.items.empty());
    CHECK(of.taken[3].size() == 2); // the panel, and the hole that is wider than twice a mill
    // On a laser nothing is drilled.
    auto laser = test::drawn(test::fresh("laser-700", "black-card"), {{circle({40, 40}, 4), {}}});
    const auto cut = job::withFittingSteps(laser);
    REQUIRE(cut);
    REQUIRE(cut->plan.steps.size() == 1);
    CHECK(plan::kindOf(cut->plan.steps[0]).name == std::string("outline"));
}
