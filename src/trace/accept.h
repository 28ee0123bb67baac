#pragma once

#include "trace/trace.h"

namespace ferro::trace {

/// Traces a picture item where and as large as it lies on the sheet; pieces come back in sheet coordinates.
/// Areas, too, are where they lie on the sheet then.
[[nodiscard]] Result<Traced> tracedItem(const artwork::Item& item, const Settings& settings, Progress& progress,
                                        const std::vector<Patch>& patches = {});

/// Takes a trace over: the pieces go on `layer`, or those of each colour on a layer of that colour's name; the picture
/// becomes a locked, faded underlay.
[[nodiscard]] artwork::Artwork withAccepted(const artwork::Artwork& artwork, artwork::ItemId picture,
                                            const Traced& traced, std::string_view layer);

} // namespace ferro::trace
