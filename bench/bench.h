#pragma once

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <vector>

/// The best of some runs, s: what the work costs when nothing else is in the way.
template<class Work> double seconds(Work&& work, int runs = 9) {
    double best = 1e9;
    for (int i = 0; i < runs; ++i) {
        const auto begin = std::chrono::steady_clock::now();
        work();
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
    }
    return best;
}

inline double median(std::vector<double> times) {
    std::nth_element(times.begin(), times.begin() + static_cast<std::ptrdiff_t>(times.size() / 2), times.end());
    return times[times.size() / 2];
}
/// Two works in turns, the median of each, s: a machine that is busy for a while is busy for both.
struct Both {
    double ours, theirs;
};
template<class Ours, class Theirs> Both alternated(Ours&& ours, Theirs&& theirs, int runs = 7) {
    std::vector<double> a, b;
    for (int i = 0; i < runs; ++i) {
        a.push_back(seconds(ours, 1));
        b.push_back(seconds(theirs, 1));
    }
    return {median(std::move(a)), median(std::move(b))};
}

inline void row(const char* name, double ours, double theirs, const char* yardstick, double limit,
                bool atLeast = false) {
    const double ratio = ours / theirs;
    fmt::print("{:34} {:9.2f} ms  {:28} {:9.2f} ms  ratio {:5.2f}  wanted {} {:.2f}  {}\n", name, ours * 1e3, yardstick,
               theirs * 1e3, ratio, atLeast ? "≥" : "≤", limit,
               (atLeast ? ratio >= limit : ratio <= limit) ? "yes" : "NO");
}

/// Planning of cuts, against the libraries that it stands on.
void benchCuts();
/// Layouts over time, so many seconds a set; only when asked for by name, since it takes minutes.
void benchNest(double seconds);
