#include "trace/outline_fit.h"

#include "geometry/arc_fit.h"
#include "geometry/cubic_fit.h"
#include "geometry/flatten.h"

namespace ferro::trace {

namespace {

// All lengths in px; windows in samples, which lie this far apart on a sharp picture.
constexpr double finest = 0.7;
constexpr int wornBy = 2;          // samples to either side of a corner that blur has bent
constexpr int arms[] = {14, 9, 6}; // samples of an arm, the longest that is straight is taken
constexpr int shortestRun = 13;    // samples of a straight run

struct Line {
    Vec2 at, way; ///< a point on it, its direction of length 1
    double rms = 0;
    [[nodiscard]] double off(Vec2 p) const { return cross(way, p - at); }
    [[nodiscard]] Vec2 foot(Vec2 p) const { return at + way * dot(way, p - at); }
};

std::optional<Vec2> meeting(const Line& a, const Line& b) {
    const double sine = cross(a.way, b.way);
    if (std::abs(sine) < 1e-6) return std::nullopt;
    return a.at + a.way * (cross(b.at - a.at, b.way) / sine);
}

/// A line at even steps, with running sums, so that a line through any stretch costs the same.
class Samples {
public:
    Samples(const Ring& line, bool closed, double spacing) : closed_(closed) {
        const std::size_t stretches = closed ? line.size() : line.size() - 1;
        double total = 0;
        for (std::size_t i = 0; i < stretches; ++i) total += distance(line[i], line[(i + 1) % line.size()]);
        count_ = std::max(8, static_cast<int>(std::lround(total / spacing)) + (closed ? 0 : 1));
        const double step = total / (closed ? count_ : count_ - 1);
        double walked = 0, next = 0;
        for (std::size_t i = 0; i < stretches && static_cast<int>(points_.size()) < count_; ++i) {
            const Vec2 a = line[i], b = line[(i + 1) % line.size()];
            const double size = distance(a, b);
            for (; next < walked + size && static_cast<int>(points_.size()) < count_; next += step)
                points_.push_back(lerp(a, b, (next - walked) / size));
            walked += size;
        }
        while (static_cast<int>(points_.size()) < count_) points_.push_back(closed ? line.front() : line.back());
        if (!closed) points_.back() = line.back();
        Vec2 sum;
        for (const Vec2 p : points_) sum += p;
        middle_ = sum / count_;
        sums_.resize(static_cast<std::size_t>(2 * count_) + 1);
        for (int i = 0; i < 2 * count_; ++i) {
            const Vec2 p = at(i) - middle_;
            const Sum& s = sums_[static_cast<std::size_t>(i)];
            sums_[static_cast<std::size_t>(i) + 1] = {s.x + p.x, s.y + p.y, s.xx + p.x * p.x, s.xy + p.x * p.y,
                                                      s.yy + p.y * p.y};
        }
    }
    [[nodiscard]] int count() const { return count_; }
    [[nodiscard]] bool closed() const { return closed_; }
    [[nodiscard]] Vec2 at(int i) const {
        return points_[static_cast<std::size_t>(closed_ ? ((i % count_) + count_) % count_
                                                        : std::clamp(i, 0, count_ - 1))];
    }
    /// The line of least squares through samples `first` to `last`, both in.
    [[nodiscard]] Line through(int first, int last) const {
        if (!closed_) first = std::clamp(first, 0, count_ - 2), last = std::clamp(last, first + 1, count_ - 1);
        const int shift = first < 0 ? count_ : first >= count_ ? -count_ : 0;
        const auto& a = sums_[static_cast<std::size_t>(first + shift)];
        const auto& b = sums_[static_cast<std::size_t>(std::min(last + shift + 1, 2 * count_))];
        const double n = last - first + 1;
        const Vec2 mean{(b.x - a.x) / n, (b.y - a.y) / n};
        const double xx = (b.xx - a.xx) / n - mean.x * mean.x, xy = (b.xy - a.xy) / n - mean.x * mean.y,
                     yy = (b.yy - a.yy) / n - mean.y * mean.y;
        const double half = (xx - yy) / 2, root = std::sqrt(half * half + xy * xy);
        // The direction of the larger axis, by whichever of two forms does not cancel.
        Vec2 way = unit(half >= 0 ? Vec2{half + root, xy} : Vec2{xy, root - half});
        if (way == Vec2{}) way = {1, 0};
        if (dot(way, at(last) - at(first)) < 0) way = -way;
        return {middle_ + mean, way, std::sqrt(std::max(0.0, (xx + yy) / 2 - root))};
    }
    /// How rough the line is in itself: the middle of what short stretches leave.
    [[nodiscard]] double roughness() const {
        std::vector<double> all;
        const int step = std::max(1, count_ / 400);
        for (int i = 0; i < count_; i += step) all.push_back(through(i, i + 4).rms);
        std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2), all.end());
        return all[all.size() / 2];
    }

private:
    struct Sum {
        double x = 0, y = 0, xx = 0, xy = 0, yy = 0;
    };
    int count_ = 0;
    bool closed_;
    Ring points_;
    Vec2 middle_;
    std::vector<Sum> sums_;
};

struct Corner {
    int at = 0; ///< sample
    Vec2 tip;
    double score = 0;
    int clear = wornBy; ///< samples to either side that blur has bent; more where it is acute
};

std::vector<Corner> cornersOf(const Samples& s, const FitSettings& settings, double straight) {
    std::vector<Corner> found;
    const int n = s.count();
    const double nearlyStraight = std::cos(settings.cornerTurn * 0.6);
    const auto arm = [&](int from, int sign) {
        Line line;
        for (const int size : arms) {
            if (2 * (size + wornBy) > n) continue;
            line = sign > 0 ? s.through(from, from + size - 1) : s.through(from - size + 1, from);
            if (line.rms <= 0.6 * straight) break; // a bent arm would point beside the tip
        }
        return line;
    };
    const int margin = s.closed() ? 0 : wornBy + arms[2]; // the ends have no arm to both sides
    for (int i = margin; i < n - margin; ++i) {
        // A quick look first: most places are far from any corner.
        const Vec2 chordIn = s.at(i) - s.at(i - 4), chordOut = s.at(i + 4) - s.at(i);
        if (dot(chordIn, chordOut) > nearlyStraight * length(chordIn) * length(chordOut)) continue;
        const Line in = arm(i - wornBy, -1), out = arm(i + wornBy, 1);
        if (in.way == Vec2{} || out.way == Vec2{} || in.rms > straight || out.rms > straight) continue;
        const double turn = std::abs(std::atan2(cross(in.way, out.way), dot(in.way, out.way)));
        if (turn < settings.cornerTurn) continue;
        const auto tip = meeting(in, out);
        if (!tip) continue;
        // A rounding keeps farther from where its arms meet than blur does from a corner's tip.
        const double worn = distance(*tip, s.at(i));
        if (worn > settings.blur * (0.1 + 0.33 * turn + 3 * std::max(0.0, turn - 1.8))) continue;
        found.push_back({i, *tip, turn - worn, wornBy + static_cast<int>(worn / (finest * settings.blur))});
    }
    std::stable_sort(found.begin(), found.end(), [](const Corner& a, const Corner& b) { return a.score > b.score; });
    std::vector<Corner> kept;
    for (const auto& c : found)
        if (std::none_of(kept.begin(), kept.end(), [&](const Corner& k) {
                const int apart = std::abs(c.at - k.at);
                return std::min(apart, n - apart) <= 4;
            }))
            kept.push_back(c);
    std::sort(kept.begin(), kept.end(), [](const Corner& a, const Corner& b) { return a.at < b.at; });
    return kept;
}

struct Run {
    int first, last;
    Line line;
};

/// Straight runs between two samples, each as long as it is straight and no rounder than its own roughness.
std::vector<Run> runsOf(const Samples& s, int begin, int end, double straight) {
    std::vector<Run> runs;
    const double bendAllowed = straight / 2 + 0.02;
    for (int at = begin; at + shortestRun - 1 <= end;) {
        int last = at + shortestRun - 1;
        if (s.through(at, last).rms > straight) {
            ++at;
            continue;
        }
        for (int step = 1; step > 0;) // as far as it stays straight, by doubling and halving
            if (last + step <= end && last + step - at < s.count() && s.through(at, last + step).rms <= straight)
                last += step, step *= 2;
            else
                step /= 2;
        // What lies beyond the run has bent it a little: its middle tells where it really ends.
        const int fifth = (last - at) / 5;
        const Line middle = s.through(at + fifth, last - fifth);
        const double allowed = 0.8 * straight;
        int first = at + fifth, stop = last - fifth;
        while (first > at && std::abs(middle.off(s.at(first - 1))) <= allowed) --first;
        while (stop < last && std::abs(middle.off(s.at(stop + 1))) <= allowed) ++stop;
        const int half = (stop - first) / 2;
        const Line a = s.through(first, first + half), b = s.through(stop - half, stop);
        const double sagitta = std::abs(cross(a.way, b.way)) * distance(s.at(first), s.at(stop)) / 4;
        if (sagitta > bendAllowed || stop - first + 1 < shortestRun) {
            at += std::max(1, (last - at) / 4);
            continue;
        }
        runs.push_back({first, stop, s.through(first, stop)});
        at = stop + 1;
    }
    return runs;
}

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

std::optional<Path> wholeCircle(const Samples& s, double tolerance) {
    const int n = s.count();
    Ring points;
    for (int i = 0; i < n; ++i) points.push_back(s.at(i));
    const auto round = circleThrough(points);
    if (!round) return std::nullopt;
    const auto [centre, radius] = *round;
    for (int i = 0; i < n; ++i)
        if (std::abs(distance(s.at(i), centre) - radius) > tolerance) return std::nullopt;
    return circle(centre, radius);
}

class Fitter {
public:
    Fitter(const Samples& s, const FitSettings& settings) : s_(s), settings_(settings) {}

    Path run() {
        const double rough = s_.roughness();
        const double straight = std::clamp(2 * rough, 0.07, 0.3);
        auto corners = cornersOf(s_, settings_, straight);
        if (!s_.closed()) { // its ends stand for corners
            corners.insert(corners.begin(), {0, s_.at(0), 0, 0});
            corners.push_back({s_.count() - 1, s_.at(s_.count() - 1), 0, 0});
        } else if (corners.empty())
            if (auto whole = wholeCircle(s_, std::max(std::min(settings_.tolerance, 0.3), 3 * rough))) return *whole;
        lay(corners, straight);
        if (elements_.empty()) return smoothLoop();
        return joined();
    }

private:
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
            if (end - begin + 1 >= 3) {
                auto runs = runsOf(s_, begin, end, straight);
                if (runs.empty() && end - begin + 1 < 3 * shortestRun && s_.through(begin, end).rms <= straight)
                    runs.push_back({begin, end, s_.through(begin, end)}); // short, but straight from corner to corner
                for (auto& run : runs) {
                    if (run.first - at > 4 || (run.first > at && at > begin)) bridge(at, run.first);
                    push(run);
                    at = run.last;
                }
                if (!runs.empty() && end - at <= 4) at = end;
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
        fitCubics(chain, into, out, settings_.tolerance, onto);
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
        fitCubics(chain, way, way, settings_.tolerance, path.segments);
        return path;
    }

    const Samples& s_;
    FitSettings settings_;
    std::vector<Element> elements_;
};

} // namespace

Path fittedOutline(const Ring& closed, const FitSettings& settings) {
    const Samples samples(closed, true, finest * settings.blur);
    const auto asRun = [&](Path path) { return wound(std::move(path), areaOf(closed) > 0); };
    if (samples.count() < 24) { // a speck of a few pixels: a circle or a few straight lines
        if (auto whole = wholeCircle(samples, std::max(0.3, settings.tolerance))) return asRun(*whole);
        return pathOf(thinned(closed, settings.tolerance, true), true);
    }
    return asRun(Fitter(samples, settings).run());
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
    return Fitter(samples, settings).run();
}

} // namespace ferro::trace
