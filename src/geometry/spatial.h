#pragma once

#include "geometry/vec.h"

#include <functional>
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
    /// Asks of those that hold all of an area, one after the other, until the answer is true. Ascending too; but of
    /// more than 256 as they lie in the tree: it is not worth putting thousands in order when one of the first will do.
    void askCovering(const Box& area, const std::function<bool(std::size_t)>& isEnough) const;

private:
    struct Tree;
    std::unique_ptr<Tree> tree_;
};

} // namespace ferro
