#pragma once

#include "geometry/path.h"

namespace ferro::formats {

/// SVG path data (SVG 1.1, 8.3): all commands, absolute and relative, compact numbers. y is taken upwards as it stands.
/// Circular arcs stay arcs, elliptical ones become cubics (within 1e-6 of their radius).
[[nodiscard]] Result<std::vector<Path>> pathsFromSvgData(std::string_view data);

} // namespace ferro::formats
