#pragma once

#include "trace/outline_fit.h"

namespace ferro::trace {

// All lengths in px; windows in samples, which lie this far apart on a sharp picture.
inline constexpr double finest = 0.7;
inline constexpr int shortestRun = 13;        // samples of a straight run
inline constexpr double leastStraight = 0.07; // off by less is straight, whatever the picture
inline constexpr int wornBy = 2;              // samples to either side of a corner that blur has bent

struct Line {
    Vec2 at, way; ///< a point on it, its direction of length 1
    double rms = 0;
    [[nodiscard]] double off(Vec2 p) const { return cross(way, p - at); }
    [[nodiscard]] Vec2 foot(Vec2 p) const { return at + way * dot(way, p - at); }
};

inline std::optional<Vec2> meeting(const Line& a, const Line& b) {
    const double sine = cross(a.way, b.way);
    if (std::abs(sine) < 1e-6) return std::nullopt;
    return a.at + a.way * (cross(b.at - a.at, b.way) / sine);
}

/// A line at even steps, with running sums, so that a line through any stretch costs the same.
class Samples {
public:
    Samples(const Ring& line, bool closed, double spacing) : closed_(closed) {
        const std::size_t stretches = closed ? line.size() : line.size() - 1;
        double total = 0;
        for (std::size_t i = 0; i < stretches; ++i) total += distance(line[i], line[(i + 1) % line.size()]);
        count_ = std::max(8, static_cast<int>(std::lround(total / spacing)) + (closed ? 0 : 1));
        const double step = total / (closed ? count_ : count_ - 1);
        double walked = 0, next = 0;
        for (std::size_t i = 0; i < stretches && static_cast<int>(points_.size()) < count_; ++i) {
            const Vec2 a = line[i], b = line[(i + 1) % line.size()];
            const double size = distance(a, b);
            for (; next < walked + size && static_cast<int>(points_.size()) < count_; next += step)
                points_.push_back(lerp(a, b, (next - walked) / size));
            walked += size;
        }
        while (static_cast<int>(points_.size()) < count_) points_.push_back(closed ? line.front() : line.back());
        if (!closed) points_.back() = line.back();
        Vec2 sum;
        for (const Vec2 p : points_) sum += p;
        middle_ = sum / count_;
        sums_.resize(static_cast<std::size_t>(2 * count_) + 1);
        for (int i = 0; i < 2 * count_; ++i) {
            const Vec2 p = at(i) - middle_;
            const Sum& s = sums_[static_cast<std::size_t>(i)];
            sums_[static_cast<std::size_t>(i) + 1] = {s.x + p.x, s.y + p.y, s.xx + p.x * p.x, s.xy + p.x * p.y,
                                                      s.yy + p.y * p.y};
        }
    }
    [[nodiscard]] int count() const { return count_; }
    [[nodiscard]] bool closed() const { return closed_; }
    [[nodiscard]] Vec2 at(int i) const {
        return points_[static_cast<std::size_t>(closed_ ? ((i % count_) + count_) % count_
                                                        : std::clamp(i, 0, count_ - 1))];
    }
    /// The line of least squares through samples `first` to `last`, both in.
    [[nodiscard]] Line through(int first, int last) const {
        if (!closed_) first = std::clamp(first, 0, count_ - 2), last = std::clamp(last, first + 1, count_ - 1);
        const int shift = first < 0 ? count_ : first >= count_ ? -count_ : 0;
        const auto& a = sums_[static_cast<std::size_t>(first + shift)];
        const auto& b = sums_[static_cast<std::size_t>(std::min(last + shift + 1, 2 * count_))];
        const double n = last - first + 1;
        const Vec2 mean{(b.x - a.x) / n, (b.y - a.y) / n};
        const double xx = (b.xx - a.xx) / n - mean.x * mean.x, xy = (b.xy - a.xy) / n - mean.x * mean.y,
                     yy = (b.yy - a.yy) / n - mean.y * mean.y;
        const double half = (xx - yy) / 2, root = std::sqrt(half * half + xy * xy);
        // The direction of the larger axis, by whichever of two forms does not cancel.
        Vec2 way = unit(half >= 0 ? Vec2{half + root, xy} : Vec2{xy, root - half});
        if (way == Vec2{}) way = {1, 0};
        if (dot(way, at(last) - at(first)) < 0) way = -way;
        return {middle_ + mean, way, std::sqrt(std::max(0.0, (xx + yy) / 2 - root))};
    }
    /// How rough the line is in itself: the middle of what short stretches leave.
    [[nodiscard]] double roughness() const {
        std::vector<double> all;
        const int step = std::max(1, count_ / 400);
        for (int i = 0; i < count_; i += step) all.push_back(through(i, i + 4).rms);
        std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2), all.end());
        return all[all.size() / 2];
    }

    /// How grainy it is: what short stretches of it leave of a parabola, px, where it is most even; under 0.006 where
    /// edges were drawn, 0.01 and more where they were scanned.
    [[nodiscard]] double grain() const;

private:
    struct Sum {
        double x = 0, y = 0, xx = 0, xy = 0, yy = 0;
    };
    int count_ = 0;
    bool closed_;
    Ring points_;
    Vec2 middle_;
    std::vector<Sum> sums_;
};

struct Corner {
    int at = 0; ///< sample
    Vec2 tip;
    double score = 0;
    int clear = wornBy; ///< samples to either side that blur has bent; more where it is acute
};

/// Where an outline turns by more than the settings allow within what blur explains. `straight`: how far a straight
/// arm's samples lie off it, px.
[[nodiscard]] std::vector<Corner> cornersOf(const Samples& s, const FitSettings& settings, double straight);

struct Run {
    int first, last;
    Line line;
};

/// Straight runs between two samples, each as long as it is straight and no rounder than its own roughness.
[[nodiscard]] std::vector<Run> runsOf(const Samples& s, int begin, int end, double straight);

} // namespace ferro::trace
