#include "job/part_list.h"

#include "artwork/copies.h"
#include "artwork/groups.h"
#include "geometry/nesting.h"

#include <set>

namespace ferro::job {

std::map<artwork::ItemId, artwork::ItemId> outermostOf(const artwork::Artwork& art) {
    std::map<SheetId, std::pair<artwork::Ids, std::vector<Path>>> bySheet;
    for (const auto& item : art.items)
        if (const auto* shape = artwork::shapeOf(item);
            shape && shape->piece.outline.closed && !artwork::isNote(art, item)) {
            bySheet[item.sheet].first.push_back(item.id);
            bySheet[item.sheet].second.push_back(artwork::placed(item).outline);
        }
    std::map<artwork::ItemId, artwork::ItemId> out;
    for (const auto& [sheet, there] : bySheet) {
        const auto parents = parentsOf(there.second);
        for (std::size_t i = 0; i < parents.size(); ++i) {
            std::size_t root = i;
            while (parents[root] >= 0) root = static_cast<std::size_t>(parents[root]);
            out[there.first[i]] = there.first[root];
        }
    }
    return out;
}

std::vector<ListedPart> partListOf(const Job& job) {
    const auto& art = *job.artwork;
    const auto outermost = outermostOf(art);
    const auto groups = artwork::outermostGroups(art);
    const auto groupOf = [&](const artwork::Item& item) {
        const auto at = groups.find(item.group);
        return at == groups.end() ? artwork::GroupId{} : at->second;
    };
    // What an item is a part of: the group that it, or what it lies in, belongs to; else what it lies in.
    using Unit = std::pair<artwork::GroupId, artwork::ItemId>;
    const auto unitOf = [&](const artwork::Item& item) -> std::optional<Unit> {
        const auto root = outermost.find(item.id);
        if (const auto own = groupOf(item)) return Unit{own, {}};
        if (root == outermost.end()) return std::nullopt;
        const auto its = groupOf(*artwork::find(art, root->second));
        return its ? Unit{its, {}} : Unit{{}, root->second};
    };
    std::vector<ListedPart> out;
    std::map<Unit, std::size_t> rows;
    std::map<artwork::ItemId, std::size_t> originals; // row of an outermost outline
    for (const auto& item : art.items) {
        if (item.of || artwork::isNote(art, item)) continue;
        const auto unit = unitOf(item);
        const auto* shape = artwork::shapeOf(item);
        if (!unit || !shape) continue;
        const auto [at, fresh] = rows.try_emplace(*unit, out.size());
        if (fresh) out.push_back({});
        auto& part = out[at->second];
        part.items.push_back(item.id);
        const auto piece = artwork::placed(item);
        part.outlines.push_back(piece.outline);
        for (const auto& opening : piece.openings) part.outlines.push_back(opening);
        part.box.take(artwork::boundsOf(item));
        const auto root = outermost.find(item.id);
        if (part.item || root == outermost.end() || root->second != item.id) continue;
        part.item = item.id;
        part.part = artwork::partOf(art, item);
        const auto group = std::find_if(art.groups.begin(), art.groups.end(),
                                        [&](const artwork::Group& one) { return one.id == unit->first; });
        part.name = group != art.groups.end() && !group->name.empty() ? group->name : item.name;
        const auto* layer = artwork::find(art, item.layer);
        part.layer = layer ? layer->name : "";
        originals[item.id] = at->second;
    }
    std::vector<std::set<SheetId>> where(out.size());
    for (const auto& item : art.items) {
        const auto at = originals.find(item.of ? item.of : item.id);
        if (at == originals.end() || !item.sheet) continue;
        ++out[at->second].laid;
        where[at->second].insert(item.sheet);
    }
    for (std::size_t i = 0; i < out.size(); ++i)
        for (const auto& sheet : job.sheets)
            if (where[i].contains(sheet.id)) out[i].sheets.push_back(sheet.id);
    std::erase_if(out, [](const ListedPart& part) { return !part.item; }); // groups of open lines
    return out;
}

} // namespace ferro::job
