#include "mend/crossings_internal.h"

#include "geometry/flatten.h"

namespace ferro::mend {

namespace {

/// Where a ray meets a ring, lengths along it.
void meetings(const Ring& ring, Vec2 from, Vec2 way, const std::function<void(double)>& take) {
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Vec2 a = ring[i] - from, b = ring[(i + 1) % ring.size()] - from;
        const double sa = cross(way, a), sb = cross(way, b);
        if ((sa > 0) == (sb > 0)) continue;
        if (const double at = dot(way, lerp(a, b, sa / (sa - sb))); at > 1e-9) take(at);
    }
}

Vec2 centroid(const Ring& ring) {
    Vec2 middle;
    double sum = 0;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Vec2 a = ring[i] - ring[0], b = ring[(i + 1) % ring.size()] - ring[0];
        middle += (a + b) * (cross(a, b) / 6), sum += cross(a, b) / 2;
    }
    return std::abs(sum) > 1e-12 ? ring[0] + middle / sum : ring[0];
}

} // namespace

CutArea::CutArea(const Path& outline, const std::vector<Path>& islands, Rings beyond)
    : outline_(flattened(outline, 0.01)), beyond_(std::move(beyond)) {
    for (const auto& island : islands) islands_.push_back(flattened(island, 0.01));
}

Vec2 CutArea::middle(std::size_t i) const {
    const Ring& ring = islands_[i];
    const Vec2 c = centroid(ring);
    if (contains(ring, c)) return c;
    // The middle of the widest of some lines through it.
    Vec2 best = ring[0];
    double widest = 0;
    for (int k = 0; k < 16; ++k) {
        const Vec2 way{std::cos(k * pi / 16), std::sin(k * pi / 16)};
        std::vector<double> at;
        meetings(ring, c - way * 1e4, way, [&](double d) { at.push_back(d - 1e4); });
        std::sort(at.begin(), at.end());
        for (std::size_t j = 0; j + 1 < at.size(); j += 2)
            if (at[j + 1] - at[j] > widest) widest = at[j + 1] - at[j], best = c + way * ((at[j] + at[j + 1]) / 2);
    }
    return best;
}

std::vector<CutArea::Hit> CutArea::hits(Vec2 from, Vec2 way) const {
    std::vector<Hit> out;
    meetings(outline_, from, way, [&](double at) { out.push_back({at, 0}); });
    for (std::size_t i = 0; i < islands_.size(); ++i)
        meetings(islands_[i], from, way, [&](double at) { out.push_back({at, static_cast<int>(i) + 1}); });
    std::sort(out.begin(), out.end(), [](const Hit& a, const Hit& b) { return a.at < b.at; });
    return out;
}

std::optional<Crossing> CutArea::crossing(std::size_t island, Vec2 inside, Vec2 way, double width) const {
    const auto all = hits(inside, way);
    const int own = static_cast<int>(island) + 1;
    // Out of the island for good or to the next edge of anything.
    if (all.size() < 2 || all[0].ring != own || all[1].ring == own) return std::nullopt;
    Crossing c{inside + way * all[0].at, inside + way * all[1].at, all[1].ring - 1, 0};
    c.cost = c.length();
    // The edges of the band must not be much longer than its middle: it would graze the edge.
    for (const double side : {-0.5, 0.5}) {
        const auto beside = hits(inside + perpendicular(way) * (side * width), way);
        if (beside.size() < 2 || beside[0].ring != own || beside[1].ring != all[1].ring) return std::nullopt;
        c.cost = std::max(c.cost, beside[1].at - beside[0].at);
    }
    // A neck of the plate right behind is no place to hold on to.
    double behind = 1e9;
    for (const auto& ring : beyond_)
        meetings(ring, c.to + way * 1e-6, way, [&](double at) { behind = std::min(behind, at); });
    if (all[1].ring == 0 && all.size() > 2) behind = std::min(behind, all[2].at - all[1].at);
    if (behind < 1.5 * width) c.cost *= 3;
    return c;
}

std::optional<Crossing> CutArea::crossingFromEdge(std::size_t island, Vec2 edge, Vec2 way, double width) const {
    // From the middle of the island there, or as deep as the bridge is wide: both its sides must begin inside.
    double deep = 2 * width;
    meetings(islands_[island], edge - way * 1e-6, -way, [&](double at) { deep = std::min(deep, at); });
    return crossing(island, edge - way * (deep / 2), way, width);
}

std::optional<std::pair<std::size_t, Crossing>> CutArea::through(Vec2 p, double width) const {
    std::optional<std::pair<std::size_t, Crossing>> best;
    double nearest = 1e9;
    for (std::size_t i = 0; i < islands_.size(); ++i) {
        const Path ring = pathOf(islands_[i], true);
        const Ruler ruler(ring);
        const double along = ruler.nearest(p);
        const auto station = ruler.at(along);
        const Vec2 out = p - station.point;
        if (length(out) >= nearest) continue;
        // Outward: away from the island, square to its edge when the point lies on it.
        Vec2 way = unit(out);
        if (contains(islands_[i], p) || length(out) < 1e-6) way = -way;
        if (way == Vec2{}) way = perpendicular(station.tangent) * (areaOf(islands_[i]) > 0 ? -1.0 : 1.0);
        if (const auto c = crossingFromEdge(i, station.point, way, width)) {
            nearest = length(out);
            best = {i, *c};
        }
    }
    return best;
}

std::vector<Crossing> inLineCrossings(const CutArea& area, std::size_t island, int number, double width) {
    const Vec2 middle = area.middle(island);
    constexpr int steps = 180;
    // Upright and level first where it costs little more: that is how letters are held.
    const auto liking = [](double angle) { return 1 + 0.12 * std::abs(std::sin(2 * angle)); };
    std::vector<Crossing> best;
    double least = std::numeric_limits<double>::infinity();
    for (int k = 0; k < steps; ++k) {
        const double phase = pi / 2 + 2 * pi * k / (steps * number);
        std::vector<Crossing> some;
        double cost = 0;
        for (int n = 0; n < number; ++n) {
            const double angle = phase + 2 * pi * n / number;
            const Vec2 way{std::cos(angle), std::sin(angle)};
            const auto c = area.crossing(island, middle, way, width);
            if (!c) break;
            some.push_back(*c);
            cost += c->cost * liking(angle);
        }
        if (static_cast<int>(some.size()) == number && cost < least - 1e-9) least = cost, best = std::move(some);
    }
    return best.empty() ? acrossCrossings(area, island, number, width) : best;
}

std::vector<Crossing> acrossCrossings(const CutArea& area, std::size_t island, int number, double width) {
    const Ring& ring = area.island(island);
    const Ruler ruler(pathOf(ring, true));
    const double whole = ruler.length(), side = areaOf(ring) > 0 ? -1 : 1;
    struct Candidate {
        double along;
        Crossing crossing;
    };
    std::vector<Candidate> all;
    const int steps = static_cast<int>(std::clamp(whole / (width / 4), 48.0, 720.0));
    for (int k = 0; k < steps; ++k) {
        const double along = whole * k / steps;
        // Square to the edge over the width of the bridge, so that a corner does not point it aside.
        const Vec2 before = ruler.at(along - width / 2).point, after = ruler.at(along + width / 2).point;
        const Vec2 way = perpendicular(unit(after - before)) * side;
        if (way == Vec2{}) continue;
        if (const auto c = area.crossingFromEdge(island, ruler.at(along).point, way, width)) all.push_back({along, *c});
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const Candidate& a, const Candidate& b) { return a.crossing.cost < b.crossing.cost; });
    // The cheapest, then the next that keep their distance; closer ones only where there is no other way.
    std::vector<Candidate> chosen;
    for (const double spread : {0.8, 0.5, 0.25})
        for (const auto& c : all) {
            if (static_cast<int>(chosen.size()) == number) break;
            const bool apart = std::all_of(chosen.begin(), chosen.end(), [&](const Candidate& other) {
                const double d = std::abs(c.along - other.along);
                return std::min(d, whole - d) >= spread * whole / std::max(2, number);
            });
            if (apart) chosen.push_back(c);
        }
    std::vector<Crossing> out;
    for (const auto& c : chosen) out.push_back(c.crossing);
    return out;
}

} // namespace ferro::mend
