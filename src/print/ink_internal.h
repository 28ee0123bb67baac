#pragma once

#include "geometry/path.h"

#include <cairo.h>
#include <string>

namespace ferro::print {

/// A path by `map` (drawing to page) as cairo's own, to be stroked or filled; arcs within a thousandth of their radius.
void putPath(cairo_t* to, const Path& path, const Transform& map);
/// A PDF surface that appends to `bytes`, mm by mm, without a date: the same bytes every day.
[[nodiscard]] cairo_surface_t* pdfInto(std::string& bytes, double width, double height, std::string_view title);
inline constexpr double pointsPerMm = 72 / 25.4;

} // namespace ferro::print
