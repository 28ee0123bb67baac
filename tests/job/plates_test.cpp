// Plates of a drawing in colours: the order by a painter that knows nothing of how it was found, islands, pins, jig.
#include "artwork/edits.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "job/plates.h"
#include "job/sheets.h"
#include "support/jobs.h"
#include "support/shapes.h"

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job coloured(const std::vector<std::pair<const char*, Piece>>& pieces) {
    auto job = fresh("laser-700", "black-card");
    auto stock = job.sheet().stock;
    stock.width = 400, stock.height = 300;
    job = with(job, job::withStock(job, stock));
    for (const auto& [layer, piece] : pieces) job = drawn(job, {piece}, layer);
    auto art = *job.artwork;
    for (auto& layer : art.layers) layer.colour = "#1d3b53";
    return job::withArtwork(job, std::move(art));
}
Piece box(double x, double y, double w, double h) { return {rectangle({x, y}, {x + w, y + h}), {}}; }

/// The colour on top at a place: of a drawing by its order, of plates by theirs.
std::string topOf(const artwork::Artwork& art, const std::vector<job::SheetId>& order, Vec2 at) {
    std::string top;
    for (const auto sheet : order)
        for (const auto& item : art.items) {
            const auto* layer = artwork::find(art, item.layer);
            if (item.sheet != sheet || layer->colour.empty()) continue;
            Rings rings;
            const auto piece = artwork::placed(item);
            rings.push_back(flattened(piece.outline, 0.01));
            for (const auto& opening : piece.openings) rings.push_back(flattened(opening, 0.01));
            if (contains(rings, at)) top = layer->name;
        }
    return top;
}
void mustPaintAlike(const job::Job& before, const job::Plates& made) {
    std::vector<job::SheetId> order;
    for (const auto& plate : made.plates) order.push_back(plate.sheet);
    for (double x = 60.3; x < 340; x += 7)
        for (double y = 60.7; y < 250; y += 7) {
            CAPTURE(x, y);
            CHECK(topOf(*made.job.artwork, order, {x, y}) == topOf(*before.artwork, {before.sheet().id}, {x, y}));
        }
}

} // namespace

TEST_CASE("plates: what lies under is painted before, and painted so it looks as it is drawn", "[property]") {
    std::mt19937 random(4);
    for (int round = 0; round < 12; ++round) {
        std::vector<std::pair<const char*, Piece>> pieces;
        const char* names[] = {"sea", "sky", "sand", "moon"};
        const auto some = [&](double from, unsigned range) { return from + static_cast<double>(random() % range); };
        for (int k = 0; k < 7; ++k) {
            const char* name = names[random() % 4];
            const double x = some(60, 180), y = some(60, 120), wide = some(30, 60), high = some(30, 50);
            pieces.emplace_back(name, box(x, y, wide, high));
        }
        const auto job = coloured(pieces);
        const auto made = job::withPlates(job, {});
        REQUIRE(made);
        CAPTURE(round);
        mustPaintAlike(job, *made);
        CHECK(made->job.sheets.size() == made->plates.size() + 1);
        std::size_t again = 0;
        for (const auto& plate : made->plates) again += plate.again;
        CHECK((again == 0) == made->why.empty());
    }
    // What belongs to no plate is told.
    auto line = coloured({{"sea", box(60, 60, 50, 50)}});
    line = drawn(line, {{pathOf(ring("60,150 90,150"), false), {}}}, "sea");
    CHECK(job::withPlates(line, {})->why.front().find("(1) are on no plate") != std::string::npos);
    // Nothing lies over anything: the largest first, one plate each.
    const auto apart = *job::withPlates(coloured({{"moon", box(60, 60, 20, 20)}, {"sea", box(100, 60, 100, 80)}}), {});
    CHECK((apart.plates.size() == 2 && apart.plates[0].layer == "sea"));
    // Over and under one another: only the piece that has to waits.
    const auto both = *job::withPlates(coloured({{"sea", box(60, 60, 50, 50)},
                                                 {"sand", box(80, 80, 50, 50)},
                                                 {"sand", box(200, 60, 50, 50)},
                                                 {"sea", box(220, 80, 50, 50)},
                                                 {"sea", box(60, 200, 20, 20)}}),
                                       {});
    CHECK(both.plates.size() == 3);
    CHECK(both.why.size() == 1);
}

TEST_CASE("plates: the same pins on all, the jig under them, and all of it may be cut") {
    const auto job = coloured({{"sea", box(80, 80, 120, 60)}, {"moon", {circle({150, 150}, 30), {}}}});
    const auto made = *job::withPlates(job, {});
    REQUIRE(made.jig);
    const auto pinsOn = [&](job::SheetId sheet) {
        std::vector<Vec2> at;
        for (const auto& item : made.job.artwork->items)
            if (item.sheet == sheet && artwork::find(*made.job.artwork, item.layer)->name == "pins") {
                CHECK(artwork::boundsOf(item).width() == Approx(4));
                at.push_back(artwork::boundsOf(item).centre());
            }
        return at;
    };
    const auto pins = pinsOn(made.plates[0].sheet);
    REQUIRE(pins.size() == 3);
    CHECK(pinsOn(made.plates[1].sheet) == pins);
    CHECK(pinsOn(*made.jig) == pins);
    // No turn and no mirror takes them onto each other.
    Box plate;
    for (const Vec2 p : pins) plate.take(p);
    const Vec2 middle = plate.centre();
    for (const auto& map :
         {Transform::rotated(pi, middle), Transform::scaled(-1, 1, middle), Transform::scaled(1, -1, middle)})
        CHECK(std::any_of(pins.begin(), pins.end(), [&](Vec2 p) {
            return std::none_of(pins.begin(), pins.end(), [&](Vec2 q) { return distance(map(p), q) < 1; });
        }));
    const auto names = [&] {
        std::vector<std::string> all;
        for (const auto& sheet : made.job.sheets) all.push_back(sheet.name);
        return all;
    }();
    CHECK(names == std::vector<std::string>{"1 sea", "2 moon", "Jig"});
    CHECK(made.job.plan.steps.size() == 2);
    // What is too large says what it takes; what has no colours, so.
    CHECK(job::withPlates(job, {.margin = 120}).problem().mend.find("It takes a sheet of") == 0);
    CHECK_FALSE(job::withPlates(fresh("laser-700", "black-card"), {}));
    CHECK_FALSE(job::withPlates(job, {.pin = 0}));
}

TEST_CASE("plates: what has islands is painted half and half, and no half holds an island") {
    Piece ring{circle({150, 130}, 40), {wound(circle({150, 130}, 20), false)}};
    Piece eight{wound(rectangle({220, 80}, {300, 180}, 10), true),
                {wound(circle({260, 105}, 12), false), wound(circle({255, 150}, 12), false)}};
    const auto job = coloured({{"ink", ring}, {"ink", eight}, {"ink", box(80, 200, 40, 10)}});
    CHECK(job::islandsIn(job).size() == 2);
    const auto left = *job::withPlates(job, {});
    CHECK((left.plates.size() == 1 && left.plates[0].islands == 3));
    const auto made = *job::withPlates(job, {.parted = true});
    REQUIRE(made.plates.size() == 2);
    CHECK((made.plates[1].again && made.why.size() == 1));
    for (const auto& item : made.job.artwork->items)
        if (artwork::find(*made.job.artwork, item.layer)->name == "ink")
            CHECK(artwork::shapeOf(item)->piece.openings.empty());
    mustPaintAlike(job, made);
}
