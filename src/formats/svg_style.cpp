#include "formats/svg_style_internal.h"

#include <algorithm>

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

void take(SvgStyle& style, bool& displayed, std::string_view name, std::string_view value) {
    if (value == "inherit") return;
    if (name == "display")
        displayed = value != "none";
    else if (name == "visibility")
        style.shown = value != "hidden" && value != "collapse";
    else if (name == "fill")
        style.filled = value != "none" && value != "transparent";
    else if (name == "stroke")
        style.stroked = value != "none" && value != "transparent";
    else if (name == "fill-rule")
        style.evenOdd = value == "evenodd";
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
    else if (name == "font-size")
        style.fontSize = value;
    else if (name == "font-family")
        style.family = value;
    else if (name == "text-anchor")
        style.anchor = value == "middle" ? SvgStyle::Anchor::middle
                       : value == "end"  ? SvgStyle::Anchor::end
                                         : SvgStyle::Anchor::start;
    else if (name == "clip-path")
        style.clip = value;
}

} // namespace

SvgStyles::SvgStyles(const pugi::xml_node& root) {
    struct Finder : pugi::xml_tree_walker {
        std::string text;
        bool for_each(pugi::xml_node& node) override {
            std::string_view name = node.name();
            if (const auto colon = name.rfind(':'); colon != std::string_view::npos) name.remove_prefix(colon + 1);
            if (name == "style")
                for (const auto& part : node.children()) text += part.value();
            return true;
        }
    } finder;
    pugi::xml_node top = root;
    top.traverse(finder);
    read(withoutRemarks(finder.text));
    std::stable_sort(rules_.begin(), rules_.end(), [](const Rule& a, const Rule& b) { return a.weight < b.weight; });
}

SvgStyles::Declarations SvgStyles::declarationsOf(std::string_view text) {
    Declarations out;
    eachPart(text, ";", [&](std::string_view one) {
        const auto colon = one.find(':');
        if (colon == std::string_view::npos) return;
        auto value = trimmed(one.substr(colon + 1));
        if (const auto strong = value.find("!important"); strong != std::string_view::npos)
            value = trimmed(value.substr(0, strong));
        out.emplace_back(trimmed(one.substr(0, colon)), value);
    });
    return out;
}

void SvgStyles::read(std::string_view sheet) {
    constexpr std::size_t most = 20'000;
    while (rules_.size() < most) {
        const auto open = sheet.find('{');
        if (open == std::string_view::npos) return;
        const auto close = std::min(sheet.find('}', open), sheet.size());
        const auto selectors = trimmed(sheet.substr(0, open));
        const auto declarations = declarationsOf(sheet.substr(open + 1, close - open - 1));
        sheet.remove_prefix(std::min(close + 1, sheet.size()));
        if (selectors.starts_with('@')) continue;
        eachPart(selectors, ",", [&](std::string_view selector) {
            // One element at a time: what hangs together by blanks or signs is not for us.
            if (selector.find_first_of(" \t\n>+~[:") != std::string_view::npos) return;
            Rule rule;
            rule.declarations = declarations;
            std::string* into = &rule.type;
            for (const char c : selector) {
                if (c == '#') {
                    into = &rule.id;
                    rule.weight += 100;
                } else if (c == '.') {
                    into = &rule.classes.emplace_back();
                    rule.weight += 10;
                } else if (c != '*') {
                    *into += c;
                }
            }
            rule.weight += !rule.type.empty();
            rules_.push_back(std::move(rule));
        });
    }
}

SvgStyle SvgStyles::of(const pugi::xml_node& element, SvgStyle style, bool& displayed) const {
    displayed = true;
    style.clip.clear();
    for (const char* name : {"display", "visibility", "fill", "stroke", "fill-rule", "stroke-width", "stroke-linecap",
                             "stroke-linejoin", "clip-path", "font-size", "font-family", "text-anchor"})
        if (const auto attribute = element.attribute(name)) take(style, displayed, name, trimmed(attribute.value()));
    std::string_view type = element.name();
    if (const auto colon = type.rfind(':'); colon != std::string_view::npos) type.remove_prefix(colon + 1);
    const std::string_view id = element.attribute("id").value();
    std::vector<std::string_view> classes;
    eachPart(element.attribute("class").value(), " \t\r\n", [&](std::string_view one) { classes.push_back(one); });
    for (const auto& rule : rules_) {
        if (!rule.type.empty() && rule.type != type) continue;
        if (!rule.id.empty() && rule.id != id) continue;
        if (!std::all_of(rule.classes.begin(), rule.classes.end(), [&](const std::string& one) {
                return std::find(classes.begin(), classes.end(), one) != classes.end();
            }))
            continue;
        for (const auto& [name, value] : rule.declarations) take(style, displayed, name, value);
    }
    for (const auto& [name, value] : declarationsOf(element.attribute("style").value()))
        take(style, displayed, name, value);
    return style;
}

} // namespace ferro::formats
