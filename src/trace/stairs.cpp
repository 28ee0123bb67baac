#include "trace/stairs.h"

#include <array>

namespace ferro::trace {

namespace {

constexpr std::array sizes{6, 8, 11, 15, 21, 29, 40, 56, 80, 112, 160};

/// A crossing between two neighbouring pixels, half way.
struct Crossing {
    Vec2 at;
    bool level; ///< the two lie side by side in a row: x is not known, y is
};

/// v = a + b u + c u², in a frame whose u runs along the stretch.
struct Stretch {
    int first = 0, size = 0;
    Vec2 origin, way;
    double a = 0, b = 0, c = 0;

    [[nodiscard]] double u(Vec2 p) const { return dot(p - origin, way); }
    [[nodiscard]] double v(Vec2 p) const { return cross(way, p - origin); }
    [[nodiscard]] double at(double u) const { return a + u * (b + u * c); }
    [[nodiscard]] double slopeAt(double u) const { return b + 2 * c * u; }
    [[nodiscard]] Vec2 wayAt(Vec2 p) const { return unit(way + perpendicular(way) * slopeAt(u(p))); }
    [[nodiscard]] Vec2 on(Vec2 p) const {
        const double along = u(p);
        return origin + way * along + perpendicular(way) * at(along);
    }
};

/// The solution of a symmetric system of three, rows m0 m1 m2, m1 m2 m3, m2 m3 m4.
std::optional<std::array<double, 3>> solved(const std::array<double, 5>& m, const std::array<double, 3>& r) {
    const double c0 = m[2] * m[4] - m[3] * m[3], c1 = m[2] * m[3] - m[1] * m[4], c2 = m[1] * m[3] - m[2] * m[2],
                 d1 = m[0] * m[4] - m[2] * m[2], d2 = m[1] * m[2] - m[0] * m[3], e2 = m[0] * m[2] - m[1] * m[1];
    const double det = m[0] * c0 + m[1] * c1 + m[2] * c2;
    if (!(std::abs(det) > 1e-9)) return std::nullopt;
    return std::array{(c0 * r[0] + c1 * r[1] + c2 * r[2]) / det, (c1 * r[0] + d1 * r[1] + d2 * r[2]) / det,
                      (c2 * r[0] + d2 * r[1] + e2 * r[2]) / det};
}

class Stairs {
public:
    explicit Stairs(const Ring& line) : count_(static_cast<int>(line.size())) {
        for (const Vec2 p : line) {
            const Vec2 twice{std::round(2 * p.x), std::round(2 * p.y)};
            crossings_.push_back({twice / 2, std::fmod(std::abs(twice.y), 2) == 1});
        }
    }
    [[nodiscard]] Evened evened() const {
        const auto corners = cornersOf();
        std::vector<Vec2> sums(crossings_.size());
        std::vector<double> weights(crossings_.size(), 0);
        const auto take = [&](const Stretch& s) {
            for (int k = 0; k < s.size; ++k) {
                const double t = (k + 0.5) / s.size, size = s.size,
                             weight = t * t * (1 - t) * (1 - t) * size * size * size;
                const auto i = static_cast<std::size_t>((s.first + k) % count_);
                sums[i] += s.on(crossings_[i].at) * weight;
                weights[i] += weight;
            }
        };
        if (corners.empty()) cover(0, count_, take);
        for (std::size_t c = 0; c < corners.size(); ++c) {
            const bool last = c + 1 == corners.size();
            cover(corners[c].before + 1, corners[last ? 0 : c + 1].before + 1 + (last ? count_ : 0), take);
        }
        Evened out;
        auto corner = corners.begin();
        for (int i = 0; i < count_; ++i) {
            const auto k = static_cast<std::size_t>(i);
            out.line.push_back(weights[k] > 0 ? sums[k] / weights[k] : crossings_[k].at);
            for (; corner != corners.end() && corner->before == i; ++corner) {
                out.corners.push_back(out.line.size());
                out.line.push_back(corner->tip);
            }
        }
        return out;
    }

private:
    struct Corner {
        int before; ///< the crossing before it
        int arms;   ///< how long they are together
        Vec2 tip;
    };
    static constexpr int plain = 1000; // arms of a corner that the pixels show

    [[nodiscard]] const Crossing& at(int i) const {
        return crossings_[static_cast<std::size_t>((i + count_) % count_)];
    }
    [[nodiscard]] bool inOneRun(int i, int k) const {
        return at(i).level == at(k).level && (at(i).level ? at(i).at.x == at(k).at.x : at(i).at.y == at(k).at.y);
    }

    [[nodiscard]] std::vector<Corner> cornersOf() const {
        auto found = pixelCorners();
        const auto turned = turnedCorners();
        found.insert(found.end(), turned.begin(), turned.end());
        std::stable_sort(found.begin(), found.end(), [](const Corner& a, const Corner& b) { return a.arms > b.arms; });
        std::vector<Corner> kept;
        for (const auto& c : found)
            if (std::none_of(kept.begin(), kept.end(), [&](const Corner& k) {
                    const int apart = std::abs(c.before - k.before);
                    return std::min(apart, count_ - apart) <= (c.arms == plain ? 1 : 3);
                }))
                kept.push_back(c);
        std::sort(kept.begin(), kept.end(), [](const Corner& a, const Corner& b) { return a.before < b.before; });
        return kept;
    }

    /// Right angles along rows and columns: two runs of crossings, each longer than those of an edge at any other angle
    /// would be beside the other.
    [[nodiscard]] std::vector<Corner> pixelCorners() const {
        std::vector<int> ends; // the last crossing of each run
        for (int i = 0; i < count_; ++i)
            if (!inOneRun(i, i + 1)) ends.push_back(i);
        const auto runs = static_cast<int>(ends.size());
        std::vector<Corner> found;
        if (runs < 4) return found;
        const auto endOf = [&](int r) { return ends[static_cast<std::size_t>((r + runs) % runs)]; };
        const auto sizeOf = [&](int r) { return (endOf(r) - endOf(r - 1) + count_) % count_; };
        const auto turnAfter = [&](int r) {
            const int e = endOf(r);
            return cross(at(e).at - at(e - 1).at, at(e + 2).at - at(e + 1).at);
        };
        for (int r = 0; r < runs; ++r) {
            const int a = sizeOf(r), b = sizeOf(r + 1), e = endOf(r);
            const auto corner = [&](int before, int beyond) {
                const Vec2 p = at(e).at, q = at(beyond).at;
                found.push_back({before % count_, plain, at(e).level ? Vec2{p.x, q.y} : Vec2{q.x, p.y}});
            };
            // Whether a corner has its own pixel is a matter of chance.
            if (a >= 5 && b == 1 && sizeOf(r + 2) == 1 && sizeOf(r + 3) >= 5 && at(e).level != at(e + 3).level &&
                turnAfter(r) * turnAfter(r + 2) > 0) {
                corner(e + 1, e + 3);
            } else if (at(e).level != at(e + 1).level) {
                // The end of a bar two pixels wide.
                const bool cap = (b == 2 && a >= 4 && sizeOf(r + 2) >= 4 && turnAfter(r) * turnAfter(r + 1) > 0) ||
                                 (a == 2 && b >= 4 && sizeOf(r - 1) >= 4 && turnAfter(r) * turnAfter(r - 1) > 0);
                if (cap || (std::min(a, b) >= 3 && std::max(a, b) >= 4)) corner(e, e + 1);
            }
        }
        return found;
    }
    /// Corners of any other angle, where long stretches end on both sides that none goes over.
    [[nodiscard]] std::vector<Corner> turnedCorners() const {
        constexpr double leastTurn = 1.2; // radians: less is told from a bend by the greys alone
        constexpr int leastArm = 8, mostArm = 29;
        std::vector<Corner> found;
        for (int i = 0; i < count_; ++i) {
            // A quick look first.
            const Vec2 a = at(i).at - at(i - 4).at, b = at(i + 5).at - at(i + 1).at;
            if (dot(a, b) > 0.9 * length(a) * length(b)) continue;
            const auto in = longest(i, -1, mostArm), out = longest(i + 1, 1, mostArm);
            if (!in || !out) continue;
            const int arm = std::min(in->size, out->size), over = 3 * arm / 5;
            if (arm < leastArm) continue;
            const Vec2 p = in->on(at(i).at), q = out->on(at(i + 1).at);
            const Vec2 wayIn = in->wayAt(at(i).at), wayOut = out->wayAt(at(i + 1).at);
            const double sine = cross(wayIn, wayOut);
            if (std::atan2(std::abs(sine), dot(wayIn, wayOut)) < leastTurn || std::abs(sine) < 0.2) continue;
            if (over > 5 && through(i + 1 - over / 2, over)) continue;
            const Vec2 tip = p + wayIn * (cross(q - p, wayOut) / sine);
            if (distance(tip, (p + q) / 2) < 1.5) found.push_back({i, in->size + out->size, tip});
        }
        return found;
    }
    /// From a crossing on, or back from it.
    [[nodiscard]] std::optional<Stretch> longest(int from, int way, int most) const {
        std::optional<Stretch> found;
        for (const int size : sizes) {
            if (size > most) break;
            const auto one = through(way > 0 ? from : from - size + 1, size);
            if (!one) break;
            found = one;
        }
        return found;
    }
    /// All longest stretches from `begin` on that end before `end`; all round where that is once round.
    template<class Take> void cover(int begin, int end, Take&& take) const {
        const bool round = end - begin == count_ && begin == 0;
        int reached = begin;
        for (int first = begin; first < end; ++first) {
            const auto one = longest(first, 1, round ? count_ : end - first);
            if (!one || first + one->size <= reached) continue; // within one that began before
            reached = first + one->size;
            take(*one);
        }
        // The last ones end where the piece ends, which the steps of sizes do not meet.
        if (round) return;
        if (const auto last = longest(end - 1, -1, end - begin)) take(*last);
    }
    /// The parabola of least squares, each crossing counting by how narrowly it bounds the edge; none where it misses
    /// one of them.
    [[nodiscard]] std::optional<Stretch> through(int first, int size) const {
        if (size > count_) return std::nullopt;
        first = (first + count_) % count_;
        const Vec2 from = at(first).at, chord = at(first + size - 1).at - from;
        if (length(chord) < 0.45 * size) return std::nullopt; // bent too much for a parabola
        Stretch s{first, size, from + chord / 2, unit(chord), 0, 0, 0};
        const double half = length(chord) / 2, across = std::abs(s.way.y), down = std::abs(s.way.x); // of the normal
        std::array<double, 5> moments{};
        std::array<double, 3> right{};
        for (int k = 0; k < size; ++k) {
            const auto& c = at(first + k);
            const double known = c.level ? across : down, weight = 1 / (known * known + 0.04);
            const double u = s.u(c.at) / half, v = s.v(c.at) * weight;
            double power = weight;
            for (double& sum : moments) sum += power, power *= u;
            right[0] += v, right[1] += u * v, right[2] += u * u * v;
        }
        const auto fit = solved(moments, right);
        if (!fit) return std::nullopt;
        s.a = (*fit)[0], s.b = (*fit)[1] / half, s.c = (*fit)[2] / (half * half);
        for (int k = 0; k < size; ++k) {
            const auto& c = at(first + k);
            const double u = s.u(c.at);
            // Half a pixel along the row or the column, across it as much of that as lies across the edge.
            const Vec2 normal = perpendicular(s.way) - s.way * s.slopeAt(u);
            if (std::abs(s.v(c.at) - s.at(u)) > 0.5 * std::abs(c.level ? normal.x : normal.y)) return std::nullopt;
        }
        return s;
    }

    int count_;
    std::vector<Crossing> crossings_;
};

} // namespace

Evened withoutStairs(const Ring& line) { return Stairs(line).evened(); }

} // namespace ferro::trace
