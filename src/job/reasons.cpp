#include "job/reasons.h"

#include "job/edits.h"
#include "shop/reasons.h"

namespace ferro::job {

std::string reasonOf(const Job& job, const plan::Step& step, const plan::Field& field) {
    const auto from = sourceOf(job, step, field);
    if (from.proven)
        return fmt::format("proven {}{}{}", from.proven->date, from.proven->note.empty() ? "" : ", ",
                           from.proven->note);
    const auto* tool = toolOf(job, step);
    if (from.source != Source::book || !tool) return {};
    const auto reasons =
        shop::reasonsFor(*tool, job.material, job.machine, plan::kindOf(step).work, job.sheets.front().stock.thickness);
    const auto why = reasons.find(std::string(field.name));
    return why == reasons.end() ? std::string() : why->second;
}

} // namespace ferro::job
