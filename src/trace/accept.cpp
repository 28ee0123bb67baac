#include "trace/accept.h"

#include "artwork/edits.h"

namespace ferro::trace {

namespace {
/// Settings in mm mean mm on the sheet, however the picture was scaled; areas lie on the sheet.
Settings ownSettings(const Settings& settings, double scale, const Transform& back) {
    Settings own = settings;
    own.speck /= scale * scale;
    own.followWithin /= scale;
    own.lineWidth /= scale;
    own.only = {};
    if (!settings.only.empty()) {
        const Box& b = settings.only;
        for (const Vec2 corner : {b.low, Vec2{b.high.x, b.low.y}, b.high, Vec2{b.low.x, b.high.y}})
            own.only.take(back(corner));
    }
    return own;
}
} // namespace

Result<Traced> tracedItem(const artwork::Item& item, const Settings& settings, Progress& progress,
                          const std::vector<Patch>& patches) {
    const auto* leaf = artwork::pictureOf(item);
    const auto back = item.place.inverse();
    if (!leaf || !back)
        return Problem{.what = fmt::format("“{}” is no picture.", item.name), .where = {}, .mend = "Choose a picture."};
    const double scale = std::sqrt(std::abs(item.place.determinant()));
    const double own = artwork::ownPxPerMm(*leaf);
    std::vector<Patch> ownPatches;
    for (const auto& patch : patches) {
        ownPatches.push_back({{}, ownSettings(patch.settings, scale, *back)});
        for (const Vec2 p : patch.area) ownPatches.back().area.push_back((*back)(p));
    }
    auto result = traced(leaf->picture, own, ownSettings(settings, scale, *back), progress, ownPatches);
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
    std::vector<artwork::NamedPieces> sets;
    std::size_t at = 0;
    for (const auto& of : traced.layers) { // one layer for each colour
        const auto first = traced.pieces.begin() + static_cast<std::ptrdiff_t>(at);
        sets.push_back(
            {{first, first + static_cast<std::ptrdiff_t>(of.pieces)}, of.name, name + " " + of.name, false, {}});
        at += of.pieces;
    }
    if (sets.empty() || at < traced.pieces.size()) {
        const auto rest = [&](const auto& all) {
            return std::decay_t<decltype(all)>(all.begin() + static_cast<std::ptrdiff_t>(std::min(at, all.size())),
                                               all.end());
        };
        sets.push_back({rest(traced.pieces), std::string(layer), name, false, rest(traced.widths)});
    }
    auto added = artwork::withAllPieces(artwork, std::move(sets));
    for (const auto& of : traced.layers)
        for (auto& made : added.artwork.layers)
            if (made.name == of.name && made.colour.empty()) made.colour = toText(of.colour);
    for (auto& item : added.artwork.items)
        if (item.id == picture) item.locked = item.underlay = true;
    return std::move(added.artwork);
}

} // namespace ferro::trace
