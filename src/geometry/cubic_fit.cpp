#include "geometry/cubic_fit.h"

#include <optional>

namespace ferro {

namespace {

using Points = std::span<const Vec2>;

struct Bezier {
    Vec2 a, b, c, d;
    [[nodiscard]] Vec2 at(double t) const {
        const double u = 1 - t;
        return a * (u * u * u) + b * (3 * u * u * t) + c * (3 * u * t * t) + d * (t * t * t);
    }
    [[nodiscard]] Vec2 slope(double t) const {
        const double u = 1 - t;
        return (b - a) * (3 * u * u) + (c - b) * (6 * u * t) + (d - c) * (3 * t * t);
    }
    [[nodiscard]] Vec2 bend(double t) const { return (c - b * 2 + a) * (6 * (1 - t)) + (d - c * 2 + b) * (6 * t); }
};

/// Whether a curve crosses itself: B(s) = B(t), divided by s − t, is two equations that are linear in s + t and
/// s² + st + t².
bool loops(const Bezier& curve) {
    const Vec2 three = curve.d - curve.a + (curve.b - curve.c) * 3, two = (curve.a - curve.b * 2 + curve.c) * 3,
               one = (curve.b - curve.a) * 3;
    const double whole = cross(three, two);
    if (whole == 0) return false; // a parabola, or straight
    const double squares = -cross(one, two) / whole, sum = -cross(three, one) / whole, product = sum * sum - squares;
    const double apart = sum * sum - 4 * product;
    if (!(apart > 0)) return false;
    const double root = std::sqrt(apart);
    return sum - root >= 0 && sum + root <= 2;
}

Bezier leastSquares(Points p, const std::vector<double>& t, Vec2 into, Vec2 out) {
    const Vec2 a = p.front(), d = p.back();
    double c00 = 0, c01 = 0, c11 = 0, x0 = 0, x1 = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const double u = 1 - t[i], b1 = 3 * u * u * t[i], b2 = 3 * u * t[i] * t[i];
        const Vec2 left = into * b1, right = out * -b2;
        const Vec2 rest = p[i] - (a * (u * u * u + b1) + d * (b2 + t[i] * t[i] * t[i]));
        c00 += dot(left, left), c01 += dot(left, right), c11 += dot(right, right);
        x0 += dot(left, rest), x1 += dot(right, rest);
    }
    const double size = distance(a, d), determinant = c00 * c11 - c01 * c01;
    double reachA = 0, reachD = 0;
    if (std::abs(determinant) > 1e-12 * std::max(1e-12, c00 * c11)) {
        reachA = (x0 * c11 - x1 * c01) / determinant;
        reachD = (c00 * x1 - c01 * x0) / determinant;
    }
    // Handles that point back or shoot far beyond make loops: then a third of the chord, as Wu and Barsky advise.
    const double least = 1e-3 * size;
    if (!(reachA > least) || !(reachD > least) || reachA > 3 * size + 1 || reachD > 3 * size + 1)
        reachA = reachD = size / 3;
    return {a, a + into * reachA, d - out * reachD, d};
}

double farthest(Points p, const std::vector<double>& t, const Bezier& curve) {
    double worst = 0;
    for (std::size_t i = 1; i + 1 < p.size(); ++i) worst = std::max(worst, distance(curve.at(t[i]), p[i]));
    return worst;
}

void reparametrise(Points p, std::vector<double>& t, const Bezier& curve) {
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
        const Vec2 off = curve.at(t[i]) - p[i], slope = curve.slope(t[i]);
        const double below = dot(slope, slope) + dot(off, curve.bend(t[i]));
        if (std::abs(below) > 1e-12) t[i] = std::clamp(t[i] - dot(off, slope) / below, 0.0, 1.0);
    }
}

/// The way the chain goes at one of its points, from a few to either side.
Vec2 wayAt(Points p, std::size_t i) {
    constexpr std::size_t reach = 4;
    const std::size_t from = i > reach ? i - reach : 0, to = std::min(p.size() - 1, i + reach);
    Vec2 way;
    for (std::size_t k = 1; k <= reach; ++k) way += p[std::min(to, i + k)] - p[i >= from + k ? i - k : from];
    return unit(way);
}

/// One try at a cubic, and what it was made from: kept between tries, so that each does not ask for memory anew.
struct Try {
    std::vector<Vec2> some; ///< of the chain's points, some fifteen: they shape the curve
    std::vector<double> t;  ///< where on the curve they lie
    std::size_t stride = 1;
    Bezier curve;
};

/// How far a cubic leaves the whole chain, to first order: the foot on the curve instead of a search for it. Where that
/// would be the worst the foot is searched for after all: between two places that are known it may lie elsewhere.
double leaves(Points p, const Try& tried, double worst) {
    const auto& [some, t, stride, curve] = tried;
    for (std::size_t i = 0, k = 0; stride > 1 && i < p.size(); ++i) {
        while (k + 2 < some.size() && (k + 1) * stride <= i) ++k;
        const std::size_t end = k + 2 < some.size() ? (k + 1) * stride : p.size() - 1;
        double at =
            std::lerp(t[k], t[k + 1], static_cast<double>(i - k * stride) / static_cast<double>(end - k * stride));
        double away = 0;
        for (int step = 0; step < 4; ++step) {
            const Vec2 off = curve.at(at) - p[i], slope = curve.slope(at);
            const double size = dot(slope, slope), beside = cross(off, slope);
            if (step == 0 && size > 0 && beside * beside <= worst * worst * size) break; // as most are
            const double here = size > 0 ? std::abs(beside) / std::sqrt(size) : length(off);
            if (step > 0 && here > 0.9 * away) break;
            away = here;
            const double below = size + dot(off, curve.bend(at));
            if (away <= worst || std::abs(below) < 1e-12) break;
            at = std::clamp(at - dot(off, slope) / below, 0.0, 1.0);
        }
        worst = std::max(worst, away);
    }
    return worst;
}

/// How far the best cubic through the whole chain leaves it.
double oneCubic(Points p, Vec2 into, Vec2 out, double tolerance, Try& tried) {
    auto& [some, t, stride, curve] = tried;
    some.clear();
    t.assign(1, 0);
    stride = 1; // also where no points shape the curve
    if (p.size() == 2) {
        const double third = distance(p[0], p[1]) / 3;
        curve = {p[0], p[0] + into * third, p[1] - out * third, p[1]};
        return 0;
    }
    stride = std::max<std::size_t>(1, p.size() / 14);
    for (std::size_t i = 0; i + 1 < p.size(); i += stride) some.push_back(p[i]);
    some.push_back(p.back());
    for (std::size_t i = 1; i < some.size(); ++i) t.push_back(t.back() + distance(some[i - 1], some[i]));
    if (t.back() <= 0) return 1e300;
    for (auto& v : t) v /= t.back();
    curve = leastSquares(some, t, into, out);
    double worst = farthest(some, t, curve);
    for (int round = 0; round < 4 && worst > 0.8 * tolerance && worst < 4 * tolerance; ++round) {
        reparametrise(some, t, curve);
        const double before = worst;
        curve = leastSquares(some, t, into, out);
        worst = farthest(some, t, curve);
        if (worst > 0.9 * before) break;
    }
    if (worst <= tolerance && loops(curve)) return 2 * tolerance; // a hook too tight for one
    return worst > tolerance ? worst : leaves(p, tried, worst);
}

/// One step to the handles that leave the points least, square to the curve: what lies along it is no error, and
/// counting it as one is what makes the least squares above so slow to settle (tangent distance minimisation: Wang,
/// Pottmann & Liu, ACM TOG 2006). None when the points do not say.
std::optional<Bezier> nearer(Points p, const std::vector<double>& t, const Bezier& curve, Vec2 into, Vec2 out) {
    double c00 = 0, c01 = 0, c11 = 0, x0 = 0, x1 = 0;
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
        const double u = 1 - t[i];
        const Vec2 square = perpendicular(unit(curve.slope(t[i])));
        const double left = dot(into, square) * 3 * u * u * t[i], right = -dot(out, square) * 3 * u * t[i] * t[i];
        const double off = dot(p[i] - curve.at(t[i]), square);
        c00 += left * left, c01 += left * right, c11 += right * right;
        x0 += left * off, x1 += right * off;
    }
    // A little stiff, for points on which one of the handles hardly shows.
    const double stiff = 1e-3 * (c00 + c11);
    c00 += stiff, c11 += stiff;
    const double determinant = c00 * c11 - c01 * c01, size = distance(curve.a, curve.d);
    if (!(determinant > 0)) return std::nullopt;
    const double reachA = dot(curve.b - curve.a, into) + (x0 * c11 - x1 * c01) / determinant,
                 reachD = dot(curve.d - curve.c, out) + (c00 * x1 - c01 * x0) / determinant;
    if (!(reachA > 1e-3 * size) || !(reachD > 1e-3 * size) || reachA > 3 * size + 1 || reachD > 3 * size + 1)
        return std::nullopt;
    return Bezier{curve.a, curve.a + into * reachA, curve.d - out * reachD, curve.d};
}

/// Good enough is not yet the best: a fit that stops there lies to one side of its points.
Segment settled(Points p, Vec2 into, Vec2 out, double tolerance, double off, Try& tried) {
    const Bezier first = tried.curve;
    if (off < 0.2 * tolerance) return Segment::cubic(first.b, first.c, first.d); // as good as it gets
    for (int round = 0; round < 4 && !tried.some.empty(); ++round) {
        reparametrise(tried.some, tried.t, tried.curve);
        const auto next = nearer(tried.some, tried.t, tried.curve, into, out);
        if (!next) break;
        const double moved = distance(next->b, tried.curve.b) + distance(next->c, tried.curve.c);
        tried.curve = *next;
        if (moved < 0.1 * tolerance) break;
    }
    reparametrise(tried.some, tried.t, tried.curve);
    const bool better =
        !loops(tried.curve) && leaves(p, tried, farthest(tried.some, tried.t, tried.curve)) <= tolerance;
    const Bezier& best = better ? tried.curve : first;
    return Segment::cubic(best.b, best.c, best.d);
}

} // namespace

void fitCubics(Points p, Vec2 into, Vec2 out, double tolerance, std::vector<Segment>& onto, bool grainy) {
    Try tried, farther;
    std::size_t guess = 50; // how many points the next cubic may reach: as many as the last one did
    while (p.size() >= 2) {
        const std::size_t last = p.size() - 1;
        if (last == 2) { // two points too near to bend between: one curve or straight on
            if (const double off = oneCubic(p, into, out, tolerance, tried); off <= tolerance)
                return onto.push_back(settled(p, into, out, tolerance, off, tried));
            for (std::size_t i = 1; i < p.size(); ++i) onto.push_back(Segment::line(p[i]));
            return;
        }
        const auto wayTo = [&](std::size_t at) { return at == last ? out : wayAt(p, at); };
        // The error of grain hardly grows with the length: from the longest down, not from a guess up.
        std::size_t to = grainy || guess + guess / 4 >= last ? last : guess;
        Vec2 way = wayTo(to);
        double off = oneCubic(p.first(to + 1), into, way, tolerance, tried);
        // The error of a cubic grows with the fourth to sixth power of the length it spans: that tells how much shorter
        // it has to be, or how much longer it may.
        const auto share = [&] { return std::pow(0.7 * tolerance / std::max(off, 1e-6 * tolerance), 0.2); };
        while (off > tolerance && to > 1) {
            to = std::clamp<std::size_t>(
                static_cast<std::size_t>(std::clamp(share(), 0.15, 0.9) * static_cast<double>(to)), 1, to - 1);
            way = wayTo(to);
            off = oneCubic(p.first(to + 1), into, way, tolerance, tried);
        }
        for (int tries = 0; tries < 4 && to < last && off < 0.6 * tolerance; ++tries) {
            auto more = static_cast<std::size_t>(std::clamp(share(), 1.15, 3.0) * static_cast<double>(to)) + 1;
            if (more + more / 8 >= last) more = last;
            const Vec2 wayThere = wayTo(more);
            const double offThere = oneCubic(p.first(more + 1), into, wayThere, tolerance, farther);
            if (offThere > tolerance) break;
            to = more, way = wayThere, off = offThere, std::swap(tried, farther);
        }
        onto.push_back(off <= tolerance || to > 1 ? settled(p.first(to + 1), into, way, tolerance, off, tried)
                                                  : Segment::line(p[to]));
        if (to == last) return;
        into = way;
        guess = to;
        p = p.subspan(to);
    }
}

Segment nearestCubic(Points p, Vec2 into, Vec2 out) {
    std::vector<double> t{0};
    for (std::size_t i = 1; i < p.size(); ++i) t.push_back(t.back() + distance(p[i - 1], p[i]));
    if (!(t.back() > 0)) return Segment::line(p.back());
    for (auto& v : t) v /= t.back();
    Bezier best = leastSquares(p, t, into, out);
    double off = farthest(p, t, best);
    for (int round = 0; round < 40; ++round) {
        reparametrise(p, t, best);
        const Bezier next = leastSquares(p, t, into, out);
        const double now = farthest(p, t, next);
        if (now < off) best = next;
        if (now > off * 0.999) break;
        off = now;
    }
    return Segment::cubic(best.b, best.c, best.d);
}

} // namespace ferro
