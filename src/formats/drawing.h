#pragma once

#include "artwork/edits.h"

namespace ferro::formats {

/// What a drawing file holds, at its real size: mm, y up.
struct Drawing {
    struct Item {
        std::vector<Piece> pieces; ///< of one element of the file
        std::string layer, name;
    };
    std::vector<Item> items;     ///< in the file's order
    Vec2 size;                   ///< mm of the page, 0 where it tells none
    std::vector<Notice> notices; ///< what could not be taken over, each kind once
};

/// Adds all of a drawing to an artwork; pieces of one element become a group. Layers are made by name.
[[nodiscard]] artwork::Added withDrawing(const artwork::Artwork& artwork, const Drawing& drawing);

} // namespace ferro::formats
