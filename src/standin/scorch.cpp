#include "standin/scorch.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ferro::standin {

std::uint64_t Scorch::key(std::int32_t x, std::int32_t y) {
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 | static_cast<std::uint32_t>(y);
}

void Scorch::burn(Vec2 from, Vec2 to, double seconds, double power) {
    if (!(power > 0) || !(seconds > 0)) return;
    const int parts = std::max(1, static_cast<int>(std::ceil(distance(from, to) / (cell / 2))));
    for (int i = 0; i < parts; ++i) {
        const Vec2 p = lerp(from, to, (i + 0.5) / parts);
        spots_[key(static_cast<std::int32_t>(std::floor(p.x / cell)),
                   static_cast<std::int32_t>(std::floor(p.y / cell)))] += static_cast<float>(power * seconds / parts);
    }
    bounds_.take(from), bounds_.take(to);
    total_ += power * seconds;
}

double Scorch::dose(Vec2 middle, double side) const {
    const auto first = [&](double v) { return static_cast<std::int32_t>(std::lround((v - side / 2) / cell)); };
    const auto count = static_cast<std::int32_t>(std::lround(side / cell));
    double sum = 0;
    for (std::int32_t x = 0; x < count; ++x)
        for (std::int32_t y = 0; y < count; ++y)
            if (const auto spot = spots_.find(key(first(middle.x) + x, first(middle.y) + y)); spot != spots_.end())
                sum += static_cast<double>(spot->second);
    return sum / (count * cell * count * cell);
}

std::string Scorch::picture() const {
    if (spots_.empty()) return {};
    const auto left = static_cast<std::int32_t>(std::floor(bounds_.low.x / cell)),
               below = static_cast<std::int32_t>(std::floor(bounds_.low.y / cell));
    const auto width = static_cast<std::int32_t>(std::floor(bounds_.high.x / cell)) - left + 1,
               height = static_cast<std::int32_t>(std::floor(bounds_.high.y / cell)) - below + 1;
    float most = 0;
    for (const auto& [place, light] : spots_) most = std::max(most, light);
    std::string out = fmt::format("P5\n{} {}\n255\n", width, height);
    const std::size_t head = out.size();
    out.resize(head + static_cast<std::size_t>(width) * static_cast<std::size_t>(height), static_cast<char>(255));
    for (const auto& [place, light] : spots_) {
        const auto x = static_cast<std::int32_t>(place >> 32) - left,
                   y = height - 1 - (static_cast<std::int32_t>(place & 0xffffffff) - below);
        if (x < 0 || y < 0 || x >= width || y >= height) continue;
        out[head + static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] =
            static_cast<char>(255 - std::lround(255 * std::min(1.0F, light / most)));
    }
    return out;
}

} // namespace ferro::standin
