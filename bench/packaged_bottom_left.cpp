// The library's headers are of C++17: alone in this file, without any of ours.
#include "packaged_bottom_left.h"

#include <cmath>

#define LIBNEST2D_GEOMETRIES_clipper
#define LIBNEST2D_THREADING_std
#include <libnest2d/libnest2d.hpp>

Strip bottomLeft(const std::vector<Outline>& outlines, double strip, double room, bool turned) {
    using namespace libnest2d;
    constexpr double units = 1000; // in a mm
    using Polygon = PolygonImpl;
    using Placer = placers::_BottomLeftPlacer<Polygon>;
    std::vector<_Item<Polygon>> items;
    for (const auto& outline : outlines) {
        Polygon polygon;
        for (const auto& [x, y] : outline)
            polygon.Contour.emplace_back(std::llround(x * units), std::llround(y * units));
        if (ClipperLib::Orientation(polygon.Contour)) ClipperLib::ReversePath(polygon.Contour);
        polygon.Contour.push_back(polygon.Contour.front());
        items.emplace_back(polygon);
        if (turned) items.back().rotation(Degrees(90));
    }
    // Its strip goes up, for parts fall down before they go to the left.
    const auto wide = static_cast<ClipperLib::cInt>(strip * units), high = static_cast<ClipperLib::cInt>(room * units);
    _Nester<Placer, selections::_FirstFitSelection<Polygon>> nester(_Box<PointImpl>(wide, high, {wide / 2, high / 2}));
    Placer::Config config;
    config.allow_rotations = true;
    nester.configure(config);
    nester.execute(items.begin(), items.end());
    ClipperLib::cInt top = 0;
    Strip result;
    for (const auto& item : items)
        if (item.binId() == 0)
            top = std::max(top, getY(item.boundingBox().maxCorner()));
        else
            ++result.left;
    result.length = static_cast<double>(top) / units;
    return result;
}
