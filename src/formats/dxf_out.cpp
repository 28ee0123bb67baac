#include "formats/hairlines.h"
#include "geometry/arc_fit.h"

namespace ferro::formats {

namespace {

/// The nearest of the seven plain colours of the format.
int indexOf(const std::string& colour) {
    constexpr std::array<std::array<int, 3>, 7> plain{
        {{255, 0, 0}, {255, 255, 0}, {0, 255, 0}, {0, 255, 255}, {0, 0, 255}, {255, 0, 255}, {0, 0, 0}}};
    std::array<int, 3> want{};
    for (std::size_t i = 0; i < 3; ++i) want[i] = std::stoi(colour.substr(1 + 2 * i, 2), nullptr, 16);
    int best = 7, least = std::numeric_limits<int>::max();
    for (std::size_t i = 0; i < plain.size(); ++i) {
        int off = 0;
        for (std::size_t k = 0; k < 3; ++k) off += (want[k] - plain[i][k]) * (want[k] - plain[i][k]);
        if (off < least) least = off, best = static_cast<int>(i) + 1;
    }
    return best;
}

/// Layer names of the old form: no control characters, nothing that the format reads as a sign of its own, and what is
/// no ASCII by its number in Unicode, which is read alike whatever the code page is.
std::string nameOf(const std::string& layer) {
    std::string out;
    for (std::size_t i = 0; i < layer.size();) {
        const auto byte = static_cast<unsigned char>(layer[i++]);
        if (byte < 0x80) {
            out += byte < 0x20 || std::string_view("<>/\\\":;?*|=,`").find(layer[i - 1]) != std::string::npos
                       ? '_'
                       : layer[i - 1];
            continue;
        }
        unsigned code = byte >= 0xF0 ? byte & 0x07 : byte >= 0xE0 ? byte & 0x0F : byte & 0x1F;
        while (i < layer.size() && (static_cast<unsigned char>(layer[i]) & 0xC0) == 0x80)
            code = code << 6 | (static_cast<unsigned char>(layer[i++]) & 0x3F);
        out += code <= 0xFFFF ? fmt::format("\\U+{:04X}", code) : "_"; // four digits are all there is room for
    }
    return out.empty() ? "0" : out;
}

class Writer {
public:
    void pair(int code, std::string_view value) { out += fmt::format("{}\n{}\n", code, value); }
    void pair(int code, int value) { pair(code, std::to_string(value)); }
    void number(int code, double value) {
        std::string text = fmt::format("{:.9f}", value);
        while (text.back() == '0') text.pop_back();
        if (text.back() == '.') text += '0';
        pair(code, text == "-0.0" ? "0.0" : text);
    }
    void point(int code, Vec2 p) {
        number(code, p.x);
        number(code + 10, p.y);
        number(code + 20, 0);
    }
    void entity(std::string_view kind) {
        pair(0, kind);
        pair(8, layer);
    }
    void path(const Path& whole) {
        if (whole.segments.empty()) {
            entity("POINT");
            return point(10, whole.start);
        }
        if (const auto round = circleOf(whole, 1e-7); round && whole.closed) {
            entity("CIRCLE");
            point(10, round->centre);
            return number(40, round->radius);
        }
        const Path path = withoutCubics(whole, 0.0005);
        if (!path.closed && path.segments.size() == 1 && path.segments[0].kind == Segment::Kind::line) {
            entity("LINE");
            point(10, path.start);
            return point(11, path.end());
        }
        entity("POLYLINE");
        pair(66, 1);
        point(10, {});
        pair(70, path.closed ? 1 : 0);
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const auto& s = path.segments[i];
            vertex(path.from(i), s.kind == Segment::Kind::arc ? std::tan(sweepOf(path.from(i), s) / 4) : 0);
        }
        if (!path.closed) vertex(path.end(), 0);
        entity("SEQEND");
    }
    std::string out, layer;

private:
    void vertex(Vec2 at, double bulge) {
        entity("VERTEX");
        point(10, at);
        if (bulge != 0) number(42, bulge);
    }
};

} // namespace

std::string dxfOf(const std::vector<Hairlines>& layers) {
    Box box;
    for (const auto& layer : layers)
        for (const auto& piece : layer.pieces) box.take(boundsOf(piece));
    if (box.empty()) box = {{0, 0}, {1, 1}};
    Writer to;
    to.pair(0, "SECTION");
    to.pair(2, "HEADER");
    to.pair(9, "$ACADVER");
    to.pair(1, "AC1009");
    to.pair(9, "$DWGCODEPAGE");
    to.pair(3, "ANSI_1252");
    to.pair(9, "$INSUNITS");
    to.pair(70, 4);
    to.pair(9, "$MEASUREMENT");
    to.pair(70, 1);
    to.pair(9, "$EXTMIN");
    to.point(10, box.low);
    to.pair(9, "$EXTMAX");
    to.point(10, box.high);
    to.pair(0, "ENDSEC");
    to.pair(0, "SECTION");
    to.pair(2, "TABLES");
    to.pair(0, "TABLE");
    to.pair(2, "LAYER");
    to.pair(70, static_cast<int>(layers.size()));
    for (const auto& layer : layers) {
        to.pair(0, "LAYER");
        to.pair(2, nameOf(layer.layer));
        to.pair(70, 0);
        to.pair(62, indexOf(layer.colour));
        to.pair(6, "CONTINUOUS");
    }
    to.pair(0, "ENDTAB");
    to.pair(0, "ENDSEC");
    to.pair(0, "SECTION");
    to.pair(2, "ENTITIES");
    for (const auto& layer : layers) {
        to.layer = nameOf(layer.layer);
        for (const auto& piece : layer.pieces) {
            to.path(piece.outline);
            for (const auto& opening : piece.openings) to.path(opening);
        }
    }
    to.pair(0, "ENDSEC");
    to.pair(0, "EOF");
    return std::move(to.out);
}

} // namespace ferro::formats
