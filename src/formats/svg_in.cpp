#include "formats/svg_in.h"

#include "artwork/text.h"
#include "formats/svg.h"
#include "formats/svg_style_internal.h"
#include "formats/svg_text_internal.h"
#include "formats/svg_values_internal.h"
#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"

#include <set>

namespace ferro::formats {

namespace {

using pugi::xml_node;

class Walker {
public:
    Walker(const xml_node& root, const SvgOptions& options) : options_(options), styles_(root), root_(root) {
        index(root);
    }

    Result<Drawing> run() {
        const auto box = viewBoxOf(root_);
        const auto side = [&](const char* name, double fallback) {
            const auto length = lengthFrom(root_.attribute(name).value(), fallback);
            return length && *length > 0 ? *length : fallback;
        };
        const double width = side("width", box ? box->width : 0), height = side("height", box ? box->height : 0);
        view_ = {0, 0, box ? box->width : width, box ? box->height : height};
        if (!root_.attribute("width") && !root_.attribute("height") && box)
            notice("The drawing tells no size; its units are taken as pixels of 1/96 inch.");
        out_.size = Vec2{width, height} * pxInMm;
        Transform place{pxInMm, 0, 0, -pxInMm, 0, height * pxInMm}; // y up, the page's lower left at 0,0
        if (box && width > 0 && height > 0)
            place = place * fitted(*box, width, height, root_.attribute("preserveAspectRatio").value());
        bool displayed = true;
        const auto style = styles_.of(root_, {}, displayed);
        if (displayed) children(root_, place, style, 0, {});
        if (problem_) return *problem_;
        for (const auto& text : noticed_) out_.notices.push_back({text});
        return std::move(out_);
    }

private:
    void index(const xml_node& root) {
        for (xml_node node = root; node;) {
            if (const auto id = node.attribute("id")) ids_.emplace(id.value(), node);
            if (node.first_child()) {
                node = node.first_child();
                continue;
            }
            while (node && node != root && !node.next_sibling()) node = node.parent();
            if (!node || node == root) break;
            node = node.next_sibling();
        }
    }
    void notice(std::string text) { noticed_.insert(std::move(text)); }

    void children(const xml_node& parent, const Transform& place, const SvgStyle& style, int depth,
                  const std::string& layer) {
        for (const auto& child : parent.children()) {
            if (problem_) return;
            if (child.type() == pugi::node_element) element(child, place, style, depth + 1, layer);
        }
    }

    void element(const xml_node& node, Transform place, const SvgStyle& inherited, int depth, std::string layer) {
        constexpr int deepest = 400;
        constexpr std::size_t most = 1'000'000;
        if (depth > deepest || ++count_ > most) {
            problem_ = Problem{.what = depth > deepest ? "The drawing is nested too deeply, or refers to itself."
                                                       : "The drawing holds more than a million elements.",
                               .where = fmt::format("element {}", name(node)),
                               .mend = "Simplify it, or save it without references."};
            return;
        }
        const auto type = localName(node);
        static const std::set<std::string_view> silent = {
            "defs",          "style",     "title",          "desc",           "metadata", "symbol",
            "script",        "namedview", "linearGradient", "radialGradient", "marker",   "filter",
            "font",          "font-face", "view",           "cursor",         "animate",  "animateTransform",
            "animateMotion", "set",       "color-profile",  "clipPath",       "mask",     "pattern"};
        if (silent.contains(type)) return;
        bool displayed = true;
        const SvgStyle style = styles_.of(node, inherited, displayed);
        if (!displayed) return;
        if (const auto own = node.attribute("transform")) {
            const auto by = transformFrom(own.value());
            if (!by) return notice(fmt::format("A transform could not be read; {} was left out.", name(node)));
            place = place * *by;
        }
        if (const std::string_view value = node.attribute("mask").value(); !value.empty() && value != "none")
            notice("A mask was not applied: what it hides is there too.");
        if (!style.clip.empty() && style.clip != "none") {
            // Clips within clips: what both leave.
            const auto outer = clip_;
            if (takeClip(node, style.clip, place)) drawn(node, type, place, style, depth, layer);
            clip_ = outer;
            return;
        }
        drawn(node, type, place, style, depth, layer);
    }

    void drawn(const xml_node& node, std::string_view type, const Transform& place, const SvgStyle& style, int depth,
               std::string layer) {
        if (type == "g" || type == "a" || type == "switch") {
            if (depth == 1 || layer.empty()) layer = layerName(node);
            children(node, place, style, depth, layer);
        } else if (type == "svg") {
            innerView(node, node, place, style, depth, layer);
        } else if (type == "use") {
            use(node, place, style, depth, layer);
        } else if (type == "text") {
            std::string words;
            Vec2 at{x(node, "x"), y(node, "y")};
            SvgStyle of = style; // of the words gathered so far
            text(node, style, place, layer, words, at, of);
            letter(words, at, of, place, layer, name(node));
        } else if (type == "image") {
            image(node, place);
        } else if (type == "foreignObject") {
            notice("A foreign object was left out.");
        } else {
            shape(node, type, place, style, layer);
        }
    }
    [[nodiscard]] static std::string name(const xml_node& node) {
        const std::string_view id = node.attribute("id").value();
        return id.empty() ? std::string(localName(node)) : std::string(id);
    }
    [[nodiscard]] static std::string layerName(const xml_node& node) {
        for (const auto& attribute : node.attributes()) { // "…:label", whoever's it is
            const std::string_view key = attribute.name();
            if (key.ends_with(":label") && *attribute.value()) return attribute.value();
        }
        return node.attribute("id").value();
    }
    double length(const xml_node& node, const char* attribute, double whole, double fallback = 0) {
        const auto given = node.attribute(attribute);
        if (!given) return fallback;
        const auto value = lengthFrom(given.value(), whole);
        if (!value && std::string_view(given.value()) != "auto")
            notice(fmt::format("A length could not be read: {} of {}.", attribute, name(node)));
        return value.value_or(fallback);
    }
    double x(const xml_node& n, const char* a, double fallback = 0) { return length(n, a, view_.width, fallback); }
    double y(const xml_node& n, const char* a, double fallback = 0) { return length(n, a, view_.height, fallback); }

    /// A svg or symbol with its own view; sizes come from `sized`, which is the use for a symbol.
    void innerView(const xml_node& node, const xml_node& sized, Transform place, const SvgStyle& style, int depth,
                   const std::string& layer) {
        const ViewBox outer = view_;
        const auto box = viewBoxOf(node);
        const double width = x(sized, "width", x(node, "width", outer.width)),
                     height = y(sized, "height", y(node, "height", outer.height));
        if (localName(node) == "svg") place = place * Transform::moved({x(node, "x"), y(node, "y")});
        if (box) {
            if (!(width > 0 && height > 0)) return;
            place = place * fitted(*box, width, height, node.attribute("preserveAspectRatio").value());
            view_ = *box;
        } else {
            view_ = {0, 0, width, height};
        }
        children(node, place, style, depth, layer);
        view_ = outer;
    }

    void use(const xml_node& node, Transform place, const SvgStyle& style, int depth, const std::string& layer) {
        std::string_view target = node.attribute("href").value();
        if (target.empty()) target = node.attribute("xlink:href").value();
        if (!target.starts_with('#')) return notice("A use of another file was left out.");
        const auto found = ids_.find(std::string(target.substr(1)));
        if (found == ids_.end())
            return notice(fmt::format("A use of “{}” was left out: there is no such thing.", target));
        place = place * Transform::moved({x(node, "x"), y(node, "y")});
        const xml_node of = found->second;
        if (localName(of) != "symbol") return element(of, place, style, depth + 1, layer);
        if (depth > 100 || ++count_ > 1'000'000) {
            problem_ = Problem{.what = "The drawing refers to itself, or holds too much.",
                               .where = fmt::format("use of “{}”", target),
                               .mend = "Save it without references."};
            return;
        }
        bool displayed = true;
        const auto own = styles_.of(of, style, displayed);
        if (displayed) innerView(of, node, place, own, depth + 1, layer);
    }

    void shape(const xml_node& node, std::string_view type, const Transform& place, const SvgStyle& style,
               const std::string& layer) {
        std::vector<Path> paths;
        if (type == "path") {
            auto read = pathsFromSvgData(node.attribute("d").value());
            if (!read) return notice(fmt::format("{} was left out: {}", name(node), read.problem().text()));
            paths = std::move(*read);
        } else if (type == "rect") {
            const double width = x(node, "width"), height = y(node, "height");
            if (!(width > 0 && height > 0)) return;
            paths.push_back(box(node, width, height));
        } else if (type == "circle" || type == "ellipse") {
            const bool round = type == "circle";
            const double diagonal = std::hypot(view_.width, view_.height) / std::sqrt(2.0);
            double rx = round ? length(node, "r", diagonal) : x(node, "rx", -1), ry = round ? rx : y(node, "ry", -1);
            if (rx < 0) rx = ry; // SVG 2: auto
            if (ry < 0) ry = rx;
            if (!(rx > 0 && ry > 0)) return;
            const Vec2 centre{x(node, "cx"), y(node, "cy")};
            paths.push_back(transformed(circle({0, 0}, 1), Transform::moved(centre) * Transform::scaled(rx, ry)));
        } else if (type == "line") {
            const Vec2 a{x(node, "x1"), y(node, "y1")}, b{x(node, "x2"), y(node, "y2")};
            paths.push_back({a, {Segment::line(b)}, false});
        } else if (type == "polyline" || type == "polygon") {
            std::string_view text = node.attribute("points").value();
            Ring ring;
            for (Vec2 p; takeNumber(text, p.x) && takeNumber(text, p.y);) ring.push_back(p);
            if (ring.size() < 2) return;
            paths.push_back(pathOf(ring, type == "polygon"));
        } else {
            return notice(fmt::format("Elements of the kind “{}” were left out.", type));
        }
        if (inClip_) { // its inside is what counts, drawn or not
            for (auto& path : paths) {
                if (path.segments.empty()) continue;
                if (!path.closed) path.close(), path.closed = true;
                clipPaths_.push_back(transformed(path, place));
            }
            return;
        }
        if (!style.shown || (!style.filled && !style.stroked)) return;
        if (options_.strokesAsOutlines && style.stroked) {
            strokeOf(node, paths, place, style, layer);
            if (!style.filled) return;
        }
        for (auto& path : paths) {
            // A line that is only filled is an area: the fill closes it.
            const bool onlyFilled = style.filled && (!style.stroked || options_.strokesAsOutlines);
            if (onlyFilled && !path.closed && path.segments.size() > 1) {
                path.close();
                path.closed = true;
            }
            path = transformed(path, place);
        }
        std::erase_if(paths, [](const Path& p) {
            const Box b = boundsOf(p);
            return p.segments.empty() ||
                   !(std::abs(b.low.x) < 1e7 && std::abs(b.low.y) < 1e7 && b.width() < 1e7 && b.height() < 1e7);
        });
        if (paths.empty()) return;
        put(nested(std::move(paths), style.evenOdd ? FillRule::evenOdd : FillRule::nonZero), layer, name(node));
    }

    /// Gathers the words of a text; a span with a place of its own begins a new line of them.
    void text(const xml_node& node, const SvgStyle& style, const Transform& place, const std::string& layer,
              std::string& words, Vec2& at, SvgStyle& of) {
        for (const auto& child : node.children()) {
            if (child.type() == pugi::node_pcdata || child.type() == pugi::node_cdata) {
                for (const char c : std::string_view(child.value())) { // blanks in a row are one
                    const bool blank = std::isspace(static_cast<unsigned char>(c)) != 0;
                    if (!blank || (!words.empty() && words.back() != ' ')) words += blank ? ' ' : c;
                }
            } else if (localName(child) == "tspan" || localName(child) == "a") {
                bool displayed = true;
                SvgStyle own = styles_.of(child, style, displayed);
                if (!displayed || ++count_ > 1'000'000) continue;
                if (child.attribute("x") || child.attribute("y") || own.fontSize != of.fontSize) {
                    letter(words, at, of, place, layer, name(node));
                    words.clear();
                    at = {x(child, "x", at.x), y(child, "y", at.y)};
                    of = own;
                }
                at = at + Vec2{x(child, "dx"), y(child, "dy")};
                if (depth_ < 50) {
                    ++depth_;
                    text(child, own, place, layer, words, at, of);
                    --depth_;
                }
            } else if (localName(child) == "textPath") {
                notice("Text along a path was left out.");
            }
        }
    }

    void letter(const std::string& words, Vec2 at, const SvgStyle& style, const Transform& place,
                const std::string& layer, std::string called) {
        if (!style.shown || (!style.filled && !style.stroked)) return;
        auto letters =
            svgLetters(words, style, lengthFrom(style.fontSize, 16).value_or(16), place * Transform::moved(at));
        if (!letters.notice.empty()) notice(std::move(letters.notice));
        if (!letters.pieces.empty()) put(std::move(letters.pieces), layer, std::move(called));
    }

    void put(std::vector<Piece> pieces, const std::string& layer, std::string name) {
        if (clip_) {
            std::vector<Piece> areas, kept;
            for (auto& piece : pieces) {
                if (piece.outline.closed) {
                    areas.push_back(std::move(piece));
                    continue;
                }
                for (auto& line : insideOf(piece.outline, *clip_)) kept.push_back({std::move(line), {}});
            }
            if (!areas.empty()) {
                auto cut = combinedPieces(areas, *clip_, Combine::overlap);
                if (cut)
                    kept.insert(kept.begin(), cut->begin(), cut->end());
                else
                    notice("A clip path could not be applied: the drawing lies too far off.");
            }
            pieces = std::move(kept);
        }
        if (!pieces.empty())
            out_.items.push_back({std::move(pieces), layer.empty() ? "drawing" : layer, std::move(name)});
    }

    /// Puts the clip that is named over the one there is. False: nothing is left to be drawn.
    bool takeClip(const xml_node& node, std::string_view value, const Transform& place) {
        const auto hash = value.find('#'), end = value.find_first_of("\"')", hash);
        if (hash == std::string_view::npos) return notice("A clip path of another kind was not applied."), true;
        const auto found =
            ids_.find(std::string(value.substr(hash + 1, end == std::string_view::npos ? end : end - hash - 1)));
        if (found == ids_.end() || localName(found->second) != "clipPath" || inClip_ || ++count_ > 1'000'000)
            return notice("A clip path was not applied: there is no such thing."), true;
        const xml_node clip = found->second;
        if (std::string_view(clip.attribute("clipPathUnits").value()) == "objectBoundingBox")
            return notice("A clip path in shares of its object was not applied."), true;
        Transform own = place;
        if (const auto by = clip.attribute("transform"))
            if (const auto t = transformFrom(by.value())) own = own * *t;
        inClip_ = true;
        clipPaths_.clear();
        bool displayed = true;
        const SvgStyle style = styles_.of(clip, {}, displayed);
        children(clip, own, style, 1, {});
        inClip_ = false;
        std::vector<Piece> area;
        for (auto& path : clipPaths_) area.push_back({wound(std::move(path), true), {}});
        auto whole = combinedPieces(area, {}, Combine::join);
        if (whole && clip_) whole = combinedPieces(*whole, *clip_, Combine::overlap);
        if (!whole) return notice(fmt::format("The clip path of {} was not applied.", name(node))), true;
        clip_ = std::make_shared<const std::vector<Piece>>(std::move(*whole));
        return !clip_->empty();
    }

    /// What a stroke covers. Worked out as large as it comes out, so that it is as exact.
    void strokeOf(const xml_node& node, const std::vector<Path>& paths, const Transform& place, const SvgStyle& style,
                  const std::string& layer) {
        const double k = std::sqrt(std::abs(place.determinant()));
        const auto width = lengthFrom(style.width, std::hypot(view_.width, view_.height) / std::sqrt(2.0));
        if (!width || !(*width * k > 1e-6) || !(k > 1e-9) || !(*width * k < 1e4)) return;
        const OffsetOptions options{.tolerance = 0.004,
                                    .corner = style.joins == SvgStyle::Joins::round   ? Corner::round
                                              : style.joins == SvgStyle::Joins::sharp ? Corner::sharp
                                                                                      : Corner::flat,
                                    .sharpLimit = 4};
        const Cap cap = style.ends == SvgStyle::Ends::round    ? Cap::round
                        : style.ends == SvgStyle::Ends::square ? Cap::square
                                                               : Cap::flat;
        std::vector<Path> outlines;
        for (const bool closed : {false, true}) {
            Rings lines;
            for (const auto& path : paths)
                if (path.closed == closed && !path.segments.empty())
                    lines.push_back(flattened(transformed(path, Transform::scaled(k, k)), 0.001));
            if (lines.empty()) continue;
            const auto wide = widenedPaths(lines, closed, *width * k, cap, options);
            if (!wide) return notice("A stroke lies too far off to become an outline.");
            outlines.insert(outlines.end(), wide->begin(), wide->end());
        }
        for (auto& path : outlines) path = transformed(path, place * Transform::scaled(1 / k, 1 / k));
        put(nested(std::move(outlines), FillRule::nonZero), layer, name(node));
    }

    void image(const xml_node& node, const Transform& place) {
        std::string_view link = node.attribute("href").value();
        if (link.empty()) link = node.attribute("xlink:href").value();
        const double width = x(node, "width"), height = y(node, "height");
        std::optional<std::string> bytes;
        if (link.starts_with("data:")) {
            if (const auto comma = link.find(";base64,"); comma != std::string_view::npos)
                bytes = fromBase64(link.substr(comma + 8));
        } else if (!link.empty() && options_.linked) {
            bytes = options_.linked(link);
        }
        if (!bytes || !(width > 0 && height > 0))
            return notice("A picture in the drawing was left out. Add it by itself.");
        // The unit square, y up, onto its place; the picture fills it as its aspect says.
        auto picture = picture::decoded(*bytes);
        if (!picture) return notice(fmt::format("A picture in the drawing was left out: {}", picture.problem().what));
        const ViewBox own{0, 0, double(picture->width), double(picture->height)};
        const Transform fit = fitted(own, width, height, node.attribute("preserveAspectRatio").value());
        const Transform square{own.width, 0, 0, -own.height, 0, own.height};
        out_.pictures.push_back({std::move(*bytes), name(node) + ".png",
                                 place * Transform::moved({x(node, "x"), y(node, "y")}) * fit * square});
    }

    Path box(const xml_node& node, double width, double height) {
        const Vec2 at{x(node, "x"), y(node, "y")};
        double rx = x(node, "rx", -1), ry = y(node, "ry", -1);
        if (rx < 0) rx = ry;
        if (ry < 0) ry = rx;
        rx = std::clamp(rx, 0.0, width / 2), ry = std::clamp(ry, 0.0, height / 2);
        if (!(rx > 0 && ry > 0)) return rectangle(at, at + Vec2{width, height});
        // Round in units of its radii, so that equal ones give true arcs.
        const Path unitBox = rectangle({0, 0}, {width / rx, height / ry}, 1);
        return transformed(unitBox, Transform::moved(at) * Transform::scaled(rx, ry));
    }

    SvgOptions options_;
    SvgStyles styles_;
    std::shared_ptr<const std::vector<Piece>> clip_; // in mm; none: nothing is clipped
    std::vector<Path> clipPaths_;                    // of the clip path being read
    bool inClip_ = false;
    int depth_ = 0; // of spans
    xml_node root_;
    std::map<std::string, xml_node> ids_;
    ViewBox view_;
    Drawing out_;
    std::set<std::string> noticed_;
    std::optional<Problem> problem_;
    std::size_t count_ = 0;
};

} // namespace

Result<Drawing> drawingFromSvg(std::string_view text, const SvgOptions& options) {
    pugi::xml_document file;
    const auto read = file.load_buffer(text.data(), text.size(), pugi::parse_default | pugi::parse_ws_pcdata_single);
    const auto root = file.document_element();
    const auto noDrawing = [&] {
        return Problem{.what = fmt::format("This is no SVG drawing: {}.", read.description()),
                       .where = fmt::format("character {}", read.offset),
                       .mend = "Save it again in the program that made it."};
    };
    if (!read && !root) return noDrawing();
    if (localName(root) != "svg")
        return Problem{.what = "This is no SVG drawing.",
                       .where = fmt::format("element “{}”", root.name()),
                       .mend = "Choose a file that begins with <svg>."};
    auto drawing = Walker(root, options).run();
    if (drawing && !read && drawing->items.empty()) return noDrawing();
    if (drawing && !read)
        drawing->notices.insert(drawing->notices.begin(),
                                {fmt::format("The file is damaged at character {} ({}); what comes after is lost.",
                                             read.offset, read.description())});
    return drawing;
}

} // namespace ferro::formats
