#include "job/job_file.h"

#include "base/hash.h"
#include "job/edits.h"
#include "job/names_internal.h"
#include "shop/json_fields_internal.h"

namespace ferro {
using nlohmann::json;

NLOHMANN_JSON_SERIALIZE_ENUM(Units, {{Units::mm, "mm"}, {Units::inch, "inch"}})
static void to_json(json& j, const Vec2& v) { j = json::array({v.x, v.y}); }
static void from_json(const json& j, Vec2& v) { v = {j.at(0).get<double>(), j.at(1).get<double>()}; }
static void to_json(json& j, const Transform& t) { j = json::array({t.a, t.b, t.c, t.d, t.tx, t.ty}); }
static void from_json(const json& j, Transform& t) {
    t = {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>(),
         j.at(3).get<double>(), j.at(4).get<double>(), j.at(5).get<double>()};
}
template<class Tag> void to_json(json& j, const Id<Tag>& id) { j = id.value; }
template<class Tag> void from_json(const json& j, Id<Tag>& id) { id.value = j.get<std::uint32_t>(); }

namespace plan {
NLOHMANN_JSON_SERIALIZE_ENUM(StepKind,
                             {{StepKind::outline, "outline"}, {StepKind::drill, "drill"}, {StepKind::scribe, "scribe"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Role, {{Role::any, "any"},
                                    {Role::openings, "openings"},
                                    {Role::outerEdges, "outer edges"},
                                    {Role::openLines, "open lines"}})
NLOHMANN_JSON_SERIALIZE_ENUM(
    Side, {{Side::automatic, "auto"}, {Side::outside, "outside"}, {Side::inside, "inside"}, {Side::on, "on line"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Entry, {{Entry::ramp, "ramp"}, {Entry::plunge, "plunge"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Direction, {{Direction::climb, "climb"}, {Direction::conventional, "conventional"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Hold, {{Hold::none, "none"}, {Hold::tabs, "tabs"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Order, {{Order::automatic, "automatic"}, {Order::byHand, "by hand"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Rule, layers, role, items, above, below)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(TabPlace, item, opening, along)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Step, id, name, kind, enabled, tool, rule, startDepth, through, depth,
                                                extra, depthPerPass, feed, plunge, spindle, power, passes, side,
                                                direction, entry, rampAngle, lead, allowance, hold, tabWidth, tabHeight,
                                                tabSpacing, tabs, peck, typed)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Plan, steps, order, clearance, lastId)
} // namespace plan

namespace picture {
static void to_json(json& j, const BrushStroke& s) { j = {{"points", s.points}, {"width", s.width}}; }
static void from_json(const json& j, BrushStroke& s) { s = {j.at("points").get<Ring>(), j.at("width").get<double>()}; }
static void to_json(json& j, const CleanStep& s) {
    j = {{"kind", wordOf(s.kind)}, {"on", s.on}};
    if (s.amount != 0) j["amount"] = s.amount;
    if (s.second != 0) j["second"] = s.second;
    if (!s.area.empty()) j["area"] = {s.area.low, s.area.high};
    if (!s.strokes.empty()) j["strokes"] = s.strokes;
}
static void from_json(const json& j, CleanStep& s) {
    const auto kind = cleanKindFrom(j.at("kind").get_ref<const std::string&>());
    s.kind = kind.value_or(CleanStep::Kind::crop);
    s.on = kind && j.value("on", true); // one of a later version is kept out of the way
    s.amount = j.value("amount", 0.0);
    s.second = j.value("second", 0.0);
    if (j.contains("area")) s.area = {j.at("area").at(0).get<Vec2>(), j.at("area").at(1).get<Vec2>()};
    s.strokes = j.value("strokes", std::vector<BrushStroke>{});
}
} // namespace picture

namespace artwork {
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Tolerances, gap, doubled, speck, thin)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Layer, id, name, locked, hidden, notes, colour)
NLOHMANN_JSON_SERIALIZE_ENUM(Lettering::Align, {{Lettering::Align::left, "left"},
                                                {Lettering::Align::centre, "centre"},
                                                {Lettering::Align::right, "right"}})
NLOHMANN_JSON_SERIALIZE_ENUM(Bridged::Areas, {{Bridged::Areas::fallOut, "fall out"}, {Bridged::Areas::stay, "stay"}})
static void to_json(json& j, const Bridge& b) { j = {{"from", b.from}, {"to", b.to}, {"width", b.width}}; }
static void from_json(const json& j, Bridge& b) {
    b = {j.at("from").get<Vec2>(), j.at("to").get<Vec2>(), j.at("width").get<double>()};
}
} // namespace artwork

namespace job {
NLOHMANN_JSON_SERIALIZE_ENUM(ZeroCorner, {{ZeroCorner::lowerLeft, "lower left"},
                                          {ZeroCorner::lowerRight, "lower right"},
                                          {ZeroCorner::upperRight, "upper right"},
                                          {ZeroCorner::upperLeft, "upper left"},
                                          {ZeroCorner::centre, "centre"}})
NLOHMANN_JSON_SERIALIZE_ENUM(ZeroHeight, {{ZeroHeight::top, "top"}, {ZeroHeight::bottom, "bottom"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Stock, width, height, thickness, corner, zeroAt, spacer)
static void to_json(json& j, const Clamp& c) { j = {{"low", c.area.low}, {"high", c.area.high}, {"height", c.height}}; }
static void from_json(const json& j, Clamp& c) {
    c = {{j.at("low").get<Vec2>(), j.at("high").get<Vec2>()}, j.at("height").get<double>()};
}

std::string pictureName(const artwork::PictureLeaf& leaf) {
    const auto dot = leaf.file.rfind('.');
    std::string ending = dot == std::string::npos ? "" : leaf.file.substr(dot);
    if (ending.size() > 6 || ending.find('/') != std::string::npos) ending.clear();
    return fmt::format("pictures/{:016x}{}", Hash()(*leaf.bytes).value(), ending);
}

namespace {

std::string pieceText(const Piece& piece) {
    std::string text = toText(piece.outline);
    for (const auto& opening : piece.openings) text += ' ' + toText(opening);
    return text;
}

Result<Piece> pieceFrom(const std::string& text) {
    auto paths = pathsFromText(text);
    if (!paths) return paths.problem();
    if (paths->empty()) return Problem{.what = "A shape has no path.", .where = {}, .mend = {}};
    Piece piece{std::move(paths->front()), {}};
    for (std::size_t i = 1; i < paths->size(); ++i) piece.openings.push_back(std::move((*paths)[i]));
    return piece;
}

json groupJson(const artwork::Group& group) {
    json j{{"id", group.id}, {"parent", group.parent}, {"name", group.name}};
    if (group.bridged) {
        json whole = json::array();
        for (const auto& piece : group.bridged->whole) whole.push_back(pieceText(piece));
        json was = json::array();
        for (const auto& w : group.bridged->was) was.push_back({{"layer", w.layer}, {"name", w.name}});
        j["bridged"] = {
            {"areas", group.bridged->areas}, {"whole", whole}, {"was", was}, {"bridges", group.bridged->bridges}};
    }
    if (group.lettering) {
        const auto& l = *group.lettering;
        j["text"] = {{"text", l.text},
                     {"face", l.face},
                     {"capHeight", l.capHeight},
                     {"tracking", l.tracking},
                     {"lineSpacing", l.lineSpacing},
                     {"align", l.align}};
        if (l.along) j["text"]["along"] = toText(*l.along);
    }
    return j;
}

Result<artwork::Group> groupFrom(const json& j) {
    artwork::Group group{j.at("id").get<artwork::GroupId>(), j.value("parent", artwork::GroupId{}),
                         j.value("name", std::string{})};
    if (j.contains("text")) {
        const auto& t = j.at("text");
        artwork::Lettering l{t.at("text").get<std::string>(), t.at("face").get<std::string>(),
                             t.at("capHeight").get<double>(), t.value("tracking", 0.0),
                             t.value("lineSpacing", 1.6),     t.value("align", artwork::Lettering::Align::left)};
        if (t.contains("along")) {
            auto along = pathsFromText(t.at("along").get_ref<const std::string&>());
            if (!along) return along.problem();
            if (!along->empty()) l.along = along->front();
        }
        group.lettering = std::make_shared<const artwork::Lettering>(std::move(l));
    }
    if (!j.contains("bridged")) return group;
    const auto& from = j.at("bridged");
    artwork::Bridged bridged{{},
                             {},
                             from.at("bridges").get<std::vector<artwork::Bridge>>(),
                             from.at("areas").get<artwork::Bridged::Areas>()};
    for (const auto& was : from.value("was", json::array()))
        bridged.was.push_back({was.at("layer").get<artwork::LayerId>(), was.at("name").get<std::string>()});
    for (const auto& text : from.at("whole")) {
        auto piece = pieceFrom(text.get_ref<const std::string&>());
        if (!piece) return piece.problem().within(fmt::format("group “{}”", group.name));
        bridged.whole.push_back(std::move(*piece));
    }
    group.bridged = std::make_shared<const artwork::Bridged>(std::move(bridged));
    return group;
}

json itemJson(const artwork::Item& item) {
    json j{{"id", item.id}, {"layer", item.layer}, {"name", item.name}, {"place", item.place}};
    if (item.group) j["group"] = item.group;
    if (item.original != item.place) j["original"] = item.original;
    if (item.locked) j["locked"] = true;
    if (item.hidden) j["hidden"] = true;
    if (item.underlay) j["underlay"] = true;
    if (const auto* shape = artwork::shapeOf(item)) {
        j["path"] = pieceText(shape->piece);
        if (!shape->widths.empty()) j["widths"] = shape->widths;
    } else {
        const auto* leaf = artwork::pictureOf(item);
        j["picture"] = pictureName(*leaf);
        j["file"] = leaf->file;
        j["size"] = leaf->size;
        if (!leaf->clean.empty()) j["clean"] = leaf->clean, j["pxPerMm"] = artwork::ownPxPerMm(*leaf);
    }
    return j;
}

Result<artwork::Leaf> leafFrom(const json& j, const PictureBytes& pictures,
                               std::map<std::string, picture::Picture>& decodedOnce) {
    if (j.contains("path")) {
        auto piece = pieceFrom(j.at("path").get_ref<const std::string&>());
        if (!piece) return piece.problem();
        auto widths = j.value("widths", std::vector<double>{});
        if (widths.size() != piece->outline.segments.size() + 1) widths.clear();
        return artwork::leafOf(std::move(*piece), std::move(widths));
    }
    const auto name = j.at("picture").get<std::string>();
    const auto bytes = pictures.find(name);
    if (bytes == pictures.end())
        return Problem{.what = fmt::format("The picture {} is missing from the job file.", name),
                       .where = {},
                       .mend = "Take the file from a backup."};
    if (!decodedOnce.contains(name)) {
        auto picture = picture::decoded(*bytes->second);
        if (!picture) return picture.problem();
        decodedOnce[name] = std::move(*picture);
    }
    const auto size = j.at("size").get<Vec2>();
    if (!(size.x > 0 && size.y > 0 && isFinite(size)))
        return Problem{.what = "A picture has no size.", .where = {}, .mend = {}};
    artwork::PictureLeaf leaf{j.at("file").get<std::string>(), bytes->second, decodedOnce[name], size};
    if (j.contains("clean")) { // done again: the file keeps the original and the steps
        leaf.clean = j.at("clean").get<std::vector<picture::CleanStep>>();
        leaf.original = leaf.picture;
        const auto pxPerMm = j.at("pxPerMm").get<double>();
        Progress progress;
        auto cleaned = picture::cleaned(leaf.original, leaf.clean, pxPerMm, progress);
        if (!cleaned) return cleaned.problem();
        leaf.picture = std::move(cleaned->picture);
        leaf.low = cleaned->low;
    }
    return artwork::Leaf(std::make_shared<const artwork::PictureLeaf>(std::move(leaf)));
}

Result<artwork::Artwork> artworkFrom(const json& j, const PictureBytes& pictures) {
    artwork::Artwork art;
    art.layers = j.at("layers").get<std::vector<artwork::Layer>>();
    for (const auto& entry : j.at("groups")) {
        auto group = groupFrom(entry);
        if (!group) return group.problem();
        art.groups.push_back(std::move(*group));
    }
    art.lastId = j.at("lastId").get<std::uint32_t>();
    // Group parents must form a tree: a made-up loop would send every walk upwards round for ever.
    std::map<artwork::GroupId, artwork::GroupId> parent;
    for (const auto& group : art.groups) parent[group.id] = group.parent;
    for (const auto& group : art.groups) {
        auto up = group.id;
        for (std::size_t steps = 0; up; up = parent.contains(up) ? parent[up] : artwork::GroupId{})
            if (++steps > art.groups.size())
                return Problem{
                    .what = "Groups hold each other in a ring.", .where = {}, .mend = "Take the file from a backup."};
    }
    std::map<std::string, picture::Picture> decodedOnce;
    for (const auto& entry : j.at("items")) {
        artwork::Item item;
        item.id = entry.at("id").get<artwork::ItemId>();
        item.layer = entry.at("layer").get<artwork::LayerId>();
        item.group = entry.value("group", artwork::GroupId{});
        item.name = entry.at("name").get<std::string>();
        item.place = entry.at("place").get<Transform>();
        item.original = entry.value("original", item.place);
        item.locked = entry.value("locked", false);
        item.hidden = entry.value("hidden", false);
        item.underlay = entry.value("underlay", false);
        if (!(std::abs(item.place.determinant()) > 0))
            return Problem{.what = fmt::format("“{}” has no place.", item.name), .where = {}, .mend = {}};
        auto leaf = leafFrom(entry, pictures, decodedOnce);
        if (!leaf) return leaf.problem().within(fmt::format("item “{}”", item.name));
        item.leaf = std::move(*leaf);
        art.items.push_back(std::move(item));
    }
    return art;
}

/// Every number of a loaded job must be one that the edits would have let through.
Result<void> checked(const Job& job) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = {}, .mend = "Take the file from a backup."};
    };
    for (const double size : {job.stock.width, job.stock.height, job.stock.thickness})
        if (!(size > 0 && size < 10'000)) return bad("The stock has no sound size.");
    if (!withTolerances(job, job.tolerances)) return bad("A tolerance is below 0.");
    if (!(job.stock.spacer >= 0 && job.stock.spacer < 500)) return bad("The spacer has no sound thickness.");
    if (!(job.plan.clearance > 0 && job.plan.clearance < 1000)) return bad("The clearance is not sound.");
    for (const auto& step : job.plan.steps)
        for (const auto& field : plan::fields())
            if (const double value = plan::valueOf(field, step);
                uses(field, step.kind, job.machine.kind) && !(value >= field.low - 1e-9 && value <= field.high + 1e-9))
                return bad(fmt::format("Step “{}”: {} is out of range.", step.name, field.label));
    for (const auto& tool : job.tools)
        if (!(tool.diameter > 0 && tool.diameter < 1000))
            return bad(fmt::format("Tool “{}” has no sound diameter.", tool.name));
    for (const double value :
         {job.machine.bedX, job.machine.bedY, job.machine.maxFeed, job.machine.maxFeedZ, job.machine.rapid,
          job.machine.rapidZ, job.machine.acceleration, job.machine.accelerationZ, job.machine.junction})
        if (!(value > 0 && value < 1e7)) return bad("The machine's limits are not sound.");
    return {};
}

} // namespace

std::string jsonOf(const Job& job) {
    json items = json::array();
    for (const auto& item : job.artwork->items) items.push_back(itemJson(item));
    json groups = json::array();
    for (const auto& group : job.artwork->groups) groups.push_back(groupJson(group));
    const json all{{"ferrograph", schemaVersion},
                   {"name", job.name},
                   {"units", job.units},
                   {"tolerances", job.tolerances},
                   {"stock", job.stock},
                   {"clamps", job.clamps},
                   {"machine", job.machine},
                   {"material", job.material},
                   {"tools", job.tools},
                   {"plan", job.plan},
                   {"dialect", job.dialect},
                   {"artwork",
                    {{"layers", job.artwork->layers},
                     {"groups", std::move(groups)},
                     {"lastId", job.artwork->lastId},
                     {"items", std::move(items)}}}};
    return all.dump(1, ' ', false, json::error_handler_t::replace);
}

Result<Job> jobFromJson(std::string_view text, const PictureBytes& pictures) {
    try {
        const json all = json::parse(text);
        const int version = all.at("ferrograph").get<int>();
        if (version > schemaVersion)
            return Problem{.what = fmt::format("The job was saved by a newer Ferrograph (schema {}).", version),
                           .where = "job.json",
                           .mend = "Open it with that version."};
        Job job;
        job.name = all.at("name").get<std::string>();
        job.units = all.at("units").get<Units>();
        job.tolerances = all.value("tolerances", artwork::Tolerances{});
        job.stock = all.at("stock").get<Stock>();
        job.clamps = all.at("clamps").get<std::vector<Clamp>>();
        job.machine = all.at("machine").get<shop::Machine>();
        job.material = all.at("material").get<shop::Material>();
        job.tools = all.at("tools").get<std::vector<shop::Tool>>();
        job.plan = all.at("plan").get<plan::Plan>();
        job.dialect = all.at("dialect").get<std::string>();
        auto art = artworkFrom(all.at("artwork"), pictures);
        if (!art) return art.problem().within("job.json");
        job.artwork = std::make_shared<const artwork::Artwork>(std::move(*art));
        if (auto fine = checked(job); !fine) return fine.problem().within("job.json");
        return job;
    } catch (const json::exception& error) {
        return Problem{.what = fmt::format("The job cannot be read ({}).", error.what()),
                       .where = "job.json",
                       .mend = "Take the file from a backup."};
    }
}

} // namespace job
} // namespace ferro
