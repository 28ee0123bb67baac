#include "picture/picture.h"

#include "base/disk.h"
#include "picture/readers_internal.h"

namespace ferro::picture {

bool saysItsSize(const Picture& picture) {
    if (!picture.pxPerMm) return false;
    const double perInch = *picture.pxPerMm * 25.4;
    return std::abs(perInch - 72) > 0.5 && std::abs(perInch - 96) > 0.5;
}

Vec2 naturalSize(const Picture& picture) {
    const double width = picture.pxPerMm ? picture.width / *picture.pxPerMm : 200;
    return {width, width * picture.height / picture.width};
}

std::string sizeWords(const Picture& picture, Units units) {
    const Vec2 own = naturalSize(picture);
    const auto size =
        fmt::format("{} × {}", shown(own.x, Measure::length, units), shown(own.y, Measure::length, units));
    if (!picture.pxPerMm) return "it does not say its size; " + size + " is a guess";
    const auto perInch = std::lround(*picture.pxPerMm * 25.4);
    return saysItsSize(picture) ? fmt::format("{}, by its {} px an inch", size, perInch)
                                : fmt::format("{} by its {} px an inch, a habit of cameras and screens", size, perInch);
}

namespace {

/// Opaque alpha and equal channels carry nothing: drop them, so that big grey scans take a quarter of the memory.
Picture slimmed(Picture picture) {
    if (picture.channels == 1) return picture;
    const auto& in = *picture.pixels;
    const auto n = static_cast<std::size_t>(picture.channels);
    bool opaque = true, grey = true;
    for (std::size_t i = 0; i < in.size() && (opaque || grey); i += n) {
        opaque = opaque && (n < 4 || in[i + 3] == 255);
        grey = grey && in[i] == in[i + 1] && in[i] == in[i + 2];
    }
    const std::size_t keep = opaque ? (grey ? 1 : 3) : n;
    if (keep == n) return picture;
    auto out = std::make_shared<std::vector<std::uint8_t>>(picture.count() * keep);
    for (std::size_t i = 0; i < picture.count(); ++i)
        for (std::size_t c = 0; c < keep; ++c) (*out)[i * keep + c] = in[i * n + c];
    picture.pixels = std::move(out);
    picture.channels = static_cast<int>(keep);
    return picture;
}

Result<Picture> dispatched(std::string_view bytes, const Limits& limits) {
    const auto starts = [&](std::string_view magic) { return bytes.starts_with(magic); };
    if (starts("\x89PNG")) return readPng(bytes, limits);
    if (starts("\xFF\xD8")) return readJpeg(bytes, limits);
    if (starts(std::string_view("II*\0", 4)) || starts(std::string_view("MM\0*", 4)) ||
        starts(std::string_view("II+\0", 4)) || starts(std::string_view("MM\0+", 4)))
        return readTiff(bytes, limits);
    if (starts("RIFF") && bytes.size() > 12 && bytes.substr(8, 4) == "WEBP") return readWebp(bytes, limits);
    if (starts("BM")) return readBmp(bytes, limits);
    return Problem{.what = bytes.empty() ? "The file is empty." : "This is no picture that can be read.",
                   .where = {},
                   .mend = "Use PNG, JPEG, TIFF, WebP or BMP."};
}

} // namespace

Result<Picture> decoded(std::string_view bytes, const Limits& limits) {
    auto picture = dispatched(bytes, limits);
    if (!picture) return picture.problem();
    return slimmed(std::move(*picture));
}

Result<Picture> load(const std::filesystem::path& file) {
    const auto bytes = realDisk().read(file);
    if (!bytes) return bytes.problem();
    auto picture = decoded(*bytes);
    if (!picture) return picture.problem().within(file.filename().string());
    return picture;
}

} // namespace ferro::picture
