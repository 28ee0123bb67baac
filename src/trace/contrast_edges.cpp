#include "trace/contrast_edges.h"

#include "base/parallel.h"
#include "trace/contrast_edges_internal.h"

#include <algorithm>
#include <array>

namespace ferro::trace {

namespace {

// All lengths in px.
constexpr double softness = 0.8;  // standard deviation of what the picture is softened by
constexpr double sideReach = 3.5; // how far the two sides of an edge are looked for
constexpr double mostMove = 0.8;  // from the steepest place to half way
constexpr std::int32_t none = -1;

/// The softened picture and its slopes, y down as in the picture.
class Slopes {
public:
    explicit Slopes(const picture::Grey& grey) : width(grey.width), height(grey.height) {
        const auto w = static_cast<std::size_t>(width), h = static_cast<std::size_t>(height);
        std::array<float, 4> weight{}; // of the middle and of those one, two and three away
        float sum = 0;
        for (int k = 0; k < 4; ++k) {
            weight[static_cast<std::size_t>(k)] = static_cast<float>(std::exp(-k * k / (2 * softness * softness)));
            sum += weight[static_cast<std::size_t>(k)] * (k ? 2 : 1);
        }
        for (float& v : weight) v /= sum;
        std::vector<float> across(w * h);
        soft.resize(w * h);
        const auto clampedX = [&](int x) { return static_cast<std::size_t>(std::clamp(x, 0, width - 1)); };
        const auto clampedY = [&](int y) { return static_cast<std::size_t>(std::clamp(y, 0, height - 1)); };
        parallelSlices(h, 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t y = begin; y < end; ++y)
                for (int x = 0; x < width; ++x) {
                    float v = 0;
                    for (int k = -3; k <= 3; ++k)
                        v += weight[static_cast<std::size_t>(std::abs(k))] * grey.values[y * w + clampedX(x + k)];
                    across[y * w + static_cast<std::size_t>(x)] = v;
                }
        });
        parallelSlices(h, 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t y = begin; y < end; ++y)
                for (std::size_t x = 0; x < w; ++x) {
                    float v = 0;
                    for (int k = -3; k <= 3; ++k)
                        v += weight[static_cast<std::size_t>(std::abs(k))] *
                             across[clampedY(static_cast<int>(y) + k) * w + x];
                    soft[y * w + x] = v;
                }
        });
    }
    const int width, height;
    std::vector<float> soft;

    [[nodiscard]] std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
    /// Inside of the picture's outermost pixels.
    [[nodiscard]] Vec2 slope(int x, int y) const {
        const auto i = index(x, y);
        const auto w = static_cast<std::size_t>(width);
        return {(static_cast<double>(soft[i + 1]) - static_cast<double>(soft[i - 1])) / 2,
                (static_cast<double>(soft[i + w]) - static_cast<double>(soft[i - w])) / 2};
    }
    /// Between pixels' middles, which lie on whole numbers here.
    [[nodiscard]] double at(Vec2 p) const {
        const double x = std::clamp(p.x, 0.0, width - 1.001), y = std::clamp(p.y, 0.0, height - 1.001);
        const int left = static_cast<int>(x), top = static_cast<int>(y);
        const double fx = x - left, fy = y - top;
        const auto i = index(left, top);
        const auto w = static_cast<std::size_t>(width);
        return std::lerp(std::lerp(static_cast<double>(soft[i]), static_cast<double>(soft[i + 1]), fx),
                         std::lerp(static_cast<double>(soft[i + w]), static_cast<double>(soft[i + w + 1]), fx), fy);
    }
};

/// A place where the slope is steepest along itself.
struct EdgePoint {
    Vec2 at;    ///< y down, pixels' middles on whole numbers
    Vec2 slope; ///< towards the light
    std::int32_t next = none, last = none;
    bool strong = false;
    bool used = false;
};

class Finder {
public:
    Finder(const picture::Grey& grey, const std::vector<std::uint8_t>& least, const Progress& progress)
        : slopes_(grey), least_(least), progress_(progress) {}

    std::vector<ContrastEdge> run() {
        if (slopes_.width < 5 || slopes_.height < 5) return {};
        points();
        if (!progress_.cancelled()) link();
        if (progress_.cancelled()) return {};
        auto lines = chains();
        refine(lines);
        std::vector<ContrastEdge> out;
        for (auto& line : joinedEdges(std::move(lines), [this](Vec2 p) { return isHidden(p); }))
            if (line.points.size() > 2) out.push_back(finished(std::move(line)));
        return out;
    }

private:
    /// The steepness that an edge of as little as is looked for has: softened once more it keeps 0.3 to 0.45 of its
    /// step, a blurred one 0.2. An edge begins where it is as steep as that, and goes on down to half of it.
    [[nodiscard]] double wanted(int x, int y) const {
        const auto least = least_[slopes_.index(x, y)];
        return least == notSought || least == underLine ? 0 : 0.16 * least;
    }

    void points() {
        const auto w = slopes_.width, h = slopes_.height;
        at_.assign(slopes_.soft.size(), none);
        std::vector<std::vector<std::pair<std::size_t, EdgePoint>>> rows(static_cast<std::size_t>(h));
        parallelFor(static_cast<std::size_t>(h), progress_, [&](std::size_t row) {
            const int y = static_cast<int>(row);
            if (y < 2 || y > h - 3) return;
            for (int x = 2; x < w - 2; ++x) {
                const double asked = wanted(x, y);
                if (asked <= 0) continue;
                const Vec2 g = slopes_.slope(x, y);
                const double here = length(g);
                if (here < asked / 2) continue;
                const bool level = std::abs(g.x) >= std::abs(g.y);
                const double before = length(level ? slopes_.slope(x - 1, y) : slopes_.slope(x, y - 1)),
                             after = length(level ? slopes_.slope(x + 1, y) : slopes_.slope(x, y + 1));
                // Of two that are as steep as each other the first counts.
                if (!(here > before && here >= after)) continue;
                const double off = (before - after) / (2 * (before - 2 * here + after));
                EdgePoint p{
                    Vec2{static_cast<double>(x), static_cast<double>(y)} + (level ? Vec2{off, 0} : Vec2{0, off}), g};
                p.strong = here >= asked;
                rows[row].emplace_back(slopes_.index(x, y), p);
            }
        });
        for (const auto& row : rows)
            for (const auto& [index, point] : row) {
                at_[index] = static_cast<std::int32_t>(points_.size());
                points_.push_back(point);
            }
    }

    /// The best to go on with from a point, with the light to the right (`forward`) or back.
    [[nodiscard]] std::int32_t neighbour(std::int32_t from, bool forward) const {
        const auto& p = points_[static_cast<std::size_t>(from)];
        const int x0 = static_cast<int>(std::lround(p.at.x)), y0 = static_cast<int>(std::lround(p.at.y));
        std::int32_t best = none;
        double nearest = 1e9;
        for (int y = std::max(0, y0 - 2); y <= std::min(slopes_.height - 1, y0 + 2); ++y)
            for (int x = std::max(0, x0 - 2); x <= std::min(slopes_.width - 1, x0 + 2); ++x) {
                const auto k = at_[slopes_.index(x, y)];
                if (k == none || k == from) continue;
                const auto& q = points_[static_cast<std::size_t>(k)];
                const Vec2 way = q.at - p.at;
                if (dot(p.slope, q.slope) <= 0) continue;
                const double side = cross(p.slope, way), other = cross(q.slope, way);
                if (forward ? !(side < 0 && other < 0) : !(side > 0 && other > 0)) continue;
                if (const double far = length(way); far < nearest) nearest = far, best = k;
            }
        return best;
    }
    [[nodiscard]] double apart(std::int32_t a, std::int32_t b) const {
        return distance(points_[static_cast<std::size_t>(a)].at, points_[static_cast<std::size_t>(b)].at);
    }
    void connect(std::int32_t a, std::int32_t b) {
        auto& p = points_[static_cast<std::size_t>(a)];
        auto& q = points_[static_cast<std::size_t>(b)];
        if (p.next == b && q.last == a) return;
        if (p.next != none && apart(a, p.next) <= apart(a, b)) return;
        if (q.last != none && apart(q.last, b) <= apart(a, b)) return;
        if (p.next != none) points_[static_cast<std::size_t>(p.next)].last = none;
        if (q.last != none) points_[static_cast<std::size_t>(q.last)].next = none;
        p.next = b, q.last = a;
    }
    void link() {
        std::vector<std::array<std::int32_t, 2>> best(points_.size());
        parallelSlices(points_.size(), 4096, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i)
                best[i] = {neighbour(static_cast<std::int32_t>(i), true),
                           neighbour(static_cast<std::int32_t>(i), false)};
        });
        for (std::size_t i = 0; i < points_.size(); ++i) {
            if (best[i][0] != none) connect(static_cast<std::int32_t>(i), best[i][0]);
            if (best[i][1] != none) connect(best[i][1], static_cast<std::int32_t>(i));
        }
    }

    /// The linked points that hold a strong one.
    [[nodiscard]] std::vector<EdgeLine> chains() {
        std::vector<EdgeLine> lines;
        for (std::size_t i = 0; i < points_.size(); ++i) {
            if (!points_[i].strong || points_[i].used) continue;
            auto first = static_cast<std::int32_t>(i);
            while (points_[static_cast<std::size_t>(first)].last != none) {
                first = points_[static_cast<std::size_t>(first)].last;
                if (first == static_cast<std::int32_t>(i)) break;
            }
            EdgeLine line;
            auto k = first;
            do {
                auto& p = points_[static_cast<std::size_t>(k)];
                p.used = true;
                line.points.push_back(p.at);
                k = p.next;
            } while (k != none && k != first);
            line.closed = k == first;
            lines.push_back(std::move(line));
        }
        return lines;
    }

    /// How the grey goes across an edge: where it is half way, and how much the sides differ; none where it is no edge.
    struct Across {
        double move, step, slope;
    };
    [[nodiscard]] std::optional<Across> across(Vec2 p, Vec2 toLight) const {
        // Each side as far as it goes on getting lighter or darker: beyond it something else begins.
        const auto side = [&](double way) {
            double best = slopes_.at(p);
            for (double t = 0.5; t <= sideReach; t += 0.5) {
                const double v = slopes_.at(p + toLight * (way * t));
                if (way * (v - best) > 0)
                    best = v;
                else if (way * (best - v) > 3)
                    break;
            }
            return best;
        };
        const double light = side(1), dark = side(-1), half = (light + dark) / 2;
        if (!(light > dark)) return std::nullopt;
        double before = slopes_.at(p - toLight * mostMove);
        if (before > half) return Across{-mostMove, light - dark, 0};
        constexpr double pace = 0.2;
        for (double t = -mostMove + pace; t <= mostMove + 1e-9; t += pace) {
            const double v = slopes_.at(p + toLight * t);
            if (v >= half)
                return Across{t - pace * (v - half) / std::max(v - before, 1e-9), light - dark, (v - before) / pace};
            before = v;
        }
        return Across{mostMove, light - dark, 0};
    }

    void refine(std::vector<EdgeLine>& lines) const {
        parallelFor(lines.size(), progress_, [&](std::size_t i) {
            auto& line = lines[i];
            const std::size_t n = line.points.size();
            Ring moved;
            double step = 0, slope = 0, asked = 0;
            for (std::size_t k = 0; k < n; ++k) {
                const Vec2 p = line.points[k];
                const int x = std::clamp(static_cast<int>(std::lround(p.x)), 1, slopes_.width - 2),
                          y = std::clamp(static_cast<int>(std::lround(p.y)), 1, slopes_.height - 2);
                asked += least_[slopes_.index(x, y)];
                const Vec2 toLight = unit(slopes_.slope(x, y));
                const auto found = across(p, toLight);
                moved.push_back(found ? p + toLight * found->move : p);
                if (found) step += found->step, slope += found->slope;
            }
            const auto count = static_cast<double>(n);
            line.step = step / count, line.slope = slope / count;
            if (line.step < asked / count)
                line.points.clear(); // steep, and not high enough
            else
                line.points = std::move(moved);
        });
        std::erase_if(lines, [](const EdgeLine& line) { return line.points.empty(); });
    }

    /// A drawn line lies over it.
    [[nodiscard]] bool isHidden(Vec2 p) const {
        const int x = std::clamp(static_cast<int>(std::lround(p.x)), 0, slopes_.width - 1),
                  y = std::clamp(static_cast<int>(std::lround(p.y)), 0, slopes_.height - 1);
        return least_[slopes_.index(x, y)] == underLine;
    }

    /// Turned up, and the dark on the left. Pixels' middles lie half a pixel in.
    [[nodiscard]] ContrastEdge finished(EdgeLine line) const {
        for (Vec2& p : line.points) p = {p.x + 0.5, slopes_.height - p.y - 0.5};
        return {std::move(line.points), line.closed, line.step, line.slope};
    }

    Slopes slopes_;
    const std::vector<std::uint8_t>& least_;
    const Progress& progress_;
    std::vector<EdgePoint> points_;
    std::vector<std::int32_t> at_; ///< a pixel's point
};

} // namespace

std::vector<ContrastEdge> contrastEdges(const picture::Grey& grey, const std::vector<std::uint8_t>& least,
                                        const Progress& progress) {
    return Finder(grey, least, progress).run();
}

} // namespace ferro::trace
