#include "artwork/text.h"

#include "artwork/single_line_internal.h"
#include "base/disk.h"
#include "geometry/combine.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"

#include <hb-ot.h>
#include <hb.h>

extern "C" {
extern const char ferro_face_spartan[], ferro_face_spartan_end[];
extern const char ferro_face_bebas[], ferro_face_bebas_end[];
extern const char ferro_face_stencil[], ferro_face_stencil_end[];
extern const char ferro_face_single[], ferro_face_single_end[];
}

namespace ferro::artwork {

namespace {

std::string_view shippedBytes(std::string_view face) {
    if (face == "sign bold") return {ferro_face_spartan, ferro_face_spartan_end};
    if (face == "sign narrow") return {ferro_face_bebas, ferro_face_bebas_end};
    if (face == "stencil") return {ferro_face_stencil, ferro_face_stencil_end};
    if (face == "single line") return {ferro_face_single, ferro_face_single_end};
    return {};
}

struct Freed {
    void operator()(hb_font_t* p) const { hb_font_destroy(p); }
    void operator()(hb_buffer_t* p) const { hb_buffer_destroy(p); }
    void operator()(hb_draw_funcs_t* p) const { hb_draw_funcs_destroy(p); }
};

/// One glyph of a line: its outlines in mm about its own origin on the baseline, and how far the next one is.
struct Glyph {
    std::vector<Path> paths;
    double advance = 0;
    Vec2 offset;
};

class Face {
public:
    virtual ~Face() = default;
    /// A line of text as glyphs, at a cap height of 1 mm.
    virtual std::vector<Glyph> line(const std::string& text, std::size_t& missing) const = 0;
    [[nodiscard]] virtual double capShare() const = 0; ///< of the em
};

class OutlineFace : public Face {
public:
    explicit OutlineFace(std::string_view bytes) {
        hb_blob_t* blob = hb_blob_create(bytes.data(), static_cast<unsigned>(bytes.size()), HB_MEMORY_MODE_DUPLICATE,
                                         nullptr, nullptr);
        hb_face_t* face = hb_face_create(blob, 0);
        upem_ = static_cast<int>(std::max(1u, hb_face_get_upem(face)));
        glyphs_ = hb_face_get_glyph_count(face);
        font_.reset(hb_font_create(face));
        hb_font_set_scale(font_.get(), upem_, upem_);
        hb_face_destroy(face);
        hb_blob_destroy(blob);
        hb_position_t cap = 0;
        cap_ =
            hb_ot_metrics_get_position(font_.get(), HB_OT_METRICS_TAG_CAP_HEIGHT, &cap) && cap > 0 ? cap : 0.7 * upem_;
    }
    [[nodiscard]] bool isSound() const { return glyphs_ > 0; }
    [[nodiscard]] double capShare() const override { return cap_ / upem_; }

    std::vector<Glyph> line(const std::string& text, std::size_t& missing) const override {
        const std::unique_ptr<hb_buffer_t, Freed> buffer(hb_buffer_create());
        hb_buffer_add_utf8(buffer.get(), text.data(), static_cast<int>(text.size()), 0, static_cast<int>(text.size()));
        hb_buffer_guess_segment_properties(buffer.get());
        hb_shape(font_.get(), buffer.get(), nullptr, 0);
        unsigned count = 0;
        const auto* infos = hb_buffer_get_glyph_infos(buffer.get(), &count);
        const auto* places = hb_buffer_get_glyph_positions(buffer.get(), &count);
        std::vector<Glyph> out;
        const double k = 1 / cap_;
        for (unsigned i = 0; i < count; ++i) {
            missing += infos[i].codepoint == 0;
            Glyph glyph{outlines(infos[i].codepoint),
                        places[i].x_advance * k,
                        {places[i].x_offset * k, places[i].y_offset * k}};
            for (auto& path : glyph.paths) path = transformed(path, Transform::scaled(k, k));
            out.push_back(std::move(glyph));
        }
        return out;
    }

private:
    /// In the face's own units.
    std::vector<Path> outlines(hb_codepoint_t glyph) const {
        struct Pen {
            std::vector<Path> paths;
        } pen;
        const std::unique_ptr<hb_draw_funcs_t, Freed> funcs(hb_draw_funcs_create());
        hb_draw_funcs_set_move_to_func(
            funcs.get(),
            [](hb_draw_funcs_t*, void* p, hb_draw_state_t*, float x, float y, void*) {
                static_cast<Pen*>(p)->paths.push_back({{static_cast<double>(x), static_cast<double>(y)}, {}, true});
            },
            nullptr, nullptr);
        hb_draw_funcs_set_line_to_func(
            funcs.get(),
            [](hb_draw_funcs_t*, void* p, hb_draw_state_t*, float x, float y, void*) {
                static_cast<Pen*>(p)->paths.back().segments.push_back(
                    Segment::line({static_cast<double>(x), static_cast<double>(y)}));
            },
            nullptr, nullptr);
        hb_draw_funcs_set_quadratic_to_func(
            funcs.get(),
            [](hb_draw_funcs_t*, void* p, hb_draw_state_t*, float cx, float cy, float x, float y, void*) {
                Path& path = static_cast<Pen*>(p)->paths.back();
                const Vec2 from = path.end(), c{static_cast<double>(cx), static_cast<double>(cy)},
                           to{static_cast<double>(x), static_cast<double>(y)};
                path.segments.push_back(Segment::cubic(lerp(from, c, 2.0 / 3), lerp(to, c, 2.0 / 3), to));
            },
            nullptr, nullptr);
        hb_draw_funcs_set_cubic_to_func(
            funcs.get(),
            [](hb_draw_funcs_t*, void* p, hb_draw_state_t*, float ax, float ay, float bx, float by, float x, float y,
               void*) {
                static_cast<Pen*>(p)->paths.back().segments.push_back(
                    Segment::cubic({static_cast<double>(ax), static_cast<double>(ay)},
                                   {static_cast<double>(bx), static_cast<double>(by)},
                                   {static_cast<double>(x), static_cast<double>(y)}));
            },
            nullptr, nullptr);
        hb_font_get_glyph_shape(font_.get(), glyph, funcs.get(), &pen);
        for (auto& path : pen.paths) path.close(1e-6);
        std::erase_if(pen.paths, [](const Path& p) { return p.segments.size() < 2; });
        return std::move(pen.paths);
    }

    std::unique_ptr<hb_font_t, Freed> font_;
    int upem_ = 1000;
    unsigned glyphs_ = 0;
    double cap_ = 700;
};

class SingleLineFace : public Face {
public:
    [[nodiscard]] double capShare() const override { return 0.7; }
    std::vector<Glyph> line(const std::string& text, std::size_t& missing) const override {
        static const auto glyphs = singleLineGlyphs({ferro_face_single, ferro_face_single_end});
        std::vector<Glyph> out;
        for (std::size_t i = 0; i < text.size(); ++i) {
            const auto c = static_cast<unsigned char>(text[i]);
            if ((c & 0xC0) == 0x80) continue; // the rest of a letter that it does not have
            const std::size_t at = c >= 32 ? static_cast<std::size_t>(c - 32) : glyphs.size();
            if (at >= glyphs.size()) {
                ++missing;
                continue;
            }
            out.push_back({glyphs[at].paths, glyphs[at].advance, {}});
        }
        return out;
    }
};

Result<std::unique_ptr<Face>> faceFor(const std::string& name) {
    if (name == "single line") return std::unique_ptr<Face>(new SingleLineFace);
    std::string bytes(shippedBytes(name));
    if (bytes.empty()) {
        std::string all;
        for (const auto& face : shippedFaces()) all += (all.empty() ? "" : ", ") + face;
        auto file = name.find('/') != std::string::npos ? realDisk().read(name) : Result<std::string>(Problem{});
        if (!file)
            return Problem{.what = fmt::format("There is no face “{}”.", name),
                           .where = {},
                           .mend = fmt::format("Use {}, or a font's file with its folder.", all)};
        bytes = std::move(*file);
    }
    auto face = std::make_unique<OutlineFace>(bytes);
    if (!face->isSound())
        return Problem{.what = fmt::format("“{}” is no font.", name), .where = {}, .mend = "Choose a TTF or OTF file."};
    return std::unique_ptr<Face>(std::move(face));
}

void put(const Glyph& glyph, const Transform& place, std::vector<Piece>& onto) {
    std::vector<Path> paths;
    for (const auto& path : glyph.paths) paths.push_back(transformed(path, place));
    // Faces with an axis draw a letter of parts that lie over each other: they are one.
    auto pieces = filledPieces(paths, FillRule::nonZero);
    if (!pieces) pieces = nested(std::move(paths), FillRule::nonZero);
    std::move(pieces->begin(), pieces->end(), std::back_inserter(onto));
}

std::vector<std::string> linesOf(const std::string& text) {
    std::vector<std::string> lines(1);
    for (const char c : text)
        if (c == '\n')
            lines.emplace_back();
        else
            lines.back() += c;
    return lines;
}

} // namespace

const std::vector<std::string>& shippedFaces() {
    static const std::vector<std::string> faces{"sign bold", "sign narrow", "stencil", "single line"};
    return faces;
}

double capHeightOf(const std::string& face) {
    const auto found = faceFor(face);
    return found ? (*found)->capShare() : 0.7;
}

Result<Lettered> lettered(const Lettering& l) {
    if (!(l.capHeight > 0 && l.capHeight < 5000) || !std::isfinite(l.tracking) || !(std::abs(l.tracking) < 5000))
        return Problem{.what = "A text needs a cap height above 0.", .where = {}, .mend = "Give a height in mm."};
    if (l.text.size() > 20'000)
        return Problem{.what = "The text is longer than 20 000 letters.", .where = {}, .mend = "Part it."};
    const auto face = faceFor(l.face);
    if (!face) return face.problem();
    Lettered out;
    std::size_t missing = 0;
    double down = 0;
    const std::optional<Ruler> along = l.along ? std::optional<Ruler>(*l.along) : std::nullopt;
    for (const auto& text : linesOf(l.text)) {
        const auto glyphs = (*face)->line(text, missing);
        double width = 0;
        for (const auto& g : glyphs) width += g.advance * l.capHeight + l.tracking;
        out.advance = width;
        if (!glyphs.empty()) width -= l.tracking;
        const double whole = along ? along->length() : 0;
        const double share = l.align == Lettering::Align::left ? 0 : l.align == Lettering::Align::centre ? 0.5 : 1;
        double pen = share * (whole - width);
        for (const auto& g : glyphs) {
            const double size = g.advance * l.capHeight;
            const Transform own =
                Transform::moved(g.offset * l.capHeight) * Transform::scaled(l.capHeight, l.capHeight);
            if (along) { // each letter stands on the line at its own middle
                const auto station = along->at(pen + size / 2);
                const double turn = std::atan2(station.tangent.y, station.tangent.x);
                put(g,
                    Transform::moved(station.point) * Transform::rotated(turn) * Transform::moved({-size / 2, down}) *
                        own,
                    out.pieces);
            } else {
                put(g, Transform::moved({pen, down}) * own, out.pieces);
            }
            pen += size + l.tracking;
        }
        down -= l.lineSpacing * l.capHeight;
    }
    if (missing) out.notices.push_back({fmt::format("The face “{}” lacks {} of the letters.", l.face, missing)});
    return out;
}

Result<Added> withText(const Artwork& artwork, const Lettering& lettering, Vec2 at, std::string_view layer) {
    auto letters = lettered(lettering);
    if (!letters) return letters.problem();
    if (letters->pieces.empty())
        return Problem{.what = "The text has nothing to cut.", .where = {}, .mend = "Type some letters."};
    std::vector<NamedPieces> one(1);
    one[0] = {
        std::move(letters->pieces), std::string(layer), lettering.text.substr(0, lettering.text.find('\n')), false, {}};
    auto added = withAllPieces(artwork, std::move(one));
    const GroupId group{++added.artwork.lastId};
    added.artwork.groups.push_back({group, {}, "text", {}, std::make_shared<const Lettering>(lettering)});
    const Transform place = lettering.along ? Transform{} : Transform::moved(at);
    for (auto& item : added.artwork.items)
        if (std::find(added.ids.begin(), added.ids.end(), item.id) != added.ids.end())
            item.group = group, item.place = item.original = place;
    return added;
}

Result<Artwork> withTextChanged(const Artwork& artwork, GroupId id, const Lettering& lettering) {
    const auto first =
        std::find_if(artwork.items.begin(), artwork.items.end(), [&](const Item& i) { return i.group == id; });
    const auto group =
        std::find_if(artwork.groups.begin(), artwork.groups.end(), [&](const Group& g) { return g.id == id; });
    if (first == artwork.items.end() || group == artwork.groups.end() || !group->lettering)
        return Problem{.what = fmt::format("Group {} is no text.", id.value), .where = {}, .mend = "Choose a text."};
    auto letters = lettered(lettering);
    if (!letters) return letters.problem();
    if (letters->pieces.empty())
        return Problem{.what = "The text has nothing to cut.", .where = {}, .mend = "Type some letters, or delete it."};
    const Item model = *first;
    Artwork out = artwork;
    std::erase_if(out.items, [&](const Item& i) { return i.group == id; });
    for (auto& piece : letters->pieces) {
        Item made = model;
        made.id = {++out.lastId};
        made.name = lettering.text.substr(0, lettering.text.find('\n'));
        made.leaf = leafOf(std::move(piece));
        out.items.push_back(std::move(made));
    }
    for (auto& g : out.groups)
        if (g.id == id) g.lettering = std::make_shared<const Lettering>(lettering);
    return out;
}

} // namespace ferro::artwork
