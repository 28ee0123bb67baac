#pragma once

#include "geometry/path.h"

#include <optional>

namespace ferro::formats {

/// SVG path data (SVG 1.1, 8.3): all commands, absolute and relative, compact numbers. y is taken upwards as it stands.
/// Circular arcs stay arcs, elliptical ones become cubics (within 1e-6 of their radius). Spoilt data is a problem; with
/// `broken` given what comes before the fault is drawn (9.5.4) and the fault told there.
[[nodiscard]] Result<std::vector<Path>> pathsFromSvgData(std::string_view data,
                                                         std::optional<Problem>* broken = nullptr);

} // namespace ferro::formats
