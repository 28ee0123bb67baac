#include "plan/selection.h"

#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/spatial.h"

#include <set>

namespace ferro::plan {

bool matches(std::string_view pattern, std::string_view name) {
    const auto same = [](char a, char b) {
        return std::tolower(static_cast<unsigned char>(a)) == std::tolower(static_cast<unsigned char>(b));
    };
    std::size_t p = 0, n = 0, star = std::string_view::npos, resume = 0;
    while (n < name.size()) {
        if (p < pattern.size() && pattern[p] == '*')
            star = p++, resume = n;
        else if (p < pattern.size() && same(pattern[p], name[n]))
            ++p, ++n;
        else if (star != std::string_view::npos)
            p = star + 1, n = ++resume;
        else
            return false;
    }
    while (p < pattern.size() && pattern[p] == '*') ++p;
    return p == pattern.size();
}

namespace {

bool layerIn(const std::vector<std::string>& patterns, const std::string& layer) {
    return patterns.empty() || std::any_of(patterns.begin(), patterns.end(),
                                           [&](const std::string& pattern) { return matches(pattern, layer); });
}

bool sizeFits(const Match& match, const Contour& contour) {
    return contour.size >= match.above && (match.below <= 0 || contour.size <= match.below);
}

bool namedBy(const Rule& rule, const Contour& contour) {
    if (!rule.items.empty()) return std::find(rule.items.begin(), rule.items.end(), contour.item) != rule.items.end();
    return layerIn(rule.layers, contour.layer);
}

bool excepted(const Rule& rule, const Contour& contour) {
    return rule.items.empty() && std::any_of(rule.except.begin(), rule.except.end(),
                                             [&](const Match& match) { return fits(match, contour); });
}

bool isDecoration(const Plan& plan, const Contour& contour) {
    bool decorated = false;
    for (const auto& step : plan.steps) {
        if (!namedBy(step.rule, contour)) continue;
        const auto& others = step.rule.except; // what an outline is follows from this, so roles do not count here
        if (step.rule.items.empty() && std::any_of(others.begin(), others.end(), [&](const Match& match) {
                return match.role == Role::any && fits(match, contour);
            }))
            continue;
        if (kindOf(step).takes == Takes::areas || kindOf(step).takes == Takes::pictures)
            continue; // what lies in an area is not what it is cut as
        if (!kindOf(step).decorates) return false;
        decorated = true;
    }
    return decorated;
}

std::vector<Contour> drawn(const artwork::Artwork& artwork) {
    std::vector<Contour> contours;
    if (!artwork.sheet) return contours; // beside all sheets nothing is cut
    for (const auto& item : artwork.items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape || artwork::isHidden(artwork, item) || artwork::isNote(artwork, item)) continue;
        const auto* layer = artwork::find(artwork, item.layer);
        const Piece piece = artwork::placed(item);
        const auto add = [&](const Path& path, int opening) {
            Contour contour{
                .item = item.id, .opening = opening, .layer = layer ? layer->name : "", .path = path, .circle = {}};
            const Box box = ferro::boundsOf(path);
            contour.size = std::max(box.width(), box.height());
            if (!path.closed) contour.role = Role::openLines;
            contour.circle = path.segments.empty() ? std::optional(Circle{path.start, 0}) : circleOf(path, 0.02);
            contours.push_back(std::move(contour));
        };
        add(piece.outline, -1);
        for (std::size_t i = 0; i < piece.openings.size(); ++i) add(piece.openings[i], static_cast<int>(i));
    }
    return contours;
}

/// Layers on which areas were bridged that fall out: what is drawn there is cut from a plate, also the letters that
/// need no bridge. Where no outline lies round it all, the plate is the sheet.
std::set<std::string> stencilLayers(const artwork::Artwork& artwork) {
    std::set<artwork::GroupId> groups;
    for (const auto& group : artwork.groups)
        if (group.bridged && group.bridged->areas == artwork::Bridged::Areas::fallOut) groups.insert(group.id);
    std::set<std::string> layers;
    if (groups.empty()) return layers;
    for (const auto& item : artwork.items)
        if (groups.contains(item.group))
            if (const auto* layer = artwork::find(artwork, item.layer)) layers.insert(layer->name);
    return layers;
}

} // namespace

bool fits(const Match& match, const Contour& contour) {
    return layerIn(match.layers, contour.layer) && sizeFits(match, contour) &&
           (match.role == Role::any || match.role == contour.role);
}

std::vector<Contour> contoursOf(const Plan& plan, const artwork::Artwork& artwork) {
    auto contours = drawn(artwork);
    std::vector<Box> boxes;
    std::vector<Ring> rings;
    std::vector<double> areas;
    std::vector<char> counts;
    for (const auto& contour : contours) {
        boxes.push_back(boundsOf(contour.path));
        rings.push_back(contour.path.closed ? flattened(contour.path, 0.01) : Ring{});
        areas.push_back(std::abs(areaOf(rings.back())));
        counts.push_back(contour.path.closed && contour.path.segments.size() > 1 && !isDecoration(plan, contour));
    }
    const SpatialIndex index(boxes);
    for (std::size_t i = 0; i < contours.size(); ++i) {
        Contour& contour = contours[i];
        // A point on the outline, not its start alone: parts that share a corner must not count as nested.
        const Vec2 probe = contour.path.segments.empty() ? contour.path.start
                                                         : pointAt(contour.path.from(0), contour.path.segments[0], 0.5);
        double smallest = std::numeric_limits<double>::infinity();
        for (const std::size_t k : index.meeting({probe, probe})) {
            if (k == i || !counts[k] || !boxes[k].grown(1e-9).contains(boxes[i]) ||
                (contour.path.closed && areas[k] <= areas[i]))
                continue;
            if (!contains(rings[k], probe)) continue;
            ++contour.depth;
            if (areas[k] < smallest) smallest = areas[k], contour.parent = static_cast<int>(k);
        }
    }
    const auto stencils = stencilLayers(artwork);
    const auto fallsOut = [&](std::size_t i) { // the sheet itself is the plate that it is cut from
        while (contours[i].parent >= 0) i = static_cast<std::size_t>(contours[i].parent);
        return contours[i].path.closed && stencils.contains(contours[i].layer);
    };
    for (std::size_t i = 0; i < contours.size() && !stencils.empty(); ++i) contours[i].inSheet = fallsOut(i);
    for (std::size_t i = 0; i < contours.size(); ++i) {
        Contour& contour = contours[i];
        contour.depth += contour.inSheet;
        if (!contour.path.closed) continue;
        contour.role = counts[i] && contour.depth % 2 == 1 ? Role::openings : Role::outerEdges;
        contour.path = wound(std::move(contour.path), contour.role == Role::outerEdges);
    }
    return contours;
}

namespace {

/// Circles and points for a step that goes straight down.
std::vector<std::size_t> circlesFor(const Step& step, const std::vector<Contour>& contours,
                                    const std::vector<shop::Tool>& tools) {
    std::vector<std::size_t> taken;
    const auto tool = std::find_if(tools.begin(), tools.end(), [&](const shop::Tool& t) { return t.key == step.tool; });
    const bool named = !step.rule.items.empty() || !step.rule.layers.empty();
    for (std::size_t i = 0; i < contours.size(); ++i) {
        if (!contours[i].circle || !namedBy(step.rule, contours[i]) || !sizeFits(step.rule, contours[i]) ||
            excepted(step.rule, contours[i]))
            continue;
        const double hole = 2 * contours[i].circle->radius;
        const bool fits = tool != tools.end() && (hole == 0 || std::abs(hole - tool->diameter) <= 0.25);
        if (fits || named) taken.push_back(i);
    }
    return taken;
}

std::vector<std::size_t> outlinesFor(const Step& step, const std::vector<Contour>& contours,
                                     const std::set<std::size_t>& drilled) {
    std::vector<std::size_t> taken;
    const bool byName = !step.rule.items.empty() || !step.rule.layers.empty();
    for (std::size_t i = 0; i < contours.size(); ++i) {
        const Contour& contour = contours[i];
        if (!namedBy(step.rule, contour) || !sizeFits(step.rule, contour) || excepted(step.rule, contour)) continue;
        if (contour.path.segments.empty() && !kindOf(step).decorates) continue; // a dot is marked, never cut out
        if (step.rule.items.empty() && drilled.contains(i)) continue;
        if (step.rule.role != Role::any && step.rule.role != contour.role) continue;
        // Open lines cut nothing out: a step that does takes them only where it is told to.
        const auto takesOpen = kindOf(step).takesOpen;
        if (kindOf(step).freesParts && !(takesOpen && takesOpen(step)) && contour.role == Role::openLines &&
            step.rule.role == Role::any && !byName)
            continue;
        taken.push_back(i);
    }
    return taken;
}

} // namespace

std::vector<artwork::ItemId> picturesOf(const Step& step, const artwork::Artwork& artwork) {
    std::vector<artwork::ItemId> out;
    if (!artwork.sheet) return out;
    for (const auto& item : artwork.items) {
        const auto* leaf = artwork::pictureOf(item);
        if (!leaf || item.underlay || artwork::isHidden(artwork, item) || artwork::isNote(artwork, item)) continue;
        Contour probe;
        const auto* layer = artwork::find(artwork, item.layer);
        const Box box = artwork::boundsOf(item);
        probe.item = item.id, probe.layer = layer ? layer->name : "", probe.size = std::max(box.width(), box.height());
        if (namedBy(step.rule, probe) && sizeFits(step.rule, probe) && !excepted(step.rule, probe))
            out.push_back(item.id);
    }
    return out;
}

std::vector<std::vector<std::size_t>> takenBy(const Plan& plan, const std::vector<Contour>& contours,
                                              const std::vector<shop::Tool>& tools) {
    std::vector<std::vector<std::size_t>> taken(plan.steps.size());
    const std::set<std::size_t> none;
    std::set<std::size_t> drilled;
    for (std::size_t s = 0; s < plan.steps.size(); ++s) {
        if (kindOf(plan.steps[s]).takes != Takes::circles) continue;
        taken[s] = circlesFor(plan.steps[s], contours, tools);
        if (plan.steps[s].enabled) drilled.insert(taken[s].begin(), taken[s].end());
    }
    for (std::size_t s = 0; s < plan.steps.size(); ++s)
        if (const auto& kind = kindOf(plan.steps[s]); (kind.takes == Takes::outlines || kind.takes == Takes::areas) &&
                                                      (!kind.takesPieces || kind.takesPieces(plan.steps[s])))
            taken[s] = outlinesFor(plan.steps[s], contours, kind.takes == Takes::areas ? none : drilled);
    return taken;
}

Pieces piecesOf(const Plan& plan, const artwork::Artwork& artwork, const std::vector<shop::Tool>& tools) {
    Pieces pieces;
    pieces.contours = contoursOf(plan, artwork);
    pieces.taken = takenBy(plan, pieces.contours, tools);
    return pieces;
}

std::size_t Pieces::indexOf(artwork::ItemId item, int opening) const {
    const auto at = std::find_if(contours.begin(), contours.end(), [&](const Contour& contour) {
        return contour.item == item && contour.opening == opening;
    });
    return static_cast<std::size_t>(at - contours.begin());
}

const Contour* Pieces::find(artwork::ItemId item, int opening) const {
    const auto at = indexOf(item, opening);
    return at < contours.size() ? &contours[at] : nullptr;
}

} // namespace ferro::plan
