#include "job/nesting.h"
#include "nest/check.h"

#include "artwork/copies.h"
#include "support/laid.h"

using namespace ferro;
using namespace ferro::test;

namespace {

job::LayingOut quick(const job::Job& job) {
    auto wish = job::usualLayingOut(job);
    wish.how.effort = 100'000;
    return wish;
}
job::Job withPart(const job::Job& job, const char* layer, const artwork::Part& part) {
    artwork::Ids ids;
    for (const auto& item : job.artwork->items)
        if (artwork::find(*job.artwork, item.layer)->name == layer) ids.push_back(item.id);
    return with(job, job::withArtwork(job, artwork::withPart(*job.artwork, ids, part)));
}
/// The least distance of two upright rectangles; 0: they meet.
double apart(const Box& a, const Box& b) {
    return std::hypot(std::max({a.low.x - b.high.x, b.low.x - a.high.x, 0.0}),
                      std::max({a.low.y - b.high.y, b.low.y - a.high.y, 0.0}));
}

} // namespace

TEST_CASE("laying out: copies are made, sheets added, holes and notes go with their part, the plan stays sound") {
    auto job = fresh("mill-1200");
    auto stock = job.sheet().stock;
    stock.width = 400, stock.height = 300, stock.thickness = 6;
    job = with(job, job::withStock(job, stock));
    job = drawn(job, {{wound(rectangle({20, 20}, {170, 120}), true), {}}}, "plates", "plate");
    job = drawn(job, {{circle({60, 60}, 10), {}}}, "holes", "hole"); // a piece of its own, in the plate
    job = drawn(job, {{pathOf(ring("80,60 140,60"), false), {}}}, "marks", "mark");
    job = drawn(job, {{pathOf(ring("350,250 390,250"), false), {}}}, "stray", "stray");
    job = set(stepped(job, "outline", "end-6"), "layers", "plates, holes");
    job = withPart(job, "plates", {.quantity = 9, .turns = artwork::Turns::quarter});
    CHECK(quick(job).how.spacing == Approx(13)); // tabs need stock between the cuts
    job = set(job, "hold", "none");
    const auto wish = quick(job);
    CHECK(wish.how.spacing == Approx(7));
    const auto out = laid(job, wish);
    CHECK(out.left.empty());
    CHECK(out.sheets == 2);
    CHECK(out.job.sheets.size() == 2);
    CHECK(out.job.artwork->sheet == job.artwork->sheet);
    std::map<artwork::SheetId, std::vector<Box>> plates;
    std::size_t inPlates = 0, count = 0;
    for (const auto& item : out.job.artwork->items) {
        if (item.name == "plate") plates[item.sheet].push_back(artwork::boundsOf(item)), ++count;
        if (item.name == "stray") CHECK(item.place == Transform{});
    }
    for (const auto& item : out.job.artwork->items)
        if (item.name == "hole" || item.name == "mark")
            for (const auto& plate : plates[item.sheet]) inPlates += plate.contains(artwork::boundsOf(item));
    CHECK(count == 9);
    CHECK(inPlates == 18);
    for (const auto& [sheet, boxes] : plates)
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            CHECK(Box{{7, 7}, {393, 293}}.grown(0.001).contains(boxes[i]));
            for (std::size_t k = i + 1; k < boxes.size(); ++k) CHECK(apart(boxes[i], boxes[k]) > 6.999);
        }
    // Laid out again, it is the same nine.
    std::size_t again = 0;
    const auto twice = laid(out.job, wish);
    for (const auto& item : twice.job.artwork->items) again += item.name == "plate";
    CHECK(again == 9);
    // Neither more when the original lies behind its copies.
    const auto moved = artwork::withItemsOn(*out.job.artwork, {job.artwork->items[0].id}, out.job.sheets.back().id);
    REQUIRE(moved);
    const auto thrice = laid(job::withArtwork(out.job, *moved), wish);
    CHECK(std::count_if(thrice.job.artwork->items.begin(), thrice.job.artwork->items.end(),
                        [](const auto& item) { return item.name == "plate"; }) == 9);
}

TEST_CASE("laying out: no sheet is shared by materials or thicknesses, and what has none is told") {
    auto job = fresh("mill-1200");
    job = drawn(job, {{wound(rectangle({0, 0}, {50, 50}), true), {}}}, "birch");
    job = drawn(job, {{wound(rectangle({60, 0}, {110, 50}), true), {}}}, "poplar");
    job = drawn(job, {{wound(rectangle({120, 0}, {170, 50}), true), {}}}, "thin");
    job = with(job, job::withSheetAdded(job));
    const auto poplar = book().material("poplar");
    REQUIRE(poplar);
    job = job::withMaterial(job, *poplar);
    const auto second = job.artwork->sheet;
    job = with(job, job::atSheet(job, job.sheets.front().id));
    job = withPart(job, "poplar", {.material = "poplar"});
    job = withPart(job, "thin", {.thickness = 3});
    const auto out = laid(job, quick(job));
    for (const auto& item : out.job.artwork->items) {
        const auto& layer = artwork::find(*out.job.artwork, item.layer)->name;
        if (layer == "poplar") CHECK(item.sheet == second);
        if (layer == "birch") CHECK(item.sheet == job.sheets.front().id);
        if (layer == "thin") CHECK_FALSE(item.sheet);
    }
    REQUIRE(out.left.size() == 1);
    CHECK(out.left[0].find("3 mm thick") != std::string::npos);
}

TEST_CASE("laying out: what is locked stays, the others go round it, an opening is used only where it is cut through") {
    auto job = fresh("mill-1200");
    auto stock = job.sheet().stock;
    stock.width = 260, stock.height = 260;
    job = with(job, job::withStock(job, stock));
    const Piece frame{wound(rectangle({15, 15}, {245, 245}), true), {wound(rectangle({40, 40}, {220, 220}), false)}};
    job = drawn(job, {frame}, "frame");
    job = drawn(job, {{wound(rectangle({400, 0}, {500, 100}), true), {}}}, "square");
    auto locked = *job.artwork;
    locked.items[0].locked = true;
    job = job::withArtwork(job, locked);
    auto wish = quick(job);
    wish.mayAddSheets = false;
    CHECK(laid(job, wish).leftCount == 1); // no step cuts the frame's opening: it may be a mere line
    job = set(set(stepped(job, "outline", "end-6"), "layers", "frame"), "through", "through");
    const auto out = laid(job, wish);
    CHECK(out.leftCount == 0);
    CHECK(artwork::boundsOf(out.job.artwork->items[0]) == artwork::boundsOf(job.artwork->items[0]));
    CHECK(Box{{47, 47}, {213, 213}}.grown(0.002).contains(artwork::boundsOf(out.job.artwork->items[1])));
    Progress progress;
    CHECK_FALSE(job::laidOut(fresh(), {}, progress));
}

TEST_CASE("laying out: locked parts are some of those wanted, stay beside the sheets too, and cannot be copied") {
    auto job = drawn(fresh("mill-1200"), {{wound(rectangle({20, 20}, {120, 80}), true), {}}}, "cut", "plate");
    job = withPart(job, "cut", {.quantity = 4});
    const auto original = job.artwork->items[0].id;
    const auto copied = artwork::withCopies(*job.artwork, {original}, {0, 100}, 1);
    REQUIRE(copied);
    const auto lock = [&](const artwork::Artwork& art, const artwork::Ids& ids) {
        auto locked = artwork::withFlag(art, ids, artwork::Flag::locked, true);
        REQUIRE(locked);
        return job::withArtwork(job, *locked);
    };
    const auto plates = [](const job::LaidOut& out) { return out.job.artwork->items.size(); };
    const auto one = lock(copied->artwork, {original}); // the copy can be copied on
    const auto out = laid(one, quick(one));
    CHECK(plates(out) == 4);
    CHECK(out.stays == 1);
    CHECK(out.leftCount == 0);
    CHECK(artwork::boundsOf(*artwork::find(*out.job.artwork, original)) == artwork::boundsOf(job.artwork->items[0]));
    auto both = lock(copied->artwork, {original, copied->ids[0]});
    both = drawn(both, {{wound(rectangle({300, 300}, {320, 320}), true), {}}}, "other", "tag");
    const auto told = laid(both, quick(both));
    CHECK(plates(told) == 3);
    CHECK(told.leftCount == 2);
    CHECK(told.left.front().find("locked") != std::string::npos);
    const auto beside = artwork::withItemsOn(*job.artwork, {original}, {});
    REQUIRE(beside);
    auto away = lock(*beside, {original});
    away = drawn(away, {{wound(rectangle({300, 300}, {320, 320}), true), {}}}, "other", "tag");
    const auto stayed = laid(away, quick(away));
    CHECK_FALSE(artwork::find(*stayed.job.artwork, original)->sheet);
    CHECK(stayed.stays == 1);
    // What lies beside and is free comes onto a sheet, also what a layout before has left there.
    const auto back = job::withArtwork(job, *beside);
    const auto returned = laid(back, quick(back));
    for (const auto& item : returned.job.artwork->items) CHECK(item.sheet);
}

TEST_CASE("nesting: a kept layout gives pieces their places back, whatever else has changed, but no other shapes") {
    auto job = drawn(fresh(), {{rectangle({10, 10}, {60, 60}), {}}, {rectangle({100, 10}, {150, 40}), {}}});
    const auto first = job.artwork->items[0].id, second = job.artwork->items[1].id;
    auto copied = artwork::withCopies(*job.artwork, {second}, {0, 80}, 2);
    REQUIRE(copied);
    const auto laid = job::withArtwork(job, std::move(copied->artwork));
    // Since then: moved, renamed, one drawn anew.
    auto now =
        with(job, job::withArtwork(job, artwork::withTransformed(*job.artwork, {first}, Transform::moved({300, 0}))));
    now = with(now, job::withArtwork(now, artwork::withName(*now.artwork, {first}, "moon")));
    now = drawn(now, {{circle({300, 300}, 20), {}}}, "cut", "late");
    const auto back = job::withLayoutOf(now, laid);
    REQUIRE(back);
    REQUIRE(back->artwork->items.size() == 5);
    CHECK(artwork::boundsOf(*artwork::find(*back->artwork, first)).low == Vec2{10, 10});
    CHECK(artwork::find(*back->artwork, first)->name == "moon");
    CHECK(artwork::boundsOf(back->artwork->items[4]).low.y == Approx(170));
    // From there to a layout without copies: they go.
    const auto without = job::withLayoutOf(*back, job);
    REQUIRE(without);
    CHECK(without->artwork->items.size() == 3);
    auto reshaped = *now.artwork;
    reshaped.items[0].leaf = artwork::leafOf({rectangle({0, 0}, {9, 9}), {}});
    CHECK(job::withLayoutOf(job::withArtwork(now, reshaped), laid).problem().what.find("moon") != std::string::npos);
}

TEST_CASE("nesting: where one cut serves two parts they are laid exactly a tool's width apart, round openings or not") {
    auto job = fresh("laser-700", "poplar");
    job = drawn(job, {{wound(rectangle({10, 10}, {24, 130}), true), {wound(circle({17, 18}, 2), false)}}}, "slats");
    job = set(stepped(job, "outline"), "shared", "cut once");
    artwork::Part part;
    part.quantity = 6;
    job = with(job, job::withArtwork(job, *artwork::withPart(*job.artwork, {job.artwork->items[0].id}, part)));
    const double width = job::toolOf(job, job.plan.steps[0])->diameter;
    const auto wish = job::usualLayingOut(job);
    CHECK(wish.how.spacing == width);
    auto quick = wish;
    quick.how.effort = 200'000;
    Progress progress;
    const auto laid = job::laidOut(job, quick, progress);
    REQUIRE(laid);
    std::size_t pairs = 0;
    const auto& items = laid->job.artwork->items;
    for (std::size_t i = 0; i < items.size(); ++i)
        for (std::size_t k = i + 1; k < items.size(); ++k) {
            const Box a = boundsOf(artwork::placed(items[i]).outline), b = boundsOf(artwork::placed(items[k]).outline);
            const double gap =
                std::max({a.low.x - b.high.x, b.low.x - a.high.x, a.low.y - b.high.y, b.low.y - a.high.y});
            pairs += std::abs(gap - width) < 0.005;
        }
    CHECK(pairs >= 4);
}
