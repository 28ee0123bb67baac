#pragma once

#include "base/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace ferro {

/// One instruction of HPGL: two letters, and numbers behind it.
struct HpglWord {
    std::string code; ///< in capitals
    std::vector<double> numbers;
    std::string label;    ///< what LB writes, and what PE has encoded
    std::size_t line = 1; ///< where it begins
};
/// The instructions of a plotter's file, in order. Letters of either case; numbers parted by commas or spaces; `;` or
/// the next letter ends one; labels end with the character that DT names (usually 3). Escape sequences of devices are
/// passed over. What is no such text is a problem with its line.
[[nodiscard]] Result<std::vector<HpglWord>> hpglFrom(std::string_view text);

} // namespace ferro
