#include "artwork/listing.h"

#include <algorithm>

namespace ferro::artwork {

namespace {

/// Builds the lines in drawing order; a group's line is made when the first item in it comes.
class Lister {
public:
    Lister(const Artwork& artwork, const std::function<bool(const std::string&)>& wanted)
        : artwork_(artwork), wanted_(wanted) {
        for (const auto& group : artwork.groups) groups_[group.id] = &group;
    }
    Listing listed() && {
        for (const auto& layer : artwork_.layers) {
            lineOf_[{layer.id, {}}] = out_.lines.size();
            shows_.push_back(!wanted_ || wanted_(layer.name));
            out_.lines.push_back({Listed::Kind::layer, layer.id.value});
        }
        for (const auto& item : artwork_.items) {
            if (item.sheet != artwork_.sheet || !lineOf_.contains({item.layer, {}})) continue;
            const std::size_t above = lineFor(item.layer, item.group);
            const bool shows = shows_[above] || wanted_(item.name);
            if (!shows) continue;
            add({Listed::Kind::item, item.id.value, above}, true);
        }
        // A group stands there when it holds anything, a layer when it is wanted too. What is under a line comes after.
        for (std::size_t i = out_.lines.size(); i-- > 0;)
            std::erase_if(out_.lines[i].under, [&](std::size_t k) {
                return out_.lines[k].kind == Listed::Kind::group && out_.lines[k].under.empty();
            });
        for (std::size_t i = 0; i < artwork_.layers.size(); ++i)
            if (shows_[i] || !out_.lines[i].under.empty()) out_.top.push_back(i);
        return std::move(out_);
    }

private:
    std::size_t add(Listed line, bool shows) {
        out_.lines[line.within].under.push_back(out_.lines.size());
        out_.lines.push_back(std::move(line));
        shows_.push_back(shows);
        return out_.lines.size() - 1;
    }
    std::size_t lineFor(LayerId layer, GroupId group) {
        std::vector<const Group*> missing; // from the inside out
        while (!lineOf_.contains({layer, group})) {
            const auto found = groups_.find(group);
            if (found == groups_.end()) break; // a group that is not told of
            missing.push_back(found->second);
            group = found->second->parent;
        }
        const auto known = lineOf_.find({layer, group});
        std::size_t above = known != lineOf_.end() ? known->second : lineOf_[{layer, {}}];
        for (; !missing.empty(); missing.pop_back()) {
            const bool shows = shows_[above] || wanted_(missing.back()->name);
            above = lineOf_[{layer, missing.back()->id}] =
                add({Listed::Kind::group, missing.back()->id.value, above}, shows);
        }
        return above;
    }

    const Artwork& artwork_;
    const std::function<bool(const std::string&)>& wanted_;
    std::map<GroupId, const Group*> groups_;
    std::map<std::pair<LayerId, GroupId>, std::size_t> lineOf_;
    std::vector<char> shows_; ///< by line: all it holds is wanted
    Listing out_;
};

void sort(Listing& listing, const Artwork& artwork, ListOrder order, bool descending) {
    std::map<std::uint32_t, const std::string*> names;
    for (const auto& group : artwork.groups) names[group.id.value] = &group.name;
    for (const auto& layer : artwork.layers) names[layer.id.value] = &layer.name;
    std::vector<double> weights(listing.lines.size());
    std::map<std::uint32_t, const Item*> items;
    for (const auto& item : artwork.items) items[item.id.value] = &item, names[item.id.value] = &item.name;
    for (std::size_t i = listing.lines.size(); i-- > 0;) { // what is under a line comes after it
        const auto& line = listing.lines[i];
        if (line.kind == Listed::Kind::item) {
            const Item& item = *items[line.id];
            const Box box = boundsOf(item);
            const auto* shape = shapeOf(item);
            if (order == ListOrder::size) weights[i] = box.width() * box.height();
            if (order == ListOrder::points) weights[i] = shape ? static_cast<double>(pointsOf(shape->piece)) : 0;
        }
        if (line.within != Listed::none) weights[line.within] += weights[i];
    }
    const auto before = [&](std::size_t a, std::size_t b) {
        if (order == ListOrder::name) return *names[listing.lines[a].id] < *names[listing.lines[b].id];
        return weights[a] < weights[b];
    };
    const auto arrange = [&](std::vector<std::size_t>& lines) {
        std::stable_sort(lines.begin(), lines.end(),
                         [&](std::size_t a, std::size_t b) { return descending ? before(b, a) : before(a, b); });
    };
    arrange(listing.top);
    for (auto& line : listing.lines) arrange(line.under);
}

} // namespace

Listing listingOf(const Artwork& artwork, const std::function<bool(const std::string&)>& wanted, ListOrder order,
                  bool descending) {
    auto out = Lister(artwork, wanted).listed();
    if (order != ListOrder::drawing) sort(out, artwork, order, descending);
    const auto number = [&](const std::vector<std::size_t>& lines) {
        for (std::size_t k = 0; k < lines.size(); ++k) out.lines[lines[k]].place = k;
    };
    number(out.top);
    for (const auto& line : out.lines) number(line.under);
    return out;
}

std::string_view sortOf(const Item& item) {
    if (item.of) return "copy";
    const auto* shape = shapeOf(item);
    if (!shape) return "picture";
    if (shape->piece.outline.segments.empty()) return "dot";
    return shape->piece.outline.closed ? "outline" : "line";
}

std::vector<ItemId> itemsUnder(const Listing& listing, std::size_t line) {
    std::vector<ItemId> all;
    std::vector<std::size_t> ahead{line};
    while (!ahead.empty()) {
        const auto& here = listing.lines[ahead.back()];
        ahead.pop_back();
        if (here.kind == Listed::Kind::item) all.push_back(ItemId{here.id});
        ahead.insert(ahead.end(), here.under.begin(), here.under.end());
    }
    std::sort(all.begin(), all.end());
    return all;
}

} // namespace ferro::artwork
