#pragma once

#include <compare>
#include <cstdint>

namespace ferro {

/// A name that outlives an undo: things refer to each other by id and look it up in the snapshot at hand.
/// 0 names nothing. `Tag` keeps an item from being taken for a step.
template<class Tag> struct Id {
    std::uint32_t value = 0;
    explicit operator bool() const { return value != 0; }
    friend auto operator<=>(const Id&, const Id&) = default;
};

} // namespace ferro
