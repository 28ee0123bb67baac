#include "job/marks.h"

#include "artwork/edits.h"
#include "geometry/place_fit.h"
#include "job/edits.h"

namespace ferro::job {

namespace {

artwork::Ids onSheet(const Job& job, bool marks) {
    artwork::Ids ids;
    for (const auto& item : job.artwork->items) {
        if (item.sheet != job.sheet().id) continue;
        const auto* layer = artwork::find(*job.artwork, item.layer);
        if ((layer && layer->name == marksLayer) == marks) ids.push_back(item.id);
    }
    return ids;
}

/// From one corner to another in even steps, without the last.
void between(std::vector<Vec2>& places, Vec2 from, Vec2 to, double spacing) {
    const int steps = std::max(1, static_cast<int>(std::ceil(distance(from, to) / spacing - 1e-9)));
    for (int k = 0; k < steps; ++k) places.push_back(lerp(from, to, static_cast<double>(k) / steps));
}

} // namespace

std::vector<Mark> marksOf(const Job& job) {
    std::vector<Mark> marks;
    for (const auto id : onSheet(job, true)) {
        const auto* item = artwork::find(*job.artwork, id);
        const auto* shape = artwork::shapeOf(*item);
        if (!shape || !shape->piece.outline.closed || !shape->piece.openings.empty()) continue;
        const Path path = transformed(shape->piece.outline, item->place);
        const Box box = boundsOf(path);
        const double asEllipse = pi * box.width() * box.height() / 4;
        if (box.width() < 1.2 * box.height() && box.height() < 1.2 * box.width() &&
            std::abs(std::abs(areaOf(path)) / asEllipse - 1) < 0.02)
            marks.push_back({id, box.centre(), (box.width() + box.height()) / 4});
    }
    return marks;
}

Result<Job> withMarks(const Job& job, const MarksWish& wish) {
    if (!(wish.diameter >= 2 && wish.diameter <= 20) || !(wish.gap >= 0 && wish.gap <= 100) || !(wish.spacing >= 20))
        return Problem{.what = "Such marks cannot be made.",
                       .where = {},
                       .mend = "Marks are 2 to 20 mm across, up to 100 mm off, and 20 mm or more apart."};
    const auto ids = onSheet(job, false);
    const Box of = artwork::boundsOf(*job.artwork, ids);
    if (ids.empty() || of.empty())
        return Problem{.what = "Nothing lies on the sheet that marks could stand round.",
                       .where = job.sheet().name,
                       .mend = "Put the artwork on it first."};
    const Box at = of.grown(wish.gap + wish.diameter / 2), all = at.grown(wish.diameter / 2);
    const auto& stock = job.sheet().stock;
    const double beyond = std::max({-all.low.x, -all.low.y, all.high.x - stock.width, all.high.y - stock.height});
    if (beyond > 1e-9)
        return Problem{.what = fmt::format("The marks would lie {} beyond the sheet.", mm(beyond)),
                       .where = job.sheet().name,
                       .mend = "Move the artwork, give them less gap, or take a larger sheet."};
    std::vector<Vec2> places;
    const Vec2 right{at.high.x, at.low.y}, left{at.low.x, at.high.y};
    between(places, at.low, right, wish.spacing);
    between(places, right, at.high, wish.spacing);
    between(places, at.high, left, wish.spacing);
    between(places, left, at.low, wish.spacing);
    // It must not lie half way to the next: then it would not tell which way round.
    places.push_back(at.low + Vec2{std::min(3 * wish.diameter, 0.37 * distance(places[0], places[1])), 0});
    auto art = *job.artwork;
    if (const auto old = onSheet(job, true); !old.empty()) {
        for (auto& item : art.items)
            if (std::find(old.begin(), old.end(), item.id) != old.end()) item.locked = false;
        auto without = artwork::withRemoved(art, old);
        if (!without) return without.problem();
        art = std::move(*without);
    }
    std::vector<Piece> pieces;
    for (const Vec2 p : places) pieces.push_back({circle(p, wish.diameter / 2), {}});
    art = artwork::withPieces(art, std::move(pieces), marksLayer, "mark").artwork;
    for (auto& layer : art.layers)
        if (layer.name == marksLayer) layer.notes = true, layer.hidden = false, layer.colour = "#000000";
    return withArtwork(job, std::move(art));
}

Result<Correction> correctionBy(const Job& job, std::span<const std::optional<Vec2>> found, double most) {
    const auto marks = marksOf(job);
    std::vector<Vec2> from, to;
    for (std::size_t i = 0; i < std::min(marks.size(), found.size()); ++i)
        if (found[i]) from.push_back(marks[i].at), to.push_back(*found[i]);
    if (from.size() < 2)
        return Problem{.what = fmt::format("{} of {} marks were found.", from.size(), marks.size()),
                       .where = job.sheet().name,
                       .mend = "It takes two, better three or more: say where they are."};
    const auto fit = fittedMap(from, to);
    Correction out;
    out.map = fit.map, out.off = fit.off, out.worst = fit.worst();
    Vec2 middle;
    for (const Vec2 p : from) middle = middle + p / static_cast<double>(from.size());
    out.shift = fit.map(middle) - middle;
    const Vec2 x = fit.map.direction({1, 0}), y = fit.map.direction({0, 1});
    out.turn = std::atan2(x.y, x.x);
    out.wider = length(x);
    out.skew = std::atan2(-dot(x, y), cross(x, y));
    out.higher = cross(x, y) / out.wider;
    for (const double size : {out.wider, out.higher})
        if (!(std::abs(size - 1) < 0.06))
            return Problem{.what = fmt::format("By the marks the print is {:.1f} % wide and {:.1f} % high.",
                                               100 * out.wider, 100 * out.higher),
                           .where = job.sheet().name,
                           .mend = "Print it at its exact size, without fitting it to the page, or correct a mark."};
    if (out.worst > most)
        return Problem{.what = fmt::format("A mark is {} off the others.", mm(out.worst)),
                       .where = job.sheet().name,
                       .mend = "Look which, and say where it is, or leave it out."};
    return out;
}

Result<Job> withCorrection(const Job& job, const Correction& correction) {
    auto art = *job.artwork;
    if (!(std::abs(correction.map.determinant()) > 1e-6))
        return Problem{.what = "This would flatten the pieces to nothing.", .where = {}, .mend = "Correct a mark."};
    // The paper asks nobody whether it may move.
    for (auto& item : art.items)
        if (item.sheet == job.sheet().id) item.place = correction.map * item.place;
    return withArtwork(job, std::move(art));
}

} // namespace ferro::job
