// Edits that make other shapes of pieces: combining, offsets, bridges; and that bring them into line.
#include "artwork/arrange.h"
#include "cli/bridge_words.h"
#include "cli/text_words.h"
#include "cli/words_internal.h"
#include "geometry/shapes.h"
#include "job/edits.h"
#include "mend/bridges.h"
#include "mend/fits.h"
#include "mend/reshape.h"
#include "mend/true_up.h"

namespace ferro::cli {

Result<mend::BridgeSettings> bridgeSettingsFrom(const job::Job& job, std::span<const std::string> words) {
    mend::BridgeSettings settings;
    for (const auto& word : words) {
        const auto set = assignmentFrom(word);
        if (!set) return set.problem();
        const auto& [name, value] = *set;
        if (name == "width") {
            const auto width = lengthOf(job, value);
            if (!width) return width.problem().within(word);
            settings.width = *width;
        } else if (name == "number") {
            const auto number = parseQuantity(value, Measure::count, job.units);
            if (!number) return number.problem().within(word);
            settings.number = static_cast<int>(*number);
        } else if (name == "areas" && (value == "fall-out" || value == "stay")) {
            settings.areas = value == "stay" ? artwork::Bridged::Areas::stay : artwork::Bridged::Areas::fallOut;
        } else if (name == "lie" && (value == "in-line" || value == "across")) {
            settings.lie = value == "across" ? mend::BridgeSettings::Lie::across : mend::BridgeSettings::Lie::inLine;
        } else {
            return Problem{.what = fmt::format("Bridges have no setting “{}”.", word),
                           .where = {},
                           .mend = "Use width=, number=, areas=fall-out or stay, lie=in-line or across."};
        }
    }
    return settings;
}

namespace {

/// The place of a word among those that are allowed.
template<class Meaning>
Result<Meaning> oneOf(const std::string& word, std::initializer_list<std::pair<std::string_view, Meaning>> allowed) {
    std::string all;
    for (const auto& [name, meaning] : allowed) {
        if (name == word) return meaning;
        all += fmt::format("{}{}", all.empty() ? "" : ", ", name);
    }
    return Problem{.what = fmt::format("“{}” is none of: {}.", word, all), .where = {}, .mend = {}};
}

Result<Job> bridged(const Job& job, const Words& w) {
    auto ids = itemsFrom(job, w[0]);
    if (!ids) return ids.problem();
    auto settings = bridgeSettingsFrom(job, std::span(w).subspan(1));
    if (!settings) return settings.problem();
    Progress progress;
    auto made = mend::withBridges(*job.artwork, *ids, *settings, progress);
    if (!made) return made.problem();
    fmt::print(stderr, "{}\n", made->did);
    return job::withArtwork(job, std::move(made->artwork));
}

Result<Job> bridgeMoved(const Job& job, const Words& w) {
    const auto group = idFrom(w[0]), index = idFrom(w[1]);
    if (!group) return group.problem();
    if (!index) return index.problem();
    const auto to = lengths(job, w, 2, 2);
    if (!to) return to.problem();
    return job::withArtwork(job, mend::withBridgeMoved(*job.artwork, {*group}, *index, {(*to)[0], (*to)[1]}));
}

Result<Job> unbridged(const Job& job, const Words& w) {
    const auto group = idFrom(w[0]);
    if (!group) return group.problem();
    if (w.size() < 2) return job::withArtwork(job, mend::withoutBridges(*job.artwork, {*group}));
    const auto index = idFrom(w[1]);
    if (!index) return index.problem();
    return job::withArtwork(job, mend::withoutBridge(*job.artwork, {*group}, *index));
}

Result<artwork::Artwork> combined(const Job& job, const artwork::Ids& ids, const Words& w) {
    using mend::Together;
    const auto how = oneOf<Together>(w[1], {{"join", Together::join},
                                            {"take-away", Together::takeAway},
                                            {"overlap", Together::overlap},
                                            {"split", Together::split}});
    if (!how) return how.problem();
    return mend::withCombined(*job.artwork, ids, *how);
}

Result<artwork::Artwork> offsetBy(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto by = lengthOf(job, w[1]);
    if (!by) return by.problem();
    const auto corner = oneOf<Corner>(w.size() > 2 ? w[2] : "round",
                                      {{"round", Corner::round}, {"sharp", Corner::sharp}, {"flat", Corner::flat}});
    if (!corner) return corner.problem();
    auto added = mend::withOffset(*job.artwork, ids, *by, *corner);
    if (!added) return added.problem();
    return std::move(added->artwork);
}

Result<artwork::Artwork> widenedTo(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto width = lengthOf(job, w[1]);
    if (!width) return width.problem();
    const auto cap = oneOf<Cap>(w.size() > 2 ? w[2] : "round",
                                {{"round", Cap::round}, {"flat", Cap::flat}, {"square", Cap::square}});
    if (!cap) return cap.problem();
    return mend::withLinesWidened(*job.artwork, ids, *width, *cap);
}

Result<artwork::Artwork> negative(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto margin = lengthOf(job, w[1]);
    if (!margin) return margin.problem();
    const auto corner = w.size() > 2 ? lengthOf(job, w[2]) : Result<double>(0.0);
    if (!corner) return corner.problem();
    return mend::withNegative(*job.artwork, ids, *margin, *corner);
}

Result<artwork::Artwork> truedUp(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto within = lengthOf(job, w[1]);
    if (!within) return within.problem();
    std::vector<mend::Truth> kinds;
    for (std::string_view rest = w.size() > 2 ? std::string_view(w[2]) : std::string_view(); !rest.empty();) {
        const auto comma = std::min(rest.find(','), rest.size());
        const auto kind = mend::truthFrom(rest.substr(0, comma));
        if (!kind)
            return Problem{.what = fmt::format("There is no truth “{}”.", rest.substr(0, comma)),
                           .where = {},
                           .mend = "Use circle, rectangle, arc, straight, level, symmetry, size or centre."};
        kinds.push_back(*kind);
        rest.remove_prefix(std::min(comma + 1, rest.size()));
    }
    auto found = mend::proposals(*job.artwork, ids, *within);
    std::erase_if(found, [&](const mend::Proposal& p) {
        return !kinds.empty() && std::find(kinds.begin(), kinds.end(), p.truth) == kinds.end();
    });
    for (const auto& p : found) fmt::print(stderr, "{}\n", p.what);
    return mend::withTruedUp(*job.artwork, found);
}

/// “6 snug”: slots and notches that were drawn for 6 mm become as wide as the stock is thick and the fit more.
Result<artwork::Artwork> jointsFitted(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto drawnFor = lengthOf(job, w[1]);
    if (!drawnFor) return drawnFor.problem();
    const auto& material = job::materialOf(job);
    const std::string fit = w.size() > 2 ? w[2] : "snug";
    auto clearance = fit == "press"   ? material.pressFit
                     : fit == "snug"  ? material.snugFit
                     : fit == "loose" ? material.looseFit
                                      : Result<double>(lengthOf(job, fit));
    if (!clearance) return clearance.problem();
    const auto fits = mend::fitsOf(*job.artwork, ids, {*drawnFor, job.sheet().stock.thickness, *clearance});
    if (fits.joints.empty())
        return Problem{.what = fmt::format("No joint is drawn for sheets of {:.2f} mm.", *drawnFor),
                       .where = {},
                       .mend = "Say how thick the sheets are that it was drawn for."};
    for (const auto& change : fits.changes) fmt::print(stderr, "{}\n", change.what);
    for (const auto& left : fits.left) fmt::print(stderr, "{}\n", left);
    return mend::withTruedUp(*job.artwork, fits.changes);
}

Result<artwork::Artwork> aligned(const Job& job, const artwork::Ids& ids, const Words& w) {
    using artwork::Edge;
    const auto edge = oneOf<Edge>(w[1], {{"left", Edge::left},
                                         {"centre", Edge::centre},
                                         {"right", Edge::right},
                                         {"bottom", Edge::bottom},
                                         {"middle", Edge::middle},
                                         {"top", Edge::top}});
    if (!edge) return edge.problem();
    Box to = artwork::boundsOf(*job.artwork, ids);
    if (w.size() > 2 && w[2] == "stock") {
        to = job::sheetOf(job.sheet().stock);
    } else if (w.size() > 2) {
        const auto key = itemsFrom(job, w[2]);
        if (!key) return key.problem();
        to = artwork::boundsOf(*job.artwork, *key);
    }
    return artwork::withAligned(*job.artwork, ids, *edge, to);
}

Result<artwork::Artwork> spaced(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto along =
        oneOf<artwork::Along>(w[1], {{"across", artwork::Along::across}, {"upward", artwork::Along::upward}});
    if (!along) return along.problem();
    if (w.size() < 3) return artwork::withSpaced(*job.artwork, ids, *along);
    const auto gap = lengthOf(job, w[2]);
    if (!gap) return gap.problem();
    return artwork::withSpaced(*job.artwork, ids, *along, *gap);
}

} // namespace

Result<artwork::Lettering> letteringFrom(const Job& job, std::span<const std::string> words, artwork::Lettering l,
                                         std::string& layer) {
    for (const auto& word : words) {
        const auto set = assignmentFrom(word);
        if (!set) return set.problem();
        const auto& [name, value] = *set;
        if (name == "face") {
            l.face = value;
        } else if (name == "layer" && !value.empty()) {
            layer = value;
        } else if (name == "align") {
            using Align = artwork::Lettering::Align;
            const auto align =
                oneOf<Align>(value, {{"left", Align::left}, {"centre", Align::centre}, {"right", Align::right}});
            if (!align) return align.problem();
            l.align = *align;
        } else if (name == "along") {
            const auto ids = itemsFrom(job, value);
            if (!ids) return ids.problem();
            l.along = artwork::placed(*artwork::find(*job.artwork, ids->front())).outline;
        } else if (name == "tracking" || name == "height" || name == "spacing") {
            const auto number = parseQuantity(value, name == "spacing" ? Measure::count : Measure::length, job.units);
            if (!number) return number.problem().within(word);
            (name == "tracking" ? l.tracking : name == "height" ? l.capHeight : l.lineSpacing) = *number;
        } else {
            return Problem{.what = fmt::format("A text has no setting “{}”.", word),
                           .where = {},
                           .mend = "Use face=, height=, tracking=, spacing=, align=, along=, layer=."};
        }
    }
    return l;
}

namespace {

Result<Job> withTextTyped(const Job& job, const Words& w) {
    const auto n = lengths(job, w, 1, 3);
    if (!n) return n.problem();
    std::string layer = "text";
    artwork::Lettering first;
    first.text = w[0], first.capHeight = (*n)[0];
    const auto l = letteringFrom(job, std::span(w).subspan(4), first, layer);
    if (!l) return l.problem();
    auto added = artwork::withText(*job.artwork, *l, {(*n)[1], (*n)[2]}, layer);
    if (!added) return added.problem();
    return job::withArtwork(job, std::move(added->artwork));
}

Result<Job> withTextRetyped(const Job& job, const Words& w) {
    const auto id = idFrom(w[0]);
    if (!id) return id.problem();
    for (const auto& group : job.artwork->groups) {
        if (group.id.value != *id || !group.lettering) continue;
        std::string layer;
        artwork::Lettering now = *group.lettering;
        now.text = w[1];
        const auto l = letteringFrom(job, std::span(w).subspan(2), now, layer);
        if (!l) return l.problem();
        return job::withArtwork(job, artwork::withTextChanged(*job.artwork, group.id, *l));
    }
    return Problem{
        .what = fmt::format("Group {} is no text.", *id), .where = {}, .mend = "See ferrograph-cli info JOB --json."};
}

Result<Job> shapeDrawn(const Job& job, const Words& w) {
    ShapeSettings settings;
    const auto kind = std::find_if(shapeKinds.begin(), shapeKinds.end(), [&](auto k) { return wordOf(k) == w[0]; });
    if (kind == shapeKinds.end())
        return Problem{.what = fmt::format("There is no shape “{}”.", w[0]),
                       .where = {},
                       .mend = "Use rectangle, circle, ellipse, polygon, star, slot, line or arc."};
    settings.kind = *kind;
    const auto places = lengths(job, w, 1, 4);
    if (!places) return places.problem();
    std::string layer = "drawing";
    for (std::size_t i = 5; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        if (set->name == "layer" && !set->value.empty()) {
            layer = set->value;
            continue;
        }
        const bool counts = set->name == "corners" || set->name == "inner";
        const auto value = parseQuantity(set->value, counts ? Measure::count : Measure::length, job.units);
        if (!value) return value.problem().within(w[i]);
        if (set->name == "corner")
            settings.corner = *value;
        else if (set->name == "corners")
            settings.corners = static_cast<int>(std::clamp(*value, 0.0, 1e6));
        else if (set->name == "inner")
            settings.inner = *value;
        else if (set->name == "width")
            settings.width = *value;
        else if (set->name == "rise")
            settings.rise = *value;
        else
            return Problem{.what = fmt::format("A shape has no setting “{}”.", set->name),
                           .where = {},
                           .mend = "Use corner=, corners=, inner=, width=, rise= or layer=."};
    }
    const auto& n = *places;
    auto path = shapeBetween(settings, {n[0], n[1]}, {n[2], n[3]});
    if (!path) return path.problem();
    return job::withArtwork(job, artwork::withPieces(*job.artwork, {{std::move(*path), {}}}, layer, w[0]).artwork);
}

} // namespace

std::vector<Verb> shapeVerbs() {
    return {
        {"shape",
         "rectangle|circle|ellipse|polygon|star|slot|line|arc X1 Y1 X2 Y2 [corner=] [corners=] [inner=] [width=] "
         "[rise=] [layer=]",
         "draw a shape between two places: corners, a centre and a place on it, or ends", 5,
         [](const Job& j, const Words& w, const shop::Book&) { return shapeDrawn(j, w); }},
        {"text",
         "TEXT CAP-HEIGHT X Y [face=sign bold|sign narrow|stencil|single line|FILE] [tracking=] [spacing=] "
         "[align=left|centre|right] [along=ITEM] [layer=]",
         "letter a text; it can be changed until it is ungrouped", 4,
         [](const Job& j, const Words& w, const shop::Book&) { return withTextTyped(j, w); }},
        {"text-change", "GROUP TEXT [height=] [face=] …", "other words, or other settings, for a text", 2,
         [](const Job& j, const Words& w, const shop::Book&) { return withTextRetyped(j, w); }},
        {"bridge", "ITEMS [width=2] [number=2] [areas=fall-out|stay] [lie=in-line|across]",
         "hold what would drop out by bridges", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return bridged(j, w); }},
        {"bridge-move", "GROUP NUMBER X Y", "move a bridge to where the gap is nearest to X Y", 4,
         [](const Job& j, const Words& w, const shop::Book&) { return bridgeMoved(j, w); }},
        {"unbridge", "GROUP [NUMBER]", "take one bridge away, or all of a group's", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return unbridged(j, w); }},
        {"combine", "ITEMS join|take-away|overlap|split", "make one of several areas, or cut them apart", 2,
         onItems(combined)},
        {"offset", "ITEMS BY [round|sharp|flat]", "add outlines outside (above 0) or inside (below 0)", 2,
         onItems(offsetBy)},
        {"widen", "ITEMS WIDTH [round|flat|square]", "turn lines into areas of this width", 2, onItems(widenedTo)},
        {"negative", "ITEMS BORDER [CORNER]", "put a border round and use the space around", 2, onItems(negative)},
        {"joints", "ITEMS DRAWN-FOR [press|snug|loose|CLEARANCE]",
         "make slots, notches and fingers fit the stock's thickness", 2, onItems(jointsFitted)},
        {"true-up", "ITEMS WITHIN [circle,rectangle,arc,straight,level,symmetry,size,centre]",
         "make near-exact things exact, off by at most a length; all kinds or these", 2, onItems(truedUp)},
        {"align", "ITEMS left|centre|right|bottom|middle|top [stock|ITEM]",
         "bring edges into line, with each other, the stock or a key piece", 2, onItems(aligned)},
        {"space", "ITEMS across|upward [GAP]", "even spaces, or this wide", 2, onItems(spaced)},
    };
}

} // namespace ferro::cli
