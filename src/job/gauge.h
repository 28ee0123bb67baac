#pragma once

#include "job/job.h"

namespace ferro::job {

/// A strip with notches from one clearance to another (need SB4): an edge of the same sheet is put into them, and the
/// one that fits is the clearance, press, snug or loose.
struct FitGauge {
    double from = -0.1, to = 0.4; ///< mm that a notch is wider than the sheet is thick
    int count = 6;                ///< of notches, 2 to 20
};
/// Bars that are cut along their line: pushed together they are shorter by the cut's width for each of them.
struct KerfComb {
    int count = 10;                 ///< of bars, 3 to 30
    double width = 10, length = 30; ///< mm, of each as drawn
};
/// Fresh jobs for them on the sheet of `bench`, with its machine, material and tools, labelled. What does not go onto
/// the sheet, or cannot be cut by the machine, is a problem.
[[nodiscard]] Result<Job> fitGauge(const Job& bench, const FitGauge& gauge);
[[nodiscard]] Result<Job> kerfComb(const Job& bench, const KerfComb& comb);
/// The clearance of each notch, first to last.
[[nodiscard]] std::vector<double> clearancesOf(const FitGauge& gauge);
/// The width of a cut, mm, to a thousandth, when the bars pushed together measure `measured` mm; a problem where that
/// cannot be.
[[nodiscard]] Result<double> kerfBy(const KerfComb& comb, double measured);

} // namespace ferro::job
