#include "trace/trace.h"

#include "base/parallel.h"

#include <future>
#include <potracelib.h>

namespace ferro::trace {

namespace {

using Word = potrace_word;
constexpr int wordBits = static_cast<int>(sizeof(Word) * 8);

/// The thresholded picture as libpotrace wants it: rows from the bottom, the highest bit leftmost.
struct Bits {
    std::vector<Word> words;
    potrace_bitmap_t map{};

    Bits(const picture::Grey& grey, int level, bool invert) {
        const int rowWords = (grey.width + wordBits - 1) / wordBits;
        words.assign(static_cast<std::size_t>(rowWords) * static_cast<std::size_t>(grey.height), 0);
        map = {grey.width, grey.height, rowWords, words.data()};
        parallelSlices(static_cast<std::size_t>(grey.height), 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t y = begin; y < end; ++y) {
                const std::uint8_t* row = grey.values.data() + y * static_cast<std::size_t>(grey.width);
                Word* out =
                    words.data() + (static_cast<std::size_t>(grey.height) - 1 - y) * static_cast<std::size_t>(rowWords);
                for (int x = 0; x < grey.width; x += wordBits) {
                    Word word = 0;
                    const int count = std::min(wordBits, grey.width - x);
                    for (int b = 0; b < count; ++b)
                        word = word << 1 | static_cast<Word>((row[x + b] < level) != invert);
                    *out++ = word << (wordBits - count);
                }
            }
        });
    }
};

Path pathOf(const potrace_path_t& traced, double mmPerPx) {
    const auto& curve = traced.curve;
    const auto point = [&](potrace_dpoint_t p) { return Vec2{p.x * mmPerPx, p.y * mmPerPx}; };
    Path path{point(curve.c[curve.n - 1][2]), {}, true};
    path.segments.reserve(static_cast<std::size_t>(curve.n) + 8);
    for (int i = 0; i < curve.n; ++i) {
        if (curve.tag[i] == POTRACE_CORNER) {
            path.segments.push_back(Segment::line(point(curve.c[i][1])));
            path.segments.push_back(Segment::line(point(curve.c[i][2])));
        } else {
            path.segments.push_back(Segment::cubic(point(curve.c[i][0]), point(curve.c[i][1]), point(curve.c[i][2])));
        }
    }
    return path;
}

/// Straight runs come out as several collinear lines, because corners are written as two lines each: join them.
void joinStraights(Path& path, double tolerance) {
    auto& s = path.segments;
    std::vector<Segment> out;
    Vec2 from = path.start, begin = path.start;
    for (std::size_t i = 0; i < s.size(); ++i) {
        const bool joins = s[i].kind == Segment::Kind::line && !out.empty() && out.back().kind == Segment::Kind::line;
        const double size = distance(begin, s[i].end);
        if (joins && size > 0 && std::abs(cross(s[i].end - begin, from - begin)) <= tolerance * size &&
            dot(s[i].end - from, from - begin) >= 0) {
            out.back().end = s[i].end;
        } else {
            begin = from;
            out.push_back(s[i]);
        }
        from = s[i].end;
    }
    s = std::move(out);
}

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

double largestMiss(const std::vector<Piece>& pieces, const Surface& surface, double pxPerMm, Vec2 size,
                   const Progress& progress) {
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
                const Vec2 p = pointAt(from, s, t) * pxPerMm;
                // A shape that runs off the picture ends at its edge, where there is no level line to follow.
                if (p.x < 1 || p.y < 1 || p.x > size.x - 1 || p.y > size.y - 1) continue;
                worst[i] = std::max(worst[i], surface.miss(p, perpendicular(tangentAt(from, s, t))));
            }
        }
    });
    return (worst.empty() ? 0 : *std::max_element(worst.begin(), worst.end())) / pxPerMm;
}

/// libpotrace lists a tree: an outline's children are its openings, theirs are islands again.
void collect(const potrace_path_t* list, double mmPerPx, bool outerOnly, std::vector<Piece>& out) {
    for (const auto* at = list; at; at = at->sibling) {
        Path outline = pathOf(*at, mmPerPx);
        joinStraights(outline, 0.01 * mmPerPx);
        Piece piece{wound(std::move(outline), true), {}};
        for (const auto* inner = at->childlist; inner && !outerOnly; inner = inner->sibling) {
            Path opening = pathOf(*inner, mmPerPx);
            joinStraights(opening, 0.01 * mmPerPx);
            piece.openings.push_back(wound(std::move(opening), false));
        }
        out.push_back(std::move(piece));
        for (const auto* inner = at->childlist; inner && !outerOnly; inner = inner->sibling)
            collect(inner->childlist, mmPerPx, outerOnly, out);
    }
}

/// Small outlines in the bitmap that libpotrace left out: counted by the difference to a run that keeps all would cost
/// a second trace, so components are counted on the bits themselves (two passes over rows, union by root).
std::size_t specksUnder(const Bits& bits, double area) {
    if (area < 1) return 0;
    struct Run {
        int begin, end, root;
    };
    std::vector<int> parent;
    std::vector<double> size;
    const auto rootOf = [&](int i) {
        while (parent[static_cast<std::size_t>(i)] != i)
            i = parent[static_cast<std::size_t>(i)] =
                parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(i)])];
        return i;
    };
    std::vector<Run> above, row;
    for (int y = 0; y < bits.map.h; ++y) {
        row.clear();
        const Word* line = bits.words.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(bits.map.dy);
        const auto dark = [&](int x) { return (line[x / wordBits] >> (wordBits - 1 - x % wordBits)) & 1; };
        std::size_t up = 0;
        for (int x = 0; x < bits.map.w;) {
            if (x % wordBits == 0 && line[x / wordBits] == 0) {
                x += wordBits;
                continue;
            }
            if (!dark(x)) {
                ++x;
                continue;
            }
            Run run{x, x, -1};
            while (run.end < bits.map.w && dark(run.end)) ++run.end;
            x = run.end;
            while (up < above.size() && above[up].end <= run.begin) ++up;
            for (std::size_t k = up; k < above.size() && above[k].begin < run.end; ++k) {
                const int root = rootOf(above[k].root);
                if (run.root < 0)
                    run.root = root;
                else if (root != rootOf(run.root)) {
                    const int mine = rootOf(run.root);
                    size[static_cast<std::size_t>(mine)] += size[static_cast<std::size_t>(root)];
                    parent[static_cast<std::size_t>(root)] = mine;
                }
            }
            if (run.root < 0) {
                run.root = static_cast<int>(parent.size());
                parent.push_back(run.root);
                size.push_back(0);
            }
            size[static_cast<std::size_t>(rootOf(run.root))] += run.end - run.begin;
            row.push_back(run);
        }
        std::swap(above, row);
    }
    std::size_t count = 0;
    for (std::size_t i = 0; i < parent.size(); ++i) count += parent[i] == static_cast<int>(i) && size[i] <= area;
    return count;
}

Problem badSetting(std::string what) {
    return {.what = std::move(what), .where = "trace settings", .mend = "Change the value."};
}

} // namespace

Result<Traced> traced(const picture::Grey& grey, double pxPerMm, const Settings& settings, Progress& progress) {
    if (grey.width <= 0 || grey.height <= 0)
        return Problem{.what = "The picture has no pixels.", .where = {}, .mend = {}};
    if (!(pxPerMm > 0) || !std::isfinite(pxPerMm)) return badSetting("The picture has no size.");
    if (settings.level != -1 && (settings.level < 1 || settings.level > 255))
        return badSetting("The level must be between 1 and 255.");
    if (!(settings.speck >= 0) || !(settings.followWithin >= 0))
        return badSetting("Speck size and follow distance cannot be below 0.");
    if (!(settings.cornersUnder >= 0 && settings.cornersUnder <= 180))
        return badSetting("The corner angle must be between 0° and 180°.");
    Traced result;
    result.level = settings.level == -1 ? picture::automaticLevel(picture::histogramOf(grey)) : settings.level;
    const Bits bits(grey, result.level, settings.invert);
    progress.at(0.05);
    if (progress.cancelled()) return Problem::cancelled();

    const std::unique_ptr<potrace_param_t, void (*)(potrace_param_t*)> how(potrace_param_default(), potrace_param_free);
    const double speckPx = settings.speck * pxPerMm * pxPerMm;
    how->turdsize = static_cast<int>(std::min(speckPx, 1e9));
    // Its corner measure runs from 0 (all corners) to 4/3 (none); a right angle on a straight-sided shape comes out
    // at 1.
    how->alphamax = 4.0 / 3 * std::clamp(1 - settings.cornersUnder / 180, 0.0, 1.0) * 1.9;
    how->opticurve = settings.followWithin > 0;
    how->opttolerance = settings.followWithin * pxPerMm;
    how->progress.callback = [](double done, void* data) { static_cast<Progress*>(data)->at(0.05 + 0.75 * done); };
    how->progress.data = &progress;
    // The library works on one core; the specks it will leave out are counted on another.
    auto specks = std::async(std::launch::async, [&] { return specksUnder(bits, std::floor(speckPx)); });
    const std::unique_ptr<potrace_state_t, void (*)(potrace_state_t*)> state(potrace_trace(how.get(), &bits.map),
                                                                             potrace_state_free);
    if (!state || state->status != POTRACE_STATUS_OK)
        return Problem{.what = "The trace ran out of memory.",
                       .where = {},
                       .mend = "Crop or scale the picture, or drop larger specks."};
    if (progress.cancelled()) return Problem::cancelled();

    collect(state->plist ? state->plist : nullptr, 1 / pxPerMm, settings.find == Find::outerEdge, result.pieces);
    for (const auto& piece : result.pieces) result.points += pointsOf(piece);
    result.specksDropped = specks.get();
    result.largestMiss = largestMiss(result.pieces, Surface(grey, result.level, settings.invert), pxPerMm,
                                     {static_cast<double>(grey.width), static_cast<double>(grey.height)}, progress);
    if (progress.cancelled()) return Problem::cancelled();
    progress.at(1.0);
    return result;
}

} // namespace ferro::trace
