#include "trace/outline_fit.h"

#include "geometry/arc_fit.h"
#include "geometry/cubic_fit.h"
#include "geometry/flatten.h"
#include "geometry/self_crossing.h"
#include "trace/outline_samples_internal.h"

namespace ferro::trace {

namespace {

constexpr double besideRun = 0.5; // px

/// One stretch of the outline between two joins: a straight run, or whatever lies between.
struct Element {
    bool straight = false;
    int first = 0, last = 0; ///< samples
    Line line;
    std::optional<Vec2> tip; ///< where it meets the next one, turning; else it goes on smoothly
    bool corner = false;     ///< and that is a corner, not a bend in a rough line
    struct Fillet {
        Vec2 from, to;
        Segment arc;
    };
    std::optional<Fillet> fillet; ///< an arc that meets the runs to either side without a kink
};

/// The arc that rounds the meeting of two lines, as large as the samples between say; none when they are no such arc.
std::optional<Element::Fillet> filletBetween(const Line& a, const Line& b, const Samples& s, int first, int last,
                                             double tolerance) {
    const double sine = cross(a.way, b.way), cosine = dot(a.way, b.way), turn = std::abs(std::atan2(sine, cosine));
    const double side = sine >= 0 ? 1 : -1; // which way it turns
    double radius = 0;
    Vec2 centre;
    if (turn > pi - 0.05) { // two flanks of a slot
        const double wide = a.off(b.at);
        radius = std::abs(wide) / 2;
        double far = -1e300;
        for (int i = first; i <= last; ++i) far = std::max(far, dot(a.way, s.at(i) - a.at));
        centre = a.at + a.way * (far - radius) + perpendicular(a.way) * (wide / 2);
    } else if (const auto tip = meeting(a, b); tip && turn > 0.1) {
        const Vec2 inward = unit(b.way - a.way);
        double near = 1e300;
        for (int i = first; i <= last; ++i) near = std::min(near, distance(*tip, s.at(i)));
        radius = near / (1 / std::cos(turn / 2) - 1);
        centre = *tip + inward * (near + radius);
    }
    if (!(radius > 0.5) || radius > 1e5) return std::nullopt;
    const Vec2 from = a.foot(centre), to = b.foot(centre);
    const bool ccw = turn > pi - 0.05 ? a.off(b.at) > 0 : side > 0;
    // The runs must not have to turn back to reach it, and no sample may be off.
    if (dot(a.way, from - a.at) < 0 || dot(b.way, to - b.at) > 0) return std::nullopt;
    for (int i = first; i <= last; ++i) {
        const Vec2 p = s.at(i);
        const double onA = dot(a.way, p - from), onB = dot(b.way, p - to);
        const double off = onA <= 0   ? std::abs(a.off(p))
                           : onB >= 0 ? std::abs(b.off(p))
                                      : std::abs(distance(p, centre) - radius);
        if (off > tolerance) return std::nullopt;
    }
    return Element::Fillet{from, to, Segment::arc(centre, to, ccw)};
}

/// Of the line's own points: samples between two lie on their chord, which makes a small circle smaller.
std::optional<Path> wholeCircle(const Ring& points, double tolerance) {
    const auto round = circleThrough(points);
    if (!round) return std::nullopt;
    const auto [centre, radius] = *round;
    if (std::abs(std::abs(areaOf(points)) / (pi * radius * radius) - 1) > 0.1) return std::nullopt; // not all round it
    for (const Vec2 p : points)
        if (std::abs(distance(p, centre) - radius) > tolerance) return std::nullopt;
    return circle(centre, radius);
}

class Fitter {
public:
    Fitter(const Ring& line, const Samples& s, const FitSettings& settings, std::span<const std::size_t> known = {})
        : line_(line), s_(s), settings_(settings), known_(known) {}

    Path run() {
        constexpr double drawn = 0.0075; // px of grain: less is an edge that no scanner saw
        const double grain = s_.grain();
        grainy_ = grain > drawn;
        // As far as the grain itself may lead astray, so that an edge that hardly has any is hardly let go.
        if (grainy_) settings_.tolerance = std::max(settings_.tolerance, std::min(settings_.grainy, 40 * grain));
        const double rough = s_.roughness();
        const double straight = std::clamp(2 * rough, leastStraight, 0.3);
        auto corners = cornersOf(s_, settings_, straight);
        addKnown(corners);
        if (!s_.closed()) { // its ends stand for corners
            corners.insert(corners.begin(), {0, s_.at(0), 0, 0});
            corners.push_back({s_.count() - 1, s_.at(s_.count() - 1), 0, 0});
        } else if (corners.empty())
            if (auto whole =
                    wholeCircle(line_, std::max({std::min(settings_.tolerance, 0.3), 3 * rough, settings_.round})))
                return *whole;
        lay(corners, straight);
        if (elements_.empty()) return smoothLoop();
        return joined();
    }

private:
    /// Corners that are known, instead of what was found near them.
    void addKnown(std::vector<Corner>& corners) const {
        if (known_.empty()) return;
        std::vector<Corner> all;
        const double step = lengthOf(pathOf(line_, true)) / s_.count();
        double walked = 0;
        auto next = known_.begin();
        for (std::size_t i = 0; i < line_.size() && next != known_.end(); ++i) {
            if (i > 0) walked += distance(line_[i - 1], line_[i]);
            if (*next != i) continue;
            ++next;
            all.push_back({static_cast<int>(std::lround(walked / step)) % s_.count(), line_[i], 0, 1});
        }
        const auto isNear = [&](const Corner& c) {
            return std::any_of(all.begin(), all.end(), [&](const Corner& k) {
                const int apart = std::abs(c.at - k.at);
                return std::min(apart, s_.count() - apart) <= 4;
            });
        };
        std::erase_if(corners, isNear);
        corners.insert(corners.end(), all.begin(), all.end());
        std::sort(corners.begin(), corners.end(), [](const Corner& a, const Corner& b) { return a.at < b.at; });
    }
    /// Runs and curves in order, from the first corner, or from the first run where there is no corner.
    void lay(const std::vector<Corner>& corners, double straight) {
        const int n = s_.count();
        if (corners.empty()) {
            // Two times round, so that a run across the start is found whole.
            auto runs = runsOf(s_, 0, 2 * n - 2, straight);
            std::erase_if(runs, [&](const Run& r) { return r.first >= n || r.last - r.first >= n; });
            while (runs.size() > 1 && runs.back().last >= runs.front().first + n) runs.erase(runs.begin());
            if (runs.empty()) return;
            for (std::size_t i = 0; i < runs.size(); ++i) {
                push(runs[i]);
                const int next = i + 1 < runs.size() ? runs[i + 1].first : runs.front().first + n;
                bridge(runs[i].last, next);
            }
            return;
        }
        for (std::size_t c = 0; c + (s_.closed() ? 0 : 1) < corners.size(); ++c) {
            const auto& to = corners[(c + 1) % corners.size()];
            const int begin = corners[c].at + corners[c].clear,
                      end = (c + 1 < corners.size() ? to.at : to.at + n) - to.clear;
            int at = begin;
            // Next to an end or a corner that lies beside the run there is a corner too near to it to have two arms.
            const auto isBeside = [&](const Run& run, int last) {
                return (s_.closed() ? !known_.empty() : last == 0 || last == s_.count() - 1) &&
                       std::abs(run.line.off(s_.at(last))) > besideRun;
            };
            if (end - begin + 1 >= 3) {
                auto runs = runsOf(s_, begin, end, straight);
                if (runs.empty() && end - begin + 1 < 3 * shortestRun && s_.isStraight(begin, end, straight))
                    runs.push_back({begin, end, s_.through(begin, end)}); // short, but straight from corner to corner
                for (auto& run : runs) {
                    const bool hooked = run.first > at && at == begin && isBeside(run, begin);
                    if (run.first - at > 4 || (run.first > at && at > begin) || hooked) bridge(at, run.first);
                    if (hooked) elements_.back().tip = run.line.foot(s_.at(run.first)), elements_.back().corner = true;
                    push(run);
                    at = run.last;
                }
                if (!runs.empty() && at < end && end - at <= 4) {
                    if (isBeside(runs.back(), end))
                        elements_.back().tip = runs.back().line.foot(s_.at(at)), elements_.back().corner = true;
                    else
                        at = end;
                }
            }
            if (at < end || end - begin + 1 < 3) bridge(at, std::max(end, at));
            elements_.back().tip = to.tip;
            elements_.back().corner = true;
        }
        // The last element ends at the first corner; its tip was set by the loop.
    }
    void push(const Run& run) { elements_.push_back({true, run.first, run.last, run.line, {}, false, {}}); }
    void bridge(int first, int last) { elements_.push_back({false, first, last, {}, {}, false, {}}); }

    [[nodiscard]] const Element& before(std::size_t i) const {
        return elements_[(i + elements_.size() - 1) % elements_.size()];
    }
    [[nodiscard]] const Element& after(std::size_t i) const { return elements_[(i + 1) % elements_.size()]; }

    /// Where element `i` ends and the next begins.
    [[nodiscard]] Vec2 joinAfter(std::size_t i) const {
        const auto &a = elements_[i], &b = after(i);
        if (a.fillet) return a.fillet->to;
        if (b.fillet) return b.fillet->from;
        if (a.tip) {
            if (a.straight && b.straight)
                if (const auto p = meeting(a.line, b.line); p && distance(*p, *a.tip) < 3) return *p;
            return a.straight ? a.line.foot(*a.tip) : b.straight ? b.line.foot(*a.tip) : *a.tip;
        }
        if (a.straight) return a.line.foot(s_.at(a.last));
        if (b.straight) return b.line.foot(s_.at(b.first));
        return s_.at(a.last);
    }
    /// Short bridges between two runs that meet nearer than that are no curve: the runs are led to where they meet.
    void closeUp() {
        for (std::size_t i = 0; i < elements_.size() && elements_.size() > 2; ++i) {
            auto& bridge = elements_[i];
            if (bridge.straight || bridge.tip || bridge.last - bridge.first > 7) continue;
            auto& a = elements_[(i + elements_.size() - 1) % elements_.size()];
            const auto& b = after(i);
            if (!a.straight || !b.straight || a.tip) continue;
            const auto p = meeting(a.line, b.line);
            const double turn = std::abs(std::atan2(cross(a.line.way, b.line.way), dot(a.line.way, b.line.way)));
            if (turn > 0.26 && turn < settings_.cornerTurn - 0.2) continue; // to be rounded
            double near = 1e300;
            for (int k = bridge.first; p && k <= bridge.last; ++k) near = std::min(near, distance(*p, s_.at(k)));
            if (near > settings_.blur * (0.3 + 0.35 * turn)) continue;
            a.tip = *p;
            a.corner = turn >= settings_.cornerTurn - 0.2;
            elements_.erase(elements_.begin() + static_cast<std::ptrdiff_t>(i--));
        }
    }

    void roundOff() {
        for (std::size_t i = 0; i < elements_.size(); ++i) {
            auto& e = elements_[i];
            if (e.straight || e.tip || !after(i).straight || !before(i).straight || before(i).tip) continue;
            e.fillet = filletBetween(before(i).line, after(i).line, s_, e.first, e.last, settings_.tolerance);
        }
        // A run that two fillets would use up backwards keeps neither.
        for (std::size_t i = 0; i < elements_.size(); ++i)
            if (elements_[i].straight && before(i).fillet && after(i).fillet &&
                dot(elements_[i].line.way, after(i).fillet->from - before(i).fillet->to) <= 0)
                elements_[(i + 1) % elements_.size()].fillet.reset();
    }

    [[nodiscard]] bool partsAfter(std::size_t i) const {
        constexpr int longRun = 60; // samples: what is straight for so long is meant to be
        const auto isLong = [](const Element& e) { return e.straight && e.last - e.first >= longRun; };
        return elements_[i].corner || isLong(elements_[i]) || isLong(after(i));
    }

    Path joined() {
        closeUp();
        roundOff();
        const std::size_t n = elements_.size();
        std::size_t first = 0;
        while (first < n && !partsAfter((first + n - 1) % n)) ++first;
        if (first == n) { // never where there are ends
            Path whole = smoothLoop();
            if (whole.segments.size() < n) return whole;
            first = 0;
        }
        std::rotate(elements_.begin(), elements_.begin() + static_cast<std::ptrdiff_t>(first), elements_.end());
        // The ends of a line with two are where they are, not where its runs would have them.
        const bool closed = s_.closed();
        Path path{closed ? joinAfter(n - 1) : s_.at(0), {}, closed};
        const auto endOf = [&](std::size_t k) {
            return k + 1 < n ? joinAfter(k) : closed ? path.start : s_.at(s_.count() - 1);
        };
        for (std::size_t i = 0, end = 0; i < n; i = end + 1) {
            for (end = i; end + 1 < n && !partsAfter(end); ++end) {}
            std::vector<Segment> parts;
            Vec2 from = path.end();
            for (std::size_t k = i; k <= end; ++k) {
                const auto& e = elements_[k];
                const Vec2 to = endOf(k);
                if (e.straight)
                    parts.push_back(Segment::line(to));
                else if (e.fillet)
                    parts.push_back(e.fillet->arc);
                else
                    curve(k, k, from, to, parts);
                from = to;
            }
            // Short straight stretches may be no more than a rough line: curves that need fewer points say so.
            if (end > i) {
                std::vector<Segment> curves;
                curve(i, end, path.end(), endOf(end), curves);
                if (curves.size() < parts.size()) parts = std::move(curves);
            }
            path.segments.insert(path.segments.end(), parts.begin(), parts.end());
        }
        return path;
    }
    /// Elements `i` to `j` as one curve.
    void curve(std::size_t i, std::size_t j, Vec2 from, Vec2 to, std::vector<Segment>& onto) const {
        const int begin = elements_[i].first;
        int end = elements_[j].last;
        if (end < begin && s_.closed()) end += s_.count();
        Ring chain{from};
        for (int k = begin; k <= end; ++k)
            if (distance(s_.at(k), from) > finest / 2 && distance(s_.at(k), to) > finest / 2) chain.push_back(s_.at(k));
        chain.push_back(to);
        const auto &a = before(i), &b = after(j), &e = elements_[j];
        const bool bound = a.straight && !a.tip, boundOut = b.straight && !e.tip;
        const Vec2 into = bound ? a.line.way : wayFrom(chain, false),
                   out = boundOut ? b.line.way : wayFrom(chain, true);
        constexpr double smooth = 0.09; // a kink of 5° is not seen and not felt
        const auto fitsIn = [&](Vec2 start, const Segment& arc) {
            return !bound || std::abs(cross(tangentAt(start, arc, 0), into)) < smooth;
        };
        const auto fitsOut = [&](Vec2 start, const Segment& arc) {
            return !boundOut || std::abs(cross(tangentAt(start, arc, 1), out)) < smooth;
        };
        if (const auto arc = arcThrough(chain, settings_.tolerance); arc && fitsIn(from, *arc) && fitsOut(from, *arc))
            return onto.push_back(*arc);
        if (const std::size_t half = chain.size() / 2; half > 8) { // one of more than half a turn
            const std::span<const Vec2> all(chain);
            const auto one = arcThrough(all.first(half + 1), settings_.tolerance),
                       two = arcThrough(all.subspan(half), settings_.tolerance);
            if (one && two && fitsIn(from, *one) && fitsOut(chain[half], *two) &&
                std::abs(cross(tangentAt(from, *one, 1), tangentAt(chain[half], *two, 0))) < smooth) {
                onto.insert(onto.end(), {*one, *two});
                return;
            }
        }
        if (chain.size() == 2) return onto.push_back(Segment::line(to));
        fitCubics(chain, into, out, settings_.tolerance, onto, grainy_);
    }
    static Vec2 wayFrom(const Ring& chain, bool atEnd) {
        // A parabola through the end and two points on: its slope there.
        const auto n = chain.size();
        const std::size_t near = std::min<std::size_t>(4, (n - 1 + 1) / 2), far = std::min<std::size_t>(8, n - 1);
        const auto p = [&](std::size_t k) { return atEnd ? chain[n - 1 - k] : chain[k]; };
        Vec2 way = p(near) - p(0);
        if (far > near) {
            const double s = distance(p(0), p(near)), t = s + distance(p(near), p(far));
            if (s > 0 && t > s) way = (p(near) - p(0)) * (t / s) - (p(far) - p(0)) * (s / t);
        }
        return unit(atEnd ? -way : way);
    }
    /// No corner and nothing straight: smooth all the way round.
    [[nodiscard]] Path smoothLoop() const {
        Ring chain;
        for (int i = 0; i <= s_.count(); ++i) chain.push_back(s_.at(i));
        const Vec2 way = s_.through(-3, 3).way;
        Path path{chain.front(), {}, true};
        fitCubics(chain, way, way, settings_.tolerance, path.segments, grainy_);
        return path;
    }

    const Ring& line_;
    const Samples& s_;
    FitSettings settings_;
    std::span<const std::size_t> known_;
    bool grainy_ = false;
    std::vector<Element> elements_;
};

} // namespace

namespace {

/// A fit within the tolerance that does not cross itself where the line does not: a tighter one, else the line's own
/// points. Dust on an edge makes hooks as small as the tolerance.
template<class Fit> Path uncrossed(const Ring& line, bool closed, FitSettings settings, Fit&& fit) {
    constexpr double fine = 0.05; // px
    const Path loose = fit(settings);
    if (settings.mayCross || !selfCrossing(loose, fine)) return loose;
    for (settings.grainy = 0, settings.tolerance /= 2; settings.tolerance > fine; settings.tolerance /= 2)
        if (Path path = fit(settings); !selfCrossing(path, fine)) return path;
    // Grain may have crossed the line itself, which more points do not help.
    return selfCrossing(line, closed) ? loose : pathOf(thinned(line, fine, closed), closed);
}

} // namespace

Path fittedOutline(const Ring& closed, const FitSettings& settings, std::span<const std::size_t> corners) {
    const Samples samples(closed, true, finest * settings.blur);
    const auto asRun = [&](Path path) { return wound(std::move(path), areaOf(closed) > 0); };
    if (samples.count() < 24) { // a speck of a few pixels: a circle or a few straight lines
        if (auto whole = wholeCircle(closed, std::max(0.3, settings.tolerance))) return asRun(*whole);
        return pathOf(thinned(closed, settings.tolerance, true), true);
    }
    return asRun(uncrossed(closed, true, settings,
                           [&](const FitSettings& s) { return Fitter(closed, samples, s, corners).run(); }));
}

Path fittedLine(const Ring& open, const FitSettings& settings) {
    const Samples samples(open, false, finest * settings.blur);
    if (open.size() < 3 || samples.count() < 12) {
        Path path{open.front(), {}, false};
        if (const auto arc = arcThrough(open, settings.tolerance); arc && open.size() > 3)
            path.segments.push_back(*arc);
        else
            path = pathOf(thinned(open, settings.tolerance, false), false);
        return path;
    }
    return uncrossed(open, false, settings, [&](const FitSettings& s) { return Fitter(open, samples, s).run(); });
}

} // namespace ferro::trace
