#include "job/by_hand.h"

#include <set>

namespace ferro::job {

ByHand::ByHand(const Job& job, const artwork::Ids& moving, double spacing, double margin) {
    const std::set<artwork::ItemId> moves(moving.begin(), moving.end());
    std::vector<Piece> own;
    std::vector<std::vector<Piece>> others;
    for (const auto& item : job.artwork->items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape || !shape->piece.outline.closed || artwork::isHidden(*job.artwork, item) ||
            artwork::isNote(*job.artwork, item))
            continue;
        if (moves.contains(item.id)) {
            own.push_back(artwork::placed(item));
        } else {
            others.push_back({artwork::placed(item)});
            others_.push_back(item.id);
        }
    }
    nest::Sheet sheet;
    sheet.area = blankOf(job.sheet().stock);
    for (const auto& clamp : job.sheet().clamps)
        sheet.taken.push_back({rectangle(clamp.area.low, clamp.area.high), {}});
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
