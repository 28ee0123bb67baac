#include "formats/svg_shapes_internal.h"

#include "formats/svg.h"

namespace ferro::formats {

double SvgScale::length(const pugi::xml_node& node, const char* attribute, double whole, double fallback) const {
    const auto given = node.attribute(attribute);
    if (!given) return fallback;
    const auto value = lengthFrom(given.value(), whole, em);
    if (!value && notice && std::string_view(given.value()) != "auto")
        notice(fmt::format("A length could not be read: {} of {}.", attribute, svgName(node)));
    return value.value_or(fallback);
}

std::string svgName(const pugi::xml_node& node) {
    const std::string_view id = node.attribute("id").value();
    return id.empty() ? std::string(localName(node)) : std::string(id);
}

namespace {

Path roundedBox(const pugi::xml_node& node, const SvgScale& scale, double width, double height) {
    const Vec2 at{scale.x(node, "x"), scale.y(node, "y")};
    double rx = scale.x(node, "rx", -1), ry = scale.y(node, "ry", -1);
    if (rx < 0) rx = ry; // SVG 2: auto
    if (ry < 0) ry = rx;
    rx = std::clamp(rx, 0.0, width / 2), ry = std::clamp(ry, 0.0, height / 2);
    if (!(rx > 0 && ry > 0)) return rectangle(at, at + Vec2{width, height});
    // Round in units of its radii, so that equal ones give true arcs.
    const Path unitBox = rectangle({0, 0}, {width / rx, height / ry}, 1);
    return transformed(unitBox, Transform::moved(at) * Transform::scaled(rx, ry));
}

std::vector<Path> roundShape(const pugi::xml_node& node, const SvgScale& scale, bool isCircle) {
    double rx = isCircle ? scale.length(node, "r", scale.diagonal()) : scale.x(node, "rx", -1),
           ry = isCircle ? rx : scale.y(node, "ry", -1);
    if (rx < 0) rx = ry;
    if (ry < 0) ry = rx;
    if (!(rx > 0 && ry > 0)) return {};
    const Vec2 centre{scale.x(node, "cx"), scale.y(node, "cy")};
    return {transformed(circle({0, 0}, 1), Transform::moved(centre) * Transform::scaled(rx, ry))};
}

} // namespace

Result<std::vector<Path>> svgShape(const pugi::xml_node& node, const SvgScale& scale, std::optional<Problem>* broken) {
    const auto type = localName(node);
    if (type == "path") {
        auto read = pathsFromSvgData(node.attribute("d").value(), broken);
        if (!read) return Problem{.what = read.problem().text(), .where = {}, .mend = {}};
        return read;
    }
    if (type == "rect") {
        const double width = scale.x(node, "width"), height = scale.y(node, "height");
        if (!(width > 0 && height > 0)) return std::vector<Path>{};
        return std::vector{roundedBox(node, scale, width, height)};
    }
    if (type == "circle" || type == "ellipse") return roundShape(node, scale, type == "circle");
    if (type == "line") {
        const Vec2 a{scale.x(node, "x1"), scale.y(node, "y1")}, b{scale.x(node, "x2"), scale.y(node, "y2")};
        return std::vector<Path>{{a, {Segment::line(b)}, false}};
    }
    if (type == "polyline" || type == "polygon") {
        std::string_view text = node.attribute("points").value();
        Ring ring;
        for (Vec2 p; takeNumber(text, p.x) && takeNumber(text, p.y);) ring.push_back(p);
        if (ring.size() < 2) return std::vector<Path>{};
        return std::vector{pathOf(ring, type == "polygon")};
    }
    return Problem{.what = fmt::format("Elements of the kind “{}” are not known.", type), .where = {}, .mend = {}};
}

} // namespace ferro::formats
