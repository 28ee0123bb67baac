#pragma once

#include "formats/cut_list.h"
#include "formats/drawing.h"

namespace ferro::formats {

/// The drawings of a cut list as parts: each row's drawing as a group of its own, named and told its facts, one beside
/// the other. What cannot be read is a problem with its line: a kit that lacks a part is none.
struct Kit {
    artwork::Artwork artwork;
    artwork::Ids ids;
    std::size_t drawings = 0, parts = 0; ///< files, and parts that are wanted in all
    std::vector<Notice> notices;         ///< what a person must look at
};
struct KitReader {
    std::function<Result<std::string>(const std::string& file)> bytes;
    /// The key of a material by how the list calls it.
    std::function<std::optional<std::string>(std::string_view)> material;
    /// Adds a drawing, its loose lines joined; none: as it is drawn.
    std::function<artwork::Added(const artwork::Artwork&, const Drawing&)> add = {};
    DrawingOptions options = {};
};
[[nodiscard]] Result<Kit> withCutList(const artwork::Artwork& artwork, const CutList& list, const KitReader& reader,
                                      Progress& progress);

} // namespace ferro::formats
