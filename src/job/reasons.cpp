#include "job/reasons.h"

#include "job/edits.h"
#include "plan/fields.h"
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
    const auto at = reasons.find(std::string(field.name));
    if (at == reasons.end()) return {};
    std::string why = at->second;
    if (const double faster = plan::fasterBy(step); field.name == "feed" && faster > 1)
        why += fmt::format("; × {:.2f} as it takes {:.0f} % of its width, so that chips do not get too thin", faster,
                           100 * plan::kindOf(step).engaged(step));
    return why;
}

} // namespace ferro::job
