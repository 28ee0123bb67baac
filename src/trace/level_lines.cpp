#include "trace/level_lines.h"

#include "base/parallel.h"

#include <array>
#include <bit>
#include <cstring>
#include <future>

namespace ferro::trace {

namespace {

/// Which pixels are dark, a bit each, with a frame of light one pixel wide: pixel (x, y) is bit x + 1 of row y + 1.
class Mask {
public:
    Mask(const picture::Grey& grey, double level, bool invert)
        : words_((static_cast<std::size_t>(grey.width) + 2 + 63) / 64),
          bits_(words_ * (static_cast<std::size_t>(grey.height) + 2), 0), seen_(bits_.size(), 0) {
        const int darkest = static_cast<int>(std::ceil(level)); // greys below are dark
        parallelSlices(static_cast<std::size_t>(grey.height), 64, [&](std::size_t begin, std::size_t end) {
            std::vector<std::uint8_t> dark(words_ * 64, 0);
            for (std::size_t y = begin; y < end; ++y) {
                const std::uint8_t* row = grey.values.data() + y * static_cast<std::size_t>(grey.width);
                for (int x = 0; x < grey.width; ++x)
                    dark[static_cast<std::size_t>(x) + 1] = (row[x] < darkest) != invert;
                for (std::size_t w = 0; w < words_; ++w) {
                    std::uint64_t word = 0;
                    for (std::size_t byte = 0; byte < 8; ++byte) {
                        // Eight bytes of 0 or 1 to eight bits: the product puts byte k at bit 56 + k.
                        std::uint64_t eight = 0;
                        std::memcpy(&eight, &dark[w * 64 + byte * 8], 8);
                        word |= (eight * 0x0102040810204080ULL >> 56) << (8 * byte);
                    }
                    bits_[(y + 1) * words_ + w] = word;
                }
            }
        });
    }
    [[nodiscard]] bool dark(int x, int y) const { return test(bits_, x, y); }
    /// Light at x, dark at x + 1.
    [[nodiscard]] bool seen(int x, int y) const { return test(seen_, x, y); }
    void see(int x, int y) { seen_[index(x, y)] |= std::uint64_t{1} << (static_cast<unsigned>(x + 1) % 64); }
    /// Calls `begins(x)` for each pixel of the row that is light with a dark one after it, not seen before.
    template<class Begins> void eachBeginning(int y, Begins&& begins) {
        const std::size_t row = static_cast<std::size_t>(y + 1) * words_;
        for (std::size_t w = 0; w < words_; ++w) {
            const auto at = [&] {
                const std::uint64_t next = w + 1 < words_ ? bits_[row + w + 1] << 63 : 0;
                return ~bits_[row + w] & (bits_[row + w] >> 1 | next) & ~seen_[row + w];
            };
            for (auto found = at(); found; found = at()) begins(static_cast<int>(w) * 64 + std::countr_zero(found) - 1);
        }
    }

private:
    [[nodiscard]] std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y + 1) * words_ + static_cast<unsigned>(x + 1) / 64;
    }
    [[nodiscard]] bool test(const std::vector<std::uint64_t>& bits, int x, int y) const {
        return bits[index(x, y)] >> (static_cast<unsigned>(x + 1) % 64) & 1;
    }
    std::size_t words_;
    std::vector<std::uint64_t> bits_, seen_;
};

/// The greys themselves; dark is above 0.
class Field {
public:
    Field(const picture::Grey& grey, double level, bool invert)
        : grey_(grey), level_(level), sign_(invert ? -1 : 1), width_(grey.width), height_(grey.height) {}
    [[nodiscard]] bool inside(int x, int y) const {
        return static_cast<unsigned>(x) < static_cast<unsigned>(width_) &&
               static_cast<unsigned>(y) < static_cast<unsigned>(height_);
    }
    [[nodiscard]] double at(int x, int y) const { return sign_ * (level_ - grey_.at(x, y)); }
    /// Where between two neighbours the level lies, from the first; the frame begins half a pixel out.
    [[nodiscard]] double share(int x0, int y0, int dx, int dy) const {
        const int x1 = x0 + dx, y1 = y0 + dy;
        if (!inside(x0, y0) || !inside(x1, y1)) return 0.5;
        const double a = at(x0, y0), b = at(x1, y1);
        const double straight = a / (a - b);
        // A pixel's grey is the share of it that is covered. Where the greys are level two pixels to either side, the
        // covers between add up to where the edge lies, whichever way it runs (Tabatabai & Mitchell 1984); the line
        // between two greys does not: it is up to a twelfth of a pixel off. Another level than the middle of the two
        // sides is a shift by as much of the edge's own width; near one side's grey it is crossed a pixel beside it.
        const std::ptrdiff_t next = dy * static_cast<std::ptrdiff_t>(width_) + dx;
        const std::uint8_t* first = grey_.values.data() + y0 * static_cast<std::ptrdiff_t>(width_) + x0;
        for (const int aside : {0, 1, -1}) {
            const int begin = -2 - aside;
            if (!inside(x0 + begin * dx, y0 + begin * dy) || !inside(x0 + (begin + 5) * dx, y0 + (begin + 5) * dy))
                continue;
            const std::uint8_t* from = first + begin * next;
            const auto step = [&](int i, int k) { return std::abs(from[i * next] - from[k * next]); };
            const double most = even * step(0, 5);
            if ((from[0] < level_) == (from[5 * next] < level_) || step(0, 1) > most || step(5, 4) > most) continue;
            std::array<double, 6> v;
            for (auto& value : v) value = sign_ * (level_ - *from), from += next;
            const double contrast = v[0] - v[5];
            // In pixels, from 1.5 before the middle of the first.
            const double covered = (v[1] + v[2] + v[3] + v[4] - 4 * v[5]) / contrast;
            const double shift = (v[0] + v[5]) / 2 / contrast, reach = 0.3 + std::abs(shift);
            if (aside != 0 && std::abs(shift) < 0.2) continue;
            const double wide =
                shift == 0 ? 1 : widthOf(covered, (v[1] + 3 * v[2] + 5 * v[3] + 7 * v[4] - 16 * v[5]) / contrast);
            return std::clamp(covered - 1.5 - aside + shift * wide, straight - reach, straight + reach);
        }
        if (!inside(x0 - 2 * dx, y0 - 2 * dy) || !inside(x1 + 2 * dx, y1 + 2 * dy)) return straight;
        const auto band = a > 0 ? shareOfBand(x0, y0, -dx, -dy, 1) : shareOfBand(x1, y1, dx, dy, 1);
        const auto gap = a > 0 ? shareOfBand(x1, y1, dx, dy, -1) : shareOfBand(x0, y0, -dx, -dy, -1);
        if (!band && !gap) return straight;
        // Both are measured from their own pixel of the two, away from the other.
        const double own = band ? *band : *gap;
        const bool fromFirst = band ? a > 0 : a <= 0;
        return std::clamp(fromFirst ? own : 1 - own, straight - 0.3, straight + 0.3);
    }
    /// How many pixels the greys take from one side to the other, 1 or more: by how far their steps are spread, of
    /// which the mean and the mean square of their places are given. A pixel's own width and the sampling spread a
    /// sharp edge by a twelfth each.
    [[nodiscard]] static double widthOf(double mean, double square) {
        return std::sqrt(std::clamp(12 * (square - mean * mean) - 2, 1.0, 25.0));
    }
    /// How far beyond its outermost pixel, towards the edge that was crossed, a band of up to a few pixels reaches:
    /// too narrow for its greys to become even, it is as wide as its covers add up to, about their centre, if what lies
    /// to either side is even. `side`: 1 a dark band, -1 a light one. The level is taken for half covered.
    [[nodiscard]] std::optional<double> shareOfBand(int x, int y, int dx, int dy, int side) const {
        constexpr int widest = 6;
        const auto value = [&](int k) { return side * at(x + k * dx, y + k * dy); };
        if (!inside(x - 2 * dx, y - 2 * dy) || !inside(x + (widest + 3) * dx, y + (widest + 3) * dy) ||
            value(widest) > 0)
            return std::nullopt;
        int last = 0; // of the band
        while (value(last + 1) > 0) ++last;
        const double ground = -(value(-2) + value(last + 3)) / 2; // the greys of what lies round it, from the level
        if (!(ground > 0) || std::abs(value(-2) + ground) > 2 * even * ground) return std::nullopt;
        double cover = 0, weighted = 0;
        for (int k = -2; k <= last + 3; ++k) {
            const double share = (value(k) + ground) / (2 * ground);
            cover += share, weighted += share * k;
        }
        return cover / 2 - weighted / cover;
    }
    /// Greys per px across the cell whose upper left is x, y; below 0 where it is not all in the picture.
    [[nodiscard]] double slope(int x, int y) const {
        if (!inside(x, y) || !inside(x + 1, y + 1)) return -1;
        const double a = at(x, y), b = at(x + 1, y), c = at(x, y + 1), d = at(x + 1, y + 1);
        const double across = b + d - a - c, down = c + d - a - b;
        return std::sqrt(across * across + down * down) / 2;
    }
    [[nodiscard]] double meanOf(int x, int y) const { // of the cell whose upper left is x, y
        double sum = 0;
        for (const auto& [dx, dy] : {std::pair{0, 0}, {1, 0}, {0, 1}, {1, 1}})
            sum += inside(x + dx, y + dy) ? at(x + dx, y + dy) : -std::abs(level_);
        return sum;
    }

private:
    static constexpr double even = 0.08; // of the contrast: greys that differ by less are the same
    const picture::Grey& grey_;
    double level_, sign_;
    int width_, height_;
};

enum Side : std::int8_t { left, top, right, bottom };

/// A cell between four pixels, upper left at x, y, and the side by which a line comes into it.
struct Step {
    int x, y;
    Side in;
};

/// The steps of the line through the crossing between (x, y), light, and (x + 1, y), dark: first downwards, dark on the
/// left of the way all round. What it crosses in its rows is seen. `steps`: room to write in, kept from line to line.
std::vector<Step> walk(Mask& mask, const Field& field, int startX, int startY, std::vector<Step>& steps) {
    steps.clear();
    int x = startX, y = startY;
    Side in = top;
    do {
        steps.push_back({x, y, in});
        if (in == top) mask.see(x, y);
        const bool a = mask.dark(x, y), b = mask.dark(x + 1, y), c = mask.dark(x, y + 1), d = mask.dark(x + 1, y + 1);
        // Out where dark stays on the left: turn left, ahead or right of the way in.
        Side out = in;
        const bool saddle = a == d && b == c && a != b, joins = saddle && field.meanOf(x, y) > 0;
        switch (in) {
        case top: // downwards, dark b on the left, light a on the right
            out = saddle ? (joins ? left : right) : d ? (c ? left : bottom) : right;
            break;
        case bottom: // upwards, dark c, light d
            out = saddle ? (joins ? right : left) : a ? (b ? right : top) : left;
            break;
        case left: // to the right, dark a, light c
            out = saddle ? (joins ? bottom : top) : b ? (d ? bottom : right) : top;
            break;
        case right: // to the left, dark d, light b
            out = saddle ? (joins ? top : bottom) : c ? (a ? top : left) : bottom;
            break;
        }
        switch (out) {
        case left: --x, in = right; break;
        case right: ++x, in = left; break;
        case top: --y, in = bottom; break;
        case bottom: ++y, in = top; break;
        }
    } while (x != startX || y != startY || in != top);
    return steps;
}

/// A pixel tells where the edge is on the mean of its width, which lies inside a bend: by κ / 24 of a pixel where the
/// edge runs along the rows or the columns, by twice that in between. Each point is moved back by the middle of the
/// two, the bend being that of the arc through it and its fourth neighbours.
Ring unflattened(Ring points) {
    constexpr std::size_t reach = 4;
    const std::size_t n = points.size();
    if (n < 3 * reach) return points;
    Ring out = points;
    for (std::size_t i = 0; i < n; ++i) {
        const Vec2 a = points[i >= reach ? i - reach : i + n - reach],
                   b = points[i + reach < n ? i + reach : i + reach - n];
        const Vec2 sagitta = points[i] - (a + b) / 2;
        out[i] += sagitta * (1.5 / 24 * 2 / std::max(4.0, dot(b - a, b - a) / 4));
    }
    return out;
}

/// Which line lies next round each, -1 where none does: the one last entered on its topmost row and not yet left, for
/// they do not cross. Between two pixels of a row there is one line at most: their columns tell the order.
std::vector<int> parentsOf(const std::vector<std::vector<Step>>& walks, int height) {
    struct Crossing {
        int x, line;
    };
    std::vector<std::size_t> first(static_cast<std::size_t>(height) + 2, 0);
    const auto row = [](const Step& s) { return static_cast<std::size_t>(s.in == top ? s.y : s.y + 1); };
    for (const auto& steps : walks)
        for (const auto& s : steps)
            if (s.in == top || s.in == bottom) ++first[row(s) + 1];
    for (std::size_t i = 1; i < first.size(); ++i) first[i] += first[i - 1];
    std::vector<Crossing> crossings(first.back());
    auto next = first;
    for (std::size_t line = 0; line < walks.size(); ++line)
        for (const auto& s : walks[line])
            if (s.in == top || s.in == bottom) crossings[next[row(s)]++] = {s.x, static_cast<int>(line)};
    std::vector<int> parents(walks.size(), -1);
    std::vector<bool> known(walks.size(), false);
    std::vector<int> open;
    for (std::size_t r = 0; r + 1 < first.size(); ++r) {
        const auto begin = crossings.begin() + static_cast<std::ptrdiff_t>(first[r]),
                   end = crossings.begin() + static_cast<std::ptrdiff_t>(first[r + 1]);
        std::sort(begin, end, [](const Crossing& a, const Crossing& b) { return a.x < b.x; });
        open.clear();
        for (auto at = begin; at != end; ++at) {
            if (!open.empty() && open.back() == at->line) {
                open.pop_back();
                continue;
            }
            const auto line = static_cast<std::size_t>(at->line);
            if (!known[line]) {
                known[line] = true;
                parents[line] = open.empty() ? -1 : open.back();
            }
            open.push_back(at->line);
        }
    }
    return parents;
}

} // namespace

std::vector<LevelLine> levelLines(const picture::Grey& grey, double level, bool invert, const Progress& progress) {
    const Field field(grey, level, invert);
    Mask mask(grey, level, invert);
    std::vector<std::vector<Step>> walks;
    std::vector<Step> steps;
    for (int y = 0; y < grey.height; ++y) {
        if (y % 256 == 0 && progress.cancelled()) return {};
        mask.eachBeginning(y, [&](int x) { walks.push_back(walk(mask, field, x, y, steps)); });
    }
    // Where each line runs is known; where exactly, the greys tell, for every line by itself.
    auto parents = std::async(std::launch::async, [&] { return parentsOf(walks, grey.height); });
    std::vector<LevelLine> lines(walks.size());
    parallelFor(walks.size(), progress, [&](std::size_t i) {
        auto& line = lines[i];
        line.points.reserve(walks[i].size());
        int measured = 0;
        for (const auto& [x, y, in] : walks[i]) {
            const double column = x + 0.5, row = grey.height - y - 0.5;
            switch (in) {
            case top: line.points.push_back({column + field.share(x, y, 1, 0), row}); break;
            case bottom: line.points.push_back({column + field.share(x, y + 1, 1, 0), row - 1}); break;
            case left: line.points.push_back({column, row - field.share(x, y, 0, 1)}); break;
            case right: line.points.push_back({column + 1, row - field.share(x + 1, y, 0, 1)}); break;
            }
            if (const double slope = field.slope(x, y); slope >= 0) line.slope += slope, ++measured;
        }
        line.points = unflattened(std::move(line.points));
        line.area = areaOf(line.points);
        line.slope /= std::max(1, measured);
    });
    const auto known = parents.get();
    if (progress.cancelled()) return {};
    for (std::size_t i = 0; i < lines.size(); ++i) lines[i].parent = known[i];
    return lines;
}

} // namespace ferro::trace
