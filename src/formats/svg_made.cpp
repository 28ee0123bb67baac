#include "formats/svg_made_internal.h"

#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/nesting.h"
#include "geometry/stroke.h"

namespace ferro::formats {

Area areaOfBox(const Box& box, const Transform& place) {
    return {{wound(transformed(rectangle(box.low, box.high), place), true), {}}};
}

bool clipTo(std::vector<Made>& made, const Area& area) {
    bool fine = true;
    for (auto& one : made) {
        std::vector<Piece> areas, kept;
        for (auto& piece : one.pieces) {
            if (piece.outline.closed) {
                areas.push_back(std::move(piece));
                continue;
            }
            for (auto& line : insideOf(piece.outline, area)) kept.push_back({std::move(line), {}});
        }
        if (!areas.empty()) {
            auto cut = combinedPieces(areas, area, Combine::overlap);
            if (cut)
                kept.insert(kept.begin(), cut->begin(), cut->end());
            else
                fine = false;
        }
        one.pieces = std::move(kept);
    }
    std::erase_if(made, [](const Made& one) { return one.pieces.empty(); });
    return fine;
}

Box boundsOf(const std::vector<Made>& made, const Transform& by) {
    Box box;
    for (const auto& one : made)
        for (const auto& piece : one.pieces) box.take(ferro::boundsOf(transformed(piece, by)));
    return box;
}

std::optional<Transform> ontoBounds(const std::vector<Made>& made, const Transform& place) {
    const auto back = place.inverse();
    const Box box = back ? boundsOf(made, *back) : Box{};
    if (!(box.width() > 0 && box.height() > 0)) return std::nullopt;
    return Transform{box.width(), 0, 0, box.height(), box.low.x, box.low.y};
}

std::optional<double> lightOf(const std::string& paint) {
    const auto colour = svgColour(paint);
    if (!colour) return std::nullopt;
    const auto part = [&](std::size_t at) { return std::stoi(colour->substr(at, 2), nullptr, 16) / 255.0; };
    return 0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5);
}

Result<std::vector<Piece>> strokeArea(const std::vector<Path>& paths, const Transform& place, const SvgStyle& style,
                                      const SvgScale& scale) {
    const double k = std::sqrt(std::abs(place.determinant()));
    const auto width = lengthFrom(style.width, scale.diagonal(), scale.em);
    if (!width || !(*width * k > 1e-6) || !(k > 1e-9) || !(*width * k < 1e4)) return std::vector<Piece>{};
    const OffsetOptions options{.tolerance = 0.004,
                                .corner = style.joins == SvgStyle::Joins::round   ? Corner::round
                                          : style.joins == SvgStyle::Joins::sharp ? Corner::sharp
                                                                                  : Corner::flat,
                                .sharpLimit = style.miterLimit};
    const Cap cap = style.ends == SvgStyle::Ends::round    ? Cap::round
                    : style.ends == SvgStyle::Ends::square ? Cap::square
                                                           : Cap::flat;
    auto pattern = lengthsFrom(style.dashes, scale.diagonal(), scale.em);
    for (double& dash : pattern) dash *= k;
    const double start = lengthFrom(style.dashStart, scale.diagonal(), scale.em).value_or(0) * k;
    std::vector<Path> outlines;
    for (const bool closed : {false, true}) {
        Rings lines;
        for (const auto& path : paths) {
            const bool whole = path.closed && pattern.empty();
            if (whole != closed || path.segments.empty()) continue;
            auto line = flattened(transformed(path, Transform::scaled(k, k)), 0.001);
            if (pattern.empty())
                lines.push_back(std::move(line));
            else
                for (auto& dash : dashed(line, path.closed, pattern, start)) lines.push_back(std::move(dash));
        }
        if (lines.empty()) continue;
        const auto wide = widenedPaths(lines, closed, *width * k, cap, options);
        if (!wide) return wide.problem();
        outlines.insert(outlines.end(), wide->begin(), wide->end());
    }
    for (auto& path : outlines) path = transformed(path, place * Transform::scaled(1 / k, 1 / k));
    return nested(std::move(outlines), FillRule::nonZero);
}

} // namespace ferro::formats
