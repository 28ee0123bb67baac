#include "trace/trace.h"

#include "base/parallel.h"
#include "trace/level_lines.h"
#include "trace/outline_fit.h"
#include "trace/stairs.h"
#include "trace/strokes.h"
#include "trace/trace_internal.h"

#include <atomic>
#include <charconv>
#include <future>

namespace ferro::trace {

namespace {

/// The grey picture as a surface: bilinear between pixel centres, in pixel units with y up.
class Surface {
public:
    Surface(const picture::Grey& grey, int level, bool invert)
        : grey_(grey), level_(level - 0.5), sign_(invert ? -1 : 1) {}

    /// Above 0 in the light, below in the dark.
    [[nodiscard]] double at(Vec2 p) const {
        const double x = std::clamp(p.x - 0.5, 0.0, grey_.width - 1.0),
                     y = std::clamp(grey_.height - p.y - 0.5, 0.0, grey_.height - 1.0);
        const int x0 = std::min(static_cast<int>(x), grey_.width - 1),
                  y0 = std::min(static_cast<int>(y), grey_.height - 1);
        const int x1 = std::min(x0 + 1, grey_.width - 1), y1 = std::min(y0 + 1, grey_.height - 1);
        const double u = x - x0, v = y - y0;
        const double top = grey_.at(x0, y0) * (1 - u) + grey_.at(x1, y0) * u,
                     bottom = grey_.at(x0, y1) * (1 - u) + grey_.at(x1, y1) * u;
        return sign_ * (top * (1 - v) + bottom * v - level_);
    }
    /// Distance in px from `p` to the level line, searched along ±`normal` and, where that finds nothing near, as at
    /// the tip of a corner, in the directions between; at most 3 px.
    [[nodiscard]] double miss(Vec2 p, Vec2 normal) const {
        double best = along(p, normal);
        if (best < 1) return best;
        const Vec2 side = perpendicular(normal);
        for (const Vec2 way : {side, (normal + side) / std::sqrt(2.0), (normal - side) / std::sqrt(2.0)})
            best = std::min(best, along(p, way));
        return best;
    }

private:
    [[nodiscard]] double along(Vec2 p, Vec2 way) const {
        constexpr double step = 0.5;
        const double here = at(p);
        double before[2] = {here, here};
        for (double far = step; far <= 3; far += step)
            for (int side = 0; side < 2; ++side) {
                const double value = at(p + way * (side ? -far : far));
                if ((value > 0) != (before[side] > 0)) return far - step + step * before[side] / (before[side] - value);
                before[side] = value;
            }
        return 3;
    }
    const picture::Grey& grey_;
    double level_;
    double sign_;
};

/// What the dark and the light are on the whole, and how many pixels are neither.
struct Sides {
    double dark = 0, light = 255, between = 0;
};
Sides sidesOf(const picture::Grey& grey, int level) {
    const auto counts = picture::histogramOf(grey);
    double sums[2] = {0, 0}, sizes[2] = {0, 0};
    for (int v = 0; v < 256; ++v) {
        sums[v >= level] += v * static_cast<double>(counts[static_cast<std::size_t>(v)]);
        sizes[v >= level] += static_cast<double>(counts[static_cast<std::size_t>(v)]);
    }
    Sides sides;
    if (sizes[0] > 0) sides.dark = sums[0] / sizes[0];
    if (sizes[1] > 0) sides.light = sums[1] / sizes[1];
    const double edge = 0.15 * (sides.light - sides.dark);
    for (int v = 0; v < 256; ++v)
        if (v > sides.dark + edge && v < sides.light - edge)
            sides.between += static_cast<double>(counts[static_cast<std::size_t>(v)]);
    return sides;
}

// Pixels without greys tell less of an edge than greys do: px, and as if it were so much softer.
constexpr double stairsTolerance = 0.3, stairsBlur = 1.25, stairsRound = 0.55;
constexpr double mostSpeck = 0.4;   // mm²: no picture says that more is one
constexpr double mostFollow = 0.05; // mm: a person sets more, no picture does

Problem badSetting(std::string what) {
    return {.what = std::move(what), .where = "trace settings", .mend = "Change the value."};
}

std::optional<Problem> faultIn(const Settings& settings, int width, int height, double pxPerMm) {
    if (width <= 0 || height <= 0) return Problem{.what = "The picture has no pixels.", .where = {}, .mend = {}};
    if (!(pxPerMm > 0) || !std::isfinite(pxPerMm)) return badSetting("The picture has no size.");
    if (settings.level != -1 && (settings.level < 1 || settings.level > 255))
        return badSetting("The level must be between 1 and 255.");
    if (settings.above < 0 || settings.above > 255) return badSetting("The lower level must be between 0 and 255.");
    if (!(settings.lineWidth > 0) || !(settings.leastStep >= 1))
        return badSetting("Edges need a line width above 0 and a step of 1 at least.");
    if (!(settings.speck >= 0 || settings.speck == -1) || !(settings.followWithin >= 0))
        return badSetting("Speck size and follow distance cannot be below 0.");
    if (!(settings.cornersUnder >= 0 && settings.cornersUnder <= 180))
        return badSetting("The corner angle must be between 0° and 180°.");
    if (settings.colours < 0 || settings.colours > 64 || settings.palette.size() > 64)
        return badSetting("A picture is parted into 64 colours at most.");
    return std::nullopt;
}

} // namespace

std::optional<Find> findFrom(std::string_view word) {
    if (const auto now = artwork::wordBefore(Find::areas, word); !now.empty()) word = now;
    const auto at = std::find(findWords.begin(), findWords.end(), word);
    if (at == findWords.end()) return std::nullopt;
    return static_cast<Find>(at - findWords.begin());
}

Result<void> takeColours(std::string_view text, Settings& settings) {
    settings.palette.clear();
    settings.colours = 0;
    if (!text.starts_with('#')) {
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), settings.colours);
        if (error == std::errc{} && end == text.data() + text.size() && settings.colours >= 0) return {};
        return Problem{.what = fmt::format("“{}” is no number of colours.", text),
                       .where = {},
                       .mend = "Give a number, or colours as #9e3f22,#ffffff."};
    }
    while (!text.empty()) {
        const auto comma = std::min(text.find(','), text.size());
        const auto colour = colourFrom(text.substr(0, comma));
        if (!colour) return colour.problem();
        settings.palette.push_back(*colour);
        text.remove_prefix(std::min(comma + 1, text.size()));
    }
    return {};
}

double largestMiss(const std::vector<Piece>& pieces, const picture::Grey& grey, int level, bool invert,
                   const Progress& progress) {
    const Surface surface(grey, level, invert);
    const Vec2 size{static_cast<double>(grey.width), static_cast<double>(grey.height)};
    std::vector<const Path*> paths;
    for (const auto& piece : pieces) {
        paths.push_back(&piece.outline);
        for (const auto& opening : piece.openings) paths.push_back(&opening);
    }
    std::vector<double> worst(paths.size(), 0);
    parallelFor(paths.size(), progress, [&](std::size_t i) {
        const Path& path = *paths[i];
        for (std::size_t k = 0; k < path.segments.size(); ++k) {
            const auto& s = path.segments[k];
            const Vec2 from = path.from(k);
            for (const double t : {0.25, 0.75}) {
                const Vec2 p = pointAt(from, s, t);
                // A shape that runs off the picture ends at its edge, where there is no level line to follow.
                if (p.x < 1 || p.y < 1 || p.x > size.x - 1 || p.y > size.y - 1) continue;
                worst[i] = std::max(worst[i], surface.miss(p, perpendicular(tangentAt(from, s, t))));
            }
        }
    });
    return worst.empty() ? 0 : *std::max_element(worst.begin(), worst.end());
}

namespace {

/// What is a speck among the areas of a picture, px²: whatever is smallest, as far as there are ever fewer of them, as
/// of dust and grain. What there are suddenly more of was meant, and so is what lies beyond a gap. A drawn picture has
/// no dust: there a few under a quarter of `most` are strays, more are a pattern.
double speckAmong(const std::vector<LevelLine>& lines, const picture::Grey& grey, double most) {
    constexpr double least = 1.5;
    constexpr std::ptrdiff_t few = 10;
    const auto histogram = picture::histogramOf(grey);
    const auto flat = static_cast<double>(*std::max_element(histogram.begin(), histogram.end()));
    if (most <= least) return most;
    if (flat > 0.2 * static_cast<double>(grey.values.size())) {
        const auto small = std::count_if(lines.begin(), lines.end(), [&](const LevelLine& line) {
            return std::abs(line.area) >= least && std::abs(line.area) < most / 4;
        });
        return small < few ? std::max(least, most / 4) : least;
    }
    // Bins of half an octave.
    const auto binOf = [](double area) { return static_cast<std::size_t>(std::max(0.0, 2 * std::log2(area / 0.5))); };
    std::vector<std::size_t> counts(binOf(most) + 2, 0);
    for (const auto& line : lines)
        if (const double area = std::abs(line.area); area > 0.5 && area < most) ++counts[binOf(area)];
    std::size_t bin = binOf(least) + 1;
    while (bin + 1 < counts.size() && counts[bin] > 0 && counts[bin] <= counts[bin - 1] + counts[bin - 1] / 4 + 2)
        ++bin;
    return std::clamp(0.5 * std::exp2(static_cast<double>(bin) / 2), least, most);
}

} // namespace

Result<Traced> tracedGrey(const picture::Grey& grey, int level, const PixelSettings& asked, Progress& progress) {
    PixelSettings settings = asked;
    auto sidesThere = std::async(std::launch::async, [&] { return sidesOf(grey, level); });
    auto lines = levelLines(grey, level - 0.5, settings.invert, progress);
    if (progress.cancelled()) return Problem::cancelled();
    std::size_t points = 0;
    for (const auto& line : lines) points += line.points.size();
    if (settings.speck < 0) settings.speck = speckAmong(lines, grey, settings.mostSpeck);
    if (settings.find == Find::strokes) {
        Traced result;
        result.speck = settings.speck;
        progress.at(0.3);
        traceStrokes(lines, settings, result, progress);
        return result;
    }
    // Along an edge with greys about every second point has one beside it; without them the level line is all stairs.
    const Sides sides = sidesThere.get();
    const bool stairs = points > 0 && sides.between < 0.15 * static_cast<double>(points);
    progress.at(0.3);

    Traced result;
    result.speck = settings.speck;
    std::vector<std::size_t> kept; // those that come out, outer ones before what lies in them
    std::vector<int> place(lines.size(), -1);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (std::abs(lines[i].area) < std::max(settings.speck, 0.5)) {
            ++result.specksDropped;
        } else if (settings.find == Find::areas || lines[i].parent < 0) {
            kept.push_back(i);
        }
    }
    std::vector<Path> fitted(kept.size());
    std::atomic<std::size_t> done = 0;
    parallelFor(kept.size(), progress, [&](std::size_t i) {
        const auto& line = lines[kept[i]];
        // A sharp scan rises by about three quarters of its contrast in one pixel.
        const double blur = 0.6 * (sides.light - sides.dark) / std::max(1.0, line.slope);
        FitSettings fit{std::max(0.1, settings.followWithin), pi - settings.cornersUnder * pi / 180,
                        std::clamp(blur, 1.0, 3.0), settings.grainy};
        if (stairs) {
            fit.tolerance = std::max(fit.tolerance, stairsTolerance);
            fit.blur = stairsBlur;
            fit.round = stairsRound;
            const auto even = withoutStairs(line.points);
            fitted[i] = fittedOutline(even.line, fit, even.corners);
        } else {
            fitted[i] = fittedOutline(line.points, fit);
        }
        if (const auto now = ++done; now % 64 == 0)
            progress.at(0.3 + 0.5 * static_cast<double>(now) / static_cast<double>(kept.size()));
    });
    if (progress.cancelled()) return Problem::cancelled();
    for (std::size_t i = 0; i < kept.size(); ++i) {
        const auto& line = lines[kept[i]];
        if (line.area > 0) {
            place[kept[i]] = static_cast<int>(result.pieces.size());
            result.pieces.push_back({std::move(fitted[i]), {}});
        } else if (line.parent >= 0 && place[static_cast<std::size_t>(line.parent)] >= 0) {
            result.pieces[static_cast<std::size_t>(place[static_cast<std::size_t>(line.parent)])].openings.push_back(
                std::move(fitted[i]));
        }
    }
    return result;
}

void append(Traced& to, Traced from) {
    to.widths.resize(to.pieces.size());
    from.widths.resize(from.pieces.size());
    std::move(from.pieces.begin(), from.pieces.end(), std::back_inserter(to.pieces));
    std::move(from.widths.begin(), from.widths.end(), std::back_inserter(to.widths));
    to.specksDropped += from.specksDropped;
    to.speck = std::max(to.speck, from.speck);
    to.largestMiss = std::max(to.largestMiss, from.largestMiss);
}

PixelSettings inPixels(const Settings& settings, double pxPerMm) {
    PixelSettings own{settings};
    if (own.speck > 0) own.speck *= pxPerMm * pxPerMm;
    own.mostSpeck = mostSpeck * pxPerMm * pxPerMm;
    own.followWithin *= pxPerMm;
    if (settings.followWithin <= 0) own.followWithin = std::min(mostFollow * pxPerMm, 0.25);
    // What a scanner or a lens has made uneven is not worth a point each.
    if (settings.followWithin <= 0) own.grainy = std::clamp(mostFollow * pxPerMm, own.followWithin, 1.0);
    return own;
}

Result<Traced> finished(Traced traced, double pxPerMm, Progress& progress) {
    if (progress.cancelled()) return Problem::cancelled();
    traced.largestMiss /= pxPerMm;
    traced.speck /= pxPerMm * pxPerMm;
    for (auto& piece : traced.pieces) {
        piece = transformed(piece, Transform::scaled(1 / pxPerMm, 1 / pxPerMm, {}));
        traced.points += pointsOf(piece);
    }
    for (auto& line : traced.widths)
        for (double& width : line) width /= pxPerMm;
    progress.at(1.0);
    return traced;
}

Result<Traced> traced(const picture::Grey& grey, double pxPerMm, const Settings& settings, Progress& progress) {
    if (auto fault = faultIn(settings, grey.width, grey.height, pxPerMm)) return *fault;
    if (settings.find >= Find::edges || settings.above > 0 || !settings.only.empty())
        return tracedInParts(grey, pxPerMm, settings, {}, progress);
    const int level = settings.level == -1 ? picture::automaticLevel(picture::histogramOf(grey)) : settings.level;
    auto result = tracedGrey(grey, level, inPixels(settings, pxPerMm), progress);
    if (!result) return result;
    result->level = level;
    if (settings.find != Find::strokes)
        result->largestMiss = largestMiss(result->pieces, grey, level, settings.invert, progress);
    return finished(std::move(*result), pxPerMm, progress);
}

namespace {
std::string whyNothing(const Traced& traced, const picture::Picture& picture, const Settings& settings) {
    const auto histogram = picture::histogramOf(picture::greyOf(picture));
    const auto isSeen = [](std::size_t n) { return n > 0; };
    const auto darkest = std::find_if(histogram.begin(), histogram.end(), isSeen) - histogram.begin(),
               lightest = 255 - (std::find_if(histogram.rbegin(), histogram.rend(), isSeen) - histogram.rbegin());
    if (darkest == lightest) return "Nothing was found: the whole picture is of one grey.";
    if (traced.specksDropped > 0)
        return fmt::format("Nothing was found but {} specks, which were dropped. Ask for a smaller speck.",
                           traced.specksDropped);
    if (settings.find == Find::edges)
        return fmt::format("Nothing was found: nothing differs from what is next to it by {:g} greys. Ask for a "
                           "smaller step.",
                           settings.leastStep);
    if (settings.find == Find::colours) return "Nothing was found: the picture is of one colour.";
    return fmt::format("Nothing was found: the picture's greys are {} to {}, and nothing {} than level {} is closed. "
                       "Move the level, or look for {} shapes.",
                       darkest, lightest, settings.invert ? "lighter" : "darker", traced.level,
                       settings.invert ? "dark" : "light");
}
} // namespace

Result<Traced> traced(const picture::Picture& picture, double pxPerMm, const Settings& settings, Progress& progress,
                      const std::vector<Patch>& patches) {
    const bool byColour =
        settings.find == Find::colours ||
        std::any_of(patches.begin(), patches.end(), [](const Patch& p) { return p.settings.find == Find::colours; });
    if (auto fault = faultIn(settings, picture.width, picture.height, pxPerMm)) return *fault;
    for (const auto& patch : patches)
        if (auto fault = faultIn(patch.settings, picture.width, picture.height, pxPerMm)) return *fault;
    if (std::any_of(patches.begin(), patches.end(), [](const Patch& p) { return p.area.size() < 3; }))
        return Problem{.what = "A patch needs three corners at least.", .where = {}, .mend = "Draw it once more."};
    if (patches.size() > 200) return Problem{.what = "A picture takes 200 patches at most.", .where = {}, .mend = {}};
    const auto told = [&](Result<Traced> result) {
        if (result && picture::isLightOnClear(picture))
            result->notices.push_back({"Light shapes on a see-through ground: they are traced as if they were dark."});
        if (result && result->pieces.empty()) result->notices.push_back({whyNothing(*result, picture, settings)});
        return result;
    };
    if (!byColour)
        return told(patches.empty() ? traced(picture::greyOf(picture), pxPerMm, settings, progress)
                                    : tracedInParts(picture::greyOf(picture), pxPerMm, settings, patches, progress));
    auto result = coloursInParts(picture, pxPerMm, settings, patches, progress);
    if (!result || patches.empty()) return told(std::move(result));
    auto others = tracedInParts(picture::greyOf(picture), pxPerMm, settings, patches, progress);
    if (!others) return others;
    result->level = others->level;
    result->points += others->points;
    append(*result, std::move(*others)); // after the layers
    return told(std::move(result));
}

} // namespace ferro::trace
