#include "picture/round_marks.h"

#include <algorithm>
#include <cmath>

namespace ferro::picture {

namespace {

/// How light the ground is round a place: what four fifths of a block are darker than, the lightest of the blocks
/// about.
class Paper {
public:
    explicit Paper(const Grey& grey)
        : block_(std::max(16, std::min(grey.width, grey.height) / 24)), width_((grey.width + block_ - 1) / block_),
          height_((grey.height + block_ - 1) / block_) {
        std::vector<int> own;
        for (int by = 0; by < height_; ++by)
            for (int bx = 0; bx < width_; ++bx) {
                Histogram histogram{};
                std::size_t count = 0;
                for (int y = by * block_; y < std::min(grey.height, (by + 1) * block_); ++y)
                    for (int x = bx * block_; x < std::min(grey.width, (bx + 1) * block_); ++x)
                        ++histogram[grey.at(x, y)], ++count;
                std::size_t sum = 0;
                int level = 0;
                while (level < 255 && (sum += histogram[static_cast<std::size_t>(level)]) < count * 4 / 5) ++level;
                own.push_back(level);
            }
        for (int y = 0; y < height_; ++y)
            for (int x = 0; x < width_; ++x) {
                int most = 0;
                for (int j = std::max(0, y - 1); j <= std::min(height_ - 1, y + 1); ++j)
                    for (int i = std::max(0, x - 1); i <= std::min(width_ - 1, x + 1); ++i)
                        most = std::max(most, own[static_cast<std::size_t>(j * width_ + i)]);
                levels_.push_back(most);
            }
    }
    [[nodiscard]] int at(int x, int y) const {
        return levels_[static_cast<std::size_t>(y / block_ * width_ + x / block_)];
    }

private:
    int block_, width_, height_;
    std::vector<int> levels_;
};

/// Dark pixels that touch along a side.
struct Spot {
    int left, top, right, bottom; ///< px, all within
    std::vector<int> pixels;
};
std::vector<Spot> spotsOf(const std::vector<std::uint8_t>& dark, int width, int height) {
    std::vector<Spot> spots;
    std::vector<std::uint8_t> seen(dark.size(), 0);
    std::vector<int> open;
    for (int start = 0; start < width * height; ++start) {
        if (!dark[static_cast<std::size_t>(start)] || seen[static_cast<std::size_t>(start)]) continue;
        Spot spot{width, height, -1, -1, {}};
        open.assign(1, start);
        seen[static_cast<std::size_t>(start)] = 1;
        while (!open.empty()) {
            const int i = open.back(), x = i % width, y = i / width;
            open.pop_back();
            spot.pixels.push_back(i);
            spot.left = std::min(spot.left, x), spot.right = std::max(spot.right, x);
            spot.top = std::min(spot.top, y), spot.bottom = std::max(spot.bottom, y);
            const auto take = [&](int k) {
                if (dark[static_cast<std::size_t>(k)] && !seen[static_cast<std::size_t>(k)])
                    seen[static_cast<std::size_t>(k)] = 1, open.push_back(k);
            };
            if (x > 0) take(i - 1);
            if (x + 1 < width) take(i + 1);
            if (y > 0) take(i - width);
            if (y + 1 < height) take(i + width);
        }
        spots.push_back(std::move(spot));
    }
    return spots;
}

double middleOf(std::vector<double>& values) {
    const auto half = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), half, values.end());
    return *half;
}

/// The mark that a spot is; none: it is no ellipse, or not by itself.
std::optional<RoundMark> markOf(const Spot& spot, const Grey& grey) {
    const int width = grey.width, height = grey.height;
    const double wide = spot.right - spot.left + 1, high = spot.bottom - spot.top + 1;
    const int more = std::max(2, static_cast<int>(std::ceil(0.3 * std::max(wide, high))));
    const int left = spot.left - more, right = spot.right + more, top = spot.top - more, bottom = spot.bottom + more;
    if (left < 0 || top < 0 || right >= width || bottom >= height) return std::nullopt;
    const double dots = static_cast<double>(spot.pixels.size());
    if (dots < 0.6 * wide * high || dots > 0.9 * wide * high) return std::nullopt;
    // The paper under it lies evenly from one side of the window to the other; ink is a share of that.
    const auto at = [&](int x, int y) { return static_cast<double>(grey.at(x, y)); };
    const double midX = (left + right) / 2.0, midY = (top + bottom) / 2.0;
    std::vector<double> rim;
    double acrossX = 0, acrossY = 0, ofX = 0, ofY = 0;
    const auto take = [&](int x, int y) {
        const double v = rim.emplace_back(at(x, y));
        acrossX += v * (x - midX), ofX += (x - midX) * (x - midX);
        acrossY += v * (y - midY), ofY += (y - midY) * (y - midY);
    };
    for (int x = left; x <= right; ++x) take(x, top), take(x, bottom);
    for (int y = top + 1; y < bottom; ++y) take(left, y), take(right, y);
    const double light = middleOf(rim), slopeX = acrossX / ofX, slopeY = acrossY / ofY;
    const auto paper = [&](int x, int y) { return std::max(1.0, light + slopeX * (x - midX) + slopeY * (y - midY)); };
    std::vector<double> ink;
    for (const int i : spot.pixels) ink.push_back(at(i % width, i / width) / paper(i % width, i / width));
    const double dark = middleOf(ink);
    if (light < 20 || dark > 0.85) return std::nullopt;
    double sum = 0, mx = 0, my = 0, xx = 0, xy = 0, yy = 0, beside = 0;
    for (int y = top; y <= bottom; ++y)
        for (int x = left; x <= right; ++x) {
            const double w = std::clamp((1 - at(x, y) / paper(x, y)) / (1 - dark), -0.5, 1.5);
            const double px = x + 0.5, py = y + 0.5;
            // Beyond the mark's own blur there is paper only; its noise would pull a far window's moments about.
            const double ex = (px - (spot.left + spot.right + 1) / 2.0) / (wide / 2 + more * 0.6),
                         ey = (py - (spot.top + spot.bottom + 1) / 2.0) / (high / 2 + more * 0.6);
            if (ex * ex + ey * ey > 1) {
                beside += w > 0.5;
                continue;
            }
            sum += w, mx += w * px, my += w * py;
            xx += w * px * px, xy += w * px * py, yy += w * py * py;
        }
    if (!(sum > 0) || beside > 0.02 * dots) return std::nullopt;
    mx /= sum, my /= sum;
    xx = xx / sum - mx * mx, xy = xy / sum - mx * my, yy = yy / sum - my * my;
    const double half = (xx + yy) / 2, apart = std::hypot((xx - yy) / 2, xy);
    const double large = half + apart, small = half - apart;
    if (!(small > 0) || small < 0.25 * large) return std::nullopt;
    // An even ellipse is as large as its spread says; a square, a ring, a letter is not.
    const double asEllipse = 4 * pi * std::sqrt(large * small);
    const double radius = std::sqrt(sum / pi);
    const double blur = std::min(0.3, 8 / (radius * radius)); // spreads a small one
    if (sum / asEllipse > 1.06 || sum / asEllipse < 0.94 - blur) return std::nullopt;
    // And its edge lies where the ellipse's does.
    double off = 0;
    for (const int i : spot.pixels) {
        const double x = i % width + 0.5 - mx, y = i / width + 0.5 - my;
        const double det = xx * yy - xy * xy;
        off = std::max(off, (yy * x * x - 2 * xy * x * y + xx * y * y) / det / 4);
    }
    if (std::sqrt(off) > 1.08 + 1.5 / radius) return std::nullopt;
    return RoundMark{{mx, my}, radius};
}

} // namespace

std::vector<RoundMark> roundMarksIn(const Grey& grey, double least) {
    if (grey.width < 8 || grey.height < 8) return {};
    const Paper paper(grey);
    // Noise makes lone dots and holes: a pixel goes by the middle one of its neighbours.
    std::vector<std::uint8_t> below(grey.values.size()), dark(grey.values.size());
    for (int y = 0; y < grey.height; ++y)
        for (int x = 0; x < grey.width; ++x)
            below[static_cast<std::size_t>(y * grey.width + x)] = grey.at(x, y) < 0.65 * paper.at(x, y);
    for (int y = 1; y + 1 < grey.height; ++y)
        for (int x = 1; x + 1 < grey.width; ++x) {
            int count = 0;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx)
                    count += below[static_cast<std::size_t>((y + dy) * grey.width + x + dx)];
            dark[static_cast<std::size_t>(y * grey.width + x)] = count >= 5;
        }
    std::vector<RoundMark> marks;
    for (const auto& spot : spotsOf(dark, grey.width, grey.height)) {
        if (spot.right - spot.left + 1 < least || spot.bottom - spot.top + 1 < least) continue;
        if (const auto mark = markOf(spot, grey)) marks.push_back(*mark);
    }
    return marks; // as their first pixels come, row by row
}

} // namespace ferro::picture
