#include "job/labels_internal.h"

#include "artwork/text.h"
#include "job/edits.h"

namespace ferro::job {

Result<artwork::Artwork> labelled(const artwork::Artwork& art, const std::string& text, Vec2 at,
                                  artwork::Lettering::Align align) {
    artwork::Lettering lettering;
    lettering.text = text;
    lettering.face = artwork::shippedFaces().back(); // single lines, to be scribed
    lettering.capHeight = labelCap;
    lettering.align = align;
    auto added = artwork::withText(art, lettering, at, "labels");
    if (!added) return added.problem();
    return std::move(added->artwork);
}

std::string_view areaKindFor(const Job& job) {
    for (const auto* row : plan::kinds()) {
        if (row->takes != plan::Takes::areas) continue;
        const auto made = withStepAdded(job, row->name, "");
        if (made && job.machine.does(toolOf(*made, made->plan.steps.back())->process())) return row->name;
    }
    return {};
}

Job emptyLike(const Job& bench, std::string name) {
    Job job = bench;
    job.artwork = std::make_shared<const artwork::Artwork>();
    job.sheets = {bench.sheet()};
    job.sheets[0].id = artwork::firstSheet;
    job.sheets[0].clamps.clear();
    job.sheets[0].tray.reset();
    job.material = materialOf(bench);
    job.sheets[0].material.reset();
    job.sheets[0].board.clear(); // a test is cut from a scrap
    job.plan = plan::Plan{.steps = {}, .clearance = bench.plan.clearance};
    job.name = std::move(name);
    job.output = {};
    return job;
}

Result<Job> withLabelsScribed(const Job& job, shop::Process process, std::string_view layers) {
    const bool blade = process == shop::Process::blade;
    auto next = withStepAdded(job, blade ? "slit" : "scribe", {}, "Labels");
    if (next) next = withStepSetting(*next, next->plan.steps.back().id, "layers", layers);
    if (next && blade) next = withStepSetting(*next, next->plan.steps.back().id, "through", "kiss cut");
    return next;
}

} // namespace ferro::job
