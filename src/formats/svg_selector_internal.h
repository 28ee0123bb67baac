#pragma once

#include <pugixml.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::formats {

/// What a rule of a style sheet is for (Selectors 3): types, classes, ids, attributes, first and last child, what is
/// not so, below, next to or after another element.
class SvgSelector {
public:
    /// None where it asks for what a drawing at rest has not, such as a pointer over it.
    [[nodiscard]] static std::vector<SvgSelector> from(std::string_view text);
    [[nodiscard]] bool matches(const pugi::xml_node& element) const;
    [[nodiscard]] int weight() const { return weight_; } ///< ids over classes over types

    /// One element's own part of it.
    struct Compound {
        std::string type, id;
        std::vector<std::string> classes;
        struct Attribute {
            std::string name, value;
            char how = 0; ///< 0 it is there, else '=', '~', '^', '$', '*', '|' as in [a^=b]
        };
        std::vector<Attribute> attributes;
        bool first = false, last = false;
        std::vector<Compound> notThese;
    };
    [[nodiscard]] const Compound& target() const { return parts_.back(); }

private:
    [[nodiscard]] bool matches(const pugi::xml_node& element, std::size_t part, int& steps) const;
    std::vector<Compound> parts_; ///< the last is the element's
    std::string between_;         ///< ' ', '>', '+' or '~' after each but the last
    int weight_ = 0;
};

} // namespace ferro::formats
