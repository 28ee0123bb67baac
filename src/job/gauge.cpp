#include "job/gauge.h"

#include "artwork/edits.h"
#include "job/edits.h"
#include "job/labels_internal.h"

namespace ferro::job {

namespace {

using Align = artwork::Lettering::Align;

Problem bad(std::string what, std::string mend) { return {std::move(what), {}, std::move(mend)}; }

/// The job with its labels scribed, first, for they hold while what they stand on may not; then its pieces cut out.
Result<Job> cutOut(const Job& drawn, std::string_view side) {
    const auto probe = withStepAdded(drawn, "outline", {});
    if (!probe) return probe;
    auto job = withLabelsScribed(drawn, toolOf(*probe, probe->plan.steps.back())->process(), "labels");
    if (job) job = withStepAdded(*job, "outline", {}, "Cut out");
    if (job) job = withStepSetting(*job, job->plan.steps.back().id, "layers", "gauge");
    if (job) job = withStepSetting(*job, job->plan.steps.back().id, "side", side);
    return job;
}

Result<void> fits(const Job& job, double width, double height) {
    const auto& stock = job.sheet().stock;
    if (width <= stock.width && height <= stock.height) return {};
    return bad(fmt::format("It needs {} × {}, the sheet is {} × {}.", mm(width), mm(height), mm(stock.width),
                           mm(stock.height)),
               "Use a larger scrap, or ask for fewer.");
}

} // namespace

std::vector<double> clearancesOf(const FitGauge& gauge) {
    std::vector<double> all;
    for (int i = 0; i < gauge.count; ++i) {
        const double exact = gauge.from + (gauge.to - gauge.from) * i / std::max(1, gauge.count - 1);
        all.push_back(std::round(exact * 100) / 100); // as it can be read on its label
    }
    return all;
}

Result<Job> fitGauge(const Job& bench, const FitGauge& gauge) {
    if (gauge.count < 2 || gauge.count > 20) return bad("A gauge has 2 to 20 notches.", "Ask for another number.");
    if (!(gauge.from >= -1 && gauge.to <= 3 && gauge.from < gauge.to))
        return bad("Clearances go from -1 mm up to 3 mm.", "Begin with the tightest.");
    Job job = emptyLike(bench, fmt::format("Fit gauge, {}", materialOf(bench).name));
    const double thickness = job.sheet().stock.thickness;
    if (thickness + gauge.from < 0.2) return bad("The tightest notch would be no notch.", "Begin with a wider one.");
    constexpr double margin = 10;
    const double depth = std::max(10.0, 1.5 * thickness);
    const double land = std::max({8.0, thickness, labelWidth(6)}); // between notches, with room for a label
    const auto clearances = clearancesOf(gauge);
    const double height = depth + 3 + 2 * labelLine;
    Ring ring{{margin, margin}};
    double x = margin + land;
    artwork::Artwork art = *job.artwork;
    std::vector<Vec2> mouth; // from the left
    for (const double clearance : clearances) {
        const double width = thickness + clearance;
        mouth.insert(mouth.end(), {{x, margin + height},
                                   {x, margin + height - depth},
                                   {x + width, margin + height - depth},
                                   {x + width, margin + height}});
        auto next = labelled(art, fmt::format("{:+.2f}", clearance), {x + width / 2, margin + 2}, Align::centre);
        if (!next) return next.problem();
        art = std::move(*next);
        x += width + land;
    }
    ring.push_back({x, margin});
    ring.push_back({x, margin + height});
    ring.insert(ring.end(), mouth.rbegin(), mouth.rend());
    ring.push_back({margin, margin + height});
    if (auto fine = fits(job, x + margin, height + 2 * margin); !fine) return fine.problem();
    auto made =
        labelled(art, job.material.name + " " + mm(thickness), {margin + 2, margin + 2 + labelLine}, Align::left);
    if (!made) return made.problem();
    return cutOut(
        withArtwork(job, artwork::withPieces(*made, {{pathOf(ring, true), {}}}, "gauge", "fit gauge").artwork), "auto");
}

Result<Job> kerfComb(const Job& bench, const KerfComb& comb) {
    if (comb.count < 3 || comb.count > 30) return bad("A comb has 3 to 30 bars.", "Ask for another number.");
    if (!(comb.width >= 3 && comb.width <= 100 && comb.length >= 10 && comb.length <= 500))
        return bad("Bars are 3 to 100 mm wide and 10 to 500 mm long.", {});
    Job job = emptyLike(bench, fmt::format("Kerf comb, {}", materialOf(bench).name));
    constexpr double margin = 10, apart = 8; // mm
    std::vector<Piece> bars;
    for (int i = 0; i < comb.count; ++i) {
        const Vec2 low{margin + i * (comb.width + apart), margin + 2 * labelLine};
        bars.push_back({rectangle(low, low + Vec2{comb.width, comb.length}), {}});
    }
    const double wide = 2 * margin + comb.count * (comb.width + apart) - apart;
    if (auto fine = fits(job, wide, 2 * margin + 2 * labelLine + comb.length); !fine) return fine.problem();
    auto art = labelled(
        *job.artwork,
        fmt::format("{} x {} mm, {} {}", comb.count, comb.width, job.material.name, mm(job.sheet().stock.thickness)),
        {margin, margin}, Align::left);
    if (!art) return art.problem();
    return cutOut(withArtwork(job, artwork::withPieces(*art, std::move(bars), "gauge", "bar").artwork), "on line");
}

Result<double> kerfBy(const KerfComb& comb, double measured) {
    const double kerf = std::round((comb.width - measured / comb.count) * 1000) / 1000; // finer than callipers
    if (!(kerf >= 0 && kerf < comb.width))
        return bad(fmt::format("{} bars of {} cannot measure {} when something was cut away.", comb.count,
                               mm(comb.width), mm(measured)),
                   "Measure all bars pushed together, without gaps.");
    return kerf;
}

} // namespace ferro::job
