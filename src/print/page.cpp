#include "print/page_internal.h"

#include "print/ink_internal.h"

#include <cairo-ft.h>

extern "C" {
extern const unsigned char ferro_print_regular[], ferro_print_regular_end[], ferro_print_bold[], ferro_print_bold_end[];
}

namespace ferro::print {

namespace {
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
    in.surface = pdfInto(in.bytes, width, height, title);
    in.ink = cairo_create(in.surface);
    cairo_scale(in.ink, pointsPerMm, pointsPerMm);
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
    putPath(to, path, map);
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
