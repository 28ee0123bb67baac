#pragma once

#include "plan/kind.h"

namespace ferro::plan {

/// One outline of one item where it lies on the sheet, with what nesting makes of it.
struct Contour {
    artwork::ItemId item;
    int opening = -1; ///< which opening of the item; -1: its outline
    std::string layer;
    Path path;                    ///< on the sheet; outer edges counter-clockwise, openings clockwise
    int depth = 0;                ///< how many outlines lie round it
    Role role = Role::outerEdges; ///< openings, outerEdges or openLines
    double size = 0;              ///< mm, longer side
    int parent = -1;              ///< index of the smallest contour round it
    bool inSheet = false;         ///< it falls out of a plate that is the sheet itself: one more lies round it
    Path drawn = {};              ///< as it was drawn, where the outline of an open area was carried on; else empty
    std::optional<Circle> circle; ///< when it is one, within 0.02 mm; radius 0 for a point
};

/// Whether an outline is one of those that are meant.
[[nodiscard]] bool fits(const Match& match, const Contour& contour);

/// All visible outlines of the artwork in drawing order. Nesting counts across items: a circle drawn inside a panel is
/// an opening of it. Layers that only scribe steps take are decoration and do not count in the nesting of the others.
/// On layers where areas were bridged that fall out, the sheet counts as the plate round what has no other.
[[nodiscard]] std::vector<Contour> contoursOf(const Plan& plan, const artwork::Artwork& artwork);

/// Which contours each step takes (indices, ascending), in the plan's order. Drills take points and the circles that
/// fit the tool, or all circles of the layers or items that the rule names; outlines leave what an enabled drill takes.
[[nodiscard]] std::vector<std::vector<std::size_t>> takenBy(const Plan& plan, const std::vector<Contour>& contours,
                                                            const std::vector<shop::Tool>& tools);

/// Pictures that a step takes which takes such: in sight on the sheet, not yet traced.
[[nodiscard]] std::vector<artwork::ItemId> picturesOf(const Step& step, const artwork::Artwork& artwork);

/// What follows from plan and drawing before any move: made once, shared by planning, checks and bench.
struct Pieces {
    std::vector<Contour> contours;
    std::vector<std::vector<std::size_t>> taken; ///< by step, in the plan's order

    [[nodiscard]] const Contour* find(artwork::ItemId item, int opening) const;
    [[nodiscard]] std::size_t indexOf(artwork::ItemId item, int opening) const; ///< contours.size(): there is none
};
[[nodiscard]] Pieces piecesOf(const Plan& plan, const artwork::Artwork& artwork, const std::vector<shop::Tool>& tools);

/// * for any run of characters; letters of either case.
[[nodiscard]] bool matches(std::string_view pattern, std::string_view name);

} // namespace ferro::plan
