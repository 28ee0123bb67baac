#pragma once

#include "base/result.h"
#include "geometry/path.h"

#include <memory>

namespace ferro::print {

struct Ink {
    double red = 0, green = 0, blue = 0;
};

inline constexpr Ink faded{0.42, 0.40, 0.34}, iron{0.20, 0.29, 0.36}, oxide{0.62, 0.25, 0.13}, noGo{0.70, 0.13, 0.11};
/// Of "#rrggbb"; wood for anything else.
[[nodiscard]] Ink inkOf(const std::string& colour);

/// Pages of A4, upright, in mm from the upper left corner, y down; text in the shipped face. The same calls give the
/// same bytes: no date, no name of a machine.
class Pages {
public:
    static constexpr double width = 210, height = 297, margin = 15;

    explicit Pages(std::string_view title);
    ~Pages();
    Pages(const Pages&) = delete;
    Pages& operator=(const Pages&) = delete;

    /// `size`: mm from baseline to baseline, about; the baseline is at `y`. Too long for `room`: ends in "…".
    void text(double x, double y, std::string_view words, double size = 3.2, bool bold = false, Ink ink = {},
              double room = 1e9);
    /// Its right end at `x`.
    void textTo(double x, double y, std::string_view words, double size = 3.2, bool bold = false, Ink ink = {});
    /// In lines no longer than `room`; answers the baseline after the last.
    double lines(double x, double y, std::string_view words, double room, double size = 3.2, Ink ink = {});
    void rule(double y, double from = margin, double to = width - margin);
    void fill(const Box& box, Ink ink);
    /// Closed or open outlines by `map` (drawing to page), line `thick` mm.
    void outline(const Path& path, const Transform& map, double thick, Ink ink);
    void next(); ///< page
    [[nodiscard]] int count() const;
    /// The bytes of the file; nothing can be drawn any more.
    [[nodiscard]] Result<std::string> finished();

private:
    double widthOf(std::string_view words, double size, bool bold);
    struct Inner;
    std::unique_ptr<Inner> inner_;
};

} // namespace ferro::print
