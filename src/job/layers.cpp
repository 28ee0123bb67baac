#include "job/layers.h"

namespace ferro::job {

namespace {

Result<void> checkedName(const Job& job, artwork::LayerId own, std::string_view name) {
    if (name.empty() || name.size() > 200)
        return Problem{.what = "A layer needs a name of up to 200 letters.", .where = {}, .mend = {}};
    if (name.find_first_of("*,") != std::string_view::npos)
        return Problem{.what = fmt::format("A layer cannot be called “{}”.", name),
                       .where = {},
                       .mend = "Leave out * and commas: steps name layers with them."};
    const auto* other = artwork::layerNamed(*job.artwork, name);
    if (other && other->id != own)
        return Problem{.what = fmt::format("There is a layer “{}” already.", name),
                       .where = {},
                       .mend = "Put the pieces on that one, or use another name."};
    return {};
}
Problem noLayer(artwork::LayerId id) {
    return {.what = fmt::format("There is no layer {}.", id.value), .where = {}, .mend = {}};
}

} // namespace

Result<Job> withLayerFacts(const Job& job, artwork::LayerId id, const artwork::Layer& facts) {
    const auto* was = artwork::find(*job.artwork, id);
    if (!was) return noLayer(id);
    if (facts.name != was->name)
        if (auto fine = checkedName(job, id, facts.name); !fine) return fine.problem();
    if (!facts.colour.empty())
        if (auto colour = artwork::colourFrom(facts.colour); !colour) return colour.problem();
    artwork::Artwork art = *job.artwork;
    for (auto& layer : art.layers)
        if (layer.id == id) layer = facts, layer.id = id;
    Job out = withArtwork(job, std::move(art));
    for (auto& step : out.plan.steps)
        for (auto& name : step.rule.layers)
            if (name == was->name) name = facts.name;
    return out;
}

Result<Job> withLayerAdded(const Job& job, std::string_view name) {
    if (auto fine = checkedName(job, {}, name); !fine) return fine.problem();
    artwork::Artwork art = *job.artwork;
    art.layers.push_back({.id = {++art.lastId}, .name = std::string(name), .colour = {}});
    return withArtwork(job, std::move(art));
}

Result<Job> withoutLayer(const Job& job, artwork::LayerId id) {
    if (!artwork::find(*job.artwork, id)) return noLayer(id);
    const auto& items = job.artwork->items;
    const auto on = std::count_if(items.begin(), items.end(), [&](const auto& item) { return item.layer == id; });
    if (on > 0)
        return Problem{.what = fmt::format("{} still {} on it.", on == 1 ? "A piece" : fmt::format("{} pieces", on),
                                           on == 1 ? "lies" : "lie"),
                       .where = {},
                       .mend = "Put them on another layer, or delete them."};
    artwork::Artwork art = *job.artwork;
    std::erase_if(art.layers, [&](const artwork::Layer& layer) { return layer.id == id; });
    return withArtwork(job, std::move(art));
}

} // namespace ferro::job
