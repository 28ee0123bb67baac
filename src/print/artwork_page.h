#pragma once

#include "job/job.h"

namespace ferro::print {

/// The sheet at hand as it is to be printed, to be cut where its marks are found (need CU16): its pictures, its notes
/// with the marks, and all pieces that no step of the program takes, filled in their layers' colours; what is cut is
/// left out unless `cutLines`.
struct ArtworkPage {
    bool cutLines = false; ///< printed too, as lines of 0.1 mm
};
/// A PDF of the sheet's exact size. The same job gives the same bytes. A problem when nothing is to be printed.
[[nodiscard]] Result<std::string> artworkPdf(const job::Job& job, const ArtworkPage& wish);
/// The same as a picture, up to 100 megapixels.
[[nodiscard]] Result<picture::Picture> artworkPicture(const job::Job& job, const ArtworkPage& wish, double pxPerMm);

} // namespace ferro::print
