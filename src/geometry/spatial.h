#pragma once

#include "geometry/vec.h"

#include <memory>
#include <span>
#include <vector>

namespace ferro {

/// Finds boxes by place (an R-tree, packed once). Answers are indices into the boxes given, ascending.
class SpatialIndex {
public:
    explicit SpatialIndex(std::span<const Box> boxes);
    ~SpatialIndex();
    SpatialIndex(SpatialIndex&&) noexcept;
    SpatialIndex& operator=(SpatialIndex&&) noexcept;
    [[nodiscard]] std::vector<std::size_t> meeting(const Box& area) const;

private:
    struct Tree;
    std::unique_ptr<Tree> tree_;
};

} // namespace ferro
