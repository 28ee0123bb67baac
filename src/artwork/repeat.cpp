#include "artwork/repeat.h"

#include "artwork/copies.h"
#include "geometry/measure.h"

namespace ferro::artwork {

namespace {

constexpr int most = 10'000;

Problem bad(std::string what, std::string mend) {
    return {.what = std::move(what), .where = "repeat", .mend = std::move(mend)};
}

Result<std::vector<Transform>> inGrid(const Repeat& r, const Box& bounds, const Box& area) {
    const Vec2 step{bounds.width() + r.gap.x, bounds.height() + r.gap.y};
    if (!(step.x > 1e-6 && step.y > 1e-6))
        return bad("The copies would lie on each other.", "Give a gap that is not below the pieces' own size.");
    const auto fits = [](double room, double size, double pitch) { // how many go into it
        return room < size - 1e-9 ? 0.0 : std::floor((room - size) / pitch + 1e-9) + 1;
    };
    const auto counted = [&](int asked, double room, double size, double pitch) {
        return asked > 0 ? asked : static_cast<int>(std::min<double>(most, std::max(1.0, fits(room, size, pitch))));
    };
    const double half = r.staggered ? step.x / 2 : 0;
    const int columns = counted(r.columns, area.high.x - bounds.low.x - half, bounds.width(), step.x),
              rows = counted(r.rows, area.high.y - bounds.low.y, bounds.height(), step.y);
    if (static_cast<double>(columns) * rows > most)
        return bad(fmt::format("{} × {} are more than {}.", columns, rows, most), "Ask for fewer.");
    std::vector<Transform> maps;
    for (int row = 0; row < rows; ++row)
        for (int column = 0; column < columns; ++column)
            if (row > 0 || column > 0)
                maps.push_back(Transform::moved({column * step.x + (row % 2 ? half : 0), row * step.y}));
    return maps;
}

/// Turned about a place, and brought there.
Transform turnedTo(Vec2 from, Vec2 to, double angle) {
    return Transform::moved(to - from) * Transform::rotated(angle, from);
}

Result<std::vector<Transform>> inRing(const Repeat& r, const Box& bounds) {
    if (r.count < 2 || r.count > most) return bad("A ring has 2 to 10 000 pieces.", "Give another count.");
    if (!(std::abs(r.span) > 1e-6 && std::abs(r.span) <= 2 * pi + 1e-9))
        return bad("A ring spans up to a whole turn.", "Give an angle up to 360°, not 0.");
    const bool whole = std::abs(r.span) > 2 * pi - 1e-9;
    const double step = r.span / (whole ? r.count : r.count - 1);
    if (distance(bounds.centre(), r.centre) < 1e-9 && !r.turns)
        return bad("The copies would lie on each other.", "Put the ring's centre elsewhere, or let them turn.");
    std::vector<Transform> maps;
    for (int i = 1; i < r.count; ++i) {
        const auto turn = Transform::rotated(i * step, r.centre);
        maps.push_back(r.turns ? turn : Transform::moved(turn(bounds.centre()) - bounds.centre()));
    }
    return maps;
}

Result<std::vector<Transform>> alongLine(const Repeat& r, const Box& bounds, const Path* line) {
    if (!line || line->segments.empty())
        return bad("There is no line to go along.", "Choose the pieces, and last the line that they are to lie on.");
    const Ruler ruler(*line);
    const double length = ruler.length();
    if (!(length > 1e-6)) return bad("The line has no length.", "Choose another.");
    std::vector<double> along;
    if (r.pitch > 0) {
        if (length / r.pitch > most) return bad("That would be more than 10 000 pieces.", "Give a wider step.");
        const int count = static_cast<int>(std::floor(length / r.pitch + 1e-9)) + (line->closed ? 0 : 1);
        for (int i = 0; i < count; ++i) along.push_back(std::min(length, i * r.pitch));
    } else {
        if (r.count < 1 || r.count > most) return bad("1 to 10 000 pieces go along a line.", "Give another count.");
        const int gaps = line->closed ? r.count : std::max(1, r.count - 1);
        for (int i = 0; i < r.count; ++i) along.push_back(length * i / gaps);
    }
    std::vector<Transform> maps;
    for (const double s : along) {
        const auto at = ruler.at(s);
        maps.push_back(turnedTo(bounds.centre(), at.point, r.turns ? std::atan2(at.tangent.y, at.tangent.x) : 0));
    }
    return maps;
}

} // namespace

Result<std::vector<Transform>> placesOf(const Repeat& repeat, const Box& bounds, const Box& area, const Path* line) {
    if (bounds.empty()) return bad("Nothing is chosen.", "Choose one or more pieces first.");
    auto maps = repeat.way == Repeat::Way::grid   ? inGrid(repeat, bounds, area)
                : repeat.way == Repeat::Way::ring ? inRing(repeat, bounds)
                                                  : alongLine(repeat, bounds, line);
    if (maps && maps->empty())
        return bad("There is no room for a second one.", "Give a count, a smaller gap, or move the pieces.");
    return maps;
}

Result<Added> withRepeated(const Artwork& artwork, const Ids& items, const Repeat& repeat, const Box& area,
                           std::optional<ItemId> line) {
    Ids pieces;
    for (const auto id : items)
        if (!line || id != *line) pieces.push_back(id);
    std::optional<Path> path;
    if (line)
        if (const auto* item = find(artwork, *line); item && shapeOf(*item)) path = placed(*item).outline;
    const auto maps = placesOf(repeat, boundsOf(artwork, pieces), area, path ? &*path : nullptr);
    if (!maps) return maps.problem();
    return withCopiesAt(artwork, pieces, *maps);
}

} // namespace ferro::artwork
