// Material tests: a card whose cells differ by what it says, and what was found good coming back by itself.
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "job/job_file.h"
#include "job/swatch.h"
#include "job/swatch_reading.h"
#include "plan/selection.h"
#include "shop/fields.h"
#include "support/jobs.h"

#include <set>

using namespace ferro;
using namespace ferro::test;

namespace {
job::Job scrap(const char* machine, const char* material, double width = 120, double height = 90,
               double thickness = 3) {
    auto job = fresh(machine, material);
    auto stock = job.sheet().stock;
    stock.width = width, stock.height = height, stock.thickness = thickness;
    return with(job, job::withStock(job, stock));
}
job::Job cardOf(const job::Job& bench, const job::SwatchCard& card) {
    auto job = job::swatchCard(bench, card);
    INFO((job ? "" : job.problem().text()));
    REQUIRE(job);
    return *job;
}
} // namespace

TEST_CASE("swatch card: every cell is taken by one step with its own settings, all of it on the sheet, apart",
          "[property]") {
    struct Case {
        const char *machine, *material, *kind, *rows, *columns;
        double low, high;
    };
    for (const auto& c : {Case{"laser-700", "poplar", "hatch", "power", "feed", 8, 40},
                          {"laser-700", "black-card", "outline", "power", "feed", 10, 90},
                          {"laser-700", "poplar", "hatch", "spacing", "passes", 0.05, 0.4},
                          {"mill-600", "birch-ply", "clear", "depth", "feed", 0.5, 2},
                          {"knife-600", "film", "slit", "force", "feed", 30, 140}}) {
        CAPTURE(c.machine, c.kind, c.rows);
        const bool mill = std::string(c.machine) == "mill-600";
        const double to = std::string(c.columns) == "passes" ? 5 : 3000,
                     from = std::string(c.columns) == "passes" ? 1 : 800;
        const auto job =
            cardOf(scrap(c.machine, c.material, mill ? 200 : 120, mill ? 150 : 90),
                   {c.kind, {}, {c.rows, c.low, c.high, 4}, {c.columns, from, to, 5}, 0, mill ? 8.0 : 3.0});
        const bool beam = std::string(c.machine) == "laser-700"; // fills its marks too
        const std::size_t first = beam ? 2 : 1;
        REQUIRE(job.plan.steps.size() == first + 20);
        const auto pieces = plan::piecesOf(job.plan, *job.artwork, job.tools);
        std::vector<int> times(pieces.contours.size());
        std::set<std::pair<double, double>> seen;
        std::vector<Box> cells;
        for (std::size_t s = first; s < job.plan.steps.size(); ++s) {
            REQUIRE(pieces.taken[s].size() == 1);
            ++times[pieces.taken[s][0]];
            const double row = numberOf(job.plan.steps[s], c.rows), column = numberOf(job.plan.steps[s], c.columns);
            CHECK(seen.emplace(row, column).second);
            CHECK((row >= c.low - 1e-9 && row <= c.high + 1e-9 && column >= from && column <= to));
            for (const char* name : {c.rows, c.columns})
                CHECK(std::count(job.plan.steps[s].typed.begin(), job.plan.steps[s].typed.end(), name) == 1);
            cells.push_back(boundsOf(pieces.contours[pieces.taken[s][0]].path));
        }
        CHECK(std::all_of(times.begin(), times.end(), [](int n) { return n <= 1; }));
        for (std::size_t a = 0; a < cells.size(); ++a)
            for (std::size_t b = a + 1; b < cells.size(); ++b) CHECK_FALSE(cells[a].grown(0.5).meets(cells[b]));
        for (const auto& item : job.artwork->items)
            CHECK(job::sheetOf(job.sheet().stock).contains(artwork::boundsOf(item)));
        for (const auto taken : pieces.taken[0]) // no label lies in a cell
            for (const auto& cell : cells) CHECK_FALSE(cell.meets(boundsOf(pieces.contours[taken].path)));
        // Marks at the four corners of all cells, just off them; labels that do not lie on each other.
        Box all;
        for (const auto& cell : cells) all.take(cell);
        std::vector<Vec2> marks;
        std::map<std::uint32_t, Box> labels;
        for (const auto& item : job.artwork->items) {
            if (item.name == "mark") marks.push_back(artwork::boundsOf(item).centre());
            if (item.group) labels[item.group.value].take(artwork::boundsOf(item));
        }
        REQUIRE(marks.size() == 4);
        const Box round = all.grown(2.5);
        for (const Vec2 corner :
             {round.low, Vec2{round.high.x, round.low.y}, round.high, Vec2{round.low.x, round.high.y}})
            CHECK(std::any_of(marks.begin(), marks.end(), [&](Vec2 m) { return distance(m, corner) < 1e-6; }));
        CHECK(labels.size() == 4 + 5 + 1);
        for (const auto& [a, one] : labels)
            for (const auto& [b, other] : labels) CHECK((a >= b || !one.meets(other)));
        const auto back = job::jobFromJson(job::jsonOf(job), {});
        REQUIRE(back);
        CHECK(back->plan == job.plan);
    }
    // As large as the sheet takes, whichever way is short: half a millimetre more would not fit.
    const auto cellOf = [](const job::Job& job) {
        return artwork::boundsOf(*std::find_if(job.artwork->items.begin(), job.artwork->items.end(),
                                               [](const auto& i) { return i.name == "cell 1-1"; }))
            .width();
    };
    const job::SwatchAxis power{"power", 10, 60, 4}, feed{"feed", 500, 4000, 5};
    for (const auto& [width, height] : {std::pair{90.0, 200.0}, {200.0, 70.0}}) {
        const auto bench = scrap("laser-700", "poplar", width, height);
        const double cell = cellOf(cardOf(bench, {"hatch", {}, power, feed, 0, 3}));
        CHECK(cellOf(cardOf(bench, {"hatch", {}, power, feed, cell, 3})) == Approx(cell));
        CHECK_FALSE(job::swatchCard(bench, {"hatch", {}, power, feed, cell + 0.5, 3}));
    }
    CHECK(cellOf(cardOf(scrap("laser-700", "poplar"), {"hatch", {}, power, feed, 3, 4})) == Approx(3));
    CHECK_FALSE(job::swatchCard(scrap("laser-700", "poplar"), {"hatch", {}, power, feed, 2.9, 4}));
    CHECK_FALSE(job::swatchCard(scrap("laser-700", "poplar"),
                                {"hatch", {}, power, {"feed", 512.3, 4000.7, 5}, 3, 0.5})); // labels
}

TEST_CASE("swatch card: what cannot be is told with what would do") {
    const auto bench = scrap("laser-700", "poplar");
    const auto told = [&](const job::SwatchCard& card, const job::Job& on) {
        const auto job = job::swatchCard(on, card);
        REQUIRE_FALSE(job);
        return job.problem().text();
    };
    const job::SwatchAxis power{"power", 10, 60, 6}, feed{"feed", 500, 4000, 6};
    CHECK(told({"hatch", {}, power, feed, 30}, bench).find("larger scrap") != std::string::npos);
    CHECK(told({"hatch", {}, power, power, 8}, bench).find("same") != std::string::npos);
    CHECK(told({"hatch", {}, power, {"spindle", 1, 2, 3}, 8}, bench).find("spacing") != std::string::npos);
    CHECK(told({"hatch", {}, {"power", 10, 160, 6}, feed, 8}, bench).find("100") != std::string::npos);
    CHECK(told({"hatch", {}, {"power", 10, 60, 0}, feed, 8}, bench).find("1 to 20") != std::string::npos);
    CHECK(told({"drill", {}, power, feed, 8}, scrap("mill-600", "poplar")).find("drill") != std::string::npos);
    CHECK(told({"clear", {}, power, feed, 8}, bench).find("cannot do") != std::string::npos);
    CHECK(told({"tone", {}, power, feed, 8}, bench).find("tone") != std::string::npos);
}

TEST_CASE("proven: what was found good is begun with on that material, machine, tool and thickness, and nowhere else") {
    const auto bench = scrap("laser-700", "poplar");
    const auto card =
        cardOf(bench, {"hatch", {}, {"power", 10, 60, 6}, {"feed", 500, 4000, 6}, 8, 2, {{"spacing", "0.2mm"}}});
    const auto best = card.plan.steps[16]; // labels and marks come first
    const auto item = std::find_if(card.artwork->items.begin(), card.artwork->items.end(),
                                   [](const auto& i) { return i.name == "cell 3-3"; });
    REQUIRE(item != card.artwork->items.end());
    CHECK(job::stepOn(card, item->id) == best.id);
    const auto proven = job::provenOf(card, best.id, "2026-11-30", "even, no smell");
    REQUIRE(proven);
    CHECK(proven->settings.at("spacing") == 0.2);
    CHECK_FALSE(job::provenOf(card, {9999}, {}, {}));

    auto material = shop::withProven(bench.material, *proven);
    material = shop::withProven(material, *proven); // again: in its place
    CHECK(material.proven.size() == 1);
    auto shelves = shop::Shelves{book(), {}, {}};
    const auto kept = shop::withThing(shelves, material);
    REQUIRE(kept);
    const auto now = job::withMaterial(bench, material);
    const auto fresh = stepped(now, "hatch").plan.steps.back();
    for (const char* name : {"power", "feed", "spacing"}) CHECK(numberOf(fresh, name) == numberOf(best, name));
    const auto* power = plan::fieldNamed(plan::kindOf(fresh), "power");
    const auto from = job::sourceOf(now, fresh, *power);
    CHECK(from.source == job::Source::proven);
    REQUIRE(from.proven);
    CHECK(from.proven->note == "even, no smell");
    auto typed = set(stepped(now, "hatch"), "power", "33");
    CHECK(job::sourceOf(typed, typed.plan.steps.back(), *power).source == job::Source::typed);
    CHECK(numberOf(with(typed, job::withStepReset(typed, lastStep(typed), "power")).plan.steps.back(), "power") ==
          numberOf(best, "power"));
    // Another kind of step, another thickness, another machine: reckoned as ever.
    CHECK(numberOf(stepped(now, "scribe").plan.steps.back(), "power") == material.scribePower);
    auto thick = now.sheet().stock;
    thick.thickness = 3.4;
    CHECK(numberOf(stepped(with(now, job::withStock(now, thick)), "hatch").plan.steps.back(), "power") ==
          material.scribePower);
    auto other = book();
    for (auto& machine : other.machines)
        if (machine.key == "laser-700") machine.key = "laser-900";
    CHECK(numberOf(stepped(job::withMachine(now, *other.machine("laser-900")), "hatch").plan.steps.back(), "power") ==
          material.scribePower);
    const auto back = job::jobFromJson(job::jsonOf(now), {});
    REQUIRE(back);
    CHECK(back->material == material);
    auto absurd = material;
    absurd.proven[0].settings["power"] = std::nan("");
    CHECK_FALSE(shop::checked(absurd));
}

namespace {

/// A picture of a card by a tilted camera in light from one side, each cell as dark as it is told to be.
picture::Grey seenBy(const Viewed& view, const job::Job& card, const std::function<double(const std::string&)>& dark,
                     unsigned seed) {
    struct Spot {
        Box box;
        double dark, uneven;
        bool round;
    };
    std::vector<Spot> spots;
    for (const auto& item : card.artwork->items) {
        const auto& layer = artwork::find(*card.artwork, item.layer)->name;
        if (layer == "marks") spots.push_back({artwork::boundsOf(item), 0.9, 0, true});
        if (item.name.starts_with("cell "))
            spots.push_back({artwork::boundsOf(item), dark(item.name), item.name == "cell 1-1" ? 0.2 : 0, false});
    }
    std::mt19937 random(seed);
    picture::Grey out{view.width, view.height, {}};
    for (int y = 0; y < view.height; ++y)
        for (int x = 0; x < view.width; ++x) {
            const Vec2 mm = view({x + 0.5, y + 0.5});
            double light = 230 - 60.0 * x / view.width;
            for (const auto& spot : spots)
                if (spot.box.contains(mm) && (!spot.round || distance(mm, spot.box.centre()) < spot.box.width() / 2)) {
                    const bool stripe = static_cast<int>(std::floor(mm.x * 2)) % 2 != 0;
                    light *= 1 - spot.dark - (stripe ? spot.uneven : -spot.uneven);
                }
            out.values.push_back(
                static_cast<std::uint8_t>(std::clamp(light + static_cast<double>(random() % 5) - 2, 0.0, 255.0)));
        }
    return out;
}

} // namespace

TEST_CASE("swatch card: a picture of it tells how dark and how even each cell came out, whatever the light") {
    const auto card =
        cardOf(scrap("laser-700", "poplar"), {"hatch", {}, {"power", 8, 40, 4}, {"feed", 1000, 6000, 5}, 0, 3});
    Viewed view;
    view.width = 1200, view.height = 900;
    view.middle = {600, 450}, view.reach = 750;
    view.plane = {70, 4, 60, 3, -71, 45, 0.04, 0.06, 1};
    const auto dark = [](const std::string& name) { // "cell R-C"
        return 0.1 + 0.12 * (name[5] - '1') + 0.05 * ('5' - name[7]);
    };
    const auto picture = seenBy(view, card, dark, 3);
    const auto corners = job::cornerMarksIn(picture::roundMarksIn(picture));
    REQUIRE(corners);
    const auto places = job::cornerMarksOf(card);
    REQUIRE(places.size() == 4);
    for (std::size_t i = 0; i < 4; ++i) CHECK(distance(view((*corners)[i]), places[i]) < 0.05);
    const auto read = job::swatchRead(card, picture, *corners);
    REQUIRE(read);
    REQUIRE(read->cells.size() == 20);
    for (const auto& cell : read->cells) {
        CAPTURE(cell.name);
        CHECK(cell.dark == Approx(dark(cell.name)).margin(0.015));
        CHECK(cell.uneven ==
              Approx(cell.name == "cell 1-1" ? 0.19 : 0.008).margin(cell.name == "cell 1-1" ? 0.03 : 0.006));
        CHECK(cell.step == job::stepOn(card, cell.item));
    }
    REQUIRE(read->best);
    CHECK(read->cells[*read->best].name == "cell 4-1"); // the darkest
    // Corners told wrong, too few, or of something else: said.
    auto wrong = *corners;
    std::swap(wrong[0], wrong[1]);
    CHECK_FALSE(job::swatchRead(card, picture, wrong));
    wrong.pop_back();
    CHECK_FALSE(job::swatchRead(card, picture, wrong));
    CHECK_FALSE(job::swatchRead(scrap("laser-700", "poplar"), picture, *corners));
    CHECK_FALSE(job::swatchRead(card, picture::Grey{1200, 900, std::vector<std::uint8_t>(1200 * 900, 0)}, *corners));
    CHECK_FALSE(job::cornerMarksIn({}));
}
