// Printed, put on the bed askew, photographed by the stand-in's camera, found, and cut where it lies.
#include "artwork/edits.h"
#include "job/camera.h"
#include "job/edits.h"
#include "print/artwork_page.h"
#include "standin/camera.h"
#include "support/jobs.h"
#include "support/own_home.h"

#include <random>

using namespace ferro;
using namespace ferro::test;
using standin::Eye;
using standin::Lying;

namespace {

job::Job cutter() { return fresh("laser-700", "black-card"); }

/// Moons to be cut out, each printed with a shape of its own.
job::Job stickers() {
    auto job = cutter();
    auto stock = job.sheet().stock;
    stock.width = 300, stock.height = 200;
    job = with(job, job::withStock(job, stock));
    std::vector<Piece> moons, prints;
    for (int k = 0; k < 3; ++k) {
        moons.push_back({circle({60.0 + 80 * k, 90 + 10.0 * k}, 25), {}});
        prints.push_back({rectangle({50.0 + 80 * k, 85 + 10.0 * k}, {70.0 + 80 * k, 95 + 10.0 * k}), {}});
    }
    job = drawn(drawn(job, moons, "cut"), prints, "ink");
    auto art = *artwork::withLayerFlag(*job.artwork, "ink", artwork::Flag::notes, true);
    job = job::withArtwork(job, std::move(art));
    return with(job, job::withMarks(stepped(job, "outline"), {}));
}

picture::Grey seen(const job::Job& job, const Lying& lying, const Eye& eye) {
    const auto page = print::artworkPicture(job, {}, 12);
    REQUIRE(page);
    return standin::photographed(picture::greyOf(*page), 12, lying, eye);
}

Result<std::vector<std::optional<Vec2>>> foundBy(const job::Job& job, const Viewed& camera, const picture::Grey& grey) {
    return job::marksSeen(job, camera, picture::roundMarksIn(grey), grey.width, grey.height);
}

/// A camera as its card told it.
Viewed cameraBy(Eye eye) {
    auto bench = cutter();
    auto stock = bench.sheet().stock;
    stock.width = 310, stock.height = 210;
    bench = with(bench, job::withStock(bench, stock));
    auto card = job::cameraCard(bench);
    REQUIRE(card);
    // What the machine makes is what would be printed, were it not cut.
    auto shown = *card;
    for (auto& step : shown.plan.steps) step.enabled = false;
    eye.seed += 1000;
    const auto camera = job::cameraFrom(*card, picture::roundMarksIn(seen(shown, {}, eye)), eye.width, eye.height);
    if (!camera) FAIL(camera.problem().what + " " + camera.problem().where);
    CHECK(camera->found == camera->of);
    CHECK(camera->worst < 0.05);
    return camera->view;
}

} // namespace

TEST_CASE("cut to print: what was printed is cut where it lies, to a twentieth, however it was seen", "[property]") {
    const auto job = stickers();
    const auto marks = job::marksOf(job);
    REQUIRE(marks.size() >= 5);
    for (unsigned seed = 0; seed < 3; ++seed) {
        std::mt19937 random(seed + 5);
        const auto some = [&](double size) { return size * (static_cast<double>(random() % 2001) / 1000 - 1); };
        Lying lying;
        lying.shift = {some(3), some(3)};
        lying.turn = some(1.5) * pi / 180;
        lying.wider = 1 + some(0.004), lying.higher = 1 + some(0.006), lying.skew = some(0.002);
        Eye eye;
        eye.width = 1800, eye.height = 1350;
        eye.tilt = some(8) * pi / 180, eye.roll = some(4) * pi / 180;
        eye.bend = some(0.06);
        eye.blur = 0.6 + 0.3 * seed, eye.noise = 2.0 * seed, eye.gloom = 0.1 * seed;
        eye.seed = seed + 1;
        CAPTURE(seed, lying.shift, lying.turn, eye.tilt, eye.bend);
        const auto camera = cameraBy(eye);
        const auto found = foundBy(job, camera, seen(job, lying, eye));
        REQUIRE(found);
        for (std::size_t i = 0; i < marks.size(); ++i) {
            CAPTURE(i);
            REQUIRE((*found)[i].has_value());
            CHECK(distance(*(*found)[i], lying.map()(marks[i].at)) < 0.05);
        }
        const auto correction = job::correctionBy(job, *found);
        REQUIRE(correction);
        CHECK(correction->worst < 0.05);
        CHECK(correction->turn == Approx(lying.turn).margin(0.0004));
        CHECK(correction->wider == Approx(lying.wider).margin(0.0004));
        CHECK(correction->skew == Approx(lying.skew).margin(0.0005));
        const auto corrected = with(job, job::withCorrection(job, *correction));
        // Each moon lies where its print does.
        double worst = 0;
        for (std::size_t k = 0; k < job.artwork->items.size(); ++k) {
            const auto &before = job.artwork->items[k], &after = corrected.artwork->items[k];
            const Vec2 middle = artwork::shapeOf(before)->bounds.centre();
            worst = std::max(worst, distance(after.place(middle), lying.map()(before.place(middle))));
        }
        CHECK(worst < 0.05);
    }
}

TEST_CASE("cut to print: what is in the way, missing, upside down or of another size is told, never guessed") {
    const auto job = stickers();
    const auto marks = job::marksOf(job);
    Eye eye;
    eye.width = 1200, eye.height = 900;
    eye.seed = 7;
    const auto camera = cameraBy(eye);
    const auto found = [&](const job::Job& shown, const Lying& lying) {
        const auto all = foundBy(job, camera, seen(shown, lying, eye));
        REQUIRE(all);
        return *all;
    };
    // Two marks covered, and round spots of the same size beside.
    auto covered = job;
    auto art = *artwork::withRemoved(*covered.artwork, {marks[0].item, marks[4].item});
    art = artwork::withPieces(art, {{circle({150, 150}, 2.5), {}}, {circle({30, 20}, 2.5), {}}}, "ink", "blot").artwork;
    covered = job::withArtwork(covered, std::move(art));
    Lying lying;
    lying.shift = {2, -1}, lying.turn = 0.02;
    const auto most = found(covered, lying);
    for (std::size_t i = 0; i < marks.size(); ++i) {
        CAPTURE(i);
        REQUIRE(most[i].has_value() == (i != 0 && i != 4));
        if (most[i]) CHECK(distance(*most[i], lying.map()(marks[i].at)) < 0.05);
    }
    CHECK(job::correctionBy(job, most));
    // The other way round: found as it lies.
    Lying turned;
    turned.turn = pi, turned.shift = {300, 200};
    const auto round = job::correctionBy(job, found(job, turned));
    REQUIRE(round);
    CHECK(std::abs(round->turn) == Approx(pi).margin(0.001));
    // Fitted to the page by the printer: not taken.
    Lying small;
    small.wider = small.higher = 0.92;
    const auto fitted = job::correctionBy(job, found(job, small));
    REQUIRE_FALSE(fitted);
    CHECK(fitted.problem().what.find("92.0 % wide and 92.0 % high") != std::string::npos);
    // All but a few covered: what is left is not taken for the print.
    artwork::Ids hidden;
    for (std::size_t i = 2; i < marks.size(); ++i) hidden.push_back(marks[i].item);
    const auto few = found(job::withArtwork(job, *artwork::withRemoved(*job.artwork, hidden)), {});
    CHECK(std::none_of(few.begin(), few.end(), [](const auto& place) { return place.has_value(); }));
    std::vector<std::optional<Vec2>> told;
    for (const auto& mark : marks) told.emplace_back(small.map()(mark.at));
    CHECK_FALSE(job::correctionBy(job, told));
    // A mark that was told wrong is told.
    told.clear();
    for (const auto& mark : marks) told.emplace_back(mark.at);
    *told[2] = *told[2] + Vec2{3, 0};
    const auto off = job::correctionBy(job, told);
    REQUIRE_FALSE(off);
    CHECK(off.problem().what.find("off the others") != std::string::npos);
    told.resize(1);
    CHECK_FALSE(job::correctionBy(job, told));
    // Another camera's picture, a sheet without marks, a job that is no card.
    auto otherEye = eye;
    otherEye.width = 1000;
    CHECK_FALSE(foundBy(job, camera, seen(job, {}, otherEye)));
    CHECK_FALSE(foundBy(cutter(), camera, seen(job, {}, eye)));
    CHECK_FALSE(job::cameraFrom(job, {}, 1200, 900));
    CHECK_FALSE(job::cameraFrom(*job::cameraCard(cutter()), {}, 1200, 900));
}

TEST_CASE("cut to print: marks go round the artwork, once, and nothing cuts them, what moves keeps its locks") {
    auto job = stickers();
    const auto marks = job::marksOf(job);
    Box box;
    for (const auto& mark : marks) {
        box.take(mark.at);
        CHECK(mark.radius == Approx(2.5));
    }
    CHECK(box.low.x == Approx(35 - 8.5));
    CHECK(box.high.y == Approx(135 + 8.5));
    const auto pieces = plan::piecesOf(job.plan, *job.artwork, job.tools);
    CHECK(pieces.taken[0].size() == 3);
    job = with(job, job::withMarks(job, {.diameter = 8, .gap = 2, .spacing = 40}));
    CHECK(job::marksOf(job).size() > marks.size());
    CHECK(job::marksOf(job)[0].radius == Approx(4));
    CHECK_FALSE(job::withMarks(job, {.gap = 60}));
    CHECK_FALSE(job::withMarks(job, {.diameter = 1}));
    CHECK_FALSE(job::withMarks(cutter(), {}));
    auto art = *artwork::withFlag(*job.artwork, {job.artwork->items[0].id}, artwork::Flag::locked, true);
    job = job::withArtwork(job, std::move(art));
    job::Correction shift;
    shift.map = Transform::moved({3, 4});
    const auto moved = with(job, job::withCorrection(job, shift));
    CHECK(moved.artwork->items[0].locked);
    CHECK(moved.artwork->items[0].place.tx == Approx(job.artwork->items[0].place.tx + 3));
}

TEST_CASE("cut to print: the page is as large as the sheet and leaves out what is cut, unless it is asked for") {
    const auto job = stickers();
    const auto pdf = print::artworkPdf(job, {});
    REQUIRE(pdf);
    CHECK(pdf->starts_with("%PDF"));
    CHECK(pdf->find("/MediaBox [ 0 0 850.39") != std::string::npos); // 300 mm
    CHECK(*print::artworkPdf(job, {}) == *pdf);
    const auto dark = [&](bool cutLines, Vec2 at) {
        const auto picture = print::artworkPicture(job, {.cutLines = cutLines}, 10);
        REQUIRE(picture);
        const auto grey = picture::greyOf(*picture);
        return grey.at(static_cast<int>(at.x * 10), static_cast<int>((200 - at.y) * 10)) < 128;
    };
    CHECK(dark(false, {60, 90}));       // ink
    CHECK(dark(false, {26.5, 56.5}));   // a mark
    CHECK_FALSE(dark(false, {85, 90})); // where it is cut
    CHECK(dark(true, {84.97, 90}));
    CHECK_FALSE(print::artworkPdf(cutter(), {}));
    CHECK_FALSE(print::artworkPicture(job, {}, 400));
}

TEST_CASE("cut to print: how a camera stands is kept, and what is no such file is refused") {
    Viewed view;
    view.width = 100, view.height = 80, view.reach = 64.03, view.middle = {50, 40};
    view.bend = {0.01, 0, -0.002};
    view.plane = {1.5, 0.25, -7, 0, -2, 90, 0.001, 0, 1};
    CHECK_FALSE(job::cameraOf(realDisk(), "laser-700"));
    REQUIRE(job::keepCamera(realDisk(), "laser-700", view));
    CHECK(*job::cameraOf(realDisk(), "laser-700") == view);
    const auto file = userDataFolder() / "cameras" / "laser-700.json";
    for (const char* text :
         {"", "{}", R"({"width": 3, "height": 2, "reach": 1, "plane": [1], "bend": [], "middle": []})"}) {
        REQUIRE(writeAtomically(realDisk(), file, text));
        CHECK_FALSE(job::cameraOf(realDisk(), "laser-700"));
    }
    CHECK_FALSE(job::keepCamera(realDisk(), "../laser", view));
}
