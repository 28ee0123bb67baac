#pragma once

#include "job/edits.h"

namespace ferro::job {

/// Edits of which sheets there are, and of which one is at hand: the one that is shown, planned, proofed and run.
/// Stock, clamps and zero of the sheet at hand are edited by edits.h.
[[nodiscard]] Result<Job> atSheet(const Job& job, SheetId sheet);
/// What lies beside all sheets is at hand: it is shown, and nothing of it is cut.
[[nodiscard]] Job atBeside(const Job& job);
/// Behind the others, with the stock and the material of the one at hand, and at hand then. Empty: named by its number.
[[nodiscard]] Result<Job> withSheetAdded(const Job& job, std::string_view name = {});
/// Not empty, and no other's name.
[[nodiscard]] Result<Job> withSheetNamed(const Job& job, SheetId sheet, std::string_view name);
[[nodiscard]] Result<Job> withSheetMoved(const Job& job, SheetId sheet, std::size_t to);
/// What lies on it lies beside all sheets then. The last one stays.
[[nodiscard]] Result<Job> withoutSheet(const Job& job, SheetId sheet);

/// All that lies on the sheet at hand mirrored about its middle line, or back again: film that is cut from its back
/// shows the drawing the right way round when it is turned over. Locked pieces too.
[[nodiscard]] Result<Job> withSheetMirrored(const Job& job, bool mirrored);

/// The job at each sheet on which something lies.
[[nodiscard]] std::vector<Job> sheetsToCut(const Job& job);
/// By name, or by number from 1.
[[nodiscard]] Result<SheetId> sheetNamed(const Job& job, std::string_view word);

} // namespace ferro::job
