#include "shop/shop.h"

#include "shop/reasons.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace ferro::shop {

namespace {

/// A ball that goes over into a cone where the two touch; `half`: radians from the axis to the cone's side.
struct Taper {
    double ball, half;
    [[nodiscard]] double radius() const { return ball * std::cos(half); }
    [[nodiscard]] double height() const { return ball * (1 - std::sin(half)); }
};
Taper taperOf(const Tool& tool) { return {tool.corner, tool.angle / 2 * std::numbers::pi / 180}; }

/// How high a circle's lower half lies above its lowest place, so far from its middle; and the other way round.
double riseOf(double circle, double off) { return circle - std::sqrt(std::max(0.0, circle * circle - off * off)); }
double offAt(double circle, double rise) {
    return rise >= circle ? circle : std::sqrt(std::max(0.0, rise * (2 * circle - rise)));
}

} // namespace

bool Tool::isPointed() const {
    switch (kind) {
    case ToolKind::vBit:
    case ToolKind::engraver:
    case ToolKind::drill:
    case ToolKind::taperedBall:
    case ToolKind::spotDrill:
    case ToolKind::bevel: return true;
    default: return false;
    }
}

double Tool::profile(double r) const {
    constexpr double none = std::numeric_limits<double>::infinity();
    if (r > radius()) return none;
    switch (kind) {
    case ToolKind::ball: return riseOf(radius(), r);
    case ToolKind::bullNose: return riseOf(corner, std::max(0.0, r - (radius() - corner)));
    case ToolKind::taperedBall: {
        const Taper taper = taperOf(*this);
        if (r <= taper.radius()) return riseOf(corner, r);
        return taper.height() + (r - taper.radius()) / std::tan(taper.half);
    }
    case ToolKind::vBit:
    case ToolKind::engraver:
    case ToolKind::spotDrill:
    case ToolKind::bevel:
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
    const double above = std::max(0.0, depth);
    switch (kind) {
    case ToolKind::ball: return offAt(radius(), above);
    case ToolKind::bullNose: return radius() - corner + offAt(corner, above);
    case ToolKind::taperedBall: {
        const Taper taper = taperOf(*this);
        if (above <= taper.height()) return std::min(radius(), offAt(corner, above));
        return std::min(radius(), taper.radius() + (above - taper.height()) * std::tan(taper.half));
    }
    case ToolKind::vBit:
    case ToolKind::engraver:
    case ToolKind::spotDrill:
    case ToolKind::bevel:
    case ToolKind::drill: return std::min(radius(), tip / 2 + above * std::tan(angle / 2 * std::numbers::pi / 180));
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

namespace {

/// Collects why, where that is asked for.
class Because {
public:
    explicit Because(std::map<std::string, std::string>* reasons) : reasons_(reasons) {}
    template<class... Parts>
    void operator()(const char* setting, fmt::format_string<Parts...> words, Parts&&... parts) {
        if (reasons_) (*reasons_)[setting] = fmt::format(words, std::forward<Parts>(parts)...);
    }
    /// The lesser of what is reckoned and what is allowed, and says so when it is held.
    double held(const char* setting, double value, double most, std::string_view by) {
        if (reasons_ && value > most) (*reasons_)[setting] += fmt::format("; held to {:g} by {}", most, by);
        return std::min(value, most);
    }
    double atLeast(const char* setting, double value, double least, std::string_view by) {
        if (reasons_ && value < least) (*reasons_)[setting] += fmt::format("; raised to {:g} by {}", least, by);
        return std::max(value, least);
    }

private:
    std::map<std::string, std::string>* reasons_;
};

Start beamStart(const Material& material, const Machine& machine, Work work, double thickness, Because& because) {
    Start start;
    const bool cuts = work == Work::cut;
    const char* done = cuts ? "cut" : "scribed";
    start.power = cuts ? material.cutPower : material.scribePower;
    because("power", "the power {} is {} with", material.name, done);
    const double feed = cuts ? material.cutSpeed : material.scribeSpeed;
    because("feed", "the speed {} is {} at", material.name, done);
    start.feed = because.held("feed", feed, machine.maxFeed, "the machine");
    start.passes = cuts ? std::max(1, static_cast<int>(std::ceil(thickness / material.laserDepth - 1e-9))) : 1;
    if (cuts) because("passes", "{:g} mm, of which a pass goes through {:g}", thickness, material.laserDepth);
    start.plunge = machine.maxFeedZ;
    start.depthPerPass = thickness;
    return start;
}

Start bladeStart(const Material& material, const Machine& machine, double thickness, Because& because) {
    Start start;
    because("feed", "the speed a blade goes through {} at", material.name);
    start.feed = because.held("feed", material.slitSpeed, machine.maxFeed, "the machine");
    because("plunge", "a third of a blade's speed in {}", material.name);
    start.plunge = because.held("plunge", material.slitSpeed / 3, machine.maxFeedZ, "the machine");
    because("force", "the force {} is slit with", material.name);
    start.force = material.slitForce;
    start.depthPerPass = thickness;
    return start;
}

Start millStart(const Tool& tool, const Material& material, const Machine& machine, Work work, Because& because) {
    Start start;
    const auto rounded = [](double x, double to) { return std::max(to, std::round(x / to) * to); };
    // A pointed tool cuts near its tip: its speed is that of a 3 mm tool, not of its shank.
    const bool pointed = tool.isPointed() && tool.kind != ToolKind::drill && tool.kind != ToolKind::spotDrill;
    const double cutting = pointed ? std::min(3.0, tool.diameter) : tool.diameter;
    const double rpm = rounded(material.surfaceSpeed * 1000 / (std::numbers::pi * cutting), 500);
    because("spindle", "{:g} m/min at the edge of {:g} mm: {:g} rpm", material.surfaceSpeed, cutting, rpm);
    const auto spindle = [&](double value) {
        return because.atLeast("spindle", because.held("spindle", value, machine.maxSpindle, "the machine"),
                               machine.minSpindle, "the machine");
    };
    start.spindle = spindle(rpm);
    const double chip = start.chip = material.chipPerDiameter * cutting;
    const double feed = rounded(start.spindle * chip * tool.flutes, 10);
    because("feed", "{:g} rpm × {} flutes × a chip of {:.3g} mm: {:g} mm/min", start.spindle, tool.flutes, chip, feed);
    start.feed = because.held("feed", feed, machine.maxFeed, "the machine");
    const double plunge = rounded(start.feed * (work == Work::drill ? 0.2 : 0.3), 10);
    because("plunge", "{} of the feed", work == Work::drill ? "a fifth" : "three tenths");
    start.plunge = because.held("plunge", plunge, machine.maxFeedZ, "the machine");
    because("depthPerPass", "{:g} mm for each mm of the tool's {:g}", material.depthPerDiameter, tool.diameter);
    start.depthPerPass = because.held("depthPerPass", rounded(material.depthPerDiameter * tool.diameter, 0.1),
                                      tool.fluteLength, "the tool's flutes");
    if (work == Work::drill) {
        because("spindle", "half of what the tool would turn at to the side, {:g} rpm", start.spindle);
        start.spindle = spindle(start.spindle / 2);
    }
    return start;
}

} // namespace

double thinChips(double engaged) {
    if (engaged <= 0 || engaged >= 0.5) return 1;
    const double faster = 1 / (2 * std::sqrt(engaged * (1 - engaged)));
    return faster < 1.05 ? 1 : std::min(2.0, faster);
}

namespace {

Start reckoned(const Tool& tool, const Material& material, const Machine& machine, Work work, double thickness,
               Because because) {
    if (tool.process() == Process::beam) return beamStart(material, machine, work, thickness, because);
    if (tool.process() == Process::blade) return bladeStart(material, machine, thickness, because);
    return millStart(tool, material, machine, work, because);
}

} // namespace

Start startFor(const Tool& tool, const Material& material, const Machine& machine, Work work, double thickness) {
    return reckoned(tool, material, machine, work, thickness, Because(nullptr));
}

std::map<std::string, std::string> reasonsFor(const Tool& tool, const Material& material, const Machine& machine,
                                              Work work, double thickness) {
    std::map<std::string, std::string> reasons;
    (void)reckoned(tool, material, machine, work, thickness, Because(&reasons));
    return reasons;
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
