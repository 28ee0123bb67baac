#include "picture/readers_internal.h"

namespace ferro::picture {

int orientationFromExif(std::string_view exif) {
    if (exif.starts_with(std::string_view("Exif\0\0", 6))) exif.remove_prefix(6);
    if (exif.size() < 8 || (exif.substr(0, 2) != "II" && exif.substr(0, 2) != "MM")) return 1;
    const bool bigEnd = exif[0] == 'M';
    const auto whole = [&](std::size_t at, std::size_t bytes) {
        std::size_t value = 0;
        for (std::size_t i = 0; i < bytes; ++i) {
            const auto byte = static_cast<unsigned char>(exif[at + (bigEnd ? i : bytes - 1 - i)]);
            value = value << 8 | byte;
        }
        return value;
    };
    const std::size_t directory = whole(4, 4);
    if (directory > exif.size() - 2) return 1;
    const std::size_t entries = whole(directory, 2);
    for (std::size_t i = 0; i < entries; ++i) {
        const std::size_t entry = directory + 2 + 12 * i;
        if (entry + 12 > exif.size()) return 1;
        constexpr std::size_t orientationTag = 0x0112, shortType = 3;
        if (whole(entry, 2) == orientationTag)
            return whole(entry + 2, 2) == shortType ? static_cast<int>(whole(entry + 8, 2)) : 1;
    }
    return 1;
}

Picture upright(Picture picture, int orientation) {
    if (orientation < 2 || orientation > 8) return picture;
    const bool lies = orientation >= 5;
    const auto width = static_cast<std::size_t>(picture.width), height = static_cast<std::size_t>(picture.height),
               n = static_cast<std::size_t>(picture.channels);
    const std::size_t across = lies ? height : width, down = lies ? width : height;
    // Where the stored picture's row 0 and column 0 are seen: 2 right, 3 below and right, 4 below; 5 to 8 the same of
    // one whose rows are seen as columns: 5 as it is, 6 right, 7 below and right, 8 below.
    const bool mirrored = orientation == 2 || orientation == 3 || orientation == 6 || orientation == 7;
    const bool upsideDown = orientation == 3 || orientation == 4 || orientation == 7 || orientation == 8;
    auto out = std::make_shared<std::vector<std::uint8_t>>(picture.pixels->size());
    constexpr std::size_t tile = 64; // of rows and columns that stay near at hand
    for (std::size_t top = 0; top < down; top += tile)
        for (std::size_t left = 0; left < across; left += tile)
            for (std::size_t y = top; y < std::min(top + tile, down); ++y)
                for (std::size_t x = left; x < std::min(left + tile, across); ++x) {
                    const std::size_t u = mirrored ? across - 1 - x : x, v = upsideDown ? down - 1 - y : y;
                    const std::size_t from = lies ? u * width + v : v * width + u;
                    std::copy_n(picture.pixels->data() + from * n, n, out->data() + (y * across + x) * n);
                }
    picture.pixels = std::move(out);
    picture.width = static_cast<int>(across);
    picture.height = static_cast<int>(down);
    return picture;
}

} // namespace ferro::picture
