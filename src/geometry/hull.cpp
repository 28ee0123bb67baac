#include "geometry/hull.h"

#include <algorithm>

namespace ferro {

std::vector<std::size_t> hullOf(std::span<const Vec2> places) {
    if (places.size() < 3) return {};
    std::vector<std::size_t> order(places.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::sort(order.begin(), order.end(), [&](auto a, auto b) {
        return std::pair(places[a].x, places[a].y) < std::pair(places[b].x, places[b].y);
    });
    std::vector<std::size_t> hull;
    for (int side = 0; side < 2; ++side) {
        const std::size_t base = hull.size();
        for (const auto i : order) {
            while (hull.size() >= base + 2 &&
                   cross(places[hull.back()] - places[hull[hull.size() - 2]], places[i] - places[hull.back()]) <= 0)
                hull.pop_back();
            hull.push_back(i);
        }
        hull.pop_back();
        std::reverse(order.begin(), order.end());
    }
    return hull;
}

} // namespace ferro
