#include "shop/shop.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace ferro::shop {

double Tool::profile(double r) const {
    constexpr double none = std::numeric_limits<double>::infinity();
    if (r > radius()) return none;
    switch (kind) {
    case ToolKind::ball: return radius() - std::sqrt(std::max(0.0, radius() * radius() - r * r));
    case ToolKind::vBit:
    case ToolKind::engraver:
    case ToolKind::drill: {
        const double flat = tip / 2;
        return r <= flat ? 0 : (r - flat) / std::tan(angle / 2 * std::numbers::pi / 180);
    }
    case ToolKind::endMill:
    case ToolKind::blade:
    case ToolKind::laser: return 0;
    }
    return 0;
}

double Tool::radiusAt(double depth) const {
    if (depth <= 0)
        return kind == ToolKind::endMill || process() != Process::rotary ? radius() : std::min(tip / 2, radius());
    switch (kind) {
    case ToolKind::ball: return depth >= radius() ? radius() : std::sqrt(depth * (2 * radius() - depth));
    case ToolKind::vBit:
    case ToolKind::engraver:
    case ToolKind::drill: return std::min(radius(), tip / 2 + depth * std::tan(angle / 2 * std::numbers::pi / 180));
    case ToolKind::endMill:
    case ToolKind::blade:
    case ToolKind::laser: return radius();
    }
    return radius();
}

Process Machine::mainProcess() const {
    for (const Process p : {Process::rotary, Process::beam, Process::blade})
        if (does(p)) return p;
    return Process::rotary;
}

std::string Machine::dialectFor(Process process) const {
    const auto own = dialects.find(std::string(nameOf(process)));
    return own == dialects.end() ? dialect : own->second;
}

const Proven* provenFor(const Material& material, std::string_view machine, std::string_view tool,
                        std::string_view kind, double thickness) {
    const Proven* best = nullptr;
    for (const auto& one : material.proven) {
        const double off = std::abs(one.thickness - thickness);
        if (one.machine != machine || one.tool != tool || one.kind != kind || off > 0.05 * thickness + 1e-9) continue;
        if (!best || off < std::abs(best->thickness - thickness)) best = &one;
    }
    return best;
}

Material withProven(const Material& material, const Proven& proven) {
    Material out = material;
    std::erase_if(out.proven, [&](const Proven& one) {
        return one.machine == proven.machine && one.tool == proven.tool && one.kind == proven.kind &&
               std::abs(one.thickness - proven.thickness) < 1e-6;
    });
    out.proven.push_back(proven);
    return out;
}

Material withoutProven(const Material& material, const Proven& proven) {
    Material out = material;
    std::erase(out.proven, proven);
    return out;
}

namespace {
template<class Thing>
Result<Thing> named(const std::vector<Thing>& things, std::string_view key, std::string_view kind) {
    std::string have;
    for (const auto& thing : things) {
        if (thing.key == key) return thing;
        have += (have.empty() ? "" : ", ") + thing.key;
    }
    return Problem{.what = fmt::format("The shop book has no {} “{}”.", kind, key),
                   .where = {},
                   .mend = fmt::format("Use one of: {}.", have)};
}
} // namespace

Result<Machine> Book::machine(std::string_view key) const { return named(machines, key, "machine"); }
Result<Tool> Book::tool(std::string_view key) const { return named(tools, key, "tool"); }
Result<Material> Book::material(std::string_view key) const { return named(materials, key, "material"); }

Start startFor(const Tool& tool, const Material& material, const Machine& machine, Work work, double thickness) {
    Start start;
    if (tool.process() == Process::beam) {
        start.power = work == Work::cut ? material.cutPower : material.scribePower;
        start.feed = std::min(machine.maxFeed, work == Work::cut ? material.cutSpeed : material.scribeSpeed);
        start.passes =
            work == Work::cut ? std::max(1, static_cast<int>(std::ceil(thickness / material.laserDepth - 1e-9))) : 1;
        start.plunge = machine.maxFeedZ;
        start.depthPerPass = thickness;
        return start;
    }
    if (tool.process() == Process::blade) {
        start.feed = std::min(machine.maxFeed, material.slitSpeed);
        start.plunge = std::min(machine.maxFeedZ, material.slitSpeed / 3);
        start.force = material.slitForce;
        start.depthPerPass = thickness;
        return start;
    }
    const double round = [](double x, double to) { return std::max(to, std::round(x / to) * to); }(1, 1);
    const auto rounded = [&](double x, double to) { return std::max(to * round, std::round(x / to) * to); };
    // A pointed tool cuts near its tip: its speed is that of a 3 mm tool, not of its shank.
    const double cutting =
        tool.kind == ToolKind::vBit || tool.kind == ToolKind::engraver ? std::min(3.0, tool.diameter) : tool.diameter;
    start.spindle = std::clamp(rounded(material.surfaceSpeed * 1000 / (std::numbers::pi * cutting), 500),
                               machine.minSpindle, machine.maxSpindle);
    const double chip = material.chipPerDiameter * cutting;
    start.feed = std::min(machine.maxFeed, rounded(start.spindle * chip * tool.flutes, 10));
    start.plunge = std::min(machine.maxFeedZ, rounded(start.feed * (work == Work::drill ? 0.2 : 0.3), 10));
    start.depthPerPass = std::min(tool.fluteLength, rounded(material.depthPerDiameter * tool.diameter, 0.1));
    if (work == Work::drill) start.spindle = std::clamp(start.spindle / 2, machine.minSpindle, machine.maxSpindle);
    return start;
}

std::optional<std::string> Book::materialKey(std::string_view word) const {
    const auto same = [&](std::string_view other) {
        return std::equal(word.begin(), word.end(), other.begin(), other.end(), [](char a, char b) {
            return std::tolower(static_cast<unsigned char>(a)) == std::tolower(static_cast<unsigned char>(b));
        });
    };
    for (const auto& material : materials)
        if (same(material.key) || same(material.name)) return material.key;
    return std::nullopt;
}

} // namespace ferro::shop
