#include "trace/accept.h"

#include "artwork/copies.h"
#include "geometry/spatial.h"

#include <map>
#include <set>

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

namespace {

/// What two boxes have in common, as a part of what they cover together; lines have a little width for it.
double likeness(const Box& a, const Box& b) {
    constexpr double least = 0.05; // mm
    const Box p = a.grown(least), q = b.grown(least);
    const double w = std::min(p.high.x, q.high.x) - std::max(p.low.x, q.low.x);
    const double h = std::min(p.high.y, q.high.y) - std::max(p.low.y, q.low.y);
    if (w <= 0 || h <= 0) return 0;
    return w * h / (p.width() * p.height() + q.width() * q.height() - w * h);
}

/// Each box of `fresh` with the box of `old` that it lies on, -1 for none: the likest pairs first, each box once.
std::vector<std::ptrdiff_t> pairedByPlace(const std::vector<Box>& fresh, const std::vector<Box>& old) {
    constexpr double alike = 0.6;
    struct Pair {
        double likeness;
        std::size_t fresh, old;
    };
    std::vector<Pair> pairs;
    const SpatialIndex index(old);
    for (std::size_t i = 0; i < fresh.size(); ++i)
        for (const auto k : index.meeting(fresh[i].grown(0.05)))
            if (const double l = likeness(fresh[i], old[k]); l >= alike) pairs.push_back({l, i, k});
    std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
        return std::tuple(-a.likeness, a.fresh, a.old) < std::tuple(-b.likeness, b.fresh, b.old);
    });
    std::vector<std::ptrdiff_t> of(fresh.size(), -1);
    std::vector<char> taken(old.size(), 0);
    for (const auto& pair : pairs) {
        if (of[pair.fresh] >= 0 || taken[pair.old]) continue;
        of[pair.fresh] = static_cast<std::ptrdiff_t>(pair.old);
        taken[pair.old] = 1;
    }
    return of;
}

/// The pieces just accepted, told where they came from; those of the trace before give way to them.
void replaceBefore(Accepted& now, const artwork::Artwork& before, artwork::ItemId picture) {
    const auto* source = artwork::find(before, picture);
    const auto back = source ? source->place.inverse() : std::nullopt;
    if (!back) return;
    std::vector<const artwork::Item*> old;
    std::vector<Box> was, is;
    for (const auto& item : before.items)
        if (item.origin && item.origin->picture == picture) old.push_back(&item), was.push_back(item.origin->was);
    std::vector<artwork::Item*> fresh;
    for (auto& item : now.artwork.items)
        if (item.id.value > before.lastId) {
            item.origin = artwork::Origin{picture, boxBy(artwork::boundsOf(item), *back), artwork::printOf(item)};
            is.push_back(item.origin->was);
            fresh.push_back(&item);
        }
    now.unknown = source->underlay && old.empty();
    const auto paired = pairedByPlace(is, was);
    std::set<artwork::ItemId> drop;
    std::map<artwork::ItemId, artwork::Item> shapes; // of old ones, by their number
    now.ids.clear();
    for (std::size_t i = 0; i < fresh.size(); ++i) {
        if (paired[i] < 0) {
            now.ids.push_back(fresh[i]->id);
            continue;
        }
        const auto& twin = *old[static_cast<std::size_t>(paired[i])];
        now.ids.push_back(twin.id);
        drop.insert(fresh[i]->id);
        if (artwork::printOf(twin) != twin.origin->print) {
            now.kept.push_back(twin.id);
            continue;
        }
        artwork::Item next = twin;
        next.leaf = fresh[i]->leaf;
        next.place = fresh[i]->place;
        next.original = fresh[i]->original;
        next.origin = fresh[i]->origin;
        next.origin->print = artwork::printOf(next); // of its own sheet
        shapes.emplace(twin.id, std::move(next));
    }
    now.replaced = shapes.size();
    now.added = fresh.size() - drop.size();
    const std::set<artwork::ItemId> kept(now.kept.begin(), now.kept.end());
    for (const auto* item : old) {
        if (shapes.contains(item->id) || kept.contains(item->id)) continue;
        if (artwork::printOf(*item) == item->origin->print)
            drop.insert(item->id), ++now.gone;
        else
            now.kept.push_back(item->id), now.ids.push_back(item->id);
    }
    auto& items = now.artwork.items;
    std::erase_if(items, [&](const artwork::Item& item) { return drop.contains(item.id); });
    for (auto& item : items)
        if (const auto next = shapes.find(item.id); next != shapes.end()) item = next->second;
    now.artwork = artwork::followed(before, std::move(now.artwork)); // copies
    if (!old.empty()) { // layers that the new pieces were to go on, and do not
        std::set<artwork::LayerId> used, had;
        for (const auto& item : items) used.insert(item.layer);
        for (const auto& layer : before.layers) had.insert(layer.id);
        std::erase_if(now.artwork.layers,
                      [&](const auto& layer) { return !used.contains(layer.id) && !had.contains(layer.id); });
    }
    artwork::dropEmptyGroups(now.artwork);
}

} // namespace

std::string Accepted::words() const {
    if (unknown) return "It was traced before, and what came of that is not known: look for doubled pieces in Mend.";
    if (replaced + gone + kept.size() == 0) return {};
    std::string text =
        fmt::format("{} of the trace before {} the new shape",
                    replaced == 1 ? "1 piece" : fmt::format("{} pieces", replaced), replaced == 1 ? "has" : "have");
    if (added) text += fmt::format(", {} {} new", added, added == 1 ? "is" : "are");
    if (gone) text += fmt::format(", {} {} gone", gone, gone == 1 ? "is" : "are");
    if (kept.empty()) return text + ".";
    text += fmt::format("; {} changed by hand since {} as {}: ", kept.size(), kept.size() == 1 ? "stays" : "stay",
                        kept.size() == 1 ? "it is" : "they are");
    constexpr std::size_t most = 3;
    for (std::size_t i = 0; i < std::min(most, kept.size()); ++i) {
        const auto* item = artwork::find(artwork, kept[i]);
        text += fmt::format("{}“{}”", i ? ", " : "", item ? item->name : "");
    }
    return text + (kept.size() > most ? fmt::format(" and {} more.", kept.size() - most) : ".");
}

Accepted withAccepted(const artwork::Artwork& artwork, artwork::ItemId picture, const Traced& traced,
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
    const auto count = added.ids.size();
    Accepted done{std::move(added.artwork), std::move(added.ids), 0, count};
    replaceBefore(done, artwork, picture);
    return done;
}

} // namespace ferro::trace
