#pragma once

#include "job/job.h"

#include <span>

namespace ferro::job {

/// Printed marks (need CU16): round pieces on the layer “marks”, which is notes, so that nothing cuts them. What is
/// printed with them is cut where they are found.
inline constexpr std::string_view marksLayer = "marks";

struct Mark {
    artwork::ItemId item;
    Vec2 at;           ///< on the sheet
    double radius = 0; ///< mm
};
/// Those of the sheet at hand, in drawing order: round ones, or such as a correction has stretched.
[[nodiscard]] std::vector<Mark> marksOf(const Job& job);

struct MarksWish {
    double diameter = 5;  ///< mm, 2 to 20
    double gap = 6;       ///< mm from what lies on the sheet to a mark's edge, 0 to 100
    double spacing = 150; ///< mm between marks along an edge at most, 20 or more
};
/// Marks round all that lies on the sheet at hand, instead of those that there are: at the corners, between them where
/// they are far apart, and one more beside the lower left so that paper put down the other way round is noticed. A
/// problem when they do not go onto the sheet, or nothing lies there.
[[nodiscard]] Result<Job> withMarks(const Job& job, const MarksWish& wish);

/// How what was found differs from what is drawn.
struct Correction {
    Transform map;
    std::vector<double> off; ///< mm of each mark that was found, after it, in their order
    Vec2 shift;              ///< of the middle of the marks, mm
    double turn = 0;         ///< radians, counter-clockwise
    double wider = 1, higher = 1;
    double skew = 0; ///< radians that the upright leans to the left
    double worst = 0;
};
/// From where each mark of `marksOf` was found, none: not. A problem when fewer than two were, when sizes are off by
/// more than 6 %, or when a mark is off by more than `most` mm after all: then one of them is not what it is taken for.
[[nodiscard]] Result<Correction> correctionBy(const Job& job, std::span<const std::optional<Vec2>> found,
                                              double most = 0.5);
/// All that lies on the sheet at hand, locked and hidden too, to where it is.
[[nodiscard]] Result<Job> withCorrection(const Job& job, const Correction& correction);

} // namespace ferro::job
