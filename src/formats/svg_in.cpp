#include "formats/svg_in.h"

#include "formats/svg_made_internal.h"
#include "formats/svg_text_internal.h"
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
        scale_.notice = [this](std::string text) { notice(std::move(text)); };
        index(root);
    }

    Result<Drawing> run() {
        const auto box = viewBoxOf(root_);
        const auto side = [&](const char* name, double fallback) {
            const auto length = lengthFrom(root_.attribute(name).value(), fallback);
            return length && *length > 0 ? *length : fallback;
        };
        const double width = side("width", box ? box->width : 0), height = side("height", box ? box->height : 0);
        scale_.view = {0, 0, box ? box->width : width, box ? box->height : height};
        if (!root_.attribute("width") && !root_.attribute("height") && box)
            notice("The drawing tells no size; its units are taken as pixels of 1/96 inch.");
        out_.size = Vec2{width, height} * pxInMm;
        Transform place{pxInMm, 0, 0, -pxInMm, 0, height * pxInMm}; // y up, the page's lower left at 0,0
        if (box && width > 0 && height > 0)
            place = place * fitted(*box, width, height, root_.attribute("preserveAspectRatio").value());
        const auto style = styles_.of(root_, {});
        if (style.own.displayed) children(root_, place, style, 0, {});
        if (problem_) return *problem_;
        if (unpainted_ > 0) notice(fmt::format("{} shapes without a line and a fill were left out.", unpainted_));
        for (const auto& text : noticed_) out_.notices.push_back({text});
        nameLayers();
        takeLooks();
        for (auto& made : made_)
            out_.items.push_back({std::move(made.pieces), std::move(made.layer), std::move(made.name)});
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

    /// Lines that lie on no layer are told apart by their colours where there are several: red is cut, blue is scored.
    void nameLayers() {
        std::set<std::string> colours;
        for (const auto& made : made_)
            if (made.layer.empty() && made.stroked && !made.colour.empty()) colours.insert(made.colour);
        constexpr std::size_t most = 16; // beyond that it is a picture, not a code
        const bool byColour = colours.size() > 1 && colours.size() <= most;
        for (auto& made : made_)
            if (made.layer.empty())
                made.layer = byColour && made.stroked && !made.colour.empty() ? colourName(made.colour) : "drawing";
    }
    /// The name that the standard has for a colour (CSS Color 3, 4.1), or the colour as it is written.
    static std::string colourName(const std::string& colour) {
        static const std::map<std::string_view, std::string_view> names = {
            {"#000000", "black"},  {"#ff0000", "red"},     {"#00ff00", "lime"},   {"#0000ff", "blue"},
            {"#ffff00", "yellow"}, {"#ff00ff", "magenta"}, {"#00ffff", "cyan"},   {"#008000", "green"},
            {"#800000", "maroon"}, {"#808000", "olive"},   {"#800080", "purple"}, {"#008080", "teal"},
            {"#808080", "grey"},   {"#c0c0c0", "silver"},  {"#000080", "navy"},   {"#ffa500", "orange"},
            {"#ffffff", "white"}};
        const auto known = names.find(colour);
        return known == names.end() ? colour : std::string(known->second);
    }

    /// A layer of one colour has it, unless that is black, which means none.
    void takeLooks() {
        std::map<std::string, std::optional<std::string>> colours;
        for (const auto& made : made_) {
            const auto [at, fresh] = colours.emplace(made.layer, made.colour);
            if (!fresh && at->second != made.colour) at->second.reset();
        }
        for (const auto& [layer, colour] : colours)
            if (colour && !colour->empty() && *colour != "#000000") out_.looks.push_back({layer, *colour});
    }

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
                               .where = fmt::format("element {}", svgName(node)),
                               .mend = "Simplify it, or save it without references."};
            return;
        }
        static const std::set<std::string_view> silent = {
            "defs",          "style",     "title",          "desc",           "metadata", "symbol",
            "script",        "namedview", "linearGradient", "radialGradient", "marker",   "filter",
            "font",          "font-face", "view",           "cursor",         "animate",  "animateTransform",
            "animateMotion", "set",       "color-profile",  "clipPath",       "mask",     "pattern"};
        if (silent.contains(localName(node))) return;
        const SvgStyle style = styles_.of(node, inherited);
        const auto& own = style.own;
        if (!own.displayed) return;
        // The attribute on its own has gone through no sheet.
        const std::string_view by = own.transform.empty() ? node.attribute("transform").value() : own.transform.c_str();
        if (!by.empty()) {
            const auto transform = transformFrom(by);
            if (!transform)
                return notice(fmt::format("A transform could not be read; {} was left out.", svgName(node)));
            const Vec2 origin = originOf(own.origin);
            place = place * Transform::moved(origin) * *transform * Transform::moved(-origin);
        }
        if (own.clip.empty() && own.mask.empty()) return drawn(node, place, style, depth, layer);
        auto made = madeBy([&] { drawn(node, place, style, depth, layer); });
        if (!own.clip.empty()) clip(made, clipArea(node, own.clip, place, made), node);
        if (!own.mask.empty()) clip(made, maskArea(node, own.mask, place, made), node);
        std::move(made.begin(), made.end(), std::back_inserter(made_));
    }

    /// "10px 20%", "center": where a transform of a sheet turns about.
    [[nodiscard]] Vec2 originOf(std::string_view text) const {
        Vec2 origin;
        const auto& view = scale_.view;
        for (int axis = 0; axis < 2 && !text.empty(); ++axis) {
            const auto end = std::min(text.find(' '), text.size());
            const auto word = text.substr(0, end);
            text.remove_prefix(std::min(end + 1, text.size()));
            if (word == "top" || word == "left" || word == "right" || word == "bottom" || word == "center") {
                const double share = word == "center" ? 0.5 : word == "right" || word == "bottom" ? 1 : 0;
                const bool level = word == "left" || word == "right" || (word == "center" && axis == 0);
                (level ? origin.x : origin.y) = level ? view.x + share * view.width : view.y + share * view.height;
                if (word == "center" && text.empty()) origin.y = view.y + view.height / 2;
                continue;
            }
            const bool share = word.ends_with('%');
            const double whole = axis == 0 ? view.width : view.height, from = axis == 0 ? view.x : view.y;
            (axis == 0 ? origin.x : origin.y) = lengthFrom(word, whole, scale_.em).value_or(0) + (share ? from : 0);
        }
        return origin;
    }

    /// What is drawn by `draw`, kept apart.
    template<class Draw> std::vector<Made> madeBy(Draw&& draw) {
        auto before = std::exchange(made_, {});
        draw();
        return std::exchange(made_, std::move(before));
    }

    void drawn(const xml_node& node, const Transform& place, const SvgStyle& style, int depth, std::string layer) {
        const auto type = localName(node);
        const double outerEm = std::exchange(scale_.em, style.fontSize);
        if (type == "g" || type == "a" || type == "switch") {
            if (depth == 1 || layer.empty()) layer = layerName(node);
            if (type != "switch")
                children(node, place, style, depth, layer);
            else if (const auto one = chosenOf(node))
                element(one, place, style, depth + 1, layer);
        } else if (type == "svg") {
            innerView(node, node, place, style, depth, layer);
        } else if (type == "use") {
            use(node, place, style, depth, layer);
        } else if (type == "text") {
            text(node, style, place, layer);
        } else if (type == "image") {
            image(node, place);
        } else if (type == "foreignObject") {
            notice("A foreign object was left out.");
        } else {
            shape(node, type, place, style, layer);
        }
        scale_.em = outerEm;
    }
    /// Of the children of a switch the first that needs nothing we have not.
    static xml_node chosenOf(const xml_node& node) {
        for (const auto& child : node.children())
            if (child.type() == pugi::node_element && localName(child) != "foreignObject" &&
                !*child.attribute("requiredExtensions").value())
                return child;
        return {};
    }
    [[nodiscard]] static std::string layerName(const xml_node& node) {
        for (const auto& attribute : node.attributes()) { // "…:label", whoever's it is
            const std::string_view key = attribute.name();
            if (key.ends_with(":label") && *attribute.value()) return attribute.value();
        }
        return node.attribute("id").value();
    }

    /// A svg or symbol with its own view; sizes come from `sized`, which is the use for a symbol.
    void innerView(const xml_node& node, const xml_node& sized, Transform place, const SvgStyle& style, int depth,
                   const std::string& layer) {
        const ViewBox outer = scale_.view;
        const auto box = viewBoxOf(node);
        const double width = scale_.x(sized, "width", scale_.x(node, "width", outer.width)),
                     height = scale_.y(sized, "height", scale_.y(node, "height", outer.height));
        if (localName(node) == "svg") place = place * Transform::moved({scale_.x(node, "x"), scale_.y(node, "y")});
        const Transform window = place; // of the view itself
        if (box) {
            if (!(width > 0 && height > 0)) return;
            place = place * fitted(*box, width, height, node.attribute("preserveAspectRatio").value());
            scale_.view = *box;
        } else {
            scale_.view = {0, 0, width, height};
        }
        auto made = madeBy([&] { children(node, place, style, depth, layer); });
        scale_.view = outer;
        if (style.own.clipsView && width > 0 && height > 0 && !made.empty())
            if (const auto back = window.inverse()) {
                constexpr double grain = 1e-6;
                const Box lies = boundsOf(made, *back);
                if (lies.low.x < -grain || lies.low.y < -grain || lies.high.x > width + grain ||
                    lies.high.y > height + grain)
                    clip(made, areaOfBox({{0, 0}, {width, height}}, window), node);
            }
        std::move(made.begin(), made.end(), std::back_inserter(made_));
    }

    [[nodiscard]] xml_node find(std::string_view id) const {
        const auto found = ids_.find(id);
        return found == ids_.end() ? xml_node() : found->second;
    }

    void use(const xml_node& node, Transform place, const SvgStyle& style, int depth, const std::string& layer) {
        std::string_view target = node.attribute("href").value();
        if (target.empty()) target = node.attribute("xlink:href").value();
        if (!target.starts_with('#')) return notice("A use of another file was left out.");
        const xml_node of = find(target.substr(1));
        if (!of) return notice(fmt::format("A use of “{}” was left out: there is no such thing.", target));
        place = place * Transform::moved({scale_.x(node, "x"), scale_.y(node, "y")});
        if (localName(of) != "symbol") return element(of, place, style, depth + 1, layer);
        if (depth > 100 || ++count_ > 1'000'000) {
            problem_ = Problem{.what = "The drawing refers to itself, or holds too much.",
                               .where = fmt::format("use of “{}”", target),
                               .mend = "Save it without references."};
            return;
        }
        const auto own = styles_.of(of, style);
        if (own.own.displayed) innerView(of, node, place, own, depth + 1, layer);
    }

    /// A point or a single straight line.
    static bool isStraight(const Path& path) {
        return path.segments.empty() || (path.segments.size() == 1 && path.segments[0].kind == Segment::Kind::line);
    }
    void shape(const xml_node& node, std::string_view type, const Transform& place, const SvgStyle& style,
               const std::string& layer) {
        static const std::set<std::string_view> known = {"path", "rect",     "circle", "ellipse",
                                                         "line", "polyline", "polygon"};
        if (!known.contains(type)) return notice(fmt::format("Elements of the kind “{}” were left out.", type));
        std::optional<Problem> broken;
        auto read = svgShape(node, scale_, &broken);
        if (!read) return notice(fmt::format("{} was left out: {}", svgName(node), read.problem().what));
        if (broken) notice(fmt::format("{} is spoilt and drawn up to there: {}", svgName(node), broken->text()));
        auto paths = std::move(*read);
        if (!inClip_ && (!style.shown || (!style.filled && !style.stroked))) {
            unpainted_ += style.shown && !paths.empty();
            return;
        }
        if (!inClip_ && style.stroked && style.marked)
            notice("Markers at the ends and corners of lines were left out.");
        if (!inClip_ && options_.strokesAsOutlines && style.stroked) {
            if (auto wide = strokeArea(paths, place, style, scale_))
                put(std::move(*wide), style, layer, svgName(node));
            else
                notice(
                    fmt::format("The stroke of {} did not become an outline: {}", svgName(node), wide.problem().what));
            if (!style.filled) return;
            std::erase_if(paths, [](const Path& p) { return !p.closed && isStraight(p); }); // fills nothing
        }
        if (!inClip_ && style.stroked && !options_.strokesAsOutlines && !style.dashes.empty())
            notice("Dashed lines came in drawn through: their dashes come with the strokes as outlines.");
        // A line that is only filled is an area: the fill closes it. Of a clip the inside counts, drawn or not.
        const bool isArea = inClip_ || (style.filled && (!style.stroked || options_.strokesAsOutlines));
        for (auto& path : paths) {
            if (isArea && !path.closed && !isStraight(path)) {
                path.close();
                path.closed = true;
            }
            path = transformed(path, place);
        }
        // Nowhere and back is a dot where ends are drawn round or square, and nothing where they are flat.
        std::vector<Piece> dots;
        if (style.stroked && !isArea)
            std::erase_if(paths, [&](const Path& p) {
                const bool dot =
                    !p.segments.empty() && std::all_of(p.segments.begin(), p.segments.end(), [&](const auto& s) {
                        return s.kind == Segment::Kind::line && s.end == p.start;
                    });
                if (dot && style.ends != SvgStyle::Ends::flat && isFinite(p.start) && length(p.start) < 1e7)
                    dots.push_back({{p.start, {}, false}, {}});
                return dot;
            });
        if (!dots.empty()) put(std::move(dots), style, layer, svgName(node));
        std::erase_if(paths, [](const Path& p) {
            const Box b = ferro::boundsOf(p);
            return p.segments.empty() ||
                   !(std::abs(b.low.x) < 1e7 && std::abs(b.low.y) < 1e7 && b.width() < 1e7 && b.height() < 1e7);
        });
        if (paths.empty()) return;
        const bool evenOdd = inClip_ ? style.clipEvenOdd : style.evenOdd;
        const auto rule = evenOdd ? FillRule::evenOdd : FillRule::nonZero;
        // Of what is stroked the lines are drawn, also where they cross; of what is only filled they are not.
        if (isArea)
            if (auto areas = filledPieces(paths, rule)) return put(std::move(*areas), style, layer, svgName(node));
        // A stroke is drawn whatever lies round it: none of its outlines is left out as filled already.
        put(nested(std::move(paths), style.stroked ? FillRule::evenOdd : rule), style, layer, svgName(node));
    }

    void text(const xml_node& node, const SvgStyle& style, const Transform& place, const std::string& layer) {
        Vec2 pen;
        const std::function<xml_node(std::string_view)> byId = [this](std::string_view id) { return find(id); };
        for (const auto& run : svgRuns(node, style, styles_, scale_, byId)) {
            if (run.at) pen = *run.at;
            pen += run.shift;
            if (++count_ > 1'000'000) return;
            // A font's file is read for each run: a drawing of a hundred thousand must not take that long.
            const auto face = ++lettered_ <= 3000 ? options_.face : FaceFinder{};
            auto letters = svgLetters(run, run.along ? place : place * Transform::moved(pen), face);
            pen.x += letters.advance;
            if (!run.style.shown || (!run.style.filled && !run.style.stroked)) continue;
            if (!letters.notice.empty()) notice(std::move(letters.notice));
            if (!letters.pieces.empty()) put(std::move(letters.pieces), run.style, layer, svgName(node));
        }
    }

    void put(std::vector<Piece> pieces, const SvgStyle& style, const std::string& layer, std::string name) {
        if (pieces.empty()) return;
        const auto& paint = style.stroked ? style.stroke : style.fill;
        made_.push_back({std::move(pieces), layer, std::move(name), style.fill,
                         svgColour(paint == "currentColor" ? style.colour : paint).value_or(""), style.stroked});
    }

    void clip(std::vector<Made>& made, const std::optional<Area>& area, const xml_node& node) {
        if (area && !clipTo(made, *area))
            notice(fmt::format("{} could not be clipped: it lies too far off, or crosses too often.", svgName(node)));
    }

    /// The element that "url(#…)" names, if it is one of `kind` and not being looked into already.
    xml_node referred(std::string_view value, std::string_view kind) {
        const auto hash = value.find('#'), end = value.find_first_of("\"')", hash);
        if (hash == std::string_view::npos || inClip_ || ++count_ > 1'000'000) return {};
        const auto node = find(value.substr(hash + 1, end == std::string_view::npos ? end : end - hash - 1));
        return node && localName(node) == kind ? node : xml_node();
    }
    /// None: all of it shows.
    std::optional<Area> clipArea(const xml_node& node, std::string_view value, const Transform& place,
                                 const std::vector<Made>& made) {
        const auto clip = referred(value, "clipPath");
        if (!clip || clips_ > 4)
            return notice(fmt::format("The clip path of {} is not there, and was not applied.", svgName(node))),
                   std::nullopt;
        Transform own = place;
        if (std::string_view(clip.attribute("clipPathUnits").value()) == "objectBoundingBox") {
            const auto onto = ontoBounds(made, place);
            if (!onto) return made.empty() ? std::nullopt : std::optional(Area{});
            own = place * *onto;
        }
        if (const auto t = transformFrom(clip.attribute("transform").value())) own = own * *t;
        const auto style = styles_.of(clip, {});
        inClip_ = true;
        const auto inside = madeBy([&] { children(clip, own, style, 1, {}); });
        inClip_ = false;
        Area area;
        for (const auto& one : inside) {
            auto whole = combinedPieces(area, one.pieces, Combine::join);
            if (!whole) return notice(fmt::format("The clip path of {} was not applied.", svgName(node))), std::nullopt;
            area = std::move(*whole);
        }
        if (!style.own.clip.empty()) { // a clip path may have one itself
            ++clips_;
            const auto more = clipArea(node, style.own.clip, place, made);
            --clips_;
            if (auto both = more ? combinedPieces(area, *more, Combine::overlap) : Result<Area>(area))
                area = std::move(*both);
        }
        return area;
    }

    /// Where a mask is light: what is light in it adds, what is dark takes away. Shades count as light.
    std::optional<Area> maskArea(const xml_node& node, std::string_view value, const Transform& place,
                                 const std::vector<Made>& made) {
        const auto mask = referred(value, "mask");
        if (!mask || masks_ > 4)
            return notice(fmt::format("The mask of {} is not there, and was not applied.", svgName(node))),
                   std::nullopt;
        const auto onto = ontoBounds(made, place);
        if (!onto) return std::nullopt;
        const bool shares = std::string_view(mask.attribute("maskContentUnits").value()) == "objectBoundingBox";
        const auto style = styles_.of(mask, {});
        ++masks_;
        const auto inside = madeBy([&] { children(mask, shares ? place * *onto : place, style, 1, {}); });
        --masks_;
        Area area;
        for (const auto& one : inside) {
            const auto light = lightOf(one.paint);
            if (!light || (*light > 0.1 && *light < 0.9))
                notice("A mask with shades was applied as if what is not black were white.");
            auto next = combinedPieces(area, one.pieces, light.value_or(1) > 0.1 ? Combine::join : Combine::takeAway);
            if (!next) return notice(fmt::format("The mask of {} was not applied.", svgName(node))), std::nullopt;
            area = std::move(*next);
        }
        return area;
    }

    void image(const xml_node& node, const Transform& place) {
        std::string_view link = node.attribute("href").value();
        if (link.empty()) link = node.attribute("xlink:href").value();
        const double width = scale_.x(node, "width"), height = scale_.y(node, "height");
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
        out_.pictures.push_back({std::move(*bytes), svgName(node) + ".png",
                                 place * Transform::moved({scale_.x(node, "x"), scale_.y(node, "y")}) * fit * square});
    }

    SvgOptions options_;
    SvgStyles styles_;
    SvgScale scale_;
    xml_node root_;
    std::map<std::string, xml_node, std::less<>> ids_;
    std::vector<Made> made_;
    bool inClip_ = false;       // what is drawn is a clip path
    int clips_ = 0, masks_ = 0; // being looked into: they may name themselves
    std::size_t count_ = 0, unpainted_ = 0, lettered_ = 0;
    Drawing out_;
    std::set<std::string> noticed_;
    std::optional<Problem> problem_;
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
