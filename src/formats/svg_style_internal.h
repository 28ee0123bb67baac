#pragma once

#include <map>
#include <pugixml.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::formats {

/// The few properties that say what is drawn and how it is filled.
struct SvgStyle {
    bool shown = true; ///< visibility, which is inherited but can be taken back
    bool filled = true, stroked = false, evenOdd = false;
    std::string width = "1"; ///< of the stroke, with its unit
    enum class Ends { flat, round, square } ends = Ends::flat;
    enum class Joins { sharp, round, flat } joins = Joins::sharp;
    std::string fontSize = "16", family;
    enum class Anchor { start, middle, end } anchor = Anchor::start;
    std::string clip; ///< "url(#…)" of the element itself: it is not inherited
};

/// The style sheets of one file.
class SvgStyles {
public:
    explicit SvgStyles(const pugi::xml_node& root);
    /// The style of an element from its parent's: attributes, then rules by specificity, then its style attribute.
    [[nodiscard]] SvgStyle of(const pugi::xml_node& element, SvgStyle inherited, bool& displayed) const;

private:
    using Declarations = std::vector<std::pair<std::string, std::string>>;
    struct Rule {
        std::string type, id;
        std::vector<std::string> classes;
        int weight = 0;
        Declarations declarations;
    };
    void read(std::string_view sheet);
    [[nodiscard]] static Declarations declarationsOf(std::string_view text);
    std::vector<Rule> rules_; ///< ascending weight
};

} // namespace ferro::formats
