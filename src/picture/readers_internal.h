#pragma once

#include "picture/picture.h"

#include <fmt/format.h>

namespace ferro::picture {

[[nodiscard]] Result<Picture> readPng(std::string_view bytes, const Limits& limits);
[[nodiscard]] Result<Picture> readJpeg(std::string_view bytes, const Limits& limits);
[[nodiscard]] Result<Picture> readTiff(std::string_view bytes, const Limits& limits);
[[nodiscard]] Result<Picture> readWebp(std::string_view bytes, const Limits& limits);
[[nodiscard]] Result<Picture> readBmp(std::string_view bytes, const Limits& limits);

/// How a picture's rows and columns are meant to be seen, 1 to 8 as in TIFF 6.0 and Exif 2.3 (tag 0x0112); 1, as they
/// are, where the block does not say. Cameras store what they saw and how they were held.
[[nodiscard]] int orientationFromExif(std::string_view exif);
/// The picture turned and mirrored as it is meant to be seen.
[[nodiscard]] Picture upright(Picture picture, int orientation);

[[nodiscard]] inline Problem damaged(std::string_view format, std::string_view detail) {
    return {.what = fmt::format("The {} picture is damaged or cut short ({}).", format, detail),
            .where = {},
            .mend = "Export or copy it again."};
}

/// The one check of size, made by every reader before it takes memory.
[[nodiscard]] inline Result<void> checkSize(long long width, long long height, const Limits& limits) {
    if (width <= 0 || height <= 0)
        return Problem{.what = "The picture has no pixels.", .where = {}, .mend = "Export it again."};
    if (width > limits.side || height > limits.side ||
        static_cast<std::size_t>(width) * static_cast<std::size_t>(height) > limits.pixels)
        return Problem{.what = fmt::format("The picture is {} × {} px; at most {} megapixels are taken.", width, height,
                                           limits.pixels / 1'000'000),
                       .where = {},
                       .mend = "Scale it down or crop it first."};
    return {};
}

/// A resolution as files state it; absurd ones count as not stated.
[[nodiscard]] inline std::optional<double> sanePxPerMm(double x) {
    return x > 0.04 && x < 1000 ? std::optional(x) : std::nullopt;
}

} // namespace ferro::picture
