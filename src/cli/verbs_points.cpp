// Edits of a piece's points, by their numbers.
#include "cli/words_internal.h"
#include "mend/points.h"

namespace ferro::cli {

namespace {

Result<artwork::ItemId> oneItem(const Job& job, const std::string& word) {
    const auto ids = itemsFrom(job, word);
    if (!ids) return ids.problem();
    if (ids->size() != 1)
        return Problem{.what = fmt::format("“{}” is {} pieces.", word, ids->size()), .where = {}, .mend = "Name one."};
    return (*ids)[0];
}

/// "0,3,5-8" on the outline, "1:4" on opening 1, "all".
Result<mend::PointRefs> pointsFrom(const Job& job, artwork::ItemId item, std::string_view word) {
    mend::PointRefs out;
    if (word == "all") {
        for (const auto& mark : mend::pointsOf(*job.artwork, {item})) out.push_back(mark.ref);
        return out;
    }
    while (!word.empty()) {
        const auto comma = std::min(word.find(','), word.size());
        std::string_view part = word.substr(0, comma);
        word.remove_prefix(std::min(comma + 1, word.size()));
        mend::PointRef ref{item, -1, 0};
        if (const auto colon = part.find(':'); colon != std::string_view::npos) {
            const auto opening = idFrom(part.substr(0, colon));
            if (!opening) return opening.problem();
            ref.opening = static_cast<int>(std::min<std::uint32_t>(*opening, 1'000'000));
            part.remove_prefix(colon + 1);
        }
        const auto dash = std::min(part.find('-'), part.size());
        const auto first = idFrom(part.substr(0, dash)),
                   last = dash < part.size() ? idFrom(part.substr(dash + 1)) : first;
        if (!first) return first.problem();
        if (!last) return last.problem();
        if (*last < *first || *last - *first > 1'000'000)
            return Problem{.what = fmt::format("“{}” is no run of points.", part), .where = {}, .mend = "Write 5-8."};
        for (auto n = *first; n <= *last; ++n) {
            ref.point = n;
            out.push_back(ref);
        }
    }
    return out;
}

Result<Job> of(const Job& job, Result<mend::PointEdit> edit) {
    if (!edit) return edit.problem();
    return job::withArtwork(job, std::move(edit->artwork));
}

Result<Job> points(const Job& job, const Words& w) {
    const auto item = oneItem(job, w[0]);
    if (!item) return item.problem();
    const auto refs = pointsFrom(job, *item, w[1]);
    if (!refs) return refs.problem().within(w[1]);
    const auto& art = *job.artwork;
    const std::string& what = w[2];
    const auto numbers = [&](std::size_t count) -> Result<std::vector<double>> {
        if (w.size() < 3 + count)
            return Problem{.what = fmt::format("“{}” needs {} numbers.", what, count), .where = {}, .mend = {}};
        return lengths(job, w, 3, count);
    };
    if (what == "move" || what == "bend") {
        const auto xy = numbers(2);
        if (!xy) return xy.problem();
        const Vec2 v{(*xy)[0], (*xy)[1]};
        if (what == "move") return of(job, mend::withPointsMoved(art, *refs, v));
        if (refs->size() == 1) return of(job, mend::withBulge(art, (*refs)[0], v));
    } else if (what == "add") {
        const auto t = w.size() > 3 ? parseQuantity(w[3], Measure::count, job.units) : Result<double>(0.5);
        if (!t) return t.problem();
        if (refs->size() == 1 && *t > 0 && *t < 1) return of(job, mend::withPointAdded(art, (*refs)[0], *t));
        return Problem{.what = "A point is added behind one other, between 0 and 1 along.", .where = {}, .mend = {}};
    } else if (what == "take-out") {
        return of(job, mend::withPointsRemoved(art, *refs));
    } else if (what == "part") {
        return of(job, mend::withSplit(art, *refs));
    }
    constexpr std::array forms{std::pair{std::string_view("straight"), mend::PointForm::straight},
                               std::pair{std::string_view("handles"), mend::PointForm::handles},
                               std::pair{std::string_view("smooth"), mend::PointForm::smooth},
                               std::pair{std::string_view("corner"), mend::PointForm::corner}};
    for (const auto& [word, form] : forms)
        if (what == word) return of(job, mend::withPointsFormed(art, *refs, form));
    return Problem{.what = fmt::format("“{}” cannot be done with these points.", what),
                   .where = {},
                   .mend =
                       "Use move, take-out, straight, handles, smooth, corner or part; with one point add or bend."};
}

Result<Job> endsJoined(const Job& job, const Words& w) {
    mend::PointRefs ends;
    for (const std::size_t i : {0u, 1u}) {
        const auto slash = std::min(w[i].rfind('/'), w[i].size());
        const auto item = oneItem(job, w[i].substr(0, slash));
        if (!item) return item.problem();
        const auto* shape = artwork::shapeOf(*artwork::find(*job.artwork, *item));
        const bool last = slash < w[i].size() && w[i].substr(slash + 1) == "end";
        if (!shape || shape->piece.outline.closed || slash == w[i].size() ||
            (!last && w[i].substr(slash + 1) != "start"))
            return Problem{.what = fmt::format("“{}” is no end of an open line.", w[i]),
                           .where = {},
                           .mend = "Write its number and which end: 3/start or 3/end."};
        ends.push_back({*item, -1, last ? shape->piece.outline.segments.size() : 0});
    }
    return of(job, mend::withEndsJoined(*job.artwork, ends, job.tolerances.gap));
}

} // namespace

std::vector<Verb> pointVerbs() {
    return {
        {"points",
         "ITEM POINTS move DX DY | bend X Y | add [T] | take-out | straight | handles | smooth | corner | part",
         "edit points by their numbers: 0,3,5-8 of the outline, 1:4 of opening 1, all", 3,
         [](const Job& j, const Words& w, const shop::Book&) { return points(j, w); }},
        {"join-ends", "ITEM/start|end ITEM/start|end", "join two ends, in their middle or by a line", 2,
         [](const Job& j, const Words& w, const shop::Book&) { return endsJoined(j, w); }},
    };
}

} // namespace ferro::cli
