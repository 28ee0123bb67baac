#include "trace/outline_samples_internal.h"

namespace ferro::trace {

namespace {
constexpr int arms[] = {14, 9, 6}; // samples of an arm, the longest that is straight is taken
} // namespace

std::vector<Corner> cornersOf(const Samples& s, const FitSettings& settings, double straight) {
    std::vector<Corner> found;
    const int n = s.count();
    const double nearlyStraight = std::cos(settings.cornerTurn * 0.6);
    const auto arm = [&](int from, int sign) {
        Line line;
        for (const int size : arms) {
            if (2 * (size + wornBy) > n) continue;
            line = sign > 0 ? s.through(from, from + size - 1) : s.through(from - size + 1, from);
            if (line.rms <= 0.6 * straight) break; // a bent arm would point beside the tip
        }
        return line;
    };
    const int margin = s.closed() ? 0 : wornBy + arms[2]; // the ends have no arm to both sides
    for (int i = margin; i < n - margin; ++i) {
        // A quick look first: most places are far from any corner.
        const Vec2 chordIn = s.at(i) - s.at(i - 4), chordOut = s.at(i + 4) - s.at(i);
        if (dot(chordIn, chordOut) > nearlyStraight * length(chordIn) * length(chordOut)) continue;
        const Line in = arm(i - wornBy, -1), out = arm(i + wornBy, 1);
        if (in.way == Vec2{} || out.way == Vec2{} || in.rms > straight || out.rms > straight) continue;
        const double turn = std::abs(std::atan2(cross(in.way, out.way), dot(in.way, out.way)));
        if (turn < settings.cornerTurn) continue;
        const auto tip = meeting(in, out);
        if (!tip) continue;
        // A rounding keeps farther from where its arms meet than blur does from a corner's tip.
        const double worn = distance(*tip, s.at(i));
        if (worn > settings.blur * (0.1 + 0.33 * turn + 3 * std::max(0.0, turn - 1.8))) continue;
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
        if (s.through(at, last).rms > straight) {
            ++at;
            continue;
        }
        for (int step = 1; step > 0;) // as far as it stays straight, by doubling and halving
            if (last + step <= end && last + step - at < s.count() && s.through(at, last + step).rms <= straight)
                last += step, step *= 2;
            else
                step /= 2;
        // What lies beyond the run has bent it a little: its middle tells where it really ends.
        const int fifth = (last - at) / 5;
        const Line middle = s.through(at + fifth, last - fifth);
        const double allowed = 0.8 * straight;
        int first = at + fifth, stop = last - fifth;
        while (first > at && std::abs(middle.off(s.at(first - 1))) <= allowed) --first;
        while (stop < last && std::abs(middle.off(s.at(stop + 1))) <= allowed) ++stop;
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
