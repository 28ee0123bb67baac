// Edits of sheets and layers, of copies and of what is known of parts.
#include "artwork/copies.h"
#include "artwork/repeat.h"
#include "cli/bridge_words.h"
#include "cli/words_internal.h"
#include "job/boards.h"
#include "job/by_hand.h"
#include "job/layers.h"
#include "job/nesting.h"
#include "job/part_words.h"
#include "job/plates.h"
#include "job/sheets.h"

namespace ferro::cli {

namespace {

using artwork::Part;

template<class List> std::string listed(const List& words) {
    std::string all;
    for (const auto& word : words) all += fmt::format("{}{}", all.empty() ? "" : ", ", word);
    return all;
}

template<class Enum, class Known> Result<void> takeWord(const Assignment& set, const Known& known, Enum& into) {
    for (std::size_t i = 0; i < std::size(known); ++i)
        if (known[i] == set.value) {
            into = static_cast<Enum>(i);
            return {};
        }
    return Problem{.what = fmt::format("{} cannot be “{}”.", set.name, set.value),
                   .where = {},
                   .mend = fmt::format("Use {}.", listed(known))};
}

/// "margin=20", "pin=4", "islands=parted", "overlap=0.5", "jig=off", and those of bridges.
Result<Job> plated(const Job& job, const Words& w) {
    job::PlatesWish wish;
    Words ofBridges;
    std::string islands = "bridged";
    for (const auto& word : w) {
        const auto set = assignmentFrom(word);
        if (!set) return set.problem();
        if (set->name == "islands") {
            islands = set->value;
        } else if (set->name == "jig") {
            const auto on = onOff(set->value);
            if (!on) return on.problem();
            wish.jig = *on;
        } else if (set->name == "margin" || set->name == "pin" || set->name == "overlap") {
            const auto size = lengthOf(job, set->value);
            if (!size) return size.problem().within(set->name);
            (set->name == "margin" ? wish.margin : set->name == "pin" ? wish.pin : wish.overlap) = *size;
        } else {
            ofBridges.push_back(word);
        }
    }
    wish.parted = islands == "parted";
    if (islands != "parted" && islands != "bridged" && islands != "left")
        return Problem{.what = fmt::format("Islands cannot be “{}”.", islands),
                       .where = {},
                       .mend = "Use bridged, parted or left."};
    const auto settings = bridgeSettingsFrom(job, ofBridges);
    if (!settings) return settings.problem();
    Job from = job;
    if (const auto items = job::islandsIn(job); islands == "bridged" && !items.empty()) {
        Progress progress;
        auto made = mend::withBridges(*job.artwork, items, *settings, progress);
        if (!made) return made.problem();
        fmt::print(stderr, "{}\n", made->did);
        from = job::withArtwork(job, std::move(made->artwork));
    }
    auto made = job::withPlates(from, wish);
    if (!made) return made.problem();
    for (std::size_t i = 0; i < made->plates.size(); ++i) {
        const auto& plate = made->plates[i];
        fmt::print(stderr, "plate {}: “{}”{}, {}{}\n", i + 1, plate.layer, plate.again ? " again" : "",
                   plate.pieces == 1 ? "1 piece" : fmt::format("{} pieces", plate.pieces),
                   plate.islands ? fmt::format(", islands that nothing holds: {}", plate.islands) : std::string());
    }
    for (const auto& why : made->why) fmt::print(stderr, "{}\n", why);
    return std::move(made->job);
}

Result<void> takePartWord(const Job& job, const Assignment& set, Part& part) {
    if (set.name == "quantity") {
        const auto count = idFrom(set.value);
        if (!count) return count.problem().within("quantity");
        part.quantity = static_cast<int>(std::min<std::uint32_t>(*count, 1'000'000));
    } else if (set.name == "thickness") {
        const auto size = lengthOf(job, set.value);
        if (!size) return size.problem().within("thickness");
        part.thickness = *size;
    } else if (set.name == "material") {
        part.material = set.value;
    } else if (set.name == "turns") {
        return takeWord(set, artwork::turnsWords, part.turns);
    } else if (set.name == "priority") {
        return takeWord(set, artwork::priorityWords, part.priority);
    } else if (set.name == "mirror") {
        const auto on = onOff(set.value);
        if (!on) return on.problem();
        part.mirror = *on;
    } else if (set.name == "labels") {
        part.labels.clear();
        for (std::size_t from = 0; from < set.value.size();) {
            const auto comma = std::min(set.value.find(',', from), set.value.size());
            if (comma > from) part.labels.push_back(set.value.substr(from, comma - from));
            from = comma + 1;
        }
    } else {
        return Problem{.what = fmt::format("A part has no “{}”.", set.name),
                       .where = {},
                       .mend = "Use quantity=, material=, thickness=, turns=, mirror=, priority= or labels=."};
    }
    return {};
}

Result<artwork::Artwork> withPartWords(const Job& job, const artwork::Ids& ids, const Words& w,
                                       const shop::Book& book) {
    // What is not named stays as the first of them has it.
    const auto* first = ids.empty() ? nullptr : artwork::find(*job.artwork, ids.front());
    Part part = first ? artwork::partOf(*job.artwork, *first) : Part{};
    for (std::size_t i = 1; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        if (auto taken = takePartWord(job, *set, part); !taken) return taken.problem();
        if (set->name == "material" && !set->value.empty())
            if (auto known = book.material(set->value); !known) return known.problem();
    }
    return artwork::withPart(*job.artwork, ids, part);
}

Result<Job> repeated(const Job& job, const artwork::Ids& ids, const Words& w) {
    artwork::Repeat r;
    const Box sheet = job::sheetOf(job.sheet().stock);
    r.centre = sheet.centre();
    if (auto way = takeWord({"the way", w[1]}, artwork::repeatWords, r.way); !way) return way.problem();
    std::optional<artwork::ItemId> line;
    for (std::size_t i = 2; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        const auto& [name, value] = *set;
        const std::pair<std::string_view, int*> counts[] = {
            {"columns", &r.columns}, {"rows", &r.rows}, {"count", &r.count}};
        const std::pair<std::string_view, double*> sizes[] = {{"gap-x", &r.gap.x},       {"gap-y", &r.gap.y},
                                                              {"centre-x", &r.centre.x}, {"centre-y", &r.centre.y},
                                                              {"pitch", &r.pitch},       {"gap", &r.gap.x}};
        if (const auto count = std::find_if(std::begin(counts), std::end(counts),
                                            [&](const auto& known) { return known.first == name; });
            count != std::end(counts)) {
            const auto number = value == "0" ? Result<std::uint32_t>(0) : idFrom(value);
            if (!number) return number.problem().within(name);
            *count->second = static_cast<int>(std::min<std::uint32_t>(*number, 1'000'000));
        } else if (const auto size = std::find_if(std::begin(sizes), std::end(sizes),
                                                  [&](const auto& known) { return known.first == name; });
                   size != std::end(sizes)) {
            const auto length = lengthOf(job, value);
            if (!length) return length.problem().within(name);
            *size->second = *length;
            if (name == "gap") r.gap.y = *length;
        } else if (name == "span") {
            const auto angle = parseQuantity(value, Measure::angle, job.units);
            if (!angle) return angle.problem().within(name);
            r.span = *angle * pi / 180;
        } else if (name == "turns" || name == "staggered") {
            const auto on = onOff(value);
            if (!on) return on.problem();
            (name == "turns" ? r.turns : r.staggered) = *on;
        } else if (name == "along") {
            const auto of = itemsFrom(job, value);
            if (!of) return of.problem();
            if (of->size() != 1)
                return Problem{.what = "One piece is to be gone along.", .where = "along", .mend = "Give its number."};
            line = of->front();
        } else {
            return Problem{.what = fmt::format("A repeat has no “{}”.", name),
                           .where = {},
                           .mend = "Use columns=, rows=, gap=, gap-x=, gap-y=, staggered=, count=, centre-x=, "
                                   "centre-y=, span=, turns=, pitch= or along=."};
        }
    }
    auto made = artwork::withRepeated(*job.artwork, ids, r, sheet, line);
    if (!made) return made.problem();
    return job::withArtwork(job, std::move(made->artwork));
}

Result<artwork::LayerId> layerFrom(const Job& job, const std::string& name) {
    if (const auto* layer = artwork::layerNamed(*job.artwork, name)) return layer->id;
    std::vector<std::string> known;
    for (const auto& layer : job.artwork->layers) known.push_back(layer.name);
    return Problem{.what = fmt::format("There is no layer “{}”.", name),
                   .where = {},
                   .mend = known.empty() ? "" : fmt::format("Use {}.", listed(known))};
}

Result<Job> withLayerWords(const Job& job, const Words& w) {
    const auto id = layerFrom(job, w[0]);
    if (!id) return id.problem();
    artwork::Layer facts = *artwork::find(*job.artwork, *id);
    for (std::size_t i = 1; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        const auto& [name, value] = *set;
        if (name == "name") {
            facts.name = value;
        } else if (name == "colour") {
            facts.colour = value;
        } else if (name == "locked" || name == "hidden" || name == "notes") {
            const auto on = onOff(value);
            if (!on) return on.problem();
            (name == "locked" ? facts.locked : name == "hidden" ? facts.hidden : facts.notes) = *on;
        } else {
            return Problem{.what = fmt::format("A layer has no “{}”.", name),
                           .where = {},
                           .mend = "Use name=, colour=, locked=, hidden= or notes=."};
        }
    }
    return job::withLayerFacts(job, *id, facts);
}

} // namespace

namespace {

/// "off", or "columns=3", "rows=2", "gap=10", "gap-x=", "gap-y=", "order=step by step", "stops=off"; "fill".
Result<Job> trayed(const Job& job, const Words& w) {
    if (w[0] == "off") return job::withTray(job, {});
    auto tray = job.sheet().tray.value_or(job::Tray{});
    bool fill = false;
    for (const auto& word : w) {
        if (word == "fill") {
            fill = true;
            continue;
        }
        const auto set = assignmentFrom(word);
        if (!set) return set.problem();
        if (set->name == "columns" || set->name == "rows") {
            const auto count = idFrom(set->value);
            if (!count) return count.problem().within(set->name);
            (set->name == "columns" ? tray.columns : tray.rows) = static_cast<int>(std::min(*count, 1'000'000U));
        } else if (set->name == "gap" || set->name == "gap-x" || set->name == "gap-y") {
            const auto gap = lengthOf(job, set->value);
            if (!gap) return gap.problem().within(set->name);
            if (set->name != "gap-y") tray.gapX = *gap;
            if (set->name != "gap-x") tray.gapY = *gap;
        } else if (set->name == "order") {
            if (auto taken = takeWord(*set, job::trayOrderWords, tray.order); !taken) return taken.problem();
        } else if (set->name == "stops") {
            const auto on = onOff(set->value);
            if (!on) return on.problem();
            tray.stops = *on;
        } else {
            return Problem{.what = fmt::format("“{}” is not known of a tray.", set->name),
                           .where = {},
                           .mend = "Say columns, rows, gap, gap-x, gap-y, order, stops, fill or off."};
        }
    }
    auto set = job::withTray(job, tray);
    return set && fill ? job::withTrayFilled(*set, tray.gapX, tray.gapY) : set;
}

} // namespace

std::vector<Verb> sheetVerbs() {
    const auto ofSheet = [](auto edit) {
        return [edit](const Job& job, const Words& w, const shop::Book& book) -> Result<Job> {
            const auto sheet = job::sheetNamed(job, w[0]);
            if (!sheet) return sheet.problem();
            return edit(job, *sheet, w, book);
        };
    };
    return {
        {"plates", "[islands=bridged|parted|left] [margin=25] [pin=4] [overlap=0.5] [jig=on] [width=2] [number=2]",
         "a stencil for each coloured layer, on a sheet of its own, with register pins and a jig", 0,
         [](const Job& j, const Words& w, const shop::Book&) { return plated(j, w); }},
        {"sheet-add", "[NAME]", "another sheet like the one at hand, which it is then", 0,
         [](const Job& j, const Words& w, const shop::Book&) {
             return job::withSheetAdded(j, w.empty() ? std::string_view{} : w[0]);
         }},
        {"sheet-at", "SHEET|beside", "lay a sheet out, by name or number; stock, clamps and new pieces are its own", 1,
         [ofSheet](const Job& j, const Words& w, const shop::Book& book) -> Result<Job> {
             if (w[0] == "beside") return job::atBeside(j);
             return ofSheet([](const Job& job, job::SheetId sheet, const Words&, const shop::Book&) {
                 return job::atSheet(job, sheet);
             })(j, w, book);
         }},
        {"sheet-name", "SHEET NAME", "name a sheet", 2,
         ofSheet([](const Job& j, job::SheetId sheet, const Words& w, const shop::Book&) {
             return job::withSheetNamed(j, sheet, w[1]);
         })},
        {"sheet-shift", "SHEET PLACE", "put a sheet at a place in the row (from 1)", 2,
         ofSheet([](const Job& j, job::SheetId sheet, const Words& w, const shop::Book&) -> Result<Job> {
             const auto place = idFrom(w[1]);
             if (!place) return place.problem();
             return job::withSheetMoved(j, sheet, *place > 0 ? *place - 1 : 0);
         })},
        {"sheet-drop", "SHEET", "take a sheet away; what lies on it lies beside the others then", 1,
         ofSheet([](const Job& j, job::SheetId sheet, const Words&, const shop::Book&) {
             return job::withoutSheet(j, sheet);
         })},
        {"sheet-mirror", "on|off",
         "mirror all that lies on the sheet at hand, to cut film from its back; or back again", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             if (w[0] != "on" && w[0] != "off")
                 return Problem{.what = fmt::format("“{}” is neither on nor off.", w[0]), .where = {}, .mend = {}};
             return job::withSheetMirrored(j, w[0] == "on");
         }},
        {"sheet-tray", "off|fill [columns=] [rows=] [gap=] [gap-x=] [gap-y=] [order=] [stops=on|off]",
         "the sheet at hand as one of several blanks, all cut by one program; fill: as many as the bed holds; order "
         "“blank by blank” or “step by step”",
         1, [](const Job& j, const Words& w, const shop::Book&) { return trayed(j, w); }},
        {"blank", "ITEM|none",
         "the outline of the sheet at hand, from a closed piece that is none then; a rectangle again", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             if (w[0] == "none") return job::withBlank(j, std::nullopt);
             const auto items = itemsFrom(j, w[0]);
             if (!items) return items.problem();
             if (items->size() != 1)
                 return Problem{.what = "A blank has one outline.", .where = {}, .mend = "Name one piece."};
             return job::withBlankOf(j, items->front());
         }},
        {"board", "KEY", "the sheet at hand from a board of the shelf", 1,
         [](const Job& j, const Words& w, const shop::Book& book) { return job::withBoard(j, book, w[0]); }},
        {"layer-set", "LAYER name= colour= locked= hidden= notes=",
         "facts of a layer; steps that take it by its name go on taking it", 2,
         [](const Job& j, const Words& w, const shop::Book&) { return withLayerWords(j, w); }},
        {"layer-add", "NAME", "an empty layer", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return job::withLayerAdded(j, w[0]); }},
        {"layer-drop", "LAYER", "take a layer away that holds nothing", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto layer = layerFrom(j, w[0]);
             if (!layer) return layer.problem();
             return job::withoutLayer(j, *layer);
         }},
        {"lay", "ITEMS SHEET|beside [free]",
         "let pieces lie on another sheet, or beside all of them; free: where there is room for them", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             job::SheetId sheet;
             if (w[1] != "beside") {
                 const auto named = job::sheetNamed(j, w[1]);
                 if (!named) return named.problem();
                 sheet = *named;
             }
             if (w.size() < 3) return job::withArtwork(j, artwork::withItemsOn(*j.artwork, *ids, sheet));
             if (w[2] != "free")
                 return Problem{
                     .what = fmt::format("“{}” is not known here.", w[2]), .where = "lay", .mend = "Say free."};
             const auto how = job::usualLayingOut(j).how;
             auto laid = job::laidOn(j, *ids, sheet, how.spacing, how.margin);
             if (!laid) return laid.problem();
             if (!laid->fits)
                 return Problem{.what = "There is no room for it on that sheet.", .where = w[1], .mend = "Make some."};
             return std::move(laid->job);
         }},
        {"copies", "ITEMS DX DY [COUNT]", "copies that follow their original, each farther by", 3,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             const auto by = lengths(j, w, 1, 2);
             if (!by) return by.problem();
             const auto count = w.size() > 3 ? idFrom(w[3]) : Result<std::uint32_t>(1);
             if (!count) return count.problem();
             const auto made = artwork::withCopies(*j.artwork, *ids, {(*by)[0], (*by)[1]},
                                                   static_cast<int>(std::min<std::uint32_t>(*count, 1'000'000)));
             if (!made) return made.problem();
             return job::withArtwork(j, made->artwork);
         }},
        {"repeat",
         "ITEMS grid|ring|line [columns=] [rows=] [gap=] [gap-x=] [gap-y=] [staggered=] [count=] [centre-x=] "
         "[centre-y=] [span=] [turns=] [pitch=] [along=ITEM]",
         "copies in a grid (0 columns or rows: to fill the sheet), a ring or along a line", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             return repeated(j, *ids, w);
         }},
        {"own", "ITEMS", "copies become pieces of their own", 1,
         onItems([](const Job& j, const artwork::Ids& ids, const Words&) {
             return artwork::withOwnShapes(*j.artwork, ids);
         })},
        {"part-read", "ITEMS", "facts of parts from their names and layers: “birch 6 mm, 2 off”", 1,
         [](const Job& j, const Words& w, const shop::Book& book) -> Result<Job> {
             const auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             auto read = job::withPartWords(j, *ids, book);
             if (!read) return read.problem();
             for (const auto& told : read->told) fmt::print(stderr, "{}\n", told);
             if (read->parts == 0) fmt::print(stderr, "No name or layer says anything new of a part.\n");
             return read->job;
         }},
        {"part", "ITEMS quantity= material= thickness= turns= mirror= priority= labels=",
         "what is to be known of a part; turns any|none|half|quarter, priority must|filler, labels A,B", 2,
         [](const Job& j, const Words& w, const shop::Book& book) -> Result<Job> {
             const auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             return job::withArtwork(j, withPartWords(j, *ids, w, book));
         }},
    };
}

} // namespace ferro::cli
