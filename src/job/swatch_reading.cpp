#include "job/swatch_reading.h"

#include "job/marks.h"

namespace ferro::job {

namespace {

/// Four places from the lower left counter-clockwise.
std::vector<Vec2> inOrder(std::vector<Vec2> places) {
    Vec2 middle;
    for (const Vec2 p : places) middle = middle + p / static_cast<double>(places.size());
    const auto turnOf = [&](Vec2 p) { return std::atan2(p.y - middle.y, p.x - middle.x); };
    std::sort(places.begin(), places.end(), [&](Vec2 a, Vec2 b) { return turnOf(a) < turnOf(b); });
    return places; // from -180° on: the lower left comes first
}
/// Of places, the one that lies farthest each way.
std::vector<Vec2> outermost(const std::vector<Vec2>& all) {
    std::vector<Vec2> four;
    for (const Vec2 way : {Vec2{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        four.push_back(
            *std::max_element(all.begin(), all.end(), [&](Vec2 a, Vec2 b) { return dot(a, way) < dot(b, way); }));
    return four;
}

/// Greys at places of the sheet.
struct Greys {
    double mean = 0, spread = 0,
           middle = 0; ///< the middle one of them: a mark or a crumb among them counts for nothing
};
template<class Each> Greys greysOver(const Each& each) {
    std::vector<double> values;
    each([&](double grey) { values.push_back(grey); });
    Greys out;
    if (values.empty()) return out;
    for (const double v : values) out.mean += v / static_cast<double>(values.size());
    for (const double v : values) out.spread += (v - out.mean) * (v - out.mean) / static_cast<double>(values.size());
    out.spread = std::sqrt(out.spread);
    const auto half = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), half, values.end());
    out.middle = *half;
    return out;
}

} // namespace

std::vector<Vec2> cornerMarksOf(const Job& card) {
    std::vector<Vec2> places;
    for (const auto& mark : marksOf(card)) places.push_back(mark.at);
    return places.size() == 4 ? inOrder(std::move(places)) : std::vector<Vec2>{};
}

std::optional<std::vector<Vec2>> cornerMarksIn(std::span<const picture::RoundMark> round) {
    std::vector<Vec2> up; // y up, as on the sheet
    for (const auto& mark : round) up.push_back({mark.at.x, -mark.at.y});
    if (up.size() < 4) return std::nullopt;
    auto four = outermost(up);
    for (std::size_t i = 0; i < 4; ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (four[i] == four[k]) return std::nullopt;
    for (Vec2& p : four) p.y = -p.y;
    return four;
}

Result<SwatchReading> swatchRead(const Job& card, const picture::Grey& picture, std::span<const Vec2> corners) {
    const auto places = cornerMarksOf(card);
    SwatchReading out;
    for (const auto& item : card.artwork->items) {
        const auto* shape = artwork::shapeOf(item);
        if (!shape || !item.name.starts_with("cell ") || item.sheet != card.sheet().id) continue;
        const auto step = stepOn(card, item.id);
        if (step == plan::StepId{}) continue;
        out.cells.push_back({item.id, item.name, step, transformed(shape->piece.outline, item.place), 0, 0});
    }
    if (places.empty() || out.cells.empty())
        return Problem{.what = "This job is no swatch card.",
                       .where = card.name,
                       .mend = "Make one, cut it, and open its job with the picture."};
    if (corners.size() != 4)
        return Problem{.what = fmt::format("{} corner marks are told, a card has four.", corners.size()),
                       .where = {},
                       .mend = "Say where they are, from the lower left counter-clockwise."};
    const auto fit = fittedView(corners, places, picture.width, picture.height);
    if (!fit) return fit.problem();
    out.view = fit->view;
    // A picture looks from above: its corners go round as the card's do.
    const auto turnsLeft = [&](std::size_t i) { // y down
        return cross(corners[(i + 1) % 4] - corners[i], corners[(i + 2) % 4] - corners[(i + 1) % 4]) < 0;
    };
    if (!turnsLeft(0) || !turnsLeft(1) || !turnsLeft(2) || !turnsLeft(3))
        return Problem{.what = "These corners are not those of the card, one after the other.",
                       .where = {},
                       .mend = "Say them from the lower left counter-clockwise."};
    const auto greyAt = [&](Vec2 mm) -> std::optional<double> {
        const Vec2 px = out.view.seen(mm);
        const int x = static_cast<int>(std::floor(px.x)), y = static_cast<int>(std::floor(px.y));
        if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return std::nullopt;
        return picture.at(x, y);
    };
    double least = 1e9; // mm between cells
    for (std::size_t i = 0; i < out.cells.size(); ++i)
        for (std::size_t k = 0; k < i; ++k) {
            const Box a = boundsOf(out.cells[i].outline), b = boundsOf(out.cells[k].outline);
            const double x = std::max(b.low.x - a.high.x, a.low.x - b.high.x),
                         y = std::max(b.low.y - a.high.y, a.low.y - b.high.y);
            if (const double gap = std::max(x, y); gap > 0) least = std::min(least, gap);
        }
    const double gap = std::min(least, 3.0);
    std::vector<double> evens;
    for (auto& cell : out.cells) {
        const Box box = boundsOf(cell.outline);
        constexpr int grid = 24;
        const auto inside = greysOver([&](const auto& take) { // its edges are their own matter
            for (int i = 0; i < grid; ++i)
                for (int k = 0; k < grid; ++k) {
                    const auto share = [&](int n) { return 0.15 + 0.7 * (n + 0.5) / grid; };
                    if (const auto v =
                            greyAt({box.low.x + share(i) * box.width(), box.low.y + share(k) * box.height()}))
                        take(*v);
                }
        });
        const auto bare = greysOver([&](const auto& take) { // in the middle of the gap all round
            const Box round = box.grown(gap / 2);
            for (int i = 0; i <= grid; ++i) {
                const double u = static_cast<double>(i) / grid;
                for (const Vec2 p : {Vec2{round.low.x + u * round.width(), round.low.y},
                                     {round.low.x + u * round.width(), round.high.y},
                                     {round.low.x, round.low.y + u * round.height()},
                                     {round.high.x, round.low.y + u * round.height()}})
                    if (const auto v = greyAt(p)) take(*v);
            }
        });
        if (!(bare.middle > 1))
            return Problem{.what = fmt::format("“{}” does not lie in the picture, or all of it is black.", cell.name),
                           .where = {},
                           .mend = "Take a picture of the whole card, with light on it."};
        cell.dark = std::clamp(1 - inside.mean / bare.middle, 0.0, 1.0);
        cell.uneven = inside.spread / bare.middle;
        evens.push_back(cell.uneven);
    }
    auto middle = evens;
    std::nth_element(middle.begin(), middle.begin() + static_cast<std::ptrdiff_t>(middle.size() / 2), middle.end());
    const double usual = middle[middle.size() / 2];
    for (std::size_t i = 0; i < out.cells.size(); ++i)
        if (evens[i] <= 1.2 * usual + 0.005 && (!out.best || out.cells[i].dark > out.cells[*out.best].dark + 0.005))
            out.best = i;
    return out;
}

} // namespace ferro::job
