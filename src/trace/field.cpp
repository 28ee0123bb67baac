#include "trace/field_internal.h"

#include "picture/pixel_work.h"

namespace ferro::trace {

int levelOf(const picture::Grey& grey, const Settings& settings) {
    return settings.level == -1 ? picture::automaticLevel(picture::histogramOf(grey)) : settings.level;
}

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
