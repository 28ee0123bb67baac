#pragma once

#include "toolpath/trails_internal.h"
#include "toolpath/ways_internal.h"
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

/// The lower end of a tool that gets narrower: how deep it goes in between two edges, which is where its own edge
/// touches both. Exact for tools of any shape, as they are round.
class Tip {
public:
    /// Down to `deepest` mm, or as deep as the tool is made that gets wider upwards.
    Tip(const shop::Tool& tool, double deepest);

    [[nodiscard]] double most() const { return most_; }     ///< mm, the deepest it goes
    [[nodiscard]] double widest() const { return widest_; } ///< mm, its radius at the surface there
    [[nodiscard]] double flat() const { return flat_; }     ///< mm, radius of what is flat at its end
    [[nodiscard]] double made() const { return made_; }     ///< mm, how deep it could go
    [[nodiscard]] bool isCurved() const { return curved_ > 0; }
    [[nodiscard]] double radiusAt(double depth) const { return tool_.radiusAt(depth); }
    /// mm, between edges that lie so far to either side; never more than `most`.
    [[nodiscard]] double depthAt(double radius) const { return std::clamp(depthOf(radius), 0.0, most_); }
    /// The same without an end: beyond `widest` it goes on as steeply as there.
    [[nodiscard]] double depthOf(double radius) const;
    /// With places between so that depth goes evenly from each to the next within `tolerance` mm.
    [[nodiscard]] Trail evened(const Trail& trail, double tolerance) const;

private:
    shop::Tool tool_;
    double most_ = 0, widest_ = 0, flat_ = 0, made_ = 0;
    double curved_ = 0; ///< mm, the radius up to which its depth does not go evenly with the width
    double slope_ = 1;  ///< mm out for each mm up, where it ends
};

/// Follows trails at the depth that they ask for, in passes (mm, downwards).
class Carver {
public:
    Carver(const plan::Rates& rates, Tip tip, std::vector<double> passes)
        : rates_(rates), tip_(std::move(tip)), passes_(std::move(passes)) {}

    void carve(Pen& pen, const Trail& trail) const;
    /// A way at one depth.
    void rim(Pen& pen, const Path& path) const;
    /// Ways over a floor, without lifting where it may cross what is gone.
    void clear(Pen& pen, const std::vector<Way>& ways, const Crossing& crossing) const;

private:
    void along(Pen& pen, const Path& path, double z) const;
    void follow(Pen& pen, const Trail& trail, std::size_t from, std::size_t end, double pass) const;
    void go(Pen& pen, Vec3 to) const;
    void enter(Pen& pen, Vec3 to) const;

    plan::Rates rates_;
    Tip tip_;
    std::vector<double> passes_;
};

} // namespace ferro::toolpath
