#pragma once

#include "artwork/joints.h"
#include "mend/true_up.h"

namespace ferro::mend {

/// How parts of sheet material shall go together.
struct Fitting {
    double drawnFor = 6;    ///< mm: the thickness that the joints are drawn for
    double sheet = 6;       ///< mm: how thick the sheet is, measured
    double clearance = 0.1; ///< mm that a slot is wider than what goes into it; below 0 for a press fit
};
struct Fits {
    std::vector<artwork::Joint> joints;
    std::vector<Proposal> changes; ///< one for each line that changes, of `Truth::joint`
    std::vector<std::string> left; ///< what stays as it is and why, a sentence each
};
/// What the joints of the named pieces, or of all, become for the sheet: slots and notches as wide as it is thick and
/// the clearance more, slots as long as their tongue and the clearance more; fingers and the tongues between them share
/// it. Done twice it changes nothing the second time. Locked pieces stay as they are.
[[nodiscard]] Fits fitsOf(const artwork::Artwork& artwork, std::span<const artwork::ItemId> items,
                          const Fitting& fitting);

} // namespace ferro::mend
