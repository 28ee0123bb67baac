#include "formats/svg_selector_internal.h"
#include "formats/svg_style_internal.h"

#include <catch2/catch.hpp>
#include <random>

using namespace ferro;
using formats::SvgSelector;

namespace {

/// A selector as its parts, and what each part asks of an element.
struct Part {
    std::string type, cls, id, attribute, value;
    bool negated = false;
    char before = 0; ///< how it hangs on the part before: ' ', '>', '+', '~'
};
std::string textOf(const std::vector<Part>& parts) {
    std::string out;
    for (const auto& p : parts) {
        if (p.before == ' ') out += ' ';
        if (p.before && p.before != ' ') out += std::string(" ") + p.before + " ";
        std::string own = p.type;
        if (!p.cls.empty()) own += "." + p.cls;
        if (!p.id.empty()) own += "#" + p.id;
        if (!p.attribute.empty()) own += "[" + p.attribute + (p.value.empty() ? "" : "='" + p.value + "'") + "]";
        if (p.negated) own += ":not(.odd)";
        out += own.empty() ? "*" : own;
    }
    return out;
}
bool asks(const Part& p, const pugi::xml_node& node) {
    const std::string classes = std::string(" ") + node.attribute("class").value() + " ";
    if (!p.type.empty() && p.type != node.name()) return false;
    if (!p.cls.empty() && classes.find(" " + p.cls + " ") == std::string::npos) return false;
    if (!p.id.empty() && p.id != node.attribute("id").value()) return false;
    if (!p.attribute.empty() && !node.attribute(p.attribute.c_str())) return false;
    if (!p.value.empty() && p.value != node.attribute(p.attribute.c_str()).value()) return false;
    return !p.negated || classes.find(" odd ") == std::string::npos;
}
/// By trying everything.
bool fits(const std::vector<Part>& parts, std::size_t count, const pugi::xml_node& node) {
    if (node.type() != pugi::node_element || !asks(parts[count - 1], node)) return false;
    if (count == 1) return true;
    switch (parts[count - 1].before) {
    case '>': return fits(parts, count - 1, node.parent());
    case '+': return fits(parts, count - 1, node.previous_sibling());
    case '~':
        for (auto n = node.previous_sibling(); n; n = n.previous_sibling())
            if (fits(parts, count - 1, n)) return true;
        return false;
    default:
        for (auto n = node.parent(); n; n = n.parent())
            if (fits(parts, count - 1, n)) return true;
        return false;
    }
}
void grow(pugi::xml_node into, std::mt19937& random, int depth) {
    const auto of = [&](std::initializer_list<const char*> words) {
        return *(words.begin() + random() % words.size());
    };
    for (unsigned i = 0; i < 3; ++i) {
        auto node = into.append_child(of({"g", "path", "rect"}));
        node.append_attribute("class") = of({"", "cut", "cut odd", "odd score", "score"});
        if (random() % 3 == 0) node.append_attribute("id") = of({"moon", "heron", "ferry"});
        if (random() % 2) node.append_attribute("layer") = of({"one", "two"});
        if (depth > 0) grow(node, random, depth - 1);
    }
}

} // namespace

TEST_CASE("svg selectors: match what trying everything matches", "[property]") {
    std::mt19937 random(9);
    pugi::xml_document file;
    auto root = file.append_child("svg");
    grow(root, random, 4);
    std::vector<pugi::xml_node> nodes;
    struct All : pugi::xml_tree_walker {
        std::vector<pugi::xml_node>* to;
        bool for_each(pugi::xml_node& node) override { return to->push_back(node), true; }
    } all;
    all.to = &nodes;
    root.traverse(all);
    std::size_t matched = 0;
    for (int i = 0; i < 300; ++i) {
        const auto of = [&](std::initializer_list<const char*> words) {
            return *(words.begin() + random() % words.size());
        };
        std::vector<Part> parts;
        for (std::size_t k = 0, n = 1 + random() % 3; k < n; ++k) {
            Part p{of({"", "g", "path", "rect"}),
                   of({"", "", "cut", "odd", "score"}),
                   of({"", "", "", "moon"}),
                   "",
                   "",
                   random() % 5 == 0,
                   k ? " >+~"[random() % 4] : '\0'};
            if (random() % 4 == 0) p.attribute = "layer", p.value = of({"", "one"});
            parts.push_back(p);
        }
        const auto text = textOf(parts);
        const auto made = SvgSelector::from(text);
        CAPTURE(text);
        REQUIRE(made.size() == 1);
        for (const auto& node : nodes) {
            const bool expected = fits(parts, parts.size(), node);
            matched += expected;
            if (made[0].matches(node) != expected) FAIL_CHECK(node.path());
        }
    }
    CHECK(matched > 1000); // it was no empty comparison
}

TEST_CASE(
    "svg selectors: the weightier rule wins, the later of two alike, lists part at commas, the rest is passed over") {
    CHECK(SvgSelector::from("#moon")[0].weight() > SvgSelector::from(".a.b.c[d]")[0].weight());
    CHECK(SvgSelector::from(".a")[0].weight() > SvgSelector::from("g path rect")[0].weight());
    CHECK(SvgSelector::from("g, .a ,#b").size() == 3);
    CHECK(SvgSelector::from("[data='a,b'], g").size() == 2);
    for (const char* none : {"", " ", ">", "g >", "a:hover", "::before", "g[", "[=x]", ":not(g", "g..", ",", "*g"})
        CHECK(SvgSelector::from(none).size() <= (std::string(none) == "g.." ? 1u : 0u));
    CHECK(SvgSelector::from("g:hover, path").size() == 1);
    pugi::xml_document file;
    file.load_string("<svg><style>.a{fill:red} g .a{fill:blue} .a{fill:green} #x{fill:none} rect{fill:white}</style>"
                     "<g><rect class='a'/><rect id='x' class='a' style='fill:red'/></g><rect/></svg>");
    const auto root = file.document_element();
    const formats::SvgStyles styles(root);
    const auto g = root.child("g");
    CHECK(styles.of(g.first_child(), {}).fill == "blue");
    CHECK(styles.of(g.last_child(), {}).fill == "red"); // its own style outdoes any rule
    CHECK(styles.of(root.child("rect"), {}).fill == "white");
}

TEST_CASE("svg colours: written in any way they mean the same") {
    for (const char* red :
         {"red", "#f00", "#FF0000", "rgb(255,0,0)", "rgb(100%, 0%, 0%)", "#ff0000ff", " rgb( 255 0 0 ) "})
        CHECK(formats::svgColour(red) == "#ff0000");
    for (const char* none : {"", "none", "url(#a)", "#ff", "#gg0000", "rgb(1,2)", "rust"})
        CHECK_FALSE(formats::svgColour(none));
    CHECK(formats::svgColour("rgb(300, -5, 127.6)") == "#ff0080");
}
