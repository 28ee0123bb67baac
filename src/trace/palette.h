#pragma once

#include "artwork/recipe.h"
#include "base/result.h"
#include "picture/picture.h"

namespace ferro::trace {

using artwork::Colour;
using artwork::colourFrom;
using artwork::toText;
/// Everyday words: "black", "dark green", "orange" … A second of the same gets a number.
[[nodiscard]] std::vector<std::string> namesOf(const std::vector<Colour>& palette);

/// How unlike two colours look: Euclidean in CIELAB (D65), 0 the same, 100 black and white.
[[nodiscard]] double difference(Colour a, Colour b);

/// The flat colours of a picture, those with the larger share first. `count`: that many at most, joining the two whose
/// joining costs least until so few are left (Ward 1963); 0: as many as can be told apart (more than 12 in CIELAB) and
/// take up a five hundredth of the flat parts. Edges, where colours mix, do not count.
[[nodiscard]] std::vector<Colour> paletteOf(const picture::Picture& picture, int count);

/// What a person means who points at a pixel: by channel the median of the 5 × 5 round it, so that one grain of a noisy
/// picture does not count. Nothing outside the picture.
[[nodiscard]] std::optional<Colour> colourAt(const picture::Picture& picture, int x, int y);

/// Which of the palette each pixel is, rows from the top. What lies on an edge goes to one of the colours beside it, so
/// that a mixture of two does not turn up as a third between them.
[[nodiscard]] std::vector<std::uint8_t> labelled(const picture::Picture& picture, const std::vector<Colour>& palette);
/// Patches of under `least` pixels go to the neighbour they border on most, the smallest first. Answers how many.
std::size_t dropSpecks(std::vector<std::uint8_t>& labels, int width, double least);

} // namespace ferro::trace
