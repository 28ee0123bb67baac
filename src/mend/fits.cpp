#include "mend/fits.h"

#include "geometry/self_crossing.h"
#include "geometry/sides.h"
#include "mend/near_shapes_internal.h"

#include <map>

namespace ferro::mend {

namespace {

using artwork::Joint;

/// How far the walls and the ends of a joint go outwards, each.
struct Growth {
    double walls = 0, ends = 0;
};

Growth growthOf(const Joint& joint, const Fitting& fitting) {
    const double across = fitting.sheet + fitting.clearance;
    switch (joint.kind) {
    case Joint::Kind::slot:
        return {(across - joint.width) / 2,
                joint.tongue ? (joint.tongue->width + fitting.clearance - joint.length) / 2 : 0};
    case Joint::Kind::notch: return {(across - joint.width) / 2, 0};
    case Joint::Kind::finger: break;
    }
    // The tongue's walls that are fingers' too give way as well.
    const double missing = fitting.clearance - (joint.width - joint.tongue->width);
    return {missing / (2 + joint.tongue->shared), 0};
}

std::string sizeOf(const Joint& joint, const Growth& growth) {
    const double width = joint.width + 2 * growth.walls;
    return joint.kind == Joint::Kind::slot ? fmt::format("{:.2f} × {:.2f} mm", width, joint.length + 2 * growth.ends)
                                           : fmt::format("{:.2f} mm wide", width);
}

std::string counted(std::size_t count, Joint::Kind kind) {
    const bool one = count == 1;
    return fmt::format("{} {}", count,
                       kind == Joint::Kind::slot    ? (one ? "slot" : "slots")
                       : kind == Joint::Kind::notch ? (one ? "notch" : "notches")
                                                    : (one ? "finger" : "fingers"));
}

} // namespace

Fits fitsOf(const artwork::Artwork& artwork, std::span<const artwork::ItemId> items, const Fitting& fitting) {
    Fits out;
    out.joints = artwork::jointsIn(artwork, items, fitting.drawnFor);
    std::map<std::pair<artwork::ItemId, int>, std::vector<const Joint*>> byLine;
    for (const auto& joint : out.joints) byLine[{joint.item, joint.opening}].push_back(&joint);
    for (const auto& item : artwork.items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape) continue;
        for (int opening = -1; opening < static_cast<int>(shape->piece.openings.size()); ++opening) {
            const auto found = byLine.find({item.id, opening});
            if (found == byLine.end()) continue;
            const auto& joints = found->second;
            const auto leave = [&](std::string_view why) {
                out.left.push_back(
                    fmt::format("{} of “{}”: {}.", counted(joints.size(), joints[0]->kind), item.name, why));
            };
            for (const auto* joint : joints)
                if (joint->kind == Joint::Kind::slot && !joint->tongue)
                    out.left.push_back(fmt::format("A slot of “{}”: no tongue is about {:.2f} mm wide, so it stays as "
                                                   "long as it is.",
                                                   item.name, joint->length));
            const auto piece = artwork::placed(item);
            const Path was =
                withoutSeams(opening < 0 ? piece.outline : piece.openings[static_cast<std::size_t>(opening)]);
            const auto sides = sidesOf(was);
            std::vector<double> shifts(sides.size());
            double most = 0;
            for (const auto* joint : joints) {
                const auto growth = growthOf(*joint, fitting);
                for (const auto wall : joint->walls) shifts[wall] += growth.walls;
                if (joint->kind == Joint::Kind::slot)
                    for (const auto end : joint->ends) shifts[end] += growth.ends;
            }
            for (const double shift : shifts) most = std::max(most, std::abs(shift));
            if (most < exact) continue;
            if (artwork::isLocked(artwork, item)) {
                leave("it is locked");
                continue;
            }
            auto becomes = withSidesShifted(was, sides, shifts);
            if (!becomes)
                leave("beside it is a curve or no room");
            else if (selfCrossing(*becomes, 1e-6))
                leave("it would run into itself");
            else
                out.changes.push_back(
                    {Truth::joint, item.id, opening, std::move(*becomes), most,
                     fmt::format("{} of “{}”: {}, was {}", counted(joints.size(), joints[0]->kind), item.name,
                                 sizeOf(*joints[0], growthOf(*joints[0], fitting)), sizeOf(*joints[0], {}))});
        }
    }
    return out;
}

} // namespace ferro::mend
