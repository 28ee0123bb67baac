// Lines as deep as they are wide.
#include "toolpath/carve_internal.h"

namespace ferro::toolpath {

Tip::Tip(const shop::Tool& tool, double deepest) : tool_(tool) {
    made_ = tool.profile(tool.radius());
    most_ = std::min(deepest, made_);
    widest_ = tool.radiusAt(most_);
    if (tool.kind == shop::ToolKind::ball)
        curved_ = tool.radius();
    else if (tool.kind == shop::ToolKind::taperedBall)
        curved_ = tool.corner * std::cos(tool.angle / 2 * pi / 180);
    else
        flat_ = tool.radiusAt(0);
    const double little = std::min(1e-4, most_ / 2);
    slope_ = little > 0 ? std::max(1e-6, (widest_ - tool.radiusAt(most_ - little)) / little) : 1;
}

double Tip::depthOf(double radius) const {
    if (radius <= 0) return 0;
    return radius < widest_ ? tool_.profile(radius) : most_ + (radius - widest_) / slope_;
}

Trail Tip::evened(const Trail& trail, double tolerance) const {
    if (!isCurved() || trail.empty()) return trail;
    Trail out{trail.front()};
    constexpr int deepest = 10; // times that a stretch is halved
    const auto add = [&](const auto& self, const AreaAxis::Node& a, const AreaAxis::Node& b, int halved) -> void {
        if (std::min(a.radius, b.radius) < curved_ && halved < deepest) {
            const AreaAxis::Node middle{lerp(a.at, b.at, 0.5), (a.radius + b.radius) / 2};
            // A curve is farthest off its chord near the middle.
            if (std::abs((depthOf(a.radius) + depthOf(b.radius)) / 2 - depthOf(middle.radius)) > tolerance) {
                self(self, a, middle, halved + 1);
                self(self, middle, b, halved + 1);
                return;
            }
        }
        out.push_back(b);
    };
    for (std::size_t i = 1; i < trail.size(); ++i) add(add, trail[i - 1], trail[i], 0);
    return out;
}

void Carver::carve(Pen& pen, const Trail& trail) const {
    double above = 0; // what the passes before have cut
    for (const double pass : passes_) {
        const auto isDeeper = [&](const AreaAxis::Node& node) { return tip_.depthAt(node.radius) > above + 1e-9; };
        for (std::size_t i = 0; i < trail.size();) {
            if (above > 0 && !isDeeper(trail[i]) && (i + 1 == trail.size() || !isDeeper(trail[i + 1]))) {
                ++i;
                continue;
            }
            std::size_t end = i + 1;
            while (end < trail.size() && (above == 0 || isDeeper(trail[end - 1]) || isDeeper(trail[end]))) ++end;
            follow(pen, trail, i, end, pass);
            i = end;
        }
        above = pass;
    }
}

void Carver::rim(Pen& pen, const Path& path) const {
    for (const double pass : passes_) along(pen, path, -pass);
}

void Carver::clear(Pen& pen, const std::vector<Way>& ways, const Crossing& crossing) const {
    for (const double pass : passes_)
        for (const auto& way : ways) {
            const bool down = std::abs(pen.at().z + pass) < 1e-9;
            if (const auto link = down ? crossing.between(pen.at().flat(), way.path.start) : std::nullopt)
                pen.along(*link, -pass, rates_.feed);
            along(pen, way.path, -pass);
        }
}

void Carver::along(Pen& pen, const Path& path, double z) const {
    enter(pen, {path.start.x, path.start.y, z});
    pen.along(path.segments, z, rates_.feed);
}

void Carver::follow(Pen& pen, const Trail& trail, std::size_t from, std::size_t end, double pass) const {
    const auto at = [&](Vec2 p, double depth) { return Vec3{p.x, p.y, -std::clamp(depth, 0.0, pass)}; };
    const auto depthOf = [&](std::size_t i) { return tip_.depthOf(trail[i].radius); };
    enter(pen, at(trail[from].at, depthOf(from)));
    for (std::size_t i = from + 1; i < end; ++i) {
        // Depth goes evenly between two places, but for where the pass cuts it off.
        const double a = depthOf(i - 1), b = depthOf(i);
        if ((a - pass) * (b - pass) < 0) go(pen, at(lerp(trail[i - 1].at, trail[i].at, (pass - a) / (b - a)), pass));
        go(pen, at(trail[i].at, b));
    }
}

/// Going down it sinks no quicker than it may plunge, whatever rounding to a program's digits makes of short moves.
void Carver::go(Pen& pen, Vec3 to) const {
    constexpr double digit = 0.0026; // mm: a ten-thousandth of an inch
    const double down = pen.at().z - to.z, way = distance(pen.at(), to);
    const double steep = std::max(way - digit, way / 2) / (down + digit);
    pen.feed(to, down > 0 ? std::min(rates_.feed, rates_.plunge * std::max(1.0, steep)) : rates_.feed);
}

/// At the plunge feed from the top, though a pass before has been here.
void Carver::enter(Pen& pen, Vec3 to) const {
    if (pen.isAt(to)) return;
    if (pen.at().z < 0) pen.lift();
    pen.goOver(to.flat());
    pen.sinkTo(to.z, 0);
}

} // namespace ferro::toolpath
