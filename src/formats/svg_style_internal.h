#pragma once

#include "formats/svg_selector_internal.h"

#include <cstdint>
#include <map>
#include <optional>

namespace ferro::formats {

/// The few properties that say what is drawn and how it is filled.
struct SvgStyle {
    bool shown = true;   ///< visibility, which is inherited but can be taken back
    bool marked = false; ///< with arrowheads or the like
    bool filled = true, stroked = false, evenOdd = false, clipEvenOdd = false;
    std::string fill = "black", stroke, colour = "black"; ///< as they are written; `colour` is what currentColor is
    std::string width = "1";                              ///< of the stroke, with its unit
    enum class Ends { flat, round, square } ends = Ends::flat;
    enum class Joins { sharp, round, flat } joins = Joins::sharp;
    double miterLimit = 4;
    std::string dashes, dashStart; ///< as they are written
    double fontSize = 16;          ///< user units
    std::string family;
    bool bold = false, italic = false;
    enum class Anchor { start, middle, end } anchor = Anchor::start;

    /// Of the element itself, not inherited.
    struct Own {
        bool displayed = true, clipsView = true;
        std::string clip, mask, transform, origin; ///< as they are written
    } own;
};

/// "#rgb", "#rrggbb", "rgb(…)" or one of the names of CSS 1: red, green and blue in 0 to 255 as "#rrggbb".
[[nodiscard]] std::optional<std::string> svgColour(std::string_view text);

/// The style sheets of one file.
class SvgStyles {
public:
    explicit SvgStyles(const pugi::xml_node& root);
    /// The style of an element from its parent's: attributes, then rules by specificity, then its style attribute, then
    /// what is important.
    [[nodiscard]] SvgStyle of(const pugi::xml_node& element, SvgStyle inherited) const;

private:
    struct Declaration {
        std::string name, value;
        bool important = false;
    };
    using Declarations = std::vector<Declaration>;
    struct Rule {
        SvgSelector selector;
        std::size_t declarations; ///< index
    };
    void read(std::string_view sheet);
    [[nodiscard]] static Declarations declarationsOf(std::string_view text);
    std::vector<Declarations> declarations_;
    std::vector<Rule> rules_; ///< ascending weight
    /// Rules by what an element must have at least, so that a drawing with a thousand classes is read quickly.
    std::map<std::string, std::vector<std::uint32_t>, std::less<>> byId_, byClass_, byType_;
    std::vector<std::uint32_t> forAll_;
};

} // namespace ferro::formats
