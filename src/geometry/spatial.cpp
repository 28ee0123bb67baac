#include "geometry/spatial.h"

#include <boost/geometry.hpp>
#include <boost/geometry/index/rtree.hpp>

namespace ferro {

namespace bg = boost::geometry;
using Point = bg::model::point<double, 2, bg::cs::cartesian>;
using Entry = std::pair<bg::model::box<Point>, std::size_t>;

struct SpatialIndex::Tree {
    bg::index::rtree<Entry, bg::index::rstar<16>> entries;
};

SpatialIndex::SpatialIndex(std::span<const Box> boxes) {
    std::vector<Entry> entries;
    entries.reserve(boxes.size());
    for (std::size_t i = 0; i < boxes.size(); ++i)
        if (!boxes[i].empty())
            entries.push_back({{Point(boxes[i].low.x, boxes[i].low.y), Point(boxes[i].high.x, boxes[i].high.y)}, i});
    tree_ = std::make_unique<Tree>(Tree{bg::index::rtree<Entry, bg::index::rstar<16>>(entries)});
}
SpatialIndex::~SpatialIndex() = default;
SpatialIndex::SpatialIndex(SpatialIndex&&) noexcept = default;
SpatialIndex& SpatialIndex::operator=(SpatialIndex&&) noexcept = default;

std::vector<std::size_t> SpatialIndex::meeting(const Box& area) const {
    std::vector<std::size_t> found;
    if (area.empty()) return found;
    const bg::model::box<Point> box(Point(area.low.x, area.low.y), Point(area.high.x, area.high.y));
    for (auto it = tree_->entries.qbegin(bg::index::intersects(box)); it != tree_->entries.qend(); ++it)
        found.push_back(it->second);
    std::sort(found.begin(), found.end());
    return found;
}

void SpatialIndex::askCovering(const Box& area, const std::function<bool(std::size_t)>& isEnough) const {
    if (area.empty()) return;
    constexpr std::size_t crowd = 256;
    const bg::model::box<Point> box(Point(area.low.x, area.low.y), Point(area.high.x, area.high.y));
    std::vector<std::size_t> first;
    auto it = tree_->entries.qbegin(bg::index::covers(box));
    for (; it != tree_->entries.qend() && first.size() < crowd; ++it) first.push_back(it->second);
    if (it == tree_->entries.qend()) std::sort(first.begin(), first.end());
    for (const std::size_t k : first)
        if (isEnough(k)) return;
    for (; it != tree_->entries.qend(); ++it)
        if (isEnough(it->second)) return;
}

} // namespace ferro
