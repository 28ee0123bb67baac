#include "base/disk.h"
#include "picture/picture.h"
#include "support/jpeg.h"

#include <cstring>
#include <png.h>
#include <random>
#include <tiffio.h>
#include <webp/encode.h>

using namespace ferro;

namespace {

// Writers for tests only: a 16 × 8 picture, black left half, white right half.
constexpr int wide = 16, tall = 8;
std::vector<std::uint8_t> halves(int channels) {
    std::vector<std::uint8_t> out;
    for (int i = 0; i < wide * tall; ++i)
        for (int c = 0; c < channels; ++c) out.push_back(c == 3 ? 255 : i % wide < wide / 2 ? 0 : 255);
    return out;
}
/// Of one that is meant to be seen otherwise only the stored upper left quarter is black.
bool isInk(int x, int y, int orientation) { return x < wide / 2 && (orientation == 1 || y < tall / 2); }
/// What a camera writes about how it was held, among other things.
std::string exif(int orientation, bool bigEnd) {
    std::string out = "Exif";
    out.append(2, '\0');
    const auto put = [&](unsigned value, int bytes) {
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * (bigEnd ? bytes - 1 - i : i));
    };
    out += bigEnd ? "MM" : "II";
    put(42, 2), put(8, 4), put(2, 2);
    put(0x0110, 2), put(2, 2), put(4, 4), put(0x00746163, 4); // a model's name
    put(0x0112, 2), put(3, 2), put(1, 4);
    put(static_cast<unsigned>(orientation), 2), put(0, 2);
    put(0, 4);
    return out;
}
std::string png(unsigned format, const std::vector<std::uint8_t>& pixels) {
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = wide;
    image.height = tall;
    image.format = format;
    png_alloc_size_t size = 0;
    png_image_write_to_memory(&image, nullptr, &size, 0, pixels.data(), 0, nullptr);
    std::string out(size, '\0');
    png_image_write_to_memory(&image, out.data(), &size, 0, pixels.data(), 0, nullptr);
    return out;
}
std::string jpeg(J_COLOR_SPACE space, int channels) {
    auto pixels = halves(channels);
    if (channels == 4) // ink: 255 is none, as the print trade stores it, K in the last
        for (std::size_t i = 0; i < pixels.size(); ++i) pixels[i] = (i / 4) % wide < wide / 2 ? 0 : 255;
    return test::jpegOf(std::move(pixels), wide, tall, {space, 95, 254});
}
std::string tiffFile(int orientation = 1) {
    const auto file =
        std::filesystem::temp_directory_path() / ("ferrograph-test-" + std::to_string(::getpid()) + ".tif");
    TIFF* out = TIFFOpen(file.c_str(), "w");
    TIFFSetField(out, TIFFTAG_IMAGEWIDTH, wide);
    TIFFSetField(out, TIFFTAG_IMAGELENGTH, tall);
    TIFFSetField(out, TIFFTAG_BITSPERSAMPLE, 16);
    TIFFSetField(out, TIFFTAG_SAMPLESPERPIXEL, 1);
    TIFFSetField(out, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISBLACK);
    TIFFSetField(out, TIFFTAG_RESOLUTIONUNIT, RESUNIT_CENTIMETER);
    TIFFSetField(out, TIFFTAG_XRESOLUTION, 80.0);
    TIFFSetField(out, TIFFTAG_ORIENTATION, orientation);
    for (std::uint32_t y = 0; y < tall; ++y) {
        std::vector<std::uint16_t> row;
        for (int x = 0; x < wide; ++x) row.push_back(isInk(x, static_cast<int>(y), orientation) ? 0 : 65535);
        TIFFWriteScanline(out, row.data(), y);
    }
    TIFFClose(out);
    auto bytes = realDisk().read(file);
    realDisk().remove(file);
    return *bytes;
}
std::string webp() {
    std::uint8_t* out = nullptr;
    const auto pixels = halves(4);
    const std::size_t size = WebPEncodeLosslessRGBA(pixels.data(), wide, tall, wide * 4, &out);
    std::string bytes(reinterpret_cast<char*>(out), size);
    WebPFree(out);
    return bytes;
}
std::string bmp(int fourth = -1) { // the fourth byte of a plain one of 32 bits, or one of 24
    std::string out(54, '\0');
    const auto put = [&](std::size_t at, std::uint32_t value) { std::memcpy(out.data() + at, &value, 4); };
    out[0] = 'B', out[1] = 'M';
    put(2, 54 + wide * tall * 3);
    put(10, 54);
    put(14, 40);
    put(18, wide);
    put(22, tall);
    out[26] = 1;
    out[28] = fourth < 0 ? 24 : 32;
    put(38, 8000);
    auto pixels = halves(fourth < 0 ? 3 : 4);
    for (std::size_t i = 3; fourth >= 0 && i < pixels.size(); i += 4) pixels[i] = static_cast<std::uint8_t>(fourth);
    return out.append(reinterpret_cast<const char*>(pixels.data()), pixels.size());
}
void checkHalves(const std::string& bytes, double pxPerMm) {
    const auto picture = picture::decoded(bytes);
    INFO((picture ? "" : picture.problem().text()));
    REQUIRE(picture);
    CHECK(picture->width == wide);
    CHECK(picture->height == tall);
    const auto grey = picture::greyOf(*picture);
    CHECK(grey.at(2, 3) < 20);
    CHECK(grey.at(13, 3) > 235);
    if (pxPerMm > 0) CHECK(picture->pxPerMm.value_or(0) == Approx(pxPerMm).epsilon(0.01));
}

} // namespace

TEST_CASE("picture: every format opens, with depth, alpha, inks and resolution") {
    checkHalves(png(PNG_FORMAT_GRAY, halves(1)), 0);
    checkHalves(png(PNG_FORMAT_RGB, halves(3)), 0);
    checkHalves(png(PNG_FORMAT_RGBA, halves(4)), 0);
    std::vector<std::uint8_t> deep;
    for (const auto v : halves(1)) deep.insert(deep.end(), {v, v});
    checkHalves(png(PNG_FORMAT_LINEAR_Y, deep), 0);
    checkHalves(jpeg(JCS_GRAYSCALE, 1), 10);
    checkHalves(jpeg(JCS_RGB, 3), 10);
    checkHalves(jpeg(JCS_CMYK, 4), 0); // no JFIF header, no resolution
    checkHalves(tiffFile(), 8);
    checkHalves(webp(), 0);
    checkHalves(bmp(), 8);
    for (const int unused : {0, 3, 255}) checkHalves(bmp(unused), 8);
    auto clear = halves(4);
    for (std::size_t i = 0; i < clear.size(); ++i) clear[i] = 0; // black, but wholly see-through: white paper
    CHECK(picture::greyOf(*picture::decoded(png(PNG_FORMAT_RGBA, clear))).at(3, 3) == 255);
}

TEST_CASE("picture: a photo is seen the way the camera was held") {
    const auto quarter = [](const std::string& bytes, bool lies) { // which of the four is black, clockwise
        const auto picture = picture::decoded(bytes);
        REQUIRE(picture);
        CHECK(picture->width == (lies ? tall : wide));
        CHECK(picture->height == (lies ? wide : tall));
        const auto grey = picture::greyOf(*picture);
        const int w = picture->width / 4, h = picture->height / 4;
        std::vector<int> dark;
        int at = 0;
        for (const auto& [x, y] : {std::pair{w, h}, {3 * w, h}, {3 * w, 3 * h}, {w, 3 * h}}) {
            if (grey.at(x, y) < 100) dark.push_back(at);
            ++at;
        }
        REQUIRE(dark.size() == 1);
        return dark[0];
    };
    std::vector<std::uint8_t> pixels;
    for (int i = 0; i < wide * tall; ++i) pixels.push_back(isInk(i % wide, i / wide, 2) ? 0 : 255);
    const std::string plain = test::jpegOf(pixels, wide, tall, {JCS_GRAYSCALE, 95, 254});
    for (int orientation = 2; orientation <= 8; ++orientation) {
        CAPTURE(orientation);
        const int wanted = (orientation - 1) % 4;
        for (const bool bigEnd : {false, true}) {
            const auto block = exif(orientation, bigEnd);
            std::string segment{'\xFF', '\xE1', '\0', static_cast<char>(block.size() + 2)};
            CHECK(quarter(plain.substr(0, 2) + segment + block + plain.substr(2), orientation > 4) == wanted);
        }
        CHECK(quarter(tiffFile(orientation), orientation > 4) == wanted);
    }
    // What does not say, or says nonsense, is taken as it lies.
    for (const auto& block : {exif(0, false), exif(9, true), exif(6, false).substr(0, 30), std::string("Exif")}) {
        std::string segment{'\xFF', '\xE1', '\0', static_cast<char>(block.size() + 2)};
        CHECK(quarter(plain.substr(0, 2) + segment + block + plain.substr(2), false) == 0);
    }
}

TEST_CASE("picture: hostile files get a reason, never a crash") {
    std::mt19937 random(2);
    for (const auto& good : {png(PNG_FORMAT_RGBA, halves(4)), jpeg(JCS_RGB, 3), tiffFile(), webp(), bmp()}) {
        for (std::size_t cut = 0; cut < good.size(); cut += std::max<std::size_t>(1, good.size() / 60))
            (void)picture::decoded(std::string_view(good).substr(0, cut)).has_value();
        for (int i = 0; i < 400; ++i) {
            std::string bent = good;
            for (int k = 0; k < 3; ++k) bent[random() % bent.size()] = static_cast<char>(random());
            (void)picture::decoded(bent, {.pixels = 4'000'000, .side = 100'000}).has_value();
        }
    }
    std::string bomb = png(PNG_FORMAT_GRAY, halves(1));
    bomb[16] = 0x00, bomb[17] = 0x01, bomb[20] = 0x00, bomb[21] = 0x01; // says 65 552 px a side
    CHECK_FALSE(picture::decoded(bomb));
    CHECK(picture::decoded("hello").problem().what == "This is no picture that can be read.");
    CHECK(picture::decoded("").problem().what == "The file is empty.");
    const auto small = picture::decoded(png(PNG_FORMAT_GRAY, halves(1)), {.pixels = 100, .side = 100});
    REQUIRE_FALSE(small);
    CHECK(small.problem().what.find("16 × 8") != std::string::npos);
}

TEST_CASE("picture: the level is half way between ink and paper, however little ink there is", "[property]") {
    // Greys of thin lines: few pixels are all ink, many are edges.
    for (const int ink : {0, 40, 90})
        for (const int edges : {20, 200, 400}) {
            picture::Histogram histogram{};
            histogram[235] = 100'000;
            histogram[static_cast<std::size_t>(ink)] = 800;
            for (int g = ink; g < 235; ++g)
                histogram[static_cast<std::size_t>(g)] += static_cast<std::size_t>(edges / 20);
            CAPTURE(ink, edges);
            CHECK(std::abs(picture::automaticLevel(histogram) - (ink + 235) / 2.0) <= 3);
        }
    // Some of the paper lies in a shadow that is half way: the level stays below it.
    picture::Histogram shadow{};
    for (int g = -6; g <= 6; ++g) {
        shadow[static_cast<std::size_t>(230 + g)] = 6000;
        shadow[static_cast<std::size_t>(133 + g)] = 1500;
        shadow[static_cast<std::size_t>(30 + g)] = 6000;
    }
    CHECK(picture::automaticLevel(shadow) < 126);
}

TEST_CASE("picture: what cameras and screens write of themselves is no size") {
    for (const auto& [perInch, says] :
         {std::pair{72.0, false}, {96.0, false}, {72.3, false}, {300.0, true}, {203.2, true}, {100.0, true}}) {
        picture::Picture some{
            .width = 300, .height = 200, .channels = 1, .pixels = {}, .pxPerMm = perInch / 25.4, .notices = {}};
        CAPTURE(perInch);
        CHECK(picture::saysItsSize(some) == says);
        CHECK(picture::naturalSize(some).x == Approx(300 / perInch * 25.4));
        some.pxPerMm.reset();
        CHECK_FALSE(picture::saysItsSize(some));
    }
}

TEST_CASE("picture: the level parts ink from paper, and quality is told before tracing") {
    picture::Grey crisp{200, 200, std::vector<std::uint8_t>(40'000, 220)}, blurred = crisp;
    for (int y = 0; y < 200; ++y)
        for (int x = 0; x < 200; ++x) {
            const double edge = x - 100.3;
            crisp.values[static_cast<std::size_t>(y * 200 + x)] = static_cast<std::uint8_t>(edge < 0 ? 30 : 220);
            blurred.values[static_cast<std::size_t>(y * 200 + x)] =
                static_cast<std::uint8_t>(125 + 95 * std::tanh(edge / 8));
        }
    const int level = picture::automaticLevel(picture::histogramOf(crisp));
    CHECK(level > 60);
    CHECK(level < 200);
    using enum picture::Quality::Verdict;
    CHECK(picture::qualityOf(crisp, 8).verdict == good);
    CHECK(picture::qualityOf(crisp, 8).detail == Approx(1.2 / 8).epsilon(0.3));
    CHECK(picture::qualityOf(crisp, 1).verdict == coarse);
    CHECK(picture::qualityOf(blurred, 8).verdict == soft);
    for (auto& v : crisp.values) v = static_cast<std::uint8_t>(120 + v / 16);
    CHECK(picture::qualityOf(crisp, 8).verdict == faint);
}
