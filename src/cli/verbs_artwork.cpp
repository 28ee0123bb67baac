// Edits of what is drawn: drawing, pictures and their trace, and everything done to items.
#include "artwork/edits.h"
#include "artwork/excerpt.h"
#include "cli/drawings.h"
#include "cli/trace_words.h"
#include "cli/words_internal.h"
#include "formats/svg.h"
#include "geometry/nesting.h"
#include "job/by_hand.h"
#include "job/house.h"
#include "job/job_file.h"
#include "job/nesting.h"
#include "mend/repair.h"
#include "proof/timing.h"
#include "trace/accept.h"

namespace ferro::cli {

namespace {

Result<Job> withDrawn(const Job& job, Path path, const Words& words, std::size_t layerAt, std::string_view name) {
    const std::string layer = words.size() > layerAt ? words[layerAt] : "drawing";
    return job::withArtwork(job, artwork::withPieces(*job.artwork, {{std::move(path), {}}}, layer, name).artwork);
}

Result<artwork::Artwork> moved(const Job& job, const artwork::Ids& ids, const Words& w) {
    auto by = lengths(job, w, 1, 2);
    if (!by) return by.problem();
    return artwork::withTransformed(*job.artwork, ids, Transform::moved({(*by)[0], (*by)[1]}));
}
/// As far as the others on the sheet allow, along what is touched, as apart as parts are laid out.
Result<artwork::Artwork> pushed(const Job& job, const artwork::Ids& ids, const Words& w) {
    const auto by = lengths(job, w, 1, 2);
    if (!by) return by.problem();
    const auto wish = job::usualLayingOut(job);
    const Vec2 to{(*by)[0], (*by)[1]};
    const Vec2 got = job::ByHand(job, ids, wish.how.spacing, wish.how.margin).pushed({}, to);
    if (distance(got, to) > 0.01)
        fmt::print(stderr, "It stops at what lies there, after {:.2f}, {:.2f} mm.\n", got.x, got.y);
    return artwork::withTransformed(*job.artwork, ids, Transform::moved(got));
}
Result<artwork::Artwork> placedAt(const Job& job, const artwork::Ids& ids, const Words& w) {
    auto to = lengths(job, w, 1, 2);
    if (!to) return to.problem();
    const Vec2 low = artwork::boundsOf(*job.artwork, ids).low;
    return artwork::withTransformed(*job.artwork, ids, Transform::moved(Vec2{(*to)[0], (*to)[1]} - low));
}
Result<artwork::Artwork> scaled(const Job& job, const artwork::Ids& ids, const Words& w) {
    auto percent = parseQuantity(w[1], Measure::percent, Units::mm);
    if (!percent) return percent.problem();
    return artwork::withTransformed(
        *job.artwork, ids,
        Transform::scaled(*percent / 100, *percent / 100, artwork::boundsOf(*job.artwork, ids).centre()));
}
Result<artwork::Artwork> sized(const Job& job, const artwork::Ids& ids, const Words& w) {
    auto size = lengths(job, w, 1, 2);
    if (!size) return size.problem();
    Vec2 stays{-1, -1};
    if (w.size() > 3) {
        const auto said = assignmentFrom(w[3]);
        if (!said) return said.problem();
        static constexpr std::pair<std::string_view, Vec2> places[] = {
            {"lower-left", {-1, -1}}, {"lower", {0, -1}}, {"lower-right", {1, -1}},
            {"left", {-1, 0}},        {"middle", {0, 0}}, {"right", {1, 0}},
            {"upper-left", {-1, 1}},  {"upper", {0, 1}},  {"upper-right", {1, 1}}};
        const auto at = std::find_if(std::begin(places), std::end(places),
                                     [&](const auto& place) { return place.first == said->value; });
        if (said->name != "stays" || at == std::end(places))
            return Problem{.what = fmt::format("“{}” is no place that stays.", w[3]),
                           .where = {},
                           .mend = "Use stays=middle, or lower-left, lower, lower-right, left, right, upper-left, "
                                   "upper, upper-right."};
        stays = at->second;
    }
    return artwork::withSize(*job.artwork, ids, (*size)[0], (*size)[1], stays);
}
Result<artwork::Artwork> turned(const Job& job, const artwork::Ids& ids, const Words& w) {
    auto angle = parseQuantity(w[1], Measure::angle, Units::mm);
    if (!angle) return angle.problem();
    return artwork::withTransformed(
        *job.artwork, ids, Transform::rotated(*angle * pi / 180, artwork::boundsOf(*job.artwork, ids).centre()));
}
Result<artwork::Artwork> mirrored(const Job& job, const artwork::Ids& ids, const Words& w) {
    const Vec2 centre = artwork::boundsOf(*job.artwork, ids).centre();
    if (w[1] != "x" && w[1] != "y")
        return Problem{.what = "Mirror takes x (left to right) or y (top to bottom).", .where = {}, .mend = {}};
    return artwork::withTransformed(*job.artwork, ids,
                                    w[1] == "x" ? Transform::scaled(-1, 1, centre) : Transform::scaled(1, -1, centre));
}

Result<Job> withPictureFile(const Job& job, const Words& w) {
    auto bytes = realDisk().read(w[0]);
    if (!bytes) return bytes.problem();
    const auto file = std::filesystem::path(w[0]).filename().string();
    auto picture = picture::decoded(*bytes);
    if (!picture) return picture.problem().within(file);
    // The number is what the next words ask for.
    const auto placed = [&](artwork::PictureLeaf leaf, Vec2 at) {
        auto added = artwork::withPicture(*job.artwork, std::move(leaf), at);
        fmt::print(stderr, "{} is item {}.\n", file, added.ids.front().value);
        return job::withArtwork(job, std::move(added.artwork));
    };
    Vec2 size = picture::naturalSize(*picture);
    if (w.size() > 1 && w[1] == "fit") { // into the sheet, in its middle, as it comes in the window
        const Box sheet = job::sheetOf(job.sheet().stock);
        size = size * std::min(sheet.width() / size.x, sheet.height() / size.y);
        artwork::PictureLeaf leaf{file, std::make_shared<const std::string>(std::move(*bytes)), *picture, size};
        return placed(std::move(leaf), sheet.centre() - size / 2);
    }
    if (w.size() < 2) fmt::print(stderr, "{}: {}.\n", file, picture::sizeWords(*picture, job.units));
    if (w.size() > 1) {
        auto wanted = lengthOf(job, w[1]);
        if (!wanted) return wanted.problem();
        if (!(*wanted > 0)) return Problem{.what = "A picture's width must be above 0.", .where = {}, .mend = {}};
        size = size * (*wanted / size.x);
    }
    artwork::PictureLeaf leaf{file, std::make_shared<const std::string>(std::move(*bytes)), *picture, size};
    return placed(std::move(leaf), {0, 0});
}

Result<Job> withDrawingFile(const Job& job, Words w) {
    const auto& stock = job.sheet().stock;
    DrawingWords how{.unit = {}, .sheet = {stock.width, stock.height}, .bed = {job.machine.bedX, job.machine.bedY}};
    for (; w.size() > 1 && w.back().find('=') != std::string::npos; w.pop_back()) {
        const auto set = assignmentFrom(w.back());
        if (!set) return set.problem();
        if (set->name == "unit")
            how.unit = set->value;
        else if (set->name == "strokes" && (set->value == "lines" || set->value == "outlines"))
            how.strokesAsOutlines = set->value == "outlines";
        else if (set->name == "strays" && (set->value == "keep" || set->value == "drop"))
            how.dropStrays = set->value == "drop";
        else
            return Problem{.what = fmt::format("A drawing has no setting “{}”.", w.back()),
                           .where = {},
                           .mend = "Use unit=, strokes=lines or outlines, strays=keep or drop."};
    }
    auto drawing = readDrawing(w[0], how);
    if (!drawing) return drawing.problem();
    if (drawing->items.empty() && drawing->pictures.empty())
        return Problem{.what = "The drawing holds nothing to cut.", .where = w[0], .mend = {}};
    if (w.size() > 1) {
        auto to = lengths(job, w, 1, 2);
        if (!to) return to.problem();
        const Transform move = Transform::moved({(*to)[0], (*to)[1]});
        for (auto& item : drawing->items)
            for (auto& piece : item.pieces) piece = transformed(piece, move);
        for (auto& picture : drawing->pictures) picture.place = move * picture.place;
    }
    return job::withArtwork(job, addedTo(*job.artwork, *drawing).artwork);
}

Result<Job> withTraced(const Job& job, const Words& w) {
    auto ids = itemsFrom(job, w[0]);
    if (!ids) return ids.problem();
    const auto* item = artwork::find(*job.artwork, ids->front());
    if (!item || !artwork::pictureOf(*item))
        return Problem{.what = fmt::format("Item {} is no picture.", w[0]),
                       .where = {},
                       .mend = "See ferrograph-cli info JOB --json."};
    // What is not said is as it was when the picture was traced before.
    auto [settings, patches] = trace::onSheet(*item, trace::recipeOf(*item));
    std::string layer = "trace";
    for (std::size_t i = 1; i < w.size(); ++i) {
        const auto set = assignmentFrom(w[i]);
        if (!set) return set.problem();
        if (set->name == "layer" && !set->value.empty()) {
            layer = set->value;
        } else if (set->name == "patches") {
            const auto text = realDisk().read(set->value);
            if (!text) return text.problem();
            auto some = patchesFrom(*text, settings);
            if (!some) return some.problem().within(set->value);
            patches = std::move(*some);
        } else {
            const auto known = takeTraceSetting(set->name, set->value, job.units, settings);
            if (!known) return known.problem();
            if (!*known)
                return Problem{
                    .what = fmt::format("A trace has no setting “{}”.", set->name),
                    .where = {},
                    .mend = "Use find=, level=, above=, invert=, speck=, corners=, follow=, only=, line=, step=, "
                            "colours=, under=, paper=, patches=, layer=."};
        }
    }
    Progress progress;
    const auto recipe = trace::onPicture(*item, {settings, patches});
    auto traced = trace::tracedItem(*item, recipe, progress);
    if (!traced) return traced.problem();
    if (traced->pieces.empty())
        return Problem{.what = traced->notices.empty() ? "Nothing was found." : traced->notices.back().text,
                       .where = item->name,
                       .mend = {}};
    const auto kept = trace::withRecipe(*job.artwork, item->id, recipe);
    if (!kept) return kept.problem();
    auto accepted = trace::withAccepted(*kept, item->id, *traced, layer);
    if (const auto words = accepted.words(); !words.empty()) fmt::print(stderr, "{}\n", words);
    return job::withArtwork(job, std::move(accepted.artwork));
}

} // namespace

std::vector<Verb> drawingVerbs() {
    return {
        {"picture", "FILE [WIDTH|fit]", "add a picture, its own size, this wide, or as large as the sheet takes it", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return withPictureFile(j, w); }},
        {"trace",
         "ITEM [find=areas|rim|strokes|colours|edges] [level=N] [above=N] [invert=on] [speck=MM2|found] [corners=DEG] "
         "[follow=MM] [only=X,Y,W,H] [line=MM] [step=N] [colours=N|#RRGGBB,…] [under=on] [paper=on] [patches=FILE] "
         "[layer=NAME]",
         "trace a picture and accept the result", 1,
         [](const Job& j, const Words& w, const shop::Book&) { return withTraced(j, w); }},
        {"pieces", "JOB.ferro ITEMS [X Y]", "bring pieces of another job in, where they lie there, or moved by X Y", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             const auto from = job::load(realDisk(), w[0]);
             if (!from) return from.problem();
             const auto ids = itemsFrom(*from, w[1]);
             if (!ids) return ids.problem();
             Vec2 by;
             if (w.size() > 3) {
                 const auto to = lengths(j, w, 2, 2);
                 if (!to) return to.problem();
                 by = {(*to)[0], (*to)[1]};
             }
             return job::withArtwork(
                 j, artwork::withExcerpt(*j.artwork, artwork::excerptOf(*from->artwork, *ids), by).artwork);
         }},
        {"clean", "ITEM [STEP…]",
         "clean a picture up by these steps, from the original; none: as it came. crop=X,Y,W,H straighten=DEG "
         "tone=BRIGHT,CONTRAST even-light[=MM] black-white=LEVEL invert despeckle=MM2 smooth=MM erase=MM:X,Y;X,Y "
         "draw=…",
         1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             std::vector<picture::CleanStep> steps;
             for (std::size_t i = 1; i < w.size(); ++i) {
                 auto step = cleanStepFrom(w[i], j.units);
                 if (!step) return step.problem();
                 steps.push_back(std::move(*step));
             }
             Progress progress;
             return job::withArtwork(j, artwork::withCleanUp(*j.artwork, ids->front(), steps, progress));
         }},
        {"fade", "ITEMS PART", "how far traced pictures are faded below the pieces, 0 to 1", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto ids = itemsFrom(j, w[0]);
             if (!ids) return ids.problem();
             auto part = parseQuantity(w[1], Measure::count, j.units);
             if (!part) return part.problem();
             return job::withArtwork(j, artwork::withFade(*j.artwork, *ids, *part));
         }},
        {"rectangle", "X Y WIDTH HEIGHT [LAYER] [CORNER]", "draw a rectangle", 4,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto n = lengths(j, w, 0, 4);
             if (!n) return n.problem();
             double corner = 0;
             if (w.size() > 5) {
                 auto r = lengthOf(j, w[5]);
                 if (!r) return r.problem();
                 corner = *r;
             }
             if (!((*n)[2] > 0 && (*n)[3] > 0))
                 return Problem{.what = "A rectangle needs a size above 0.", .where = {}, .mend = {}};
             return withDrawn(j, ferro::rectangle({(*n)[0], (*n)[1]}, {(*n)[0] + (*n)[2], (*n)[1] + (*n)[3]}, corner),
                              w, 4, "rectangle");
         }},
        {"circle", "X Y DIAMETER [LAYER]", "draw a circle about its centre", 3,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto n = lengths(j, w, 0, 3);
             if (!n) return n.problem();
             if (!((*n)[2] > 0)) return Problem{.what = "A circle needs a diameter above 0.", .where = {}, .mend = {}};
             return withDrawn(j, ferro::circle({(*n)[0], (*n)[1]}, (*n)[2] / 2), w, 3, "circle");
         }},
        {"point", "X Y [LAYER]", "mark a point to drill", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto n = lengths(j, w, 0, 2);
             if (!n) return n.problem();
             return withDrawn(j, Path{{(*n)[0], (*n)[1]}, {}, false}, w, 2, "point");
         }},
        {"drawing", "FILE [X Y] [unit=mm|inch|cm|m|foot] [strokes=lines|outlines] [strays=keep|drop]",
         "take in an SVG or DXF drawing at its real size, layers and all, its page or corner at X Y", 1,
         [](const Job& j, const Words& w, const Shop& shop) -> Result<Job> {
             auto next = withDrawingFile(j, w);
             if (!next) return next;
             std::vector<std::string> told;
             next = job::withArrivalSteps(*next, shop.house, shop, told);
             for (const auto& line : told) shop.tell(line + ".");
             return next;
         }},
        {"path", "DATA [LAYER] [NAME]",
         "draw SVG path data in mm, y up; closed outlines inside each other become openings", 1,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto paths = formats::pathsFromSvgData(w[0]);
             if (!paths) return paths.problem();
             if (paths->empty()) return Problem{.what = "The path is empty.", .where = {}, .mend = {}};
             if (w.size() > 1 && w[1].find('=') != std::string::npos)
                 return Problem{.what = fmt::format("“{}” would be the name of a layer.", w[1]),
                                .where = "path",
                                .mend = "Say the layer's name alone."};
             return job::withArtwork(j,
                                     artwork::withPieces(*j.artwork, nested(std::move(*paths)),
                                                         w.size() > 1 ? w[1] : "drawing", w.size() > 2 ? w[2] : "path")
                                         .artwork);
         }},
    };
}

std::vector<Verb> itemVerbs() {
    using namespace artwork;
    const auto flag = [](Flag f) {
        return onItems([f](const Job& j, const Ids& ids, const Words& w) -> Result<Artwork> {
            auto on = onOff(w[1]);
            if (!on) return on.problem();
            return withFlag(*j.artwork, ids, f, *on);
        });
    };
    return {
        {"delete", "ITEMS", "remove; ITEMS is all, 3,5,9, layer:NAME or name:NAME, * allowed", 1,
         onItems([](const Job& j, const Ids& ids, const Words&) { return withRemoved(*j.artwork, ids); })},
        {"move", "ITEMS DX DY", "move by", 3, onItems(moved)},
        {"push", "ITEMS DX DY", "move by, as far as the others on the sheet allow, and along them", 3, onItems(pushed)},
        {"place", "ITEMS X Y", "put the lower left corner at", 3, onItems(placedAt)},
        {"scale", "ITEMS PERCENT", "about the middle", 2, onItems(scaled)},
        {"size", "ITEMS WIDTH HEIGHT [stays=lower-left|…|middle|…|upper-right]",
         "to this size; 0 keeps the proportion; the lower left corner stays if not said", 3, onItems(sized)},
        {"turn", "ITEMS DEGREES", "counter-clockwise about the middle", 2, onItems(turned)},
        {"mirror", "ITEMS x|y", "left to right (x) or top to bottom (y)", 2, onItems(mirrored)},
        {"original-size", "ITEMS", "back to the size they came in at", 1,
         onItems([](const Job& j, const Ids& ids, const Words&) { return withOriginalSize(*j.artwork, ids); })},
        {"duplicate", "ITEMS DX DY", "copy, moved by", 3,
         onItems([](const Job& j, const Ids& ids, const Words& w) -> Result<Artwork> {
             auto by = lengths(j, w, 1, 2);
             if (!by) return by.problem();
             auto added = withDuplicates(*j.artwork, ids, {(*by)[0], (*by)[1]});
             if (!added) return added.problem();
             return std::move(added->artwork);
         })},
        {"thin", "ITEMS [WITHIN]", "fewest lines and arcs within a length, 0.02 mm if not said", 1,
         onItems([](const Job& j, const Ids& ids, const Words& w) -> Result<Artwork> {
             auto within = w.size() > 1 ? lengthOf(j, w[1]) : Result<double>(mend::Tolerances{}.thin);
             if (!within) return within.problem();
             auto thinned = mend::withThinned(*j.artwork, ids, *within);
             if (!thinned) return thinned.problem();
             Progress progress;
             const auto time = proof::timeBeforeAndAfter(j, job::withArtwork(j, thinned->artwork), progress);
             fmt::print(stderr, "{}{}{}\n", thinned->did, time.empty() ? "" : "; ", time);
             return std::move(thinned->artwork);
         })},
        {"group", "ITEMS NAME", "group", 2,
         onItems([](const Job& j, const Ids& ids, const Words& w) { return withGrouped(*j.artwork, ids, w[1]); })},
        {"ungroup", "ITEMS", "undo the outermost groups", 1,
         onItems([](const Job& j, const Ids& ids, const Words&) { return withUngrouped(*j.artwork, ids); })},
        {"layer", "ITEMS NAME", "put on a layer", 2,
         onItems([](const Job& j, const Ids& ids, const Words& w) { return withLayer(*j.artwork, ids, w[1]); })},
        {"rename", "ITEMS NAME", "name", 2,
         onItems([](const Job& j, const Ids& ids, const Words& w) { return withName(*j.artwork, ids, w[1]); })},
        {"lock", "ITEMS on|off", "lock", 2, flag(Flag::locked)},
        {"hide", "ITEMS on|off", "hide", 2, flag(Flag::hidden)},
        {"outlines", "ITEMS [GAP]", "join loose lines whose ends are within a length, 0.5 mm if not said", 1,
         onItems([](const Job& j, const Ids& ids, const Words& w) -> Result<Artwork> {
             auto reach = w.size() > 1 ? lengthOf(j, w[1]) : Result<double>(mend::Tolerances{}.gap);
             if (!reach) return reach.problem();
             auto made = mend::withOutlines(*j.artwork, ids, std::max(0.0, *reach));
             fmt::print(stderr, "{}\n", made.did);
             return std::move(made.artwork);
         })},
        {"layer-notes", "NAME on|off", "mark a layer as notes: labels that stay with their part and are never cut", 2,
         [](const Job& j, const Words& w, const shop::Book&) -> Result<Job> {
             auto on = onOff(w[1]);
             if (!on) return on.problem();
             return job::withArtwork(j, withLayerFlag(*j.artwork, w[0], Flag::notes, *on));
         }},
    };
}

} // namespace ferro::cli
