#include "formats/drawing.h"

#include "artwork/edits.h"

namespace ferro::formats {

artwork::Artwork withDrawing(const artwork::Artwork& artwork, const Drawing& drawing, artwork::ItemId* firstNew) {
    artwork::Artwork out = artwork;
    if (firstNew) *firstNew = {out.lastId + 1};
    for (const auto& item : drawing.items) {
        if (item.pieces.empty()) continue;
        auto added = artwork::withPieces(out, item.pieces, item.layer, item.name);
        out = std::move(added.artwork);
        if (added.ids.size() > 1)
            if (auto grouped = artwork::withGrouped(out, added.ids, item.name)) out = std::move(*grouped);
    }
    return out;
}

} // namespace ferro::formats
