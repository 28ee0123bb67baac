#pragma once

#include "job/sheets.h"
#include "nest/nest.h"

namespace ferro::job {

/// How the parts of a job are to be laid out on its sheets.
struct LayingOut {
    nest::Settings how;
    bool mayAddSheets =
        true;             ///< as many as it takes: from the shelf where it has some of their kind, else like the last
    shop::Book book = {}; ///< with that shelf, and the materials that lie on it
};
/// From the plan: as far apart as its widest tool that frees parts is wide, and a little; where tabs hold them twice as
/// wide, so that no neighbour's cut takes one.
[[nodiscard]] LayingOut usualLayingOut(const Job& job);

/// The parts and sheets of one material and thickness as plain values, and what they are in the job. A part is an
/// outermost outline with all that lies in its material, or a group; what lies in an opening that is cut through is a
/// part of its own. Where openings are not known to be cut through, nothing may be laid into them.
struct Nesting {
    std::string material;            ///< key
    double thickness = 0;            ///< mm
    std::vector<nest::Part> parts;   ///< an original is so many as are wanted and not there; each copy is one more
    std::vector<artwork::Ids> items; ///< of each part, in drawing order
    std::vector<nest::Sheet> sheets;
    std::vector<SheetId> ids;        ///< of those sheets; 0: one that would be added
    std::vector<std::string> boards; ///< key of the board that it would be cut from; empty: as the one before
    std::size_t stays = 0;           ///< locked parts, which the others are laid round
    std::size_t missing = 0;         ///< that are wanted of parts which are all locked: none of them can be copied
};
/// For each material and thickness. What is neither a part nor on one (open lines by themselves, pictures) stays where
/// it is. A job without parts is a problem.
[[nodiscard]] Result<std::vector<Nesting>> nestingsOf(const Job& job, const LayingOut& wish);

/// The job with its parts where a layout has them: sheets added, missing copies made; what is left goes beside.
[[nodiscard]] Result<Job> withLayouts(const Job& job, const std::vector<Nesting>& nestings,
                                      const std::vector<nest::Layout>& layouts, const shop::Book& book = {});

/// The job with its pieces where they lie in `laid`, an earlier or later state of it: sheets and copies that it lacks
/// are added, copies that are not in it go. A problem when a piece has another shape by now.
[[nodiscard]] Result<Job> withLayoutOf(const Job& job, const Job& laid);

/// All of it. Each better layout is told as the job it makes, with the share of the sheets in use that parts cover and
/// how many parts are left. The answer is checked by exact edges; a layout that does not stand that is a problem.
struct LaidOut {
    Job job;
    double share = 0;       ///< that parts cover of what is used: of whole sheets, and of the last as far as it is used
    std::size_t sheets = 0; ///< in use
    double used = 0;        ///< mm of the last of them
    double rest = 0;        ///< mm² of the last of them beyond that: the off-cut
    std::vector<std::string> left = {}; ///< what did not fit, and why
    std::size_t leftCount = 0;
    std::size_t stays = 0; ///< locked parts that stayed where they were
};
struct LayingWatch {
    std::function<void(const LaidOut&)> better = {}; ///< not more often than eyes can follow
    std::function<bool()> isEnough = {};
};
[[nodiscard]] Result<LaidOut> laidOut(const Job& job, const LayingOut& wish, Progress& progress,
                                      const LayingWatch& watch = {});

} // namespace ferro::job
