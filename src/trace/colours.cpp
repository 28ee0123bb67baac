#include "trace/colours.h"

#include "base/parallel.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "trace/borders_internal.h"
#include "trace/outline_fit.h"

namespace ferro::trace {

namespace {

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
            const std::vector<std::uint8_t>& labels)
        : picture_(picture), palette_(palette), labels_(labels) {}
    Borders::Place operator()(std::size_t p, std::size_t q) const {
        const Colour a = palette_[labels_[p]], b = palette_[labels_[q]];
        const double dr = b.r - a.r, dg = b.g - a.g, db = b.b - a.b, size = dr * dr + dg * dg + db * db;
        if (size == 0) return {0.5, false};
        bool sure = true;
        const auto part = [&](std::size_t i) {
            const auto c = at(i);
            const double r = c[0] - a.r, g = c[1] - a.g, b_ = c[2] - a.b;
            const double s = std::clamp((r * dr + g * dg + b_ * db) / size, 0.0, 1.0);
            sure &= std::hypot(r - s * dr, g - s * dg, b_ - s * db) < pure;
            return s;
        };
        const double s = part(p), t = part(q);
        if (t - s < 0.05) return {0.5, false};
        // By the area that the second covers where both sides are even, as one pixel or the other holds the border:
        // both together tell how far it lies from the first one's middle.
        return {std::clamp(1.5 - (s + t), 0.02, 0.98), sure};
    }

private:
    static constexpr double pure = 12; ///< of 255 a channel: how far a mixture of two may lie off both, by grain
    [[nodiscard]] std::array<double, 3> at(std::size_t i) const {
        const auto n = static_cast<std::size_t>(picture_.channels);
        const std::uint8_t* p = picture_.pixels->data() + i * n;
        if (n == 1) return {double(p[0]), double(p[0]), double(p[0])};
        if (n == 3) return {double(p[0]), double(p[1]), double(p[2])};
        const double k = p[3] / 255.0;
        return {p[0] * k + 255 * (1 - k), p[1] * k + 255 * (1 - k), p[2] * k + 255 * (1 - k)};
    }
    const picture::Picture& picture_;
    const std::vector<Colour>& palette_;
    const std::vector<std::uint8_t>& labels_;
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

Result<Traced> tracedColours(const picture::Picture& picture, const Settings& settings, Progress& progress) {
    Traced out;
    out.palette = settings.palette.empty() ? paletteOf(picture, settings.colours) : settings.palette;
    progress.at(0.15);
    if (progress.cancelled()) return Problem::cancelled();
    auto labels = labelled(picture, out.palette);
    progress.at(0.35);
    if (progress.cancelled()) return Problem::cancelled();
    out.specksDropped = dropSpecks(labels, picture.width, std::max(settings.speck, 2.0));
    const Borders borders(labels, picture.width, picture.height, Mixture(picture, out.palette, labels));
    progress.at(0.5);
    const auto& arcs = borders.arcs();
    std::vector<Path> fitted(arcs.size());
    std::vector<double> miss(arcs.size(), 0);
    const FitSettings fit{std::max(0.1, settings.followWithin), pi - settings.cornersUnder * pi / 180, 1};
    parallelFor(arcs.size(), progress, [&](std::size_t i) {
        const auto& arc = arcs[i];
        fitted[i] = arc.ring ? fittedOutline(arc.points, fit) : fittedLine(arc.points, fit);
        if (fitted[i].segments.empty()) return;
        const Ruler ruler(fitted[i]);
        for (std::size_t k = 2; k + 2 < arc.points.size(); k += 5)
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
            if (!settings.stacked) return l == order[rank];
            return std::find(order.begin() + static_cast<std::ptrdiff_t>(rank), order.end(), l) != order.end();
        };
        auto loops = borders.loopsOf(isOn);
        if (settings.stacked) { // nothing goes on under what has none of this colour round it
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
