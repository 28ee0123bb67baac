#include "proof/burn.h"

#include "base/parallel.h"
#include "geometry/measure.h"

namespace ferro::proof {

Burn::Burn(const toolpath::Toolpath& path) : path_(path) {
    least_ = std::numeric_limits<double>::infinity();
    for (const auto& step : path.steps) {
        auto& scores = scores_.emplace_back(step.moves.size(), false);
        for (const auto& cut : step.cuts)
            for (std::size_t i = cut.first; i < cut.end; ++i) {
                scores[i] = !cut.intent.through;
                const auto& move = step.moves[i];
                if (cut.intent.through && move.power > 0 && move.feed > 0)
                    least_ = std::min(least_, double(move.power) / static_cast<double>(move.feed));
            }
    }
}

double Burn::share(std::size_t step, std::size_t move, double power) const {
    if (!scores_[step][move]) return 1;
    const auto feed = static_cast<double>(path_.steps[step].moves[move].feed);
    if (!std::isfinite(least_) || !(feed > 0)) return 0.3; // nothing to go by
    return std::clamp(0.75 * power / feed / least_, 0.01, 0.75);
}

namespace {

/// A stretch that is burnt evenly.
struct Lit {
    Vec2 from, to;
    double light; ///< % · min / mm
};

std::vector<Lit> litBy(const toolpath::Toolpath& path, const Timing* timing, double until) {
    std::vector<Lit> all;
    std::size_t step = static_cast<std::size_t>(-1);
    const toolpath::StepMoves* current = nullptr;
    toolpath::forEachMove(
        path, [&](const toolpath::StepMoves& of, std::size_t i, toolpath::Vec3 from, const toolpath::Move& move) {
            if (&of != current) current = &of, ++step;
            if (of.onBoard || move.kind == toolpath::Move::Kind::rapid || !(move.power > 0) || !(move.feed > 0)) return;
            double gone = 1; // share of the move by then
            if (timing) {
                const auto& times = timing->steps[step];
                const double begin = i == 0 ? times.begin + times.change : times.ends[i - 1];
                gone = times.ends[i] > begin ? (until - begin) / (times.ends[i] - begin) : until >= begin;
                if (gone <= 0) return;
                gone = std::min(gone, 1.0);
            }
            const auto feed = static_cast<double>(move.feed);
            const auto put = [&](Vec2 a, Vec2 b, double power) {
                if (power > 0 && distance(a, b) > 1e-9) all.push_back({a, b, 100 * power / feed});
            };
            if (move.kind == toolpath::Move::Kind::scan) {
                double t = 0;
                for (std::uint32_t k = 0; k < move.runs.count && t < gone; ++k) {
                    const auto& run = of.runs[move.runs.first + k];
                    const double end = std::min(static_cast<double>(run.end), gone);
                    put(lerp(from.flat(), move.to.flat(), t), lerp(from.flat(), move.to.flat(), end), run.power);
                    t = end;
                }
                return;
            }
            const int bits =
                move.kind == toolpath::Move::Kind::arc
                    ? std::max(1, static_cast<int>(std::ceil(std::abs(sweepOf(from.flat(), move.flat())) / 0.1)))
                    : 1;
            Vec2 at = from.flat();
            for (int b = 1; b <= bits; ++b) {
                const double t = static_cast<double>(b) / bits;
                if (static_cast<double>(b - 1) / bits >= gone) break;
                const Vec2 to = pointAt(from.flat(), move.flat(), std::min(t, gone));
                put(at, to, move.power);
                at = to;
            }
        });
    return all;
}

} // namespace

Result<HeightGrid> darknessOf(const HeightGrid& like, const toolpath::Toolpath& path, const shop::Material& material,
                              Progress& progress, const Timing* timing, double until) {
    HeightGrid dark = like;
    std::fill(dark.heights.begin(), dark.heights.end(), 0.0f);
    if (!path.byBeam() || path.steps.empty()) return dark;
    const auto all = litBy(path, timing, until);
    const double kerf = std::max(0.01, path.steps.front().tool.diameter), cell = dark.cell;
    const double usual = material.scribePower / material.scribeSpeed / kerf; // of a scribed line, for each mm²
    constexpr double asDark = 1.4;                                           // 1 - e^-1.4 is three quarters
    // Each band of rows takes what falls into it, in the order of work: the same sums whoever does which.
    constexpr std::size_t bands = 16;
    const auto rows = static_cast<std::size_t>(dark.rows);
    parallelFor(bands, progress, [&](std::size_t band) {
        const auto first = static_cast<int>(rows * band / bands), last = static_cast<int>(rows * (band + 1) / bands);
        const double low = dark.area.low.y + first * cell - cell - kerf,
                     high = dark.area.low.y + last * cell + cell + kerf;
        // Across its width the beam's light lies on as many lines as the grid can tell apart.
        const int lines = std::max(1, static_cast<int>(std::ceil(kerf / cell)));
        for (std::size_t n = 0; n < all.size(); ++n) {
            if (n % 65'536 == 0 && progress.cancelled()) return;
            const auto& one = all[n];
            if (std::max(one.from.y, one.to.y) < low || std::min(one.from.y, one.to.y) > high) continue;
            const double way = distance(one.from, one.to);
            const Vec2 aside = perpendicular(one.to - one.from) / way;
            const int bits = std::max(1, static_cast<int>(std::ceil(way / (0.7 * cell))));
            const double light = one.light * way / bits / lines / (cell * cell);
            for (int line = 0; line < lines; ++line) {
                const Vec2 shift = aside * (kerf * ((line + 0.5) / lines - 0.5));
                for (int b = 0; b < bits; ++b) {
                    const Vec2 p = lerp(one.from, one.to, (b + 0.5) / bits) + shift;
                    // Onto the four cells whose middles lie round it.
                    const double x = (p.x - dark.area.low.x) / cell - 0.5, y = (p.y - dark.area.low.y) / cell - 0.5;
                    const int c = static_cast<int>(std::floor(x)), r = static_cast<int>(std::floor(y));
                    const double u = x - c, v = y - r;
                    const double shares[2][2] = {{(1 - u) * (1 - v), u * (1 - v)}, {(1 - u) * v, u * v}};
                    for (int j = 0; j < 2; ++j)
                        for (int i = 0; i < 2; ++i)
                            if (r + j >= first && r + j < last && c + i >= 0 && c + i < dark.columns)
                                dark.heights[static_cast<std::size_t>(r + j) * static_cast<std::size_t>(dark.columns) +
                                             static_cast<std::size_t>(c + i)] +=
                                    static_cast<float>(light * shares[j][i]);
                }
            }
        }
        for (int r = first; r < last; ++r)
            for (int c = 0; c < dark.columns; ++c) {
                auto& value = dark.heights[static_cast<std::size_t>(r) * static_cast<std::size_t>(dark.columns) +
                                           static_cast<std::size_t>(c)];
                value = static_cast<float>(1 - std::exp(-asDark * static_cast<double>(value) / usual));
            }
    });
    if (progress.cancelled()) return Problem::cancelled();
    return dark;
}

} // namespace ferro::proof
