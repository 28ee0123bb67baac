#pragma once

#include "base/result.h"

#include <array>
#include <cstdint>
#include <initializer_list>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::shop {

/// What a machine can work with. One machine may have more than one: a mill with a beam head, say.
enum class Process : std::uint8_t { rotary, beam, blade };
inline constexpr std::array<std::string_view, 3> processNames = {"rotary", "beam", "blade"};
[[nodiscard]] constexpr std::string_view nameOf(Process process) {
    return processNames[static_cast<std::size_t>(process)];
}

/// A set of processes.
class Processes {
public:
    constexpr Processes() = default;
    constexpr Processes(std::initializer_list<Process> list) {
        for (const Process p : list) bits_ |= bit(p);
    }
    [[nodiscard]] constexpr bool has(Process p) const { return bits_ & bit(p); }
    [[nodiscard]] constexpr bool meets(Processes other) const { return bits_ & other.bits_; }
    constexpr void add(Process p) { bits_ |= bit(p); }
    [[nodiscard]] std::vector<Process> list() const {
        std::vector<Process> all;
        for (const Process p : {Process::rotary, Process::beam, Process::blade})
            if (has(p)) all.push_back(p);
        return all;
    }
    [[nodiscard]] constexpr bool empty() const { return bits_ == 0; }
    friend constexpr bool operator==(Processes, Processes) = default;

private:
    static constexpr unsigned bit(Process p) { return 1u << static_cast<unsigned>(p); }
    unsigned bits_ = 0;
};
inline constexpr Processes everyProcess{Process::rotary, Process::beam, Process::blade};

/// A machine's limits. Lengths mm, feeds mm/min, accelerations mm/s².
struct Machine {
    std::string key, name;
    Processes processes{Process::rotary};
    double bedX = 600, bedY = 400, travelZ = 80;
    double maxFeed = 6000, maxFeedZ = 2000, rapid = 8000, rapidZ = 3000;
    double acceleration = 600, accelerationZ = 300;
    double junction = 0.02;                    ///< mm a corner may be thought rounded by when its speed is chosen
    double minSpindle = 0, maxSpindle = 24000; ///< rpm; laser: unused
    double toolChangeSeconds = 30;
    double turnSpeed = 360;               ///< °/s at which it turns a knife, where it does
    double leastPower = 0;                ///< %, below which its beam does not burn evenly, or not at all
    double mostPower = 100;               ///< %, that its source is to be driven with
    double hourCost = 0;                  ///< of an hour at it, in the shop's own money; 0: not reckoned
    double holder = 0;                    ///< mm, how wide the nut or chuck is that holds a tool; 0: not known
    std::string dialect;                  ///< key of the dialect its first process is written in
    std::string conversation = "checked"; ///< key of how its controller is spoken to
    /// Of its other processes, by name ("beam"); most machines have none.
    std::map<std::string, std::string> dialects = {};

    [[nodiscard]] bool does(Process process) const { return processes.has(process); }
    /// What it does first of all: a job begins with this.
    [[nodiscard]] Process mainProcess() const;
    [[nodiscard]] std::string dialectFor(Process process) const;
    friend bool operator==(const Machine&, const Machine&) = default;
};

enum class ToolKind { endMill, ball, vBit, engraver, drill, laser, blade, bullNose, taperedBall, spotDrill, bevel };
inline constexpr std::array<std::string_view, 11> toolKindNames = {"end mill",     "ball",       "v-bit", "engraver",
                                                                   "drill",        "laser",      "blade", "bull nose",
                                                                   "tapered ball", "spot drill", "bevel"};

/// A tool by its true shape. For a laser the diameter is the kerf, for a blade its thickness.
struct Tool {
    std::string key, name;
    int number = 1;
    ToolKind kind = ToolKind::endMill;
    double diameter = 6;     ///< mm, above 0
    double tip = 0;          ///< mm, flat at the point of a V-bit, engraver or bevel
    double angle = 60;       ///< degrees, included, of a point, or of the taper above a ball
    double corner = 0;       ///< mm, radius of the edge of a bull nose, or of the ball below a taper
    double fluteLength = 20; ///< mm, the deepest this tool may go
    int flutes = 2;
    double shank = 0;     ///< mm, how wide it is above the flutes; 0: as wide as the tool
    double metreCost = 0; ///< of its wear for each metre cut; 0: not reckoned
    double stickOut = 0;  ///< mm from the holder to the lowest point, as it is set up; 0: not known
    double trail = 0;     ///< mm that a blade's tip hangs behind its axis; 0: it is turned by the machine
    friend bool operator==(const Tool&, const Tool&) = default;

    [[nodiscard]] Process process() const {
        return kind == ToolKind::laser ? Process::beam : kind == ToolKind::blade ? Process::blade : Process::rotary;
    }
    /// A knife that the machine turns into its way.
    [[nodiscard]] bool isTurned() const { return kind == ToolKind::blade && trail <= 0; }
    [[nodiscard]] double radius() const { return diameter / 2; }
    /// Makes slanting walls, so that how far it reaches at the surface depends on how deep it goes.
    [[nodiscard]] bool isPointed() const;
    /// Makes upright walls.
    [[nodiscard]] bool isUpright() const {
        return kind == ToolKind::endMill || kind == ToolKind::ball || kind == ToolKind::bullNose;
    }
    /// Radius of what it cuts level.
    [[nodiscard]] double flatRadius() const { return radiusAt(0); }
    [[nodiscard]] double shankRadius() const { return (shank > 0 ? shank : diameter) / 2; }
    /// Height of the cutting edge above its lowest point, `r` mm from the axis; infinite beyond the radius.
    [[nodiscard]] double profile(double r) const;
    /// Radius of the tool `depth` mm above its lowest point.
    [[nodiscard]] double radiusAt(double depth) const;
};

/// Settings of a step that were tried on a material and found good.
struct Proven {
    std::string machine, tool, kind; ///< keys, and the kind of step
    double thickness = 0;            ///< mm, of the sheet they were tried on
    std::map<std::string, double> settings;
    std::string date, note; ///< "2026-11-30"
    friend bool operator==(const Proven&, const Proven&) = default;
};

/// What a material asks of tools; starting values, to be proven on scrap.
struct Material {
    std::string key, name;
    std::string colour = "#E8D7B4"; ///< of its look on the bench
    bool grain = true;              ///< drawn with grain lines
    bool fromBack = false;          ///< cut from its back: what is drawn has to lie mirrored
    double squareCost = 0;          ///< of a square metre of sheet, 1 mm thick; 0: not reckoned
    double ply = 0;                 ///< mm, how thick the plies are that cut walls show; 0: none
    double surfaceSpeed = 300;      ///< m/min at the tool's edge
    double chipPerDiameter = 0.008; ///< mm of chip per tooth for each mm of tool diameter
    double depthPerDiameter = 0.5;  ///< mm of pass depth for each mm of tool diameter
    double cutPower = 80, cutSpeed = 600, scribePower = 15, scribeSpeed = 2500; ///< laser: %, mm/min
    double laserDepth = 4;                               ///< mm that one cutting pass goes through
    double slitSpeed = 3000;                             ///< blade: mm/min
    double slitForce = 80;                               ///< g
    double pressFit = 0, snugFit = 0.1, looseFit = 0.25; ///< mm that a slot is wider than what goes into it
    std::vector<Proven> proven = {};                     ///< win over all that is reckoned, where they fit
    friend bool operator==(const Material&, const Material&) = default;
};

/// What was proven for a machine, a tool and a kind of step on a sheet as thick, within a twentieth; none: nothing was.
[[nodiscard]] const Proven* provenFor(const Material& material, std::string_view machine, std::string_view tool,
                                      std::string_view kind, double thickness);
/// The material with settings that were proven, in place of those for the same machine, tool, kind and thickness.
[[nodiscard]] Material withProven(const Material& material, const Proven& proven);
[[nodiscard]] Material withoutProven(const Material& material, const Proven& proven);

/// Sheet material on the shelf: a size of which there are so many, or an off-cut.
struct Board {
    std::string key, name;
    std::string material;                            ///< key
    double width = 600, height = 400, thickness = 6; ///< mm
    int count = 1;                                   ///< 0: used up
    double cost = 0;                                 ///< of one, in the shop's own money; 0: by the material
    std::string outline;                             ///< of an off-cut that is no rectangle, as the data of an SVG path
    friend bool operator==(const Board&, const Board&) = default;
};

/// The shop book: what the shop has. User entries replace shipped ones of the same key.
struct Book {
    std::vector<Machine> machines;
    std::vector<Tool> tools;
    std::vector<Material> materials;
    std::vector<Board> boards;
    friend bool operator==(const Book&, const Book&) = default;

    [[nodiscard]] Result<Machine> machine(std::string_view key) const;
    [[nodiscard]] Result<Tool> tool(std::string_view key) const;
    [[nodiscard]] Result<Material> material(std::string_view key) const;
    /// The key of a material by its key or its name, whatever the letters' case.
    [[nodiscard]] std::optional<std::string> materialKey(std::string_view word) const;
};

/// One file of a book: an object with lists "machines", "tools", "materials", all optional.
[[nodiscard]] Result<Book> bookFromText(std::string_view json);
[[nodiscard]] std::string toText(const Book& book);

/// Feeds and speeds to start with (need SB2).
struct Start {
    double feed = 0, plunge = 0, spindle = 0, depthPerPass = 0;
    double chip = 0;  ///< mm for each tooth, of a tool that turns
    double power = 0; ///< laser, %
    double force = 0; ///< blade, g
    int passes = 1;
};
enum class Work { cut, scribe, drill };
[[nodiscard]] Start startFor(const Tool& tool, const Material& material, const Machine& machine, Work work,
                             double thickness);
/// How much faster a tool may feed that takes only `engaged` (above 0) of its diameter to the side, until its teeth
/// take chips as thick as when it takes half or all of it: 1 / (2 √(e (1 - e))), the thinning of chips by a round tool.
/// Never over 2, and 1 where it would be less than a twentieth more.
[[nodiscard]] double thinChips(double engaged);

} // namespace ferro::shop
