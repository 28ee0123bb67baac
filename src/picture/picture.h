#pragma once

#include "base/quantity.h"
#include "base/result.h"
#include "geometry/vec.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::picture {

/// A raster picture as it is worked on: 8 bits a channel, rows from the top, no padding. Cheap to copy.
struct Picture {
    int width = 0, height = 0;
    int channels = 1; ///< 1 grey, 3 red green blue, 4 with straight alpha
    std::shared_ptr<const std::vector<std::uint8_t>> pixels;
    std::optional<double> pxPerMm; ///< when the file says so
    std::vector<Notice> notices;   ///< what had to be guessed or left out while reading

    [[nodiscard]] std::size_t count() const {
        return static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    }
};

/// Whether what a file says of its resolution is more than a habit: cameras and screens write 72 or 96 px an inch
/// whatever they see.
[[nodiscard]] bool saysItsSize(const Picture& picture);
/// "105.8 × 79.4 mm by its 96 px an inch, a habit of cameras and screens": how large it says it is, and whether that is
/// to be believed.
[[nodiscard]] std::string sizeWords(const Picture& picture, Units units);
/// The size that a picture is placed at, mm: what its file says, else 200 mm wide.
[[nodiscard]] Vec2 naturalSize(const Picture& picture);

/// Whether a picture is of light shapes on a see-through ground.
[[nodiscard]] bool isLightOnClear(const Picture& picture);

/// Grey values 0 black to 255 white, rows from the top.
struct Grey {
    int width = 0, height = 0;
    std::vector<std::uint8_t> values;
    [[nodiscard]] std::uint8_t at(int x, int y) const {
        return values[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
};

struct Limits {
    std::size_t pixels = 400'000'000; ///< 400 megapixels: a 2 m sheet at 10 px/mm
    int side = 100'000;
};

/// Reads PNG, JPEG, TIFF, WebP and BMP by what the bytes say, whatever the file is called. 16-bit values are reduced,
/// palettes and CMYK become RGB, resolution comes from the file. Refuses what is over `limits` before it takes memory.
[[nodiscard]] Result<Picture> decoded(std::string_view bytes, const Limits& limits = {});
[[nodiscard]] Result<Picture> load(const std::filesystem::path& file);

/// A PNG file of it, with its resolution.
[[nodiscard]] std::string toPng(const Picture& picture, double pxPerMm);

/// Grey by Rec. 709 weights; see-through parts lie on white paper. What is on a see-through ground and too light to be
/// seen on that comes out as its negative on black: shapes are dark on light either way.
[[nodiscard]] Grey greyOf(const Picture& picture);

using Histogram = std::array<std::size_t, 256>;
[[nodiscard]] Histogram histogramOf(std::span<const std::uint8_t> values);
[[nodiscard]] inline Histogram histogramOf(const Grey& grey) { return histogramOf(std::span(grey.values)); }
/// The level that parts dark from light: values below it are dark. Half way between the greys that ink and paper heap
/// up at, to either side of the level that parts best (Otsu 1979); that level itself where they do not heap up, or
/// where a shadow lies half way. 128 for an even picture.
[[nodiscard]] int automaticLevel(const Histogram& histogram);

/// Whether a picture is good enough for a size (need SR2).
struct Quality {
    double pxPerMm = 0;
    double edgeWidth = 0; ///< px from dark to light across the sharpest edges; about 1 when crisp
    double contrast = 0;  ///< 0 to 1, between the means of dark and light
    double detail = 0;    ///< mm, the smallest detail that will come out
    double evenness = 1;  ///< 0 to 1: the darkest twentieth of the paper against its lightest
    enum class Verdict { good, soft, faint, coarse, uneven } verdict = Verdict::good;
};
/// px from dark to light across the sharpest edges, 1 or more; 0 where there are none.
[[nodiscard]] double edgeWidthOf(const Grey& grey);
[[nodiscard]] Quality qualityOf(const Grey& grey, double pxPerMm);
/// "sharp enough for 0.15 mm detail", "too coarse: ..." in one line.
[[nodiscard]] std::string wordsFor(const Quality& quality);

} // namespace ferro::picture
