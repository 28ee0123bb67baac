#pragma once

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

/// Takes a trace over: the pieces go on `layer`, or those of each colour on a layer of that colour's name; the picture
/// becomes a locked, faded underlay.
[[nodiscard]] artwork::Artwork withAccepted(const artwork::Artwork& artwork, artwork::ItemId picture,
                                            const Traced& traced, std::string_view layer);

} // namespace ferro::trace
