#pragma once

#include "job/job.h"
#include "plan/fields.h"

namespace ferro::job {

/// Edits of a job. Each either does the whole edit or says why not; the input stays as it is.
[[nodiscard]] Job withArtwork(const Job& job, artwork::Artwork artwork);
[[nodiscard]] Result<Job> withArtwork(const Job& job, Result<artwork::Artwork> artwork);
/// All 0 or more.
[[nodiscard]] Result<Job> withTolerances(const Job& job, const artwork::Tolerances& tolerances);
/// Not empty.
[[nodiscard]] Result<Job> withName(const Job& job, std::string_view name);
[[nodiscard]] Job withUnits(const Job& job, Units units);
[[nodiscard]] Job withOrder(const Job& job, plan::Order order);
/// The key of a dialect, never a path; empty: the machine's own.
[[nodiscard]] Result<Job> withDialect(const Job& job, std::string_view key);
/// The name is no path, has only words in braces that are known, and one that tells the files apart where there is more
/// than one.
[[nodiscard]] Result<Job> withOutput(const Job& job, const Output& output);
/// Height of rapids above the stock: above 0, below 500 mm.
[[nodiscard]] Result<Job> withClearance(const Job& job, double clearance);
/// Sizes must be above 0 and below 10 m.
[[nodiscard]] Result<Job> withStock(const Job& job, const Stock& stock);
/// The sheet at hand as one of a tray of blanks; none: alone.
[[nodiscard]] Result<Job> withTray(const Job& job, const std::optional<Tray>& tray);
/// As many rows and columns as the machine's bed holds with such gaps, all else as it is. A problem when that is one
/// blank.
[[nodiscard]] Result<Job> withTrayFilled(const Job& job, double gapX, double gapY);
/// How the sheet at hand lies, measured; none: flat.
[[nodiscard]] Result<Job> withLie(const Job& job, std::optional<Lie> lie);
/// The sheet at hand as a blank of this outline, on the sheet: it becomes the sheet's place and size, what lies on it
/// stays where it is on the blank. None: the rectangle about it. Open or crossing outlines are a problem.
[[nodiscard]] Result<Job> withBlank(const Job& job, const std::optional<Piece>& outline);
/// The same of a drawn piece, which is a piece no longer.
[[nodiscard]] Result<Job> withBlankOf(const Job& job, artwork::ItemId item);
/// What the sheet at hand is made of. The plan is made for its first sheet: there, another material, machine or
/// thickness gives steps their new starting values, but not over what a person typed. Other sheets keep their material.
[[nodiscard]] Job withMaterial(const Job& job, const shop::Material& material);
[[nodiscard]] Job withMachine(const Job& job, const shop::Machine& machine);
[[nodiscard]] Result<Job> withClamp(const Job& job, const Clamp& clamp);
[[nodiscard]] Result<Job> withClampAt(const Job& job, std::size_t index, Vec2 low);
/// Above 0, up to 500 mm.
[[nodiscard]] Result<Job> withClampHeight(const Job& job, std::size_t index, double height);
[[nodiscard]] Result<Job> withoutClamp(const Job& job, std::size_t index);

/// Adds a step of a kind, by its name in the table of kinds, at the end; `tool` may be empty: a fitting one is chosen.
[[nodiscard]] Result<Job> withStepAdded(const Job& job, std::string_view kind, std::string_view tool,
                                        std::string_view name = {});
/// Steps for all that no step takes yet: a drill for each size of hole that one fits, a mill that bores for each
/// other size of round opening, a scribe step for open lines, an
/// outline step for what is closed, as far as the machine does such. A problem where nothing is left to be taken.
[[nodiscard]] Result<Job> withFittingSteps(const Job& job);
[[nodiscard]] Result<Job> withoutStep(const Job& job, plan::StepId step);
[[nodiscard]] Result<Job> withStepMoved(const Job& job, plan::StepId step, std::size_t to);
/// One setting by its name in plan/fields.h. Another tool brings its own starting values.
[[nodiscard]] Result<Job> withStepSetting(const Job& job, plan::StepId step, std::string_view name,
                                          std::string_view value);
/// The step by the first of these tools (by key), and for each of the others, thinner than the one before, a step right
/// behind it that takes what is left, with the book's values for its tool. Such steps that stood there go.
[[nodiscard]] Result<Job> withStepTools(const Job& job, plan::StepId step, const std::vector<std::string>& tools);
/// Where a number of a step comes from: nowhere in particular, reckoned by the book, proven, or typed by a person.
enum class Source { none, book, proven, typed };
struct SourceOf {
    Source source = Source::none;
    const shop::Proven* proven = nullptr; ///< which, where it was
};
[[nodiscard]] SourceOf sourceOf(const Job& job, const plan::Step& step, const plan::Field& field);
/// A number or a choice back to what it began with.
[[nodiscard]] Result<Job> withStepReset(const Job& job, plan::StepId step, std::string_view name);
/// Only these items; none: back to the rule by layer and role.
[[nodiscard]] Result<Job> withStepItems(const Job& job, plan::StepId step, const artwork::Ids& items);
/// All tabs of one outline; an empty list brings back the automatic ones.
[[nodiscard]] Result<Job> withTabs(const Job& job, plan::StepId step, artwork::ItemId item, int opening,
                                   const std::vector<double>& along);
/// Where one outline is begun; none: where it suits.
[[nodiscard]] Result<Job> withStart(const Job& job, plan::StepId step, artwork::ItemId item, int opening,
                                    std::optional<double> along);
/// One step more that does the same again, right behind it, and changes with it until it is itself changed.
[[nodiscard]] Result<Job> withStepAgain(const Job& job, plan::StepId step);

} // namespace ferro::job
