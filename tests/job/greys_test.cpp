// Greys from a swatch card, judged by what a material of known response would show.
#include "job/greys.h"
#include "plan/fields.h"
#include "support/jobs.h"

#include <cmath>

using namespace ferro;

namespace {

job::Job ladder(double from, double to, int count) {
    const auto bench = test::with({}, job::withStock(test::fresh("laser-700", "poplar"), [] {
                                      job::Stock stock;
                                      stock.width = 200, stock.height = 90, stock.thickness = 3;
                                      return stock;
                                  }()));
    return test::with(bench,
                      job::swatchCard(bench, {"hatch", {}, {"feed", 2000, 3000, 2}, {"power", from, to, count}, 0, 3}));
}
/// Every cell of a card as dark as this says of its power, at the feed of the first row; half of that at the other.
template<class Dark> job::SwatchReading seen(const job::Job& card, Dark&& dark) {
    job::SwatchReading read;
    for (const auto& step : card.plan.steps) {
        const auto* beam = plan::beamIn(step);
        if (step.name.find("power") == std::string::npos) continue; // its marks
        const double share = plan::ratesIn(step)->feed < 2500 ? 1 : 0.5;
        read.cells.push_back({.item = {},
                              .name = step.name,
                              .step = step.id,
                              .outline = {},
                              .dark = share * dark(beam->power),
                              .uneven = 0});
    }
    return read;
}
/// The farthest that what is burnt is from what was wanted, on a material of this response.
template<class Dark> double worst(const job::Greys& greys, double full, Dark&& dark) {
    double off = 0;
    for (int i = 1; i < 50; ++i) {
        const double t = i / 50.0;
        off = std::max(off,
                       std::abs(dark(greys.least + (greys.power - greys.least) * std::pow(t, greys.gamma)) / full - t));
    }
    return off;
}

} // namespace

TEST_CASE("greys: a gamma from the card makes even steps on the material that it was burnt on", "[property]") {
    const auto card = ladder(4, 60, 15);
    for (const double bend : {0.5, 0.8, 1.3, 2.0})
        for (const double begins : {0.0, 8.0}) {
            const auto dark = [&](double power) {
                return 0.8 * std::pow(std::clamp((power - begins) / (44 - begins), 0.0, 1.0), bend);
            };
            const auto read = seen(card, dark);
            const auto greys = job::greysFrom(card, read, read.cells[0].step);
            REQUIRE(greys);
            CAPTURE(bend, begins, greys->power, greys->least, greys->gamma, greys->off, greys->offPlain);
            CHECK(greys->power == Approx(44).margin(4.1)); // cells are 4 % apart
            CHECK(greys->least == Approx(begins).margin(4.1));
            CHECK(worst(*greys, 0.8, dark) < 0.12);
            CHECK(worst(*greys, 0.8, dark) == Approx(greys->off).margin(0.08));
            CHECK(greys->off < greys->offPlain);
        }
}

TEST_CASE("greys: they are what tone steps begin with, and too few cells, or too faint ones, are told") {
    const auto card = ladder(5, 50, 10);
    const auto read = seen(card, [](double power) { return 0.9 * std::pow(power / 50, 1.5); });
    const auto greys = job::greysFrom(card, read, read.cells[0].step);
    REQUIRE(greys);
    auto proven = job::provenGreys(card, *greys, read.cells[0].step, "2026-12-01", "even");
    REQUIRE(proven);
    CHECK(proven->kind == "tone");
    auto job = test::fresh("laser-700", "poplar");
    job.material = shop::withProven(job.material, *proven);
    job.sheets[0].stock.thickness = 3;
    job = test::stepped(job, "tone");
    CHECK(test::numberOf(job.plan.steps[0], "gamma") == greys->gamma);
    CHECK(test::numberOf(job.plan.steps[0], "power") == greys->power);
    CHECK(test::numberOf(job.plan.steps[0], "feed") == 2000);
    const auto faint = job::greysFrom(card, seen(card, [](double) { return 0.02; }), read.cells[0].step);
    REQUIRE_FALSE(faint);
    CHECK(faint.problem().what.find("only 2 % darker") != std::string::npos);
    // Cells of one power count as their mean.
    auto twice = read;
    for (const auto& cell : read.cells) {
        twice.cells.push_back(cell);
        twice.cells.back().dark *= 1.2;
    }
    const auto mean = job::greysFrom(card, twice, read.cells[0].step);
    REQUIRE(mean);
    REQUIRE(mean->measured.size() == greys->measured.size());
    CHECK(mean->measured.back().second == Approx(1.1 * greys->measured.back().second));
    CHECK_FALSE(job::greysFrom(card, read, {}));
    const auto few = ladder(10, 30, 3);
    const auto readFew = seen(few, [](double power) { return power / 60; });
    const auto none = job::greysFrom(few, readFew, readFew.cells[0].step);
    REQUIRE_FALSE(none);
    CHECK(none.problem().what.find("only 3 cells") != std::string::npos);
}
