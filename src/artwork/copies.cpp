#include "artwork/copies.h"

#include "geometry/nesting.h"

#include <set>
#include <unordered_map>

namespace ferro::artwork {

namespace {

constexpr int mostCopies = 10'000;

Problem nothingChosen() {
    return {.what = "Nothing is chosen.", .where = {}, .mend = "Choose one or more pieces first."};
}

std::unordered_map<std::uint32_t, const Item*> byId(const Artwork& artwork) {
    std::unordered_map<std::uint32_t, const Item*> map;
    for (const auto& item : artwork.items) map.emplace(item.id.value, &item);
    return map;
}

} // namespace

Result<Added> withCopies(const Artwork& artwork, const Ids& items, Vec2 by, int count) {
    if (!(count >= 1 && count <= mostCopies))
        return Problem{
            .what = fmt::format("{} copies cannot be made.", count), .where = {}, .mend = "Ask for 1 to 10 000."};
    std::vector<Transform> maps;
    for (int n = 1; n <= count; ++n) maps.push_back(Transform::moved(by * n));
    return withCopiesAt(artwork, items, maps);
}

Result<Added> withCopiesAt(const Artwork& artwork, const Ids& items, std::span<const Transform> maps) {
    if (maps.empty() || maps.size() > mostCopies)
        return Problem{
            .what = fmt::format("{} copies cannot be made.", maps.size()), .where = {}, .mend = "Ask for 1 to 10 000."};
    if (items.size() * maps.size() > 1'000'000)
        return Problem{.what = "That would be more than a million pieces.", .where = {}, .mend = "Ask for fewer."};
    for (const auto& map : maps)
        if (!map.inverse()) return Problem{.what = "A copy would be flat.", .where = {}, .mend = {}};
    auto all = withDuplicates(artwork, items, {});
    if (!all) return all;
    // The first ones stand at the end, in the order of what they were made of.
    const std::set<ItemId> wanted(items.begin(), items.end());
    auto& out = all->artwork;
    const std::size_t first = out.items.size() - all->ids.size(), end = out.items.size();
    std::size_t at = first;
    for (const auto& item : artwork.items)
        if (wanted.contains(item.id)) {
            out.items[at].of = item.of ? item.of : item.id;
            out.items[at++].part = nullptr;
        }
    const std::vector<Item> models(out.items.begin() + static_cast<std::ptrdiff_t>(first), out.items.end());
    for (std::size_t i = first; i < end; ++i) out.items[i].place = maps[0] * out.items[i].place;
    // The others are the first ones, elsewhere: the artwork is not copied anew for each of thousands.
    const std::size_t firstGroup = artwork.groups.size(), endGroup = out.groups.size();
    for (const auto& map : maps.subspan(1)) {
        std::unordered_map<std::uint32_t, GroupId> twins;
        for (std::size_t g = firstGroup; g < endGroup; ++g) {
            Group twin = out.groups[g];
            twin.id = {++out.lastId};
            twins[out.groups[g].id.value] = twin.id;
            out.groups.push_back(std::move(twin));
        }
        for (const auto& model : models) {
            Item copy = model;
            copy.id = {++out.lastId};
            copy.place = map * copy.place;
            if (copy.group) copy.group = twins.at(copy.group.value);
            all->ids.push_back(copy.id);
            out.items.push_back(std::move(copy));
        }
    }
    return all;
}

Result<Artwork> withOwnShapes(const Artwork& artwork, const Ids& items) {
    if (items.empty()) return nothingChosen();
    const std::set<ItemId> wanted(items.begin(), items.end());
    Artwork out = artwork;
    bool any = false;
    for (auto& item : out.items)
        if (item.of && wanted.contains(item.id)) {
            if (const auto& part = partOf(artwork, item); !(part == Part{}))
                item.part = std::make_shared<const Part>(part);
            item.of = {}, any = true;
        }
    if (!any)
        return Problem{.what = "No copy is chosen.", .where = {}, .mend = "Choose a copy; originals are their own."};
    return out;
}

Ids kinOf(const Artwork& artwork, ItemId id) {
    const auto* item = find(artwork, id);
    if (!item) return {};
    const ItemId original = item->of ? item->of : id;
    Ids out{original};
    for (const auto& other : artwork.items)
        if (other.of == original) out.push_back(other.id);
    return out;
}

Artwork followed(const Artwork& before, Artwork after) {
    if (std::none_of(after.items.begin(), after.items.end(), [](const Item& item) { return bool(item.of); }))
        return after;
    const auto was = byId(before);
    std::unordered_map<std::uint32_t, Item*> now;
    for (auto& item : after.items) now.emplace(item.id.value, &item);

    // Which item now speaks for an original, and which shape it had before the edit.
    std::unordered_map<std::uint32_t, std::vector<Item*>> copies;
    for (auto& item : after.items) {
        if (!item.of) continue;
        const auto old = was.find(item.id.value);
        const auto original = was.find(item.of.value);
        // Made by this edit, and not by copying: a rest of a copy that was taken apart.
        const bool rest = old == was.end() && original != was.end() && original->second->leaf != item.leaf;
        if (rest || item.of == item.id)
            item.of = {};
        else
            copies[item.of.value].push_back(&item);
    }
    for (auto& [original, kin] : copies) {
        auto at = now.find(original);
        if (at == now.end()) { // gone: the first copy takes its place, in drawing order
            Item* heir = kin.front();
            heir->of = {};
            if (const auto old = was.find(original); old != was.end() && !heir->part) heir->part = old->second->part;
            kin.erase(kin.begin());
            for (auto* copy : kin) copy->of = heir->id;
            kin.insert(kin.begin(), heir);
        } else {
            at->second->of = {}; // a copy of a copy is one of the original's
            kin.insert(kin.begin(), at->second);
        }
        // The first whose shape is another than before says it for all; its place may have changed with the shape.
        Item* changed = nullptr;
        for (auto* item : kin)
            if (const auto old = was.find(item->id.value); old != was.end() && old->second->leaf != item->leaf) {
                changed = item;
                break;
            }
        Item* model = changed ? changed : kin.front();
        const auto old = was.find(model->id.value);
        const bool rebased = changed && !(old->second->place == changed->place);
        // A place never flattens, so it can be gone back on.
        const Transform shift = rebased ? *old->second->place.inverse() * changed->place : Transform{};
        for (auto* item : kin) {
            if (item == model || item->leaf == model->leaf) continue;
            // What the same edit changed the same way, as scaling all of them does, has its place already.
            const auto own = was.find(item->id.value);
            const bool changedToo = own != was.end() && own->second->leaf != item->leaf;
            if (changedToo) continue;
            item->leaf = model->leaf;
            if (rebased) item->place = item->place * shift, item->original = item->original * shift;
        }
    }
    return after;
}

Result<void> checked(const Part& part) {
    const auto bad = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = "part", .mend = std::move(mend)};
    };
    if (!(part.quantity >= 1 && part.quantity <= 100'000))
        return bad(fmt::format("A part cannot be wanted {} times.", part.quantity), "Give 1 to 100 000.");
    if (!(part.thickness >= 0 && part.thickness < 10'000))
        return bad("A part is not thinner than 0 nor thicker than 10 m.", "Give 0 for any sheet's thickness.");
    return {};
}

Result<Artwork> withPart(const Artwork& artwork, const Ids& items, const Part& part) {
    if (auto fine = checked(part); !fine) return fine.problem();
    if (items.empty()) return nothingChosen();
    const auto all = byId(artwork);
    Ids chosen;
    std::vector<Path> outlines;
    for (const auto id : items) {
        const auto at = all.find(id.value);
        if (at == all.end())
            return Problem{.what = fmt::format("There is no item {}.", id.value),
                           .where = {},
                           .mend = "List the items to see their numbers."};
        if (shapeOf(*at->second)) chosen.push_back(id), outlines.push_back(placed(*at->second).outline);
    }
    if (chosen.empty())
        return Problem{.what = "A picture is no part.", .where = {}, .mend = "Choose a piece that is cut."};
    const auto parents = parentsOf(outlines);
    std::set<ItemId> outermost;
    for (std::size_t i = 0; i < chosen.size(); ++i)
        if (parents[i] < 0) {
            const auto of = all.at(chosen[i].value)->of;
            outermost.insert(of ? of : chosen[i]);
        }
    Artwork out = artwork;
    const auto facts = part == Part{} ? nullptr : std::make_shared<const Part>(part);
    for (auto& item : out.items)
        if (outermost.contains(item.id)) item.part = facts;
    return out;
}

const Part& partOf(const Artwork& artwork, const Item& item) {
    static const Part plain;
    const Item* of = item.of ? find(artwork, item.of) : &item;
    return of && of->part ? *of->part : plain;
}

Result<Artwork> withItemsOn(const Artwork& artwork, const Ids& items, SheetId sheet) {
    if (items.empty()) return nothingChosen();
    for (const auto id : items)
        if (!find(artwork, id))
            return Problem{.what = fmt::format("There is no item {}.", id.value),
                           .where = {},
                           .mend = "List the items to see their numbers."};
    const auto together = withGroupMates(artwork, items);
    const std::set<ItemId> wanted(together.begin(), together.end());
    Artwork out = artwork;
    for (auto& item : out.items) {
        if (!wanted.contains(item.id)) continue;
        if (isLocked(artwork, item))
            return Problem{
                .what = fmt::format("“{}” is locked.", item.name), .where = {}, .mend = "Unlock it, or leave it out."};
        item.sheet = sheet;
    }
    return out;
}

} // namespace ferro::artwork
