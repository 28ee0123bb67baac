#pragma once

#include "artwork/artwork.h"
#include "base/id.h"
#include "shop/shop.h"

namespace ferro::plan {

using StepId = Id<struct StepTag>;

/// The kinds that can be made so far; DESIGN names the rest.
enum class StepKind { outline, drill, scribe };

/// What an outline is on the sheet, by nesting.
enum class Role { any, openings, outerEdges, openLines };

/// Which pieces a step takes. Rules outlive a changed drawing; named items do not, so rules come first.
struct Rule {
    std::vector<std::string> layers; ///< names, * stands for any run of letters; empty: every layer
    Role role = Role::any;
    std::vector<artwork::ItemId> items; ///< when not empty: only these
    double above = 0, below = 0;        ///< mm, longer side of the outline; below 0 or 0: no limit
    friend bool operator==(const Rule&, const Rule&) = default;
};

enum class Side { automatic, outside, inside, on };
enum class Entry { ramp, plunge };
enum class Direction { climb, conventional };
enum class Hold { none, tabs };

/// A tab that a person has placed: on which outline of which item, and where along it, 0 to 1.
struct TabPlace {
    artwork::ItemId item;
    int opening = -1; ///< -1: the outline itself
    double along = 0;
    friend bool operator==(const TabPlace&, const TabPlace&) = default;
};

/// One thing the machine does. Lengths mm, depths below the top of the stock and positive, feeds mm/min.
struct Step {
    StepId id;
    std::string name;
    StepKind kind = StepKind::outline;
    bool enabled = true;
    std::string tool; ///< key of one of the job's tools
    Rule rule;

    double startDepth = 0;
    bool through = true;
    double depth = 3;        ///< counts unless `through`
    double extra = 0.3;      ///< below the stock when `through`
    double depthPerPass = 3; ///< at most; passes come out equal
    double feed = 1000, plunge = 300, spindle = 16000;
    double power = 50; ///< laser, %
    double passes = 1; ///< laser, a whole number

    Side side = Side::automatic;
    Direction direction = Direction::climb;
    Entry entry = Entry::ramp;
    double rampAngle = 5; ///< degrees
    double lead = 2;      ///< mm, radius of the arcs into and out of the cut; 0: none
    double allowance = 0; ///< mm left on the part
    Hold hold = Hold::tabs;
    double tabWidth = 8, tabHeight = 2.5, tabSpacing = 180;
    std::vector<TabPlace> tabs; ///< outlines with a tab here have only these
    double peck = 4;            ///< mm, drill: lifts out after each; 0: in one go

    std::vector<std::string> typed; ///< names of the settings a person has typed over the book's
    friend bool operator==(const Step&, const Step&) = default;
};

/// Where the order of work comes from.
enum class Order { automatic, byHand };

struct Plan {
    std::vector<Step> steps;
    Order order = Order::automatic;
    double clearance = 5; ///< mm above the stock (and above clamps) for rapids
    std::uint32_t lastId = 0;
    friend bool operator==(const Plan&, const Plan&) = default;
};

[[nodiscard]] const Step* find(const Plan& plan, StepId id);

/// A fresh step of a kind, with the book's values for this tool and material.
[[nodiscard]] Step freshStep(StepId id, StepKind kind, const shop::Tool& tool, const shop::Material& material,
                             const shop::Machine& machine, double thickness);

/// How deep a step goes in stock of this thickness, below its top.
[[nodiscard]] double depthOf(const Step& step, double thickness);
/// Equal passes from `startDepth` to the full depth, none above `depthPerPass`: the depths they reach.
[[nodiscard]] std::vector<double> passDepths(const Step& step, double thickness);

[[nodiscard]] std::string_view kindName(StepKind kind);

} // namespace ferro::plan
