// Any pixels, looked through in any way: pieces with finite bounds, or a reason. The first bytes are the settings.
#include "trace/trace.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    using namespace ferro;
    if (size < 16 || size > 12'000) return 0;
    trace::Settings settings;
    settings.find = static_cast<trace::Find>(data[0] % 6);
    settings.level = data[1] == 0 ? -1 : data[1];
    settings.above = data[2];
    settings.invert = data[3] & 1;
    settings.stacked = data[3] & 2;
    settings.paper = data[3] & 4;
    settings.speck = data[4] / 50.0;
    settings.cornersUnder = data[5] % 181;
    settings.followWithin = data[6] / 100.0;
    settings.lineWidth = 0.05 + data[7] / 50.0;
    settings.leastStep = 1 + data[8];
    settings.colours = data[9] % 12;
    const int channels = data[10] % 3 == 0 ? 1 : data[10] % 3 == 1 ? 3 : 4;
    const double pxPerMm = 0.5 + data[11] / 8.0;
    const int width = 1 + data[12] % 120;
    const auto pixels = (size - 16) / static_cast<size_t>(channels);
    const int height = static_cast<int>(pixels / static_cast<size_t>(width));
    if (height < 1) return 0;
    const auto count = static_cast<size_t>(width * height * channels);
    const picture::Picture picture{
        width, height, channels, std::make_shared<std::vector<std::uint8_t>>(data + 16, data + 16 + count), {}, {}};
    std::vector<trace::Patch> patches;
    if (data[13] & 1) { // and a patch that looks for something else
        auto other = settings;
        other.find = static_cast<trace::Find>(data[13] / 2 % 6);
        const double w = width / pxPerMm, h = height / pxPerMm;
        patches.push_back({{{w * data[14] / 300, 0}, {w, h * data[15] / 300}, {w / 3, h}}, other});
    }
    Progress progress;
    const auto traced = trace::traced(picture, pxPerMm, settings, progress, patches);
    if (!traced) return 0;
    std::size_t layered = 0;
    for (const auto& layer : traced->layers) layered += layer.pieces;
    if (layered > traced->pieces.size()) __builtin_trap();
    for (const auto& piece : traced->pieces) {
        const Box box = boundsOf(piece);
        if (!isFinite(box.low) || !isFinite(box.high)) __builtin_trap();
    }
    return 0;
}
