#include "geometry/combine.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "geometry/spatial.h"

namespace ferro {

namespace {

constexpr double chordError = 0.001; // mm between a curve and the chords that the polygon work sees
constexpr double grid = 2e-5;        // mm, twice the unit of the polygon work: what rounding moves a point by

/// A chord of an outline, and which stretch of which of its segments it stands for.
struct Chord {
    const Path* path;
    std::size_t segment;
    double t0, t1;
    Vec2 a, b;
};

/// A stretch of a result's outline; without a path a straight line.
struct Stretch {
    const Path* path = nullptr;
    std::size_t segment = 0;
    double t0 = 0, t1 = 1; ///< t1 below t0: it is run through backwards
    Vec2 from, to;         ///< as the polygon work has them
    [[nodiscard]] Vec2 start() const { return path->from(segment); }
    [[nodiscard]] const Segment& curve() const { return path->segments[segment]; }
};

class Rebuilder {
public:
    void take(const std::vector<Piece>& pieces, Rings& rings) {
        for (const auto& piece : pieces) {
            take(piece.outline, rings);
            for (const auto& opening : piece.openings) take(opening, rings);
        }
    }
    void index() {
        std::vector<Box> boxes;
        boxes.reserve(chords_.size());
        for (const auto& c : chords_) {
            Box box;
            box.take(c.a);
            box.take(c.b);
            boxes.push_back(box.grown(grid));
        }
        index_.emplace(boxes);
    }

    enum class Meeting { none, some, thicket };
    /// How often two chords have a place in common that is not where the outline goes on from one to the other. To put
    /// a thicket together again would take minutes, or all memory.
    [[nodiscard]] Meeting meeting() const {
        constexpr std::size_t mostCrossings = 50'000;
        const std::size_t mostLooks = std::max<std::size_t>(50'000'000, 200 * chords_.size());
        std::size_t crossings = 0, looks = 0;
        bool any = false;
        for (std::size_t i = 0; i < chords_.size(); ++i) {
            Box box;
            box.take(chords_[i].a);
            box.take(chords_[i].b);
            for (const auto k : index_->meeting(box)) {
                if (k <= i) continue;
                if (++looks > mostLooks) return Meeting::thicket;
                const auto contact = contactOf(chords_[i], chords_[k]);
                any = any || contact != Contact::none;
                if (contact == Contact::crossing && ++crossings > mostCrossings) return Meeting::thicket;
            }
        }
        return any ? Meeting::some : Meeting::none;
    }
    [[nodiscard]] std::vector<Path> rebuilt(const Rings& rings) const {
        std::vector<Path> paths;
        for (const auto& ring : rings) {
            // What rounding leaves between two that share an edge, and chords between two arcs that do.
            if (std::abs(areaOf(ring)) < std::max(1e-6, chordError * perimeterOf(ring) / 2)) continue;
            Path path = rebuilt(ring);
            if (!path.segments.empty()) paths.push_back(std::move(path));
        }
        return paths;
    }

private:
    [[nodiscard]] Path rebuilt(const Ring& ring) const {
        std::vector<Stretch> stretches;
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const auto next = stretchFor(ring[i], ring[(i + 1) % ring.size()]);
            if (!stretches.empty() && goesOn(stretches.back(), next))
                stretches.back().t1 = next.t1, stretches.back().to = next.to;
            else
                stretches.push_back(next);
        }
        if (stretches.size() > 1 && goesOn(stretches.back(), stretches.front())) {
            stretches.front().t0 = stretches.back().t0, stretches.front().from = stretches.back().from;
            stretches.pop_back();
        }
        if (const auto* whole = untouched(stretches)) return *whole;
        const std::size_t n = stretches.size();
        // Where each stretch ends and the next begins: on both curves.
        std::vector<Vec2> joint(n);
        for (std::size_t i = 0; i < n; ++i) joint[i] = meet(stretches[i], stretches[(i + 1) % n]);
        Path path{joint[n - 1], {}, true};
        for (std::size_t i = 0; i < n; ++i) append(path, stretches[i], joint[i]);
        if (path.segments.empty()) return {};
        path.segments.back().end = path.start;
        return path;
    }
    enum class Contact { none, touching, crossing };
    static Contact contactOf(const Chord& c, const Chord& d) {
        const bool goesOn = c.path == d.path && (c.b == d.a || d.b == c.a);
        const auto side = [](const Chord& of, Vec2 p) { return cross(of.b - of.a, p - of.a); };
        const double c0 = side(d, c.a), c1 = side(d, c.b), d0 = side(c, d.a), d1 = side(c, d.b);
        if (goesOn) { // touching only where it turns back on itself
            const bool isBack = c0 == 0 && c1 == 0 && dot(c.b - c.a, d.b - d.a) < 0;
            return isBack ? Contact::touching : Contact::none;
        }
        if (c0 * c1 > 0 || d0 * d1 > 0) return Contact::none;
        return c0 * c1 < 0 && d0 * d1 < 0 ? Contact::crossing : Contact::touching;
    }
    void take(const Path& path, Rings& rings) {
        if (!path.closed || path.segments.empty()) return;
        Ring ring;
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const Vec2 from = path.from(i);
            std::vector<Vec2> points{from};
            flattenSegment(from, path.segments[i], chordError, [&](Vec2 p) { points.push_back(p); });
            const double parts = static_cast<double>(points.size() - 1);
            for (std::size_t k = 0; k + 1 < points.size(); ++k) {
                ring.push_back(points[k]);
                if (points[k] != points[k + 1])
                    chords_.push_back({&path, i, static_cast<double>(k) / parts, static_cast<double>(k + 1) / parts,
                                       points[k], points[k + 1]});
            }
        }
        rings.push_back(std::move(ring));
    }

    /// The chord that a result's edge lies on; a line of its own where there is none, as between two collinear ones.
    [[nodiscard]] Stretch stretchFor(Vec2 a, Vec2 b) const {
        const Vec2 middle = (a + b) / 2;
        const Chord* best = nullptr;
        double least = 3 * grid;
        for (const auto i : index_->meeting({middle - Vec2{grid, grid}, middle + Vec2{grid, grid}})) {
            const auto& c = chords_[i];
            const double off = std::max(distanceToLine(a, c.a, c.b), distanceToLine(b, c.a, c.b));
            if (off < least) least = off, best = &c;
        }
        if (!best) return {nullptr, 0, 0, 1, a, b};
        const Vec2 along = best->b - best->a;
        const auto at = [&](Vec2 p) {
            if (distance(p, best->a) < grid) return best->t0;
            if (distance(p, best->b) < grid) return best->t1;
            return std::lerp(best->t0, best->t1, std::clamp(dot(p - best->a, along) / dot(along, along), 0.0, 1.0));
        };
        return {best->path, best->segment, at(a), at(b), a, b};
    }
    static bool goesOn(const Stretch& a, const Stretch& b) {
        if (!a.path || a.path != b.path || a.segment != b.segment) return false;
        // The same way round, and where one ends the other begins.
        return (a.t1 > a.t0) == (b.t1 > b.t0) && std::abs(a.t1 - b.t0) < 1e-6 && a.t0 != a.t1;
    }
    static const Path* untouched(const std::vector<Stretch>& stretches) {
        const Path* path = stretches.front().path;
        if (!path || stretches.size() != path->segments.size()) return nullptr;
        const auto first = stretches.front().segment;
        for (std::size_t i = 0; i < stretches.size(); ++i) {
            const auto& s = stretches[i];
            if (s.path != path || s.segment != (first + i) % stretches.size() || s.t0 != 0 || s.t1 != 1) return nullptr;
        }
        return path;
    }
    /// Brings the end of one stretch and the start of the next to where their curves cross; the place they share.
    static Vec2 meet(Stretch& a, Stretch& b) {
        const auto end = [](const Stretch& s, double t) { return pointAt(s.start(), s.curve(), t); };
        if (!a.path || !b.path) return a.path ? end(a, a.t1) : b.path ? end(b, b.t0) : a.to;
        const bool natural = (a.t1 == 0 || a.t1 == 1) && (b.t0 == 0 || b.t0 == 1);
        if (natural && a.path == b.path) return end(a, a.t1);
        if (const auto at = crossingNear(a.start(), a.curve(), a.t1, b.start(), b.curve(), b.t0)) {
            const Vec2 p = end(a, at->first);
            if (distance(p, a.to) < 20 * chordError) {
                a.t1 = at->first, b.t0 = at->second;
                return p;
            }
        }
        return a.t1 == 0 || a.t1 == 1   ? end(a, a.t1)
               : b.t0 == 0 || b.t0 == 1 ? end(b, b.t0)
                                        : (end(a, a.t1) + end(b, b.t0)) / 2;
    }
    static void append(Path& path, const Stretch& s, Vec2 to) {
        const Vec2 from = path.end();
        if (distance(from, to) < grid / 2 && (!s.path || std::abs(s.t1 - s.t0) < 1e-6)) return;
        if (!s.path || s.curve().kind == Segment::Kind::line) return path.segments.push_back(Segment::line(to));
        Segment cut;
        if (s.t1 > s.t0) {
            cut = cutOf(s.start(), s.curve(), s.t0, s.t1);
        } else {
            const Path back = reversed(Path{s.start(), {s.curve()}, false});
            cut = cutOf(back.start, back.segments[0], 1 - s.t0, 1 - s.t1);
        }
        if (cut.kind == Segment::Kind::cubic) { // its handles go with its ends
            cut.a += from - pointAt(s.start(), s.curve(), s.t0);
            cut.b += to - cut.end;
        }
        cut.end = to;
        path.segments.push_back(cut);
    }

    std::vector<Chord> chords_;
    std::optional<SpatialIndex> index_;
};

} // namespace

Result<std::vector<Piece>> combinedPieces(const std::vector<Piece>& first, const std::vector<Piece>& second,
                                          Combine how) {
    Rebuilder rebuilder;
    Rings a, b;
    rebuilder.take(first, a);
    rebuilder.take(second, b);
    rebuilder.index();
    if (rebuilder.meeting() == Rebuilder::Meeting::thicket)
        return Problem{.what = "The outlines cross more than 50 000 times.",
                       .where = {},
                       .mend = "Choose fewer of them, or mend their crossings first."};
    const auto rings = combined(a, b, how);
    if (!rings) return rings.problem();
    return nested(rebuilder.rebuilt(*rings));
}

Result<std::vector<Piece>> filledPieces(std::vector<Path> paths, FillRule rule) {
    std::vector<Piece> areas;
    for (const auto& path : paths)
        if (path.closed) areas.push_back({path, {}});
    Rebuilder rebuilder;
    Rings rings;
    rebuilder.take(areas, rings);
    rebuilder.index();
    auto pieces = nested(paths, rule);
    if (rebuilder.meeting() != Rebuilder::Meeting::some) return pieces;
    const auto filled = combined(rings, {}, Combine::join, rule);
    if (!filled) return filled.problem();
    // Sorting them was enough where it comes to the area that they fill, but for what rounding takes or adds.
    double had = 0, wanted = 0, around = 0;
    const auto areaInside = [&](const Path& path) {
        const Ring ring = flattened(path, chordError);
        around += perimeterOf(ring);
        return std::abs(areaOf(ring));
    };
    for (const auto& piece : pieces) {
        if (!piece.outline.closed) continue;
        had += areaInside(piece.outline);
        for (const auto& opening : piece.openings) had -= areaInside(opening);
    }
    for (const auto& ring : *filled) wanted += areaOf(ring);
    if (std::abs(had - wanted) <= grid * around) return pieces;
    auto out = nested(rebuilder.rebuilt(*filled));
    for (auto& path : paths)
        if (!path.closed) out.push_back({std::move(path), {}});
    return out;
}

std::vector<Path> insideOf(const Path& line, const std::vector<Piece>& area) {
    Rings rings;
    for (const auto& piece : area)
        for (auto& ring : flattened(piece, chordError)) rings.push_back(std::move(ring));
    if (line.segments.empty()) return contains(rings, line.start) ? std::vector{line} : std::vector<Path>{};
    struct Edge {
        Vec2 a, b;
    };
    std::vector<Edge> edges;
    std::vector<Box> boxes;
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            edges.push_back({ring[i], ring[(i + 1) % ring.size()]});
            Box box;
            box.take(edges.back().a);
            box.take(edges.back().b);
            boxes.push_back(box);
        }
    const SpatialIndex index(boxes);
    // Lengths along the line at which it crosses an edge, by the shares of its segments.
    const Ruler ruler(line);
    std::vector<double> cuts{0};
    double begin = 0;
    for (std::size_t i = 0; i < line.segments.size(); ++i) {
        const Vec2 from = line.from(i);
        const double size = lengthOf(from, line.segments[i]);
        std::vector<Vec2> points{from};
        flattenSegment(from, line.segments[i], chordError, [&](Vec2 p) { points.push_back(p); });
        const double parts = static_cast<double>(points.size() - 1);
        for (std::size_t k = 0; k + 1 < points.size(); ++k) {
            const Vec2 p = points[k], d = points[k + 1] - p;
            Box box;
            box.take(p);
            box.take(points[k + 1]);
            for (const auto e : index.meeting(box)) {
                const Vec2 q = edges[e].a, u = edges[e].b - q;
                const double sine = cross(d, u);
                if (sine == 0) continue;
                const double t = cross(q - p, u) / sine, s = cross(q - p, d) / sine;
                if (t >= 0 && t <= 1 && s >= 0 && s <= 1)
                    cuts.push_back(begin + size * (static_cast<double>(k) + t) / parts);
            }
        }
        begin += size;
    }
    cuts.push_back(begin);
    std::sort(cuts.begin(), cuts.end());
    std::vector<Path> out;
    bool goesOn = false;
    for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
        if (cuts[i + 1] - cuts[i] < 1e-9) continue;
        const bool in = contains(rings, ruler.at((cuts[i] + cuts[i + 1]) / 2).point);
        if (in && !goesOn) out.push_back({ruler.at(cuts[i]).point, {}, false});
        if (in) {
            const auto more = ruler.stretch(cuts[i], cuts[i + 1]);
            out.back().segments.insert(out.back().segments.end(), more.begin(), more.end());
        }
        goesOn = in;
    }
    if (out.size() == 1 && cuts.size() == 2 && line.closed) return {line};
    // Round the start of a closed line the last stretch and the first are one.
    if (line.closed && out.size() > 1 && goesOn && distance(out.front().start, line.start) < 1e-9) {
        Path& last = out.back();
        last.segments.insert(last.segments.end(), out.front().segments.begin(), out.front().segments.end());
        out.erase(out.begin());
    }
    return out;
}

} // namespace ferro
