#include "geometry/nesting.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

namespace ferro {

namespace {

struct Outline {
    Ring ring;
    Vec2 place; // within
    Box box;
    double area = 0;
    int parent = -1; // the smallest outline round this one
};

/// A place well inside a ring, beside the middle of its longest edge: where outlines touch, a point on one of them
/// would tell nothing.
Vec2 placeIn(const Ring& ring) {
    std::size_t longest = 0;
    double most = -1;
    for (std::size_t i = 0; i < ring.size(); ++i)
        if (const double size = distance(ring[i], ring[(i + 1) % ring.size()]); size > most) most = size, longest = i;
    const Vec2 a = ring[longest], b = ring[(longest + 1) % ring.size()], in = perpendicular(b - a);
    for (double by = 0.25; by > 1e-6; by /= 4)
        for (const double side : {by, -by}) // of what crosses itself either may be in
            if (const Vec2 p = (a + b) / 2 + in * side; contains(ring, p)) return p;
    return ring.front();
}

/// For each outline the smallest other one that holds it: candidates come from the index, smallest first.
void findParents(std::vector<Outline>& outlines) {
    std::vector<Box> boxes;
    for (const auto& o : outlines) boxes.push_back(o.box);
    const SpatialIndex index(boxes);
    for (std::size_t i = 0; i < outlines.size(); ++i) {
        const Vec2 place = outlines[i].place;
        auto round = index.meeting({place, place});
        std::erase_if(round, [&](std::size_t k) {
            return k == i || !outlines[k].box.grown(1e-6).contains(outlines[i].box) ||
                   outlines[k].area <= outlines[i].area;
        });
        std::sort(round.begin(), round.end(), [&](std::size_t a, std::size_t b) {
            return std::pair(outlines[a].area, a) < std::pair(outlines[b].area, b);
        });
        for (const std::size_t k : round)
            if (contains(outlines[k].ring, place)) {
                outlines[i].parent = static_cast<int>(k);
                break;
            }
    }
}

Outline outlineOf(const Path& path) {
    Ring ring = flattened(path, 0.01);
    return {.ring = ring, .place = placeIn(ring), .box = boundsOf(path), .area = std::abs(areaOf(path))};
}

} // namespace

std::vector<Piece> nested(std::vector<Path> paths, FillRule rule) {
    std::vector<Path> open;
    std::vector<Path> closed;
    const auto goesRound = [](const Path& path) { // a line to where it began does not
        return path.closed && (path.segments.size() > 1 ||
                               (path.segments.size() == 1 && path.segments[0].kind != Segment::Kind::line));
    };
    for (auto& path : paths) (goesRound(path) ? closed : open).push_back(std::move(path));
    std::vector<Outline> outlines;
    outlines.reserve(closed.size());
    for (const auto& path : closed) outlines.push_back(outlineOf(path));
    findParents(outlines);

    std::vector<int> winding(closed.size(), 0), level(closed.size(), -1);
    std::vector<std::size_t> byArea(closed.size());
    for (std::size_t i = 0; i < byArea.size(); ++i) byArea[i] = i;
    std::sort(byArea.begin(), byArea.end(), [&](std::size_t a, std::size_t b) {
        return std::pair(-outlines[a].area, a) < std::pair(-outlines[b].area, b);
    });
    std::vector<int> pieceOf(closed.size(), -1); // the piece whose material starts or ends at this outline
    std::vector<Piece> pieces;
    std::vector<std::pair<std::size_t, std::size_t>> openings; // outline, piece
    for (const std::size_t i : byArea) {
        const int up = outlines[i].parent;
        level[i] = up < 0 ? 0 : level[static_cast<std::size_t>(up)] + 1;
        winding[i] = (up < 0 ? 0 : winding[static_cast<std::size_t>(up)]) + (areaOf(closed[i]) > 0 ? 1 : -1);
        const auto filled = [&](int outline) {
            return outline >= 0 && (rule == FillRule::evenOdd ? level[static_cast<std::size_t>(outline)] % 2 == 0
                                                              : winding[static_cast<std::size_t>(outline)] != 0);
        };
        const bool in = filled(static_cast<int>(i)), round = filled(up);
        if (in && !round) {
            pieceOf[i] = static_cast<int>(pieces.size());
            pieces.push_back({wound(closed[i], true), {}});
        } else if (!in && round) {
            pieceOf[i] = pieceOf[static_cast<std::size_t>(up)];
            openings.emplace_back(i, static_cast<std::size_t>(pieceOf[i]));
        } else {
            pieceOf[i] = up < 0 ? -1 : pieceOf[static_cast<std::size_t>(up)]; // redundant under non-zero
        }
    }
    std::sort(openings.begin(), openings.end());
    for (const auto& [outline, piece] : openings) pieces[piece].openings.push_back(wound(closed[outline], false));
    for (auto& path : open) pieces.push_back({std::move(path), {}});
    return pieces;
}

std::vector<int> parentsOf(const std::vector<Path>& paths) {
    std::vector<Outline> outlines;
    std::vector<std::size_t> from;
    for (std::size_t i = 0; i < paths.size(); ++i)
        if (paths[i].closed && !paths[i].segments.empty()) outlines.push_back(outlineOf(paths[i])), from.push_back(i);
    findParents(outlines);
    std::vector<int> parents(paths.size(), -1);
    for (std::size_t i = 0; i < outlines.size(); ++i)
        if (outlines[i].parent >= 0)
            parents[from[i]] = static_cast<int>(from[static_cast<std::size_t>(outlines[i].parent)]);
    return parents;
}

} // namespace ferro
