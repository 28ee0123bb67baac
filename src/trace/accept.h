#pragma once

#include "artwork/edits.h"
#include "trace/trace.h"

namespace ferro::trace {

/// How a picture item is traced: what is kept with it, or as any is at first.
[[nodiscard]] Recipe recipeOf(const artwork::Item& picture);
/// The recipe with its areas where they lie on the sheet, and back.
[[nodiscard]] Recipe onSheet(const artwork::Item& picture, Recipe recipe);
[[nodiscard]] Recipe onPicture(const artwork::Item& picture, Recipe recipe);
/// Keeps a recipe with a picture, its areas in the picture's own coordinates.
[[nodiscard]] Result<artwork::Artwork> withRecipe(const artwork::Artwork& artwork, artwork::ItemId picture,
                                                  const Recipe& recipe);
/// Traces a picture item where and as large as it lies on the sheet; pieces come back in sheet coordinates.
[[nodiscard]] Result<Traced> tracedItem(const artwork::Item& item, const Recipe& recipe, Progress& progress);

/// What became of a trace that was taken over.
struct Accepted {
    artwork::Artwork artwork;
    artwork::Ids ids;         ///< all that now comes of the trace, drawn order
    std::size_t replaced = 0; ///< pieces of the trace before, untouched since, that have the new shape
    std::size_t added = 0;
    std::size_t gone = 0;   ///< untouched ones that the new trace does not find any more
    artwork::Ids kept = {}; ///< changed by hand since: left as they are, instead of what the trace now finds
    bool unknown = false;   ///< the picture was traced before, and nothing tells what came of that
    [[nodiscard]] std::string words() const; ///< empty where the picture had no trace before
};
/// Takes a trace over: the pieces go on `layer`, or those of each colour on a layer of that colour's name; the picture
/// becomes a locked, faded underlay. Pieces of a trace before are found by where they lay on the picture: untouched
/// ones take the new shape and keep their number, name, layer, group and what is known of them as parts.
[[nodiscard]] Accepted withAccepted(const artwork::Artwork& artwork, artwork::ItemId picture, const Traced& traced,
                                    std::string_view layer);

} // namespace ferro::trace
