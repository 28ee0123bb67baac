#include "trace/settle.h"

#include <array>
#include <cmath>
#include <vector>

namespace ferro::trace {

namespace {

/// Lightness, and how blue and how red it is (ITU-R BT.601).
struct Tint {
    double light = 0, blue = 0, red = 0;
};
Tint tintOf(double r, double g, double b) {
    const double light = 0.299 * r + 0.587 * g + 0.114 * b;
    return {light, 0.564 * (b - light), 0.713 * (r - light)};
}

/// Pixels on white paper, as tints.
class Tints {
public:
    explicit Tints(const picture::Picture& picture)
        : data_(picture.pixels->data()), n_(static_cast<std::size_t>(picture.channels)) {}
    [[nodiscard]] Tint operator[](std::size_t i) const {
        const std::uint8_t* p = data_ + i * n_;
        if (n_ == 1) return {static_cast<double>(p[0]), 0, 0};
        const double cover = n_ == 4 ? p[3] / 255.0 : 1;
        const auto on = [&](std::uint8_t v) { return v * cover + 255 * (1 - cover); };
        return tintOf(on(p[0]), on(p[1]), on(p[2]));
    }

private:
    const std::uint8_t* data_;
    std::size_t n_;
};

class Settler {
public:
    Settler(std::vector<std::uint8_t>& labels, const picture::Picture& picture, const std::vector<Colour>& palette)
        : labels_(labels), w_(picture.width), h_(picture.height), pixels_(picture) {
        for (const Colour c : palette) tints_.push_back(tintOf(c.r, c.g, c.b));
    }

    double run() {
        findBorders();
        for (std::size_t i = 0; i < near_.size(); ++i)
            if (near_[i]) open_.push_back(static_cast<std::uint32_t>(i));
        const double unrest = this->unrest();
        edge_ = std::clamp(wavers * unrest, leastEdge, mostEdge);
        std::vector<char> waits(labels_.size(), 0);
        for (int round = 0; round < rounds && !open_.empty(); ++round) {
            std::vector<std::uint32_t> next;
            const auto visit = [&](std::uint32_t i) {
                const int x = static_cast<int>(i) % w_, y = static_cast<int>(i) / w_;
                const auto best = bestOf(x, y);
                if (best == labels_[i]) return;
                labels_[i] = best;
                for (int dy = -reach; dy <= reach; ++dy) // what lies round it may think anew
                    for (int dx = -reach; dx <= reach; ++dx)
                        if (isIn(x + dx, y + dy))
                            if (const auto k = index(x + dx, y + dy); !std::exchange(waits[k], 1)) next.push_back(k);
            };
            if (round % 2)
                for (auto i = open_.rbegin(); i != open_.rend(); ++i) visit(*i);
            else
                for (const auto i : open_) visit(i);
            for (const auto i : next) waits[i] = 0;
            std::sort(next.begin(), next.end());
            open_ = std::move(next);
        }
        return unrest;
    }

private:
    static constexpr int reach = 2;      ///< px that another colour may run
    static constexpr double most = 0.55; ///< of another colour in a pixel; above half it is rather that one
    /// What a border between two pixels side by side costs, in squared greys: the more the picture wavers near borders.
    static constexpr double leastEdge = 8, mostEdge = 150, wavers = 12;
    static constexpr double slant = 0.5; ///< and one across a corner, of that
    static constexpr double colourCounts = 0.5;
    static constexpr int rounds = 12;

    [[nodiscard]] std::uint32_t index(int x, int y) const { return static_cast<std::uint32_t>(y * w_ + x); }
    [[nodiscard]] bool isIn(int x, int y) const { return x >= 0 && y >= 0 && x < w_ && y < h_; }
    /// Marks what lies within reach of another colour.
    void findBorders() {
        near_.assign(labels_.size(), 0);
        const auto mark = [&](int x, int y) {
            for (int dy = -reach; dy <= reach; ++dy)
                for (int dx = -reach; dx <= reach; ++dx)
                    if (isIn(x + dx, y + dy)) near_[index(x + dx, y + dy)] = 1;
        };
        for (int y = 0; y < h_; ++y)
            for (int x = 0; x < w_; ++x) {
                const auto own = labels_[index(x, y)];
                if (x + 1 < w_ && labels_[index(x + 1, y)] != own) mark(x, y), mark(x + 1, y);
                if (y + 1 < h_ && labels_[index(x, y + 1)] != own) mark(x, y), mark(x, y + 1);
            }
    }
    /// By how much lightness and colour waver where nothing is near but something is not far: squared, on the mean.
    [[nodiscard]] double unrest() const {
        constexpr int away = 6;
        double sum = 0;
        std::size_t n = 0;
        for (int y = away; y + away < h_; y += 2)
            for (int x = away; x + away < w_; x += 2) {
                const auto own = labels_[index(x, y)];
                const auto same = [&](int dx, int dy) { return labels_[index(x + dx, y + dy)] == own; };
                const bool lonely = same(-away, 0) && same(away, 0) && same(0, -away) && same(0, away);
                if (lonely || near_[index(x, y)]) continue;
                const double here = pixels_[index(x, y)].light;
                for (const auto other : {index(x + 1, y), index(x, y + 1)}) {
                    const double light = here - pixels_[other].light;
                    sum += light * light / 2;
                    ++n;
                }
            }
        return n ? sum / static_cast<double>(n) : 0;
    }
    /// The square of how far a value lies from any mixture of two others.
    static double off(double value, double own, double other) {
        const double way = other - own;
        const double part = way == 0 ? 0 : std::clamp((value - own) / way, 0.0, most);
        const double rest = value - own - part * way;
        return rest * rest;
    }
    static double off(double blue, double red, const Tint& own, const Tint& other) {
        const double wb = other.blue - own.blue, wr = other.red - own.red, size = wb * wb + wr * wr;
        const double ob = blue - own.blue, orr = red - own.red;
        const double part = size == 0 ? 0 : std::clamp((ob * wb + orr * wr) / size, 0.0, most);
        const double rb = ob - part * wb, rr = orr - part * wr;
        return rb * rb + rr * rr;
    }
    [[nodiscard]] std::uint8_t bestOf(int x, int y) const {
        // Which colours are near, each once.
        std::array<std::uint8_t, 32> near{};
        std::size_t count = 0;
        for (int dy = -reach; dy <= reach; ++dy)
            for (int dx = -reach; dx <= reach; ++dx) {
                if (!isIn(x + dx, y + dy)) continue;
                const auto l = labels_[index(x + dx, y + dy)];
                if (std::find(near.begin(), near.begin() + count, l) == near.begin() + count && count < near.size())
                    near[count++] = l;
            }
        const auto own = labels_[index(x, y)];
        if (count < 2) return own;
        const Tint pixel = pixels_[index(x, y)];
        auto best = own;
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < count; ++i) {
            const auto l = near[i];
            double cost = 0;
            bool beside = l == own;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    if ((!dx && !dy) || !isIn(x + dx, y + dy)) continue;
                    if (labels_[index(x + dx, y + dy)] != l)
                        cost += dx && dy ? edge_ * slant : edge_;
                    else
                        beside = true;
                }
            if (!beside || cost >= least) continue;
            double light = std::numeric_limits<double>::infinity(), colour = light;
            for (std::size_t k = 0; k < count; ++k) {
                const auto& other = tints_[near[k]];
                const auto& mine = tints_[l];
                // Both from the same other: what runs is that one's colour.
                const double a = off(pixel.light, mine.light, other.light), b = off(pixel.blue, pixel.red, mine, other);
                if (a + colourCounts * b < light + colourCounts * colour) light = a, colour = b;
            }
            cost += light + colourCounts * colour;
            if (cost < least || (cost == least && l == own)) least = cost, best = l;
        }
        return best;
    }

    std::vector<std::uint8_t>& labels_;
    int w_, h_;
    std::vector<Tint> tints_;
    Tints pixels_;
    std::vector<char> near_;
    std::vector<std::uint32_t> open_;
    double edge_ = 0;
};

/// What is known of a colour that has nothing but lines.
struct LineColour {
    std::size_t pixels = 0, inside = 0; ///< in all, and with its own on most sides
    std::size_t explained = 0;          ///< as what two colours mixed, or an edge that was sharpened, leave
    bool patches = false;
    double light = 0, blue = 0, red = 0; ///< where least has run into it
};

} // namespace

void gatherLines(std::vector<std::uint8_t>& labels, const picture::Picture& picture, std::vector<Colour>& palette) {
    if (palette.size() < 3) return;
    const int w = picture.width, h = picture.height;
    const Tints tints(picture);
    std::vector<LineColour> lines(palette.size());
    std::vector<std::size_t> inPatch(palette.size(), 0);
    const auto at = [&](int x, int y) -> std::uint8_t& { return labels[static_cast<std::size_t>(y * w + x)]; };
    struct Inside {
        std::uint32_t pixel;
        float off; ///< how far its colour is from that of what lies beside the line
    };
    std::vector<std::vector<Inside>> insides(palette.size());
    std::vector<Tint> flat;
    for (const Colour c : palette) flat.push_back(tintOf(c.r, c.g, c.b));
    constexpr int far = 4; // px: beyond a line, and a patch is no line
    const auto apart = [](const Tint& a, const Tint& b) {
        return std::hypot(a.light - b.light, a.blue - b.blue, a.red - b.red);
    };
    const auto isExplained = [&](int x, int y) {
        const auto own = at(x, y);
        // What lies at its two sides, the way that it is thinner.
        const auto side = [&](int dx, int dy, int& run) {
            for (int k = 1; k <= far; ++k, ++run)
                if (const auto l = at(x + k * dx, y + k * dy); l != own) return l;
            return own;
        };
        int across = 0, up = 0;
        const auto a = side(1, 0, across), b = side(-1, 0, across), c = side(0, 1, up), d = side(0, -1, up);
        const auto& [p, q] = across <= up ? std::pair{a, b} : std::pair{c, d};
        if (p == own || q == own) return false;
        constexpr double like = 16, mixed = 20; // greys
        const auto &mine = flat[own], &one = flat[p], &two = flat[q];
        if (apart(mine, one) < like || apart(mine, two) < like) return true;
        if (p == q) return false;
        const double size = apart(one, two), way = ((mine.light - one.light) * (two.light - one.light) +
                                                    (mine.blue - one.blue) * (two.blue - one.blue) +
                                                    (mine.red - one.red) * (two.red - one.red)) /
                                                   std::max(1e-9, size * size);
        const double part = std::clamp(way, 0.0, 1.0);
        return apart(mine, {one.light + part * (two.light - one.light), one.blue + part * (two.blue - one.blue),
                            one.red + part * (two.red - one.red)}) < mixed;
    };
    for (int y = far; y + far < h; ++y)
        for (int x = far; x + far < w; ++x) {
            const auto own = at(x, y);
            auto& line = lines[own];
            ++line.pixels;
            line.explained += isExplained(x, y);
            const bool level = at(x - 1, y) == own && at(x + 1, y) == own,
                       upright = at(x, y - 1) == own && at(x, y + 1) == own;
            if (!level && !upright) continue;
            int same = 0;
            std::uint8_t beside = own;
            for (const auto& [dx, dy] :
                 {std::pair{far, 0}, {0, far}, {-far, 0}, {0, -far}, {3, 3}, {3, -3}, {-3, 3}, {-3, -3}}) {
                const auto l = at(x + dx, y + dy);
                same += l == own;
                if (l != own) beside = l;
            }
            if (same >= 7) ++inPatch[own];
            if (same >= 7 || beside == own || !(level && upright)) continue;
            const Tint tint = tints[static_cast<std::size_t>(y * w + x)];
            insides[own].push_back(
                {static_cast<std::uint32_t>(y * w + x),
                 static_cast<float>(std::hypot(tint.blue - flat[beside].blue, tint.red - flat[beside].red))});
        }
    for (std::size_t l = 0; l < palette.size(); ++l) {
        auto& line = lines[l];
        line.patches = 20 * inPatch[l] >= line.pixels;
        line.inside = insides[l].size();
        line.light = flat[l].light, line.blue = flat[l].blue, line.red = flat[l].red;
        if (line.patches || line.inside < 8) continue;
        auto& some = insides[l];
        const auto keep = some.begin() + static_cast<std::ptrdiff_t>(std::max<std::size_t>(4, some.size() / 4));
        std::nth_element(some.begin(), keep, some.end(), [](const Inside& a, const Inside& b) {
            return std::pair(-a.off, a.pixel) < std::pair(-b.off, b.pixel);
        });
        double light = 0, blue = 0, red = 0;
        const auto n = static_cast<double>(keep - some.begin());
        for (auto i = some.begin(); i != keep; ++i) {
            const Tint tint = tints[i->pixel];
            light += tint.light, blue += tint.blue, red += tint.red;
        }
        line.light = light / n, line.blue = blue / n, line.red = red / n;
        const double r = line.light + line.red / 0.713, b = line.light + line.blue / 0.564;
        const double g = (line.light - 0.299 * r - 0.114 * b) / 0.587;
        const auto byte = [](double v) { return static_cast<std::uint8_t>(std::clamp(std::lround(v), 0L, 255L)); };
        palette[l] = {byte(r), byte(g), byte(b)};
    }
    // One whose lightness is another's, and whose colour lies between that one's and what is beside it, is that one.
    std::vector<std::uint8_t> to(palette.size());
    for (std::size_t l = 0; l < to.size(); ++l) to[l] = static_cast<std::uint8_t>(l);
    constexpr double alike = 14;                     // greys
    for (std::size_t l = palette.size(); l-- > 0;) { // the rarest first
        const auto& line = lines[l];
        if (line.patches || line.inside < 4) continue;
        for (std::size_t k = 0; k < palette.size(); ++k) {
            if (k == l || to[k] != k || lines[k].pixels < line.pixels) continue;
            if (std::abs(lines[k].light - line.light) > alike) continue;
            const bool one = std::hypot(lines[k].blue - line.blue, lines[k].red - line.red) < 2 * alike;
            if (one) {
                to[l] = static_cast<std::uint8_t>(k);
                break;
            }
        }
    }
    for (auto& l : to)
        while (to[l] != l) l = to[l];
    // What is nothing but that goes to what is beside it, ring by ring.
    constexpr std::uint8_t none = 255;
    std::size_t gone = 0;
    for (std::size_t l = 0; l < palette.size(); ++l)
        if (to[l] == l && !lines[l].patches && 5 * lines[l].explained > 3 * lines[l].pixels) {
            for (auto& k : to)
                if (k == l) k = none;
            ++gone;
        }
    if (gone == palette.size()) return;
    std::vector<std::uint8_t> place(palette.size(), none);
    std::vector<Colour> kept;
    for (std::size_t l = 0; l < palette.size(); ++l)
        if (to[l] == l && lines[l].pixels > 0)
            place[l] = static_cast<std::uint8_t>(kept.size()), kept.push_back(palette[l]);
    if (kept.empty()) return;
    for (auto& l : labels) l = to[l] == none ? none : place[to[l]];
    palette = std::move(kept);
    for (bool open = gone > 0; open;) {
        open = false;
        const auto before = labels;
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x) {
                if (before[static_cast<std::size_t>(y * w + x)] != none) continue;
                for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}})
                    if (x + dx >= 0 && y + dy >= 0 && x + dx < w && y + dy < h)
                        if (const auto l = before[static_cast<std::size_t>((y + dy) * w + x + dx)]; l != none)
                            at(x, y) = l;
                open |= at(x, y) == none;
            }
        if (labels == before) break; // nothing is beside it
    }
    for (auto& l : labels)
        if (l == none) l = 0;
}

double settle(std::vector<std::uint8_t>& labels, const picture::Picture& picture, const std::vector<Colour>& palette) {
    return palette.size() > 1 ? Settler(labels, picture, palette).run() : 0;
}

} // namespace ferro::trace
