#include "formats/kit.h"

#include "artwork/copies.h"

#include <map>

namespace ferro::formats {

namespace {

std::string onLine(const CutRow& row) { return fmt::format("line {}", row.line); }

} // namespace

Result<Kit> withCutList(const artwork::Artwork& artwork, const CutList& list, const KitReader& reader,
                        Progress& progress) {
    Kit kit{artwork, {}, 0, 0, list.notices};
    std::map<std::string, Drawing> drawings; // a file that many rows want is read once
    double right = artwork::boundsOf(artwork,
                                     [&] {
                                         artwork::Ids all;
                                         for (const auto& item : artwork.items) all.push_back(item.id);
                                         return all;
                                     }())
                       .high.x;
    if (!std::isfinite(right)) right = 0;
    for (std::size_t i = 0; i < list.rows.size(); ++i) {
        const auto& row = list.rows[i];
        if (progress.cancelled()) return Problem::cancelled();
        progress.at(i, list.rows.size());
        if (!drawings.contains(row.file)) {
            if (!isDrawingFile(row.file))
                return Problem{.what = fmt::format("“{}” is no drawing.", row.file.substr(0, 80)),
                               .where = onLine(row),
                               .mend = "Name an SVG or DXF file."};
            const auto bytes = reader.bytes(row.file);
            if (!bytes) return bytes.problem().within(onLine(row));
            auto drawing = drawingFrom(*bytes, row.file, reader.options);
            if (!drawing) return drawing.problem().within(row.file).within(onLine(row));
            for (const auto& notice : drawing->notices)
                kit.notices.push_back({fmt::format("{}: {}", row.file, notice.text)});
            if (drawing->drawn.by == Drawing::Drawn::By::guess)
                kit.notices.push_back({fmt::format("{} does not say its unit; one of it was taken for {} mm.", row.file,
                                                   drawing->drawn.mmPerUnit)});
            if (!drawing->pictures.empty()) // a part is what is cut
                kit.notices.push_back({fmt::format("{}: its pictures are left out.", row.file)});
            drawing->pictures.clear();
            drawings.emplace(row.file, std::move(*drawing));
        }
        artwork::Part part = row.part;
        if (!row.material.empty()) {
            const auto key = reader.material(row.material);
            if (!key)
                return Problem{.what = fmt::format("The shop book has no material “{}”.", row.material.substr(0, 60)),
                               .where = fmt::format("{}, column material", onLine(row)),
                               .mend = "Use a name or key of the shop book."};
            part.material = *key;
        }
        const auto& drawing = drawings.at(row.file);
        auto added = reader.add ? reader.add(kit.artwork, drawing) : withDrawing(kit.artwork, drawing);
        artwork::Ids pieces;
        for (const auto id : added.ids)
            if (const auto* item = artwork::find(added.artwork, id); item && artwork::shapeOf(*item))
                pieces.push_back(id);
        if (pieces.empty())
            return Problem{.what = fmt::format("“{}” holds nothing to cut.", row.file),
                           .where = onLine(row),
                           .mend = "Look at the drawing, or take the line out."};
        const Box box = artwork::boundsOf(added.artwork, pieces);
        auto placed =
            artwork::withTransformed(added.artwork, pieces, Transform::moved({right + 5 - box.low.x, -box.low.y}));
        if (placed && pieces.size() > 1) placed = artwork::withGrouped(*placed, pieces, row.name);
        if (placed) placed = artwork::withName(*placed, pieces, row.name);
        if (placed) placed = artwork::withPart(*placed, pieces, part);
        if (!placed) return placed.problem().within(onLine(row));
        right += 5 + box.width();
        kit.artwork = std::move(*placed);
        kit.ids.insert(kit.ids.end(), pieces.begin(), pieces.end());
        kit.parts += static_cast<std::size_t>(part.quantity);
    }
    kit.drawings = drawings.size();
    return kit;
}

} // namespace ferro::formats
