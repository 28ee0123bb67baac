#include "artwork/joints.h"
#include "job/gauge.h"
#include "support/jobs.h"
#include "toolpath/toolpath.h"

using namespace ferro;
using namespace ferro::test;

namespace {
job::Job scrap(const char* machine, double thickness, double width = 300, double height = 80) {
    const auto bench = fresh(machine, "poplar");
    return with(bench, job::withStock(bench, {.width = width, .height = height, .thickness = thickness}));
}
/// The words scribed on it, from left to right.
std::vector<std::string> labelsOf(const job::Job& job) {
    std::vector<std::pair<double, std::string>> all;
    for (const auto& group : job.artwork->groups) {
        if (!group.lettering) continue;
        double left = 1e9;
        for (const auto& item : job.artwork->items)
            if (item.group == group.id) left = std::min(left, artwork::boundsOf(item).low.x);
        all.emplace_back(left, group.lettering->text);
    }
    std::sort(all.begin(), all.end());
    std::vector<std::string> words;
    for (auto& [x, text] : all) words.push_back(std::move(text));
    return words;
}
} // namespace

TEST_CASE("gauge: each notch is as much wider than the sheet as is written below it, on mill and beam") {
    for (const char* machine : {"mill-600", "laser-700"})
        for (const double thickness : {3.0, 5.8}) {
            CAPTURE(machine, thickness);
            const job::FitGauge asked{-0.1, 0.3, 5};
            const auto job = with(scrap(machine, thickness), job::fitGauge(scrap(machine, thickness), asked));
            const auto joints = artwork::jointsIn(*job.artwork, {}, thickness);
            REQUIRE(joints.size() == 5);
            auto sorted = joints;
            std::sort(sorted.begin(), sorted.end(), [](auto& a, auto& b) { return a.middle.x < b.middle.x; });
            const auto labels = labelsOf(job);
            REQUIRE(labels.size() == 6);
            for (std::size_t i = 0; i < 5; ++i) {
                const double clearance = -0.1 + 0.1 * static_cast<double>(i);
                CHECK(sorted[i].width == Approx(thickness + clearance));
                CHECK(std::find(labels.begin(), labels.end(), fmt::format("{:+.2f}", clearance)) != labels.end());
            }
            // It can be cut, the labels first, and lies on the sheet.
            REQUIRE(job.plan.steps.size() == 2);
            CHECK(job.plan.steps[0].name == "Labels");
            Progress progress;
            CHECK(toolpath::toolpathOf(job, progress)->snags.empty());
        }
    CHECK(job::fitGauge(scrap("mill-600", 6, 60, 40), {}).problem().what.find("needs") != std::string::npos);
    for (const job::FitGauge bad :
         {job::FitGauge{0.3, 0.1, 5}, {-0.1, 0.3, 1}, {-0.1, 0.3, 21}, {-2, 0.3, 5}, {0, 4, 5}})
        CHECK_FALSE(job::fitGauge(scrap("mill-600", 6), bad));
}

TEST_CASE("gauge: bars are cut along their line, and what they measure tells the width of the cut") {
    for (const char* machine : {"mill-600", "laser-700"}) {
        CAPTURE(machine);
        const job::KerfComb asked{5, 12, 30};
        const auto job = with(scrap(machine, 3), job::kerfComb(scrap(machine, 3), asked));
        Progress progress;
        const auto path = *toolpath::toolpathOf(job, progress);
        double together = 0, kerf = 0; // what stays between the cuts' middles, less half a cut on either side
        for (const auto& step : path.steps)
            for (const auto& cut : step.cuts)
                if (cut.intent.through) {
                    kerf = step.tool.diameter;
                    together += boundsOf(cut.centre).width() - kerf;
                }
        CHECK(kerf > 0);
        const auto told = job::kerfBy(asked, together);
        REQUIRE(told);
        CHECK(*told == Approx(kerf).margin(5.1e-4));
    }
    CHECK_FALSE(job::kerfBy({5, 12, 30}, 61));
    CHECK_FALSE(job::kerfBy({5, 12, 30}, 0));
    for (const job::KerfComb bad : {job::KerfComb{2, 10, 30}, {10, 1, 30}, {10, 10, 5}, {30, 100, 30}})
        CHECK_FALSE(job::kerfComb(scrap("laser-700", 3), bad));
}
