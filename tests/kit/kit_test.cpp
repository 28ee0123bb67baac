// From a cut list to programs: what the whole of it leaves on the disk, and what keeps it from that.
#include "kit/kit.h"
#include "support/jobs.h"
#include "support/own_home.h"

#include <filesystem>
#include <fstream>

using namespace ferro;
using namespace ferro::test;

namespace {

struct Place {
    std::filesystem::path folder = std::filesystem::path(std::getenv("HOME")) / "kits";
    Place() { std::filesystem::create_directories(folder); }
    ~Place() { std::filesystem::remove_all(folder); }
    void put(const char* name, std::string_view text) const {
        REQUIRE(writeAtomically(realDisk(), folder / name, text));
    }
    [[nodiscard]] bool has(const char* name) const { return std::filesystem::exists(folder / name); }
};
constexpr const char* lantern =
    "<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='60mm' viewBox='0 0 90 60'>"
    "<path d='M0 0H90V60H0Z'/><circle cx='45' cy='30' r='12'/></svg>";
kit::Wish wishFor(const Place& place, const char* list, double width = 400, double height = 300) {
    auto bench = fresh();
    auto stock = bench.sheet().stock;
    stock.width = width, stock.height = height, stock.thickness = 6;
    return {.list = place.folder / list,
            .bench = with(bench, job::withStock(bench, stock)),
            .book = book(),
            .house = {},
            .effort = 0.1};
}
kit::Made madeFrom(const kit::Wish& wish) {
    Progress progress;
    auto made = kit::made(wish, realDisk(), progress);
    INFO((made ? "" : made.problem().text()));
    REQUIRE(made);
    return *made;
}

} // namespace

TEST_CASE("kit: a list becomes a job and papers, and the next one leaves none of its programs") {
    const Place place;
    place.put("lantern.svg", lantern);
    place.put("kit.csv", "file,qty\nlantern.svg,3\n");
    place.put("own.nc", "(not ours)\n");
    const auto made = madeFrom(wishFor(place, "kit.csv"));
    CHECK(made.parts == 3);
    CHECK(made.go);
    CHECK(made.left == 0);
    const auto files = kit::written(made, place.folder, realDisk());
    REQUIRE(files);
    CHECK(files->front().filename() == "kit.ferro");
    for (const auto& [name, bytes] : made.files) CHECK(place.has(name.c_str()));
    std::size_t programs = 0;
    for (const auto& [name, bytes] : made.files) programs += name.ends_with(".nc");
    CHECK(programs == 1);
    // A kit that is no go: no program, and none of before that could be taken for one.
    auto sunk = wishFor(place, "kit.csv");
    sunk.bench = stepped(sunk.bench, "outline", "end-6");
    sunk.bench = set(sunk.bench, "extra", "20");
    const auto bad = madeFrom(sunk);
    CHECK_FALSE(bad.go);
    CHECK(std::any_of(bad.look.begin(), bad.look.end(), [](const auto& one) { return one.first == Verdict::noGo; }));
    REQUIRE(kit::written(bad, place.folder, realDisk()));
    for (const auto& [name, bytes] : made.files)
        if (name.ends_with(".nc")) CHECK_FALSE(place.has(name.c_str()));
    CHECK(place.has("own.nc"));
    CHECK(place.has("map.pdf"));
    // What is named there beyond the folder is let alone.
    place.put("kit-files.txt", "../kits/own.nc\nown.nc/..\n..\n");
    REQUIRE(kit::written(bad, place.folder, realDisk()));
    CHECK(place.has("own.nc"));
}

TEST_CASE("kit: what does not fit is told, what is cancelled or cannot be read leaves all as it was") {
    const Place place;
    place.put("lantern.svg", lantern);
    place.put("kit.csv", "file,qty\nlantern.svg,2\n");
    place.put("lacks.csv", "file,qty\nlantern.svg,1\nhat.svg,2\n");
    const auto small = madeFrom(wishFor(place, "kit.csv", 60, 40));
    CHECK(small.left == 2);
    CHECK(
        std::any_of(small.look.begin(), small.look.end(), [](const auto& one) { return one.first == Verdict::noGo; }));
    Progress progress, stopped;
    const auto lacks = kit::made(wishFor(place, "lacks.csv"), realDisk(), progress);
    REQUIRE_FALSE(lacks);
    CHECK(lacks.problem().text().find("line 3") != std::string::npos);
    stopped.cancel();
    const auto none = kit::made(wishFor(place, "kit.csv"), realDisk(), stopped);
    REQUIRE_FALSE(none);
    CHECK(none.problem().isCancelled);
    CHECK(kit::unitFrom("inch")->value() == 25.4);
    CHECK_FALSE(kit::unitFrom("furlong"));
}

TEST_CASE("kit: a bench of an older job has its steps and sheet, and nothing of its pieces") {
    auto job = stepped(drawn(fresh(), {{rectangle({60, 60}, {200, 160}), {}}}), "outline", "end-6");
    const auto item = job.artwork->items[0].id;
    job = with(job, job::withTabs(job, lastStep(job), item, -1, {0.2}));
    job = stepped(job, "outline", "end-6");
    job = with(job, job::withStepItems(job, lastStep(job), {item}));
    const auto bench = kit::benchFrom(job);
    CHECK(bench.artwork->items.empty());
    CHECK(bench.artwork->layers.size() == job.artwork->layers.size());
    REQUIRE(bench.plan.steps.size() == 1);
    CHECK(plan::tabsIn(bench.plan.steps[0])->empty());
    CHECK(bench.sheet().stock == job.sheet().stock);
}
