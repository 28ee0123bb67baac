#include "trace/accept.h"

#include "artwork/edits.h"

namespace ferro::trace {

namespace {
Box boxBy(const Box& box, const Transform& by) {
    Box out;
    if (box.empty()) return out;
    for (const Vec2 corner : {box.low, Vec2{box.high.x, box.low.y}, box.high, Vec2{box.low.x, box.high.y}})
        out.take(by(corner));
    return out;
}
Recipe by(Recipe recipe, const Transform& place) {
    recipe.whole.only = boxBy(recipe.whole.only, place);
    for (auto& patch : recipe.patches) {
        patch.settings.only = boxBy(patch.settings.only, place);
        for (Vec2& p : patch.area) p = place(p);
    }
    return recipe;
}
/// Lengths in mm on the sheet, however the picture was scaled.
Settings ownLengths(Settings settings, double scale) {
    if (settings.speck > 0) settings.speck /= scale * scale;
    settings.followWithin /= scale;
    settings.lineWidth /= scale;
    return settings;
}
} // namespace

Recipe recipeOf(const artwork::Item& picture) { return picture.recipe ? *picture.recipe : Recipe{}; }
Recipe onSheet(const artwork::Item& picture, Recipe recipe) { return by(std::move(recipe), picture.place); }
Recipe onPicture(const artwork::Item& picture, Recipe recipe) {
    const auto back = picture.place.inverse();
    return back ? by(std::move(recipe), *back) : recipe;
}

Result<artwork::Artwork> withRecipe(const artwork::Artwork& artwork, artwork::ItemId picture, const Recipe& recipe) {
    if (auto fine = artwork::checked(recipe); !fine) return fine.problem();
    artwork::Artwork out = artwork;
    for (auto& item : out.items)
        if (item.id == picture && artwork::pictureOf(item)) {
            item.recipe = recipe == Recipe{} ? nullptr : std::make_shared<const Recipe>(recipe);
            return out;
        }
    return Problem{
        .what = fmt::format("Item {} is no picture.", picture.value), .where = {}, .mend = "Choose a picture."};
}

Result<Traced> tracedItem(const artwork::Item& item, const Recipe& recipe, Progress& progress) {
    const auto* leaf = artwork::pictureOf(item);
    if (!leaf)
        return Problem{.what = fmt::format("“{}” is no picture.", item.name), .where = {}, .mend = "Choose a picture."};
    const double scale = std::sqrt(std::abs(item.place.determinant()));
    std::vector<Patch> patches = recipe.patches;
    for (auto& patch : patches) patch.settings = ownLengths(patch.settings, scale);
    auto result = traced(leaf->picture, artwork::ownPxPerMm(*leaf), ownLengths(recipe.whole, scale), progress, patches);
    if (!result) return result;
    for (auto& piece : result->pieces) piece = transformed(piece, item.place);
    for (auto& line : result->widths)
        for (double& width : line) width *= scale;
    result->largestMiss *= scale;
    result->speck *= scale * scale;
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
