#include "formats/svg_text_internal.h"

#include "artwork/text.h"

namespace ferro::formats {

SvgLetters svgLetters(std::string words, const SvgStyle& style, double size, const Transform& place) {
    while (!words.empty() && words.back() == ' ') words.pop_back();
    if (words.empty() || !(size > 0 && size < 1e5)) return {};
    const auto has = [&](std::string_view part) {
        return std::search(style.family.begin(), style.family.end(), part.begin(), part.end(), [](char a, char b) {
                   return std::tolower(static_cast<unsigned char>(a)) == b;
               }) != style.family.end();
    };
    const std::string face = has("stencil")                      ? "stencil"
                             : has("condensed") || has("narrow") ? "sign narrow"
                                                                 : "sign bold";
    // At a cap height of 1, then as large as the em says.
    artwork::Lettering l{words, face, 1};
    l.align = style.anchor == SvgStyle::Anchor::middle ? artwork::Lettering::Align::centre
              : style.anchor == SvgStyle::Anchor::end  ? artwork::Lettering::Align::right
                                                       : artwork::Lettering::Align::left;
    auto letters = artwork::lettered(l);
    if (!letters) return {{}, fmt::format("A text was left out: {}", letters.problem().what)};
    const double k = size * artwork::capHeightOf(face);
    const Transform own = place * Transform::scaled(k, -k);
    for (auto& piece : letters->pieces) {
        piece = transformed(piece, own);
        if (piece.outline.closed) piece.outline = wound(std::move(piece.outline), true);
        for (auto& opening : piece.openings) opening = wound(std::move(opening), false);
    }
    return {std::move(letters->pieces),
            fmt::format("Text is set in our face “{}”{}.", face,
                        style.family.empty() ? std::string()
                                             : fmt::format(" instead of “{}”", style.family.substr(0, 60)))};
}

} // namespace ferro::formats
