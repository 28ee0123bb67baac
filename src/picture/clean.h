#pragma once

#include "base/progress.h"
#include "geometry/path.h"
#include "picture/picture.h"

namespace ferro::picture {

/// A line drawn over a picture with a round brush.
struct BrushStroke {
    Ring points;      ///< mm from the lower left of the picture as it is then
    double width = 1; ///< mm
    friend bool operator==(const BrushStroke&, const BrushStroke&) = default;
};

/// One operation of the clean-up. Which of the values it uses, and their ranges, are told by its kind.
struct CleanStep {
    enum class Kind : std::uint8_t {
        crop,       ///< to `area`, mm
        straighten, ///< by `amount` degrees counter-clockwise, -90 to 90; what comes in at the corners is paper
        tone,       ///< `amount` brightness and `second` contrast, -100 to 100
        evenLight,  ///< shadows and uneven light taken out; no ink is wider than `amount` mm, 0: it may be any width
        blackWhite, ///< at level `amount`, 1 to 255; 0: found automatically
        invert,
        despeckle, ///< dark and light specks under `amount` mm²
        smooth,    ///< Gaussian, `amount` mm
        erase,     ///< `strokes` with paper
        draw       ///< `strokes` with ink
    };
    Kind kind = Kind::crop;
    bool on = true;
    double amount = 0, second = 0;
    Box area;
    std::vector<BrushStroke> strokes;
    friend bool operator==(const CleanStep&, const CleanStep&) = default;
};
/// The words of the command line and the job file: "crop", "straighten", "tone", "even-light" …
[[nodiscard]] std::string_view wordOf(CleanStep::Kind kind);
[[nodiscard]] std::optional<CleanStep::Kind> cleanKindFrom(std::string_view word);
/// A step of a kind with the values that are most often right.
[[nodiscard]] CleanStep freshStep(CleanStep::Kind kind);

struct Cleaned {
    Picture picture;
    /// Where its lower left corner lies, mm from that of the original: cropping and straightening move it.
    Vec2 low;
};
/// Does the steps that are on, in their order, on the whole picture; the original stays as it is. Greys come out grey
/// where a step needs them: even light, black and white and despeckle. A value out of its range is a problem.
[[nodiscard]] Result<Cleaned> cleaned(const Picture& original, const std::vector<CleanStep>& steps, double pxPerMm,
                                      Progress& progress);

/// A copy of at most so many pixels for a look at once; `pxPerMm` of it for `cleaned`.
struct Reduced {
    Picture picture;
    double pxPerMm;
};
[[nodiscard]] Result<Reduced> reduced(const Picture& picture, double pxPerMm, std::size_t pixels);

} // namespace ferro::picture
