#pragma once

#include "geometry/path.h"
#include "picture/picture.h"

#include <random>

// Pictures of known outlines: what a perfect camera would see of them.

namespace ferro::test {

/// Each pixel's grey is the exact share of it that no ring covers (even-odd), dark ink on light paper, or what `ink`
/// and `paper` say. y up, mm.
inline picture::Grey inked(const Rings& rings, int width, int height, double pxPerMm, int ink = 0, int paper = 255) {
    const auto w = static_cast<std::size_t>(width), h = static_cast<std::size_t>(height);
    // Signed areas right of each edge, pixel by pixel; a running sum along the row makes them covers.
    std::vector<double> sum((w + 2) * h, 0);
    const auto edge = [&](Vec2 a, Vec2 b) {
        const double way = a.y < b.y ? 1 : -1;
        if (way < 0) std::swap(a, b);
        if (a.y == b.y) return;
        const double slope = (b.x - a.x) / (b.y - a.y);
        for (int row = std::max(0, static_cast<int>(a.y)); row < height && row < b.y; ++row) {
            const double low = std::max(a.y, static_cast<double>(row)), high = std::min(b.y, row + 1.0);
            double from = a.x + (low - a.y) * slope, to = a.x + (high - a.y) * slope;
            if (from > to) std::swap(from, to);
            const double tall = (high - low) * way;
            double* line = sum.data() + static_cast<std::size_t>(row) * (w + 2);
            const auto add = [&](double x, double share) { // a piece of the edge that lies in one column
                x = std::clamp(x, 0.0, width + 0.5);
                const auto column = static_cast<std::size_t>(x);
                const double right = 1 - (x - static_cast<double>(column));
                line[column] += share * right;
                line[column + 1] += share * (1 - right);
            };
            if (std::floor(from) == std::floor(to) || to - from < 1e-12) {
                add((from + to) / 2, tall);
                continue;
            }
            for (double x = from; x < to;) {
                const double next = std::min(to, std::floor(x) + 1);
                add((x + next) / 2, tall * (next - x) / (to - from));
                x = next;
            }
        }
    };
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) edge(ring[i] * pxPerMm, ring[(i + 1) % ring.size()] * pxPerMm);
    picture::Grey grey{width, height, std::vector<std::uint8_t>(w * h)};
    for (std::size_t row = 0; row < h; ++row) {
        double cover = 0;
        for (std::size_t x = 0; x < w; ++x) {
            cover += sum[row * (w + 2) + x];
            const double winding = std::fmod(std::abs(cover), 2.0), dark = winding > 1 ? 2 - winding : winding;
            grey.values[(h - 1 - row) * w + x] = static_cast<std::uint8_t>(std::lround(paper + (ink - paper) * dark));
        }
    }
    return grey;
}

/// A softer lens and a grainy sensor.
inline picture::Grey photographed(const picture::Grey& sharp, int blur, double grain, unsigned seed) {
    picture::Grey out = sharp;
    for (int pass = 0; pass < blur; ++pass) {
        const picture::Grey from = out;
        for (int y = 1; y + 1 < out.height; ++y)
            for (int x = 1; x + 1 < out.width; ++x) {
                const auto row = [&](int at) { return from.at(x - 1, at) + 2 * from.at(x, at) + from.at(x + 1, at); };
                out.values[static_cast<std::size_t>(y * out.width + x)] =
                    static_cast<std::uint8_t>((row(y - 1) + 2 * row(y) + row(y + 1) + 8) / 16);
            }
    }
    std::mt19937 random(seed);
    std::normal_distribution<> noise(0, grain);
    for (auto& v : out.values)
        v = static_cast<std::uint8_t>(std::clamp(std::lround(v * 0.8 + 20 + noise(random)), 0L, 255L));
    return out;
}

} // namespace ferro::test
