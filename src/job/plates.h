#pragma once

#include "job/job.h"

namespace ferro::job {

/// Stencils of a drawing in colours (need MN9).
struct PlatesWish {
    double margin = 25; ///< mm from the drawing to a plate's edge, 10 to 200
    double pin = 4;     ///< mm, the register pins' diameter, 1 to 20
    bool parted =
        false; ///< what has islands is painted by two plates, half and half; else islands are left as they are
    double overlap = 0.5; ///< mm that such halves overlap, 0 to 5
    bool jig = true;      ///< a base board with the same pins and cross-hairs
};
struct Plate {
    SheetId sheet;
    std::string layer, colour; ///< "#rrggbb", or empty
    std::size_t pieces = 0;
    std::size_t islands = 0; ///< that nothing holds
    bool again = false;      ///< a second one of its colour
};
struct Plates {
    Job job;
    std::vector<Plate> plates;    ///< in the order of painting, each on a sheet of its own
    std::optional<SheetId> jig;   ///< the last sheet
    std::vector<std::string> why; ///< which colours need two plates, and why
};
/// Each coloured layer of the sheet at hand as a plate that lets its areas fall out: what lies under others is painted
/// first, larger colours before smaller where none does. A colour that lies over another in one place and under it in
/// another, or over another by way of a third, gets two plates. Three register pins, the same on all, tell which side
/// is up. The first plate stays on the sheet, the others come on sheets behind it; all lie at the same place. Steps are
/// added when there are none. A problem when there is no coloured layer with closed pieces, or the sheet is too small.
[[nodiscard]] Result<Plates> withPlates(const Job& job, const PlatesWish& wish);

/// The closed pieces of coloured layers on the sheet at hand that have islands: openings that would fall out with them.
[[nodiscard]] std::vector<artwork::ItemId> islandsIn(const Job& job);

} // namespace ferro::job
