// The drawing in the job file: layers, groups, items, and the pictures as they came in.
#include "artwork/copies.h"
#include "base/hash.h"
#include "job/json_internal.h"

#include <charconv>
#include <set>
#include <unordered_map>

namespace ferro {

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
    io("leastStep", s.leastStep)("colours", s.colours)("palette", s.palette)("goUnder", s.goUnder)("paper", s.paper);
    if constexpr (Io::reads) io("stacked", s.goUnder); // its name before
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
    if (item.fade != artwork::usualFade) j["fade"] = item.fade;
    if (item.origin)
        j["tracedFrom"] = {{"picture", item.origin->picture.value},
                           {"was", written(std::vector{item.origin->was.low, item.origin->was.high})},
                           {"print", fmt::format("{:016x}", item.origin->print)}};
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

artwork::Origin originFrom(const json& j) {
    artwork::Origin origin;
    std::vector<Vec2> was;
    std::string print;
    json_members::Reading io(j);
    io.need("picture", origin.picture).need("was", was).need("print", print);
    io.done();
    if (was.size() != 2) throw Fault{"two corners were expected", {"was"}};
    origin.was = {was[0], was[1]};
    const auto [end, error] = std::from_chars(print.data(), print.data() + print.size(), origin.print, 16);
    if (error != std::errc{} || end != print.data() + print.size())
        throw Fault{"hexadecimal digits were expected", {"print"}};
    return origin;
}

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
    io("sheet", item.sheet)("copyOf", item.of)("fade", item.fade);
    if (!(item.fade >= 0 && item.fade <= 1)) throw Fault{"a part of 1 was expected", {"fade"}};
    if (const auto* origin = io.member("tracedFrom")) item.origin = originFrom(*origin);
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

} // namespace

json artworkJson(const artwork::Artwork& art) {
    json items = json::array(), groups = json::array();
    for (const auto& item : art.items) items.push_back(itemJson(item));
    for (const auto& group : art.groups) groups.push_back(groupJson(group));
    return {{"layers", written(art.layers)},
            {"groups", std::move(groups)},
            {"lastId", art.lastId},
            {"sheet", art.sheet.value},
            {"items", std::move(items)}};
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

} // namespace job
} // namespace ferro
