#pragma once

#include "base/id.h"
#include "plan/kinds/list.h"

namespace ferro::plan {

using StepId = Id<struct StepTag>;

/// What an outline is on the sheet, by nesting.
enum class Role { any, openings, outerEdges, openLines };
inline constexpr std::array<std::string_view, 4> roleWords = {"any", "openings", "outer edges", "open lines"};

/// Some outlines, by what they are.
struct Match {
    std::vector<std::string> layers; ///< names, * stands for any run of letters; empty: every layer
    Role role = Role::any;
    double above = 0, below = 0; ///< mm, longer side of the outline; below 0: no limit
    friend bool operator==(const Match&, const Match&) = default;
};

/// Which pieces a step takes. Rules outlive a changed drawing; named items do not, so rules come first.
struct Rule : Match {
    std::vector<artwork::ItemId> items; ///< when not empty: only these
    std::vector<Match> except;          ///< of those by rule, not these: another row of the house rules has them
    friend bool operator==(const Rule&, const Rule&) = default;
};

/// One thing the machine does: what all kinds share, and the settings of its own kind.
struct Step {
    StepId id;
    std::string name;
    bool enabled = true;
    std::string tool; ///< key of one of the job's tools
    Rule rule;
    std::string note;        ///< shown to the person before it begins
    bool stopBefore = false; ///< the machine waits for the person before it
    Settings settings;
    std::vector<std::string> typed; ///< names of the settings a person has typed over the book's
    StepId again; ///< it does once more what this step does, and changes with it until it is itself changed
    friend bool operator==(const Step&, const Step&) = default;
};

/// The settings of one kind, or none when the step is of another.
template<class K> [[nodiscard]] const K* as(const Step& step) { return std::get_if<K>(&step.settings); }
template<class K> [[nodiscard]] K* as(Step& step) { return std::get_if<K>(&step.settings); }

/// The part of a step's settings that several kinds have; none where its kind has it not.
[[nodiscard]] const Depth* depthIn(const Step& step);
[[nodiscard]] const Rates* ratesIn(const Step& step);
[[nodiscard]] const Beam* beamIn(const Step& step);
[[nodiscard]] const std::vector<EdgePlace>* tabsIn(const Step& step);
[[nodiscard]] std::vector<EdgePlace>* tabsIn(Step& step);
[[nodiscard]] const std::vector<EdgePlace>* startsIn(const Step& step);
[[nodiscard]] std::vector<EdgePlace>* startsIn(Step& step);

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

/// How deep it goes in stock of this thickness, below its top.
[[nodiscard]] double bottomOf(const Depth& depth, double thickness);
/// Equal passes from `start` to the bottom, none above `perPass`: the depths they reach.
[[nodiscard]] std::vector<double> passDepths(const Depth& depth, double thickness);

} // namespace ferro::plan
