#include "artwork/widths.h"

#include "geometry/measure.h"

namespace ferro::artwork {

Inked inkedOnSheet(const Item& item) {
    const auto* shape = shapeOf(item);
    if (!shape || shape->widths.empty()) return {};
    Inked out{transformed(shape->piece.outline, item.place), shape->widths};
    const double scale = std::sqrt(std::abs(item.place.determinant()));
    for (double& width : out.widths) width *= scale;
    // A map that makes cubics of arcs would part the widths from their points.
    if (out.line.segments.size() + 1 != out.widths.size()) out.widths.clear();
    return out;
}

std::vector<double> widthsFor(const Path& now, std::span<const Inked> from) {
    struct Known {
        Ruler ruler;
        const std::vector<double>* widths;
    };
    std::vector<Known> known;
    for (const auto& one : from)
        if (one.widths.size() == one.line.segments.size() + 1 && !one.line.segments.empty())
            known.push_back({Ruler(one.line), &one.widths});
    if (known.empty()) return {};
    const auto at = [&](Vec2 p) {
        double best = std::numeric_limits<double>::infinity(), width = 0;
        for (const auto& [ruler, widths] : known) {
            const auto station = ruler.at(ruler.nearest(p));
            if (const double far = distance(p, station.point); far < best)
                best = far, width = std::lerp((*widths)[station.segment], (*widths)[station.segment + 1], station.t);
        }
        return width;
    };
    std::vector<double> out{at(now.start)};
    for (const auto& s : now.segments) out.push_back(at(s.end));
    return out;
}

} // namespace ferro::artwork
