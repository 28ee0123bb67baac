#include "toolpath/moves.h"

namespace ferro::toolpath {

void shift(StepMoves& step, Vec2 by) {
    const auto moved = Transform::moved(by);
    for (auto& move : step.moves) {
        move.to = {move.to.x + by.x, move.to.y + by.y, move.to.z};
        if (move.kind == Move::Kind::arc) move.centre = move.centre + by;
    }
    for (auto& hole : step.drillings) hole.at = hole.at + by;
    for (auto& cut : step.cuts) {
        cut.centre = transformed(cut.centre, moved);
        for (auto& [from, to] : cut.intent.reliefs) from = from + by, to = to + by;
        for (auto& ring : cut.intent.area)
            for (Vec2& p : ring) p = p + by;
    }
}

Toolpath onFirstBlank(const Toolpath& path) {
    Toolpath first;
    first.process = path.process, first.travel = path.travel, first.start = path.start;
    std::copy_if(path.steps.begin(), path.steps.end(), std::back_inserter(first.steps),
                 [](const StepMoves& step) { return step.blank <= 1; });
    first.snags = path.snags;
    first.pieces = path.pieces;
    return first;
}

} // namespace ferro::toolpath
