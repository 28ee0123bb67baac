// Outlines of parts that have a cut in common.
#include "toolpath/outline_internal.h"
#include "toolpath/shared_edges_internal.h"

#include <map>

namespace ferro::toolpath {

SharedOutlines sharedOutlines(const StepWork& work, const plan::Outline& outline) {
    SharedOutlines out;
    const auto snag = [&](Verdict verdict, std::string what, std::string mend) {
        out.planned.snags.push_back({verdict, work.step.id, {}, {}, std::move(what), std::move(mend)});
    };
    const bool held = outline.hold != plan::Hold::none || outline.skinUnder > 0;
    if (held || outline.allowance != 0 || outline.finish > 0 || outline.relief != plan::Relief::none) {
        snag(Verdict::look,
             "Edges of two parts are cut once only where they are held by nothing, without allowance, finish pass and "
             "corner relief: they are cut twice.",
             "Hold by none, or let them be cut twice.");
        return out;
    }
    std::map<int, std::vector<WayRound>> ways; // by how deep they lie in others
    for (const auto c : work.taken) {
        const auto& contour = work.contours[c];
        if (contour.role != plan::Role::outerEdges || // which are closed
            sideOn(contour, outline.side) != plan::Side::outside)
            continue;
        auto loops = centres(work, contour, plan::Side::outside, work.tool.radius());
        if (loops && loops->size() == 1) ways[contour.depth].emplace_back(c, std::move(loops->front()));
    }
    const auto follow = [&](Path path) {
        return Follow{.centre = std::move(path),
                      .tabs = {},
                      .depth = outline.depth,
                      .rates = outline.rates,
                      .beam = outline.beam,
                      .entry = outline.entry,
                      .rampAngle = outline.rampAngle};
    };
    const auto intentFor = [&](std::size_t c, bool frees) {
        Intent intent = intentOn(work, work.contours[c]);
        intent.side = plan::Side::outside;
        intent.frees = intent.frees && frees;
        return intent;
    };
    const auto chained = [](std::vector<Task> tasks) {
        Task whole = std::move(tasks.front());
        whole.then.assign(std::make_move_iterator(tasks.begin() + 1), std::make_move_iterator(tasks.end()));
        whole.exit = whole.then.empty() ? whole.exit : whole.then.back().exit;
        return whole;
    };
    std::size_t lines = 0;
    for (const auto& [depth, round] : ways) {
        auto edges = sharedEdges(round, work.tool.diameter, work.keepout);
        if (!edges) {
            snag(Verdict::look, edges.problem().what, "Edges of two parts are cut twice.");
            continue;
        }
        if (edges->lines.empty()) continue;
        lines += edges->lines.size();
        std::vector<Task> first;
        Vec2 at = edges->lines.front().from;
        while (!edges->lines.empty()) { // nearest next, either way round
            auto best = edges->lines.begin();
            double near = std::numeric_limits<double>::infinity();
            bool turned = false;
            for (auto line = edges->lines.begin(); line != edges->lines.end(); ++line)
                for (const bool turn : {false, true})
                    if (const double d = distance(at, turn ? line->to : line->from); d < near - 1e-9)
                        near = d, best = line, turned = turn;
            const Vec2 from = turned ? best->to : best->from, to = turned ? best->from : best->to;
            first.push_back(followed(work, intentFor(best->contours.front(), false), 0,
                                     follow({from, {Segment::line(to)}, false})));
            at = to;
            edges->lines.erase(best);
        }
        const double last = at.x; // a part that has nothing left of its own is loose when the lines are done
        for (const auto& part : edges->parts) {
            out.contours.insert(part.contour);
            if (!part.rest.empty()) continue;
            Task loose;
            loose.intent = intentFor(part.contour, true);
            loose.centre = {{last, at.y}, {}, false};
            loose.entry = loose.exit = at;
            first.push_back(std::move(loose));
        }
        out.planned.tasks.push_back(chained(std::move(first)));
        for (auto& part : edges->parts) {
            if (part.rest.empty()) continue;
            std::vector<Task> tasks;
            for (auto& run : part.rest)
                tasks.push_back(followed(work, intentFor(part.contour, &run == &part.rest.back()),
                                         work.contours[part.contour].size, follow(std::move(run))));
            out.planned.tasks.push_back(chained(std::move(tasks)));
        }
    }
    if (lines > 0 && !work.byBeam())
        snag(Verdict::note, "What two parts have in common is cut as lines: to and fro, and without leads.",
             "Let edges be cut twice where the side or the lead matters.");
    if (lines > 0 && std::any_of(outline.starts.begin(), outline.starts.end(), [&](const plan::EdgePlace& start) {
            return std::any_of(out.contours.begin(), out.contours.end(), [&](std::size_t c) {
                return work.contours[c].item == start.item && work.contours[c].opening == start.opening;
            });
        }))
        snag(Verdict::look, "Parts that have a cut in common do not begin where their starts were placed.",
             "Let edges be cut twice, or give the starts back.");
    if (lines == 0)
        snag(Verdict::note,
             fmt::format("No two parts have straight edges {} apart: none is cut once for both.",
                         mm(work.tool.diameter)),
             "Lay the parts out as far apart as the tool is wide.");
    return out;
}

} // namespace ferro::toolpath
