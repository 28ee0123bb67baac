#include "picture/readers_internal.h"

#include <cstdarg>
#include <cstring>
#include <mutex>
#include <tiffio.h>

namespace ferro::picture {

namespace {

struct Source {
    std::string_view bytes;
    toff_t at = 0;
};
Source& sourceOf(thandle_t handle) { return *static_cast<Source*>(handle); }

tmsize_t readSome(thandle_t handle, void* out, tmsize_t size) {
    auto& s = sourceOf(handle);
    if (s.at >= s.bytes.size()) return 0;
    const auto count = std::min<std::size_t>(static_cast<std::size_t>(size), s.bytes.size() - s.at);
    std::memcpy(out, s.bytes.data() + s.at, count);
    s.at += count;
    return static_cast<tmsize_t>(count);
}
toff_t seek(thandle_t handle, toff_t to, int whence) {
    auto& s = sourceOf(handle);
    s.at = whence == SEEK_SET ? to : whence == SEEK_CUR ? s.at + to : s.bytes.size() + to;
    return s.at;
}

// The library reports by a global; only the last text of this thread's own read is wanted.
thread_local std::string complaint;
void onError(const char*, const char* format, va_list arguments) {
    char text[256];
    std::vsnprintf(text, sizeof text, format, arguments);
    complaint = text;
}

} // namespace

Result<Picture> readTiff(std::string_view bytes, const Limits& limits) {
    static std::once_flag once;
    std::call_once(once, [] {
        TIFFSetErrorHandler(onError);
        TIFFSetWarningHandler(nullptr);
    });
    complaint.clear();
    Source source{bytes, 0};
    const std::unique_ptr<TIFF, void (*)(TIFF*)> tiff(
        TIFFClientOpen(
            "picture", "rm", &source, readSome, [](thandle_t, void*, tmsize_t) -> tmsize_t { return 0; }, seek,
            [](thandle_t) { return 0; }, [](thandle_t h) -> toff_t { return sourceOf(h).bytes.size(); }, nullptr,
            nullptr),
        TIFFClose);
    if (!tiff) return damaged("TIFF", complaint);
    std::uint32_t width = 0, height = 0;
    TIFFGetField(tiff.get(), TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(tiff.get(), TIFFTAG_IMAGELENGTH, &height);
    if (auto size = checkSize(width, height, limits); !size) return size.problem();
    char reason[1024] = "";
    if (!TIFFRGBAImageOK(tiff.get(), reason))
        return Problem{.what = fmt::format("This kind of TIFF cannot be read ({}).", reason),
                       .where = {},
                       .mend = "Save it with 8 or 16 bits a channel."};
    std::vector<std::uint32_t> raster(static_cast<std::size_t>(width) * height);
    std::uint16_t orientation = ORIENTATION_TOPLEFT;
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_ORIENTATION, &orientation);
    // As it is stored: the library would mirror, but never turn.
    if (!TIFFReadRGBAImageOriented(tiff.get(), width, height, raster.data(), orientation, 1))
        return damaged("TIFF", complaint);

    Picture picture{.width = static_cast<int>(width),
                    .height = static_cast<int>(height),
                    .channels = 4,
                    .pixels = {},
                    .pxPerMm = {},
                    .notices = {}};
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(raster.size() * 4);
    for (std::size_t i = 0; i < raster.size(); ++i) {
        const std::uint32_t a = TIFFGetA(raster[i]);
        const std::uint32_t c[3] = {TIFFGetR(raster[i]), TIFFGetG(raster[i]), TIFFGetB(raster[i])};
        for (std::size_t k = 0; k < 3; ++k) // the library multiplies by alpha; we keep it straight
            (*pixels)[i * 4 + k] = static_cast<std::uint8_t>(a == 0 ? 255 : std::min(255u, c[k] * 255 / a));
        (*pixels)[i * 4 + 3] = static_cast<std::uint8_t>(a);
    }
    picture.pixels = std::move(pixels);
    float resolution = 0;
    std::uint16_t unit = RESUNIT_INCH;
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_RESOLUTIONUNIT, &unit);
    if (TIFFGetField(tiff.get(), TIFFTAG_XRESOLUTION, &resolution) && unit != RESUNIT_NONE)
        picture.pxPerMm = sanePxPerMm(static_cast<double>(resolution) / (unit == RESUNIT_CENTIMETER ? 10 : 25.4));
    return upright(std::move(picture), orientation);
}

} // namespace ferro::picture
