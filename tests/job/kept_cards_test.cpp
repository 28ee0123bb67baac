// Swatch cards that the shop book keeps with their plan.
#include "job/kept_cards.h"
#include "job/swatch.h"
#include "plan/fields.h"
#include "support/jobs.h"
#include "support/own_home.h"

#include <algorithm>

using namespace ferro;
using namespace ferro::test;

namespace {
job::Job card(double most) {
    auto bench = fresh("laser-700", "poplar");
    auto stock = bench.sheet().stock;
    stock.width = 120, stock.height = 90, stock.thickness = 3;
    bench = with(bench, job::withStock(bench, stock));
    return with(bench, job::swatchCard(bench, {"hatch", {}, {"power", 8, most, 4}, {"feed", 1000, 6000, 5}, 0, 3}));
}
} // namespace

TEST_CASE("cards: a card is kept with its plan, once, found by its date and material, and forgotten") {
    const auto one = card(40), other = card(60);
    const auto key = job::keepCard(realDisk(), one, "2026-12-01");
    REQUIRE(key);
    CHECK(*key == "2026-12-01-hatch-poplar");
    CHECK(*job::keepCard(realDisk(), one, "2026-12-05") == *key);
    CHECK(*job::keepCard(realDisk(), other, "2026-12-01") == "2026-12-01-hatch-poplar-2");
    CHECK(*job::keepCard(realDisk(), card(50), "2026-12-03") == "2026-12-03-hatch-poplar");
    const auto kept = job::keptCards(realDisk());
    REQUIRE(kept.size() == 3);
    CHECK(kept.front().date == "2026-12-03"); // the newest first
    CHECK(*job::keptCard(realDisk(), *key) == one);
    for (const char* no : {"2026-12-09-hatch", "../cards/2026-12-01-hatch-poplar", "", ".."}) {
        const auto none = job::keptCard(realDisk(), no);
        REQUIRE_FALSE(none);
        CHECK(none.problem().mend.find("2026-12-01-hatch-poplar") != std::string::npos);
        CHECK_FALSE(job::forgetCard(realDisk(), no));
    }
    for (const auto& one_ : kept) CHECK(job::forgetCard(realDisk(), one_.key));
    CHECK(job::keptCards(realDisk()).empty());
    CHECK_FALSE(job::keepCard(realDisk(), one, "today/or so"));
}
