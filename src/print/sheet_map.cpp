#include "print/sheet_map.h"

#include "artwork/copies.h"
#include "base/quantity.h"
#include "geometry/area_axis.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "print/page_internal.h"

#include <map>

namespace ferro::print {

namespace {

/// "220 × 140.5 mm": as exact as a rule tells.
std::string sizeOf(const SheetPart& part, Units units) {
    const auto plain = [&](double v) {
        auto text = units == Units::inch ? fmt::format("{:.2f}", v / mmPerInch) : fmt::format("{:.1f}", v);
        while (text.back() == '0') text.pop_back();
        if (text.back() == '.') text.pop_back();
        return text;
    };
    return fmt::format("{} × {} {}", plain(part.bounds.width()), plain(part.bounds.height()),
                       unitName(Measure::length, units));
}
std::string joined(const std::vector<std::string>& words) {
    std::string all;
    for (const auto& word : words) all += (all.empty() ? "" : " · ") + word;
    return all;
}
/// The outlines of a part into a box of the page, as large as they go.
void picture(Pages& pages, const SheetPart& part, const Box& into, double thick) {
    const double scale = std::min(into.width() / part.bounds.width(), into.height() / part.bounds.height());
    const Vec2 from = part.bounds.centre(), to = into.centre();
    const Transform map{scale, 0, 0, -scale, to.x - from.x * scale, to.y + from.y * scale};
    for (const auto& path : part.outlines) pages.outline(path, map, thick, iron);
}
/// Where in a part its number goes: into the largest disc that has nothing in it.
Circle numberPlace(const SheetPart& part) {
    std::vector<Path> paths;
    for (const auto& path : part.outlines)
        if (path.closed) paths.push_back(path);
    Circle best{part.bounds.centre(), 0};
    for (const auto& piece : nested(std::move(paths))) {
        std::vector<Path> area{wound(piece.outline, true)};
        for (const auto& opening : piece.openings) area.push_back(wound(opening, false));
        if (const auto disc = largestDisc(area); disc.radius > best.radius) best = disc;
    }
    return best;
}

class Map {
public:
    explicit Map(std::span<const ProofedSheet> sheets) : sheets_(sheets), pages_("Sheet map") {}

    Result<std::string> run() {
        const auto parts = partsOf(sheets_);
        for (std::size_t i = 0; i < sheets_.size(); ++i) {
            if (i > 0) pages_.next();
            one(i, parts);
        }
        return pages_.finished();
    }

private:
    static constexpr double left = Pages::margin, right = Pages::width - Pages::margin, foot = Pages::height - 14;

    void head(std::size_t index, std::size_t count) {
        const auto& job = sheets_[index].job;
        const auto& stock = job.sheet().stock;
        pages_.text(left, 22, job.sheet().name, 7, true, {}, 120);
        pages_.textTo(right, 19.4, job.name, 3.2, true);
        pages_.textTo(right, 24,
                      fmt::format("{} · {} × {} × {} · {}", job::materialOf(job).name,
                                  shown(stock.width, Measure::length, job.units),
                                  shown(stock.height, Measure::length, job.units),
                                  shown(stock.thickness, Measure::length, job.units),
                                  count == 1 ? std::string("one part") : fmt::format("{} parts", count)),
                      3.2, false, faded);
        pages_.rule(27);
        pages_.textTo(right, foot + 5, fmt::format("sheet {} of {}", index + 1, sheets_.size()), 3, false, faded);
    }

    void one(std::size_t index, const std::vector<SheetPart>& parts) {
        const auto& job = sheets_[index].job;
        const auto& stock = job.sheet().stock;
        const auto count = static_cast<std::size_t>(
            std::count_if(parts.begin(), parts.end(), [&](const auto& part) { return part.sheet == index; }));
        head(index, count);
        const double scale = std::min((right - left) / stock.width, 140 / stock.height);
        const Vec2 low{(Pages::width - stock.width * scale) / 2, 32 + stock.height * scale};
        const Transform map{scale, 0, 0, -scale, low.x, low.y};
        Box box;
        box.take(map({0, 0}));
        box.take(map({stock.width, stock.height}));
        pages_.fill(box, inkOf(job::materialOf(job).colour));
        const auto blank = job::blankOf(stock);
        pages_.outline(blank.outline, map, 0.25, faded);
        for (const auto& opening : blank.openings) pages_.outline(opening, map, 0.25, faded);
        for (const auto& part : parts) {
            if (part.sheet != index) continue;
            for (const auto& path : part.outlines) pages_.outline(path, map, 0.25, iron);
            const std::string number = fmt::format("{}", part.number);
            const auto room = numberPlace(part);
            const Vec2 at = map(room.centre);
            const double size = std::clamp(1.3 * room.radius * scale, 1.8, 5.0);
            pages_.text(at.x - 0.29 * size * static_cast<double>(number.size()), at.y + 0.36 * size, number, size,
                        true);
        }
        double y = low.y + 8;
        const auto titles = [&] {
            const std::pair<double, const char*> names[] = {{0, "No"}, {12, "Part"}, {92, "Size"}, {134, "Labels"}};
            for (const auto& [x, word] : names) pages_.text(left + x, y, word, 3, true, faded);
            y += 1.6;
            pages_.rule(y);
            y += 3.6;
        };
        titles();
        for (const auto& part : parts) {
            if (part.sheet != index) continue;
            if (y > foot - 2) {
                pages_.next();
                head(index, count);
                y = 34;
                titles();
            }
            pages_.text(left, y, fmt::format("{}", part.number), 3.2, true);
            pages_.text(left + 12, y, part.name, 3.2, false, {}, 78);
            pages_.text(left + 92, y, sizeOf(part, job.units), 3.2, false, {}, 40);
            pages_.text(left + 134, y, joined(part.facts.labels), 3.2, false, {}, right - left - 134);
            y += 4.8;
        }
    }

    std::span<const ProofedSheet> sheets_;
    Pages pages_;
};

} // namespace

std::vector<SheetPart> partsOf(std::span<const ProofedSheet> sheets) {
    std::vector<SheetPart> out;
    for (std::size_t s = 0; s < sheets.size(); ++s) {
        const auto& [job, proof] = sheets[s];
        const auto& art = *job.artwork;
        // In the order of their cuts; of a group the first that comes loose speaks for all.
        std::vector<std::pair<artwork::ItemId, artwork::GroupId>> loose;
        for (const auto& step : proof.path.steps)
            for (const auto& cut : step.cuts) {
                if (step.blank > 1 || !cut.intent.frees || cut.intent.role != plan::Role::outerEdges) continue;
                const auto* item = artwork::find(art, cut.intent.item);
                if (!item || !artwork::shapeOf(*item)) continue;
                if (std::none_of(loose.begin(), loose.end(), [&](const auto& known) {
                        return known.first == item->id || (item->group && known.second == item->group);
                    }))
                    loose.emplace_back(item->id, item->group);
            }
        std::vector<Ring> edges;
        const std::size_t first = out.size();
        for (const auto& [id, group] : loose) {
            const auto& item = *artwork::find(art, id);
            SheetPart part{static_cast<int>(out.size()) + 1, s, item.name, artwork::partOf(art, item), {}, {}};
            for (const auto& g : art.groups)
                if (g.id == group && !g.name.empty()) part.name = g.name;
            edges.push_back(flattened(artwork::placed(item).outline, 0.05));
            out.push_back(std::move(part));
        }
        for (const auto& item : art.items) {
            if (artwork::isHidden(art, item) || !artwork::shapeOf(item)) continue;
            const auto piece = artwork::placed(item);
            // A part's own, or else what lies in it.
            const auto own = std::find_if(loose.begin(), loose.end(), [&](const auto& part) {
                return part.first == item.id || (item.group && part.second == item.group);
            });
            const auto round =
                own != loose.end() ? edges.end() : std::find_if(edges.begin(), edges.end(), [&](const Ring& edge) {
                    return contains(edge, piece.outline.start);
                });
            if (own == loose.end() && round == edges.end()) continue;
            auto& part =
                out[first + static_cast<std::size_t>(own != loose.end() ? own - loose.begin() : round - edges.begin())];
            part.outlines.push_back(piece.outline);
            part.outlines.insert(part.outlines.end(), piece.openings.begin(), piece.openings.end());
            if (own != loose.end()) part.bounds.take(boundsOf(piece.outline));
        }
    }
    return out;
}

Result<std::string> sheetMap(std::span<const ProofedSheet> sheets) {
    if (sheets.empty())
        return Problem{.what = "There is no sheet with anything on it.", .where = {}, .mend = "Lay pieces on a sheet."};
    return Map(sheets).run();
}

Result<void> checked(const LabelStock& stock) {
    const bool sized = stock.width >= 15 && stock.height >= 8 && stock.columns >= 1 && stock.rows >= 1 &&
                       stock.columns <= 50 && stock.rows <= 50 && stock.left >= 0 && stock.top >= 0 &&
                       stock.gapX >= 0 && stock.gapY >= 0;
    if (!sized || stock.left + stock.columns * (stock.width + stock.gapX) - stock.gapX > Pages::width + 1e-6 ||
        stock.top + stock.rows * (stock.height + stock.gapY) - stock.gapY > Pages::height + 1e-6)
        return Problem{.what = "So many labels of that size do not go onto a page of 210 × 297 mm.",
                       .where = {},
                       .mend = "Measure the label paper: size of a label, how many across and down, gaps, margins."};
    return {};
}

Result<std::string> labelSheet(std::span<const ProofedSheet> sheets, const LabelStock& stock) {
    if (auto fine = checked(stock); !fine) return fine.problem();
    const auto parts = partsOf(sheets);
    if (parts.empty())
        return Problem{.what = "No part comes off any sheet, so there is nothing to label.",
                       .where = {},
                       .mend = "Add an outline step that cuts the parts out."};
    Pages pages("Labels");
    const auto each = static_cast<std::size_t>(stock.columns * stock.rows);
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (i > 0 && i % each == 0) pages.next();
        const auto& part = parts[i];
        const auto& job = sheets[part.sheet].job;
        const auto column = static_cast<double>(i % each % static_cast<std::size_t>(stock.columns)),
                   row = static_cast<double>(i % each / static_cast<std::size_t>(stock.columns));
        const double x = stock.left + column * (stock.width + stock.gapX) + 3,
                     y = stock.top + row * (stock.height + stock.gapY) + 2, high = stock.height - 4;
        const double seen = std::min(high, 0.38 * stock.width), room = stock.width - 6 - seen - 2;
        const double size = std::clamp(high * 0.28, 3.0, 8.0), line = std::clamp(high / 6, 2.2, 4.2);
        pages.text(x, y + size * 0.8, fmt::format("{}", part.number), size, true);
        double at = y + size * 0.8 + line * 1.1;
        const auto& stuff = job.sheet().stock;
        const std::string lines[] = {
            part.name, sizeOf(part, job.units),
            fmt::format("{} {}", job::materialOf(job).name, shown(stuff.thickness, Measure::length, job.units)),
            fmt::format("{} · {}", job.name, job.sheet().name), joined(part.facts.labels)};
        for (const auto& words : lines) {
            if (at > y + high + 0.5) break; // a small label tells the first of it
            if (words.empty()) continue;
            pages.text(x, at, words, line * 0.82, &words == &lines[0], &words == &lines[0] ? Ink{} : faded, room);
            at += line;
        }
        const double far = stock.left + column * (stock.width + stock.gapX) + stock.width - 3;
        picture(pages, part, {{far - seen, y + 1}, {far, y + high - 1}}, 0.2);
    }
    return pages.finished();
}

} // namespace ferro::print
