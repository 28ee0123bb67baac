#include "print/page_internal.h"

#include <cairo-ft.h>
#include <cairo-pdf.h>

extern "C" {
extern const unsigned char ferro_print_regular[], ferro_print_regular_end[], ferro_print_bold[], ferro_print_bold_end[];
}

namespace ferro::print {

namespace {
constexpr double points = 72 / 25.4; ///< to a mm

/// The faces, read once and kept as long as the program runs: what has drawn with them may outlive its page.
struct Faces {
    FT_Library library = nullptr;
    cairo_font_face_t *regular = nullptr, *bold = nullptr;

    Faces() {
        FT_Init_FreeType(&library);
        const auto load = [&](const unsigned char* from, const unsigned char* end) {
            FT_Face face = nullptr;
            FT_New_Memory_Face(library, from, static_cast<FT_Long>(end - from), 0, &face);
            return cairo_ft_font_face_create_for_ft_face(face, 0);
        };
        regular = load(ferro_print_regular, ferro_print_regular_end);
        bold = load(ferro_print_bold, ferro_print_bold_end);
    }
    static const Faces& get() {
        static const Faces faces;
        return faces;
    }
};

} // namespace

Ink inkOf(const std::string& colour) {
    if (colour.size() != 7) return {0.91, 0.84, 0.71};
    const auto rgb = std::strtoul(colour.c_str() + 1, nullptr, 16);
    const auto part = [&](int shift) { return static_cast<double>(rgb >> shift & 0xFF) / 255; };
    return {part(16), part(8), part(0)};
}

struct Pages::Inner {
    std::string bytes;
    cairo_surface_t* surface = nullptr;
    cairo_t* ink = nullptr;
    int count = 1;

    void use(double size, bool heavy, Ink colour) const {
        cairo_set_font_face(ink, heavy ? Faces::get().bold : Faces::get().regular);
        cairo_set_font_size(ink, size);
        cairo_set_source_rgb(ink, colour.red, colour.green, colour.blue);
    }
};

Pages::Pages(std::string_view title) : inner_(std::make_unique<Inner>()) {
    auto& in = *inner_;
    in.surface = cairo_pdf_surface_create_for_stream(
        [](void* to, const unsigned char* data, unsigned size) {
            static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), size);
            return CAIRO_STATUS_SUCCESS;
        },
        &in.bytes, width * points, height * points);
    cairo_pdf_surface_set_metadata(in.surface, CAIRO_PDF_METADATA_TITLE, std::string(title).c_str());
    cairo_pdf_surface_set_metadata(in.surface, CAIRO_PDF_METADATA_CREATOR, "Ferrograph");
    cairo_pdf_surface_set_metadata(in.surface, CAIRO_PDF_METADATA_CREATE_DATE, ""); // none: the same bytes every day
    in.ink = cairo_create(in.surface);
    cairo_scale(in.ink, points, points);
}

Pages::~Pages() {
    if (inner_->ink) cairo_destroy(inner_->ink);
    cairo_surface_destroy(inner_->surface);
}

double Pages::widthOf(std::string_view words, double size, bool bold) {
    inner_->use(size, bold, {});
    cairo_text_extents_t extents;
    cairo_text_extents(inner_->ink, std::string(words).c_str(), &extents);
    return extents.x_advance;
}

void Pages::text(double x, double y, std::string_view words, double size, bool bold, Ink ink, double room) {
    std::string shown(words);
    while (shown.size() > 1 && widthOf(shown, size, bold) > room) {
        // Whole letters go, not bytes of them.
        if (shown.ends_with("…")) shown.resize(shown.size() - std::string_view("…").size());
        while (!shown.empty() && (static_cast<unsigned char>(shown.back()) & 0xC0) == 0x80) shown.pop_back();
        if (!shown.empty()) shown.pop_back();
        shown += "…";
    }
    inner_->use(size, bold, ink);
    cairo_move_to(inner_->ink, x, y);
    cairo_show_text(inner_->ink, shown.c_str());
}

void Pages::textTo(double x, double y, std::string_view words, double size, bool bold, Ink ink) {
    text(x - widthOf(words, size, bold), y, words, size, bold, ink);
}

double Pages::lines(double x, double y, std::string_view words, double room, double size, Ink ink) {
    std::string line;
    const auto put = [&] {
        if (line.empty()) return;
        text(x, y, line, size, false, ink);
        y += size * 1.35;
        line.clear();
    };
    while (!words.empty()) {
        const auto space = std::min(words.find(' '), words.size());
        const std::string word(words.substr(0, space));
        words.remove_prefix(std::min(space + 1, words.size()));
        const std::string longer = line.empty() ? word : line + " " + word;
        if (!line.empty() && widthOf(longer, size, false) > room) {
            put();
            line = word;
        } else {
            line = longer;
        }
    }
    put();
    return y;
}

void Pages::rule(double y, double from, double to) {
    auto* ink = inner_->ink;
    cairo_set_source_rgb(ink, 0.75, 0.71, 0.63);
    cairo_set_line_width(ink, 0.2);
    cairo_move_to(ink, from, y);
    cairo_line_to(ink, to, y);
    cairo_stroke(ink);
}

void Pages::fill(const Box& box, Ink ink) {
    cairo_set_source_rgb(inner_->ink, ink.red, ink.green, ink.blue);
    cairo_rectangle(inner_->ink, box.low.x, box.low.y, box.width(), box.height());
    cairo_fill(inner_->ink);
}

void Pages::outline(const Path& path, const Transform& map, double thick, Ink ink) {
    auto* to = inner_->ink;
    const Vec2 start = map(path.start);
    cairo_move_to(to, start.x, start.y);
    for (std::size_t i = 0; i < path.segments.size(); ++i) {
        const auto& s = path.segments[i];
        const Vec2 end = map(s.end);
        if (s.kind == Segment::Kind::cubic) {
            const Vec2 a = map(s.a), b = map(s.b);
            cairo_curve_to(to, a.x, a.y, b.x, b.y, end.x, end.y);
        } else if (s.kind == Segment::Kind::arc) {
            const int parts = std::max(1, static_cast<int>(std::ceil(std::abs(sweepOf(path.from(i), s)) / 0.1)));
            for (int k = 1; k <= parts; ++k) {
                const Vec2 p = map(pointAt(path.from(i), s, static_cast<double>(k) / parts));
                cairo_line_to(to, p.x, p.y);
            }
        } else {
            cairo_line_to(to, end.x, end.y);
        }
    }
    if (path.closed) cairo_close_path(to);
    cairo_set_source_rgb(to, ink.red, ink.green, ink.blue);
    cairo_set_line_width(to, thick);
    cairo_stroke(to);
}

void Pages::next() {
    cairo_show_page(inner_->ink);
    ++inner_->count;
}

int Pages::count() const { return inner_->count; }

Result<std::string> Pages::finished() {
    auto& in = *inner_;
    cairo_destroy(std::exchange(in.ink, nullptr));
    cairo_surface_finish(in.surface);
    const auto status = cairo_surface_status(in.surface);
    if (status != CAIRO_STATUS_SUCCESS)
        return Problem{.what = fmt::format("The pages could not be made: {}.", cairo_status_to_string(status)),
                       .where = {},
                       .mend = {}};
    return std::move(in.bytes);
}

} // namespace ferro::print
