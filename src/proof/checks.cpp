#include "base/quantity.h"
#include "geometry/measure.h"
#include "job/edits.h"
#include "proof/proof.h"

#include <set>

namespace ferro::proof {

namespace {

using toolpath::Move;

struct Checker {
    const job::Job& job;
    const toolpath::Toolpath& path;
    std::vector<Finding> found;

    Finding& add(Verdict verdict, std::string what, std::string mend) {
        auto& finding = found.emplace_back();
        finding.verdict = verdict;
        finding.what = std::move(what);
        finding.mend = std::move(mend);
        return finding;
    }
    void setting(Finding& finding, plan::StepId step, std::string label, std::string name, std::string value) {
        finding.step = step;
        finding.fix =
            Finding::Fix{std::move(label), [step, name = std::move(name), value = std::move(value)](const job::Job& j) {
                             return job::withStepSetting(j, step, name, value);
                         }};
    }

    [[nodiscard]] Finding::Place placeOf(const toolpath::StepMoves& step, std::size_t move) const {
        return {static_cast<std::size_t>(&step - path.steps.data()), move};
    }

    void snags() {
        for (const auto& snag : path.snags) {
            auto& f = add(snag.weight == toolpath::Snag::Weight::noGo   ? Verdict::noGo
                          : snag.weight == toolpath::Snag::Weight::look ? Verdict::look
                                                                        : Verdict::note,
                          snag.what, snag.mend);
            f.step = snag.step;
            f.item = snag.item;
            if (snag.item) f.at = snag.at;
            const auto* step = plan::find(job.plan, snag.step);
            if (!step || snag.weight != toolpath::Snag::Weight::noGo || step->kind != plan::StepKind::outline ||
                path.laser || !snag.item)
                continue;
            // A thinner end mill may do.
            const shop::Tool* thinner = nullptr;
            const auto* tool = job::toolOf(job, *step);
            for (const auto& t : job.tools)
                if (tool && t.kind == shop::ToolKind::endMill && t.diameter < tool->diameter &&
                    t.fluteLength >= plan::depthOf(*step, job.stock.thickness) &&
                    (!thinner || t.diameter > thinner->diameter))
                    thinner = &t;
            if (thinner) setting(f, snag.step, fmt::format("Use “{}”", thinner->name), "tool", thinner->key);
        }
    }

    /// Sideways a rapid stays at travel height; straight down it goes no deeper than a feed has been at that very
    /// place, as between the pecks of a drill; and it never carries a beam.
    void rapids() {
        double open = path.travel; // how deep it is open where the tool stands
        bool told = false;
        toolpath::forEachMove(
            path, [&](const toolpath::StepMoves& step, std::size_t i, toolpath::Vec3 from, const Move& move) {
                const bool sideways = ferro::distance(from.flat(), move.to.flat()) > 1e-9;
                if (move.kind != Move::Kind::rapid) {
                    open = sideways ? move.to.z : std::min(open, move.to.z);
                    return;
                }
                const bool low = !path.laser && (sideways ? std::min(from.z, move.to.z) < path.travel - 1e-9
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

    void bounds() {
        Box moves;
        double lowest = 0, highest = path.laser ? 0 : path.travel;
        std::optional<Finding::Place> deepest;
        const auto& stock = job.stock;
        toolpath::forEachMove(
            path, [&](const toolpath::StepMoves& step, std::size_t i, toolpath::Vec3 from, const Move& move) {
                moves.take(ferro::boundsOf(Path{from.flat(), {move.flat()}, false}));
                if (move.to.z < lowest) lowest = move.to.z, deepest = placeOf(step, i);
                highest = std::max(highest, move.to.z);
            });
        Box all = moves;
        all.take(Box{{0, 0}, {stock.width, stock.height}});
        if (all.width() > job.machine.bedX + 1e-6 || all.height() > job.machine.bedY + 1e-6)
            add(Verdict::noGo,
                fmt::format("Stock and moves need {} × {}, the bed of “{}” is {} × {}.", mm(all.width()),
                            mm(all.height()), job.machine.name, mm(job.machine.bedX), mm(job.machine.bedY)),
                "Use smaller stock, move the pieces, or choose a larger machine.");
        if (highest - lowest > job.machine.travelZ)
            add(Verdict::noGo,
                fmt::format("The job needs {} of height travel, the machine has {}.", mm(highest - lowest),
                            mm(job.machine.travelZ)),
                "Use less clearance or thinner stock.");
        const double floor = -(stock.thickness + stock.spacer);
        if (!path.laser && lowest < floor - 1e-9) {
            auto& f =
                add(Verdict::noGo, fmt::format("The deepest cut goes {} below the scrap board.", mm(floor - lowest)),
                    "Cut less deep, or put a spacer under the sheet.");
            f.move = deepest;
            for (const auto& step : job.plan.steps)
                if (step.through && plan::depthOf(step, stock.thickness) > -floor + 1e-9)
                    setting(f, step.id, fmt::format("Extra below: {}", mm(stock.spacer)), "extra",
                            fmt::format("{} mm", stock.spacer));
        }
    }

    void steps() {
        for (const auto& moves : path.steps) {
            const auto* step = plan::find(job.plan, moves.step);
            if (!step) continue;
            const double feed = step->kind == plan::StepKind::drill ? 0 : step->feed;
            if (feed > job.machine.maxFeed + 1e-9)
                setting(add(Verdict::look,
                            fmt::format("“{}” asks for {:.0f} mm/min, the machine does {:.0f}.", step->name, feed,
                                        job.machine.maxFeed),
                            "The machine will run slower than planned."),
                        step->id, "Use the machine's feed", "feed", fmt::format("{} mm", job.machine.maxFeed));
            if (!path.laser && step->plunge > job.machine.maxFeedZ + 1e-9)
                setting(add(Verdict::look,
                            fmt::format("“{}” plunges at {:.0f} mm/min, the machine does {:.0f}.", step->name,
                                        step->plunge, job.machine.maxFeedZ),
                            "The machine will run slower than planned."),
                        step->id, "Use the machine's feed", "plunge", fmt::format("{} mm", job.machine.maxFeedZ));
            if (!path.laser && (step->spindle < job.machine.minSpindle || step->spindle > job.machine.maxSpindle))
                setting(add(Verdict::noGo,
                            fmt::format("“{}” asks for {:.0f} rpm, the spindle does {:.0f} to {:.0f}.", step->name,
                                        step->spindle, job.machine.minSpindle, job.machine.maxSpindle),
                            "Choose a speed it has."),
                        step->id, "Use the nearest speed", "spindle",
                        fmt::format("{}", std::clamp(step->spindle, job.machine.minSpindle, job.machine.maxSpindle)));
            if (path.laser && step->power <= 0)
                add(Verdict::look, fmt::format("“{}” has no power: it marks nothing.", step->name), "Give it a power.")
                    .step = step->id;
            for (const auto& cut : moves.cuts)
                if (step->kind == plan::StepKind::outline && cut.role == plan::Role::openLines &&
                    step->side != plan::Side::on && step->side != plan::Side::automatic) {
                    auto& f = add(Verdict::look, "An open line has no inside or outside; it is cut on the line.",
                                  "Close it, or set the side to “on line”.");
                    f.step = step->id, f.item = cut.item, f.at = cut.centre.start;
                }
        }
        if (path.steps.empty())
            add(Verdict::noGo, "There is nothing to cut.", "Add a step in Cuts and let it take some pieces.");
    }

    void loose() {
        if (path.laser) return; // card and ply lie on the grid; nothing flings them
        for (const auto& moves : path.steps) {
            if (moves.kind != plan::StepKind::outline) continue;
            std::size_t count = 0;
            std::optional<Vec2> at;
            artwork::ItemId item;
            for (const auto& cut : moves.cuts)
                if (cut.through && cut.centre.closed && cut.tabs.empty()) {
                    if (!count++) at = cut.centre.start, item = cut.item;
                }
            const auto* step = plan::find(job.plan, moves.step);
            if (count == 0 || !step) continue;
            const bool snagged = std::any_of(path.snags.begin(), path.snags.end(), [&](const auto& snag) {
                return snag.step == moves.step && snag.item && snag.weight == toolpath::Snag::Weight::look;
            });
            if (step->hold == plan::Hold::tabs && snagged) continue; // said there already, outline by outline
            auto& f = add(Verdict::look,
                          fmt::format("{} {} loose while the cutter is at {}.", count,
                                      count == 1 ? "part comes" : "parts come", count == 1 ? "it" : "them"),
                          "Hold by tabs, or be sure that tape or vacuum holds.");
            f.at = at;
            f.item = item;
            setting(f, moves.step, "Hold by tabs", "hold", "tabs");
        }
    }

    void clamps() {
        if (path.laser) return;
        std::set<std::size_t> said;
        toolpath::forEachMove(
            path, [&](const toolpath::StepMoves& step, std::size_t index, toolpath::Vec3 from, const Move& move) {
                for (std::size_t i = 0; i < job.clamps.size(); ++i) {
                    const auto& clamp = job.clamps[i];
                    if (said.contains(i) || std::min(from.z, move.to.z) >= clamp.height) continue;
                    const double reach = step.tool.radius() + 1; // a hair of room for the holder's runout
                    const Box near = clamp.area.grown(reach);
                    if (!near.meets(ferro::boundsOf(Path{from.flat(), {move.flat()}, false}))) continue;
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
                    auto& f = add(Verdict::noGo, fmt::format("“{}” runs into clamp {}.", step.name, i + 1),
                                  "Move the clamp or the piece.");
                    f.at = at;
                    f.step = step.step;
                    f.move = placeOf(step, index);
                }
            });
    }

    void order() {
        // A part is free once its outer edge is through; from then on nothing inside it may be cut.
        const auto contours = plan::contoursOf(job.plan, *job.artwork);
        std::map<std::pair<artwork::ItemId, int>, std::size_t> indexOf;
        for (std::size_t i = 0; i < contours.size(); ++i) indexOf[{contours[i].item, contours[i].opening}] = i;
        std::set<std::size_t> freed;
        for (const auto& step : path.steps)
            for (const auto& cut : step.cuts) {
                const auto self = indexOf.find({cut.item, cut.opening});
                if (self == indexOf.end()) continue;
                for (int up = contours[self->second].parent; up >= 0;
                     up = contours[static_cast<std::size_t>(up)].parent)
                    if (freed.contains(static_cast<std::size_t>(up))) {
                        auto& f =
                            add(Verdict::noGo, fmt::format("“{}” cuts in a part that is already loose.", step.name),
                                "Cut what lies inside before the edge round it.");
                        f.step = step.step, f.item = cut.item, f.at = cut.centre.start;
                        f.fix =
                            Finding::Fix{"Order the steps automatically", [](const job::Job& j) -> Result<job::Job> {
                                             job::Job out = j;
                                             out.plan.order = plan::Order::automatic;
                                             return out;
                                         }};
                        return;
                    }
                if (cut.through && cut.centre.closed && step.kind == plan::StepKind::outline &&
                    cut.depth == contours[self->second].depth)
                    freed.insert(self->second);
            }
    }

    void pieces() {
        const Box sheet = job::sheetOf(job.stock);
        std::set<artwork::ItemId> cut;
        for (const auto& step : path.steps)
            for (const auto& c : step.cuts) cut.insert(c.item);
        std::size_t idle = 0, off = 0;
        const artwork::Item *firstIdle = nullptr, *firstOff = nullptr;
        for (const auto& item : job.artwork->items) {
            if (!artwork::shapeOf(item) || artwork::isHidden(*job.artwork, item) || artwork::isNote(*job.artwork, item))
                continue;
            if (!cut.contains(item.id))
                idle++ || (firstIdle = &item);
            else if (!sheet.grown(1e-6).contains(artwork::boundsOf(item)))
                off++ || (firstOff = &item);
        }
        if (off) {
            auto& f = add(Verdict::noGo,
                          fmt::format("{} {} beyond the stock.", off, off == 1 ? "piece reaches" : "pieces reach"),
                          "Move or scale them, or use larger stock.");
            f.item = firstOff->id, f.at = artwork::boundsOf(*firstOff).centre();
        }
        if (idle && !path.steps.empty()) {
            auto& f =
                add(Verdict::note, fmt::format("{} {} taken by no step.", idle, idle == 1 ? "piece is" : "pieces are"),
                    "Give them to a step if they should be cut.");
            f.item = firstIdle->id, f.at = artwork::boundsOf(*firstIdle).centre();
        }
    }

    void edges(const Deviation& deviation) {
        if (deviation.cutInto > 0.01) {
            auto& f = add(Verdict::noGo, fmt::format("A part is cut into by {:.3f} mm.", deviation.cutInto),
                          "Move the pieces apart or use a thinner tool.");
            f.at = deviation.cutIntoAt;
        }
        if (deviation.unreachedArea >= 0.5) {
            auto& f = add(Verdict::look,
                          fmt::format("{:.2f} cm² in {} {} not reached by the tool.", deviation.unreachedArea / 100,
                                      deviation.unreachedPlaces,
                                      deviation.unreachedPlaces == 1 ? "corner is" : "corners are"),
                          "Corners stay round; finish them with a thinner tool if that matters.");
            f.at = deviation.unreachedAt;
        }
    }
};

std::vector<Finding> worstFirst(std::vector<Finding> findings) {
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.verdict > b.verdict; });
    return findings;
}

} // namespace

std::vector<Finding> findingsOf(const job::Job& job, const toolpath::Toolpath& path, const Deviation& deviation) {
    Checker check{job, path, {}};
    check.snags();
    check.rapids();
    check.bounds();
    check.steps();
    check.clamps();
    check.order();
    check.pieces();
    check.edges(deviation);
    check.loose();
    return worstFirst(std::move(check.found));
}

std::vector<Finding> findingsOfMoves(const job::Job& job, const toolpath::Toolpath& path) {
    Checker check{job, path, {}};
    check.rapids();
    check.bounds();
    check.clamps();
    return worstFirst(std::move(check.found));
}

} // namespace ferro::proof
