#pragma once

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "support/jobs.h"
#include "toolpath/toolpath.h"

namespace ferro::test {

inline toolpath::Toolpath planned(const job::Job& job) {
    Progress progress;
    auto path = toolpath::toolpathOf(job, progress);
    INFO((path ? "" : path.problem().text()));
    REQUIRE(path);
    return *path;
}

/// The edges of pieces, fine enough to judge microns by.
inline Rings ringsOf(const std::vector<Piece>& pieces) {
    Rings rings;
    for (const auto& piece : pieces) {
        rings.push_back(flattened(piece.outline, 0.0005));
        for (const auto& opening : piece.openings) rings.push_back(flattened(opening, 0.0005));
    }
    return rings;
}
/// How far a place is from the nearest edge; below 0 outside of the area.
inline double room(const Rings& rings, Vec2 p) {
    double least = 1e9;
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i)
            least = std::min(least, distanceToLine(p, ring[i], ring[(i + 1) % ring.size()]));
    return contains(rings, p) ? least : -least;
}

} // namespace ferro::test
