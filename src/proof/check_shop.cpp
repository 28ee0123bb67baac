// What a shop would ask about before it cuts: passes, tabs, sides, holes that do not match.
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"
#include "plan/fields.h"
#include "proof/checks_internal.h"

#include <map>

namespace ferro::proof {

void Checker::depths() {
    if (path.byBeam()) return;
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        const auto* depth = step ? plan::depthIn(*step) : nullptr;
        const auto* field = step ? plan::fieldNamed(plan::kindOf(*step), "depthPerPass") : nullptr;
        if (!depth || !field) continue;
        const auto reached = plan::passDepths(*depth, job.sheet().stock.thickness);
        if (reached.empty()) continue;
        const double whole = reached.back() - depth->start;
        const double book = plan::bookValue(
            *field, *step, {moves.tool, job::materialOf(job), job.machine, job.sheet().stock.thickness});
        // The last pass may be one that a hair more depth would save.
        const double saved = reached.size() > 1 ? whole / static_cast<double>(reached.size() - 1) : 0;
        const auto asMuch = [](double value) { return fmt::format("{} mm", std::ceil(value * 1000 - 1e-6) / 1000); };
        if (saved > 0 && saved <= depth->perPass * 1.12 && saved <= book * 1.12)
            setting(add(Verdict::note,
                        fmt::format("“{}” needs {} passes: {} at {} is more than {}.", step->name, reached.size(),
                                    mm(whole), mm(depth->perPass), reached.size() - 1),
                        "A little more depth per pass saves one."),
                    step->id, fmt::format("Depth per pass: {}", asMuch(saved)), "depthPerPass", asMuch(saved));
        const double pass = whole / static_cast<double>(reached.size());
        if (pass > 1.5 * book + 1e-9)
            setting(add(Verdict::look,
                        fmt::format("“{}” takes {} a pass; “{}” should take {} in this material.", step->name, mm(pass),
                                    moves.tool.name, mm(book)),
                        "It may break or scorch."),
                    step->id, fmt::format("Depth per pass: {}", mm(book)), "depthPerPass", fmt::format("{} mm", book));
    }
}

void Checker::tabs() {
    // Where tools go below the highest of the tabs, to see whether another cut takes one away.
    struct Low {
        Vec2 from;
        Segment way;
        double z, radius;
    };
    std::vector<Low> low;
    std::vector<Box> boxes;
    double highest = -1e300, widest = 0;
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            if (!cut.tabs.empty()) highest = std::max(highest, cut.tabTop);
    if (highest > -1e300)
        toolpath::forEachMove(
            path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
                const double z = path.byBeam() ? (move.power > 0 ? -1e9 : 1) : std::min(from.z, move.to.z);
                if (move.kind == toolpath::Move::Kind::rapid || z >= std::min(0.0, highest)) return;
                low.push_back({from.flat(), move.flat(), z, step.tool.radius()});
                boxes.push_back(boundsOf(from.flat(), move.flat()));
                widest = std::max(widest, step.tool.radius());
            });
    const SpatialIndex index(boxes);
    for (const auto& step : path.steps) {
        const auto* source = plan::find(job.plan, step.step);
        bool asHigh = false, told = false;
        for (const auto& cut : step.cuts) {
            asHigh = asHigh || (!cut.tabs.empty() && !path.byBeam() && cut.tabTop > -0.05);
            const Ruler ruler(cut.centre);
            for (const double tab : cut.tabs) {
                // A tenth of its width at each end is left to rounding and bends.
                const double half = 0.4 * cut.tabWidth;
                const Vec2 a = ruler.at(tab - half).point, b = ruler.at(tab + half).point;
                const Box near = boundsOf(a, Segment::line(b)).grown(widest);
                bool gone = false;
                for (const std::size_t k : index.meeting(near))
                    gone = gone || (low[k].z < cut.tabTop - 0.01 &&
                                    approachOf(low[k].from, low[k].way, a, b).apart < low[k].radius - 0.01);
                if (!gone || std::exchange(told, true)) continue;
                auto& f = add(Verdict::look, fmt::format("A tab of “{}” is cut away by another cut.", step.name),
                              "Move the tab, or the pieces apart.");
                f.step = step.step, f.item = cut.intent.item, f.at = ruler.at(tab).point;
            }
        }
        if (asHigh && source)
            setting(add(Verdict::look,
                        fmt::format("The tabs of “{}” are as high as the stock: nothing is cut there.", step.name),
                        "Make them lower."),
                    step.step, "Half the stock's thickness", "tabHeight",
                    fmt::format("{} mm", job.sheet().stock.thickness / 2));
        const auto* hold = source ? plan::choiceNamed(plan::kindOf(*source), "hold") : nullptr;
        const bool frees =
            std::any_of(step.cuts.begin(), step.cuts.end(), [](const auto& c) { return c.intent.frees; });
        if (hold && hold->words[static_cast<std::size_t>(hold->get(*source))] == "tabs" && !frees && !step.cuts.empty())
            setting(add(Verdict::note, fmt::format("“{}” frees nothing, so it leaves no tabs.", step.name),
                        "Hold by none, or go through."),
                    step.step, "Hold by none", "hold", "none");
    }
}

void Checker::sides() {
    for (const auto& step : path.steps) {
        if (!step.kind || step.kind->takes != plan::Takes::outlines) continue; // an area has no side to be chosen
        std::size_t count = 0;
        const toolpath::Cut* first = nullptr;
        for (const auto& cut : step.cuts)
            if (cut.intent.role == plan::Role::openings && cut.intent.side == plan::Side::outside)
                count++ || (first = &cut);
        if (!count) continue;
        auto& f = add(Verdict::look,
                      fmt::format("“{}” cuts {} on the outside: {} the tool's width.", step.name,
                                  counted(count, "opening", "openings"), count == 1 ? "it grows by" : "they grow by"),
                      "Let the side be found by nesting, unless the inside is the part.");
        f.item = first->intent.item, f.at = first->centre.start;
        setting(f, step.step, "Side: auto", "side", "auto");
    }
}

void Checker::takenTwice() {
    if (!path.pieces) return;
    for (std::size_t s = 0; s < job.plan.steps.size(); ++s) {
        const auto& lines = job.plan.steps[s];
        if (!lines.enabled || !plan::kindOf(lines).decorates || !lines.rule.items.empty()) continue;
        if (plan::kindOf(lines).takes == plan::Takes::areas) continue; // what is shaded is often cut out too
        for (std::size_t o = 0; o < job.plan.steps.size(); ++o) {
            const auto& cuts = job.plan.steps[o];
            if (!cuts.enabled || !plan::kindOf(cuts).freesParts) continue;
            std::vector<std::size_t> both;
            std::set_intersection(path.pieces->taken[s].begin(), path.pieces->taken[s].end(),
                                  path.pieces->taken[o].begin(), path.pieces->taken[o].end(), std::back_inserter(both));
            if (both.empty()) continue;
            auto& f = add(Verdict::look,
                          fmt::format("“{}” also follows {} that “{}” cuts.", lines.name,
                                      counted(both.size(), "outline", "outlines"), cuts.name),
                          "Give it layers of its own, or open lines only.");
            const auto& contour = path.pieces->contours[both.front()];
            f.item = contour.item, f.at = boundsOf(contour.path).centre();
            setting(f, lines.id, "Open lines only", "role", "open lines");
        }
    }
}

void Checker::tops() {
    if (!path.pieces) return;
    const auto& contours = path.pieces->contours;
    for (const auto& clears : path.steps) {
        if (!clears.kind || clears.kind->takes != plan::Takes::areas || !clears.kind->protectsParts) continue;
        Rings area;
        for (const auto& cut : clears.cuts) area.insert(area.end(), cut.intent.area.begin(), cut.intent.area.end());
        if (area.empty()) continue;
        std::map<std::string, std::vector<const toolpath::Cut*>> parts; // by the step that cuts them out
        for (const auto& step : path.steps)
            for (const auto& cut : step.cuts) {
                if (!cut.intent.frees || cut.intent.side != plan::Side::outside || !cut.intent.contour) continue;
                const auto& edge = contours[*cut.intent.contour].path;
                // A little way into the part, all round it: outer edges have it on their left, openings on their right.
                // An area that is open to its edge takes some of its top only.
                const double inwards = areaOf(edge) > 0 ? 0.1 : -0.1;
                bool all = true;
                for (std::size_t k = 0; k < edge.segments.size() && all; ++k) {
                    const Vec2 at = pointAt(edge.from(k), edge.segments[k], 0.5),
                               along = tangentAt(edge.from(k), edge.segments[k], 0.5);
                    all = contains(area, at + perpendicular(along) * inwards);
                }
                if (all) parts[step.name].push_back(&cut);
            }
        for (const auto& [name, cuts] : parts) {
            auto& f =
                add(Verdict::look,
                    fmt::format("“{}” clears the top of {} that “{}” cuts out.", clears.name,
                                counted(cuts.size(), "part", "parts"), name),
                    "Let it take them too, so that they stand as islands, if they are to be as thick as the stock.");
            f.step = clears.step, f.item = cuts.front()->intent.item, f.at = cuts.front()->centre.start;
        }
    }
}

void Checker::holes() {
    if (!path.pieces) return;
    for (const auto& step : path.steps) {
        if (!step.kind || step.kind->takes != plan::Takes::circles) continue;
        std::map<long, std::vector<const toolpath::Cut*>> odd; // by the hole's diameter in µm
        for (const auto& cut : step.cuts) {
            const auto& circle = path.pieces->contours[*cut.intent.contour].circle;
            const double hole = circle ? 2 * circle->radius : 0;
            if (cut.intent.beside()) continue; // bored to its size
            if (hole > 0 && std::abs(hole - step.tool.diameter) > 0.1) odd[std::lround(hole * 1000)].push_back(&cut);
        }
        for (const auto& [size, cuts] : odd) {
            const double hole = static_cast<double>(size) / 1000;
            auto& f = add(hole < step.tool.diameter ? Verdict::noGo : Verdict::look,
                          cuts.size() == 1 ? fmt::format("“{}” makes {}, the hole is {}.", step.tool.name,
                                                         mm(step.tool.diameter), mm(hole))
                                           : fmt::format("“{}” makes {}, {} holes are {}.", step.tool.name,
                                                         mm(step.tool.diameter), cuts.size(), mm(hole)),
                          "Choose a drill of the hole's size, or cut it as an opening.");
            f.step = step.step, f.item = cuts.front()->intent.item, f.at = cuts.front()->centre.start;
            const bool all = cuts.size() == step.cuts.size();
            const auto fits = std::find_if(job.tools.begin(), job.tools.end(), [&](const shop::Tool& tool) {
                return std::find(step.kind->tools.begin(), step.kind->tools.end(), tool.kind) !=
                           step.kind->tools.end() &&
                       std::abs(tool.diameter - hole) <= 0.1 && tool.fluteLength >= cuts.front()->intent.bottom;
            });
            if (all && fits != job.tools.end())
                setting(f, step.step, fmt::format("Use “{}”", fits->name), "tool", fits->key);
        }
    }
}

} // namespace ferro::proof
