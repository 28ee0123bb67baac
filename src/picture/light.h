#pragma once

#include "picture/picture.h"

namespace ferro::picture {

/// The light that falls on a picture's paper, block by block, as the grey of the paper there.
struct Light {
    int block = 1;             ///< px, the side of a block
    int width = 0, height = 0; ///< blocks
    std::vector<float> values; ///< above 0
    double evenness = 1;       ///< 0 to 1: the darkest twentieth of the paper against its lightest
    [[nodiscard]] float at(int x, int y) const {
        return values[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
};

/// Estimated from paper alone. Paper is what the lightest place leads to without a step down by more than light makes
/// one; inside ink, however wide, the light goes on as the ink's own shading says, tied to the paper all round
/// (gradients of the logarithm kept, Horn 1974; solved by successive over-relaxation). `widest` px: ink is never wider;
/// what is wider and dark lies in a shadow. 0: as wide as it may be.
[[nodiscard]] Light lightOf(const Grey& grey, double widest = 0);

} // namespace ferro::picture
