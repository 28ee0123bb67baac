#include "geometry/place_fit.h"

#include "geometry/hull.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ferro {

namespace {

/// Solves a·x = b, n × n, row by row, with pivots (Gauss); false where it has no one answer.
bool solved(std::vector<double>& a, std::vector<double>& b) {
    const std::size_t n = b.size();
    for (std::size_t k = 0; k < n; ++k) {
        std::size_t best = k;
        for (std::size_t i = k + 1; i < n; ++i)
            if (std::abs(a[i * n + k]) > std::abs(a[best * n + k])) best = i;
        if (!(std::abs(a[best * n + k]) > 1e-12)) return false;
        for (std::size_t j = 0; j < n; ++j) std::swap(a[k * n + j], a[best * n + j]);
        std::swap(b[k], b[best]);
        for (std::size_t i = k + 1; i < n; ++i) {
            const double by = a[i * n + k] / a[k * n + k];
            for (std::size_t j = k; j < n; ++j) a[i * n + j] -= by * a[k * n + j];
            b[i] -= by * b[k];
        }
    }
    for (std::size_t k = n; k-- > 0;) {
        for (std::size_t j = k + 1; j < n; ++j) b[k] -= a[k * n + j] * b[j];
        b[k] /= a[k * n + k];
    }
    return true;
}

Vec2 meanOf(std::span<const Vec2> places) {
    Vec2 sum;
    for (const Vec2 p : places) sum = sum + p;
    return sum / static_cast<double>(std::max<std::size_t>(places.size(), 1));
}
double spreadOf(std::span<const Vec2> places, Vec2 mean) {
    double far = 0;
    for (const Vec2 p : places) far = std::max(far, distance(p, mean));
    return std::max(far, 1e-9);
}
double worstOf(const std::vector<double>& off) { return off.empty() ? 0 : *std::max_element(off.begin(), off.end()); }

/// A shift, turn and size.
Transform similarity(std::span<const Vec2> from, std::span<const Vec2> to) {
    const Vec2 a = meanOf(from), b = meanOf(to);
    double along = 0, across = 0, size = 0;
    for (std::size_t i = 0; i < from.size(); ++i) {
        along += dot(from[i] - a, to[i] - b);
        across += cross(from[i] - a, to[i] - b);
        size += dot(from[i] - a, from[i] - a);
    }
    if (!(size > 0)) return Transform::moved(b - a);
    const double co = along / size, si = across / size;
    return {co, si, -si, co, b.x - co * a.x + si * a.y, b.y - si * a.x - co * a.y};
}

/// A perspective by its eight numbers, both planes around 0 and about 1 wide.
std::optional<std::array<double, 9>> perspective(std::span<const Vec2> from, std::span<const Vec2> to) {
    // Hartley 1997: direct linear transformation of places brought to one size.
    std::vector<double> a(64, 0), b(8, 0);
    for (std::size_t i = 0; i < from.size(); ++i) {
        const auto [x, y] = from[i];
        const double rows[2][8] = {{x, y, 1, 0, 0, 0, -to[i].x * x, -to[i].x * y},
                                   {0, 0, 0, x, y, 1, -to[i].y * x, -to[i].y * y}};
        const double wanted[2] = {to[i].x, to[i].y};
        for (int r = 0; r < 2; ++r)
            for (std::size_t j = 0; j < 8; ++j) {
                b[j] += rows[r][j] * wanted[r];
                for (std::size_t k = 0; k < 8; ++k) a[j * 8 + k] += rows[r][j] * rows[r][k];
            }
    }
    if (!solved(a, b)) return std::nullopt;
    return std::array<double, 9>{b[0], b[1], b[2], b[3], b[4], b[5], b[6], b[7], 1};
}
Vec2 through(const std::array<double, 9>& h, Vec2 p) {
    const double w = h[6] * p.x + h[7] * p.y + h[8];
    return {(h[0] * p.x + h[1] * p.y + h[2]) / w, (h[3] * p.x + h[4] * p.y + h[5]) / w};
}
std::array<double, 9> times(const std::array<double, 9>& a, const std::array<double, 9>& b) {
    std::array<double, 9> out{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            for (std::size_t k = 0; k < 3; ++k) out[3 * i + j] += a[3 * i + k] * b[3 * k + j];
    return out;
}
Vec2 straightened(const Viewed& view, Vec2 px) {
    const Vec2 off = (px - view.middle) / view.reach;
    const double r2 = dot(off, off);
    return off * (1 + r2 * (view.bend[0] + r2 * (view.bend[1] + r2 * view.bend[2])));
}

/// The four of a hull that enclose most, counter-clockwise.
std::optional<std::array<std::size_t, 4>> widestFour(std::span<const Vec2> places) {
    const auto hull = hullOf(places);
    std::optional<std::array<std::size_t, 4>> best;
    double most = 0;
    const std::size_t n = hull.size();
    for (std::size_t a = 0; a < n; ++a)
        for (std::size_t c = a + 2; c < n; ++c) {
            // Each side of the diagonal by itself: the farthest from it.
            const Vec2 from = places[hull[a]], way = places[hull[c]] - from;
            const auto far = [&](std::size_t k) { return std::abs(cross(way, places[hull[k % n]] - from)); };
            std::size_t b = a + 1, d = c + 1;
            for (std::size_t k = a + 1; k < c; ++k)
                if (far(k) > far(b)) b = k;
            if (c + 1 >= a + n) continue;
            for (std::size_t k = c + 1; k < a + n; ++k)
                if (far(k) > far(d)) d = k;
            const double area = far(b) + far(d);
            if (far(b) > 0 && far(d) > 0 && area > most * (1 + 1e-9))
                most = area, best = {hull[a], hull[b], hull[c], hull[d % n]};
        }
    return best;
}

/// Each of the wanted with the nearest found within `tolerance`, each found once, nearest first.
std::vector<std::optional<std::size_t>> paired(const std::vector<Vec2>& wanted, std::span<const Vec2> found,
                                               double tolerance) {
    std::vector<std::tuple<double, std::size_t, std::size_t>> near;
    for (std::size_t i = 0; i < wanted.size(); ++i)
        for (std::size_t k = 0; k < found.size(); ++k)
            if (const double off = distance(wanted[i], found[k]); off <= tolerance) near.emplace_back(off, i, k);
    std::sort(near.begin(), near.end());
    std::vector<std::optional<std::size_t>> out(wanted.size());
    std::vector<char> used(found.size(), 0);
    for (const auto& [off, i, k] : near)
        if (!out[i] && !used[k]) out[i] = k, used[k] = 1;
    return out;
}

} // namespace

double PlaceFit::worst() const { return worstOf(off); }
double ViewFit::worst() const { return worstOf(off); }

PlaceFit fittedMap(std::span<const Vec2> from, std::span<const Vec2> to) {
    PlaceFit fit;
    fit.map = similarity(from, to);
    if (from.size() >= 3) {
        const Vec2 a = meanOf(from), b = meanOf(to);
        double xx = 0, xy = 0, yy = 0;
        Vec2 ux, uy;
        for (std::size_t i = 0; i < from.size(); ++i) {
            const Vec2 p = from[i] - a, q = to[i] - b;
            xx += p.x * p.x, xy += p.x * p.y, yy += p.y * p.y;
            ux = ux + q * p.x, uy = uy + q * p.y;
        }
        const double det = xx * yy - xy * xy;
        if (det > 1e-6 * (xx + yy) * (xx + yy)) { // else in a line: nothing is known across it
            const Vec2 x = (ux * yy - uy * xy) / det, y = (uy * xx - ux * xy) / det;
            fit.map = {x.x, x.y, y.x, y.y, b.x - x.x * a.x - y.x * a.y, b.y - x.y * a.x - y.y * a.y};
        }
    }
    for (std::size_t i = 0; i < from.size(); ++i) fit.off.push_back(distance(fit.map(from[i]), to[i]));
    return fit;
}

std::vector<std::optional<std::size_t>> matchedPlaces(std::span<const Vec2> expected, std::span<const Vec2> found,
                                                      double tolerance) {
    std::vector<std::optional<std::size_t>> best(expected.size());
    std::size_t most = 0;
    double leastOff = 0, leastTurn = 0;
    // The farthest two first: what they say of the turn holds for all between.
    std::vector<std::tuple<double, std::size_t, std::size_t>> bases;
    for (std::size_t a = 0; a < expected.size(); ++a)
        for (std::size_t b = a + 1; b < expected.size(); ++b)
            bases.emplace_back(-distance(expected[a], expected[b]), a, b);
    std::sort(bases.begin(), bases.end());
    constexpr std::size_t tries = 12; // some of them may be hidden
    if (bases.size() > tries) bases.resize(tries);
    for (const auto& [size, a, b] : bases)
        for (std::size_t k = 0; k < found.size(); ++k)
            for (std::size_t m = 0; m < found.size(); ++m) {
                const double ratio = -distance(found[k], found[m]) / size;
                if (k == m || !(ratio > 0.85 && ratio < 1.18)) continue;
                const Vec2 from[] = {expected[a], expected[b]}, to[] = {found[k], found[m]};
                const Transform map = similarity(from, to);
                std::vector<Vec2> wanted;
                for (const Vec2 p : expected) wanted.push_back(map(p));
                const auto pairs = paired(wanted, found, 2 * tolerance);
                std::size_t count = 0;
                double off = 0;
                for (std::size_t i = 0; i < pairs.size(); ++i)
                    if (pairs[i]) ++count, off += distance(wanted[i], found[*pairs[i]]);
                const double turn = std::abs(std::atan2(map.b, map.a));
                if (count < 2 || count < most) continue;
                // What is hardly better says nothing: the paper lies as it was put down.
                const bool clearly = count > most || off < leastOff - 0.5 * tolerance * static_cast<double>(count);
                const bool asWell = off < leastOff + 0.5 * tolerance * static_cast<double>(count);
                if (clearly || (asWell && turn < leastTurn))
                    most = count, leastOff = off, leastTurn = turn, best = pairs;
            }
    return best;
}

Vec2 Viewed::operator()(Vec2 px) const { return through(plane, straightened(*this, px)); }

Vec2 Viewed::seen(Vec2 mm) const {
    // By Newton's way over the numeric derivative: the lens bends little.
    Vec2 px = middle;
    for (int k = 0; k < 60; ++k) {
        const double h = 0.01 * reach;
        const Vec2 here = (*this)(px), dx = ((*this)(px + Vec2{h, 0}) - here) / h,
                   dy = ((*this)(px + Vec2{0, h}) - here) / h;
        const double det = cross(dx, dy);
        const Vec2 left = mm - here;
        if (!(std::abs(det) > 1e-15) || length(left) < 1e-7) break;
        Vec2 step{cross(left, dy) / det, cross(dx, left) / det};
        if (const double far = length(step); far > reach / 2) step = step * (reach / 2 / far);
        px = px + step;
    }
    return px;
}

Result<ViewFit> fittedView(std::span<const Vec2> px, std::span<const Vec2> mm, int width, int height) {
    const Problem unclear{.what = "These places do not tell how the camera stands.",
                          .where = {},
                          .mend = "It takes four marks or more, not in a line."};
    if (px.size() < 4) return unclear;
    Viewed view;
    view.width = width, view.height = height;
    view.middle = {width / 2.0, height / 2.0};
    view.reach = std::hypot(width, height) / 2;
    const Vec2 mean = meanOf(mm);
    const double size = spreadOf(mm, mean);
    std::vector<Vec2> from, to;
    for (std::size_t i = 0; i < px.size(); ++i)
        from.push_back(straightened(view, px[i])), to.push_back((mm[i] - mean) / size);
    const auto start = perspective(from, to);
    if (!start) return unclear;
    view.plane = *start;
    // Which of eight numbers of the plane, three of the lens and two of its middle are free.
    const std::size_t bends = px.size() >= 24 ? 3 : px.size() >= 14 ? 2 : px.size() >= 8 ? 1 : 0;
    const std::size_t count = 8 + bends + (px.size() >= 24 ? 2 : 0);
    const auto put = [&](Viewed& into, std::size_t k, double by) {
        if (k < 8)
            into.plane[k] += by;
        else if (k < 8 + bends)
            into.bend[k - 8] += by;
        else
            (k == 8 + bends ? into.middle.x : into.middle.y) += by * into.reach;
    };
    const auto offOf = [&](const Viewed& by) {
        std::vector<double> off;
        for (std::size_t i = 0; i < px.size(); ++i) {
            const Vec2 d = by(px[i]) - to[i];
            off.push_back(d.x), off.push_back(d.y);
        }
        return off;
    };
    const auto sumOf = [](const std::vector<double>& off) {
        double sum = 0;
        for (const double d : off) sum += d * d;
        return sum;
    };
    auto off = offOf(view);
    double damping = 1e-6;
    for (int round = 0; round < 100 && damping < 1e6; ++round) {
        std::vector<std::vector<double>> slope;
        constexpr double h = 1e-6;
        for (std::size_t k = 0; k < count; ++k) {
            Viewed there = view;
            put(there, k, h);
            slope.push_back(offOf(there));
            for (std::size_t i = 0; i < off.size(); ++i) slope[k][i] = (slope[k][i] - off[i]) / h;
        }
        std::vector<double> a(count * count, 0), b(count, 0);
        for (std::size_t j = 0; j < count; ++j) {
            for (std::size_t i = 0; i < off.size(); ++i) b[j] -= slope[j][i] * off[i];
            for (std::size_t k = 0; k < count; ++k)
                for (std::size_t i = 0; i < off.size(); ++i) a[j * count + k] += slope[j][i] * slope[k][i];
            a[j * count + j] *= 1 + damping;
        }
        if (!solved(a, b)) break;
        Viewed next = view;
        for (std::size_t k = 0; k < count; ++k) put(next, k, b[k]);
        auto nextOff = offOf(next);
        if (sumOf(nextOff) < sumOf(off)) {
            const bool done = sumOf(off) - sumOf(nextOff) < 1e-14 * sumOf(off);
            view = next, off = std::move(nextOff), damping = std::max(damping / 10, 1e-12);
            if (done) break;
        } else {
            damping *= 10;
        }
    }
    view.plane = times({size, 0, mean.x, 0, size, mean.y, 0, 0, 1}, view.plane);
    ViewFit fit{view, {}};
    for (std::size_t i = 0; i < px.size(); ++i) fit.off.push_back(distance(view(px[i]), mm[i]));
    return fit;
}

Result<std::vector<std::optional<std::size_t>>> matchedField(std::span<const Vec2> field, std::span<const Vec2> px,
                                                             int width, int height) {
    const auto corners = widestFour(field);
    std::vector<Vec2> up; // y up, so that both run the same way round
    for (const Vec2 p : px) up.push_back({p.x, -p.y});
    const auto seen = widestFour(up);
    const Problem unclear{.what = "The marks in the picture are not told apart.",
                          .where = {},
                          .mend = "Let the camera see the whole field and nothing dark and round beside it."};
    if (!corners || !seen) return unclear;
    std::vector<std::optional<std::size_t>> best(field.size());
    std::size_t most = 0;
    for (std::size_t turn = 0; turn < 4; ++turn) {
        std::vector<Vec2> from, to;
        for (std::size_t k = 0; k < 4; ++k)
            from.push_back(px[(*seen)[(k + turn) % 4]]), to.push_back(field[(*corners)[k]]);
        auto pairs = std::vector<std::optional<std::size_t>>(field.size());
        // From the corners, then from all that lies near enough, until no more do: the lens moves those between.
        for (int round = 0; round < 4; ++round) {
            const auto fit = fittedView(from, to, width, height);
            if (!fit) break;
            std::vector<Vec2> wanted, there;
            for (const Vec2 p : field) wanted.push_back(p);
            for (const Vec2 p : px) there.push_back(fit->view(p));
            double nearest = std::numeric_limits<double>::infinity();
            for (std::size_t i = 0; i < field.size(); ++i)
                for (std::size_t k = i + 1; k < field.size(); ++k)
                    nearest = std::min(nearest, distance(field[i], field[k]));
            pairs = paired(wanted, there, nearest / 3);
            from.clear(), to.clear();
            for (std::size_t i = 0; i < pairs.size(); ++i)
                if (pairs[i]) from.push_back(px[*pairs[i]]), to.push_back(field[i]);
            if (from.size() < 4) break;
        }
        const auto count = static_cast<std::size_t>(
            std::count_if(pairs.begin(), pairs.end(), [](const auto& p) { return p.has_value(); }));
        if (count > most) most = count, best = pairs;
    }
    if (most < 4 || 2 * most <= field.size()) return unclear;
    return best;
}

} // namespace ferro
