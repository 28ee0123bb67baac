#include "formats/hairlines.h"

#include "geometry/flatten.h"

namespace ferro::formats {

namespace {
Problem noSuchLayer(std::string_view name) {
    return {.what = fmt::format("There is no layer “{}” with pieces.", name),
            .where = {},
            .mend = "ferrograph-cli info lists the layers of a job."};
}
} // namespace

Result<std::vector<Hairlines>> hairlinesOf(const artwork::Artwork& artwork, std::span<const std::string> layers) {
    const auto isNamed = [&](const std::string& name) {
        return std::find(layers.begin(), layers.end(), name) != layers.end();
    };
    std::vector<Hairlines> out;
    for (const auto& layer : artwork.layers) {
        if (layers.empty() ? layer.notes : !isNamed(layer.name)) continue;
        Hairlines lines{layer.name, layer.colour.empty() ? "#000000" : layer.colour, {}};
        for (const auto& item : artwork.items)
            if (item.layer == layer.id && artwork::shapeOf(item) && !artwork::isHidden(artwork, item))
                lines.pieces.push_back(artwork::placed(item));
        if (!lines.pieces.empty()) out.push_back(std::move(lines));
    }
    for (const auto& name : layers)
        if (std::none_of(out.begin(), out.end(), [&](const auto& l) { return l.layer == name; }))
            return noSuchLayer(name);
    return out;
}

Result<void> recolour(std::vector<Hairlines>& layers, std::string_view assignment) {
    const auto at = assignment.rfind('=');
    const auto colour = at == std::string_view::npos ? std::string_view{} : assignment.substr(at + 1);
    const bool fine =
        colour.size() == 7 && colour[0] == '#' &&
        std::all_of(colour.begin() + 1, colour.end(), [](unsigned char c) { return std::isxdigit(c) != 0; });
    if (!fine)
        return Problem{.what = fmt::format("“{}” names no colour for a layer.", assignment),
                       .where = {},
                       .mend = "Write it as cut=#ff0000."};
    for (auto& layer : layers)
        if (layer.layer == assignment.substr(0, at)) return layer.colour = colour, Result<void>{};
    return noSuchLayer(assignment.substr(0, at));
}

void straighten(std::vector<Hairlines>& layers, double tolerance) {
    const auto straight = [&](Path& path) { path = pathOf(flattened(path, tolerance), path.closed); };
    for (auto& layer : layers)
        for (auto& piece : layer.pieces) {
            straight(piece.outline);
            for (auto& opening : piece.openings) straight(opening);
        }
}

} // namespace ferro::formats
