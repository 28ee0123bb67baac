#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

enum class SkimOver { stock, pieces };
enum class SkimAlong { width, height };

/// Faces the stock, or the areas of pieces, in level lines side by side.
struct Skim {
    Depth depth;
    Rates rates;
    SkimOver over = SkimOver::stock;
    SkimAlong along = SkimAlong::width; ///< of the stock: the lines' direction
    Direction direction = Direction::climb;
    bool bothWays = true;
    double overlap = 40; ///< % of the tool's width that a line goes over the one before
    double beyond = 2;   ///< mm that the tool's edge goes over the border

    static const Kind& kind();
    friend bool operator==(const Skim&, const Skim&) = default;
};

} // namespace ferro::plan
