#include "trace/palette.h"

#include <cmath>
#include <map>
#include <numeric>

namespace ferro::trace {

namespace {

struct Lab {
    double l = 0, a = 0, b = 0;
};
Lab labOf(Colour c) {
    const auto linear = [](std::uint8_t v) {
        const double s = v / 255.0;
        return s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
    };
    const double r = linear(c.r), g = linear(c.g), b = linear(c.b);
    const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
    const double x = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047),
                 y = f(0.2126729 * r + 0.7151522 * g + 0.0721750 * b),
                 z = f((0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}
double apart2(const Lab& p, const Lab& q) {
    return (p.l - q.l) * (p.l - q.l) + (p.a - q.a) * (p.a - q.a) + (p.b - q.b) * (p.b - q.b);
}

/// Pixels as colours on white paper.
class Pixels {
public:
    explicit Pixels(const picture::Picture& picture)
        : data_(picture.pixels->data()), width_(picture.width), height_(picture.height),
          channels_(static_cast<std::size_t>(picture.channels)) {}
    [[nodiscard]] int width() const { return width_; }
    [[nodiscard]] int height() const { return height_; }
    [[nodiscard]] Colour at(int x, int y) const {
        const std::uint8_t* p =
            data_ +
            (static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x)) * channels_;
        if (channels_ == 1) return {p[0], p[0], p[0]};
        if (channels_ == 3) return {p[0], p[1], p[2]};
        const auto on = [&](std::uint8_t v) {
            return static_cast<std::uint8_t>((v * p[3] + 255 * (255 - p[3]) + 127) / 255);
        };
        return {on(p[0]), on(p[1]), on(p[2])};
    }
    /// The mean with the four neighbours.
    [[nodiscard]] Colour around(int x, int y) const {
        std::array<int, 3> sum{};
        int n = 0;
        const auto take = [&](int nx, int ny) {
            if (nx < 0 || ny < 0 || nx >= width_ || ny >= height_) return;
            const Colour c = at(nx, ny);
            sum[0] += c.r, sum[1] += c.g, sum[2] += c.b, ++n;
        };
        take(x, y), take(x - 1, y), take(x + 1, y), take(x, y - 1), take(x, y + 1);
        const auto mean = [n](int of) { return static_cast<std::uint8_t>((of + n / 2) / n); };
        return {mean(sum[0]), mean(sum[1]), mean(sum[2])};
    }
    /// The largest step of a channel to the four neighbours.
    [[nodiscard]] int step(int x, int y) const {
        const Colour c = at(x, y);
        int most = 0;
        const auto take = [&](int nx, int ny) {
            if (nx < 0 || ny < 0 || nx >= width_ || ny >= height_) return;
            const Colour n = at(nx, ny);
            most = std::max({most, std::abs(c.r - n.r), std::abs(c.g - n.g), std::abs(c.b - n.b)});
        };
        take(x - 1, y), take(x + 1, y), take(x, y - 1), take(x, y + 1);
        return most;
    }
    /// Between its two neighbours some way, which differ: a mixture of them, as edges have. A thin line's middle is
    /// not.
    [[nodiscard]] bool isMixed(int x, int y, int grain) const {
        const Colour c = at(x, y);
        for (const auto& [dx, dy] : {std::pair{1, 0}, {0, 1}, {1, 1}, {1, -1}}) {
            if (x < 1 || y < 1 || x + 1 >= width_ || y + 1 >= height_) return false;
            const Colour a = at(x - dx, y - dy), b = at(x + dx, y + dy);
            const auto apart = [](Colour p, Colour q) {
                return std::max({std::abs(p.r - q.r), std::abs(p.g - q.g), std::abs(p.b - q.b)});
            };
            if (apart(a, b) <= 2 * grain || apart(a, c) <= grain / 2 || apart(c, b) <= grain / 2) continue;
            const auto between = [](int v, int p, int q) { return v >= std::min(p, q) - 3 && v <= std::max(p, q) + 3; };
            if (between(c.r, a.r, b.r) && between(c.g, a.g, b.g) && between(c.b, a.b, b.b)) return true;
        }
        return false;
    }
    /// Below this a step is grain, above it an edge.
    [[nodiscard]] int grain() const {
        std::array<std::size_t, 256> steps{};
        std::size_t n = 0;
        const int stride = std::max(1, static_cast<int>(std::sqrt(width_ * static_cast<double>(height_) / 2e5)));
        for (int y = 0; y < height_; y += stride)
            for (int x = 0; x < width_; x += stride) ++steps[static_cast<std::size_t>(step(x, y))], ++n;
        std::size_t seen = 0;
        int middle = 0;
        while (middle < 255 && (seen += steps[static_cast<std::size_t>(middle)]) < n / 2) ++middle;
        return std::clamp(5 * middle / 2, 8, 40);
    }

private:
    const std::uint8_t* data_;
    int width_, height_;
    std::size_t channels_;
};

struct Cluster {
    double n = 0, r = 0, g = 0, b = 0; // sums
    [[nodiscard]] Colour colour() const {
        const auto mean = [&](double sum) {
            return static_cast<std::uint8_t>(std::clamp(std::lround(sum / n), 0L, 255L));
        };
        return {mean(r), mean(g), mean(b)};
    }
    void take(const Cluster& c) { n += c.n, r += c.r, g += c.g, b += c.b; }
};

std::size_t bin(Colour c) {
    return static_cast<std::size_t>(c.r >> 3) << 10 | static_cast<std::size_t>(c.g >> 3) << 5 |
           static_cast<std::size_t>(c.b >> 3);
}

/// Joins the pair whose joining costs least, as long as `more` says.
template<class More> void joinClosest(std::vector<Cluster>& clusters, More&& more) {
    while (clusters.size() > 1) {
        double least = std::numeric_limits<double>::infinity(), unlike = 0;
        std::size_t p = 0, q = 0;
        for (std::size_t i = 0; i < clusters.size(); ++i)
            for (std::size_t k = i + 1; k < clusters.size(); ++k) {
                const double d2 = apart2(labOf(clusters[i].colour()), labOf(clusters[k].colour()));
                const double cost = d2 * clusters[i].n * clusters[k].n / (clusters[i].n + clusters[k].n);
                if (cost < least) least = cost, p = i, q = k, unlike = std::sqrt(d2);
            }
        if (!more(unlike)) return;
        clusters[p].take(clusters[q]);
        clusters.erase(clusters.begin() + static_cast<std::ptrdiff_t>(q));
    }
}

} // namespace

double difference(Colour a, Colour b) { return std::sqrt(apart2(labOf(a), labOf(b))); }

std::vector<std::string> namesOf(const std::vector<Colour>& palette) {
    std::map<std::string, int> used;
    std::vector<std::string> names;
    for (const Colour c : palette) {
        const Lab lab = labOf(c);
        const double chroma = std::hypot(lab.a, lab.b), hue = std::atan2(lab.b, lab.a) * 180 / 3.14159265358979;
        std::string name;
        if (chroma < 12) {
            name = lab.l < 22   ? "black"
                   : lab.l < 45 ? "dark grey"
                   : lab.l < 75 ? "grey"
                   : lab.l < 93 ? "light grey"
                                : "white";
        } else {
            const double h = hue < 0 ? hue + 360 : hue;
            const char* word = h < 20    ? "pink"
                               : h < 48  ? "red"
                               : h < 72  ? "orange"
                               : h < 105 ? "yellow"
                               : h < 165 ? "green"
                               : h < 230 ? "teal"
                               : h < 300 ? "blue"
                               : h < 335 ? "violet"
                                         : "pink";
            if (h >= 40 && h < 85 && lab.l < 55) word = "brown";
            if ((h < 20 || h >= 335) && lab.l < 50) word = "red";
            name = std::string(lab.l < 35 ? "dark " : lab.l > 82 && h < 72 ? "light " : "") + word;
        }
        const int n = ++used[name];
        names.push_back(n == 1 ? name : fmt::format("{} {}", name, n));
    }
    return names;
}

std::vector<Colour> paletteOf(const picture::Picture& picture, int count) {
    const Pixels pixels(picture);
    const int grain = pixels.grain();
    std::vector<Cluster> bins(1 << 15);
    const int stride = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(picture.count()) / 4e6)));
    double flat = 0;
    const auto gather = [&](int edge) { // what is even, and thin lines, which never are but are no mixture either
        for (int y = 0; y < pixels.height(); y += stride)
            for (int x = 0; x < pixels.width(); x += stride) {
                const bool isEven = pixels.step(x, y) <= edge;
                if (!isEven && pixels.isMixed(x, y, grain)) continue;
                // Where it is even the neighbours have the same colour with another grain.
                const Colour c = isEven ? pixels.around(x, y) : pixels.at(x, y);
                auto& b = bins[bin(c)];
                b.n += 1, b.r += c.r, b.g += c.g, b.b += c.b;
                flat += 1;
            }
    };
    gather(grain);
    if (flat == 0) gather(255); // nothing is even anywhere
    std::vector<Cluster> seeds;
    for (const auto& b : bins)
        if (b.n > 0) seeds.push_back(b);
    std::stable_sort(seeds.begin(), seeds.end(), [](const Cluster& a, const Cluster& b) { return a.n > b.n; });
    // Each bin to a colour that is there already and looks alike, else it is a new one.
    std::vector<Cluster> clusters;
    for (const auto& seed : seeds) {
        Cluster* near = nullptr;
        double least = clusters.size() < 48 ? 10.0 * 10 : std::numeric_limits<double>::infinity();
        for (auto& c : clusters)
            if (const double d2 = apart2(labOf(c.colour()), labOf(seed.colour())); d2 < least) least = d2, near = &c;
        if (near)
            near->take(seed);
        else
            clusters.push_back(seed);
    }
    // What is hardly there goes to what it looks like most; less is enough where a person counts on as many colours.
    const double least = count > 0 ? std::max(12.0 / (stride * stride), flat / 20'000) : flat / 500;
    std::stable_sort(clusters.begin(), clusters.end(), [](const Cluster& a, const Cluster& b) { return a.n > b.n; });
    while (clusters.size() > 1 && clusters.back().n < least) {
        const Cluster last = clusters.back();
        clusters.pop_back();
        auto near = std::min_element(clusters.begin(), clusters.end(), [&](const Cluster& a, const Cluster& b) {
            return apart2(labOf(a.colour()), labOf(last.colour())) < apart2(labOf(b.colour()), labOf(last.colour()));
        });
        // A far-off colour must not pull the other off its own.
        if (apart2(labOf(near->colour()), labOf(last.colour())) < 15.0 * 15) near->take(last);
    }
    if (count > 0)
        joinClosest(clusters, [&](double) { return static_cast<int>(clusters.size()) > count; });
    else
        joinClosest(clusters, [&](double unlike) { return unlike < 12 || clusters.size() > 24; });
    std::stable_sort(clusters.begin(), clusters.end(), [](const Cluster& a, const Cluster& b) { return a.n > b.n; });
    std::vector<Colour> palette;
    for (const auto& c : clusters) palette.push_back(c.colour());
    return palette;
}

std::optional<Colour> colourAt(const picture::Picture& picture, int x, int y) {
    if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return std::nullopt;
    const Pixels pixels(picture);
    std::vector<std::uint8_t> r, g, b;
    for (int ny = std::max(0, y - 2); ny <= std::min(picture.height - 1, y + 2); ++ny)
        for (int nx = std::max(0, x - 2); nx <= std::min(picture.width - 1, x + 2); ++nx) {
            const Colour c = pixels.at(nx, ny);
            r.push_back(c.r), g.push_back(c.g), b.push_back(c.b);
        }
    const auto median = [](std::vector<std::uint8_t>& values) {
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::nth_element(values.begin(), middle, values.end());
        return *middle;
    };
    return Colour{median(r), median(g), median(b)};
}

std::vector<std::uint8_t> labelled(const picture::Picture& picture, const std::vector<Colour>& palette) {
    constexpr std::uint8_t open = 255;
    const Pixels pixels(picture);
    const int w = pixels.width(), h = pixels.height(), grain = pixels.grain();
    std::vector<Lab> labs;
    for (const Colour c : palette) labs.push_back(labOf(c));
    // The nearest of the palette by a table of 64 steps a channel, filled as it is asked.
    struct Near {
        std::uint8_t label = open;
        bool sure = false;
    };
    std::vector<Near> table(1 << 18);
    const auto nearest = [&](Colour c) -> const Near& {
        auto& entry = table[static_cast<std::size_t>(c.r >> 2) << 12 | static_cast<std::size_t>(c.g >> 2) << 6 |
                            static_cast<std::size_t>(c.b >> 2)];
        if (entry.label == open) {
            const Lab lab = labOf({static_cast<std::uint8_t>(c.r | 2), static_cast<std::uint8_t>(c.g | 2),
                                   static_cast<std::uint8_t>(c.b | 2)});
            double least = std::numeric_limits<double>::infinity();
            for (std::size_t i = 0; i < labs.size(); ++i)
                if (const double d2 = apart2(lab, labs[i]); d2 < least)
                    least = d2, entry.label = static_cast<std::uint8_t>(i);
            entry.sure = least < 7.0 * 7;
        }
        return entry;
    };
    const auto index = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x);
    };
    std::vector<std::uint8_t> labels(picture.count(), open);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const auto& near = nearest(pixels.at(x, y));
            // Thin lines have nothing even in them, but a middle that has their full colour.
            if (pixels.step(x, y) <= grain || (near.sure && !pixels.isMixed(x, y, grain)))
                labels[index(x, y)] = near.label;
        }
    // The rest ring by ring, each to whichever of the colours beside it is nearest.
    std::vector<std::uint32_t> ring;
    const auto hasLabel = [&](int x, int y) {
        return x >= 0 && y >= 0 && x < w && y < h && labels[index(x, y)] != open;
    };
    const auto touches = [&](int x, int y) {
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx)
                if (hasLabel(x + dx, y + dy)) return true;
        return false;
    };
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            if (labels[index(x, y)] == open && touches(x, y)) ring.push_back(static_cast<std::uint32_t>(index(x, y)));
    std::vector<std::uint8_t> given;
    while (!ring.empty()) {
        given.clear();
        for (const auto i : ring) {
            const int x = static_cast<int>(i % static_cast<std::uint32_t>(w)),
                      y = static_cast<int>(i / static_cast<std::uint32_t>(w));
            // Light mixes in the channels, not as it looks: half of two colours is half way between their channels.
            const Colour c = pixels.at(x, y);
            std::uint8_t best = 0;
            double least = std::numeric_limits<double>::infinity();
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx)
                    if (hasLabel(x + dx, y + dy)) {
                        const auto l = labels[index(x + dx, y + dy)];
                        const double dr = c.r - palette[l].r, dg = c.g - palette[l].g, db = c.b - palette[l].b;
                        const double d2 = dr * dr + dg * dg + db * db;
                        if (d2 < least || (d2 == least && l < best)) least = d2, best = l;
                    }
            given.push_back(best);
        }
        for (std::size_t k = 0; k < ring.size(); ++k) labels[ring[k]] = given[k];
        std::vector<std::uint32_t> next;
        for (const auto i : ring) {
            const int x = static_cast<int>(i % static_cast<std::uint32_t>(w)),
                      y = static_cast<int>(i / static_cast<std::uint32_t>(w));
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx)
                    if (const int nx = x + dx, ny = y + dy;
                        nx >= 0 && ny >= 0 && nx < w && ny < h && labels[index(nx, ny)] == open)
                        next.push_back(static_cast<std::uint32_t>(index(nx, ny)));
        }
        std::sort(next.begin(), next.end());
        next.erase(std::unique(next.begin(), next.end()), next.end());
        ring = std::move(next);
    }
    for (auto& l : labels)
        if (l == open) l = 0; // a picture without anything sure
    return labels;
}

std::size_t dropSpecks(std::vector<std::uint8_t>& labels, int width, double least) {
    const auto w = static_cast<std::uint32_t>(width), n = static_cast<std::uint32_t>(labels.size());
    if (n == 0) return 0;
    // Patches by union-find over the four neighbours.
    std::vector<std::uint32_t> root(n);
    std::iota(root.begin(), root.end(), 0u);
    const auto find = [&](std::uint32_t i) {
        while (root[i] != i) i = root[i] = root[root[i]];
        return i;
    };
    const auto join = [&](std::uint32_t a, std::uint32_t b) {
        a = find(a), b = find(b);
        if (a != b) root[std::max(a, b)] = std::min(a, b);
    };
    for (std::uint32_t i = 0; i < n; ++i) {
        if (i % w && labels[i] == labels[i - 1]) join(i, i - 1);
        if (i >= w && labels[i] == labels[i - w]) join(i, i - w);
    }
    std::vector<std::uint32_t> size(n, 0);
    for (std::uint32_t i = 0; i < n; ++i) ++size[find(i)];
    std::map<std::uint32_t, std::vector<std::uint32_t>> specks; // by root, their pixels
    for (std::uint32_t i = 0; i < n; ++i)
        if (const auto r = find(i); size[r] < least) specks[r].push_back(i);
    std::vector<std::uint32_t> order;
    for (const auto& [r, pixels] : specks) order.push_back(r);
    std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return specks[a].size() < specks[b].size(); });
    std::size_t dropped = 0;
    for (const auto r : order) {
        std::map<std::uint8_t, std::size_t> beside;
        const auto own = labels[r];
        for (const auto i : specks[r]) {
            const auto look = [&](bool there, std::uint32_t k) {
                if (there && labels[k] != own) ++beside[labels[k]];
            };
            look(i % w > 0, i - 1), look(i % w + 1 < w, i + 1), look(i >= w, i - w), look(i + w < n, i + w);
        }
        const auto most = std::max_element(beside.begin(), beside.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        if (most == beside.end()) continue;
        for (const auto i : specks[r]) labels[i] = most->first;
        ++dropped;
    }
    return dropped;
}

} // namespace ferro::trace
