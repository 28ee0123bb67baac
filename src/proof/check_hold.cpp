// What may break or fly off, and what was never tried: of tools, tabs and the parts themselves.
#include "base/kept.h"
#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"
#include "plan/fields.h"
#include "proof/checks_internal.h"

#include <map>
#include <set>
#include <span>

namespace ferro::proof {

namespace {

/// The edges of one part as short stretches, to find where two come near to each other across it.
class Edges {
public:
    struct Stretch {
        std::size_t path;
        Vec2 a, b;
        double along; ///< mm from the path's start to `a`
        [[nodiscard]] Vec2 middle() const { return lerp(a, b, 0.5); }
    };
    explicit Edges(std::span<const Path* const> paths) {
        std::vector<Box> boxes;
        for (std::size_t p = 0; p < paths.size(); ++p) {
            const Ring ring = flattened(*paths[p], 0.05);
            double along = 0;
            for (std::size_t i = 0; i < ring.size(); ++i) {
                const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
                const double whole = distance(a, b);
                const int parts = std::max(1, static_cast<int>(std::ceil(whole / longest)));
                for (int k = 0; k < parts && whole > 0; ++k) {
                    const auto& s = stretches_.emplace_back(Stretch{p, lerp(a, b, static_cast<double>(k) / parts),
                                                                    lerp(a, b, static_cast<double>(k + 1) / parts),
                                                                    along + whole * k / parts});
                    boxes.push_back(boundsOf(s.a, Segment::line(s.b)));
                }
                along += whole;
            }
            lengths_.push_back(along);
        }
        index_.emplace(boxes);
    }
    [[nodiscard]] const std::vector<Stretch>& stretches() const { return stretches_; }
    /// How far it is across the material, from the middle of a stretch to the nearest edge on its left, if that is
    /// nearer than `most`.
    [[nodiscard]] std::optional<double> across(const Stretch& from, double most) const {
        const Vec2 at = from.middle(), left = perpendicular(unit(from.b - from.a));
        std::optional<double> least;
        for (const auto i : index_->meeting(Box{at, at}.grown(most))) {
            const auto& other = stretches_[i];
            if (other.path == from.path) {
                // Round a corner an edge is always near to itself.
                const double gap = std::abs(other.along - from.along), whole = lengths_[from.path];
                if (std::min(gap, whole - gap) < around * most) continue;
            }
            const Vec2 way = other.b - other.a;
            const Vec2 p = other.a + way * std::clamp(dot(at - other.a, way) / dot(way, way), 0.0, 1.0);
            const double off = distance(at, p);
            if (off >= most || dot(p - at, left) < 0.7 * off) continue;
            least = std::min(least.value_or(most), distanceBetween(from.a, from.b, other.a, other.b));
        }
        return least;
    }

private:
    static constexpr double longest = 1; ///< mm
    static constexpr double around = 6;  ///< times the width, along the edge
    std::vector<Stretch> stretches_;
    std::vector<double> lengths_; ///< of each path
    std::optional<SpatialIndex> index_;
};

/// The thinnest place of a part with these edges, if it is thinner than `least`, and whose edge it is at.
struct Thin {
    double width;
    Vec2 at;
    std::size_t path;
};
std::optional<Thin> thinnest(std::span<const Path* const> paths, double least) {
    const Edges edges(paths);
    std::optional<Thin> thin;
    for (const auto& s : edges.stretches())
        if (const auto width = edges.across(s, least); width && !(thin && thin->width <= *width))
            thin = Thin{*width, s.middle(), s.path};
    return thin;
}

} // namespace

void Checker::chips() {
    if (!path.turns()) return;
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        const auto* rates = step ? plan::ratesIn(*step) : nullptr;
        const auto* field = step ? plan::fieldNamed(plan::kindOf(*step), "feed") : nullptr;
        if (!rates || !field || rates->spindle <= 0 || moves.tool.flutes < 1) continue;
        const plan::Beginning here{moves.tool, job::materialOf(job), job.machine, job.sheet().stock.thickness};
        if (plan::provenFor(*step, here)) continue; // it was tried
        const double chip =
            std::min(rates->feed, job.machine.maxFeed) / (rates->spindle * moves.tool.flutes) / plan::fasterBy(*step);
        const double wanted =
            shop::startFor(moves.tool, here.material, job.machine, plan::kindOf(*step).work, here.thickness).chip;
        if (wanted <= 0 || (chip < 2.2 * wanted && chip > 0.35 * wanted)) continue;
        const bool thick = chip > wanted;
        const double feed = std::min(plan::bookValue(*field, *step, here), job.machine.maxFeed);
        const double turns = std::clamp(std::round(rates->spindle * chip / wanted / 100) * 100, job.machine.minSpindle,
                                        job.machine.maxSpindle);
        auto& f = add(Verdict::look,
                      fmt::format("“{}” takes chips of {:.3f} mm a tooth; “{}” should take {:.3f} in {}.", step->name,
                                  chip, moves.tool.name, wanted, here.material.name),
                      thick ? "It may break: feed slower, or turn faster."
                            : "It rubs and burns instead of cutting: feed faster, or turn slower.");
        // The feed where that can be had, else the speed.
        const double spindle = plan::bookValue(*plan::fieldNamed(plan::kindOf(*step), "spindle"), *step, here);
        if (const double by = feed / (spindle * moves.tool.flutes) / plan::fasterBy(*step);
            std::abs(rates->spindle - spindle) < 1 && by < 2.2 * wanted && by > 0.35 * wanted)
            setting(f, step->id, fmt::format("Feed: {:.0f} mm/min", feed), "feed", fmt::format("{} mm", feed));
        else if (const double at = chip * rates->spindle / turns; at < 2.2 * wanted && at > 0.35 * wanted)
            setting(f, step->id, fmt::format("Spindle: {:.0f} rpm", turns), "spindle", fmt::format("{}", turns));
        f.step = step->id;
    }
}

void Checker::untried() {
    std::vector<std::string> names;
    plan::StepId first;
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        if (!step ||
            plan::provenFor(*step, {moves.tool, job::materialOf(job), job.machine, job.sheet().stock.thickness}))
            continue;
        if (names.empty()) first = step->id;
        names.push_back(step->name);
    }
    if (names.empty()) return;
    std::string some;
    for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 3); ++i)
        some += fmt::format("{}“{}”", i ? ", " : "", names[i]);
    if (names.size() > 3) some += fmt::format(" and {} more", names.size() - 3);
    add(Verdict::note,
        fmt::format("Nothing was proven on {} of {} for {}.", job::materialOf(job).name,
                    mm(job.sheet().stock.thickness), some),
        "Try the settings on a scrap; a swatch card makes them proven.")
        .step = names.size() == 1 ? first : plan::StepId{};
}

void Checker::webs() {
    if (!path.pieces) return;
    const auto& contours = path.pieces->contours;
    std::set<std::size_t> cut;
    for (const auto& step : path.steps)
        for (const auto& one : step.cuts)
            if (one.intent.through && one.intent.beside() && one.intent.contour) cut.insert(*one.intent.contour);
    if (cut.empty()) return;
    const double thickness = job.sheet().stock.thickness;
    const double least = path.byBeam() ? std::clamp(thickness / 3, 0.4, 1.5) : std::clamp(thickness / 4, 0.6, 2.5);
    // By part: an opening's edge is one of what is round it.
    std::map<int, std::vector<std::size_t>> byPart;
    for (const auto c : cut)
        if (contours[c].path.closed)
            byPart[contours[c].role == plan::Role::openings ? contours[c].parent : static_cast<int>(c)].push_back(c);
    struct Part {
        std::vector<std::size_t> contours;
        std::optional<Thin> thin = {};
    };
    std::vector<Part> parts;
    for (auto& [part, own] : byPart) parts.push_back({std::move(own)});
    parallelFor(parts.size(), Progress(), [&](std::size_t i) {
        std::vector<const Path*> paths;
        KeptKey key(least);
        for (const auto c : parts[i].contours) key << *paths.emplace_back(&contours[c].path);
        parts[i].thin = *Kept::of(kept, key, [&] { return thinnest(paths, least); });
    });
    std::erase_if(parts, [](const Part& part) { return !part.thin; });
    if (parts.empty()) return;
    const auto worst = std::min_element(parts.begin(), parts.end(),
                                        [](const Part& a, const Part& b) { return a.thin->width < b.thin->width; });
    auto& f = add(Verdict::look,
                  fmt::format("{} {} thinner than {} between two edges, {:.2g} mm at {}: it may break.",
                              counted(parts.size(), "part", "parts"), parts.size() == 1 ? "is" : "are", mm(least),
                              worst->thin->width, parts.size() == 1 ? "one place" : "the thinnest"),
                  "Make it wider, or cut it last and gently.");
    f.at = worst->thin->at, f.item = contours[worst->contours[worst->thin->path]].item;
}

void Checker::weakTabs() {
    if (!path.turns()) return;
    for (const auto& moves : path.steps) {
        const auto* step = plan::find(job.plan, moves.step);
        std::size_t weak = 0, single = 0;
        const toolpath::Cut *firstWeak = nullptr, *firstSingle = nullptr;
        for (const auto& cut : moves.cuts) {
            if (!cut.intent.frees || cut.tabs.empty()) continue;
            const double height = job.sheet().stock.thickness + cut.tabTop;
            const double section = static_cast<double>(cut.tabs.size()) * cut.tabWidth * height;
            const Box box = boundsOf(cut.centre);
            const double longer = std::max(box.width(), box.height());
            // A cutter pushes at the rim, so that what holds it grows with the way round.
            if (section < std::max(3.0, 0.012 * lengthOf(cut.centre)))
                weak++ || (firstWeak = &cut);
            else if (cut.tabs.size() == 1 && longer > 60)
                single++ || (firstSingle = &cut);
        }
        const auto tell = [&](std::size_t count, const toolpath::Cut& first, const char* what,
                              const char* mend) -> Finding& {
            auto& f = add(Verdict::look, fmt::format("“{}”: {} {}.", moves.name, counted(count, "part", "parts"), what),
                          mend);
            f.step = moves.step, f.item = first.intent.item, f.at = first.centre.start;
            return f;
        };
        if (weak)
            tell(weak, *firstWeak, "held by tabs that are weak for the way round",
                 "Make the tabs wider, higher, or more.");
        if (single) {
            auto& f = tell(single, *firstSingle, "held by one tab only: it may turn when the rest is cut",
                           "Give each two tabs at least.");
            if (step && plan::fieldNamed(plan::kindOf(*step), "tabCount"))
                setting(f, moves.step, "Tabs each: 3", "tabCount", "3");
        }
    }
}

void Checker::smallParts() {
    if (!path.byBeam() || !path.pieces) return;
    constexpr double small = 8; // mm
    std::size_t count = 0;
    const toolpath::Cut* first = nullptr;
    for (const auto& step : path.steps)
        for (const auto& cut : step.cuts)
            if (cut.intent.frees && cut.intent.role == plan::Role::outerEdges && cut.tabs.empty()) {
                if (cut.intent.contour && path.pieces->contours[*cut.intent.contour].size < small)
                    count++ || (first = &cut);
            }
    if (!count) return;
    auto& f =
        add(Verdict::note,
            fmt::format("{} smaller than {} {} loose: {} may fall through the grid or stand up in the head's way.",
                        counted(count, "part", "parts"), mm(small), count == 1 ? "comes" : "come",
                        count == 1 ? "it" : "they"),
            "Hold them by tabs, or lay a board below.");
    f.item = first->intent.item, f.at = first->centre.start;
}

} // namespace ferro::proof
