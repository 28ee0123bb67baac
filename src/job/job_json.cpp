#include "job/job_file.h"

#include "artwork/copies.h"
#include "base/hash.h"
#include "job/edits.h"
#include "job/names_internal.h"
#include "job/sheets.h"
#include "plan/fields.h"
#include "shop/json_fields_internal.h"

#include <set>
#include <unordered_map>

namespace ferro {

using json_members::Fault;
using json_members::json;
using json_members::read;
using json_members::written;

inline constexpr std::array<std::string_view, 2> unitsWords = {"mm", "inch"};
static constexpr const auto& wordsOf(Units) { return unitsWords; }

static json writtenForm(const Vec2& v) { return json::array({v.x, v.y}); }
static void readFrom(const json& j, Vec2& v) {
    std::vector<double> n;
    read(j, n);
    if (n.size() != 2) throw Fault{"two numbers were expected", {}};
    v = {n[0], n[1]};
}
static json writtenForm(const Transform& t) { return json::array({t.a, t.b, t.c, t.d, t.tx, t.ty}); }
static void readFrom(const json& j, Transform& t) {
    std::vector<double> n;
    read(j, n);
    if (n.size() != 6) throw Fault{"six numbers were expected", {}};
    t = {n[0], n[1], n[2], n[3], n[4], n[5]};
}
template<class Tag> json writtenForm(const Id<Tag>& id) { return id.value; }
template<class Tag> void readFrom(const json& j, Id<Tag>& id) { read(j, id.value); }

namespace plan {

inline constexpr std::array<std::string_view, 4> roleWords = {"any", "openings", "outer edges", "open lines"};
inline constexpr std::array<std::string_view, 2> orderWords = {"automatic", "by hand"};
static constexpr const auto& wordsOf(Role) { return roleWords; }
static constexpr const auto& wordsOf(Order) { return orderWords; }

template<class Io> void members(Io& io, Rule& r) {
    io("layers", r.layers)("role", r.role)("items", r.items)("above", r.above)("below", r.below);
}
template<class Io> void members(Io& io, TabPlace& t) { io("item", t.item)("opening", t.opening)("along", t.along); }
template<class Io> void members(Io& io, Plan& p) {
    io("steps", p.steps)("order", p.order)("clearance", p.clearance)("lastId", p.lastId);
}

/// A step's settings lie beside its head, by the names of its kind's table.
static json writtenForm(const Step& step) {
    const Kind& kind = kindOf(step);
    json j{{"id", step.id.value},     {"name", step.name}, {"kind", kind.name},
           {"enabled", step.enabled}, {"tool", step.tool}, {"rule", written(step.rule)}};
    if (!step.note.empty()) j["note"] = step.note;
    if (step.stopBefore) j["stopBefore"] = true;
    for (const auto& field : kind.fields) j[std::string(field.name)] = valueOf(field, step);
    for (const auto& choice : kind.choices)
        j[std::string(choice.name)] = choice.words[static_cast<std::size_t>(choice.get(step))];
    if (const auto* tabs = tabsIn(step); tabs && !tabs->empty()) j["tabs"] = written(*tabs);
    if (!step.typed.empty()) j["typed"] = step.typed;
    return j;
}

/// A word of a choice. Before schema 2 “through” was true or false.
static int wordFrom(const json& j, const Choice& choice) {
    if (j.isBool() && choice.words.size() == 2) return j.truth();
    return static_cast<int>(json_members::wordIn(j, choice.words));
}

/// Settings of any kind: schema 1 wrote all of them into every step.
static bool wasInEveryStep(std::string_view name) {
    for (const auto* kind : kinds()) {
        if (fieldNamed(*kind, name)) return true;
        for (const auto& choice : kind->choices)
            if (choice.name == name) return true;
    }
    return name == "tabs";
}

static void readFrom(const json& j, Step& step) {
    json_members::Reading io(j);
    std::string word;
    io.need("kind", word);
    const Kind* kind = kindNamed(word);
    if (!kind)
        throw Fault{fmt::format("“{}” is no kind of step that this Ferrograph knows", word.substr(0, 60)), {"kind"}};
    step.settings = kind->fresh();
    io.need("id", step.id).need("name", step.name)("enabled", step.enabled)("tool", step.tool)("rule", step.rule);
    io("note", step.note)("stopBefore", step.stopBefore)("typed", step.typed);
    for (const auto& field : kind->fields) io(std::string(field.name).c_str(), field.number(step));
    for (const auto& choice : kind->choices)
        if (const auto* value = io.member(std::string(choice.name).c_str())) try {
                choice.set(step, wordFrom(*value, choice));
            } catch (Fault& fault) {
                fault.path.emplace_back(choice.name);
                throw;
            }
    if (auto* tabs = tabsIn(step)) io("tabs", *tabs);
    for (const auto& [key, value] : j.group())
        if (wasInEveryStep(key)) io.forget({key.c_str()});
    io.done();
}

} // namespace plan

namespace picture {
template<class Io> void members(Io& io, BrushStroke& s) { io.need("points", s.points).need("width", s.width); }
static json writtenForm(const CleanStep& s) {
    json j{{"kind", wordOf(s.kind)}, {"on", s.on}};
    if (s.amount != 0) j["amount"] = s.amount;
    if (s.second != 0) j["second"] = s.second;
    if (!s.area.empty()) j["area"] = written(std::vector{s.area.low, s.area.high});
    if (!s.strokes.empty()) j["strokes"] = written(s.strokes);
    return j;
}
static void readFrom(const json& j, CleanStep& s) {
    json_members::Reading io(j);
    std::string word;
    io.need("kind", word);
    const auto kind = cleanKindFrom(word);
    if (!kind)
        throw Fault{fmt::format("“{}” is no kind of clean-up that this Ferrograph knows", word.substr(0, 60)),
                    {"kind"}};
    s.kind = *kind;
    std::vector<Vec2> area;
    io("on", s.on)("amount", s.amount)("second", s.second)("area", area)("strokes", s.strokes);
    if (area.size() == 2)
        s.area = {area[0], area[1]};
    else if (!area.empty())
        throw Fault{"two corners were expected", {"area"}};
    io.done();
}
} // namespace picture

namespace artwork {
inline constexpr std::array<std::string_view, 3> alignWords = {"left", "centre", "right"};
inline constexpr std::array<std::string_view, 2> areasWords = {"fall out", "stay"};
static constexpr const auto& wordsOf(Lettering::Align) { return alignWords; }
static constexpr const auto& wordsOf(Bridged::Areas) { return areasWords; }
template<class Io> void members(Io& io, Tolerances& t) {
    io("gap", t.gap)("doubled", t.doubled)("speck", t.speck)("thin", t.thin);
}
template<class Io> void members(Io& io, Layer& l) {
    io("id", l.id)("name", l.name)("locked", l.locked)("hidden", l.hidden)("notes", l.notes)("colour", l.colour);
}
template<class Io> void members(Io& io, Bridge& b) { io.need("from", b.from).need("to", b.to).need("width", b.width); }
static json writtenForm(const Colour& c) { return toText(c); }
static void readFrom(const json& j, Colour& c) {
    const auto colour = colourFrom(json_members::textIn(j));
    if (!colour) throw json_members::Fault{"a colour as #9e3f22 was expected", {}};
    c = *colour;
}
template<class Io> void members(Io& io, TraceSettings& s) {
    io("find", s.find)("level", s.level)("above", s.above)("invert", s.invert)("speck", s.speck);
    io("cornersUnder", s.cornersUnder)("followWithin", s.followWithin)("lineWidth", s.lineWidth);
    io("leastStep", s.leastStep)("colours", s.colours)("palette", s.palette)("stacked", s.stacked)("paper", s.paper);
    if constexpr (Io::reads) {
        std::vector<Vec2> only;
        io("only", only);
        if (only.size() == 2) s.only = {only[0], only[1]};
        if (only.size() != 2 && !only.empty()) throw json_members::Fault{"two corners were expected", {"only"}};
    } else if (!s.only.empty()) {
        io("only", std::vector{s.only.low, s.only.high});
    }
}
template<class Io> void members(Io& io, TracePatch& p) { io.need("area", p.area).need("settings", p.settings); }
template<class Io> void members(Io& io, Recipe& r) { io.need("whole", r.whole)("patches", r.patches); }
template<class Io> void members(Io& io, Part& p) {
    io("quantity", p.quantity)("material", p.material)("thickness", p.thickness)("turns", p.turns)("mirror", p.mirror);
    io("priority", p.priority)("labels", p.labels);
}
template<class Io> void members(Io& io, Bridged::Was& w) { io.need("layer", w.layer).need("name", w.name); }
} // namespace artwork

namespace job {
template<class Io> void members(Io& io, Stock& s) {
    io("width", s.width)("height", s.height)("thickness", s.thickness)("corner", s.corner)("zeroAt", s.zeroAt);
    io("spacer", s.spacer);
}
template<class Io> void members(Io& io, Clamp& c) {
    io.need("low", c.area.low).need("high", c.area.high).need("height", c.height);
}

template<class Io> void members(Io& io, Sheet& s) {
    io.need("id", s.id).need("name", s.name).need("stock", s.stock)("clamps", s.clamps);
    if constexpr (Io::reads) {
        if (io.member("material")) io("material", s.material.emplace());
    } else if (s.material) {
        io("material", *s.material);
    }
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

/// Paths are text of our own; what is wrong in one is said as any other fault.
std::vector<Path> pathsIn(const std::string& text) {
    auto paths = pathsFromText(text);
    if (!paths) throw Fault{paths.problem().what.substr(0, 200), {}};
    if (paths->empty()) throw Fault{"a shape has no path", {}};
    return std::move(*paths);
}

Piece pieceFrom(const std::string& text) {
    auto paths = pathsIn(text);
    Piece piece{std::move(paths.front()), {}};
    for (std::size_t i = 1; i < paths.size(); ++i) piece.openings.push_back(std::move(paths[i]));
    return piece;
}

json groupJson(const artwork::Group& group) {
    json j{{"id", group.id.value}, {"parent", group.parent.value}, {"name", group.name}};
    if (group.bridged) {
        json whole = json::array();
        for (const auto& piece : group.bridged->whole) whole.push_back(pieceText(piece));
        j["bridged"] = {{"areas", written(group.bridged->areas)},
                        {"whole", whole},
                        {"was", written(group.bridged->was)},
                        {"bridges", written(group.bridged->bridges)}};
    }
    if (group.lettering) {
        const auto& l = *group.lettering;
        j["text"] = {{"text", l.text},
                     {"face", l.face},
                     {"capHeight", l.capHeight},
                     {"tracking", l.tracking},
                     {"lineSpacing", l.lineSpacing},
                     {"align", written(l.align)}};
        if (l.along) j["text"]["along"] = toText(*l.along);
    }
    return j;
}

artwork::Lettering letteringFrom(const json& j) {
    artwork::Lettering l;
    std::string along;
    json_members::Reading io(j);
    io.need("text", l.text).need("face", l.face).need("capHeight", l.capHeight)("tracking", l.tracking);
    io("lineSpacing", l.lineSpacing)("align", l.align)("along", along);
    io.done();
    if (!along.empty()) l.along = pathsIn(along).front();
    return l;
}

artwork::Bridged bridgedFrom(const json& j) {
    artwork::Bridged bridged;
    std::vector<std::string> whole;
    json_members::Reading io(j);
    io.need("areas", bridged.areas).need("whole", whole).need("bridges", bridged.bridges)("was", bridged.was);
    io.done();
    for (const auto& text : whole) bridged.whole.push_back(pieceFrom(text));
    return bridged;
}

artwork::Group groupFrom(const json& j) {
    artwork::Group group;
    json_members::Reading io(j);
    io.need("id", group.id)("parent", group.parent)("name", group.name);
    if (const auto* text = io.member("text"))
        group.lettering = std::make_shared<const artwork::Lettering>(letteringFrom(*text));
    if (const auto* bridged = io.member("bridged"))
        group.bridged = std::make_shared<const artwork::Bridged>(bridgedFrom(*bridged));
    io.done();
    return group;
}

json itemJson(const artwork::Item& item) {
    json j{{"id", item.id.value}, {"layer", item.layer.value}, {"name", item.name}, {"place", written(item.place)}};
    if (item.group) j["group"] = item.group.value;
    if (item.original != item.place) j["original"] = written(item.original);
    if (item.sheet != artwork::firstSheet) j["sheet"] = item.sheet.value;
    if (item.part) j["part"] = written(*item.part);
    if (item.recipe) j["trace"] = written(*item.recipe);
    if (item.locked) j["locked"] = true;
    if (item.hidden) j["hidden"] = true;
    if (item.underlay) j["underlay"] = true;
    if (item.of) {
        j["copyOf"] = item.of.value;
    } else if (const auto* shape = artwork::shapeOf(item)) {
        j["path"] = pieceText(shape->piece);
        if (!shape->widths.empty()) j["widths"] = shape->widths;
    } else {
        const auto* leaf = artwork::pictureOf(item);
        j["picture"] = pictureName(*leaf);
        j["file"] = leaf->file;
        j["size"] = written(leaf->size);
        if (!leaf->clean.empty()) j["clean"] = written(leaf->clean), j["pxPerMm"] = artwork::ownPxPerMm(*leaf);
    }
    return j;
}

/// Pictures that several items share are decoded, and cleaned up in the same way, once.
class Pictures {
public:
    explicit Pictures(const PictureBytes& bytes) : bytes_(bytes) {}

    artwork::Leaf leaf(json_members::Reading& io) {
        std::string name, file;
        Vec2 size;
        std::vector<picture::CleanStep> clean;
        double pxPerMm = 0;
        io.need("picture", name).need("file", file).need("size", size)("clean", clean)("pxPerMm", pxPerMm);
        if (!(size.x > 0 && size.y > 0 && size.x < 1e6 && size.y < 1e6)) throw Fault{"a picture has no size", {"size"}};
        const auto bytes = bytes_.find(name);
        if (bytes == bytes_.end()) throw Fault{fmt::format("the picture {} is missing from the job file", name), {}};
        artwork::PictureLeaf leaf{file, bytes->second, decoded(name, *bytes->second), size};
        if (!clean.empty()) { // done again: the file keeps the original and the steps
            if (!(pxPerMm > 0 && pxPerMm < 1e5)) throw Fault{"a cleaned picture needs its pixels per mm", {"pxPerMm"}};
            leaf.original = leaf.picture;
            const auto& done = cleaned(name, leaf.original, clean, pxPerMm);
            leaf.picture = done.picture;
            leaf.low = done.low;
            leaf.clean = std::move(clean);
        }
        return artwork::Leaf(std::make_shared<const artwork::PictureLeaf>(std::move(leaf)));
    }

private:
    const picture::Picture& decoded(const std::string& name, const std::string& bytes) {
        auto at = decoded_.find(name);
        if (at == decoded_.end()) {
            auto picture = picture::decoded(bytes);
            if (!picture) throw Fault{picture.problem().what, {name}};
            at = decoded_.emplace(name, std::move(*picture)).first;
        }
        return at->second;
    }
    const picture::Cleaned& cleaned(const std::string& name, const picture::Picture& original,
                                    const std::vector<picture::CleanStep>& steps, double pxPerMm) {
        const std::string key = fmt::format("{} {} {}", name, pxPerMm, written(steps).dump());
        auto at = cleaned_.find(key);
        if (at == cleaned_.end()) {
            Progress progress;
            auto done = picture::cleaned(original, steps, pxPerMm, progress);
            if (!done) throw Fault{done.problem().what, {"clean"}};
            at = cleaned_.emplace(key, std::move(*done)).first;
        }
        return at->second;
    }
    const PictureBytes& bytes_;
    std::map<std::string, picture::Picture> decoded_;
    std::map<std::string, picture::Cleaned> cleaned_;
};

artwork::Item itemFrom(const json& j, Pictures& pictures) {
    artwork::Item item;
    json_members::Reading io(j);
    io.need("id", item.id).need("layer", item.layer)("group", item.group).need("name", item.name);
    io.need("place", item.place);
    item.original = item.place;
    io("original", item.original)("locked", item.locked)("hidden", item.hidden)("underlay", item.underlay);
    for (const double part : {item.place.a, item.place.b, item.place.c, item.place.d, item.place.tx, item.place.ty})
        if (!(std::abs(part) <= 1e8)) throw Fault{"an item lies beyond 100 km, or is scaled without end", {"place"}};
    if (!(std::abs(item.place.determinant()) > 0)) throw Fault{"an item has no place", {"place"}};
    io("sheet", item.sheet)("copyOf", item.of);
    if (io.member("part")) {
        artwork::Part part;
        io("part", part);
        if (auto fine = artwork::checked(part); !fine) throw Fault{fine.problem().what, {"part"}};
        item.part = std::make_shared<const artwork::Part>(std::move(part));
    }
    if (io.member("trace")) {
        artwork::Recipe recipe;
        io("trace", recipe);
        if (auto fine = artwork::checked(recipe); !fine) throw Fault{fine.problem().what, {"trace"}};
        item.recipe = std::make_shared<const artwork::Recipe>(std::move(recipe));
    }
    if (item.of) {
        // Its shape comes with its original, wherever that stands in the list.
    } else if (const auto* path = io.member("path")) {
        std::string text;
        read(*path, text);
        auto piece = pieceFrom(text);
        std::vector<double> widths;
        io("widths", widths);
        if (widths.size() != piece.outline.segments.size() + 1) widths.clear();
        item.leaf = artwork::leafOf(std::move(piece), std::move(widths));
    } else {
        item.leaf = pictures.leaf(io);
    }
    io.done();
    return item;
}

/// Group parents must form a forest: a made-up loop would send every walk upwards round for ever.
void refuseRings(const artwork::Artwork& art) {
    std::map<artwork::GroupId, artwork::GroupId> parent;
    for (const auto& group : art.groups) parent[group.id] = group.parent;
    std::set<artwork::GroupId> sound; // its way up ends
    for (const auto& group : art.groups) {
        std::vector<artwork::GroupId> way;
        std::set<artwork::GroupId> onIt;
        for (auto up = group.id; up && !sound.contains(up);
             up = parent.contains(up) ? parent[up] : artwork::GroupId{}) {
            if (!onIt.insert(up).second) throw Fault{"groups hold each other in a ring", {}};
            way.push_back(up);
        }
        sound.insert(way.begin(), way.end());
    }
}

/// Gives copies the shape of their original.
void shapeCopies(artwork::Artwork& art) {
    std::unordered_map<std::uint32_t, const artwork::Item*> byId;
    for (const auto& item : art.items) byId.emplace(item.id.value, &item);
    for (auto& item : art.items) {
        if (!item.of) continue;
        const auto at = byId.find(item.of.value);
        if (at == byId.end() || at->second->of)
            throw Fault{fmt::format("“{}” is a copy of what is not there", item.name), {"items"}};
        item.leaf = at->second->leaf;
    }
}

artwork::Artwork artworkFrom(const json& j, const PictureBytes& bytes) {
    artwork::Artwork art;
    Pictures pictures(bytes);
    json_members::Reading io(j);
    io.need("layers", art.layers).need("lastId", art.lastId)("sheet", art.sheet);
    const auto each = [&](const char* key, auto&& take) {
        const auto* list = io.member(key);
        if (!list || !list->isList()) throw Fault{fmt::format("“{}” is missing", key), {}};
        for (std::size_t i = 0; i < list->size(); ++i) try {
                take(list->list()[i]);
            } catch (Fault& fault) {
                fault.path.push_back(fmt::format("{} {}", key, json_members::placeOf(list->list()[i], i)));
                throw;
            }
    };
    each("groups", [&](const json& entry) { art.groups.push_back(groupFrom(entry)); });
    refuseRings(art);
    each("items", [&](const json& entry) { art.items.push_back(itemFrom(entry, pictures)); });
    shapeCopies(art);
    io.done();
    return art;
}

/// Every number of a loaded job must be one that the edits would have let through: they are asked.
Result<void> checked(const Job& job) {
    const auto passes = [](const auto& edited) -> Result<void> {
        if (edited) return {};
        return edited.problem();
    };
    if (auto fine = passes(withTolerances(job, job.tolerances)); !fine) return fine;
    if (auto fine = passes(withClearance(job, job.plan.clearance)); !fine) return fine;
    Job bare = job;
    bare.artwork = std::make_shared<const artwork::Artwork>();
    for (const auto& sheet : job.sheets) {
        bare.sheets = {sheet};
        bare.sheets[0].clamps.clear();
        const auto within = [&](const Problem& problem) { return problem.within(fmt::format("“{}”", sheet.name)); };
        if (auto fine = passes(withStock(bare, sheet.stock)); !fine) return within(fine.problem());
        for (const auto& clamp : sheet.clamps)
            if (auto fine = passes(withClamp(bare, clamp)); !fine) return within(fine.problem().within("clamps"));
        if (auto fine = passes(withSheetNamed(bare, sheet.id, sheet.name)); !fine) return fine;
        if (sheet.material)
            if (auto fine = shop::checked(*sheet.material); !fine) return within(fine.problem());
    }
    for (const auto& step : job.plan.steps)
        if (auto fine = plan::checked(step); !fine) return fine;
    for (const auto& tool : job.tools)
        if (auto fine = shop::checked(tool); !fine) return fine;
    if (auto fine = shop::checked(job.material); !fine) return fine;
    return shop::checked(job.machine);
}

} // namespace

namespace {

/// Every sheet has a number and a name of its own, and every item a sheet that is there, or none.
void refuseLostSheets(const Job& job) {
    if (job.sheets.empty() || job.sheets.size() > 1000) throw Fault{"a job has 1 to 1000 sheets", {"sheets"}};
    std::set<SheetId> known;
    std::set<std::string> names;
    for (const auto& sheet : job.sheets)
        if (!sheet.id || !known.insert(sheet.id).second || !names.insert(sheet.name).second)
            throw Fault{fmt::format("the sheet “{}” is there twice, or has no number", sheet.name), {"sheets"}};
    for (const auto& item : job.artwork->items)
        if (item.sheet && !known.contains(item.sheet))
            throw Fault{fmt::format("“{}” lies on a sheet that is not there", item.name), {"artwork", "items"}};
    if (job.artwork->sheet && !known.contains(job.artwork->sheet))
        throw Fault{"the sheet at hand is not there", {"artwork", "sheet"}};
}

} // namespace

std::string jsonOf(const Job& job) {
    json items = json::array();
    for (const auto& item : job.artwork->items) items.push_back(itemJson(item));
    json groups = json::array();
    for (const auto& group : job.artwork->groups) groups.push_back(groupJson(group));
    const json all{{"ferrograph", schemaVersion},
                   {"name", job.name},
                   {"units", written(job.units)},
                   {"tolerances", written(job.tolerances)},
                   {"sheets", written(job.sheets)},
                   {"machine", written(job.machine)},
                   {"material", written(job.material)},
                   {"tools", written(job.tools)},
                   {"plan", written(job.plan)},
                   {"dialect", job.dialect},
                   {"artwork",
                    {{"layers", written(job.artwork->layers)},
                     {"groups", std::move(groups)},
                     {"lastId", job.artwork->lastId},
                     {"sheet", job.artwork->sheet.value},
                     {"items", std::move(items)}}}};
    return all.dump(1);
}

Result<Job> jobFromJson(std::string_view text, const PictureBytes& pictures) {
    auto job =
        json_members::readJson<Result<Job>>(text, "Take the file from a backup.", [&](const json& all) -> Result<Job> {
            json_members::Reading io(all);
            int version = 0;
            io.need("ferrograph", version);
            if (version > schemaVersion)
                return Problem{
                    .what = fmt::format("The job was saved by a newer Ferrograph (schema {}, this one knows {}).",
                                        version, schemaVersion),
                    .where = {},
                    .mend = "Open it with that version."};
            Job read;
            io.need("name", read.name).need("units", read.units)("tolerances", read.tolerances);
            if (version < 3) { // a job was one sheet
                io.need("stock", read.sheets[0].stock)("clamps", read.sheets[0].clamps);
            } else {
                io.need("sheets", read.sheets);
            }
            io.need("machine", read.machine).need("material", read.material);
            io.need("tools", read.tools).need("plan", read.plan)("dialect", read.dialect);
            const auto* artwork = io.member("artwork");
            if (!artwork) throw Fault{"“artwork” is missing", {}};
            try {
                read.artwork = std::make_shared<const artwork::Artwork>(artworkFrom(*artwork, pictures));
            } catch (Fault& fault) {
                fault.path.emplace_back("artwork");
                throw;
            }
            io.done();
            refuseLostSheets(read);
            if (auto fine = checked(read); !fine) return fine.problem();
            return read;
        });
    if (!job) return job.problem().within("job.json");
    return job;
}

} // namespace job
} // namespace ferro
