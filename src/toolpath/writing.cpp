// From loops to moves: entries, passes, tabs, pecks.
#include "toolpath/work_internal.h"

namespace ferro::toolpath {

namespace {

class Writer {
public:
    Writer(const StepWork& work, const Loop& loop, StepMoves& out)
        : work_(work), loop_(loop), out_(out), ruler_(loop.centre) {
        const double thickness = work.job.stock.thickness;
        bottom_ = work.laser ? thickness : plan::depthOf(work.step, thickness);
        const double low = -std::min(bottom_, thickness);
        tabTop_ = loop.tabs.empty() ? -1e9 : low + work.step.tabHeight;
        tabHalf_ = work.laser ? (work.step.tabWidth + work.tool.diameter) / 2
                              : work.step.tabWidth / 2 + work.tool.radiusAt(1e9);
    }

    void write() {
        Cut cut{.item = loop_.item,
                .opening = loop_.opening,
                .role = loop_.role,
                .depth = loop_.depth,
                .bottom = bottom_,
                .through = bottom_ >= work_.job.stock.thickness - 1e-9,
                .first = out_.moves.size(),
                .end = 0,
                .centre = loop_.centre,
                .tabs = loop_.tabs};
        if (loop_.isHole)
            hole();
        else if (work_.laser)
            beam();
        else if (!loop_.centre.closed)
            line();
        else if (work_.step.entry == plan::Entry::ramp)
            ramped();
        else
            plunged();
        cut.end = out_.moves.size();
        out_.cuts.push_back(std::move(cut));
    }

private:
    void put(Move move) {
        at_ = move.to;
        out_.moves.push_back(move);
    }
    void rapid(Vec3 to) { put({Move::Kind::rapid, true, to, {}, 0, 0}); }
    void feed(Vec3 to, double rate) {
        if (distance(at_, to) > 1e-9) put({Move::Kind::line, true, to, {}, rate, 0});
    }
    /// One stretch of the plane path while z goes evenly to `z`.
    void along(const std::vector<Segment>& segments, double z, double rate, double power = 0) {
        std::vector<double> lengths;
        double whole = 0;
        Vec2 from = at_.flat();
        for (const auto& s : segments) whole += lengths.emplace_back(lengthOf(from, s)), from = s.end;
        const double begin = at_.z;
        double done = 0;
        for (std::size_t i = 0; i < segments.size(); ++i) {
            const auto& s = segments[i];
            done += lengths[i];
            if (lengths[i] < 1e-7) continue;
            const double here = i + 1 == segments.size() || whole <= 0 ? z : begin + (z - begin) * done / whole;
            put({s.kind == Segment::Kind::arc ? Move::Kind::arc : Move::Kind::line,
                 s.ccw,
                 {s.end.x, s.end.y, here},
                 s.kind == Segment::Kind::arc ? s.a : Vec2{},
                 rate,
                 power});
        }
    }

    /// From `from` to `to` along the loop, z from `z0` to `z1`, never below the tabs where there are any.
    void stretch(double from, double to, double z0, double z1) {
        std::vector<double> cuts{from, to};
        const double whole = ruler_.length();
        if (std::min(z0, z1) < tabTop_)
            for (const double tab : loop_.tabs)
                for (double lap = std::floor(from / whole) - 1; lap * whole <= to; ++lap)
                    for (const double edge : {tab - tabHalf_ + lap * whole, tab + tabHalf_ + lap * whole})
                        if (edge > from && edge < to) cuts.push_back(edge);
        const auto zAt = [&](double s) { return to > from ? z0 + (z1 - z0) * (s - from) / (to - from) : z1; };
        if (z0 != z1 && (z0 - tabTop_) * (z1 - tabTop_) < 0)
            cuts.push_back(from + (to - from) * (tabTop_ - z0) / (z1 - z0));
        std::sort(cuts.begin(), cuts.end());
        for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
            if (cuts[i + 1] - cuts[i] < 1e-9) continue;
            const bool lifted = inTab((cuts[i] + cuts[i + 1]) / 2);
            const double begin = lifted ? std::max(zAt(cuts[i]), tabTop_) : zAt(cuts[i]);
            const double end = lifted ? std::max(zAt(cuts[i + 1]), tabTop_) : zAt(cuts[i + 1]);
            feed({at_.x, at_.y, begin}, work_.step.plunge); // up onto a tab or down behind it
            along(ruler_.stretch(cuts[i], cuts[i + 1]), end, z0 == z1 ? work_.step.feed : rampFeed());
        }
    }
    [[nodiscard]] bool inTab(double s) const {
        const double whole = ruler_.length();
        for (const double tab : loop_.tabs) {
            double off = std::fmod(std::abs(s - tab), whole);
            off = std::min(off, whole - off);
            if (off < tabHalf_) return true;
        }
        return false;
    }
    /// So slow that the tool's point sinks no quicker than it may plunge.
    [[nodiscard]] double rampFeed() const {
        return std::min(work_.step.feed, work_.step.plunge / std::sin(work_.step.rampAngle * pi / 180));
    }
    [[nodiscard]] double slope() const { return std::tan(work_.step.rampAngle * pi / 180); }
    [[nodiscard]] double top() const { return -work_.step.startDepth; }
    [[nodiscard]] std::vector<double> passes() const { return plan::passDepths(work_.step, work_.job.stock.thickness); }

    void goOver(Vec2 p) {
        // The first move of a program finds the tool anywhere: up first, then over.
        const Vec3 now = out_.moves.empty() ? Vec3{p.x, p.y, work_.travel} : out_.moves.back().to;
        at_ = now;
        if (now.z < work_.travel) rapid({now.x, now.y, work_.travel});
        rapid({p.x, p.y, work_.travel});
    }
    /// Down through air at feed from a hair above what is left standing; rapids stay at travel height.
    void sinkTo(double z, double surface) {
        const double air = surface + 0.5;
        if (air < work_.travel) feed({at_.x, at_.y, std::max(air, z)}, work_.job.machine.maxFeedZ);
        feed({at_.x, at_.y, z}, work_.step.plunge);
    }
    void lift() { rapid({at_.x, at_.y, work_.travel}); }

    void ramped() {
        goOver(loop_.entry());
        double z = top(), s = 0;
        sinkTo(z, z);
        const auto depths = passes();
        if (loop_.leadIn) {
            // The lead is the first bit of the ramp, so that the point never drills.
            const double sink =
                std::min(lengthOf(loop_.leadIn->first, loop_.leadIn->second) * slope(), z + depths.front());
            z -= sink;
            along({loop_.leadIn->second}, z, rampFeed());
        }
        for (const double depth : depths) {
            const double run = (z + depth) / slope();
            stretch(s, s + run, z, -depth);
            s += run;
            z = -depth;
            stretch(s, s + ruler_.length(), z, z);
            s += ruler_.length();
        }
        // The last lap ends wherever the ramps have brought it: leave by the lead only where it begins.
        const double past = std::fmod(s, ruler_.length());
        if (loop_.leadOut) {
            stretch(s, s + ruler_.length() - past, z, z);
            leave();
        }
        lift();
    }
    void plunged() {
        double before = top();
        for (const double depth : passes()) {
            goOver(loop_.entry());
            sinkTo(-depth, before);
            if (loop_.leadIn) along({loop_.leadIn->second}, -depth, work_.step.feed);
            stretch(0, ruler_.length(), -depth, -depth);
            leave();
            lift();
            before = -depth;
        }
    }
    void leave() {
        if (loop_.leadOut) along({*loop_.leadOut}, at_.z, work_.step.feed);
    }
    void line() {
        const Path back = reversed(loop_.centre);
        goOver(loop_.centre.start);
        double z = top();
        sinkTo(z, z);
        bool forth = true;
        for (const double depth : passes()) {
            const double run = (z + depth) / slope();
            if (work_.step.entry == plan::Entry::ramp && run <= ruler_.length()) {
                // Down along the line and back over it, so that the ramp itself is cut to depth.
                const Ruler here(forth ? loop_.centre : back);
                along(here.stretch(0, run), -depth, rampFeed());
                along(here.stretch(run, here.length()), -depth, work_.step.feed);
                forth = !forth;
            } else {
                feed({at_.x, at_.y, -depth}, work_.step.plunge);
            }
            along((forth ? loop_.centre : back).segments, -depth, work_.step.feed);
            forth = !forth;
            z = -depth;
        }
        lift();
    }
    void hole() {
        goOver(loop_.centre.start);
        double z = top();
        sinkTo(z, z);
        const double peck = work_.step.peck > 0 ? work_.step.peck : bottom_;
        while (z > -bottom_ + 1e-9) {
            const double next = std::max(-bottom_, z - peck);
            feed({at_.x, at_.y, next}, work_.step.plunge);
            z = next;
            lift();
            if (z > -bottom_ + 1e-9)
                feed({at_.x, at_.y, z + 0.5}, work_.job.machine.maxFeedZ); // back down the hole, in air
        }
    }
    void beam() {
        const double power = std::clamp(work_.step.power / 100, 0.0, 1.0);
        at_ = {loop_.entry().x, loop_.entry().y, 0};
        const auto passes = static_cast<int>(std::lround(work_.step.passes));
        for (int pass = 0; pass < passes; ++pass) {
            const bool there =
                !out_.moves.empty() && distance(out_.moves.back().to, Vec3{loop_.entry().x, loop_.entry().y, 0}) < 1e-9;
            if (!there) rapid({loop_.entry().x, loop_.entry().y, 0});
            if (loop_.leadIn) along({loop_.leadIn->second}, 0, work_.step.feed, power);
            double from = 0;
            const auto lit = [&](double to) {
                along(ruler_.stretch(from, to), 0, work_.step.feed, power);
                from = to;
            };
            for (const double tab : loop_.tabs) {
                lit(std::max(0.0, tab - tabHalf_));
                along(ruler_.stretch(from, std::min(ruler_.length(), tab + tabHalf_)), 0, work_.step.feed, 0);
                from = std::min(ruler_.length(), tab + tabHalf_);
            }
            lit(ruler_.length());
            if (loop_.leadOut) along({*loop_.leadOut}, 0, work_.step.feed, power);
        }
    }

    const StepWork& work_;
    const Loop& loop_;
    StepMoves& out_;
    Ruler ruler_;
    double bottom_ = 0, tabTop_ = 0, tabHalf_ = 0;
    Vec3 at_;
};

} // namespace

void writeLoop(const StepWork& work, const Loop& loop, StepMoves& out) { Writer(work, loop, out).write(); }

} // namespace ferro::toolpath
