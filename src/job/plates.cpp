#include "job/plates.h"

#include "artwork/edits.h"
#include "geometry/combine.h"
#include "geometry/flatten.h"
#include "geometry/spatial.h"
#include "job/edits.h"
#include "job/labels_internal.h"
#include "job/sheets.h"

#include <map>
#include <set>

namespace ferro::job {

namespace {

using artwork::ItemId;
using artwork::LayerId;

constexpr double overlapLeast = 0.1; ///< mm²: what lies over another by less only touches it
constexpr double jigBorder = 12;     ///< mm round a plate

struct Coloured {
    ItemId item;
    LayerId layer;
    Piece piece; ///< on the sheet
    double area;
};
std::vector<Coloured> colouredOf(const Job& job) {
    std::vector<Coloured> out;
    for (const auto& item : job.artwork->items) {
        const auto* layer = artwork::find(*job.artwork, item.layer);
        const auto* shape = artwork::shapeOf(item);
        if (!shape || !layer || item.sheet != job.sheet().id || item.hidden || layer->hidden || layer->notes ||
            layer->colour.empty() || !shape->piece.outline.closed)
            continue;
        Piece piece = transformed(shape->piece, item.place);
        double area = std::abs(areaOf(piece.outline));
        for (const auto& opening : piece.openings) area -= std::abs(areaOf(opening));
        out.push_back({item.id, item.layer, std::move(piece), area});
    }
    return out;
}
Rings ringsOf(const Piece& piece) {
    Rings rings{flattened(wound(piece.outline, true), 0.02)};
    for (const auto& opening : piece.openings) rings.push_back(flattened(wound(opening, false), 0.02));
    return rings;
}

/// Indices: the first lies under the second, of another colour.
std::vector<std::pair<std::size_t, std::size_t>> overlapsOf(const std::vector<Coloured>& all) {
    std::vector<Box> boxes;
    std::vector<Rings> rings;
    for (const auto& one : all) boxes.push_back(boundsOf(one.piece)), rings.push_back(ringsOf(one.piece));
    const SpatialIndex index(boxes);
    std::vector<std::pair<std::size_t, std::size_t>> out;
    for (std::size_t i = 0; i < all.size(); ++i)
        for (const std::size_t k : index.meeting(boxes[i])) {
            if (k <= i || all[k].layer == all[i].layer) continue;
            const auto both = combined(rings[i], rings[k], Combine::overlap);
            double area = 0;
            if (both)
                for (const auto& ring : *both) area += areaOf(ring);
            if (area > overlapLeast) out.emplace_back(i, k); // later ones are drawn over those before
        }
    return out;
}

/// Pieces of one colour that are painted together.
struct Group {
    LayerId layer;
    std::vector<std::size_t> pieces;
    double area = 0;
    bool again = false;
};

/// Groups in the order of painting; where colours lie over each other both ways the fewest pieces get a plate more.
class Ordering {
public:
    Ordering(const std::vector<Coloured>& all, const artwork::Artwork& art)
        : all_(all), overlaps_(overlapsOf(all)), art_(art) {
        std::map<LayerId, std::size_t> of;
        for (std::size_t i = 0; i < all.size(); ++i) {
            const auto [at, fresh] = of.emplace(all[i].layer, groups_.size());
            if (fresh) groups_.push_back({all[i].layer, {}});
            groups_[at->second].pieces.push_back(i);
        }
    }
    std::vector<Group> run(std::vector<std::string>& why) {
        while (true) {
            std::vector<std::size_t> groupOf(all_.size());
            for (std::size_t g = 0; g < groups_.size(); ++g) {
                groups_[g].area = 0;
                for (const auto i : groups_[g].pieces) groupOf[i] = g, groups_[g].area += all_[i].area;
            }
            std::vector<std::set<std::size_t>> under(groups_.size()); // what has to be painted before
            for (const auto& [low, high] : overlaps_)
                if (groupOf[low] != groupOf[high]) under[groupOf[high]].insert(groupOf[low]);
            std::vector<std::size_t> order;
            std::set<std::size_t> left;
            for (std::size_t g = 0; g < groups_.size(); ++g) left.insert(g);
            const auto isFree = [&](std::size_t g) {
                return std::none_of(under[g].begin(), under[g].end(), [&](auto u) { return left.contains(u); });
            };
            while (!left.empty()) {
                std::optional<std::size_t> next;
                for (const auto g : left)
                    if (isFree(g) && (!next || groups_[g].area > groups_[*next].area)) next = g;
                if (!next) break;
                order.push_back(*next);
                left.erase(*next);
            }
            if (left.empty()) {
                std::vector<Group> out;
                for (const auto g : order) out.push_back(groups_[g]);
                return out;
            }
            part(left, groupOf, why);
        }
    }

private:
    /// One of the groups that wait for each other becomes two: what lies over none of the others comes early.
    void part(const std::set<std::size_t>& stuck, const std::vector<std::size_t>& groupOf,
              std::vector<std::string>& why) {
        std::set<std::size_t> late; // pieces that lie over another of those that wait
        for (const auto& [low, high] : overlaps_)
            if (groupOf[low] != groupOf[high] && stuck.contains(groupOf[low]) && stuck.contains(groupOf[high]))
                late.insert(high);
        std::optional<std::size_t> best;
        std::size_t fewest = 0;
        for (const auto g : stuck) {
            const auto count = static_cast<std::size_t>(std::count_if(
                groups_[g].pieces.begin(), groups_[g].pieces.end(), [&](auto i) { return late.contains(i); }));
            if (count > 0 && count < groups_[g].pieces.size() && (!best || count < fewest)) best = g, fewest = count;
        }
        // The lowest of all drawn lies over nothing, so one can always be parted.
        auto& group = groups_[*best];
        Group second{group.layer, {}, 0, true};
        std::vector<std::size_t> early;
        for (const auto i : group.pieces) (late.contains(i) ? second.pieces : early).push_back(i);
        group.pieces = std::move(early);
        why.push_back(
            fmt::format("“{}” lies over another colour in one place and under it in another: {} of its pieces "
                        "get a plate of their own.",
                        artwork::find(art_, second.layer)->name, second.pieces.size()));
        groups_.push_back(std::move(second));
    }

    const std::vector<Coloured>& all_;
    std::vector<std::pair<std::size_t, std::size_t>> overlaps_;
    const artwork::Artwork& art_;
    std::vector<Group> groups_;
};

/// A piece in upright strips, in turn for one plate and the other: each island is cut by a line between two.
Result<std::array<std::vector<Piece>, 2>> halvesOf(const Piece& piece, double overlap) {
    std::vector<double> lines;
    for (const auto& opening : piece.openings) lines.push_back(boundsOf(opening).centre().x);
    std::sort(lines.begin(), lines.end());
    lines.erase(std::unique(lines.begin(), lines.end(), [](double a, double b) { return b - a < 0.5; }), lines.end());
    const Box box = boundsOf(piece).grown(1);
    std::array<std::vector<Piece>, 2> halves;
    for (std::size_t k = 0; k <= lines.size(); ++k) {
        const double from = k == 0 ? box.low.x : lines[k - 1] - overlap / 2,
                     to = k == lines.size() ? box.high.x : lines[k] + overlap / 2;
        auto strip = combinedPieces({piece}, {{rectangle({from, box.low.y}, {to, box.high.y}), {}}}, Combine::overlap);
        if (!strip) return strip.problem();
        auto& half = halves[k % 2];
        half.insert(half.end(), std::make_move_iterator(strip->begin()), std::make_move_iterator(strip->end()));
    }
    return halves;
}

/// What is the same on every plate, and the jig.
struct Board {
    Box drawing, plate;
    std::vector<Vec2> pins;
    double pin;

    Board(const Box& of, const PlatesWish& wish) : drawing(of), plate(of.grown(wish.margin)), pin(wish.pin) {
        // Three of four corners: turned or mirrored, a plate does not go on.
        const double in = std::max(wish.margin / 2, 1.2 * wish.pin);
        pins = {plate.low + Vec2{in, in}, {plate.high.x - in, plate.low.y + in}, {plate.low.x + in, plate.high.y - in}};
    }
    [[nodiscard]] artwork::Artwork on(artwork::Artwork art, const Box& edge) const {
        std::vector<Piece> holes;
        for (const Vec2 p : pins) holes.push_back({circle(p, pin / 2), {}});
        art = artwork::withPieces(art, {{rectangle(edge.low, edge.high, 3), {}}}, "plate edge", "plate").artwork;
        return artwork::withPieces(art, std::move(holes), "pins", "pin").artwork;
    }
};

Result<Job> labelledAt(const Job& job, const std::string& words, Vec2 at) {
    auto art = labelled(*job.artwork, words, at, artwork::Lettering::Align::left);
    if (!art) return art.problem();
    return withArtwork(job, std::move(*art));
}

} // namespace

std::vector<ItemId> islandsIn(const Job& job) {
    std::vector<ItemId> ids;
    for (const auto& one : colouredOf(job))
        if (!one.piece.openings.empty()) ids.push_back(one.item);
    return ids;
}

Result<Plates> withPlates(const Job& before, const PlatesWish& wish) {
    if (!(wish.margin >= 10 && wish.margin <= 200) || !(wish.pin >= 1 && wish.pin <= 20) ||
        !(wish.overlap >= 0 && wish.overlap <= 5))
        return Problem{
            .what = "Such plates cannot be made.",
            .where = {},
            .mend = "Plates go 10 to 200 mm beyond the drawing, pins are 1 to 20 mm, halves overlap up to 5 mm."};
    const auto all = colouredOf(before);
    if (all.empty())
        return Problem{.what = "No layer of this sheet has a colour and closed pieces.",
                       .where = before.sheet().name,
                       .mend = "Trace a picture by colours, or give each layer its colour."};
    Box drawing;
    for (const auto& one : all) {
        const Box box = boundsOf(one.piece);
        drawing.take(box.low), drawing.take(box.high);
    }
    const Board board(drawing, wish);
    const auto& stock = before.sheet().stock;
    const Box needed = wish.jig ? board.plate.grown(jigBorder) : board.plate;
    const double beyond =
        std::max({-needed.low.x, -needed.low.y, needed.high.x - stock.width, needed.high.y - stock.height});
    if (beyond > 1e-9)
        return Problem{
            .what = fmt::format("{} would lie {} beyond the sheet.", wish.jig ? "The jig" : "A plate", mm(beyond)),
            .where = before.sheet().name,
            .mend = fmt::format("It takes a sheet of {} × {} with the drawing in its middle, or a narrower margin.",
                                mm(needed.width()), mm(needed.height()))};

    Plates out{before, {}, {}, {}};
    const auto others =
        std::count_if(before.artwork->items.begin(), before.artwork->items.end(), [&](const auto& item) {
            const auto* layer = artwork::find(*before.artwork, item.layer);
            return artwork::shapeOf(item) && item.sheet == before.sheet().id && !item.hidden &&
                   !(layer && (layer->hidden || layer->notes)) &&
                   std::none_of(all.begin(), all.end(), [&](const Coloured& one) { return one.item == item.id; });
        });
    if (others > 0)
        out.why.push_back(fmt::format("Open lines and pieces without a colour ({}) are on no plate: they stay on the "
                                      "first sheet.",
                                      others));
    auto groups = Ordering(all, *before.artwork).run(out.why);
    Job job = before;
    const SheetId first = before.sheet().id;
    const auto putOn = [&](SheetId sheet, const std::set<ItemId>& items) {
        auto art = *job.artwork;
        for (auto& item : art.items)
            if (items.contains(item.id)) item.sheet = sheet;
        job = withArtwork(job, std::move(art));
    };
    const auto freshSheet = [&]() -> Result<SheetId> {
        auto added = withSheetAdded(job);
        if (!added) return added.problem();
        job = std::move(*added);
        return job.sheet().id;
    };
    for (const auto& group : groups) {
        const auto layer = *artwork::find(*before.artwork, group.layer);
        auto sheet = out.plates.empty() ? Result<SheetId>(first) : freshSheet();
        if (!sheet) return sheet.problem();
        Plate plate{*sheet, layer.name, layer.colour, group.pieces.size(), 0, group.again};
        std::set<ItemId> moved;
        std::vector<Piece> second; // halves, for another plate
        auto art = *job.artwork;
        for (const auto i : group.pieces) {
            const auto& one = all[i];
            if (!wish.parted || one.piece.openings.empty()) {
                plate.islands += one.piece.openings.size();
                moved.insert(one.item);
                continue;
            }
            auto halves = halvesOf(one.piece, wish.overlap);
            if (!halves) return halves.problem().within(layer.name);
            for (auto& item : art.items)
                if (item.id == one.item) item.locked = false;
            auto without = artwork::withRemoved(art, {one.item});
            if (!without) return without.problem();
            art = std::move(*without);
            art.sheet = *sheet;
            art = artwork::withPieces(art, std::move((*halves)[0]), layer.name, layer.name).artwork;
            std::move((*halves)[1].begin(), (*halves)[1].end(), std::back_inserter(second));
        }
        job = withArtwork(job, std::move(art));
        putOn(*sheet, moved);
        out.plates.push_back(plate);
        if (second.empty()) continue;
        out.why.push_back(fmt::format("“{}” has islands: half of it is painted by a second plate.", layer.name));
        const auto other = freshSheet();
        if (!other) return other.problem();
        const auto count = second.size();
        job = withArtwork(job, artwork::withPieces(*job.artwork, std::move(second), layer.name, layer.name).artwork);
        out.plates.push_back({*other, layer.name, layer.colour, count, 0, true});
    }
    // Edge, pins and words on each, and the jig behind them.
    for (std::size_t i = 0; i < out.plates.size(); ++i) {
        const auto& plate = out.plates[i];
        auto at = atSheet(job, plate.sheet);
        if (at) at = withArtwork(*at, board.on(*at->artwork, board.plate));
        if (at)
            at = labelledAt(
                *at, fmt::format("{}/{} {}{}", i + 1, out.plates.size(), plate.layer, plate.again ? " again" : ""),
                {board.pins[0].x + wish.pin, board.pins[0].y - labelCap / 2});
        std::string name = fmt::format("{} {}{}", i + 1, plate.layer, plate.again ? " again" : "");
        name.resize(std::min<std::size_t>(name.size(), 100));
        if (at) at = withSheetNamed(*at, plate.sheet, name);
        if (!at) return at.problem();
        job = std::move(*at);
    }
    if (wish.jig) {
        const auto sheet = freshSheet();
        if (!sheet) return sheet.problem();
        out.jig = *sheet;
        const Vec2 low = board.plate.low, high = board.plate.high, middle = drawing.centre();
        auto art = board.on(*job.artwork, board.plate.grown(jigBorder));
        art = artwork::withPieces(art,
                                  {{pathOf({{low.x, middle.y}, {high.x, middle.y}}, false), {}},
                                   {pathOf({{middle.x, low.y}, {middle.x, high.y}}, false), {}},
                                   {rectangle(drawing.low, drawing.high), {}}},
                                  "cross-hairs", "cross-hair")
                  .artwork;
        auto named = withSheetNamed(withArtwork(job, std::move(art)), *sheet, "Jig");
        if (named) named = labelledAt(*named, "jig", {board.pins[0].x + wish.pin, board.pins[0].y - labelCap / 2});
        if (!named) return named.problem();
        job = std::move(*named);
    }
    auto back = atSheet(job, first);
    if (!back) return back.problem();
    job = std::move(*back);
    if (job.plan.steps.empty()) {
        const auto process = job.machine.does(shop::Process::rotary) ? shop::Process::rotary
                             : job.machine.does(shop::Process::beam) ? shop::Process::beam
                                                                     : shop::Process::blade;
        auto with = withLabelsScribed(job, process, "labels, cross-hairs");
        if (with) with = withFittingSteps(*with);
        // Some letters close; they are scribed only.
        std::string layers = "plate edge, pins";
        for (const auto& plate : out.plates) {
            std::string name = plate.layer;
            std::replace(name.begin(), name.end(), ',', '*');
            if (!plate.again) layers += ", " + name;
        }
        if (with && plan::kindOf(with->plan.steps.back()).takes == plan::Takes::outlines)
            with = withStepSetting(*with, with->plan.steps.back().id, "layers", layers);
        if (!with) return with.problem();
        job = std::move(*with);
    }
    out.job = std::move(job);
    return out;
}

} // namespace ferro::job
