#pragma once

#include "base/quantity.h"
#include "plan/step.h"

#include <span>

namespace ferro::plan {

/// The parts of the side sheet that settings lie in, top to bottom.
enum class Place { how, takes, hold, entry };

/// One setting that is a number: the only place that knows its name, unit and range. The window builds its side sheet
/// from these, the command line its options, the job file its members.
struct Field {
    std::string_view name;  ///< in files and on the command line
    std::string_view label; ///< in the window
    Measure measure = Measure::length;
    double low = 0, high = 0;
    Place place = Place::how;
    shop::Processes processes{shop::Process::rotary}; ///< that it means something to
    bool fromBook = false;                            ///< has a starting value in the shop book
    double& (*number)(Step&) = nullptr;
    bool (*counts)(const Step&) = nullptr; ///< whether other settings leave it a meaning; none: always
};

/// One setting that is one of a few words.
struct Choice {
    std::string_view name, label;
    std::span<const std::string_view> words;
    Place place = Place::how;
    shop::Processes processes = shop::everyProcess;
    int (*get)(const Step&) = nullptr;
    void (*set)(Step&, int) = nullptr;
};

/// What a step can be made of: outlines to follow, circles and points to go down at, areas, or pictures.
enum class Takes { outlines, circles, areas, pictures };
enum class Pattern { solid, dotted, level, slanted, chevron, peaks, grid, ruled, dashed, screened };

/// What starting values are chosen by.
struct Beginning {
    const shop::Tool& tool;
    const shop::Material& material;
    const shop::Machine& machine;
    double thickness;
};

/// One kind of step: its row in the table that job file, command line, side sheet, menus, bench, time strip and checks
/// are driven by.
struct Kind {
    std::string_view name;     ///< in files and on the command line
    std::string_view label;    ///< "Outline"
    std::string_view title;    ///< of a fresh step: "Outlines"
    std::string_view shortcut; ///< that adds one in the window
    std::string_view purpose;  ///< for whom has no steps yet: "to cut pieces out"
    Pattern pattern = Pattern::solid;
    shop::Processes processes;             ///< that can do it
    std::span<const shop::ToolKind> tools; ///< that can do it, the best first
    double upTo = 0;                       ///< mm: of several that can, the widest up to this; 0: the first listed
    shop::Work work = shop::Work::cut;     ///< what of the book's values it begins with
    Takes takes = Takes::outlines;
    bool (*takesPieces)(const Step&) = nullptr; ///< whether its settings have it take any; none: always
    bool (*takesOpen)(const Step&) = nullptr;   ///< whether of what may free parts it takes open lines too, unasked
    bool takesByRole = true;                    ///< openings, outer edges, open lines can be told apart
    bool decorates = false;     ///< layers that only such steps take do not count in the nesting of the others
    bool freesParts = false;    ///< may cut a part loose; such steps are ordered by nesting, innermost first
    bool protectsParts = false; ///< the edges it cuts beside are edges of parts
    int place = 0;              ///< in the order of work, low first
    int (*placeOf)(const Step&) = nullptr; ///< where its settings put it elsewhere
    std::span<const Field> fields;
    std::span<const Choice> choices;
    Settings (*fresh)() = nullptr;
    /// How much of the tool's diameter it takes to the side, 0 to 1, where that is less than all; none: all.
    double (*engaged)(const Step&) = nullptr;
    /// mm that a line is wide at the surface by such a tool; none: its depth does not make a width.
    double (*lineWidth)(const Step&, const shop::Tool&, double thickness) = nullptr;
    bool walls = false;                     ///< the side of its tool makes them, and may not get everywhere
    bool& (*rest)(Step&) = nullptr;         ///< whether it takes only what steps before left; none: it always takes all
    bool (*onBoard)(const Step&) = nullptr; ///< whether it works on the scrap board, before the blank lies there
    void (*begin)(Step&, const Beginning&) = nullptr; ///< starting values beyond the book's
};

[[nodiscard]] std::span<const Kind* const> kinds();
[[nodiscard]] const Kind& kindOf(const Step& step);
[[nodiscard]] const Kind* kindNamed(std::string_view name);

/// A fresh step of a kind, with the book's values for this tool and material.
[[nodiscard]] Step freshStep(StepId id, const Kind& kind, const Beginning& beginning);

} // namespace ferro::plan
