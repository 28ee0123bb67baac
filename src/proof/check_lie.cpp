#include "plan/fields.h"
#include "plan/kinds/outline.h"
#include "proof/checks_internal.h"

namespace ferro::proof {

using toolpath::Move;

const job::Lie* Checker::lie() const {
    // A program from elsewhere says itself how deep it goes.
    return path.pieces && !path.byBeam() && job.sheet().lie ? &*job.sheet().lie : nullptr;
}

namespace {

/// The cut that goes furthest beyond where the blank was measured.
struct Beyond {
    double far = 0;
    const toolpath::StepMoves* step = nullptr;
    std::size_t move = 0;
};
Beyond furthestBeyond(const toolpath::Toolpath& path, const job::Lie& lie) {
    Beyond out;
    toolpath::forEachMove(path, [&](const auto& step, std::size_t i, toolpath::Vec3, const Move& move) {
        if (move.kind == Move::Kind::rapid || move.to.z >= 0 || step.onBoard) return;
        if (const double far = lie.beyond(move.to.flat()); far > out.far) out = {far, &step, i};
    });
    return out;
}

} // namespace

/// How the blank lies, or what it may: whether depths can be trusted.
void Checker::uneven() {
    if (path.byBeam()) return;
    const auto& stock = job.sheet().stock;
    if (const auto* measured = lie()) {
        add(Verdict::note,
            fmt::format("The blank's top was measured from {} to {} of its zero; depths follow it.",
                        mm(measured->lowest()), mm(measured->highest())),
            "Measure it again if it was moved.");
        if (const auto beyond = furthestBeyond(path, *measured); beyond.far > 10) {
            auto& f = add(Verdict::look,
                          fmt::format("“{}” cuts up to {} beyond where the blank was measured; there the nearest "
                                      "height counts.",
                                      beyond.step->name, mm(beyond.far)),
                          "Measure the blank as far as it is cut.");
            f.step = beyond.step->step;
            f.move = placeOf(*beyond.step, beyond.move);
        }
        return;
    }
    if (stock.uneven <= 0) return;
    const std::string by = mm(stock.uneven);
    if (job.plan.clearance <= stock.uneven)
        add(Verdict::noGo,
            fmt::format("Rapids pass {} above the stock, which may be {} higher than at its zero.",
                        mm(job.plan.clearance), by),
            "Give more clearance, or measure how the blank lies.");
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        const auto* depth = step ? plan::depthIn(*step) : nullptr;
        if (!depth || moves.onBoard) continue;
        const auto* outline = plan::as<plan::Outline>(*step);
        const auto tell = [&](std::string what, std::string mend) -> Finding& {
            auto& f = add(Verdict::look, std::move(what), std::move(mend));
            f.step = step->id;
            return f;
        };
        const bool all = outline && outline->hold == plan::Hold::skin;
        const bool skins = depth->through && outline && (all || outline->skinUnder > 0);
        if (skins && outline->skin <= stock.uneven) {
            auto& f = tell(fmt::format("A skin of {} on a blank that is uneven by {}: “{}” may cut through it.",
                                       mm(outline->skin), by, step->name),
                           "Leave a thicker skin, or measure how the blank lies.");
            setting(f, step->id, fmt::format("Skin: {}", mm(stock.uneven + 0.2)), "skin",
                    fmt::format("{} mm", stock.uneven + 0.2));
        }
        if (depth->through && !all && depth->extra < stock.uneven - 1e-9) {
            auto& f = tell(fmt::format("“{}” goes {} below the blank, which is uneven by {}: it may not come through "
                                       "everywhere.",
                                       step->name, mm(depth->extra), by),
                           "Go as much deeper, or measure how the blank lies.");
            setting(f, step->id, fmt::format("Extra below: {}", by), "extra", fmt::format("{} mm", stock.uneven));
        } else if (!depth->through && depth->depth < 2 * stock.uneven) {
            tell(fmt::format("“{}” is {} deep on a blank that is uneven by {}: it may be twice as deep in one "
                             "place and hardly there in another.",
                             step->name, mm(depth->depth), by),
                 "Measure how the blank lies, or hold it flat.");
        }
    }
}

} // namespace ferro::proof
