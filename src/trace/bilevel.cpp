#include "trace/bilevel.h"

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

Path pathOf(const potrace_path_t& traced) {
    const auto& curve = traced.curve;
    const auto point = [&](potrace_dpoint_t p) { return Vec2{p.x, p.y}; };
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

/// libpotrace lists a tree: an outline's children are its openings, theirs are islands again.
void collect(const potrace_path_t* list, bool outerOnly, std::vector<Piece>& out) {
    for (const auto* at = list; at; at = at->sibling) {
        Path outline = pathOf(*at);
        joinStraights(outline, 0.01);
        Piece piece{wound(std::move(outline), true), {}};
        for (const auto* inner = at->childlist; inner && !outerOnly; inner = inner->sibling) {
            Path opening = pathOf(*inner);
            joinStraights(opening, 0.01);
            piece.openings.push_back(wound(std::move(opening), false));
        }
        out.push_back(std::move(piece));
        for (const auto* inner = at->childlist; inner && !outerOnly; inner = inner->sibling)
            collect(inner->childlist, outerOnly, out);
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

} // namespace

Result<Traced> tracedBilevel(const picture::Grey& grey, int level, const Settings& settings, Progress& progress) {
    Traced result;
    const Bits bits(grey, level, settings.invert);
    progress.at(0.05);
    if (progress.cancelled()) return Problem::cancelled();
    const std::unique_ptr<potrace_param_t, void (*)(potrace_param_t*)> how(potrace_param_default(), potrace_param_free);
    how->turdsize = static_cast<int>(std::min(settings.speck, 1e9));
    // Its corner measure runs from 0 (all corners) to 4/3 (none); 1 is what it takes for a right angle.
    how->alphamax = 4.0 / 3 * std::clamp(4.5 * (1 - settings.cornersUnder / 180), 0.0, 1.0);
    how->opticurve = 1;
    how->opttolerance = settings.followWithin;
    how->progress.callback = [](double done, void* data) { static_cast<Progress*>(data)->at(0.05 + 0.75 * done); };
    how->progress.data = &progress;
    // The library works on one core; the specks it will leave out are counted on another.
    auto specks = std::async(std::launch::async, [&] { return specksUnder(bits, std::floor(settings.speck)); });
    const std::unique_ptr<potrace_state_t, void (*)(potrace_state_t*)> state(potrace_trace(how.get(), &bits.map),
                                                                             potrace_state_free);
    if (!state || state->status != POTRACE_STATUS_OK)
        return Problem{.what = "The trace ran out of memory.",
                       .where = {},
                       .mend = "Crop or scale the picture, or drop larger specks."};
    if (progress.cancelled()) return Problem::cancelled();
    collect(state->plist ? state->plist : nullptr, settings.find == Find::rim, result.pieces);
    result.specksDropped = specks.get();
    return result;
}

} // namespace ferro::trace
