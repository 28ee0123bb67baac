#include "trace/outline_samples_internal.h"

#include <array>

namespace ferro::trace {

namespace {
constexpr int arms[] = {14, 9, 6, 4}; // samples of an arm, the longest that is straight is taken
constexpr int smallLine = 70;         // samples: a small closed line is let have shorter ones

/// How far a point lies from the line about a sample.
double offAt(const Samples& s, int i, Vec2 p) {
    double least = distance(p, s.at(i));
    for (int k = i - 1; k <= i; ++k) {
        const Vec2 a = s.at(k), way = s.at(k + 1) - a;
        const double t = dot(p - a, way) / std::max(1e-12, dot(way, way));
        if (t > 0 && t < 1) least = std::min(least, distance(p, a + way * t));
    }
    return least;
}
} // namespace

double Samples::grain() const {
    constexpr int window = 9;
    if (count_ < 2 * window) return 0;
    std::vector<double> all;
    for (int i = 0, step = std::max(3, count_ / 150); i + window <= count_; i += step) {
        const Vec2 from = at(i), way = unit(at(i + window - 1) - from);
        // A parabola through evenly spaced points: its three sums are orthogonal polynomials.
        double mean = 0, slope = 0, bend = 0, total = 0;
        constexpr double h = (window - 1) / 2.0, squares = h * (h + 1) * window / 3, second = h * (h + 1) / 3;
        double quartic = 0;
        for (int k = 0; k < window; ++k) {
            const double x = k - h, y = cross(way, at(i + k) - from), q = x * x - second;
            mean += y, slope += x * y, bend += q * y, total += y * y, quartic += q * q;
        }
        const double left = total - mean * mean / window - slope * slope / squares - bend * bend / quartic;
        all.push_back(std::sqrt(std::max(0.0, left) / (window - 3)));
    }
    const auto even = all.begin() + static_cast<std::ptrdiff_t>(all.size() / 10); // where no corner is near
    std::nth_element(all.begin(), even, all.end());
    return *even;
}

std::vector<Corner> cornersOf(const Samples& s, const FitSettings& settings, double straight) {
    std::vector<Corner> found;
    const int n = s.count();
    const double nearlyStraight = std::cos(settings.cornerTurn * 0.6), leastTurn = std::cos(settings.cornerTurn);
    // A grainy line is not bent, and in places more grainy than in others.
    const bool grainy = straight > leastStraight;
    const double clean = (grainy ? 0.8 : 0.6) * straight, most = (grainy ? 1.5 : 1) * straight;
    const auto arm = [&](int corner, int sign, bool acute, bool hairpin) -> std::optional<Line> {
        // Blur bends more of an acute one, and of a hairpin so much that far away is a better place to look first.
        constexpr std::array near{wornBy, 2 * wornBy, 4 * wornBy}, far{4 * wornBy, 2 * wornBy, wornBy};
        for (std::size_t k = 0; k < (hairpin ? 3u : acute ? 2u : 1u); ++k) {
            const int worn = (hairpin ? far : near)[k];
            const int from = corner + sign * worn;
            const auto first = [&](int size) { return sign > 0 ? from : from - size + 1; };
            int last = 0; // the shortest that there is room for
            for (const int size : arms) {
                if (2 * (size + worn) > n || (size < 6 && (n > smallLine || !s.closed()))) continue;
                last = size;
                // A bent arm would point beside the tip.
                if (s.isStraight(first(size), first(size) + size - 1, clean))
                    return s.through(first(size), first(size) + size - 1);
            }
            if (last > 0 && s.isStraight(first(last), first(last) + last - 1, most))
                return s.through(first(last), first(last) + last - 1);
        }
        return std::nullopt;
    };
    const int margin = s.closed() ? 0 : wornBy + arms[2]; // the ends have no arm to both sides
    for (int i = margin; i < n - margin; ++i) {
        // A quick look first: most places are far from any corner.
        const Vec2 chordIn = s.at(i) - s.at(i - 4), chordOut = s.at(i + 4) - s.at(i);
        const double ahead = dot(chordIn, chordOut), chords = length(chordIn) * length(chordOut);
        if (ahead > nearlyStraight * chords) continue;
        const bool acute = ahead < 0.5 * chords, hairpin = ahead < -0.6 * chords;
        const auto in = arm(i, -1, acute, hairpin);
        if (!in) continue;
        const auto out = arm(i, 1, acute, hairpin);
        if (!out) continue;
        if (dot(in->way, out->way) > leastTurn) continue;
        const auto tip = meeting(*in, *out);
        if (!tip) continue;
        const double turn = std::abs(std::atan2(cross(in->way, out->way), dot(in->way, out->way)));
        // A rounding keeps farther from where its arms meet than blur does from a corner's tip.
        const double worn = offAt(s, i, *tip);
        // An acute one is worn to where it is about a pixel wide.
        const double broad = 0.08 + 0.33 * turn + 3 * std::max(0.0, turn - 1.8);
        if (turn < 2.8 && worn > settings.blur * broad) continue;
        if (worn > settings.blur * (0.55 + 0.52 / std::max(0.01, std::tan((pi - turn) / 2)))) continue;
        found.push_back({i, *tip, turn - worn, wornBy + static_cast<int>(worn / (finest * settings.blur))});
    }
    std::stable_sort(found.begin(), found.end(), [](const Corner& a, const Corner& b) { return a.score > b.score; });
    std::vector<Corner> kept;
    for (const auto& c : found)
        if (std::none_of(kept.begin(), kept.end(), [&](const Corner& k) {
                const int apart = std::abs(c.at - k.at);
                return std::min(apart, n - apart) <= 4;
            }))
            kept.push_back(c);
    std::sort(kept.begin(), kept.end(), [](const Corner& a, const Corner& b) { return a.at < b.at; });
    return kept;
}

std::vector<Run> runsOf(const Samples& s, int begin, int end, double straight) {
    std::vector<Run> runs;
    const double bendAllowed = straight / 2 + 0.02;
    for (int at = begin; at + shortestRun - 1 <= end;) {
        int last = at + shortestRun - 1;
        if (!s.isStraight(at, last, straight)) {
            ++at;
            continue;
        }
        for (int step = 1; step > 0;) // as far as it stays straight, by doubling and halving
            if (last + step <= end && last + step - at < s.count() && s.isStraight(at, last + step, straight))
                last += step, step *= 2;
            else
                step /= 2;
        // What lies beyond the run has bent it a little: its middle tells where it really ends.
        const int fifth = (last - at) / 5;
        const Line middle = s.through(at + fifth, last - fifth);
        const double allowed = 0.8 * straight;
        const auto endOf = [&](int from, int to, int way) {
            // One sample may lie off by its own grain; where the line has been left, all that follow lie to one side.
            for (int k = from; k != to; k += way) {
                int off = 0;
                for (int ahead = k + way; std::abs(ahead - k) <= 3 && (to - ahead) * way >= 0; ahead += way) {
                    const double side = middle.off(s.at(ahead));
                    if (std::abs(side) <= allowed || side * middle.off(s.at(k + way)) < 0) break;
                    ++off;
                }
                if (off == std::min(3, std::abs(to - k))) return k;
            }
            return to;
        };
        const int first = endOf(at + fifth, at, -1), stop = endOf(last - fifth, last, 1);
        const int half = (stop - first) / 2;
        const Line a = s.through(first, first + half), b = s.through(stop - half, stop);
        const double sagitta = std::abs(cross(a.way, b.way)) * distance(s.at(first), s.at(stop)) / 4;
        if (sagitta > bendAllowed || stop - first + 1 < shortestRun) {
            at += std::max(1, (last - at) / 4);
            continue;
        }
        runs.push_back({first, stop, s.through(first, stop)});
        at = stop + 1;
    }
    return runs;
}

} // namespace ferro::trace
