#include "formats/drawing.h"

namespace ferro::formats {

artwork::Added withDrawing(const artwork::Artwork& artwork, const Drawing& drawing) {
    std::vector<artwork::NamedPieces> sets;
    sets.reserve(drawing.items.size());
    for (const auto& item : drawing.items) sets.push_back({item.pieces, item.layer, item.name, true});
    return artwork::withAllPieces(artwork, std::move(sets));
}

} // namespace ferro::formats
