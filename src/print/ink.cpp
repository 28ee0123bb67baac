#include "print/ink_internal.h"

#include <algorithm>
#include <cairo-pdf.h>
#include <cmath>

namespace ferro::print {

void putPath(cairo_t* to, const Path& path, const Transform& map) {
    const Vec2 start = map(path.start);
    cairo_move_to(to, start.x, start.y);
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        const Vec2 end = map(s.end);
        if (s.kind == Segment::Kind::cubic) {
            const Vec2 a = map(s.a), b = map(s.b);
            cairo_curve_to(to, a.x, a.y, b.x, b.y, end.x, end.y);
        } else if (s.kind == Segment::Kind::arc) {
            const int parts = std::max(1, static_cast<int>(std::ceil(std::abs(sweepOf(path.from(i), s)) / 0.1)));
            for (int k = 1; k <= parts; ++k) {
                const Vec2 p = map(pointAt(path.from(i), s, static_cast<double>(k) / parts));
                cairo_line_to(to, p.x, p.y);
            }
        } else {
            cairo_line_to(to, end.x, end.y);
        }
    }
    if (path.closed) cairo_close_path(to);
}

cairo_surface_t* pdfInto(std::string& bytes, double width, double height, std::string_view title) {
    auto* surface = cairo_pdf_surface_create_for_stream(
        [](void* to, const unsigned char* data, unsigned size) {
            static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), size);
            return CAIRO_STATUS_SUCCESS;
        },
        &bytes, width * pointsPerMm, height * pointsPerMm);
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, std::string(title).c_str());
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, "Ferrograph");
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "");
    return surface;
}

} // namespace ferro::print
