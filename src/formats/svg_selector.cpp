#include "formats/svg_selector_internal.h"

#include "formats/svg_values_internal.h"

#include <algorithm>
#include <optional>

namespace ferro::formats {

namespace {

using Compound = SvgSelector::Compound;
constexpr std::string_view blanks = " \t\r\n\f";

class Reader {
public:
    explicit Reader(std::string_view text) : text_(text) {}
    [[nodiscard]] bool atEnd() const { return text_.empty(); }
    [[nodiscard]] char next() const { return text_.empty() ? '\0' : text_.front(); }
    bool take(std::string_view what) {
        if (!text_.starts_with(what)) return false;
        text_.remove_prefix(what.size());
        return true;
    }
    bool skipBlanks() {
        const auto at = std::min(text_.find_first_not_of(blanks), text_.size());
        text_.remove_prefix(at);
        return at > 0;
    }
    std::string name() {
        std::string out;
        while (!text_.empty()) {
            const char c = text_.front();
            if (c == '\\' && text_.size() > 1) { // what follows is meant as it stands
                out += text_[1];
                text_.remove_prefix(2);
            } else if (std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' || (c & 0x80)) {
                out += c;
                text_.remove_prefix(1);
            } else {
                break;
            }
        }
        return out;
    }
    std::string until(char end) {
        const auto at = std::min(text_.find(end), text_.size());
        std::string out(text_.substr(0, at));
        text_.remove_prefix(std::min(at + 1, text_.size()));
        return out;
    }

private:
    std::string_view text_;
};

bool takeAttribute(Reader& in, Compound& into) {
    Compound::Attribute attribute;
    in.skipBlanks();
    attribute.name = in.name();
    if (in.take("|")) attribute.name = in.name(); // whatever its name space
    in.skipBlanks();
    if (attribute.name.empty()) return false;
    if (!in.take("]")) {
        attribute.how = in.next();
        if (attribute.how != '=' && (!in.take(std::string_view(&attribute.how, 1)) ||
                                     std::string_view("~^$*|").find(attribute.how) == std::string_view::npos))
            return false;
        if (!in.take("=")) return false;
        in.skipBlanks();
        if (const char quote = in.next(); quote == '"' || quote == '\'') {
            in.take(std::string_view(&quote, 1));
            attribute.value = in.until(quote);
        } else {
            attribute.value = in.name();
        }
        in.skipBlanks();
        if (!in.take("]")) return false;
    }
    into.attributes.push_back(std::move(attribute));
    return true;
}

/// The part of one element; none when it is empty or asks for what is not for us.
std::optional<Compound> compoundFrom(Reader& in, int& weight, bool inner = false) {
    Compound out;
    bool any = in.take("*");
    if (!any && !(out.type = in.name()).empty()) any = true, weight += 1;
    if (any && in.take("|")) out.type = in.take("*") ? std::string() : in.name(); // whatever its name space
    for (;; any = true) {
        if (in.take("#")) {
            out.id = in.name(), weight += 100;
        } else if (in.take(".")) {
            out.classes.push_back(in.name()), weight += 10;
        } else if (in.take("[")) {
            if (!takeAttribute(in, out)) return std::nullopt;
            weight += 10;
        } else if (in.take(":not(") && !inner) {
            in.skipBlanks();
            auto no = compoundFrom(in, weight, true);
            in.skipBlanks();
            if (!no || !in.take(")")) return std::nullopt;
            out.notThese.push_back(std::move(*no));
        } else if (in.take(":first-child")) {
            out.first = true, weight += 10;
        } else if (in.take(":last-child")) {
            out.last = true, weight += 10;
        } else if (in.take(":root")) {
            out.type = "svg", weight += 10;
        } else {
            break;
        }
    }
    if (!any || in.next() == ':') return std::nullopt;
    return out;
}

bool holds(std::string_view list, std::string_view word) {
    while (!list.empty()) {
        const auto from = std::min(list.find_first_not_of(blanks), list.size());
        list.remove_prefix(from);
        const auto end = std::min(list.find_first_of(blanks), list.size());
        if (list.substr(0, end) == word && end > 0) return true;
        list.remove_prefix(end);
    }
    return false;
}

pugi::xml_node elementBefore(pugi::xml_node node) {
    do node = node.previous_sibling();
    while (node && node.type() != pugi::node_element);
    return node;
}
pugi::xml_node elementAfter(pugi::xml_node node) {
    do node = node.next_sibling();
    while (node && node.type() != pugi::node_element);
    return node;
}

bool isSo(const Compound& compound, const pugi::xml_node& node) {
    if (!compound.type.empty() && compound.type != localName(node)) return false;
    if (!compound.id.empty() && compound.id != node.attribute("id").value()) return false;
    const std::string_view classes = node.attribute("class").value();
    for (const auto& one : compound.classes)
        if (!holds(classes, one)) return false;
    for (const auto& [name, value, how] : compound.attributes) {
        const auto attribute = node.attribute(name.c_str());
        if (!attribute) return false;
        const std::string_view has = attribute.value();
        const bool fits = how == 0     ? true
                          : how == '=' ? has == value
                          : how == '~' ? holds(has, value)
                          : how == '^' ? !value.empty() && has.starts_with(value)
                          : how == '$' ? !value.empty() && has.ends_with(value)
                          : how == '*' ? !value.empty() && has.find(value) != std::string_view::npos
                                       : has == value || has.starts_with(value + "-");
        if (!fits) return false;
    }
    if (compound.first && elementBefore(node)) return false;
    if (compound.last && elementAfter(node)) return false;
    return std::none_of(compound.notThese.begin(), compound.notThese.end(),
                        [&](const Compound& no) { return isSo(no, node); });
}

} // namespace

std::vector<SvgSelector> SvgSelector::from(std::string_view text) {
    std::vector<SvgSelector> out;
    while (!text.empty()) {
        // Commas part selectors, but for those in brackets and quotes.
        std::size_t end = 0;
        int depth = 0;
        for (char quote = 0; end < text.size(); ++end) {
            const char c = text[end];
            if (quote != 0)
                quote = c == quote ? '\0' : quote;
            else if (c == '"' || c == '\'')
                quote = c;
            else if (c == '[' || c == '(')
                ++depth;
            else if (c == ']' || c == ')')
                --depth;
            else if (c == ',' && depth <= 0)
                break;
        }
        Reader in(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        SvgSelector one;
        bool fine = true;
        in.skipBlanks();
        while (fine && !in.atEnd() && one.parts_.size() < 20) {
            auto compound = compoundFrom(in, one.weight_);
            if (!compound) {
                fine = false;
                break;
            }
            one.parts_.push_back(std::move(*compound));
            const bool apart = in.skipBlanks();
            if (in.atEnd()) break;
            const char sign = in.next();
            if (sign == '>' || sign == '+' || sign == '~') {
                in.take(std::string_view(&sign, 1));
                in.skipBlanks();
                one.between_ += sign;
            } else if (apart) {
                one.between_ += ' ';
            } else {
                fine = false;
            }
        }
        if (fine && in.atEnd() && one.parts_.size() == one.between_.size() + 1) out.push_back(std::move(one));
    }
    return out;
}

bool SvgSelector::matches(const pugi::xml_node& element) const {
    int steps = 10'000; // a hostile sheet looks for what is not there in every way
    return matches(element, parts_.size() - 1, steps);
}

bool SvgSelector::matches(const pugi::xml_node& element, std::size_t part, int& steps) const {
    if (--steps < 0 || !isSo(parts_[part], element)) return false;
    if (part == 0) return true;
    const auto elementAbove = [](const pugi::xml_node& node) {
        const auto up = node.parent();
        return up.type() == pugi::node_element ? up : pugi::xml_node();
    };
    switch (between_[part - 1]) {
    case '>': {
        const auto up = elementAbove(element);
        return up && matches(up, part - 1, steps);
    }
    case '+': {
        const auto before = elementBefore(element);
        return before && matches(before, part - 1, steps);
    }
    case '~':
        for (auto before = elementBefore(element); before && steps > 0; before = elementBefore(before))
            if (matches(before, part - 1, steps)) return true;
        return false;
    default:
        for (auto up = elementAbove(element); up && steps > 0; up = elementAbove(up))
            if (matches(up, part - 1, steps)) return true;
        return false;
    }
}

} // namespace ferro::formats
