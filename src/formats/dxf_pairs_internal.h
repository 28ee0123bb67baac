#pragma once

#include "base/result.h"

#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ferro::formats {

/// A DXF file as it is safe to be read by the library: pairs of code and value, lines cut at what it can hold, counts
/// that claim more than the entity has brought down to what it has, comments, invisible things, paper space and the
/// control points of smoothed polylines left out; polylines of the old kind are of the new.
struct DxfPairs {
    std::string text;
    std::map<std::string, std::size_t> leftOut; ///< by reason or kind, how many
    /// What the attributes of blocks say, as tag and value, by which block of the drawing itself, counted from 0.
    std::map<std::size_t, std::vector<std::pair<std::string, std::string>>> attributes;
    int unit = 0;         ///< $INSUNITS, 0 where it is not told
    int measurement = -1; ///< $MEASUREMENT: 0 inch, 1 metric, -1 not told
    std::string damage;   ///< where the file breaks off, empty for a whole one
};
[[nodiscard]] Result<DxfPairs> dxfPairsFrom(std::string_view text);

} // namespace ferro::formats
