#pragma once

#include "picture/picture.h"

#include <cstdio>
#include <jpeglib.h>

namespace ferro::test {

/// The bytes of a picture of three channels as JPEG, colours kept for every other pixel as cameras do.
inline std::string jpegOf(const picture::Picture& picture, int quality) {
    jpeg_compress_struct how{};
    jpeg_error_mgr errors{};
    how.err = jpeg_std_error(&errors);
    jpeg_create_compress(&how);
    unsigned char* bytes = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&how, &bytes, &size);
    how.image_width = static_cast<JDIMENSION>(picture.width);
    how.image_height = static_cast<JDIMENSION>(picture.height);
    how.input_components = 3;
    how.in_color_space = JCS_RGB;
    jpeg_set_defaults(&how);
    jpeg_set_quality(&how, quality, TRUE);
    jpeg_start_compress(&how, TRUE);
    auto pixels = *picture.pixels;
    while (how.next_scanline < how.image_height) {
        JSAMPROW row = pixels.data() + std::size_t{how.next_scanline} * std::size_t{how.image_width} * 3;
        jpeg_write_scanlines(&how, &row, 1);
    }
    jpeg_finish_compress(&how);
    jpeg_destroy_compress(&how);
    std::string out(reinterpret_cast<const char*>(bytes), size);
    std::free(bytes);
    return out;
}

} // namespace ferro::test
