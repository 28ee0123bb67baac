#include "formats/dxf_in.h"

#include "formats/dxf_entities_internal.h"
#include "formats/dxf_pairs_internal.h"

#include <algorithm>
#include <cctype>

namespace ferro::formats {

namespace {

std::optional<double> mmOfUnit(int code) {
    constexpr double mm[] = {0,      25.4,  304.8, 1609344, 1,    10,  1000, 1e6, 2.54e-5,
                             0.0254, 914.4, 1e-7,  1e-6,    1e-3, 100, 1e4,  1e5};
    if (code < 1 || code >= static_cast<int>(std::size(mm))) return std::nullopt;
    return mm[code];
}

/// Of all but the strays, mm.
Box extentOf(const Drawing& drawing, const std::vector<std::size_t>& strays) {
    Box box;
    for (std::size_t i = 0; i < drawing.items.size(); ++i)
        if (!std::binary_search(strays.begin(), strays.end(), i))
            for (const auto& piece : drawing.items[i].pieces) box.take(boundsOf(piece));
    return box;
}

constexpr int millimetres = 4; // $INSUNITS

/// A part's name with what the attributes of its block say, as people write it: “wing, 4 off, Birch, 6 mm”. A thickness
/// without a unit is of the drawing's, where that is the millimetre; else it is not guessed.
/// `unread` counts what says something of a part and is not understood, by tag and value.
std::string nameFrom(const std::string& block, const std::vector<std::pair<std::string, std::string>>& attributes,
                     bool inMm, std::map<std::string, std::size_t>& unread) {
    std::string name = block, quantity, material, thickness;
    const auto isOneOf = [](std::string_view tag, std::initializer_list<std::string_view> words) {
        std::string low;
        for (const char c : tag)
            if (std::isalpha(static_cast<unsigned char>(c)))
                low += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        return std::find(words.begin(), words.end(), low) != words.end();
    };
    const auto isNumber = [](std::string_view text) {
        return !text.empty() && text.find_first_not_of("0123456789.,") == std::string_view::npos;
    };
    for (const auto& [tag, value] : attributes) {
        if (isOneOf(tag, {"name", "part", "partname", "mark"})) name = value;
        const auto takes = [&](bool understood) {
            if (!understood) ++unread[fmt::format("{} “{}”", tag.substr(0, 40), value.substr(0, 40))];
            return understood;
        };
        if (isOneOf(tag, {"qty", "quantity", "count", "pieces", "pcs", "off"}) && takes(isNumber(value)))
            quantity = ", " + value + " off";
        if (isOneOf(tag, {"material", "mat", "stock"})) material = ", " + value;
        if (isOneOf(tag, {"thickness", "thick"}) && takes(!isNumber(value) || inMm))
            thickness = ", " + value + (isNumber(value) ? " mm" : "");
    }
    return name + quantity + material + thickness;
}

/// What unfolding left out, and which layers are labels.
void tell(const DxfUnfolded& found, Drawing& drawing) {
    drawing.notices.clear(), drawing.looks.clear();
    const auto say = [&](std::string text) { drawing.notices.push_back({std::move(text)}); };
    if (found.absurd) say(fmt::format("Left out: {} entities farther off than 10 km.", found.absurd));
    for (const auto& [layer, kinds] : found.labels) {
        drawing.looks.push_back({layer, {}, false, true});
        std::string what;
        std::size_t all = 0;
        for (const auto& [kind, count] : kinds) {
            what += fmt::format("{}{} {}{}", what.empty() ? "" : ", ", count, kind, count == 1 ? "" : "s");
            all += count;
        }
        say(fmt::format("{} came in as notes on “{}”: {} not cut unless you say so.", what, layer,
                        all == 1 ? "it is" : "they are"));
    }
    for (const auto& [block, count] : found.missing)
        say(fmt::format("Left out: {} × block “{}”, which is not in the file.", count, block));
    if (found.undrawn) say(fmt::format("Left out: {} × DIMENSION, whose lines are not in the file.", found.undrawn));
}
void tellLeftOut(const std::map<std::string, std::size_t>& counts, Drawing& drawing) {
    for (const auto& [kind, count] : counts)
        drawing.notices.push_back({fmt::format("Left out: {} × {}.", count, kind)});
}

} // namespace

Result<Drawing> drawingFromDxf(std::string_view text, std::optional<double> mmPerUnit) {
    auto pairs = dxfPairsFrom(text);
    if (!pairs) return pairs.problem();
    auto entities = dxfEntitiesFrom(std::move(pairs->text));

    Drawing drawing;
    std::size_t told = 0;
    std::map<std::string, std::size_t> unread;
    for (auto& entity : entities.entities)
        if (auto* insert = std::get_if<DxfEntities::Insert>(&entity))
            if (const auto at = pairs->attributes.find(insert->number); at != pairs->attributes.end()) {
                insert->name = nameFrom(insert->block, at->second, pairs->unit == millimetres, unread);
                told += insert->name != insert->block;
            }
    const auto said = mmOfUnit(pairs->unit);
    const auto unfold = [&](double scale) -> std::optional<Problem> {
        auto found = unfolded(entities, scale);
        if (!found) return found.problem();
        drawing.items = std::move(found->items);
        tell(*found, drawing);
        if (found->origin != Vec2{})
            drawing.notices.push_back(
                {fmt::format("The drawing lies {:.0f} m from its own origin: it was moved back by "
                             "{:.0f}, {:.0f} mm.",
                             length(found->origin) / 1000, found->origin.x, found->origin.y)});
        return std::nullopt;
    };
    double scale = mmPerUnit ? *mmPerUnit : said.value_or(1);
    if (auto problem = unfold(scale)) return *problem;
    drawing.drawn = {mmPerUnit ? Drawing::Drawn::By::choice
                     : said    ? Drawing::Drawn::By::file
                               : Drawing::Drawn::By::guess,
                     scale,
                     {}};
    const auto far = strays(drawing);
    const Box box = extentOf(drawing, far);
    drawing.drawn.units = Vec2{box.width(), box.height()} / scale;
    drawing.drawn.strays = far.size();
    const double longest = std::max(drawing.drawn.units.x, drawing.drawn.units.y);
    // Under 60 units across: nobody draws so small in mm, and the file's measure is the inch.
    if (!mmPerUnit && !said && pairs->measurement == 0 && longest > 0 && longest < 60) {
        drawing.drawn.mmPerUnit = scale = 25.4;
        if (auto problem = unfold(scale)) return *problem;
    }
    drawing.loose = true;
    // Only layers that hold something.
    for (const auto& look : entities.looks)
        if (std::any_of(drawing.items.begin(), drawing.items.end(),
                        [&](const auto& i) { return i.layer == look.layer; }))
            drawing.looks.push_back(look);
    auto leftOut = pairs->leftOut;
    for (const auto& [kind, count] : entities.leftOut) leftOut[kind] += count;
    tellLeftOut(leftOut, drawing);
    for (const auto& [what, count] : unread)
        drawing.notices.push_back(
            {fmt::format("Not understood of {}: {}.", count == 1 ? "a block" : fmt::format("{} blocks", count), what)});
    if (told)
        drawing.notices.push_back(
            {fmt::format("{} block{} told of by attributes: the names of {} parts say it. Read them "
                         "as part facts where you lay the sheet out.",
                         told, told == 1 ? " is" : "s are", told == 1 ? "its" : "their")});
    if (!pairs->damage.empty())
        drawing.notices.insert(drawing.notices.begin(),
                               {fmt::format("The file is damaged at {}; what comes after is lost.", pairs->damage)});
    return drawing;
}

} // namespace ferro::formats
