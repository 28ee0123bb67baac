#include "trace/field_internal.h"

#include "picture/pixel_work.h"

#include <functional>

namespace ferro::trace {

int levelOf(const picture::Grey& grey, const Settings& settings) {
    return settings.level == -1 ? picture::automaticLevel(picture::histogramOf(grey)) : settings.level;
}

namespace {
/// For each pixel whether there is one that `isIt` within `reach` of it, either way.
std::vector<bool> near(const picture::Grey& grey, int reach, const std::function<bool(std::uint8_t)>& isIt) {
    const auto w = static_cast<std::size_t>(grey.width), h = static_cast<std::size_t>(grey.height);
    std::array<bool, 256> is{};
    for (std::size_t g = 0; g < 256; ++g) is[g] = isIt(static_cast<std::uint8_t>(g));
    std::vector<bool> inRow(w * h), out(w * h);
    const auto spread = [&](std::size_t count, const auto& at, const auto& mark) {
        long last = -1'000'000; // the last one seen
        for (long i = 0; i < static_cast<long>(count) + reach; ++i) {
            if (i < static_cast<long>(count) && at(static_cast<std::size_t>(i))) last = i;
            const long k = i - reach; // has seen all within reach of it
            if (k >= 0 && last >= k - reach) mark(static_cast<std::size_t>(k));
        }
    };
    for (std::size_t y = 0; y < h; ++y)
        spread(
            w, [&](std::size_t x) { return is[grey.values[y * w + x]]; },
            [&](std::size_t x) { inRow[y * w + x] = true; });
    for (std::size_t x = 0; x < w; ++x)
        spread(
            h, [&](std::size_t y) { return inRow[y * w + x]; }, [&](std::size_t y) { out[y * w + x] = true; });
    return out;
}

/// Where dark goes over into light it passes through every band between: that is an edge and no area of that grey.
void dropPassages(picture::Grey& field, const picture::Grey& grey, int above, int level) {
    const double edge = picture::edgeWidthOf(grey);
    const int reach = std::clamp(static_cast<int>(std::ceil(edge / 2 + 0.5)), 1, 6);
    const auto dark = near(grey, reach, [&](std::uint8_t g) { return g < above; }),
               light = near(grey, reach, [&](std::uint8_t g) { return g >= level; });
    for (std::size_t i = 0; i < field.values.size(); ++i)
        if (field.values[i] < fieldLevel && dark[i] && light[i]) field.values[i] = 255;
}
} // namespace

picture::Grey fieldOf(const picture::Grey& grey, const Settings& settings) {
    const int level = levelOf(grey, settings);
    std::array<std::uint8_t, 256> to{};
    for (int g = 0; g < 256; ++g) {
        int depth = level - g; // above 0: sought
        if (settings.above > 0) depth = std::min(depth, g - settings.above + 1);
        if (settings.invert) depth = 1 - depth;
        to[static_cast<std::size_t>(g)] = static_cast<std::uint8_t>(std::clamp(fieldLevel - depth, 0, 255));
    }
    picture::Grey out = grey;
    for (auto& v : out.values) v = to[v];
    if (settings.above > 0 && !settings.invert) dropPassages(out, grey, settings.above, level);
    return out;
}

Result<std::vector<std::uint8_t>> patchMap(int width, int height, double pxPerMm, const std::vector<Patch>& patches) {
    Rings areas;
    for (const auto& patch : patches) {
        areas.emplace_back();
        for (const Vec2 p : patch.area) areas.back().push_back({p.x * pxPerMm, height - p.y * pxPerMm});
    }
    return picture::areaMap(width, height, areas);
}

} // namespace ferro::trace
