#include "job/by_hand.h"

#include "artwork/copies.h"
#include "job/edits.h"

#include <set>

namespace ferro::job {

namespace {

/// Pieces that move on the sheet at hand, and what lies still there.
struct Around {
    std::vector<Piece> own;
    std::vector<std::vector<Piece>> others;
    artwork::Ids ids; ///< of the others
    nest::Sheet sheet;
};
Around aroundOf(const Job& job, const artwork::Ids& moving) {
    const std::set<artwork::ItemId> moves(moving.begin(), moving.end());
    Around out;
    for (const auto& item : job.artwork->items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape || !shape->piece.outline.closed || artwork::isHidden(*job.artwork, item) ||
            artwork::isNote(*job.artwork, item))
            continue;
        if (moves.contains(item.id)) {
            out.own.push_back(artwork::placed(item));
        } else {
            out.others.push_back({artwork::placed(item)});
            out.ids.push_back(item.id);
        }
    }
    out.sheet.area = blankOf(job.sheet().stock);
    for (const auto& clamp : job.sheet().clamps)
        out.sheet.taken.push_back({rectangle(clamp.area.low, clamp.area.high), {}});
    return out;
}

} // namespace

Result<LaidOn> laidOn(const Job& job, const artwork::Ids& items, SheetId sheet, double spacing, double margin) {
    auto art = artwork::withItemsOn(*job.artwork, items, sheet);
    if (!art) return art.problem();
    artwork::Ids moving; // what is grouped with them comes along
    for (std::size_t i = 0; i < art->items.size(); ++i)
        if (art->items[i].sheet != job.artwork->items[i].sheet) moving.push_back(art->items[i].id);
    LaidOn out{withArtwork(job, *art)};
    if (!sheet || moving.empty()) return out;
    auto there = atSheet(out.job, sheet);
    if (!there) return there.problem();
    const auto around = aroundOf(*there, moving);
    if (around.own.empty()) return out;
    const nest::Pushing pushing(around.own, around.sheet, around.others, spacing, margin);
    const auto isFree = [&](Vec2 by) { return pushing.hits(Transform::moved(by)).none(); };
    if (isFree({})) return out;
    Box box;
    for (const auto& piece : around.own) box.take(boundsOf(piece));
    const Box all = boundsOf(around.sheet.area.outline).grown(-margin);
    const double step = std::clamp(std::min(box.width(), box.height()) / 6, 1.0, 25.0);
    out.fits = false;
    for (double y = all.low.y; y <= all.high.y - box.height() + 1e-9 && !out.fits; y += step)
        for (double x = all.low.x; x <= all.high.x - box.width() + 1e-9; x += step) {
            const Vec2 by = Vec2{x, y} - box.low;
            if (!isFree(by)) continue;
            for (auto& item : art->items)
                if (std::find(moving.begin(), moving.end(), item.id) != moving.end())
                    item.place = Transform::moved(by) * item.place;
            out = {withArtwork(job, std::move(*art)), true, true};
            break;
        }
    return out;
}

ByHand::ByHand(const Job& job, const artwork::Ids& moving, double spacing, double margin) {
    auto around = aroundOf(job, moving);
    const auto& own = around.own;
    auto& others = around.others;
    auto& sheet = around.sheet;
    others_ = std::move(around.ids);
    pushing_ = std::make_unique<nest::Pushing>(own, sheet, others, spacing, margin);
    const auto atFirst = pushing_->hits({});
    if (atFirst.none()) return;
    for (auto k = atFirst.others.rbegin(); k != atFirst.others.rend(); ++k) {
        const auto at = static_cast<std::ptrdiff_t>(*k);
        others.erase(others.begin() + at);
        others_.erase(others_.begin() + at);
    }
    if (atFirst.beyond) {
        constexpr double anywhere = 1e5; // mm
        sheet = {};
        sheet.area.outline = rectangle({-anywhere, -anywhere}, {anywhere, anywhere});
    }
    pushing_ = std::make_unique<nest::Pushing>(own, sheet, others, spacing, margin);
}

ByHand::Hit ByHand::hit(const Transform& by) const {
    const auto hits = pushing_->hits(by);
    Hit out{{}, hits.beyond, pushing_->overlap(by, hits)};
    for (const auto k : hits.others) out.items.push_back(others_[k]);
    return out;
}

} // namespace ferro::job
