// Checks that ask for moves and nothing of a plan, so for programs from anywhere.
#include "geometry/measure.h"
#include "proof/checks_internal.h"

#include <set>

namespace ferro::proof {

using toolpath::Move;

/// Sideways a rapid stays at travel height; straight down it goes no deeper than a feed has been at that very
/// place, as between the pecks of a drill; and it never carries a beam.
void Checker::rapids() {
    double open = path.travel; // how deep it is open where the tool stands
    bool told = false;
    toolpath::forEachMove(
        onTray, [&](const toolpath::StepMoves& step, std::size_t i, toolpath::Vec3 from, const Move& move) {
            const bool sideways = ferro::distance(from.flat(), move.to.flat()) > 1e-9;
            if (move.kind != Move::Kind::rapid) {
                open = sideways ? move.to.z : std::min(open, move.to.z);
                return;
            }
            const bool low = !path.byBeam() && (sideways ? std::min(from.z, move.to.z) < path.travel - 1e-9
                                                         : move.to.z < std::min(open, path.travel) - 1e-9);
            if (sideways) open = path.travel;
            if (told || (!low && move.power <= 0)) return;
            auto& f = add(Verdict::noGo, "A rapid runs below the clearance height or with the beam on.",
                          "Do not run this program.");
            f.at = move.to.flat();
            f.step = step.step;
            f.move = placeOf(step, i);
            told = true;
        });
}

void Checker::bounds() {
    Box moves;
    double lowest = 0, highest = path.byBeam() ? 0 : path.travel;
    std::optional<Finding::Place> deepest;
    const auto& stock = job.sheet().stock;
    toolpath::forEachMove(onTray,
                          [&](const toolpath::StepMoves& step, std::size_t i, toolpath::Vec3 from, const Move& move) {
                              moves.take(ferro::boundsOf(from.flat(), move.flat()));
                              const bool follows = lie() && move.kind != Move::Kind::rapid;
                              const double z = move.to.z + (follows ? lie()->at(move.to.flat()) : 0);
                              if (z < lowest) lowest = z, deepest = placeOf(step, i);
                              highest = std::max(highest, z);
                          });
    Box all = moves;
    all.take(job::trayOf(job.sheet()));
    if (all.width() > job.machine.bedX + 1e-6 || all.height() > job.machine.bedY + 1e-6)
        add(Verdict::noGo,
            fmt::format("Stock and moves need {} × {}, the bed of “{}” is {} × {}.", mm(all.width()), mm(all.height()),
                        job.machine.name, mm(job.machine.bedX), mm(job.machine.bedY)),
            "Use smaller stock, move the pieces, or choose a larger machine.");
    if (highest - lowest > job.machine.travelZ)
        add(Verdict::noGo,
            fmt::format("The job needs {} of height travel, the machine has {}.", mm(highest - lowest),
                        mm(job.machine.travelZ)),
            "Use less clearance or thinner stock.");
    const double floor = -(stock.thickness + stock.spacer);
    if (!path.byBeam() && lowest < floor - 1e-9) {
        auto& f = add(Verdict::noGo, fmt::format("The deepest cut goes {} below the scrap board.", mm(floor - lowest)),
                      "Cut less deep, or put a spacer under the sheet.");
        f.move = deepest;
        for (const auto& step : job.plan.steps)
            if (const auto* depth = plan::depthIn(step);
                depth && depth->through && plan::bottomOf(*depth, stock.thickness) > -floor + 1e-9)
                setting(f, step.id, fmt::format("Extra below: {}", mm(stock.spacer)), "extra",
                        fmt::format("{} mm", stock.spacer));
    }
}

namespace {

/// How wide what turns is within `upTo` mm above a tool's lowest point: the cutter, its shank, what holds it.
double widestWithin(const shop::Tool& tool, const shop::Machine& machine, double upTo) {
    double radius = tool.radius();
    if (upTo > tool.fluteLength) radius = std::max(radius, tool.shankRadius());
    if (tool.stickOut > 0 && upTo > tool.stickOut) radius = std::max(radius, machine.holder / 2);
    return radius;
}

} // namespace

/// What is wider than the cutter stays above the stock.
void Checker::holders() {
    if (path.byBeam()) return;
    const Box sheet = job::sheetOf(job.sheet().stock);
    for (const auto& step : path.steps) {
        if (step.onBoard) continue; // no blank to meet
        const auto& tool = step.tool;
        double lowest = 0;
        Finding::Place where;
        Vec2 at;
        for (std::size_t i = 0; i < step.moves.size(); ++i) {
            const auto& move = step.moves[i];
            const double wide = widestWithin(tool, job.machine, -move.to.z);
            if (move.to.z >= lowest || wide <= tool.radius() || !sheet.grown(wide).contains(move.to.flat())) continue;
            lowest = move.to.z, where = placeOf(step, i), at = move.to.flat();
        }
        if (lowest >= 0) continue;
        const bool holder = tool.stickOut > 0 && -lowest > tool.stickOut;
        auto& f = add(
            Verdict::noGo,
            holder ? fmt::format("“{}” goes {} deep, but “{}” sticks out {}: its holder would meet the stock.",
                                 step.name, mm(-lowest), tool.name, mm(tool.stickOut))
                   : fmt::format("“{}” goes {} deep, but “{}” is {} wide above its {} of flutes: its shank would "
                                 "meet the stock.",
                                 step.name, mm(-lowest), tool.name, mm(2 * tool.shankRadius()), mm(tool.fluteLength)),
            holder ? "Set the tool farther out and say so in the shop book, or cut less deep."
                   : "Use a longer tool, or cut less deep.");
        f.step = step.step, f.at = at, f.move = where;
    }
}

void Checker::clamps() {
    if (path.byBeam()) return;
    std::set<std::size_t> said;
    toolpath::forEachMove(
        onTray, [&](const toolpath::StepMoves& step, std::size_t index, toolpath::Vec3 from, const Move& move) {
            if (step.onBoard) return; // clamps come with the blank
            for (std::size_t i = 0; i < job.sheet().clamps.size(); ++i) {
                const auto& clamp = job.sheet().clamps[i];
                if (said.contains(i) || std::min(from.z, move.to.z) >= clamp.height) continue;
                const double low = std::min(from.z, move.to.z);
                // A hair of room for runout.
                const double reach = widestWithin(step.tool, job.machine, clamp.height - low) + 1;
                const Box near = clamp.area.grown(reach);
                if (!near.meets(ferro::boundsOf(from.flat(), move.flat()))) continue;
                bool hit = false;
                Vec2 a = from.flat(), at = a;
                const auto& c = clamp.area;
                const Vec2 corners[4] = {c.low, {c.high.x, c.low.y}, c.high, {c.low.x, c.high.y}};
                const Ruler ruler(Path{a, {move.flat()}, false});
                const int parts = std::max(1, static_cast<int>(std::ceil(ruler.length() / 0.5)));
                for (int k = 1; k <= parts && !hit; ++k) {
                    const Vec2 b = ruler.at(ruler.length() * k / parts).point;
                    double far = c.contains(b) || c.contains(a) ? 0 : 1e9;
                    for (int e = 0; e < 4; ++e)
                        far = std::min(far, distanceBetween(a, b, corners[e], corners[(e + 1) % 4]));
                    if (far < reach) hit = true, at = b;
                    a = b;
                }
                if (!hit) continue;
                said.insert(i);
                const bool byHolder = reach > step.tool.radius() + 1;
                auto& f = add(Verdict::noGo,
                              byHolder ? fmt::format("“{}” runs into clamp {} with the shank or holder of “{}”.",
                                                     step.name, i + 1, step.tool.name)
                                       : fmt::format("“{}” runs into clamp {}.", step.name, i + 1),
                              byHolder ? "Move the clamp or the piece, or set the tool farther out."
                                       : "Move the clamp or the piece.");
                f.at = at;
                f.step = step.step;
                f.move = placeOf(step, index);
            }
        });
}

/// What is cut on one blank of a tray stays off the others, and what was measured is one of them.
void Checker::tray() {
    const auto& sheet = job.sheet();
    if (!sheet.tray) return;
    const auto& tray = *sheet.tray;
    Box cut;
    toolpath::forEachMove(
        path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from, const Move& move) {
            const bool cuts = path.byBeam() ? move.power > 0 : std::min(from.z, move.to.z) < 0;
            if (move.kind != Move::Kind::rapid && cuts)
                cut.take(ferro::boundsOf(from.flat(), move.flat())
                             .grown(widestWithin(step.tool, job.machine, -std::min(from.z, move.to.z))));
        });
    if (!cut.empty()) {
        const double aside = std::max(-cut.low.x, cut.high.x - sheet.stock.width);
        const double beyond = std::max(-cut.low.y, cut.high.y - sheet.stock.height);
        const bool inX = tray.columns > 1 && aside > tray.gapX + 1e-6, inY = tray.rows > 1 && beyond > tray.gapY + 1e-6;
        if (inX || inY)
            add(Verdict::noGo,
                fmt::format("What is cut on one blank reaches {} beyond it, and the next lies {} away.",
                            mm(inX ? aside : beyond), mm(inX ? tray.gapX : tray.gapY)),
                "Leave more between the blanks, or keep the cuts on them.");
    }
    if (lie()) {
        auto& f = add(Verdict::noGo, "How the blank lies was measured, of the others on the tray it is not known.",
                      "Hold them all flat and forget the measurement, or cut one at a time.");
        f.fix = Finding::Fix{"Forget the measurement", [](const job::Job& j) { return job::withLie(j, {}); }};
    }
}

/// A program for another kind of machine: a mill's heights and tools mean nothing to a beam, a beam's powers are speeds
/// to a spindle.
void Checker::process() {
    bool heights = false, cuts = false, powers = false;
    toolpath::forEachMove(path, [&](const toolpath::StepMoves&, std::size_t, toolpath::Vec3 from, const Move& move) {
        // A beam's head may go down between passes, dark; nothing else does.
        const bool focus = path.byBeam() && move.kind == Move::Kind::rapid;
        heights = heights || (!focus && std::abs(move.to.z - from.z) > 1e-6);
        cuts = cuts || move.kind != Move::Kind::rapid;
        powers = powers || move.power > 0;
    });
    const bool tools =
        std::any_of(path.steps.begin(), path.steps.end(), [](const auto& step) { return step.toolChange; });
    if (path.byBeam() && (heights || tools))
        add(Verdict::noGo, "This is a program for a mill: it has heights or tools, and the machine works by a beam.",
            "Write it for this machine, or choose the one it is for.");
    if (!path.byBeam() && cuts && !heights)
        add(Verdict::noGo,
            path.turns() ? "This is a program for a laser: it never moves up or down, and the machine has a spindle."
                         : "This is a program for a laser: it never moves up or down, and the machine has a blade.",
            "Write it for this machine, or choose the one it is for.");
    if (!job.machine.does(path.process))
        add(Verdict::noGo, fmt::format("“{}” does not work by {}.", job.machine.name, shop::nameOf(path.process)),
            "Choose the machine that the program is for.");
}

} // namespace ferro::proof
