#include "artwork/joints.h"

#include "geometry/sides.h"

#include <algorithm>
#include <set>

namespace ferro::artwork {

namespace {

constexpr double square = 0.03; ///< cosine of what is nearly a right angle

/// Sides with their corners, the material on their left.
struct Rim {
    const Item* item;
    int opening;
    std::vector<StraightSide> sides;
    [[nodiscard]] const StraightSide& at(std::size_t k) const { return sides[k % sides.size()]; }
    /// +1: the corner behind a side is one of the material, -1: of the void; 0: none, or not square.
    [[nodiscard]] int turn(std::size_t k) const {
        const auto &here = at(k), &next = at(k + 1);
        if (!here.cornered || std::abs(dot(here.along(), next.along())) > square) return 0;
        return cross(here.along(), next.along()) > 0 ? 1 : -1;
    }
};

struct Found {
    Joint::Tongue tongue;
    double depth = 0;
    std::size_t rim = 0;
    std::array<std::size_t, 2> walls{};
};

bool isAbout(double value, double thickness) { return std::abs(value - thickness) <= jointTolerance * thickness; }

Vec2 middleOf(const StraightSide& a, const StraightSide& b) { return (a.from + a.to + b.from + b.to) / 4; }

void addJoints(const Rim& rim, double thickness, std::vector<Joint>& out) {
    const std::size_t count = rim.sides.size();
    if (rim.opening >= 0 && count == 4) {
        for (std::size_t k = 0; k < 4; ++k)
            if (rim.turn(k) != -1) return;
        const std::size_t wall = rim.at(0).length() >= rim.at(1).length() ? 0 : 1;
        const double width = rim.at(wall + 1).length();
        if (!isAbout(width, thickness)) return;
        out.push_back({Joint::Kind::slot,
                       rim.item->id,
                       rim.opening,
                       middleOf(rim.at(0), rim.at(2)),
                       width,
                       rim.at(wall).length(),
                       {wall, wall + 2},
                       {1 - wall, 3 - wall},
                       {}});
        return;
    }
    if (count < 5) return;
    for (std::size_t k = 0; k < count; ++k) {
        // In along a wall, across the floor, out again.
        if (rim.turn(k) != -1 || rim.turn(k + 1) != -1 || rim.turn(k + count - 1) == -1 || rim.turn(k + 2) == -1)
            continue;
        const auto &wall = rim.at(k), &floor = rim.at(k + 1), &other = rim.at(k + 2);
        const double width = floor.length(), depth = std::min(wall.length(), other.length());
        const bool notch = isAbout(width, thickness) && depth >= thickness / 2;
        if (!notch && !isAbout(depth, thickness)) continue;
        const Vec2 middle = (floor.from + floor.to) / 2 - perpendicular(floor.along()) * (depth / 2);
        out.push_back({notch ? Joint::Kind::notch : Joint::Kind::finger,
                       rim.item->id,
                       rim.opening,
                       middle,
                       width,
                       depth,
                       {k, (k + 2) % count},
                       {},
                       {}});
    }
}

void addTongues(const Rim& rim, std::size_t index, double thickness, std::vector<Found>& out) {
    const std::size_t count = rim.sides.size();
    if (rim.opening >= 0 || count < 5) return;
    for (std::size_t k = 0; k < count; ++k) {
        if (rim.turn(k) != 1 || rim.turn(k + 1) != 1) continue;
        const bool before = rim.turn(k + count - 1) == -1, behind = rim.turn(k + 2) == -1;
        if (!before && !behind) continue;
        const auto &wall = rim.at(k), &end = rim.at(k + 1), &other = rim.at(k + 2);
        const double depth = std::min(before ? wall.length() : 1e9, behind ? other.length() : 1e9);
        if (depth < thickness / 2) continue;
        const Vec2 middle = (end.from + end.to) / 2 + perpendicular(end.along()) * (depth / 2);
        out.push_back({{rim.item->id, middle, end.length(), 0}, depth, index, {k, (k + 2) % count}});
    }
}

} // namespace

std::vector<Joint> jointsIn(const Artwork& artwork, std::span<const ItemId> items, double thickness) {
    std::vector<Rim> rims;
    for (const auto& item : artwork.items) {
        const auto* shape = shapeOf(item);
        if (!shape || !shape->piece.outline.closed || isHidden(artwork, item) || isNote(artwork, item)) continue;
        const Piece piece = placed(item);
        for (int opening = -1; opening < static_cast<int>(piece.openings.size()); ++opening)
            rims.push_back({&item, opening,
                            sidesOf(withoutSeams(opening < 0 ? piece.outline
                                                             : piece.openings[static_cast<std::size_t>(opening)]))});
    }
    const std::set<ItemId> named(items.begin(), items.end());
    std::vector<Joint> joints;
    std::vector<Found> tongues;
    std::vector<std::pair<std::size_t, std::size_t>> ofRim; // the joints of each rim
    for (std::size_t r = 0; r < rims.size(); ++r) {
        const std::size_t first = joints.size();
        addJoints(rims[r], thickness, joints);
        addTongues(rims[r], r, thickness, tongues);
        ofRim.emplace_back(first, joints.size());
    }
    for (auto& tongue : tongues)
        for (std::size_t j = ofRim[tongue.rim].first; j < ofRim[tongue.rim].second; ++j)
            if (joints[j].kind == Joint::Kind::finger)
                for (const auto wall : joints[j].walls)
                    tongue.tongue.shared += wall == tongue.walls[0] || wall == tongue.walls[1];
    std::stable_sort(tongues.begin(), tongues.end(),
                     [](const Found& a, const Found& b) { return a.tongue.width < b.tongue.width; });
    for (auto& joint : joints) {
        if (joint.kind == Joint::Kind::notch) continue;
        const double wanted = joint.kind == Joint::Kind::slot ? joint.length : joint.width;
        const double off = std::max(0.6, 0.04 * wanted);
        auto at = std::lower_bound(tongues.begin(), tongues.end(), wanted - off,
                                   [](const Found& f, double width) { return f.tongue.width < width; });
        const Found* best = nullptr;
        const auto worse = [&](const Found& f) {
            // A part does not go into itself where there is another; of tongues alike most lie within the row.
            return std::tuple(f.tongue.item == joint.item, std::round(std::abs(f.tongue.width - wanted) * 1e6),
                              -f.tongue.shared);
        };
        for (; at != tongues.end() && at->tongue.width <= wanted + off; ++at) {
            if (joint.kind == Joint::Kind::finger && !isAbout(at->depth, thickness)) continue;
            if (!best || worse(*at) < worse(*best)) best = &*at;
        }
        if (best) joint.tongue = best->tongue;
    }
    std::erase_if(joints, [&](const Joint& joint) {
        const bool asked = named.empty() || named.contains(joint.item);
        return !asked || (joint.kind == Joint::Kind::finger && !joint.tongue);
    });
    return joints;
}

} // namespace ferro::artwork
