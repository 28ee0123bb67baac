#include "job/greys.h"

#include "plan/fields.h"

#include <cmath>
#include <map>

namespace ferro::job {

namespace {

using Curve = std::vector<std::pair<double, double>>; ///< rising in both

/// What lies at `x` between the points; the ends beyond them.
double at(const Curve& curve, double x) {
    if (x <= curve.front().first) return curve.front().second;
    for (std::size_t i = 1; i < curve.size(); ++i)
        if (x <= curve[i].first) {
            const auto& [x0, y0] = curve[i - 1];
            const auto& [x1, y1] = curve[i];
            return x1 > x0 ? y0 + (y1 - y0) * (x - x0) / (x1 - x0) : y1;
        }
    return curve.back().second;
}
Curve turned(const Curve& curve) {
    Curve out;
    for (const auto& [x, y] : curve) out.emplace_back(y, x);
    return out;
}

/// The farthest that a grey is from what it should be, if power rises from `least` to `power` as darkness to gamma.
double farthest(const Curve& darkness, double full, double least, double power, double gamma) {
    double off = 0;
    for (int i = 1; i < 100; ++i) {
        const double t = i / 100.0;
        off = std::max(off, std::abs(at(darkness, least + (power - least) * std::pow(t, gamma)) / full - t));
    }
    return off;
}

bool areAlikeButPower(const plan::Step& a, const plan::Step& b) {
    if (&plan::kindOf(a) != &plan::kindOf(b) || a.tool != b.tool) return false;
    for (const auto& field : plan::kindOf(a).fields)
        if (field.name != "power" && std::abs(plan::valueOf(field, a) - plan::valueOf(field, b)) > 1e-9) return false;
    return true;
}

} // namespace

Result<Greys> greysFrom(const Job& card, const SwatchReading& read, plan::StepId like) {
    const auto problem = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = "swatch card", .mend = std::move(mend)};
    };
    const auto* model = plan::find(card.plan, like);
    if (!model || !plan::beamIn(*model))
        return problem("This is no cell that a beam has burnt.", "Choose a cell of a card for a laser.");
    std::map<double, std::pair<double, int>> sums; // darkness by power
    for (const auto& cell : read.cells) {
        const auto* step = plan::find(card.plan, cell.step);
        if (!step || !areAlikeButPower(*step, *model)) continue;
        auto& [sum, count] = sums[plan::beamIn(*step)->power];
        sum += cell.dark, ++count;
    }
    Greys out;
    for (const auto& [power, sum] : sums) out.measured.emplace_back(power, std::max(0.0, sum.first / sum.second));
    if (out.measured.empty())
        return problem("This is no cell of the card.", "Choose one that was read from the picture.");
    if (out.measured.size() < 4)
        return problem(fmt::format("There {} like this one but for the power.",
                                   out.measured.size() == 1 ? "is no other cell"
                                                            : fmt::format("are only {} cells", out.measured.size())),
                       "Greys need four different powers at least: make a card with powers as rows.");
    // More light never makes it lighter: what a picture says of that is its noise.
    Curve darkness{{0, 0}};
    for (const auto& [power, dark] : out.measured)
        if (power > 0) darkness.emplace_back(power, std::max(dark, darkness.back().second));
    const double full = darkness.back().second;
    if (full < 0.1)
        return problem(fmt::format("The darkest of these cells is only {:.0f} % darker than the material.", 100 * full),
                       "Burn the card with more power, or slower.");
    const auto powerFor = turned(darkness);
    out.power = at(powerFor, 0.98 * full);
    constexpr double unseen = 0.01; // share of the full darkness
    for (const auto& [power, dark] : darkness)
        if (dark <= unseen * full) out.least = power;
    out.least = std::min(out.least, 0.9 * out.power);
    double up = 0, down = 0; // least squares of log share against log darkness
    for (int i = 1; i < 50; ++i) {
        const double t = i / 50.0, share = (at(powerFor, t * full) - out.least) / (out.power - out.least);
        if (share <= 0.001 || share >= 1) continue;
        const double weight = t * std::log(t); // the logarithm makes too much of what is nearly white
        up += weight * t * std::log(share), down += weight * t * std::log(t);
    }
    out.gamma = down > 0 ? std::clamp(std::round(100 * up / down) / 100, 0.2, 5.0) : 1;
    out.power = std::round(10 * out.power) / 10, out.least = std::round(10 * out.least) / 10;
    out.off = farthest(darkness, full, out.least, out.power, out.gamma);
    out.offPlain = farthest(darkness, full, 0, darkness.back().first, 1);
    return out;
}

Result<shop::Proven> provenGreys(const Job& card, const Greys& greys, plan::StepId like, std::string date,
                                 std::string note) {
    auto proven = provenOf(card, like, std::move(date), std::move(note));
    if (!proven) return proven;
    const auto& tone = *plan::kindNamed("tone");
    std::erase_if(proven->settings, [&](const auto& one) { return !plan::fieldNamed(tone, one.first); });
    proven->kind = tone.name;
    const auto* step = plan::find(card.plan, like);
    if (const auto* spacing = plan::fieldNamed(plan::kindOf(*step), "spacing"))
        proven->settings["spacing"] = plan::valueOf(*spacing, *step);
    proven->settings["power"] = greys.power;
    proven->settings["least"] = greys.least;
    proven->settings["gamma"] = greys.gamma;
    return proven;
}

} // namespace ferro::job
