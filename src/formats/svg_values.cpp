#include "formats/svg_values_internal.h"

#include <charconv>

namespace ferro::formats {

std::string_view localName(const pugi::xml_node& node) {
    std::string_view name = node.name();
    if (const auto colon = name.rfind(':'); colon != std::string_view::npos) name.remove_prefix(colon + 1);
    return name;
}

bool takeNumber(std::string_view& text, double& value) {
    while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == ','))
        text.remove_prefix(1);
    if (!text.empty() && text.front() == '+') text.remove_prefix(1);
    const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || !std::isfinite(value) || std::abs(value) > 1e9) return false;
    text.remove_prefix(static_cast<std::size_t>(stop - text.data()));
    return true;
}

std::optional<double> lengthFrom(std::string_view text, double whole, double em) {
    double value = 0;
    if (!takeNumber(text, value)) return std::nullopt;
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
    if (text.empty() || text == "px") return value;
    if (text == "%") return value / 100 * whole;
    if (text == "em") return value * em;
    if (text == "ex" || text == "ch") return value * em / 2;
    constexpr std::pair<std::string_view, double> units[] = {{"mm", 1},         {"cm", 10},          {"in", 25.4},
                                                             {"pt", 25.4 / 72}, {"pc", 25.4 / 6},    {"Q", 0.25},
                                                             {"q", 0.25},       {"rem", 16 * pxInMm}};
    for (const auto& [name, mm] : units)
        if (text == name) return value * mm / pxInMm;
    return std::nullopt;
}

std::vector<double> lengthsFrom(std::string_view text, double whole, double em) {
    std::vector<double> out;
    constexpr std::string_view between = " \t\r\n\f,";
    while (out.size() < 100'000) {
        const auto from = text.find_first_not_of(between);
        if (from == std::string_view::npos) break;
        text.remove_prefix(from);
        const auto end = std::min(text.find_first_of(between), text.size());
        const auto length = lengthFrom(text.substr(0, end), whole, em);
        if (!length) break;
        out.push_back(*length);
        text.remove_prefix(end);
    }
    return out;
}

namespace {
/// A number of a transform: a length in pixels, or an angle in degrees whatever its unit.
bool takeMeasure(std::string_view& text, double& value) {
    if (!takeNumber(text, value)) return false;
    std::size_t letters = 0;
    while (letters < text.size() && (std::isalpha(static_cast<unsigned char>(text[letters])) || text[letters] == '%'))
        ++letters;
    const auto unit = text.substr(0, letters);
    text.remove_prefix(letters);
    constexpr std::pair<std::string_view, double> angles[] = {
        {"", 1}, {"deg", 1}, {"grad", 0.9}, {"turn", 360}, {"rad", 180 / pi}};
    for (const auto& [name, degrees] : angles)
        if (unit == name) return value *= degrees, true;
    const auto length = lengthFrom("1" + std::string(unit), 0);
    if (!length || unit == "%") return false;
    value *= *length;
    return true;
}
} // namespace

std::optional<Transform> transformFrom(std::string_view text) {
    Transform all;
    for (;;) {
        while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == ','))
            text.remove_prefix(1);
        if (text.empty() || text == "none") return all;
        const auto open = text.find('('), close = text.find(')');
        if (open == std::string_view::npos || close == std::string_view::npos || close < open) return std::nullopt;
        auto name = text.substr(0, open);
        while (!name.empty() && std::isspace(static_cast<unsigned char>(name.back()))) name.remove_suffix(1);
        auto inside = text.substr(open + 1, close - open - 1);
        text.remove_prefix(close + 1);
        std::vector<double> n;
        for (double value = 0; n.size() < 7 && takeMeasure(inside, value);) n.push_back(value);
        const auto count = n.size();
        Transform one;
        if (name == "matrix" && count == 6)
            one = {n[0], n[1], n[2], n[3], n[4], n[5]};
        else if (name == "translate" && (count == 1 || count == 2))
            one = Transform::moved({n[0], count == 2 ? n[1] : 0});
        else if (name == "scale" && (count == 1 || count == 2))
            one = Transform::scaled(n[0], count == 2 ? n[1] : n[0]);
        else if (name == "rotate" && (count == 1 || count == 3))
            one = Transform::rotated(n[0] * pi / 180, count == 3 ? Vec2{n[1], n[2]} : Vec2{});
        else if ((name == "translateX" || name == "translateY") && count == 1)
            one = Transform::moved(name.back() == 'X' ? Vec2{n[0], 0} : Vec2{0, n[0]});
        else if ((name == "scaleX" || name == "scaleY") && count == 1)
            one = name.back() == 'X' ? Transform::scaled(n[0], 1) : Transform::scaled(1, n[0]);
        else if (name == "skew" && (count == 1 || count == 2))
            one = {1, count == 2 ? std::tan(n[1] * pi / 180) : 0, std::tan(n[0] * pi / 180), 1, 0, 0};
        else if (name == "skewX" && count == 1)
            one = {1, 0, std::tan(n[0] * pi / 180), 1, 0, 0};
        else if (name == "skewY" && count == 1)
            one = {1, std::tan(n[0] * pi / 180), 0, 1, 0, 0};
        else
            return std::nullopt;
        all = all * one;
    }
}

std::optional<ViewBox> viewBoxOf(const pugi::xml_node& node) {
    std::string_view text = node.attribute("viewBox").value();
    ViewBox box;
    if (takeNumber(text, box.x) && takeNumber(text, box.y) && takeNumber(text, box.width) &&
        takeNumber(text, box.height) && box.width > 0 && box.height > 0)
        return box;
    return std::nullopt;
}

Transform fitted(const ViewBox& box, double width, double height, std::string_view aspect) {
    double sx = width / box.width, sy = height / box.height;
    double alignX = 0.5, alignY = 0.5;
    if (aspect.find("none") == std::string_view::npos) {
        const auto share = [&](std::string_view low, std::string_view high) {
            return aspect.find(low) != std::string_view::npos    ? 0.0
                   : aspect.find(high) != std::string_view::npos ? 1.0
                                                                 : 0.5;
        };
        alignX = share("xMin", "xMax"), alignY = share("YMin", "YMax");
        sx = sy = aspect.find("slice") != std::string_view::npos ? std::max(sx, sy) : std::min(sx, sy);
    } else {
        alignX = alignY = 0;
    }
    return {
        sx, 0, 0, sy, alignX * (width - sx * box.width) - sx * box.x, alignY * (height - sy * box.height) - sy * box.y};
}

std::optional<std::string> fromBase64(std::string_view text) {
    std::string out;
    unsigned bits = 0;
    int have = 0;
    for (const char c : text) {
        const int v = c >= 'A' && c <= 'Z'   ? c - 'A'
                      : c >= 'a' && c <= 'z' ? c - 'a' + 26
                      : c >= '0' && c <= '9' ? c - '0' + 52
                      : c == '+'             ? 62
                      : c == '/'             ? 63
                                             : -1;
        if (c == '=') break;
        if (v < 0) {
            if (std::isspace(static_cast<unsigned char>(c))) continue;
            return std::nullopt;
        }
        bits = bits << 6 | static_cast<unsigned>(v);
        if ((have += 6) >= 8) out += static_cast<char>(bits >> (have -= 8) & 0xFF);
    }
    return out;
}

} // namespace ferro::formats
