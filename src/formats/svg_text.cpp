#include "formats/svg_text_internal.h"

#include "artwork/text.h"
#include "geometry/measure.h"

namespace ferro::formats {

namespace {

using pugi::xml_node;

class RunReader {
public:
    RunReader(const SvgStyles& styles, const SvgScale& scale, const std::function<xml_node(std::string_view)>& find)
        : styles_(styles), scale_(scale), find_(find) {}

    std::vector<SvgRun> read(const xml_node& text, const SvgStyle& style) {
        begin(style, Vec2{}, {});
        element(text, style, std::nullopt, 0);
        flush();
        return std::move(runs_);
    }

private:
    /// The words gathered so far are a run; a new one begins.
    void begin(const SvgStyle& style, std::optional<Vec2> at, Vec2 shift) {
        flush();
        now_ = {{}, style, at, shift, now_.along};
    }
    void flush() {
        if (now_.words.find_first_not_of(' ') != std::string::npos) runs_.push_back(now_);
        now_.words.clear();
    }

    void element(const xml_node& node, const SvgStyle& style, std::optional<Vec2> inherited, int depth) {
        if (depth > 50 || ++count_ > 100'000) return;
        SvgScale scale = scale_;
        scale.em = style.fontSize;
        const auto places = [&](const char* name, double whole) {
            return lengthsFrom(node.attribute(name).value(), whole, scale.em);
        };
        const auto xs = places("x", scale.view.width), ys = places("y", scale.view.height),
                   dx = places("dx", scale.view.width), dy = places("dy", scale.view.height);
        const Vec2 shift{dx.empty() ? 0 : dx[0], dy.empty() ? 0 : dy[0]};
        if (!xs.empty() || !ys.empty()) {
            const Vec2 last = now_.at.value_or(inherited.value_or(Vec2{}));
            inherited = Vec2{xs.empty() ? last.x : xs[0], ys.empty() ? last.y : ys[0]};
            begin(style, inherited, shift);
            blank_ = true;
        } else if (shift != Vec2{} || style.fontSize != now_.style.fontSize || style.family != now_.style.family ||
                   style.bold != now_.style.bold || style.italic != now_.style.italic ||
                   style.shown != now_.style.shown) {
            begin(style, std::nullopt, shift);
        }
        std::size_t letter = 0;
        for (const auto& child : node.children()) {
            if (child.type() == pugi::node_pcdata || child.type() == pugi::node_cdata) {
                words(child.value(), style, xs, ys, letter);
                continue;
            }
            const auto type = localName(child);
            if (type != "tspan" && type != "a" && type != "textPath") continue;
            const SvgStyle own = styles_.of(child, style);
            if (!own.own.displayed) continue;
            if (type == "textPath") {
                onPath(child, own, depth);
                continue;
            }
            element(child, own, inherited, depth + 1);
            if (own.fontSize != style.fontSize || own.family != style.family || own.shown != style.shown)
                begin(style, std::nullopt, {}); // what comes after the span goes on behind it
        }
    }

    /// Letters with a place each are a run each.
    void words(std::string_view text, const SvgStyle& style, const std::vector<double>& xs,
               const std::vector<double>& ys, std::size_t& letter) {
        for (std::size_t i = 0; i < text.size();) {
            const auto byte = static_cast<unsigned char>(text[i]);
            const std::size_t size = byte < 0x80 ? 1 : byte < 0xE0 ? 2 : byte < 0xF0 ? 3 : 4;
            const bool blank = std::isspace(byte) != 0;
            if (blank && std::exchange(blank_, true)) {
                ++i;
                continue;
            }
            blank_ = blank;
            if (letter > 0 && (letter < xs.size() || letter < ys.size())) {
                const Vec2 last = now_.at.value_or(Vec2{});
                begin(style, Vec2{letter < xs.size() ? xs[letter] : last.x, letter < ys.size() ? ys[letter] : last.y},
                      {});
            }
            ++letter;
            if (blank)
                now_.words += ' ';
            else
                now_.words += text.substr(i, size);
            i += size;
        }
    }

    void onPath(const xml_node& node, const SvgStyle& style, int depth) {
        std::string_view target = node.attribute("href").value();
        if (target.empty()) target = node.attribute("xlink:href").value();
        const xml_node line = target.starts_with('#') ? find_(target.substr(1)) : xml_node();
        auto paths = line ? svgShape(line, scale_) : Problem{};
        if (!paths || paths->empty() || paths->front().segments.empty()) {
            if (scale_.notice) scale_.notice("Text along a path that is not there was left out.");
            return;
        }
        Path path = std::move(paths->front());
        if (const auto by = transformFrom(line.attribute("transform").value())) path = transformed(path, *by);
        path.closed = false;
        const Ruler ruler(path);
        const double whole = ruler.length(),
                     from = std::clamp(
                         lengthFrom(node.attribute("startOffset").value(), whole, style.fontSize).value_or(0), 0.0,
                         whole);
        // The stretch that the words' alignment brings to where they begin.
        double low = from, high = whole;
        if (style.anchor == SvgStyle::Anchor::middle)
            low = from - std::min(from, whole - from), high = from + std::min(from, whole - from);
        else if (style.anchor == SvgStyle::Anchor::end)
            low = 0, high = from;
        if (!(high - low > 0)) return;
        flush();
        const auto before = now_;
        now_.along = Path{ruler.at(low).point, ruler.stretch(low, high), false};
        begin(style, Vec2{}, {});
        element(node, style, Vec2{}, depth + 1);
        flush();
        now_ = before;
    }

    const SvgStyles& styles_;
    const SvgScale& scale_;
    const std::function<xml_node(std::string_view)>& find_;
    std::vector<SvgRun> runs_;
    SvgRun now_;
    bool blank_ = true; // the last letter was one, or there is none yet
    std::size_t count_ = 0;
};

} // namespace

std::vector<SvgRun> svgRuns(const xml_node& text, const SvgStyle& style, const SvgStyles& styles, const SvgScale& scale,
                            const std::function<xml_node(std::string_view)>& find) {
    return RunReader(styles, scale, find).read(text, style);
}

namespace {
struct NamedFace {
    std::string file;
    bool upright; ///< where an italic was asked for
};
/// The first of the families that a style names which is there.
std::optional<NamedFace> namedFace(const SvgStyle& style, const FaceFinder& find) {
    for (std::string_view rest = style.family; find && !rest.empty();) {
        const auto comma = std::min(rest.find(','), rest.size());
        const auto family = rest.substr(0, comma);
        if (auto file = find(family, style.bold, style.italic)) return NamedFace{*file, false};
        if (style.italic)
            if (auto file = find(family, style.bold, false)) return NamedFace{*file, true};
        rest.remove_prefix(std::min(comma + 1, rest.size()));
    }
    return std::nullopt;
}
} // namespace

SvgLetters svgLetters(const SvgRun& run, const Transform& place, const FaceFinder& find) {
    const auto& style = run.style;
    const auto last = run.words.find_last_not_of(' ');
    if (last == std::string::npos || !(style.fontSize > 0 && style.fontSize < 1e5)) return {};
    const auto has = [&](std::string_view part) {
        return std::search(style.family.begin(), style.family.end(), part.begin(), part.end(), [](char a, char b) {
                   return std::tolower(static_cast<unsigned char>(a)) == b;
               }) != style.family.end();
    };
    const auto named = namedFace(style, find);
    const std::string face = named                               ? named->file
                             : has("stencil")                    ? "stencil"
                             : has("condensed") || has("narrow") ? "sign narrow"
                                                                 : "sign bold";
    // At a cap height of 1, then as large as the em says.
    const double k = style.fontSize * artwork::capHeightOf(face);
    artwork::Lettering l{run.words, face, 1};
    l.align = style.anchor == SvgStyle::Anchor::middle ? artwork::Lettering::Align::centre
              : style.anchor == SvgStyle::Anchor::end  ? artwork::Lettering::Align::right
                                                       : artwork::Lettering::Align::left;
    if (l.align != artwork::Lettering::Align::left || run.along) l.text.resize(last + 1);
    if (run.along) l.along = transformed(*run.along, Transform::scaled(1 / k, -1 / k));
    auto letters = artwork::lettered(l);
    if (!letters) return {{}, 0, fmt::format("A text was left out: {}", letters.problem().what)};
    const Transform own = place * Transform::scaled(k, -k);
    for (auto& piece : letters->pieces) {
        piece = transformed(piece, own);
        if (piece.outline.closed) piece.outline = wound(std::move(piece.outline), true);
        for (auto& opening : piece.openings) opening = wound(std::move(opening), false);
    }
    if (named) {
        std::string notice = letters->notices.empty() ? std::string() : letters->notices.front().text;
        if (named->upright && notice.empty())
            notice =
                fmt::format("Text in “{}” is set upright: its italic is not installed.", style.family.substr(0, 60));
        return {std::move(letters->pieces), letters->advance * k, std::move(notice)};
    }
    return {std::move(letters->pieces), letters->advance * k,
            fmt::format("Text is set in our face “{}”{}.", face,
                        style.family.empty() ? std::string()
                                             : fmt::format(" instead of “{}”", style.family.substr(0, 60)))};
}

} // namespace ferro::formats
