#pragma once

#include "formats/drawing.h"

namespace ferro::formats {

/// DXF, R12 to 2018, as text or binary: lines, arcs, circles, ellipses, polylines with bulges, splines, points, solids,
/// hatch boundaries; blocks put in, nested, in rows and columns, mirrored; layers with colour, those that are off or
/// frozen hidden. Arcs stay arcs, ellipses and splines become lines and arcs within 0.005 mm. Texts, those of blocks
/// too, dimensions and leaders become single lines on layers of notes. Entities stay loose: chaining them is for
/// `mend`. The drawing's `drawn` tells the unit: the one given as `mmPerUnit`, else the header's, else a guess. What
/// could not be read is told in the notices, kind by kind with how many. A file that is no DXF, refers to itself or
/// unfolds into more than two million entities is a problem.
[[nodiscard]] Result<Drawing> drawingFromDxf(std::string_view text, std::optional<double> mmPerUnit = {});

} // namespace ferro::formats
