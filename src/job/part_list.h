#pragma once

#include "job/job.h"

#include <map>

namespace ferro::job {

/// A part of a job as a list shows it: a group, or an outline that lies in no other, with all that lies in it.
struct ListedPart {
    artwork::ItemId item;        ///< the outermost outline, which its facts stand on
    artwork::Ids items;          ///< all of it, in drawing order; of the original
    std::string name, layer;     ///< the group's name, or the outline's
    Box box;                     ///< of the original, where it lies
    artwork::Part part;          ///< what is to be known of it
    std::vector<Path> outlines;  ///< of the original, where it lies
    std::size_t laid = 0;        ///< of it and its copies, on sheets
    std::vector<SheetId> sheets; ///< that these lie on, in the job's order
};
/// All parts of a job, whichever sheet they lie on or beside, in drawing order; a copy belongs to its original. Notes,
/// pictures and open lines by themselves are none.
[[nodiscard]] std::vector<ListedPart> partListOf(const Job& job);

/// The outermost outline that each closed outline lies in, itself where it lies in none; sheet by sheet.
[[nodiscard]] std::map<artwork::ItemId, artwork::ItemId> outermostOf(const artwork::Artwork& artwork);

} // namespace ferro::job
