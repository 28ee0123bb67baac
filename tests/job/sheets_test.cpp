#include "artwork/choose.h"
#include "artwork/copies.h"
#include "job/by_hand.h"
#include "job/job_file.h"
#include "job/kit.h"
#include "job/sheets.h"
#include "support/failing_disk.h"
#include "support/jobs.h"

#include <fstream>
#include <set>

using namespace ferro;
using namespace ferro::test;
using artwork::Ids;

namespace {
const artwork::Item& item(const job::Job& job, artwork::ItemId id) {
    const auto* found = artwork::find(*job.artwork, id);
    REQUIRE(found);
    return *found;
}
job::Job edited(const job::Job& job, Result<artwork::Artwork> next) {
    return with(job, job::withArtwork(job, std::move(next)));
}
/// A wing with an opening, and a lantern beside it.
job::Job puppets() {
    return drawn(
        drawn(fresh(), {{rectangle({10, 10}, {70, 50}, 0), {wound(circle({40, 30}, 10), false)}}}, "cut", "wing"),
        {{circle({120, 40}, 30), {}}}, "cut", "lantern");
}
job::Job copied(const job::Job& job, const Ids& items, Vec2 by, int count) {
    const auto made = artwork::withCopies(*job.artwork, items, by, count);
    REQUIRE(made);
    return job::withArtwork(job, made->artwork);
}
} // namespace

TEST_CASE("sheets: each has its stock, clamps and pieces, and what lies on another is out of sight and not planned") {
    auto job = puppets();
    const auto wing = job.artwork->items[0].id, lantern = job.artwork->items[1].id;
    job = with(job, job::withClamp(job, {{{0, 0}, {5, 5}}, 20}));
    job = stepped(with(job, job::withSheetAdded(job, "")), "outline");
    REQUIRE(job.sheets.size() == 2);
    CHECK(job.sheet().name == "Sheet 2");
    CHECK(job.sheet().clamps.empty());
    job::Stock thin = job.sheet().stock;
    thin.thickness = 4, thin.width = 200;
    job = with(job, job::withStock(job, thin));
    CHECK(job.sheets[0].stock.width == 600);
    CHECK(plan::piecesOf(job.plan, *job.artwork, job.tools).contours.empty());
    job = edited(job, artwork::withItemsOn(*job.artwork, {lantern}, job.sheet().id));
    const auto here = plan::piecesOf(job.plan, *job.artwork, job.tools);
    REQUIRE(here.contours.size() == 1);
    CHECK(here.contours[0].item == lantern);
    // What is drawn lands on the sheet at hand, and is chosen among what lies there.
    job = drawn(job, {{circle({50, 50}, 10), {}}}, "cut", "moon");
    CHECK(artwork::everything(*job.artwork) == Ids{lantern, job.artwork->items.back().id});
    job = with(job, job::atSheet(job, artwork::firstSheet));
    CHECK(job.sheet().clamps.size() == 1);
    CHECK(artwork::everything(*job.artwork) == Ids{wing});
    // A sheet that goes leaves its pieces beside the others, where nothing is cut.
    const auto second = job.sheets[1].id;
    job = with(job, job::withoutSheet(job, second));
    CHECK(item(job, lantern).sheet == job::SheetId{});
    const auto beside = job::atBeside(job);
    CHECK(artwork::everything(*beside.artwork).size() == 2);
    CHECK(plan::piecesOf(beside.plan, *beside.artwork, beside.tools).contours.empty());
    CHECK_FALSE(job::withoutSheet(job, artwork::firstSheet));
    CHECK_FALSE(job::atSheet(job, second));
    // Its number is not given again: what an undo brings back must not meet another sheet.
    CHECK(with(job, job::withSheetAdded(job)).sheets[1].id != second);
}

TEST_CASE("sheets: which one is looked at is no change of the job, and names and places are kept apart") {
    auto job = with(fresh(), job::withSheetAdded(fresh(), "off-cuts"));
    CHECK(with(job, job::atSheet(job, artwork::firstSheet)) == job);
    CHECK_FALSE(job::withSheetNamed(job, artwork::firstSheet, "off-cuts"));
    CHECK_FALSE(job::withSheetNamed(job, artwork::firstSheet, ""));
    job = with(job, job::withSheetMoved(job, job.sheets[1].id, 0));
    CHECK(job.sheets[0].name == "off-cuts");
    CHECK(*job::sheetNamed(job, "2") == artwork::firstSheet);
    CHECK(*job::sheetNamed(job, "off-cuts") == job.sheets[0].id);
    for (const char* word : {"0", "3", "", "sheet", "-1", "99999999999999999999"})
        CHECK_FALSE(job::sheetNamed(job, word));
    // The first sheet's material is the plan's; another's is its own, and stays when the plan's changes.
    job = with(job, job::atSheet(job, artwork::firstSheet));
    job = job::withMaterial(job, *book().material("acrylic"));
    CHECK(job::materialOf(job).key == "acrylic");
    CHECK(job.material.key == "birch-ply");
    job = with(job, job::atSheet(job, job.sheets[0].id));
    job = job::withMaterial(job, *book().material("acrylic"));
    CHECK(job.material.key == "acrylic");
    CHECK_FALSE(job.sheets[1].material);
    job = job::withMaterial(job, *book().material("poplar"));
    CHECK(job.sheets[1].material->key == "acrylic");
}

TEST_CASE("copies: a change of the original or of any copy is all of theirs, each in its own place") {
    auto job = puppets();
    const auto wing = job.artwork->items[0].id;
    job = copied(job, {wing}, {100, 0}, 3);
    const auto kin = artwork::kinOf(*job.artwork, wing);
    REQUIRE(kin.size() == 4);
    job = edited(job, artwork::withTransformed(*job.artwork, {kin[2]}, Transform::rotated(pi / 2, {240, 30})));
    const auto leafOf = [&](artwork::ItemId id) { return item(job, id).leaf; };
    // Another shape for the original, as an edit of its points gives.
    auto art = *job.artwork;
    art.items[0].leaf = artwork::leafOf({rectangle({10, 10}, {30, 20}, 0), {}});
    job = job::withArtwork(job, art);
    for (const auto id : kin) CHECK(leafOf(id) == leafOf(wing));
    CHECK(artwork::boundsOf(item(job, kin[1])) == Box{{110, 10}, {130, 20}});
    CHECK(artwork::boundsOf(item(job, kin[2])).height() == Approx(20)); // it stays turned
    // An edit that lays the shape out anew moves no copy: its own coordinates are another's then.
    art = *job.artwork;
    auto& third = *std::find_if(art.items.begin(), art.items.end(), [&](const auto& i) { return i.id == kin[1]; });
    third.leaf = artwork::leafOf({rectangle({110, 10}, {140, 20}, 0), {}});
    third.place = third.original = {};
    job = job::withArtwork(job, art);
    CHECK(artwork::boundsOf(item(job, wing)) == Box{{10, 10}, {40, 20}});
    CHECK(artwork::boundsOf(item(job, kin[3])) == Box{{310, 10}, {340, 20}});
    CHECK(artwork::boundsOf(item(job, kin[2])).height() == Approx(30));
    // Moving one moves no other.
    job = edited(job, artwork::withTransformed(*job.artwork, {wing}, Transform::moved({0, 200})));
    CHECK(artwork::boundsOf(item(job, kin[3])) == Box{{310, 10}, {340, 20}});
    // The original goes: the first copy is the original.
    job = edited(job, artwork::withRemoved(*job.artwork, {wing}));
    CHECK_FALSE(item(job, kin[1]).of);
    CHECK(item(job, kin[3]).of == kin[1]);
    // On its own it no longer follows.
    job = edited(job, artwork::withOwnShapes(*job.artwork, {kin[3]}));
    art = *job.artwork;
    for (auto& i : art.items)
        if (i.id == kin[1]) i.leaf = artwork::leafOf({circle({0, 0}, 5), {}});
    job = job::withArtwork(job, art);
    CHECK(artwork::boundsOf(item(job, kin[3])) == Box{{310, 10}, {340, 20}});
    CHECK_FALSE(artwork::withOwnShapes(*job.artwork, {kin[3]}));
    CHECK_FALSE(artwork::withCopies(*job.artwork, {kin[3]}, {1, 1}, 0));
    CHECK_FALSE(artwork::withCopies(*job.artwork, {kin[3]}, {1, 1}, 20'000));
}

TEST_CASE(
    "copies: thousands of a group, each a group of its own at its place, and what is locked is not laid elsewhere") {
    auto job = puppets();
    const Ids both{job.artwork->items[0].id, job.artwork->items[1].id};
    job = edited(job, artwork::withGrouped(*job.artwork, both, "set"));
    constexpr int count = 5000;
    const auto made = artwork::withCopies(*job.artwork, both, {1, -2}, count);
    REQUIRE(made);
    REQUIRE(made->ids.size() == 2 * count);
    std::set<artwork::GroupId> groups;
    std::set<artwork::ItemId> ids(made->ids.begin(), made->ids.end());
    CHECK(ids.size() == 2 * count);
    for (std::size_t n = 0; n < made->ids.size(); ++n) {
        const auto& copy = *artwork::find(made->artwork, made->ids[n]);
        const auto& original = *artwork::find(made->artwork, both[n % 2]);
        const double times = static_cast<double>(n / 2 + 1);
        if (copy.of != original.id || copy.leaf != original.leaf) FAIL("not a copy of its original");
        if (distance(artwork::boundsOf(copy).low, artwork::boundsOf(original).low + Vec2{1, -2} * times) > 1e-6)
            FAIL("not at its place");
        groups.insert(copy.group);
    }
    CHECK(groups.size() == count);
    CHECK_FALSE(groups.contains(artwork::find(made->artwork, both[0])->group));
    job = edited(job, artwork::withFlag(*job.artwork, {both[0]}, artwork::Flag::locked, true));
    CHECK_FALSE(artwork::withItemsOn(*job.artwork, {both[1]}, {})); // its mate would come along
}

TEST_CASE("parts: facts stand on the outermost piece, a copy's are its original's") {
    auto job = puppets();
    const auto wing = job.artwork->items[0].id;
    job = drawn(job, {{circle({25, 20}, 4), {}}}, "holes", "eye"); // inside the wing
    const auto eye = job.artwork->items.back().id;
    const artwork::Part facts{
        .quantity = 4, .material = "birch-ply", .thickness = 12, .turns = artwork::Turns::half, .labels = {"act 2"}};
    job = edited(job, artwork::withPart(*job.artwork, {wing, eye}, facts));
    CHECK(artwork::partOf(*job.artwork, item(job, wing)) == facts);
    CHECK_FALSE(item(job, eye).part);
    job = copied(job, {wing, eye}, {0, 100}, 1);
    const auto copy = artwork::kinOf(*job.artwork, wing)[1];
    CHECK(artwork::partOf(*job.artwork, item(job, copy)) == facts);
    job = edited(job, artwork::withPart(*job.artwork, {copy}, {}));
    CHECK(artwork::partOf(*job.artwork, item(job, wing)) == artwork::Part{});
    for (const int wrong : {0, -3, 1'000'000})
        CHECK_FALSE(artwork::withPart(*job.artwork, {wing}, {.quantity = wrong}));
    CHECK_FALSE(artwork::withPart(*job.artwork, {wing}, {.thickness = -1}));
}

TEST_CASE("job file: sheets, copies and parts come back as they were", "[property]") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        auto job = randomJob(seed);
        for (int i = 0; i < 6; ++i) {
            const auto& items = job.artwork->items;
            const auto any = items[random() % items.size()].id;
            switch (random() % 5) {
            case 0: job = with(job, job::withSheetAdded(job)); break;
            case 1: job = copied(job, {any}, {double(random() % 50), 7}, 1 + static_cast<int>(random() % 3)); break;
            case 2:
                job = edited(job, artwork::withItemsOn(*job.artwork, {any},
                                                       random() % 3 ? job.sheets[random() % job.sheets.size()].id
                                                                    : job::SheetId{}));
                break;
            case 3:
                job = edited(job, artwork::withPart(*job.artwork, {any},
                                                    {.quantity = 1 + static_cast<int>(random() % 9),
                                                     .mirror = random() % 2 == 0,
                                                     .labels = {"left", "oak “old”"}}));
                break;
            default: job = job::withMaterial(job, *book().material(random() % 2 ? "acrylic" : "poplar"));
            }
        }
        const auto bytes = job::toBytes(job);
        REQUIRE(bytes);
        const auto back = job::fromBytes(*bytes);
        INFO((back ? "" : back.problem().text()));
        REQUIRE(back);
        CHECK(*back == job);
        CHECK(back->artwork->sheet == job.artwork->sheet);
        CHECK(*job::toBytes(*back) == *bytes);
    }
}

TEST_CASE("job file: lost sheets and copies of nothing are refused by name") {
    auto job = with(fresh(), job::withSheetAdded(puppets()));
    job = copied(job, {job.artwork->items[0].id}, {100, 0}, 1);
    const auto refusal = [&](const std::function<void(job::Job&, artwork::Artwork&)>& spoil) {
        auto spoilt = job;
        auto art = *job.artwork;
        spoil(spoilt, art);
        spoilt.artwork = std::make_shared<const artwork::Artwork>(art);
        const auto bytes = job::toBytes(spoilt);
        REQUIRE(bytes);
        const auto back = job::fromBytes(*bytes);
        REQUIRE_FALSE(back);
        return back.problem().text();
    };
    using Catch::Matchers::Contains;
    CHECK_THAT(refusal([](auto&, auto& a) { a.items[1].sheet = {77}; }), Contains("lantern") && Contains("sheet"));
    CHECK_THAT(refusal([](auto& j, auto&) { j.sheets[1].id = j.sheets[0].id; }), Contains("Sheet 2"));
    CHECK_THAT(refusal([](auto& j, auto&) { j.sheets.clear(); }), Contains("1 to 1000"));
    CHECK_THAT(refusal([](auto&, auto& a) { a.items.back().of = {500}; }), Contains("copy"));
    CHECK_THAT(refusal([](auto&, auto& a) { a.items.back().of = a.items.back().id; }), Contains("copy"));
    CHECK_THAT(refusal([](auto& j, auto&) { j.sheets[1].stock.width = -5; }), Contains("Sheet 2"));
    CHECK_THAT(refusal([](auto&, auto& a) {
                   a.items[0].part = std::make_shared<const artwork::Part>(artwork::Part{.quantity = 0});
               }),
               Contains("0 times"));
}

TEST_CASE("job file: how a picture is traced is kept with it") {
    const auto bytes = realDisk().read(std::string(FERRO_DEMO) + "/heron-ink.png");
    REQUIRE(bytes);
    auto art =
        artwork::withPicture(
            {}, {"heron-ink.png", std::make_shared<const std::string>(*bytes), *picture::decoded(*bytes), {148, 196}},
            {3, 4})
            .artwork;
    artwork::Recipe recipe;
    recipe.whole.find = artwork::Find::colours;
    recipe.whole.palette = {{1, 2, 3}, {255, 16, 0}};
    recipe.whole.only = {{1, 2}, {30, 40}};
    recipe.patches.push_back({{{0, 0}, {10, 0}, {5, 8}}, [] {
                                  artwork::TraceSettings s;
                                  s.find = artwork::Find::strokes, s.level = 99;
                                  return s;
                              }()});
    art.items[0].recipe = std::make_shared<const artwork::Recipe>(recipe);
    const auto job = job::withArtwork(fresh(), art);
    const auto back = job::fromBytes(*job::toBytes(job));
    INFO((back ? "" : back.problem().text()));
    REQUIRE(back);
    CHECK(*back->artwork->items[0].recipe == recipe);
    recipe.whole.level = 400;
    art.items[0].recipe = std::make_shared<const artwork::Recipe>(recipe);
    CHECK_FALSE(job::fromBytes(*job::toBytes(job::withArtwork(fresh(), art))));
}

TEST_CASE("kit: there is a sheet for each material and thickness that parts ask for, the lone empty one first") {
    auto job = fresh("mill-600", "birch-ply");
    const auto drawn = artwork::withPieces(
        *job.artwork,
        {{rectangle({0, 0}, {50, 50}), {}}, {rectangle({60, 0}, {90, 50}), {}}, {rectangle({100, 0}, {130, 50}), {}}},
        "cut", "wing");
    const auto asks = [](artwork::Artwork art, artwork::ItemId id, const char* material, double thickness) {
        return *artwork::withPart(art, {id}, {.material = material, .thickness = thickness});
    };
    auto art = asks(drawn.artwork, drawn.ids[0], "birch-ply", 6);
    art = asks(art, drawn.ids[1], "poplar", 3);
    art = asks(art, drawn.ids[2], "birch-ply", 6);
    const auto kit = with(job, job::withSheetsForParts(job::withArtwork(job, art), book()));
    REQUIRE(kit.sheets.size() == 2);
    CHECK(kit.sheets[0].stock.thickness == 6);
    CHECK(kit.sheets[0].name == "Birch ply 6 mm");
    CHECK(kit.sheets[1].stock.thickness == 3);
    CHECK(job::materialOf(*job::atSheet(kit, kit.sheets[1].id)).key == "poplar");
    CHECK(kit.sheets[1].stock.width == job.sheet().stock.width);
    CHECK(kit.sheet().id == job.sheet().id);
    // Once more there is nothing left to be added; a part of any kind asks for none.
    CHECK(with(kit, job::withSheetsForParts(kit, book())).sheets.size() == 2);
    CHECK(with(job, job::withSheetsForParts(job::withArtwork(job, drawn.artwork), book())).sheets.size() == 1);
    CHECK_FALSE(job::withSheetsForParts(job::withArtwork(job, asks(art, drawn.ids[0], "granite", 6)), book()));
}

TEST_CASE("sheets: mirrored for film that is cut from its back, told where it is not, and back again") {
    auto job = test::fresh("knife-600", "iron-on");
    job = test::drawn(job, {{pathOf(ring("40,40 140,40 40,90"), true), {}}}, "film");
    job = test::stepped(job, "slit");
    const auto before = boundsOf(artwork::placed(job.artwork->items[0]).outline);
    CHECK_FALSE(job.sheet().mirrored);
    const auto mirrored = *job::withSheetMirrored(job, true);
    CHECK(mirrored.sheet().mirrored);
    const auto outline = artwork::placed(mirrored.artwork->items[0]).outline;
    CHECK(boundsOf(outline).low.x == Approx(job.sheet().stock.width - before.high.x));
    CHECK(boundsOf(outline).low.y == Approx(before.low.y));
    CHECK(contains(flattened(outline, 0.01), {job.sheet().stock.width - 45, 50})); // the right angle changed sides
    CHECK(*job::withSheetMirrored(mirrored, true) == mirrored);
    CHECK(*job::withSheetMirrored(mirrored, false) == job);
    CHECK_FALSE(test::with(mirrored, job::withSheetAdded(mirrored)).sheet().mirrored);
    const auto bytes = job::toBytes(mirrored);
    REQUIRE(bytes);
    CHECK(job::fromBytes(*bytes)->sheet().mirrored);
}

TEST_CASE("sheets: pieces laid on another sheet keep their place where it is free, and find one where it is not") {
    auto job = drawn(fresh(), {{rectangle({60, 60}, {160, 130}), {}}}, "cut");
    const auto piece = job.artwork->items[0].id;
    job = with(job, job::withSheetAdded(job));
    const auto second = job.sheets[1].id;
    const auto at = [&](const job::Job& of, artwork::ItemId id) {
        return boundsOf(artwork::placed(*artwork::find(*of.artwork, id)).outline);
    };
    const auto empty = job::laidOn(job, {piece}, second, 7, 5);
    REQUIRE(empty);
    CHECK((empty->fits && !empty->moved));
    CHECK(at(empty->job, piece).low.x == Approx(60));
    CHECK(artwork::find(*empty->job.artwork, piece)->sheet == second);
    // Something lies there: clear of it by the spacing, within the margin.
    auto full = drawn(job, {{rectangle({30, 30}, {200, 200}), {}}}, "cut");
    const auto other = full.artwork->items.back().id;
    const auto beside = job::laidOn(full, {piece}, second, 7, 5);
    REQUIRE(beside);
    CHECK((beside->fits && beside->moved));
    const Box box = at(beside->job, piece), still = at(beside->job, other);
    CHECK_FALSE(box.grown(6.99).meets(still));
    CHECK(box.low.x > 4.99);
    CHECK(box.low.y > 4.99);
    CHECK(box.width() == Approx(100));
    // No room anywhere.
    full = drawn(job, {{rectangle({30, 30}, {570, 370}), {}}}, "cut");
    const auto none = job::laidOn(full, {piece}, second, 7, 5);
    REQUIRE(none);
    CHECK_FALSE(none->fits);
    CHECK(at(none->job, piece).low.x == Approx(60));
}

TEST_CASE("tray: its size has limits, it is kept with the sheet, and what lies where is told in the order of cutting") {
    auto job = fresh("mill-1200");
    auto stock = job.sheet().stock;
    stock.width = 200, stock.height = 100;
    job = with(job, job::withStock(job, stock));
    using job::Tray;
    for (const Tray& bad : {Tray{1, 1, 10, 10}, Tray{0, 4, 10, 10}, Tray{101, 1, 10, 10}, Tray{50, 50, 10, 10},
                            Tray{2, 2, -1, 10}, Tray{2, 2, 10, 1001}, Tray{2, 2, std::nan(""), 10}})
        CHECK_FALSE(job::withTray(job, bad));
    const auto tray = with(job, job::withTray(job, Tray{3, 2, 10, 25, job::TrayOrder::stepByStep, false}));
    CHECK(job::placesOf(tray.sheet()) ==
          std::vector<Vec2>{{0, 0}, {210, 0}, {420, 0}, {420, 125}, {210, 125}, {0, 125}});
    CHECK(job::trayOf(tray.sheet()).width() == 620);
    CHECK(job::trayOf(tray.sheet()).height() == 225);
    CHECK_FALSE(with(tray, job::withSheetAdded(tray)).sheet().tray); // another sheet is a blank by itself
    const auto back = job::jobFromJson(job::jsonOf(tray), {});
    REQUIRE(back);
    CHECK(back->sheet().tray == tray.sheet().tray);
    CHECK(job::jsonOf(job).find("\"tray\"") == std::string::npos);
    auto text = job::jsonOf(tray);
    text.replace(text.find("\"columns\": 3"), 12, "\"columns\": 0");
    CHECK_FALSE(job::jobFromJson(text, {}));
    // As many as go onto 1200 by 800; one alone is no tray.
    const auto filled = with(job, job::withTrayFilled(job, 20, 0));
    CHECK(filled.sheet().tray->columns == 5);
    CHECK(filled.sheet().tray->rows == static_cast<int>(job.machine.bedY / 100));
    stock.width = job.machine.bedX - 50, stock.height = job.machine.bedY - 50;
    CHECK_FALSE(job::withTrayFilled(with(job, job::withStock(job, stock)), 5, 5));
}
