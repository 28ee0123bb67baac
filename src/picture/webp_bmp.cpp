#include "picture/readers_internal.h"

#include <cstring>
#include <webp/decode.h>

#define STB_IMAGE_IMPLEMENTATION
#define STB_IMAGE_STATIC
#define STBI_ONLY_BMP
#define STBI_NO_STDIO
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wunused-function"
#include <stb/stb_image.h>
#pragma GCC diagnostic pop

namespace ferro::picture {

namespace {

/// The block of a WebP's container that has this name, as far as there is one.
std::string_view blockOf(std::string_view bytes, std::string_view name) {
    for (std::size_t at = 12; at + 8 <= bytes.size();) {
        std::uint32_t size = 0; // little endian
        for (std::size_t i = 4; i-- > 0;) size = size << 8 | static_cast<unsigned char>(bytes[at + 4 + i]);
        if (bytes.substr(at, 4) == name) return bytes.substr(at + 8, size);
        at += 8 + std::size_t{size} + size % 2;
    }
    return {};
}

} // namespace

Result<Picture> readWebp(std::string_view bytes, const Limits& limits) {
    const auto* data = reinterpret_cast<const std::uint8_t*>(bytes.data());
    WebPBitstreamFeatures features{};
    if (WebPGetFeatures(data, bytes.size(), &features) != VP8_STATUS_OK) return damaged("WebP", "no readable header");
    if (auto size = checkSize(features.width, features.height, limits); !size) return size.problem();
    if (features.has_animation)
        return Problem{.what = "This WebP is a moving picture.", .where = {}, .mend = "Export one frame of it."};
    Picture picture{.width = features.width,
                    .height = features.height,
                    .channels = features.has_alpha ? 4 : 3,
                    .pixels = {},
                    .pxPerMm = {},
                    .notices = {}};
    const int stride = picture.width * picture.channels;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(static_cast<std::size_t>(stride) *
                                                              static_cast<std::size_t>(picture.height));
    const auto* done = features.has_alpha
                           ? WebPDecodeRGBAInto(data, bytes.size(), pixels->data(), pixels->size(), stride)
                           : WebPDecodeRGBInto(data, bytes.size(), pixels->data(), pixels->size(), stride);
    if (!done) return damaged("WebP", "the picture data ends too early");
    picture.pixels = std::move(pixels);
    return upright(std::move(picture), orientationFromExif(blockOf(bytes, "EXIF")));
}

namespace {

/// How many bytes an uncompressed BMP has to have by its header; 0: it is compressed, or too short to say.
std::size_t bmpSize(std::string_view bytes) {
    if (bytes.size() < 34) return 0;
    const auto number = [&](std::size_t at, std::size_t size) {
        std::uint32_t value = 0;
        std::memcpy(&value, bytes.data() + at, size); // little-endian, as this machine
        return value;
    };
    const std::uint32_t compression = number(30, 4);
    if (number(14, 4) < 40 || (compression != 0 && compression != 3 && compression != 6)) return 0;
    const auto width = static_cast<std::size_t>(std::abs(static_cast<std::int32_t>(number(18, 4))));
    const auto height =
        static_cast<std::size_t>(std::abs(static_cast<std::int64_t>(static_cast<std::int32_t>(number(22, 4)))));
    return number(10, 4) + (width * number(28, 2) + 31) / 32 * 4 * height;
}

} // namespace

Result<Picture> readBmp(std::string_view bytes, const Limits& limits) {
    const auto* data = reinterpret_cast<const stbi_uc*>(bytes.data());
    if (bytes.size() > std::size_t{0x7fffffff}) return damaged("BMP", "over 2 GB");
    const int size = static_cast<int>(bytes.size());
    int width = 0, height = 0, channels = 0;
    if (!stbi_info_from_memory(data, size, &width, &height, &channels)) return damaged("BMP", stbi_failure_reason());
    if (auto fits = checkSize(width, height, limits); !fits) return fits.problem();
    if (bytes.size() < bmpSize(bytes)) return damaged("BMP", "the picture data ends too early");
    // Of a plain one of 32 bits the fourth byte is not for use (BITMAPINFOHEADER, BI_RGB).
    const bool isPlain = bytes.size() >= 34 && bytes.substr(30, 4) == std::string_view("\0\0\0\0", 4);
    const int wanted = channels == 4 && !isPlain ? 4 : 3;
    const std::unique_ptr<stbi_uc, void (*)(void*)> raw(
        stbi_load_from_memory(data, size, &width, &height, &channels, wanted), stbi_image_free);
    if (!raw) return damaged("BMP", stbi_failure_reason());
    Picture picture{.width = width, .height = height, .channels = wanted, .pixels = {}, .pxPerMm = {}, .notices = {}};
    picture.pixels = std::make_shared<const std::vector<std::uint8_t>>(
        raw.get(), raw.get() + picture.count() * static_cast<std::size_t>(wanted));
    if (bytes.size() >= 42) {
        std::int32_t perMetre = 0;
        std::memcpy(&perMetre, bytes.data() + 38, 4); // BITMAPINFOHEADER, biXPelsPerMeter
        picture.pxPerMm = sanePxPerMm(perMetre / 1000.0);
    }
    return picture;
}

} // namespace ferro::picture
