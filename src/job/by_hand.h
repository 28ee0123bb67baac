#pragma once

#include "job/sheets.h"
#include "nest/push.h"

namespace ferro::job {

/// Pieces laid on another sheet, with all that is grouped with them: where they lay on theirs if there is room, else at
/// the first place from the lower left that has, tried in steps of a sixth of their size; where there is none they lie
/// over what is there. No sheet: beside all.
struct LaidOn {
    Job job;
    bool moved = false;
    bool fits = true;
};
[[nodiscard]] Result<LaidOn> laidOn(const Job& job, const artwork::Ids& items, SheetId sheet, double spacing,
                                    double margin);

/// Pieces that are moved by hand among the others on the sheet at hand. What they overlap or are too near to at first,
/// such as what is drawn on a part, is no obstacle, and neither is the edge where they lie beyond it.
class ByHand {
public:
    /// mm that stay between pieces, and to the sheet's edge and its clamps.
    ByHand(const Job& job, const artwork::Ids& moving, double spacing, double margin);

    /// See `nest::Pushing`; no shift at all is where they lie.
    [[nodiscard]] Vec2 pushed(Vec2 from, Vec2 to) const { return pushing_->pushed(from, to); }
    struct Hit {
        artwork::Ids items; ///< that would be overlapped or too near
        bool beyond = false;
        Rings overlap = {}; ///< where it lies on them or beyond the sheet; nothing where it is too near only
        [[nodiscard]] bool none() const { return items.empty() && !beyond; }
    };
    [[nodiscard]] Hit hit(const Transform& by) const;

private:
    artwork::Ids others_;
    std::unique_ptr<nest::Pushing> pushing_;
};

} // namespace ferro::job
