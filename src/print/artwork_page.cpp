#include "print/artwork_page.h"

#include "plan/selection.h"
#include "print/ink_internal.h"
#include "print/page_internal.h"

#include <set>

namespace ferro::print {

namespace {

/// What is drawn on, and goes with it.
struct Paper {
    cairo_surface_t* surface;
    cairo_t* ink;
    explicit Paper(cairo_surface_t* on) : surface(on), ink(cairo_create(on)) {}
    ~Paper() {
        cairo_destroy(ink);
        cairo_surface_destroy(surface);
    }
    Paper(const Paper&) = delete;
    Paper& operator=(const Paper&) = delete;
    [[nodiscard]] Result<void> state() const {
        cairo_surface_flush(surface);
        for (const auto status : {cairo_status(ink), cairo_surface_status(surface)})
            if (status != CAIRO_STATUS_SUCCESS)
                return Problem{.what = fmt::format("The page could not be made: {}.", cairo_status_to_string(status)),
                               .where = {},
                               .mend = {}};
        return {};
    }
};

/// A picture's pixels by its place; `map`: sheet to page, y down. False: it is too large to be drawn.
[[nodiscard]] bool putPicture(cairo_t* ink, const artwork::PictureLeaf& leaf, const Transform& place,
                              const Transform& map) {
    const auto& picture = leaf.picture;
    if (picture.width <= 0 || picture.height <= 0) return true;
    auto* surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, picture.width, picture.height);
    const bool fits = cairo_surface_status(surface) == CAIRO_STATUS_SUCCESS; // it takes up to 32 767 px a side
    if (fits) {
        auto* rows = cairo_image_surface_get_data(surface);
        const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(surface));
        const auto* from = picture.pixels->data();
        for (std::size_t y = 0; y < static_cast<std::size_t>(picture.height); ++y)
            for (std::size_t x = 0; x < static_cast<std::size_t>(picture.width); ++x) {
                const std::uint8_t red = from[0], green = picture.channels > 1 ? from[1] : red,
                                   blue = picture.channels > 1 ? from[2] : red,
                                   alpha = picture.channels == 4 ? from[3] : 255;
                from += picture.channels;
                const auto over = [&](std::uint8_t part) { return static_cast<std::uint32_t>(part * alpha / 255); };
                const std::uint32_t dot =
                    static_cast<std::uint32_t>(alpha) << 24 | over(red) << 16 | over(green) << 8 | over(blue);
                std::memcpy(rows + y * stride + 4 * x, &dot, 4);
            }
        cairo_surface_mark_dirty(surface);
        // Its own coordinates run up from the lower left in mm; pixels run down from the upper left.
        const Transform own{leaf.size.x / picture.width, 0, 0, -leaf.size.y / picture.height, 0, leaf.size.y};
        const Transform all = map * place * own;
        const cairo_matrix_t matrix{all.a, all.b, all.c, all.d, all.tx, all.ty};
        cairo_save(ink);
        cairo_transform(ink, &matrix);
        cairo_set_source_surface(ink, surface, 0, 0);
        cairo_paint(ink);
        cairo_restore(ink);
    }
    cairo_surface_destroy(surface);
    return fits;
}

/// All of the sheet, lowest first. A problem when there is nothing, or a picture cannot be drawn.
Result<void> put(cairo_t* ink, const job::Job& job, const ArtworkPage& wish) {
    const auto& art = *job.artwork;
    const auto pieces = plan::piecesOf(job.plan, art, job.tools);
    std::set<artwork::ItemId> cut;
    for (std::size_t i = 0; i < pieces.taken.size(); ++i)
        if (job.plan.steps[i].enabled)
            for (const auto k : pieces.taken[i]) cut.insert(pieces.contours[k].item);
    const Transform map{1, 0, 0, -1, 0, job.sheet().stock.height};
    bool any = false;
    for (const auto& item : art.items) {
        const auto* layer = artwork::find(art, item.layer);
        if (item.sheet != job.sheet().id || item.hidden || (layer && layer->hidden)) continue;
        if (const auto* picture = artwork::pictureOf(item)) {
            if (!putPicture(ink, *picture, item.place, map))
                return Problem{.what = fmt::format("“{}” has {} × {} px, more than can be printed.", item.name,
                                                   picture->picture.width, picture->picture.height),
                               .where = job.sheet().name,
                               .mend = "Clean it up to fewer pixels, or part it."};
            any = true;
            continue;
        }
        const bool isCut = cut.contains(item.id);
        if (isCut && !wish.cutLines) continue;
        const auto& piece = artwork::shapeOf(item)->piece;
        const Transform to = map * item.place;
        putPath(ink, piece.outline, to);
        for (const auto& opening : piece.openings) putPath(ink, opening, to);
        const Ink colour = layer && layer->colour.size() == 7 ? inkOf(layer->colour) : Ink{};
        cairo_set_source_rgb(ink, colour.red, colour.green, colour.blue);
        cairo_set_line_width(ink, 0.1);
        cairo_set_fill_rule(ink, CAIRO_FILL_RULE_EVEN_ODD);
        if (piece.outline.closed && !isCut)
            cairo_fill(ink);
        else
            cairo_stroke(ink);
        any = true;
    }
    if (any) return {};
    return Problem{.what = "Nothing on this sheet is to be printed: all of it is cut.",
                   .where = job.sheet().name,
                   .mend = "Put a picture or notes on it, or let the cut lines be printed too."};
}

} // namespace

Result<std::string> artworkPdf(const job::Job& job, const ArtworkPage& wish) {
    const auto& stock = job.sheet().stock;
    std::string bytes;
    {
        const Paper paper(pdfInto(bytes, stock.width, stock.height, job.name + " · " + job.sheet().name));
        cairo_scale(paper.ink, pointsPerMm, pointsPerMm);
        if (auto fine = put(paper.ink, job, wish); !fine) return fine.problem();
        cairo_show_page(paper.ink);
        cairo_surface_finish(paper.surface);
        const auto status = cairo_surface_status(paper.surface);
        if (status != CAIRO_STATUS_SUCCESS)
            return Problem{.what = fmt::format("The page could not be made: {}.", cairo_status_to_string(status)),
                           .where = {},
                           .mend = {}};
    }
    return bytes;
}

Result<picture::Picture> artworkPicture(const job::Job& job, const ArtworkPage& wish, double pxPerMm) {
    const auto& stock = job.sheet().stock;
    const double wide = std::ceil(stock.width * pxPerMm), high = std::ceil(stock.height * pxPerMm);
    if (!(pxPerMm > 0) || !(wide * high <= 100e6) || !(std::max(wide, high) < 32000))
        return Problem{.what = fmt::format("A picture of {:.0f} × {:.0f} px is too large.", wide, high),
                       .where = {},
                       .mend = "Take fewer pixels a mm, up to 100 megapixels in all."};
    const int width = static_cast<int>(wide), height = static_cast<int>(high);
    const Paper paper(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height));
    cairo_set_source_rgb(paper.ink, 1, 1, 1);
    cairo_paint(paper.ink);
    cairo_scale(paper.ink, width / stock.width, height / stock.height);
    if (auto fine = put(paper.ink, job, wish); !fine) return fine.problem();
    if (auto fine = paper.state(); !fine) return fine.problem();
    auto pixels = std::make_shared<std::vector<std::uint8_t>>();
    pixels->reserve(3 * static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    const auto* rows = cairo_image_surface_get_data(paper.surface);
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(paper.surface));
    for (std::size_t y = 0; y < static_cast<std::size_t>(height); ++y)
        for (std::size_t x = 0; x < static_cast<std::size_t>(width); ++x) {
            std::uint32_t dot = 0;
            std::memcpy(&dot, rows + y * stride + 4 * x, 4);
            for (const int shift : {16, 8, 0}) pixels->push_back(static_cast<std::uint8_t>(dot >> shift & 0xFF));
        }
    picture::Picture out;
    out.width = width, out.height = height, out.channels = 3;
    out.pixels = std::move(pixels);
    out.pxPerMm = pxPerMm;
    return out;
}

} // namespace ferro::print
