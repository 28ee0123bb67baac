#include "picture/readers_internal.h"

#include <csetjmp>
#include <cstdio>
#include <jpeglib.h>

namespace ferro::picture {

namespace {

struct Work {
    jpeg_error_mgr errors{}; // first, so that the library's pointer to it is a pointer to us
    std::jmp_buf back{};
    std::string complaint;
    bool tooManyScans = false;
    int orientation = 1;
    Picture picture;
    std::vector<std::uint8_t> pixels, row;
    Result<void> size;
};

void onError(j_common_ptr info) {
    char text[JMSG_LENGTH_MAX];
    info->err->format_message(info, text);
    auto& work = *reinterpret_cast<Work*>(info->err);
    work.complaint = text;
    std::longjmp(work.back, 1);
}
// A crafted progressive file can ask for the whole picture thousands of times.
constexpr int mostScans = 200;
void onMessage(j_common_ptr info, int level) {
    if (level < 0) ++info->err->num_warnings;
}

void cmykToRgb(const std::uint8_t* in, std::uint8_t* out, int width, bool inverted) {
    for (int x = 0; x < width; ++x)
        for (int c = 0; c < 3; ++c) {
            const int ink = inverted ? in[x * 4 + c] : 255 - in[x * 4 + c],
                      key = inverted ? in[x * 4 + 3] : 255 - in[x * 4 + 3];
            out[x * 3 + c] = static_cast<std::uint8_t>(ink * key / 255);
        }
}

/// Ink pictures from the print trade store their values inverted, and say so by an APP14 segment.
constexpr int applicationMarker = JPEG_APP0 + 14, exifMarker = JPEG_APP0 + 1;

bool hasApplicationMarker(const jpeg_decompress_struct& info) {
    for (const auto* marker = info.marker_list; marker; marker = marker->next)
        if (marker->marker == applicationMarker) return true;
    return false;
}

int orientationOf(const jpeg_decompress_struct& info) {
    for (const auto* marker = info.marker_list; marker; marker = marker->next) {
        const std::string_view block(reinterpret_cast<const char*>(marker->data), marker->data_length);
        if (marker->marker == exifMarker && block.starts_with("Exif")) return orientationFromExif(block);
    }
    return 1;
}

/// Out of line, so that nothing of it lives in the frame that the library jumps back to.
[[gnu::noinline]] bool decode(jpeg_decompress_struct& info, Work& work, std::string_view bytes, const Limits& limits) {
    jpeg_create_decompress(&info);
    jpeg_mem_src(&info, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    jpeg_save_markers(&info, applicationMarker, 5);
    jpeg_save_markers(&info, exifMarker, 0xFFFF);
    jpeg_read_header(&info, TRUE);
    work.size = checkSize(info.image_width, info.image_height, limits);
    if (!work.size) return false;
    const bool cmyk = info.jpeg_color_space == JCS_CMYK || info.jpeg_color_space == JCS_YCCK;
    const bool inverted = hasApplicationMarker(info);
    work.orientation = orientationOf(info);
    info.out_color_space = cmyk ? JCS_CMYK : info.jpeg_color_space == JCS_GRAYSCALE ? JCS_GRAYSCALE : JCS_RGB;
    info.mem->max_memory_to_use = 1L << 30;
    jpeg_start_decompress(&info);
    auto& picture = work.picture;
    picture.width = static_cast<int>(info.output_width);
    picture.height = static_cast<int>(info.output_height);
    picture.channels = cmyk ? 3 : info.output_components;
    if (info.density_unit == 1) picture.pxPerMm = sanePxPerMm(info.X_density / 25.4);
    if (info.density_unit == 2) picture.pxPerMm = sanePxPerMm(info.X_density / 10.0);
    const std::size_t stride = static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.channels);
    work.pixels.resize(stride * static_cast<std::size_t>(picture.height));
    work.row.resize(static_cast<std::size_t>(picture.width) * 4);
    while (info.output_scanline < info.output_height) {
        if (info.input_scan_number > mostScans) return work.tooManyScans = true, false;
        std::uint8_t* target = work.pixels.data() + info.output_scanline * stride;
        JSAMPROW row = cmyk ? work.row.data() : target;
        jpeg_read_scanlines(&info, &row, 1);
        if (cmyk) cmykToRgb(work.row.data(), target, picture.width, inverted);
    }
    return true;
}

bool decodeOrReturn(jpeg_decompress_struct& info, Work& work, std::string_view bytes, const Limits& limits) {
    if (setjmp(work.back)) return false;
    return decode(info, work, bytes, limits);
}

} // namespace

Result<Picture> readJpeg(std::string_view bytes, const Limits& limits) {
    Work work;
    jpeg_decompress_struct info{};
    info.err = jpeg_std_error(&work.errors);
    work.errors.error_exit = onError;
    work.errors.emit_message = onMessage;
    const bool fine = decodeOrReturn(info, work, bytes, limits);
    const long warnings = work.errors.num_warnings;
    jpeg_destroy_decompress(&info);
    if (!work.size) return work.size.problem();
    if (!fine) return damaged("JPEG", work.tooManyScans ? "too many passes" : work.complaint);
    if (warnings > 0) work.picture.notices.push_back({"The JPEG is damaged or cut short; the missing part is grey."});
    work.picture.pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(work.pixels));
    return upright(std::move(work.picture), work.orientation);
}

} // namespace ferro::picture
