#include "formats/hairlines.h"

namespace ferro::formats {

namespace {

class Drawing {
public:
    explicit Drawing(const Box& page) : page_(page) {}

    void number(double value) {
        std::string text = fmt::format("{:.{}f}", value, decimals_);
        while (text.back() == '0') text.pop_back();
        if (text.back() == '.') text.pop_back();
        out += text == "-0" ? "0" : text;
    }
    void point(Vec2 p) {
        number(p.x - page_.low.x);
        out += ' ';
        number(page_.high.y - p.y);
    }
    void path(const Path& path) {
        // Where the centre of an arc of about half a turn lies, its ends and radius tell by the root of what is left of
        // their difference: six decimals of them would be only three of it.
        decimals_ = 6;
        for (std::size_t i = 0; i < path.segments.size(); ++i)
            if (path.segments[i].kind == Segment::Kind::arc &&
                std::abs(std::cos(sweepOf(path.from(i), path.segments[i]) / 2)) < 0.25)
                decimals_ = 11;
        out += 'M';
        point(path.start);
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const auto& s = path.segments[i];
            const bool closing = path.closed && i + 1 == path.segments.size() && s.kind == Segment::Kind::line;
            if (closing) break; // Z draws it
            if (s.kind == Segment::Kind::line) {
                out += 'L';
            } else if (s.kind == Segment::Kind::arc) {
                const double sweep = sweepOf(path.from(i), s), r = ferro::distance(path.from(i), s.a);
                out += 'A';
                number(r);
                out += ' ';
                number(r);
                // y points down here, so counter-clockwise is sweep 0.
                out += fmt::format(" 0 {} {} ", std::abs(sweep) > pi ? 1 : 0, s.ccw ? 0 : 1);
            } else {
                out += 'C';
                point(s.a);
                out += ' ';
                point(s.b);
                out += ' ';
            }
            point(s.end);
        }
        if (path.segments.empty()) { // a dot: nowhere and back, with ends that are drawn
            out += 'L';
            point(path.start);
        }
        if (path.closed) out += 'Z';
        decimals_ = 6;
    }
    std::string out;

private:
    Box page_;
    int decimals_ = 6;
};

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '"')
            out += "&quot;";
        else if (static_cast<unsigned char>(c) >= 0x20)
            out += c;
    }
    return out;
}

} // namespace

std::string svgOf(const std::vector<Hairlines>& layers, const Box& page) {
    const Box sheet = page.empty() ? Box{{0, 0}, {1, 1}} : page;
    Drawing drawing(sheet);
    drawing.out = "<svg xmlns=\"http://www.w3.org/2000/svg\" version=\"1.1\" width=\"";
    drawing.number(sheet.width());
    drawing.out += "mm\" height=\"";
    drawing.number(sheet.height());
    drawing.out += "mm\" viewBox=\"0 0 ";
    drawing.number(sheet.width());
    drawing.out += ' ';
    drawing.number(sheet.height());
    drawing.out += "\">\n";
    for (const auto& layer : layers) {
        drawing.out +=
            fmt::format("<g id=\"{}\" fill=\"none\" fill-rule=\"evenodd\" stroke=\"{}\" stroke-width=\"0.01\">\n",
                        escaped(layer.layer), escaped(layer.colour));
        for (const auto& piece : layer.pieces) {
            drawing.out += "<path d=\"";
            drawing.path(piece.outline);
            for (const auto& opening : piece.openings) drawing.path(opening);
            drawing.out += piece.outline.segments.empty() ? "\" stroke-linecap=\"round\"/>\n" : "\"/>\n";
        }
        drawing.out += "</g>\n";
    }
    drawing.out += "</svg>\n";
    return drawing.out;
}

} // namespace ferro::formats
