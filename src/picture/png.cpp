#include "picture/readers_internal.h"

#include <csetjmp>
#include <cstring>
#include <png.h>

namespace ferro::picture {

namespace {

struct Source {
    std::string_view bytes;
    std::size_t at = 0;
    std::string complaint;
};

void readBytes(png_structp png, png_bytep out, png_size_t size) {
    auto& source = *static_cast<Source*>(png_get_io_ptr(png));
    if (source.bytes.size() - source.at < size) png_error(png, "the file ends too early");
    std::memcpy(out, source.bytes.data() + source.at, size);
    source.at += size;
}
void onError(png_structp png, png_const_charp text) {
    static_cast<Source*>(png_get_error_ptr(png))->complaint = text;
    png_longjmp(png, 1);
}

/// What outlives a jump out of the library.
struct Work {
    Source source;
    Picture picture;
    std::vector<std::uint8_t> pixels;
    std::vector<png_bytep> rows;
    Result<void> size;
    int orientation = 1;
};

/// Out of line, so that nothing of it lives in the frame that the library jumps back to.
[[gnu::noinline]] bool decode(png_structp png, png_infop info, Work& work, const Limits& limits) {
    png_set_user_limits(png, static_cast<png_uint_32>(limits.side), static_cast<png_uint_32>(limits.side));
    png_set_chunk_malloc_max(png, 64u << 20);
    png_read_info(png, info);
    auto& picture = work.picture;
    work.size = checkSize(png_get_image_width(png, info), png_get_image_height(png, info), limits);
    if (!work.size) return false;
    png_set_scale_16(png);
    png_set_expand(png);
    png_set_interlace_handling(png);
    if (png_get_color_type(png, info) == PNG_COLOR_TYPE_GRAY_ALPHA ||
        (png_get_color_type(png, info) == PNG_COLOR_TYPE_GRAY && png_get_valid(png, info, PNG_INFO_tRNS)))
        png_set_gray_to_rgb(png);
    png_read_update_info(png, info);
    picture.width = static_cast<int>(png_get_image_width(png, info));
    picture.height = static_cast<int>(png_get_image_height(png, info));
    picture.channels = png_get_channels(png, info);
    png_uint_32 x = 0, y = 0;
    int unit = 0;
    if (png_get_pHYs(png, info, &x, &y, &unit) && unit == PNG_RESOLUTION_METER)
        picture.pxPerMm = sanePxPerMm(x / 1000.0);
    png_bytep exif = nullptr;
    png_uint_32 exifSize = 0;
    if (png_get_eXIf_1(png, info, &exifSize, &exif))
        work.orientation = orientationFromExif({reinterpret_cast<const char*>(exif), exifSize});
    const std::size_t stride = png_get_rowbytes(png, info);
    work.pixels.resize(stride * static_cast<std::size_t>(picture.height));
    work.rows.resize(static_cast<std::size_t>(picture.height));
    for (std::size_t i = 0; i < work.rows.size(); ++i) work.rows[i] = work.pixels.data() + i * stride;
    png_read_image(png, work.rows.data());
    return true;
}

bool decodeOrReturn(png_structp png, png_infop info, Work& work, const Limits& limits) {
    if (setjmp(png_jmpbuf(png))) return false;
    return decode(png, info, work, limits);
}

} // namespace

Result<Picture> readPng(std::string_view bytes, const Limits& limits) {
    Work work;
    work.source.bytes = bytes;
    png_structp png =
        png_create_read_struct(PNG_LIBPNG_VER_STRING, &work.source, onError, [](png_structp, png_const_charp) {});
    png_infop info = png_create_info_struct(png);
    png_set_read_fn(png, &work.source, readBytes);
    const bool fine = decodeOrReturn(png, info, work, limits);
    png_destroy_read_struct(&png, &info, nullptr);
    if (!work.size) return work.size.problem();
    if (!fine) return damaged("PNG", work.source.complaint);
    work.picture.pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(work.pixels));
    return upright(std::move(work.picture), work.orientation);
}

std::string toPng(const Picture& picture, double pxPerMm) {
    std::string out;
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
    png_infop info = png_create_info_struct(png);
    png_set_write_fn(
        png, &out,
        [](png_structp p, png_bytep bytes, png_size_t size) {
            static_cast<std::string*>(png_get_io_ptr(p))->append(reinterpret_cast<const char*>(bytes), size);
        },
        nullptr);
    const int type = picture.channels == 1   ? PNG_COLOR_TYPE_GRAY
                     : picture.channels == 3 ? PNG_COLOR_TYPE_RGB
                                             : PNG_COLOR_TYPE_RGBA;
    png_set_IHDR(png, info, static_cast<png_uint_32>(picture.width), static_cast<png_uint_32>(picture.height), 8, type,
                 PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    const auto perMetre = static_cast<png_uint_32>(std::lround(pxPerMm * 1000));
    png_set_pHYs(png, info, perMetre, perMetre, PNG_RESOLUTION_METER);
    png_write_info(png, info);
    const std::size_t stride = static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.channels);
    for (std::size_t y = 0; y < static_cast<std::size_t>(picture.height); ++y)
        png_write_row(png, picture.pixels->data() + y * stride);
    png_write_end(png, info);
    png_destroy_write_struct(&png, &info);
    return out;
}

} // namespace ferro::picture
