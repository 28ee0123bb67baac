#include "trace/accept.h"

#include "artwork/edits.h"

namespace ferro::trace {

Result<Traced> tracedItem(const artwork::Item& item, const Settings& settings, Progress& progress) {
    const auto* leaf = artwork::pictureOf(item);
    if (!leaf)
        return Problem{.what = fmt::format("“{}” is no picture.", item.name), .where = {}, .mend = "Choose a picture."};
    // Settings in mm mean mm on the sheet, however the picture was scaled.
    const double scale = std::sqrt(std::abs(item.place.determinant()));
    const double own = leaf->picture.width / leaf->size.x;
    Settings inOwn = settings;
    inOwn.speck /= scale * scale;
    inOwn.followWithin /= scale;
    auto result = traced(picture::greyOf(leaf->picture), own, inOwn, progress);
    if (!result) return result;
    for (auto& piece : result->pieces) piece = transformed(piece, item.place);
    for (auto& line : result->widths)
        for (double& width : line) width *= scale;
    result->largestMiss *= scale;
    return result;
}

artwork::Artwork withAccepted(const artwork::Artwork& artwork, artwork::ItemId picture, const Traced& traced,
                              std::string_view layer) {
    const auto* source = artwork::find(artwork, picture);
    std::string name = source ? source->name : "trace";
    if (const auto dot = name.rfind('.'); dot != std::string::npos) name = name.substr(0, dot);
    std::vector<artwork::NamedPieces> sets(1);
    sets[0] = {traced.pieces, std::string(layer), name, false, traced.widths};
    auto added = artwork::withAllPieces(artwork, std::move(sets));
    for (auto& item : added.artwork.items)
        if (item.id == picture) item.locked = item.underlay = true;
    return std::move(added.artwork);
}

} // namespace ferro::trace
