#include "geometry/combine.h"
#include "picture/pixel_work.h"
#include "trace/colours.h"
#include "trace/contrast_edges.h"
#include "trace/edges.h"
#include "trace/field_internal.h"
#include "trace/trace_internal.h"

namespace ferro::trace {

namespace {

/// Whole pictures and parts of them, each pixel by the settings that it belongs to: a field for each way of finding, in
/// which all that is sought that way is dark.
class Fields {
public:
    /// `owner`: which of the settings each pixel belongs to, 0 the base's, else a patch's number from 1.
    Fields(const picture::Grey& grey, double pxPerMm, const Settings& base, const std::vector<Patch>& patches,
           std::vector<std::uint8_t> owner)
        : grey_(grey), pxPerMm_(pxPerMm), owner_(std::move(owner)) {
        settings_.push_back(&base);
        for (const auto& patch : patches) settings_.push_back(&patch.settings);
        if (base.only.empty()) return;
        for (int y = 0; y < grey.height; ++y)
            for (int x = 0; x < grey.width; ++x)
                if (!base.only.contains(Vec2{x + 0.5, grey.height - y - 0.5} / pxPerMm))
                    owner_[static_cast<std::size_t>(y) * static_cast<std::size_t>(grey.width) +
                           static_cast<std::size_t>(x)] = nobody;
    }
    [[nodiscard]] bool isSought(Find find) const {
        return std::any_of(settings_.begin(), settings_.end(), [&](const auto* s) { return s->find == find; });
    }
    /// The level of the whole picture, for a report.
    [[nodiscard]] int level() const { return levels_.empty() ? 0 : levels_[0]; }

    [[nodiscard]] picture::Grey of(Find find) {
        picture::Grey out{grey_.width, grey_.height, std::vector<std::uint8_t>(grey_.values.size(), 255)};
        for (std::size_t i = 0; i < settings_.size(); ++i) {
            if (settings_[i]->find != find) continue;
            Settings own = *settings_[i];
            own.level = levelIn(i);
            const auto field = fieldOf(grey_, own);
            for (std::size_t k = 0; k < owner_.size(); ++k)
                if (owner_[k] == i) out.values[k] = field.values[k];
        }
        return out;
    }
    [[nodiscard]] Result<EdgeFields> edges() {
        const std::vector<std::uint8_t> light(grey_.values.size(), 255);
        EdgeFields out{
            {grey_.width, grey_.height, light}, grey_, std::vector<std::uint8_t>(grey_.values.size(), notSought)};
        for (std::size_t i = 0; i < settings_.size(); ++i) {
            const Settings& own = *settings_[i];
            if (own.find != Find::edges) continue;
            levelIn(i);
            const double least = std::clamp(own.leastStep, 1.0, 254.0);
            const auto apart = picture::drawnApart(grey_, own.lineWidth * pxPerMm_, least);
            if (!apart) return apart.problem();
            for (std::size_t k = 0; k < owner_.size(); ++k)
                if (owner_[k] == i) {
                    out.lines.values[k] = apart->lines.values[k];
                    out.least[k] = apart->under[k] ? underLine : static_cast<std::uint8_t>(std::lround(least));
                }
        }
        return out;
    }

private:
    static constexpr std::uint8_t nobody = 255;
    /// A level that is to be found is found from the patch's own pixels, unless it is looked through like the whole.
    int levelIn(std::size_t i) {
        if (settings_[i]->level != -1) return keep(i, settings_[i]->level);
        Settings same = *settings_[0];
        same.only = settings_[i]->only;
        if (i == 0 || same == *settings_[i]) return keep(i, picture::automaticLevel(picture::histogramOf(grey_)));
        picture::Grey own;
        for (std::size_t k = 0; k < owner_.size(); ++k)
            if (owner_[k] == i) own.values.push_back(grey_.values[k]);
        return keep(i, picture::automaticLevel(picture::histogramOf(own)));
    }
    int keep(std::size_t i, int level) {
        if (i == 0) levels_.assign(1, level);
        return level;
    }
    const picture::Grey& grey_;
    double pxPerMm_;
    std::vector<std::uint8_t> owner_;
    std::vector<const Settings*> settings_;
    std::vector<int> levels_;
};

} // namespace

Result<Traced> tracedInParts(const picture::Grey& grey, double pxPerMm, const Settings& settings,
                             const std::vector<Patch>& patches, Progress& progress) {
    auto owner = patchMap(grey.width, grey.height, pxPerMm, patches);
    if (!owner) return owner.problem();
    Fields fields(grey, pxPerMm, settings, patches, std::move(*owner));
    Traced all;
    for (const Find find : {Find::areas, Find::rim, Find::strokes, Find::edges}) {
        if (!fields.isSought(find)) continue;
        if (progress.cancelled()) return Problem::cancelled();
        PixelSettings own = inPixels(settings, pxPerMm);
        own.find = find;
        own.invert = false;
        if (find == Find::edges) {
            const auto sought = fields.edges();
            if (!sought) return sought.problem();
            Traced part;
            traceEdges(*sought, own, part, progress);
            append(all, std::move(part));
            continue;
        }
        const auto field = fields.of(find);
        auto part = tracedGrey(field, fieldLevel, own, progress);
        if (!part) return part;
        if (find != Find::strokes) part->largestMiss = largestMiss(part->pieces, field, fieldLevel, false, progress);
        append(all, std::move(*part));
    }
    all.level = fields.level();
    return finished(std::move(all), pxPerMm, progress);
}

namespace {

/// The colours of a part of a picture, mm; all of it where `box` is empty.
Result<Traced> coloursIn(const picture::Picture& picture, double pxPerMm, const Settings& settings, const Box& box,
                         Progress& progress) {
    if (box.empty()) {
        auto result = tracedColours(picture, inPixels(settings, pxPerMm), progress);
        if (!result) return result;
        return finished(std::move(*result), pxPerMm, progress);
    }
    auto part = picture::freshStep(picture::CleanStep::Kind::crop);
    part.area = box;
    const auto cropped = picture::cleaned(picture, {part}, pxPerMm, progress);
    if (!cropped) return cropped.problem();
    auto done = coloursIn(cropped->picture, pxPerMm, settings, {}, progress);
    if (done)
        for (auto& piece : done->pieces) piece = transformed(piece, Transform::moved(cropped->low));
    return done;
}

/// Cuts the pieces of each layer along areas, and drops what is left empty.
Result<Traced> cut(Traced traced, const std::vector<Piece>& by, Combine how) {
    Traced out = std::move(traced);
    const auto whole = std::move(out.pieces);
    out.pieces.clear();
    auto next = whole.begin();
    for (auto& layer : out.layers) {
        const auto end = next + static_cast<std::ptrdiff_t>(layer.pieces);
        auto some = combinedPieces({next, end}, by, how);
        if (!some) return some.problem();
        layer.pieces = some->size();
        std::move(some->begin(), some->end(), std::back_inserter(out.pieces));
        next = end;
    }
    std::erase_if(out.layers, [](const auto& layer) { return layer.pieces == 0; });
    return out;
}

} // namespace

Result<Traced> coloursInParts(const picture::Picture& picture, double pxPerMm, const Settings& settings,
                              const std::vector<Patch>& patches, Progress& progress) {
    Traced all;
    all.patchPalettes.resize(patches.size());
    std::vector<std::vector<Piece>> sets; // a layer's each
    std::vector<Piece> areas;
    for (const auto& patch : patches) areas.push_back({wound(pathOf(patch.area, true), true), {}});
    const Box sheet{{}, Vec2{static_cast<double>(picture.width), static_cast<double>(picture.height)} / pxPerMm};
    for (std::size_t i = 0; i <= patches.size(); ++i) {
        const Settings& own = i ? patches[i - 1].settings : settings;
        if (own.find != Find::colours) continue;
        if (progress.cancelled()) return Problem::cancelled();
        Box box = settings.only;
        if (i) { // a little more than the patch, so that it is cut and does not end by itself
            box = boundsOf(areas[i - 1]).grown(3 / pxPerMm);
            const Box& within = settings.only.empty() ? sheet : settings.only;
            if (!box.meets(within)) continue;
            box = {{std::max(box.low.x, within.low.x), std::max(box.low.y, within.low.y)},
                   {std::min(box.high.x, within.high.x), std::min(box.high.y, within.high.y)}};
        }
        auto found = coloursIn(picture, pxPerMm, own, box, progress);
        if (found && i) found = cut(std::move(*found), {areas[i - 1]}, Combine::overlap);
        if (const auto later = areas.begin() + static_cast<std::ptrdiff_t>(i); found && later != areas.end())
            found = cut(std::move(*found), {later, areas.end()}, Combine::takeAway);
        if (!found) return found;
        (i ? all.patchPalettes[i - 1] : all.palette) = found->palette;
        all.specksDropped += found->specksDropped;
        all.speck = std::max(all.speck, found->speck);
        all.largestMiss = std::max(all.largestMiss, found->largestMiss);
        auto next = found->pieces.begin();
        for (const auto& layer : found->layers) { // colours of the same name are one layer
            const auto end = next + static_cast<std::ptrdiff_t>(layer.pieces);
            std::size_t at = 0;
            while (at < all.layers.size() && all.layers[at].name != layer.name) ++at;
            if (at == all.layers.size()) all.layers.push_back({layer.name, layer.colour, 0}), sets.emplace_back();
            std::move(next, end, std::back_inserter(sets[at]));
            next = end;
        }
    }
    for (std::size_t i = 0; i < sets.size(); ++i) {
        all.layers[i].pieces = sets[i].size();
        for (auto& piece : sets[i]) {
            all.points += pointsOf(piece);
            all.pieces.push_back(std::move(piece));
        }
    }
    return all;
}

} // namespace ferro::trace
