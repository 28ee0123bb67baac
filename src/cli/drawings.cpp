#include "cli/drawings.h"

#include "base/disk.h"
#include "formats/dxf_in.h"
#include "mend/repair.h"

namespace ferro::cli {

Result<formats::Drawing> readDrawing(const std::string& file, const DrawingWords& words) {
    const auto& unit = words.unit;
    std::optional<double> mmPerUnit;
    for (const auto& u : formats::drawnUnits)
        if (u.word == unit) mmPerUnit = u.mm;
    if (!unit.empty() && !mmPerUnit)
        return Problem{.what = fmt::format("There is no unit “{}” for drawings.", unit),
                       .where = {},
                       .mend = "Use mm, inch, cm, m or foot."};
    const auto bytes = realDisk().read(file);
    if (!bytes) return bytes.problem();
    auto drawing =
        formats::drawingFrom(*bytes, file,
                             {mmPerUnit, words.strokesAsOutlines, words.dropStrays,
                              formats::linkedIn(std::filesystem::path(file).parent_path()), formats::installedFaces()});
    if (!drawing) return drawing.problem().within(std::filesystem::path(file).filename().string());
    for (const auto& n : drawing->notices) fmt::print(stderr, "{}\n", n.text);
    const auto& drawn = drawing->drawn;
    if (drawn.by == formats::Drawing::Drawn::By::guess)
        fmt::print(stderr, "The drawing does not say its unit; taken as {} mm. Give the unit if it is another. {}.\n",
                   drawn.mmPerUnit, formats::toText(formats::guessesOf(drawn, words.sheet, words.bed)));
    return drawing;
}

artwork::Added addedTo(const artwork::Artwork& art, const formats::Drawing& drawing, double join) {
    auto added = formats::withDrawing(art, drawing);
    if (!drawing.loose) return added;
    std::string did;
    added = mend::withOutlines(std::move(added), join, &did);
    if (drawing.items.empty())
        fmt::print(stderr, "The drawing holds nothing to cut.\n");
    else
        fmt::print(stderr, "{}: {}.\n", formats::layersIn(drawing), did);
    return added;
}

} // namespace ferro::cli
