#pragma once

#include "picture/picture.h"

#include <cstdio>
#include <jpeglib.h>

namespace ferro::test {

struct JpegSettings {
    J_COLOR_SPACE space = JCS_RGB;
    int quality = 95;
    int perInch = 0; ///< 0: it does not say
};

/// The bytes of pixels as JPEG, colours kept for every other pixel as cameras do.
inline std::string jpegOf(std::vector<std::uint8_t> pixels, int width, int height, const JpegSettings& settings = {}) {
    jpeg_compress_struct how{};
    jpeg_error_mgr errors{};
    how.err = jpeg_std_error(&errors);
    jpeg_create_compress(&how);
    unsigned char* bytes = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&how, &bytes, &size);
    how.image_width = static_cast<JDIMENSION>(width);
    how.image_height = static_cast<JDIMENSION>(height);
    const std::size_t row = pixels.size() / static_cast<std::size_t>(height);
    how.input_components = static_cast<int>(row / static_cast<std::size_t>(width));
    how.in_color_space = settings.space;
    jpeg_set_defaults(&how);
    jpeg_set_quality(&how, settings.quality, TRUE);
    if (settings.perInch > 0)
        how.density_unit = 1, how.X_density = how.Y_density = static_cast<UINT16>(settings.perInch);
    jpeg_start_compress(&how, TRUE);
    while (how.next_scanline < how.image_height) {
        JSAMPROW line = pixels.data() + how.next_scanline * row;
        jpeg_write_scanlines(&how, &line, 1);
    }
    jpeg_finish_compress(&how);
    std::string out(reinterpret_cast<const char*>(bytes), size);
    jpeg_destroy_compress(&how);
    std::free(bytes);
    return out;
}

} // namespace ferro::test
