#include "trace/colours.h"

#include "base/parallel.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "trace/borders_internal.h"
#include "trace/outline_fit.h"
#include "trace/settle.h"

namespace ferro::trace {

namespace {

constexpr double uneven = 0.05;  ///< px of wobble that a picture without compression has, at most
constexpr double compressed = 3; ///< squared greys that lightness wavers by near borders, from there on
constexpr double mostWobble = 1; ///< px that may be taken for it

/// The colour that most of the picture's edge has, if it is at least half of it.
std::optional<std::uint8_t> paperOf(const std::vector<std::uint8_t>& labels, int width, int height) {
    std::array<std::size_t, 256> counts{};
    const auto w = static_cast<std::size_t>(width), h = static_cast<std::size_t>(height);
    for (std::size_t x = 0; x < w; ++x) ++counts[labels[x]], ++counts[labels[(h - 1) * w + x]];
    for (std::size_t y = 0; y < h; ++y) ++counts[labels[y * w]], ++counts[labels[y * w + w - 1]];
    const auto most = std::max_element(counts.begin(), counts.end());
    if (*most < w + h) return std::nullopt;
    return static_cast<std::uint8_t>(most - counts.begin());
}

/// Between two pixels of different colours the border lies where half of the one and half of the other make the
/// mixture.
class Mixture {
public:
    Mixture(const picture::Picture& picture, const std::vector<Colour>& palette,
            const std::vector<std::uint8_t>& labels, bool runs)
        : picture_(picture), palette_(palette), labels_(labels), runs_(runs) {}
    Borders::Place operator()(std::size_t p, std::size_t q) const {
        const Shade a = shadeOf(palette_[labels_[p]]), b = shadeOf(palette_[labels_[q]]);
        Shade way = minus(b, a);
        // Where lightness tells them apart it is believed alone: colour runs in compressed pictures.
        const double counts = runs_ && std::abs(way[0]) > enough ? less : 1;
        way = weighed(way, counts);
        const double size = dot(way, way);
        if (size == 0) return {0.5, false};
        bool sure = true;
        const auto part = [&](std::size_t i) {
            const Shade off = weighed(minus(shadeOf(at(i)), a), counts);
            const double s = std::clamp(dot(off, way) / size, 0.0, 1.0);
            const Shade rest = minus(off, {way[0] * s, way[1] * s, way[2] * s});
            sure &= dot(rest, rest) < pure * pure;
            return s;
        };
        const double s = part(p), t = part(q);
        if (t - s < 0.05) return {0.5, false};
        const double straight = (0.5 - s) / (t - s);
        return {std::clamp(byCover(p, q, s, t, part).value_or(straight), 0.02, 0.98), sure};
    }

private:
    static constexpr double pure = 12; ///< of 255: how far a mixture of two may lie off both, by grain
    /// Lightness, and how blue and how red it is (ITU-R BT.601). These two count for less: compressed pictures keep
    /// them for every other pixel only.
    using Shade = std::array<double, 3>;
    static Shade shadeOf(Colour c) {
        const double light = 0.299 * c.r + 0.587 * c.g + 0.114 * c.b;
        return {light, colourCounts * (c.b - light), colourCounts * (c.r - light)};
    }
    static constexpr double colourCounts = 0.6;
    static constexpr double enough = 40, less = 0.2; ///< greys of lightness, and what colour counts for beside it
    static Shade weighed(const Shade& s, double counts) { return {s[0], counts * s[1], counts * s[2]}; }
    /// By the area that the second covers, where both sides are even close by: one pixel or the other holds the border,
    /// or one of four if it is soft, and together they tell how far it lies from the first one's middle. None where it
    /// runs along the pixels rather than across.
    template<class Part>
    [[nodiscard]] std::optional<double> byCover(std::size_t p, std::size_t q, double s, double t, Part&& part) const {
        constexpr double even = 0.08;
        const auto step = static_cast<std::ptrdiff_t>(q - p);
        const auto w = static_cast<std::ptrdiff_t>(picture_.width), column = static_cast<std::ptrdiff_t>(p) % w;
        const auto cover = [&](std::ptrdiff_t k, std::size_t like) -> std::optional<double> {
            const auto at = static_cast<std::ptrdiff_t>(p) + k * step;
            const bool inside = step == 1 ? column + k >= 0 && column + k < w
                                          : at >= 0 && at < static_cast<std::ptrdiff_t>(labels_.size());
            if (!inside || labels_[static_cast<std::size_t>(at)] != labels_[like]) return std::nullopt;
            return part(static_cast<std::size_t>(at));
        };
        const auto isFirst = [](std::optional<double> c) { return c && *c < even; };
        const auto isSecond = [](std::optional<double> c) { return c && *c > 1 - even; };
        const auto before = cover(-1, p), after = cover(2, q);
        if (!before || !after || (isFirst(before) && isSecond(after))) return 1.5 - (s + t);
        if (isFirst(cover(-2, p)) && isSecond(cover(3, q))) return 2.5 - (*before + s + t + *after);
        return std::nullopt;
    }
    static Shade minus(const Shade& a, const Shade& b) { return {a[0] - b[0], a[1] - b[1], a[2] - b[2]}; }
    static double dot(const Shade& a, const Shade& b) { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }
    [[nodiscard]] Colour at(std::size_t i) const {
        const auto n = static_cast<std::size_t>(picture_.channels);
        const std::uint8_t* p = picture_.pixels->data() + i * n;
        if (n == 1) return {p[0], p[0], p[0]};
        if (n == 3) return {p[0], p[1], p[2]};
        const auto onPaper = [&](std::uint8_t v) {
            return static_cast<std::uint8_t>((v * p[3] + 255 * (255 - p[3]) + 127) / 255);
        };
        return {onPaper(p[0]), onPaper(p[1]), onPaper(p[2])};
    }
    const picture::Picture& picture_;
    const std::vector<Colour>& palette_;
    const std::vector<std::uint8_t>& labels_;
    bool runs_; ///< colour runs from pixel to pixel
};

/// Which pixels lie in a patch of those that are on in which there is at least one of a label.
std::vector<bool> patchesWith(const std::vector<std::uint8_t>& labels, std::size_t width,
                              const std::function<bool(std::uint8_t)>& isOn, std::uint8_t label) {
    std::array<bool, 256> on{};
    for (std::size_t l = 0; l < 255; ++l) on[l] = isOn(static_cast<std::uint8_t>(l));
    std::vector<bool> in(labels.size(), false);
    std::vector<std::size_t> open;
    const auto take = [&](std::size_t i) {
        if (!on[labels[i]] || in[i]) return;
        in[i] = true;
        open.push_back(i);
    };
    for (std::size_t i = 0; i < labels.size(); ++i) {
        if (labels[i] != label) continue;
        take(i);
        while (!open.empty()) { // all that hangs together with it
            const auto k = open.back();
            open.pop_back();
            if (k % width) take(k - 1);
            if (k % width + 1 < width) take(k + 1);
            if (k >= width) take(k - width);
            if (k + width < labels.size()) take(k + width);
        }
    }
    return in;
}

/// How far points lie off the line between their second neighbours, on the middle.
double wobbleOf(const Ring& points, bool ring) {
    const std::size_t n = points.size();
    std::vector<double> off;
    if (n < 16) return 0;
    for (std::size_t i = ring ? 0 : 2; i + (ring ? 0 : 2) < n; ++i) {
        const Vec2 from = points[(i + n - 2) % n];
        off.push_back(std::abs(cross(unit(points[(i + 2) % n] - from), points[i] - from)));
    }
    const auto middle = off.begin() + static_cast<std::ptrdiff_t>(off.size() / 2);
    std::nth_element(off.begin(), middle, off.end());
    return *middle;
}

/// Evens out what a border wobbles from pixel to pixel without drawing it in: each step towards the middle of the
/// neighbours is followed by a slightly larger one away from it (Taubin, SIGGRAPH 1995). Ends stay.
void calm(Ring& points, bool ring) {
    constexpr double in = 0.5, out = -0.53;
    constexpr int rounds = 15;
    const std::size_t n = points.size();
    Ring next = points;
    for (int round = 0; round < 2 * rounds; ++round) {
        for (std::size_t i = ring ? 0 : 1; i + (ring ? 0 : 1) < n; ++i) {
            const Vec2 middle = (points[(i + n - 1) % n] + points[(i + 1) % n]) / 2;
            next[i] = points[i] + (middle - points[i]) * (round % 2 ? out : in);
        }
        std::swap(points, next);
    }
}

Path joined(const std::vector<Borders::Step>& loop, const std::vector<Path>& fitted) {
    Path path;
    for (std::size_t i = 0; i < loop.size(); ++i) {
        const Path part = loop[i].forward ? fitted[loop[i].arc] : reversed(fitted[loop[i].arc]);
        if (i == 0) path.start = part.start;
        path.segments.insert(path.segments.end(), part.segments.begin(), part.segments.end());
    }
    path.closed = true;
    return path;
}

} // namespace

Result<Traced> tracedColours(const picture::Picture& picture, const PixelSettings& settings, Progress& progress) {
    Traced out;
    out.palette = settings.palette.empty() ? paletteOf(picture, settings.colours) : settings.palette;
    progress.at(0.15);
    if (progress.cancelled()) return Problem::cancelled();
    auto labels = labelled(picture, out.palette);
    double unrest = settle(labels, picture, out.palette);
    if (settings.palette.empty()) {
        gatherLines(labels, picture, out.palette);
        unrest = settle(labels, picture, out.palette);
    }
    progress.at(0.35);
    if (progress.cancelled()) return Problem::cancelled();
    out.speck = settings.speckArea(2);
    out.specksDropped = dropSpecks(labels, picture.width, out.speck);
    const Borders borders(labels, picture.width, picture.height,
                          Mixture(picture, out.palette, labels, unrest > compressed));
    progress.at(0.5);
    const auto& arcs = borders.arcs();
    std::vector<Path> fitted(arcs.size());
    std::vector<double> miss(arcs.size(), 0);
    const FitSettings fit{std::max(0.1, settings.followWithin), pi - settings.cornersUnder * pi / 180, 1,
                          settings.grainy};
    parallelFor(arcs.size(), progress, [&](std::size_t i) {
        const auto& arc = arcs[i];
        Ring points = arc.points;
        auto how = fit;
        if (const double wobble = wobbleOf(points, arc.ring); wobble > uneven) {
            calm(points, arc.ring);
            if (settings.grainy > 0) how.tolerance = std::clamp(5 * wobble, how.tolerance, mostWobble);
        }
        fitted[i] = arc.ring ? fittedOutline(points, how) : fittedLine(points, how);
        if (fitted[i].segments.empty()) return;
        const Ruler ruler(fitted[i]);
        for (std::size_t k = 2; k + 2 < points.size(); k += 5)
            miss[i] = std::max(miss[i], distance(arc.points[k], ruler.at(ruler.nearest(arc.points[k])).point));
    });
    if (progress.cancelled()) return Problem::cancelled();
    for (const double m : miss) out.largestMiss = std::max(out.largestMiss, m);

    const auto paper = settings.paper ? std::nullopt : paperOf(labels, picture.width, picture.height);
    std::array<std::size_t, 256> sizes{};
    for (const auto l : labels) ++sizes[l];
    std::vector<std::uint8_t> order;
    for (std::size_t i = 0; i < out.palette.size(); ++i)
        if (sizes[i] > 0 && paper != static_cast<std::uint8_t>(i)) order.push_back(static_cast<std::uint8_t>(i));
    std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return sizes[a] > sizes[b]; });
    const auto names = namesOf(out.palette);
    for (std::size_t rank = 0; rank < order.size(); ++rank) {
        const auto isOn = [&](std::uint8_t l) {
            if (!settings.goUnder) return l == order[rank];
            return std::find(order.begin() + static_cast<std::ptrdiff_t>(rank), order.end(), l) != order.end();
        };
        auto loops = borders.loopsOf(isOn);
        if (settings.goUnder) { // nothing goes on under what has none of this colour round it
            const auto patches = patchesWith(labels, static_cast<std::size_t>(picture.width), isOn, order[rank]);
            std::erase_if(loops, [&](const auto& loop) { return !patches[borders.pixelLeftOf(loop.front())]; });
        }
        std::vector<Path> paths;
        for (const auto& loop : loops)
            if (Path path = joined(loop, fitted); path.segments.size() > 1) paths.push_back(std::move(path));
        auto pieces = nested(std::move(paths));
        out.layers.push_back({names[order[rank]], out.palette[order[rank]], pieces.size()});
        std::move(pieces.begin(), pieces.end(), std::back_inserter(out.pieces));
    }
    return out;
}

} // namespace ferro::trace
