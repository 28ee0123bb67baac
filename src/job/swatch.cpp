#include "job/swatch.h"

#include "artwork/edits.h"
#include "geometry/path.h"
#include "job/edits.h"
#include "job/labels_internal.h"
#include "plan/selection.h"

namespace ferro::job {

namespace {

constexpr double margin = 6; // mm
constexpr double markRadius = 1.2;

/// Whether its fresh steps are made of pieces, as cells are.
bool takesPieces(const plan::Kind& kind) {
    plan::Step step;
    step.settings = kind.fresh();
    return !kind.takesPieces || kind.takesPieces(step);
}

double valueAt(const SwatchAxis& axis, const plan::Field& field, int i) {
    const double share = axis.count > 1 ? static_cast<double>(i) / (axis.count - 1) : 0;
    const double value = axis.from + (axis.to - axis.from) * share;
    // As it can be read on its label: three digits that count.
    const double digit = value == 0 ? 1 : std::pow(10, std::floor(std::log10(std::abs(value))) - 2);
    return field.measure == Measure::count ? std::round(value) : std::round(value / digit) * digit;
}

std::string labelOf(double value) { return fmt::format("{:.4g}", value); }

Result<const plan::Field*> fieldOf(const plan::Kind& kind, const SwatchAxis& axis, shop::Process process) {
    std::string known;
    for (const auto& field : kind.fields)
        if (field.processes.has(process)) known += fmt::format("{}{}", known.empty() ? "" : ", ", field.name);
    const auto* field = plan::fieldNamed(kind, axis.setting);
    if (!field || !field->processes.has(process))
        return Problem{.what = fmt::format("A step of kind {} has no number “{}” here.", kind.name, axis.setting),
                       .where = {},
                       .mend = fmt::format("Use one of: {}.", known)};
    for (const double value : {axis.from, axis.to})
        if (!(value >= field->low && value <= field->high))
            return outOfRange(field->label, value, field->measure, field->low, field->high);
    return field;
}

} // namespace

Result<Job> swatchCard(const Job& bench, const SwatchCard& card) {
    const auto bad = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::move(mend)};
    };
    const auto* kind = plan::kindNamed(card.kind);
    if (!kind || kind->takes == plan::Takes::circles || kind->takes == plan::Takes::pictures || !takesPieces(*kind))
        return bad(fmt::format("Cells of kind “{}” cannot be made.", card.kind),
                   "Use one that takes outlines or areas, such as hatch, scribe, outline, slit or clear.");
    for (const auto* axis : {&card.rows, &card.columns})
        if (axis->count < 1 || axis->count > 20)
            return bad(fmt::format("A card has 1 to 20 cells in a row, not {}.", axis->count), "Give fewer cells.");
    if (card.rows.setting == card.columns.setting)
        return bad("Rows and columns try the same setting.", "Choose another one for the columns.");
    if (!(card.cell >= 0 && card.cell <= 200) || !(card.gap >= 0.5 && card.gap <= 50))
        return bad("Cells are 3 to 200 mm large and 0.5 to 50 mm apart.", {});

    Job job = emptyLike(bench, fmt::format("Swatches, {} on {}", kind->name, materialOf(bench).name));
    auto probe = withStepAdded(job, kind->name, card.tool);
    if (!probe) return probe.problem();
    const auto process = toolOf(*probe, probe->plan.steps.back())->process();
    const auto rowField = fieldOf(*kind, card.rows, process), columnField = fieldOf(*kind, card.columns, process);
    if (!rowField) return rowField.problem();
    if (!columnField) return columnField.problem();

    // Where it all lies: labels of rows at the left, of columns below in two lines, what they are of at the top.
    const auto& stock = job.sheet().stock;
    std::size_t widest = 0;
    for (int r = 0; r < card.rows.count; ++r)
        widest = std::max(widest, labelOf(valueAt(card.rows, **rowField, r)).size());
    const double left = margin + labelWidth(widest) + 4, below = margin + labelLine + labelCap + 4,
                 above = margin + labelCap + 4;
    double cell = card.cell;
    const double roomX = stock.width - left - margin, roomY = stock.height - below - above;
    const double fit =
        std::min((roomX + card.gap) / card.columns.count, (roomY + card.gap) / card.rows.count) - card.gap;
    if (cell == 0) cell = std::floor(std::min(fit, 40.0) * 2) / 2;
    if (cell < 3 || cell > fit + 1e-9)
        return bad(fmt::format("{} × {} cells of {} need {} × {}, the sheet is {} × {}.", card.columns.count,
                               card.rows.count, mm(std::max(cell, 3.0)),
                               mm(left + margin - card.gap + card.columns.count * (std::max(cell, 3.0) + card.gap)),
                               mm(below + above - card.gap + card.rows.count * (std::max(cell, 3.0) + card.gap)),
                               mm(stock.width), mm(stock.height)),
                   "Use a larger scrap, or fewer or smaller cells.");

    std::size_t longest = 0; // of the columns' labels, two cells apart on their lines
    for (int c = 0; c < card.columns.count; ++c)
        longest = std::max(longest, labelOf(valueAt(card.columns, **columnField, c)).size());
    if (labelWidth(longest) > 2 * (cell + card.gap) - 0.8)
        return bad(fmt::format("Below cells of {} the labels would run into each other.", mm(cell)),
                   "Use larger cells, or a wider gap.");

    artwork::Artwork art = *job.artwork;
    using Align = artwork::Lettering::Align;
    const auto put = [&](Result<artwork::Artwork> next) -> Result<void> {
        if (!next) return next.problem();
        art = std::move(*next);
        return {};
    };
    const double pitch = cell + card.gap, wide = card.columns.count * pitch - card.gap,
                 tall = card.rows.count * pitch - card.gap;
    for (int r = 0; r < card.rows.count; ++r) {
        const double y = below + r * pitch;
        if (auto fine = put(labelled(art, labelOf(valueAt(card.rows, **rowField, r)),
                                     {left - 2, y + (cell - labelCap) / 2}, Align::right));
            !fine)
            return fine.problem();
        for (int c = 0; c < card.columns.count; ++c) {
            const double x = left + c * pitch;
            if (r == 0) // every second one on a line of its own, so that long ones do not run into each other
                if (auto fine = put(labelled(art, labelOf(valueAt(card.columns, **columnField, c)),
                                             {x + cell / 2, c % 2 ? margin : margin + labelLine}, Align::centre));
                    !fine)
                    return fine.problem();
            art = artwork::withPieces(art, {{rectangle({x, y}, {x + cell, y + cell}), {}}},
                                      fmt::format("cell {}-{}", r + 1, c + 1), fmt::format("cell {}-{}", r + 1, c + 1))
                      .artwork;
        }
    }
    if (auto fine = put(labelled(art,
                                 fmt::format("up: {} {}  right: {} {}", card.rows.setting,
                                             unitName((*rowField)->measure, Units::mm), card.columns.setting,
                                             unitName((*columnField)->measure, Units::mm)),
                                 {left, below + tall + 4}, Align::left));
        !fine)
        return fine.problem();
    // Off the cells' corners: a picture of the card is straightened by them.
    for (const Vec2 corner : {Vec2{left - 2.5, below - 2.5},
                              {left + wide + 2.5, below - 2.5},
                              {left + wide + 2.5, below + tall + 2.5},
                              {left - 2.5, below + tall + 2.5}})
        art = artwork::withPieces(art, {{circle(corner, markRadius), {}}}, "marks", "mark").artwork;
    job = withArtwork(job, std::move(art));

    const auto set = [&](const std::string& name, const std::string& value) -> Result<void> {
        auto next = withStepSetting(job, job.plan.steps.back().id, name, value);
        if (!next) return next.problem();
        job = std::move(*next);
        return {};
    };
    // The labels first: they hold while the cells may not.
    const auto dark = process == shop::Process::beam ? areaKindFor(job) : std::string_view{};
    auto lettered = withLabelsScribed(job, process, dark.empty() ? "labels, marks" : "labels");
    if (lettered && !dark.empty()) { // so that a camera sees them
        lettered = withStepAdded(*lettered, dark, card.tool, "Marks");
        if (lettered) lettered = withStepSetting(*lettered, lettered->plan.steps.back().id, "layers", "marks");
    }
    if (!lettered) return lettered.problem();
    job = std::move(*lettered);
    for (int r = 0; r < card.rows.count; ++r)
        for (int c = 0; c < card.columns.count; ++c) {
            const double up = valueAt(card.rows, **rowField, r), across = valueAt(card.columns, **columnField, c);
            auto next = withStepAdded(
                job, kind->name, card.tool,
                fmt::format("{} {}, {} {}", card.rows.setting, labelOf(up), card.columns.setting, labelOf(across)));
            if (!next) return next.problem();
            job = std::move(*next);
            if (auto fine = set("layers", fmt::format("cell {}-{}", r + 1, c + 1)); !fine) return fine.problem();
            for (const auto& [name, value] : card.others)
                if (auto fine = set(name, value); !fine) return fine.problem();
            if (auto fine = set(card.rows.setting, plan::exactly(**rowField, up)); !fine) return fine.problem();
            if (auto fine = set(card.columns.setting, plan::exactly(**columnField, across)); !fine)
                return fine.problem();
        }
    return job;
}

Result<shop::Proven> provenOf(const Job& job, plan::StepId id, std::string date, std::string note) {
    const auto* step = plan::find(job.plan, id);
    if (!step)
        return Problem{
            .what = "There is no such step.", .where = {}, .mend = "Choose a step, or a piece that one takes."};
    const auto* tool = toolOf(job, *step);
    if (!tool) return Problem{.what = "The step has no tool.", .where = {}, .mend = "Choose one first."};
    shop::Proven proven{
        job.machine.key, tool->key,      std::string(plan::kindOf(*step).name), job.sheet().stock.thickness, {},
        std::move(date), std::move(note)};
    for (const auto& field : plan::kindOf(*step).fields) {
        const bool typed = std::find(step->typed.begin(), step->typed.end(), field.name) != step->typed.end();
        if (field.processes.has(tool->process()) && (field.fromBook || typed))
            proven.settings[std::string(field.name)] = plan::valueOf(field, *step);
    }
    return proven;
}

plan::StepId stepOn(const Job& job, artwork::ItemId item) {
    const auto pieces = plan::piecesOf(job.plan, *job.artwork, job.tools);
    for (std::size_t s = 0; s < pieces.taken.size(); ++s)
        for (const auto c : pieces.taken[s])
            if (pieces.contours[c].item == item) return job.plan.steps[s].id;
    return {};
}

} // namespace ferro::job
