#include "formats/svg_style_internal.h"

#include "formats/svg_values_internal.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace ferro::formats {

namespace {

std::string_view trimmed(std::string_view text) {
    constexpr std::string_view blanks = " \t\r\n\f";
    const auto first = text.find_first_not_of(blanks);
    if (first == std::string_view::npos) return {};
    return text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

/// Calls `take` for the parts of a text between separators.
template<class Take> void eachPart(std::string_view text, std::string_view separators, Take&& take) {
    while (!text.empty()) {
        const auto end = std::min(text.find_first_of(separators), text.size());
        if (const auto part = trimmed(text.substr(0, end)); !part.empty()) take(part);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
}

std::string withoutRemarks(std::string_view text) {
    std::string out;
    while (!text.empty()) {
        const auto begin = std::min(text.find("/*"), text.size());
        out += text.substr(0, begin);
        text.remove_prefix(begin);
        if (text.empty()) break;
        const auto end = text.find("*/");
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 2);
    }
    return out;
}

double fontSizeFrom(std::string_view value, double parent) {
    constexpr std::pair<std::string_view, double> words[] = {{"xx-small", 9}, {"x-small", 10}, {"small", 13},
                                                             {"medium", 16},  {"large", 18},   {"x-large", 24},
                                                             {"xx-large", 32}};
    for (const auto& [word, size] : words)
        if (value == word) return size;
    if (value == "smaller") return parent / 1.2;
    if (value == "larger") return parent * 1.2;
    return lengthFrom(value, parent, parent).value_or(parent);
}

/// `parent`: the font size that an em of the font size itself means.
void take(SvgStyle& style, double parent, std::string_view name, std::string_view value) {
    if (value == "inherit") return;
    const bool none = value == "none" || value == "transparent";
    if (name == "display")
        style.own.displayed = value != "none";
    else if (name == "visibility")
        style.shown = value != "hidden" && value != "collapse";
    else if (name == "color")
        style.colour = value;
    else if (name == "fill")
        style.filled = !none, style.fill = value;
    else if (name == "stroke")
        style.stroked = !none, style.stroke = value;
    else if (name == "fill-rule")
        style.evenOdd = value == "evenodd";
    else if (name == "clip-rule")
        style.clipEvenOdd = value == "evenodd";
    else if (name == "stroke-width")
        style.width = value;
    else if (name == "stroke-linecap")
        style.ends = value == "round"    ? SvgStyle::Ends::round
                     : value == "square" ? SvgStyle::Ends::square
                                         : SvgStyle::Ends::flat;
    else if (name == "stroke-linejoin")
        style.joins = value == "round"   ? SvgStyle::Joins::round
                      : value == "bevel" ? SvgStyle::Joins::flat
                                         : SvgStyle::Joins::sharp;
    else if (name.starts_with("marker"))
        style.marked = !none;
    else if (name == "stroke-miterlimit")
        style.miterLimit = std::max(1.0, lengthFrom(value, 1).value_or(4));
    else if (name == "stroke-dasharray")
        style.dashes = none ? "" : value;
    else if (name == "stroke-dashoffset")
        style.dashStart = value;
    else if (name == "font-size")
        style.fontSize = fontSizeFrom(value, parent);
    else if (name == "font-family")
        style.family = value;
    else if (name == "font-weight")
        style.bold = value.starts_with("bold") || (value.size() == 3 && value >= "600" && value <= "999");
    else if (name == "font-style")
        style.italic = value == "italic" || value.starts_with("oblique");
    else if (name == "text-anchor")
        style.anchor = value == "middle" ? SvgStyle::Anchor::middle
                       : value == "end"  ? SvgStyle::Anchor::end
                                         : SvgStyle::Anchor::start;
    else if (name == "clip-path")
        style.own.clip = value == "none" ? "" : value;
    else if (name == "mask")
        style.own.mask = value == "none" ? "" : value;
    else if (name == "transform")
        style.own.transform = value;
    else if (name == "transform-origin")
        style.own.origin = value;
    else if (name == "overflow")
        style.own.clipsView = value != "visible" && value != "auto";
}

} // namespace

std::optional<std::string> svgColour(std::string_view text) {
    text = trimmed(text);
    constexpr std::pair<std::string_view, std::string_view> names[] = {
        {"black", "#000000"},   {"white", "#ffffff"},   {"red", "#ff0000"},    {"lime", "#00ff00"},
        {"blue", "#0000ff"},    {"yellow", "#ffff00"},  {"cyan", "#00ffff"},   {"aqua", "#00ffff"},
        {"magenta", "#ff00ff"}, {"fuchsia", "#ff00ff"}, {"green", "#008000"},  {"maroon", "#800000"},
        {"navy", "#000080"},    {"olive", "#808000"},   {"purple", "#800080"}, {"teal", "#008080"},
        {"silver", "#c0c0c0"},  {"gray", "#808080"},    {"grey", "#808080"},   {"orange", "#ffa500"}};
    for (const auto& [name, value] : names)
        if (text == name) return std::string(value);
    const auto isHex = [](char c) { return std::isxdigit(static_cast<unsigned char>(c)) != 0; };
    if (text.starts_with('#') && std::all_of(text.begin() + 1, text.end(), isHex)) {
        std::string out = "#";
        if (text.size() == 4 || text.size() == 5)
            for (std::size_t i = 1; i < 4; ++i) out.append(2, static_cast<char>(std::tolower(text[i])));
        else if (text.size() == 7 || text.size() == 9)
            for (std::size_t i = 1; i < 7; ++i) out += static_cast<char>(std::tolower(text[i]));
        else
            return std::nullopt;
        return out;
    }
    if (!text.starts_with("rgb")) return std::nullopt;
    text.remove_prefix(std::min(text.find('('), text.size()));
    if (!text.empty()) text.remove_prefix(1);
    std::string out = "#";
    for (int i = 0; i < 3; ++i) {
        double value = 0;
        if (!takeNumber(text, value)) return std::nullopt;
        if (text.starts_with('%')) value = value * 255 / 100, text.remove_prefix(1);
        out += fmt::format("{:02x}", static_cast<int>(std::lround(std::clamp(value, 0.0, 255.0))));
    }
    return out;
}

SvgStyles::SvgStyles(const pugi::xml_node& root) {
    struct Finder : pugi::xml_tree_walker {
        std::string text;
        bool for_each(pugi::xml_node& node) override {
            if (localName(node) == "style")
                for (const auto& part : node.children()) text += part.value();
            return true;
        }
    } finder;
    pugi::xml_node top = root;
    top.traverse(finder);
    read(withoutRemarks(finder.text));
    std::stable_sort(rules_.begin(), rules_.end(),
                     [](const Rule& a, const Rule& b) { return a.selector.weight() < b.selector.weight(); });
    for (std::uint32_t i = 0; i < rules_.size(); ++i) {
        const auto& needs = rules_[i].selector.target();
        if (!needs.id.empty())
            byId_[needs.id].push_back(i);
        else if (!needs.classes.empty())
            byClass_[needs.classes.front()].push_back(i);
        else if (!needs.type.empty())
            byType_[needs.type].push_back(i);
        else
            forAll_.push_back(i);
    }
}

SvgStyles::Declarations SvgStyles::declarationsOf(std::string_view text) {
    Declarations out;
    eachPart(text, ";", [&](std::string_view one) {
        const auto colon = one.find(':');
        if (colon == std::string_view::npos) return;
        auto value = trimmed(one.substr(colon + 1));
        const auto strong = value.find("!important");
        if (strong != std::string_view::npos) value = trimmed(value.substr(0, strong));
        out.push_back(
            {std::string(trimmed(one.substr(0, colon))), std::string(value), strong != std::string_view::npos});
    });
    return out;
}

void SvgStyles::read(std::string_view sheet) {
    constexpr std::size_t most = 20'000;
    while (rules_.size() < most) {
        sheet = trimmed(sheet);
        if (sheet.starts_with('@')) { // for other media, or from elsewhere: to its ; or past its block
            const auto end = sheet.find_first_of(";{");
            if (end == std::string_view::npos) return;
            std::size_t at = end + 1;
            for (int depth = sheet[end] == '{'; depth > 0 && at < sheet.size(); ++at)
                depth += sheet[at] == '{' ? 1 : sheet[at] == '}' ? -1 : 0;
            sheet.remove_prefix(std::min(at, sheet.size()));
            continue;
        }
        const auto open = sheet.find('{');
        if (open == std::string_view::npos) return;
        const auto close = std::min(sheet.find('}', open), sheet.size());
        auto selectors = SvgSelector::from(trimmed(sheet.substr(0, open)));
        declarations_.push_back(declarationsOf(sheet.substr(open + 1, close - open - 1)));
        sheet.remove_prefix(std::min(close + 1, sheet.size()));
        for (auto& selector : selectors) rules_.push_back({std::move(selector), declarations_.size() - 1});
    }
}

SvgStyle SvgStyles::of(const pugi::xml_node& element, SvgStyle style) const {
    style.own = {};
    const double parent = style.fontSize;
    const bool clip = localName(element) != "svg" || element.parent().type() == pugi::node_element;
    static const std::set<std::string_view> presentation = {
        "display",         "visibility",       "color",        "fill",        "stroke",
        "fill-rule",       "clip-rule",        "stroke-width", "font-family", "stroke-linecap",
        "stroke-linejoin", "stroke-dasharray", "clip-path",    "mask",        "stroke-dashoffset",
        "font-size",       "font-style",       "font-weight",  "text-anchor", "stroke-miterlimit",
        "overflow",        "marker-start",     "marker-mid",   "marker-end"};
    for (const auto& attribute : element.attributes())
        if (const std::string_view name = attribute.name(); presentation.contains(name))
            take(style, parent, name, trimmed(attribute.value()));
    std::vector<std::uint32_t> found;
    const auto look = [&](const auto& among, std::string_view key) {
        if (const auto at = among.find(key); at != among.end())
            found.insert(found.end(), at->second.begin(), at->second.end());
    };
    if (!rules_.empty()) {
        found = forAll_;
        look(byType_, localName(element));
        look(byId_, element.attribute("id").value());
        eachPart(element.attribute("class").value(), " \t\r\n\f", [&](std::string_view one) { look(byClass_, one); });
        std::sort(found.begin(), found.end());
        found.erase(std::unique(found.begin(), found.end()), found.end());
        std::erase_if(found, [&](std::uint32_t i) { return !rules_[i].selector.matches(element); });
    }
    const auto written = declarationsOf(element.attribute("style").value());
    for (const bool important : {false, true}) {
        for (const auto i : found)
            for (const auto& d : declarations_[rules_[i].declarations])
                if (d.important == important) take(style, parent, d.name, d.value);
        for (const auto& d : written)
            if (d.important == important) take(style, parent, d.name, d.value);
    }
    style.own.clipsView = style.own.clipsView && clip; // what lies beside the page is there all the same
    return style;
}

} // namespace ferro::formats
