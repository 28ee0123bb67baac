#include "job/boards.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/polygons.h"
#include "job/edits.h"

#include <algorithm>

namespace ferro::job {

namespace {

constexpr double worthKeeping = 2500; ///< mm², a square of 50 mm

Result<std::optional<Piece>> outlineOf(const shop::Board& board) {
    if (board.outline.empty()) return std::optional<Piece>();
    const auto bad = Problem{.what = fmt::format("The outline of “{}” cannot be read.", board.name),
                             .where = "shop book",
                             .mend = "Take the board out of the book, and keep the rest of a sheet anew."};
    const auto paths = pathsFromText(board.outline);
    if (!paths || paths->empty()) return bad;
    Piece piece;
    for (std::size_t i = 0; i < paths->size(); ++i) {
        if (!(*paths)[i].closed) return bad;
        if (i == 0)
            piece.outline = wound((*paths)[0], true);
        else
            piece.openings.push_back(wound((*paths)[i], false));
    }
    return std::optional(piece);
}

} // namespace

Result<Stock> stockOf(const shop::Board& board, const Stock& otherwise) {
    auto outline = outlineOf(board);
    if (!outline) return outline.problem();
    Stock stock = otherwise;
    stock.width = board.width;
    stock.height = board.height;
    stock.thickness = board.thickness;
    stock.outline = std::move(*outline);
    if (stock.outline) {
        const Box box = boundsOf(stock.outline->outline);
        stock.outline = transformed(*stock.outline, Transform::moved(-1.0 * box.low));
        stock.width = box.width(), stock.height = box.height();
    }
    return stock;
}

Result<Job> withBoard(const Job& job, const shop::Book& book, std::string_view key) {
    const auto board =
        std::find_if(book.boards.begin(), book.boards.end(), [&](const auto& b) { return b.key == key; });
    if (board == book.boards.end())
        return Problem{.what = fmt::format("There is no board “{}” on the shelf.", key),
                       .where = "shop book",
                       .mend = "See the boards of the shop book."};
    if (board->count < 1)
        return Problem{.what = fmt::format("No “{}” is left on the shelf.", board->name),
                       .where = "shop book",
                       .mend = "Say in the shop book how many there are."};
    const auto material = book.material(board->material);
    if (!material) return material.problem();
    const auto stock = stockOf(*board, job.sheet().stock);
    if (!stock) return stock.problem();
    auto out = withStock(withMaterial(job, *material), *stock);
    if (out) out->sheet().lie.reset(), out->sheet().board = board->key, out->sheet().cost = board->cost;
    return out;
}

std::vector<shop::Board> boardsFor(const shop::Book& book, std::string_view material, double thickness) {
    std::vector<shop::Board> fit;
    for (const auto& board : book.boards)
        if (board.count > 0 && board.material == material && std::abs(board.thickness - thickness) <= thickness / 20)
            fit.push_back(board);
    std::stable_sort(fit.begin(), fit.end(), [](const shop::Board& a, const shop::Board& b) {
        return std::pair(a.outline.empty(), a.width * a.height) < std::pair(b.outline.empty(), b.width * b.height);
    });
    return fit;
}

Result<Rest> restOf(const Job& job) {
    constexpr double fineness = 0.05; // mm
    double widest = 0;
    for (const auto& step : job.plan.steps)
        if (const auto* tool = toolOf(job, step); tool && step.enabled && plan::kindOf(step).freesParts)
            widest = std::max(widest, tool->diameter);
    Rings gone;
    for (const auto& item : job.artwork->items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape || !shape->piece.outline.closed || artwork::isHidden(*job.artwork, item) ||
            artwork::isNote(*job.artwork, item))
            continue;
        gone.push_back(flattened(wound(artwork::placed(item).outline, true), fineness));
    }
    const auto blank = flattened(blankOf(job.sheet().stock), fineness);
    auto grown = offset(gone, widest, {.tolerance = fineness});
    if (!grown) return grown.problem();
    auto left = combined(blank, *grown, Combine::takeAway);
    if (!left) return left.problem();
    // Without what is thinner than a pencil: slivers between cuts hold nothing, and break off.
    constexpr double sliver = 2; // mm
    auto sturdy = offset(*left, -sliver / 2, {.tolerance = fineness});
    if (sturdy) sturdy = offset(*sturdy, sliver / 2, {.tolerance = fineness, .corner = Corner::sharp});
    if (sturdy) left = combined(*left, *sturdy, Combine::overlap);
    if (!left) return left.problem();
    std::vector<Piece> pieces;
    for (const auto& ring : *left)
        if (areaOf(ring) > 0) pieces.push_back({pathOf(ring, true), {}});
    for (const auto& ring : *left) {
        if (areaOf(ring) >= 0 || ring.empty()) continue;
        // Of the outlines about a hole the smallest has it.
        Piece* owner = nullptr;
        for (auto& piece : pieces)
            if (contains({flattened(piece.outline, fineness)}, ring[0]) &&
                (!owner || areaOf(piece.outline) < areaOf(owner->outline)))
                owner = &piece;
        if (owner) owner->openings.push_back(pathOf(ring, true));
    }
    const auto largest = std::max_element(pieces.begin(), pieces.end(),
                                          [](const Piece& a, const Piece& b) { return areaOf(a) < areaOf(b); });
    if (largest == pieces.end() || areaOf(*largest) < worthKeeping)
        return Problem{.what = "Nothing worth keeping is left of this sheet.", .where = {}, .mend = {}};
    Rest rest;
    rest.area = areaOf(*largest);
    for (const auto& piece : pieces) rest.otherAreas += areaOf(piece);
    rest.otherAreas -= rest.area;
    const Box box = boundsOf(largest->outline);
    const auto piece = transformed(*largest, Transform::moved(-1.0 * box.low));
    const auto& material = materialOf(job);
    rest.board.name = fmt::format("Off-cut of {} {:g}", material.name, job.sheet().stock.thickness);
    rest.board.material = material.key;
    rest.board.thickness = job.sheet().stock.thickness;
    rest.board.width = box.width(), rest.board.height = box.height();
    const bool plain = piece.openings.empty() && std::abs(rest.area - box.width() * box.height()) < 0.01;
    if (!plain) {
        rest.board.outline = toText(piece.outline);
        for (const auto& opening : piece.openings) rest.board.outline += " " + toText(opening);
    }
    return rest;
}

} // namespace ferro::job
