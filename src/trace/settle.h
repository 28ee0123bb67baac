#pragma once

#include "trace/palette.h"

namespace ferro::trace {

/// Settles which colour each pixel near a border belongs to. A pixel may be a mixture of its own colour with up to half
/// of another that is near, in lightness and in colour each by itself, since compressed pictures keep colours for
/// every other pixel only; of the explanations that fit, the one with the shorter borders counts. So the mixture of two
/// areas, which may look like a third colour of the palette, makes no thread of that between them, and a line whose
/// colour has run stays one line. A Markov random field with a mixture for its data term, settled by iterated
/// conditional modes (Besag 1986) in a fixed order. Labels are indices into the palette.
/// Answers by how much lightness wavers near borders, in squared greys on the mean: about 0 where nothing was
/// compressed.
double settle(std::vector<std::uint8_t>& labels, const picture::Picture& picture, const std::vector<Colour>& palette);

/// Lines of a few pixels lose colour in a compressed picture, more or less by what they lie on, and may have been taken
/// for several. Gives each such colour what it is where least has run into it, and joins those that are one by that.
/// Labels and palette stay in step; what is left of no pixel is dropped.
void gatherLines(std::vector<std::uint8_t>& labels, const picture::Picture& picture, std::vector<Colour>& palette);

} // namespace ferro::trace
