// Following a line in the plane: entries, passes, tabs.
#include "toolpath/follow_internal.h"

namespace ferro::toolpath {

namespace {

class Follower {
public:
    Follower(const Follow& follow, double thickness, double tabHalf, Pen& pen)
        : follow_(follow), pen_(pen), ruler_(follow.centre), thickness_(thickness), tabHalf_(tabHalf),
          ramp_(rampFeed(follow.rates, follow.rampAngle)) {
        tabTop_ = follow.tabs.empty() ? -1e9 : tabTopOf(follow, thickness);
    }

    static double tabTopOf(const Follow& follow, double thickness) {
        return follow.tabHeight - std::min(plan::bottomOf(follow.depth, thickness), thickness);
    }

    void cut() {
        if (!follow_.centre.closed)
            follow_.oneWay ? oneWay() : line();
        else if (follow_.entry == plan::Entry::ramp)
            ramped();
        else
            plunged();
    }
    void burn() {
        const double power = std::clamp(follow_.beam.power / 100, 0.0, 1.0);
        const auto passes = static_cast<int>(std::lround(follow_.beam.passes));
        for (int pass = 0; pass < passes; ++pass) {
            const double z = -follow_.beam.focusStep * pass;
            pen_.jumpTo(follow_.begins(), z);
            if (follow_.dash > 0) {
                dashed(power, z);
                continue;
            }
            pen_.pierce(follow_.beam.pierce, power);
            if (follow_.leadIn) pen_.along({follow_.leadIn->second}, z, follow_.rates.feed, power);
            double from = 0;
            const auto lit = [&](double to) {
                pen_.along(ruler_.stretch(from, to), z, follow_.rates.feed, power);
                from = to;
            };
            for (const double tab : follow_.tabs) {
                lit(std::max(0.0, tab - tabHalf_));
                const double over = std::min(ruler_.length(), tab + tabHalf_);
                pen_.along(ruler_.stretch(from, over), z, follow_.rates.feed, 0);
                from = over;
                if (from < ruler_.length()) pen_.pierce(follow_.beam.pierce, power); // it was dark over the tab
            }
            lit(ruler_.length());
            // Once more over its start, but for what a tab is not to be burnt of.
            const double open = follow_.tabs.empty() ? ruler_.length() : follow_.tabs.front() - tabHalf_;
            const double past = std::min(follow_.overlap, open);
            if (past > 0) lit(ruler_.length() + past);
            if (follow_.leadOut && past == follow_.overlap)
                pen_.along({*follow_.leadOut}, z, follow_.rates.feed, power);
        }
    }

private:
    /// A dash at a time, dark between them; the way is the same, so that the beam is at speed where it is lit again.
    void dashed(double power, double z) {
        double at = 0;
        for (const auto& [from, to] : dashesOf(ruler_.length(), follow_.centre.closed, follow_.dash, follow_.gap)) {
            pen_.along(ruler_.stretch(at, from), z, follow_.rates.feed, 0);
            pen_.along(ruler_.stretch(from, to), z, follow_.rates.feed, power);
            at = to;
        }
    }
    /// From `from` to `to` along the loop, z from `z0` to `z1`, never below the tabs where there are any.
    void stretch(double from, double to, double z0, double z1) {
        if (follow_.tabsSloped && !follow_.tabs.empty()) return sloped(from, to, z0, z1);
        std::vector<double> cuts{from, to};
        const double whole = ruler_.length();
        if (std::min(z0, z1) < tabTop_)
            for (const double tab : follow_.tabs)
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
            pen_.feed({pen_.at().x, pen_.at().y, begin}, follow_.rates.plunge); // up onto a tab or down behind it
            pen_.along(ruler_.stretch(cuts[i], cuts[i + 1]), end, z0 == z1 ? follow_.rates.feed : ramp_);
        }
    }
    /// The same with tabs that rise and fall at an angle: never below the highest of all their slopes.
    void sloped(double from, double to, double z0, double z1) {
        const double whole = ruler_.length(), angle = std::max(30.0, follow_.rampAngle),
                     lean = std::tan(angle * pi / 180);
        const double slowly = rampFeed(follow_.rates, angle);
        const auto zAt = [&](double s) { return to > from ? z0 + (z1 - z0) * (s - from) / (to - from) : z1; };
        const auto least = [&](double s) {
            double z = -1e9;
            for (const double tab : follow_.tabs) {
                double off = std::fmod(std::abs(s - tab), whole);
                off = std::max(0.0, std::min(off, whole - off) - tabHalf_);
                z = std::max(z, tabTop_ - off * lean);
            }
            return z;
        };
        std::vector<double> cuts{from, to};
        const double rise = to > from ? (z1 - z0) / (to - from) : 0;
        for (double lap = std::floor(from / whole) - 1; lap * whole <= to; ++lap)
            for (std::size_t i = 0; i < follow_.tabs.size(); ++i) {
                const double tab = follow_.tabs[i] + lap * whole;
                const double next = i + 1 < follow_.tabs.size() ? follow_.tabs[i + 1] + lap * whole
                                                                : follow_.tabs.front() + (lap + 1) * whole;
                cuts.push_back((tab + next) / 2); // where one's slope gives way to the next's
                for (const double way : {-1.0, 1.0}) {
                    const double edge = tab + way * tabHalf_;
                    cuts.push_back(edge);
                    if (const double apart = rise + way * lean; std::abs(apart) > 1e-12)
                        cuts.push_back(edge + (tabTop_ - zAt(edge)) / apart); // where the slope meets what is asked
                }
            }
        std::erase_if(cuts, [&](double s) { return s < from || s > to; });
        std::sort(cuts.begin(), cuts.end());
        for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
            if (cuts[i + 1] - cuts[i] < 1e-9) continue;
            const double begin = std::max(zAt(cuts[i]), least(cuts[i])),
                         end = std::max(zAt(cuts[i + 1]), least(cuts[i + 1]));
            pen_.feed({pen_.at().x, pen_.at().y, begin}, follow_.rates.plunge);
            pen_.along(ruler_.stretch(cuts[i], cuts[i + 1]), end, begin == end ? follow_.rates.feed : slowly);
        }
    }
    [[nodiscard]] bool inTab(double s) const {
        const double whole = ruler_.length();
        for (const double tab : follow_.tabs) {
            double off = std::fmod(std::abs(s - tab), whole);
            off = std::min(off, whole - off);
            if (off < tabHalf_) return true;
        }
        return false;
    }
    [[nodiscard]] double slope() const { return std::tan(follow_.rampAngle * pi / 180); }
    [[nodiscard]] double top() const { return -follow_.depth.start; }
    [[nodiscard]] std::vector<double> passes() const { return plan::passDepths(follow_.depth, thickness_); }

    /// What was cleared down to a start depth is the way itself; beside it, where the leads are, stock may stand.
    [[nodiscard]] double leadFeed(double rate) const {
        return follow_.depth.start > 0 ? std::min(rate, follow_.rates.plunge) : rate;
    }

    void ramped() {
        pen_.goOver(follow_.begins());
        double z = top(), s = 0;
        pen_.sinkTo(z, 0); // whatever the start depth says, nothing here is known to be cleared

        const auto depths = passes();
        if (follow_.leadIn) {
            // The lead is the first bit of the ramp, so that the point never drills.
            const double sink =
                std::min(lengthOf(follow_.leadIn->first, follow_.leadIn->second) * slope(), z + depths.front());
            z -= sink;
            onto_ = pen_.count();
            pen_.along({follow_.leadIn->second}, z, leadFeed(ramp_));
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
        if (follow_.leadOut) {
            stretch(s, s + ruler_.length() - past + follow_.overlap, z, z);
            leave();
        } else if (follow_.overlap > 0) {
            stretch(s, s + follow_.overlap, z, z);
        }
        pen_.lift();
    }
    void plunged() {
        double before = 0;
        for (const double depth : passes()) {
            pen_.goOver(follow_.begins());
            pen_.sinkTo(-depth, before);
            onto_ = pen_.count();
            if (follow_.leadIn) pen_.along({follow_.leadIn->second}, -depth, leadFeed(follow_.rates.feed));
            stretch(0, ruler_.length() + follow_.overlap, -depth, -depth);
            leave();
            pen_.lift();
            before = -depth;
        }
    }
    void leave() {
        if (!follow_.leadOut) return;
        pen_.along({*follow_.leadOut}, pen_.at().z, leadFeed(follow_.rates.feed));
        if (follow_.wearLeft) pen_.worn(onto_, *follow_.wearLeft);
    }
    /// Pass after pass from the start; each ramps down along the line and back before it cuts the whole of it.
    void oneWay() {
        const Ruler back(reversed(follow_.centre));
        double z = top();
        for (const double depth : passes()) {
            pen_.goOver(follow_.begins());
            const double run = (z + depth) / slope();
            const bool ramps = follow_.entry == plan::Entry::ramp && run <= 2 * ruler_.length();
            // Where it ramped before, its start is gone; that is not taken for granted.
            pen_.sinkTo(ramps ? z : -depth, ramps || depth == passes().front() ? 0 : z);
            if (follow_.leadIn) pen_.along({follow_.leadIn->second}, -depth, leadFeed(follow_.rates.feed));
            if (ramps) {
                pen_.along(ruler_.stretch(0, run / 2), z - (z + depth) / 2, ramp_);
                pen_.along(back.stretch(ruler_.length() - run / 2, ruler_.length()), -depth, ramp_);
            }
            pen_.along(follow_.centre.segments, -depth, follow_.rates.feed);
            leave();
            pen_.lift();
            z = -depth;
        }
    }
    void line() {
        const Path back = reversed(follow_.centre);
        const Ruler there(back);
        pen_.goOver(follow_.centre.start);
        double z = top();
        pen_.sinkTo(z, 0);
        bool forth = true;
        for (const double depth : passes()) {
            const double run = (z + depth) / slope();
            if (follow_.entry == plan::Entry::ramp && run <= 2 * ruler_.length()) {
                // Half of the way down along the line, the other half back to where it begins: from there it is cut
                // to depth as a whole.
                const Ruler &here = forth ? ruler_ : there, &other = forth ? there : ruler_;
                pen_.along(here.stretch(0, run / 2), z - (z + depth) / 2, ramp_);
                pen_.along(other.stretch(other.length() - run / 2, other.length()), -depth, ramp_);
            } else {
                pen_.feed({pen_.at().x, pen_.at().y, -depth}, follow_.rates.plunge);
            }
            pen_.along((forth ? follow_.centre : back).segments, -depth, follow_.rates.feed);
            forth = !forth;
            z = -depth;
        }
        pen_.lift();
    }
    const Follow& follow_;
    Pen& pen_;
    Ruler ruler_;
    double thickness_, tabHalf_, ramp_, tabTop_ = 0;
    std::size_t onto_ = 0; ///< where the last lead in begins
};

} // namespace

double tabReach(const StepWork& work, double tabWidth) {
    return work.byBeam() ? (tabWidth + work.tool.diameter) / 2 : tabWidth / 2 + work.tool.radiusAt(1e9);
}

Task followed(const StepWork& work, Intent intent, double size, Follow follow) {
    Task task;
    task.intent = std::move(intent);
    task.size = size;
    task.centre = follow.centre;
    task.tabs = follow.tabs;
    task.tabWidth = follow.tabWidth;
    task.tabTop = follow.tabs.empty() ? 0 : Follower::tabTopOf(follow, work.thickness());
    task.entry = follow.begins();
    task.exit = follow.centre.closed ? task.entry : follow.centre.end();
    task.write = [follow = std::move(follow), half = tabReach(work, task.tabWidth), thickness = work.thickness(),
                  beam = work.byBeam()](Pen& pen) {
        Follower follower(follow, thickness, half, pen);
        if (beam)
            follower.burn();
        else
            follower.cut();
    };
    return task;
}

} // namespace ferro::toolpath
