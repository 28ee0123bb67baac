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
        std::vector<double> sizes(stretches);
        double total = 0;
        for (std::size_t i = 0; i < stretches; ++i)
            total += sizes[i] = distance(line[i], line[i + 1 < line.size() ? i + 1 : 0]);
        count_ = std::max(8, static_cast<int>(std::lround(total / spacing)) + (closed ? 0 : 1));
        const double step = total / (closed ? count_ : count_ - 1);
        const auto n = static_cast<std::size_t>(count_);
        points_.reserve(n);
        double walked = 0, next = 0;
        for (std::size_t i = 0; i < stretches && points_.size() < n; ++i) {
            const Vec2 a = line[i], b = line[i + 1 < line.size() ? i + 1 : 0];
            for (; next < walked + sizes[i] && points_.size() < n; next += step)
                points_.push_back(lerp(a, b, (next - walked) / sizes[i]));
            walked += sizes[i];
        }
        while (points_.size() < n) points_.push_back(closed ? line.front() : line.back());
        if (!closed) points_.back() = line.back();
        Vec2 sum;
        for (const Vec2 p : points_) sum += p;
        middle_ = sum / count_;
        sums_.reserve(n + 1);
        Sum s;
        sums_.push_back(s);
        for (const Vec2 q : points_) {
            const Vec2 p = q - middle_;
            sums_.push_back(s = {s.x + p.x, s.y + p.y, s.xx + p.x * p.x, s.xy + p.x * p.y, s.yy + p.y * p.y});
        }
    }
    [[nodiscard]] int count() const { return count_; }
    [[nodiscard]] bool closed() const { return closed_; }
    [[nodiscard]] Vec2 at(int i) const {
        if (i < 0 || i >= count_) i = closed_ ? ((i % count_) + count_) % count_ : std::clamp(i, 0, count_ - 1);
        return points_[static_cast<std::size_t>(i)];
    }
    /// The line of least squares through samples `first` to `last`, both in.
    [[nodiscard]] Line through(int first, int last) const {
        const Spread s = spread(first, last);
        const double half = (s.xx - s.yy) / 2, root = std::sqrt(half * half + s.xy * s.xy);
        // The direction of the larger axis, by whichever of two forms does not cancel.
        Vec2 way = unit(half >= 0 ? Vec2{half + root, s.xy} : Vec2{s.xy, root - half});
        if (way == Vec2{}) way = {1, 0};
        if (dot(way, at(last) - at(first)) < 0) way = -way;
        return {middle_ + s.mean, way, std::sqrt(std::max(0.0, (s.xx + s.yy) / 2 - root))};
    }
    /// Whether that line's root mean square is `rms` or less, without the line.
    [[nodiscard]] bool isStraight(int first, int last, double rms) const {
        // The smaller axis of the spread against rms²: what is left when that is taken off has no way to be positive.
        const Spread s = spread(first, last);
        const double xx = s.xx - rms * rms, yy = s.yy - rms * rms;
        return !(xx > 0 && xx * yy > s.xy * s.xy);
    }
    /// How rough the line is in itself: the middle of what short stretches leave.
    [[nodiscard]] double roughness() const {
        std::vector<double> all;
        const int step = std::max(1, count_ / 400);
        all.reserve(static_cast<std::size_t>(count_ / step) + 1);
        for (int i = 0; i < count_; i += step) {
            const Spread s = spread(i, i + 4);
            const double half = (s.xx - s.yy) / 2;
            all.push_back((s.xx + s.yy) / 2 - std::sqrt(half * half + s.xy * s.xy));
        }
        std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2), all.end());
        return std::sqrt(std::max(0.0, all[all.size() / 2]));
    }

    /// How grainy it is: what short stretches of it leave of a parabola, px, where it is most even; under 0.006 where
    /// edges were drawn, 0.01 and more where they were scanned.
    [[nodiscard]] double grain() const;

private:
    struct Sum {
        double x = 0, y = 0, xx = 0, xy = 0, yy = 0;
    };
    /// Mean, from the middle, and variances of a stretch.
    struct Spread {
        Vec2 mean;
        double xx, xy, yy;
    };
    [[nodiscard]] Spread spread(int first, int last) const {
        if (!closed_) first = std::clamp(first, 0, count_ - 2), last = std::clamp(last, first + 1, count_ - 1);
        const int shift = first < 0 ? count_ : first >= count_ ? -count_ : 0;
        const int end = std::min(last + shift + 1, 2 * count_);
        const bool wraps = end > count_;
        const Sum &a = sums_[static_cast<std::size_t>(first + shift)],
                  &b = sums_[static_cast<std::size_t>(wraps ? end - count_ : end)];
        const Sum whole = wraps ? sums_.back() : Sum{};
        const double n = 1.0 / (last - first + 1);
        const Vec2 mean = Vec2{whole.x + b.x - a.x, whole.y + b.y - a.y} * n;
        return {mean, (whole.xx + b.xx - a.xx) * n - mean.x * mean.x, (whole.xy + b.xy - a.xy) * n - mean.x * mean.y,
                (whole.yy + b.yy - a.yy) * n - mean.y * mean.y};
    }
    int count_ = 0;
    bool closed_;
    Ring points_;
    Vec2 middle_;
    std::vector<Sum> sums_; // up to each sample
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
