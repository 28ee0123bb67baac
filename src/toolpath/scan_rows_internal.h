#pragma once

#include "toolpath/work_internal.h"

namespace ferro::toolpath {

/// A stretch of a level line with a power.
struct Lit {
    double from = 0, to = 0;
    Power power;
};

/// Writes level lines of a beam, in coordinates turned so that they are level. Every line begins and ends so far
/// outside that the beam is at speed where it burns; over a wide gap it goes without working speed.
class RowWriter {
public:
    RowWriter(double angle, double runUp, double feed)
        : back_(Transform::rotated(angle, {})), runUp_(runUp), feed_(feed) {}

    /// Where a line that begins at `x` is begun.
    [[nodiscard]] Vec2 begins(double x, double y) const { return back_({x - runUp_, y}); }
    /// Stretches from left to right, some of them touching; `ahead`: burnt in that direction.
    void row(Pen& pen, double y, const std::vector<Lit>& lit, bool ahead) const;

private:
    void scan(Pen& pen, double y, const Lit* first, const Lit* end, bool ahead) const;
    Transform back_;
    double runUp_, feed_;
};

/// mm that a beam needs to come to its speed: v² = 2 a s.
[[nodiscard]] inline double runUpOf(double feed, const shop::Machine& machine) {
    const double speed = feed / 60;
    return speed * speed / (2 * machine.acceleration);
}

} // namespace ferro::toolpath
