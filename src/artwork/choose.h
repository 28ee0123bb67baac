#pragma once

#include "artwork/edits.h"

namespace ferro::artwork {

/// Ways to choose many pieces at once. Hidden and locked ones are never chosen; order is the drawing's.
[[nodiscard]] Ids everything(const Artwork& artwork);
/// All but these, pictures apart.
[[nodiscard]] Ids inverted(const Artwork& artwork, const Ids& items);
/// On the layers of these.
[[nodiscard]] Ids onSameLayers(const Artwork& artwork, const Ids& items);
/// Whose longer side is at most `size` mm.
[[nodiscard]] Ids upToSize(const Artwork& artwork, double size);
enum class Form { openLines, outlines, points, circles };
[[nodiscard]] Ids ofForm(const Artwork& artwork, Form form);
/// Like one of these, wherever they lie and however they are turned or mirrored: as long round, as large, as many
/// openings, each within two hundredths.
[[nodiscard]] Ids likeThese(const Artwork& artwork, const Ids& items);
/// Inside the outlines of these.
[[nodiscard]] Ids inside(const Artwork& artwork, const Ids& items);

} // namespace ferro::artwork
