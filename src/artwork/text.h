#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

/// Faces that are always there, by the names that a lettering uses; the last is of single lines, for scribing.
[[nodiscard]] const std::vector<std::string>& shippedFaces();

/// The pieces of a text: its first line's baseline begins (or has its middle, or ends) at 0, 0, the next lie below;
/// along a line, it follows that. Shaped by HarfBuzz: kerning and ligatures as the face has them. Letters with openings
/// are pieces with openings, those of the single-line face open lines. `notice`: what the face lacks. An unknown face
/// is a problem with the names there are; a face may also be the file of a font.
struct Lettered {
    std::vector<Piece> pieces;
    double advance = 0; ///< mm from where the last line begins to where the next letter would
    std::vector<Notice> notices;
};
[[nodiscard]] Result<Lettered> lettered(const Lettering& lettering);
/// mm of cap height for each mm of em, for sizes that are told as an em; 0.7 for an unknown face.
[[nodiscard]] double capHeightOf(const std::string& face);

/// Puts a text on the drawing as a group that stays a text until it is ungrouped: its outlines travel with the job.
[[nodiscard]] Result<Added> withText(const Artwork& artwork, const Lettering& lettering, Vec2 at,
                                     std::string_view layer);
/// Other words, face or size for a text; it stays where it is.
[[nodiscard]] Result<Artwork> withTextChanged(const Artwork& artwork, GroupId group, const Lettering& lettering);

} // namespace ferro::artwork
