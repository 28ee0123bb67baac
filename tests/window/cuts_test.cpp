#include "window.h"

#include "geometry/measure.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "plan/fields.h"
#include "support/jobs.h"

using namespace ferro;
using test::numberOf;
using test::Window;

namespace {
void openDemo(Window& w) {
    const QString file = w.path("proscenium.ferro");
    REQUIRE(QFile::copy(FERRO_DEMO "/proscenium.ferro", file));
    w.open(file);
    w.settle();
    REQUIRE(w.session->prover().isFresh());
}
const plan::Step& stepNamed(const Window& w, std::string_view name) {
    for (const auto& step : w.job().plan.steps)
        if (step.name == name) return step;
    FAIL("no step");
    return w.job().plan.steps.front();
}
/// The demo at Cuts, its step “Outer edges” at hand and all of the sheet in sight.
plan::StepId atOuterEdges(Window& w) {
    openDemo(w);
    w.act("stationCuts");
    const auto outer = stepNamed(w, "Outer edges").id;
    w.session->selectStep(outer);
    w.act("viewFit");
    w.settle();
    return outer;
}
} // namespace

TEST_CASE("cuts: fields take arithmetic, refuse nonsense, go back to the book and switch to inches") {
    Window w;
    openDemo(w);
    w.act("stationCuts");
    w.session->selectStep(stepNamed(w, "Openings").id);
    w.settle();
    const double book = numberOf(stepNamed(w, "Openings"), "feed");
    w.type("feed", "1200/2 + 50");
    CHECK(numberOf(stepNamed(w, "Openings"), "feed") == Approx(650));
    w.type("feed", "a lot");
    CHECK(numberOf(stepNamed(w, "Openings"), "feed") == Approx(650));
    CHECK(w.edit("feed")->property("bad").toBool());
    w.type("feed", "0");
    CHECK(numberOf(stepNamed(w, "Openings"), "feed") == Approx(650));
    w.type("feed", "650");
    w.edit("feed")->parentWidget()->findChild<QToolButton*>()->click(); // the mark of a typed value
    CHECK(numberOf(stepNamed(w, "Openings"), "feed") == Approx(book));
    // The mark of the book's own says how it is reckoned.
    w.settle();
    const auto why = w.edit("feed")->parentWidget()->findChild<QToolButton*>()->toolTip().toStdString();
    CAPTURE(why);
    CHECK(why.find("flutes × a chip of") != std::string::npos);
    w.act("viewUnits");
    w.type("depthPerPass", "0.1");
    CHECK(numberOf(stepNamed(w, "Openings"), "depthPerPass") == Approx(2.54));
    CHECK(w.edit("depthPerPass")->text().toDouble() == Approx(0.1).margin(1e-3));
    w.type("depthPerPass", "3mm");
    CHECK(numberOf(stepNamed(w, "Openings"), "depthPerPass") == Approx(3));
}

TEST_CASE("cuts: a tab is dragged along its outline, and stays where it was put") {
    Window w;
    const auto outer = atOuterEdges(w);
    const toolpath::Cut* cut = nullptr;
    for (const auto& step : w.session->prover().proof()->path.steps)
        if (step.step == outer)
            for (const auto& c : step.cuts)
                if (c.tabs.size() > 3) cut = &c;
    REQUIRE(cut);
    const auto item = cut->intent.item;
    const Ruler ruler(cut->centre);
    const Vec2 from = ruler.at(cut->tabs[0]).point;
    const Vec2 to = ruler.at(std::fmod(cut->tabs[0] + 40, ruler.length())).point;
    const auto count = cut->tabs.size();
    w.click("toolTab");
    w.drag(from, to);
    w.settle();
    std::size_t placed = 0;
    const auto outerStep = stepNamed(w, "Outer edges");
    for (const auto& tab : *plan::tabsIn(outerStep)) placed += tab.item == item;
    CHECK(placed == count);
    bool there = false;
    for (const auto& step : w.session->prover().proof()->path.steps)
        for (const auto& c : step.cuts)
            if (step.step == outer && c.intent.item == item)
                for (const double tab : c.tabs) there = there || distance(Ruler(c.centre).at(tab).point, to) < 3;
    CHECK(there);
    CHECK(w.session->prover().proof()->mayRun());
}

TEST_CASE("cuts: an outline begins where its mark is dragged to, and where it suits after a Ctrl-click") {
    Window w;
    const auto outer = atOuterEdges(w);
    const auto cutOf = [&](artwork::ItemId item) {
        for (const auto& step : w.session->prover().proof()->path.steps)
            for (const auto& cut : step.cuts)
                if (step.step == outer && (!item || cut.intent.item == item) && cut.intent.opening < 0 &&
                    Ruler(cut.centre).length() > 400)
                    return cut;
        return toolpath::Cut{};
    };
    const auto before = cutOf({});
    REQUIRE(before.centre.closed);
    const auto item = before.intent.item;
    const Ruler ruler(before.centre);
    const auto paper = w.pixel(before.centre.start + Vec2{0, 30});
    CHECK_FALSE(test::like(w.pixel(before.centre.start), paper, 20)); // something marks it
    // Off every tab: a quarter of the way from one to the next.
    Vec2 to = ruler.at(ruler.length() * 0.3).point;
    for (double along = 0.3; along < 0.9; along += 0.01) {
        to = ruler.at(ruler.length() * along).point;
        if (std::all_of(before.tabs.begin(), before.tabs.end(),
                        [&](double tab) { return distance(ruler.at(tab).point, to) > 30; }))
            break;
    }
    w.drag(before.centre.start, to);
    w.settle();
    CHECK(plan::startsIn(stepNamed(w, "Outer edges"))->size() == 1);
    const auto after = cutOf(item);
    CHECK(distance(after.centre.start, to) < 4);
    CHECK(distance(after.centre.start, before.centre.start) > 50);
    w.clickAt(after.centre.start, Qt::ControlModifier);
    w.settle();
    CHECK(plan::startsIn(stepNamed(w, "Outer edges"))->empty());
    CHECK(distance(cutOf(item).centre.start, before.centre.start) < 1e-9);
    w.act("editUndo");
    CHECK(plan::startsIn(stepNamed(w, "Outer edges"))->size() == 1);
}

TEST_CASE("cuts: a step done again follows what it does again, until it is itself changed") {
    Window w;
    openDemo(w);
    w.act("stationCuts");
    const auto source = stepNamed(w, "Outer edges").id;
    w.session->selectStep(source);
    w.settle();
    w.click("stepAgain");
    const auto again = [&] { return stepNamed(w, "Outer edges, again"); };
    CHECK(again().again == source);
    w.type("tabWidth", "3.5mm");
    CHECK(numberOf(again(), "tabWidth") == Approx(3.5));
    w.session->selectStep(again().id);
    w.settle();
    w.type("tabWidth", "9mm");
    CHECK_FALSE(again().again);
    w.session->selectStep(source);
    w.settle();
    w.type("tabWidth", "4mm");
    CHECK(numberOf(again(), "tabWidth") == Approx(9));
    for (int i = 0; i < 3; ++i) w.act("editUndo");
    CHECK(again().again == source);
    CHECK(numberOf(again(), "tabWidth") == numberOf(stepNamed(w, "Outer edges"), "tabWidth"));
    // The file keeps it; without its source it stands by itself.
    const auto reread = *job::fromBytes(*job::toBytes(w.job()));
    CHECK(reread == w.job());
    CHECK_FALSE(job::withoutStep(w.job(), source)->plan.steps.back().again);
}

TEST_CASE("cuts: steps are added, moved and removed, a step that its tool cannot do says so and stops the program") {
    Window w;
    openDemo(w);
    w.act("stationCuts");
    const auto before = w.job();
    w.act("stepScribe");
    const auto count = before.plan.steps.size();
    REQUIRE(w.job().plan.steps.size() == count + 1);
    CHECK(w.session->step() == w.job().plan.steps.back().id);
    w.click("stepUp");
    CHECK(w.job().plan.steps[count - 1].id == w.session->step());
    w.click("stepRemove");
    CHECK(w.job().plan.steps.size() == count);
    w.act("orderAutomatic");
    w.session->selectStep(stepNamed(w, "Openings").id);
    w.choose("stepTool", "engraver-30"); // 5 mm of flute in 12 mm of ply
    w.settle();
    CHECK_FALSE(w.session->prover().proof()->mayRun());
    w.act("stationRun");
    w.settle();
    CHECK_FALSE(w.find<QPushButton>("writeProgram")->isEnabled());
    CHECK_FALSE(w.find<QPushButton>("startRun")->isEnabled());
    CHECK_FALSE(w.session->writer().program());
    CHECK(w.find<QLabel>("runPrompt")->text().contains("no-go"));
    while (w.session->history().canUndo()) w.act("editUndo");
    CHECK(w.job() == before);
}

TEST_CASE("proof: the surface is cut where it is seen, and never another job's") {
    Window w;
    openDemo(w);
    w.act("stationMend");
    w.settle();
    CHECK(w.session->prover().surface().isNull());
    w.act("stationProof");
    w.settle();
    REQUIRE_FALSE(w.session->prover().surface().isNull());
    const Vec2 hole{60, 54};
    const QColor cut = w.pixel(hole);
    w.session->prover().setPlayhead(600); // is being cut when the job goes on
    w.act("stationMend");
    w.act("editSelectAll");
    w.act("editDelete");
    w.settle();
    CHECK(w.session->prover().surface().isNull());
    w.act("stationProof");
    w.settle();
    CHECK_FALSE(test::like(w.pixel(hole), cut, 12)); // whole wood
    w.act("editUndo");
    w.settle();
    CHECK(test::like(w.pixel(hole), cut, 12));
}

TEST_CASE("proof: the playhead shows the surface at that time, a finding is jumped to, a fix is taken") {
    Window w;
    openDemo(w);
    w.act("stationProof");
    w.settle();
    REQUIRE(w.session->prover().proof()->mayRun());
    const Vec2 hole{60, 54};
    auto* strip = w.find<app::TimeStrip>("timeStrip");
    const QColor cut = w.pixel(hole);
    const auto first = strip->blockRect(0);
    QTest::mouseClick(strip, Qt::LeftButton, {},
                      QPoint(static_cast<int>(first.left()) + 1, static_cast<int>(first.center().y())));
    w.settle();
    CHECK(w.session->prover().playhead() < 5);
    const QColor wood = w.pixel(hole);
    CHECK_FALSE(test::like(cut, wood, 12));
    w.click("proofToEnd");
    w.settle();
    CHECK(test::like(w.pixel(hole), cut, 12));
    w.click("jump");
    const auto& finding = w.session->prover().proof()->findings.front();
    REQUIRE(finding.at);
    CHECK(distance(w.bench()->toSheet(w.bench()->rect().center()), *finding.at) < 5);

    // Without scrap board the cuts go into the table: a no-go with a fix of its own.
    w.act("stationSheet");
    w.type("stockSpacer", "0");
    w.settle();
    w.act("stationProof");
    w.settle();
    REQUIRE_FALSE(w.session->prover().proof()->mayRun());
    for (int i = 0; i < 5 && !w.session->prover().proof()->mayRun(); ++i) {
        w.click("fix");
        w.settle();
    }
    CHECK(w.session->prover().proof()->mayRun());
}

TEST_CASE("sheet: clamps are drawn and dragged, what drives into one is a no-go until it is moved") {
    Window w;
    openDemo(w);
    w.act("stationSheet");
    w.act("viewFit");
    w.click("toolClamp");
    const auto count = w.job().sheet().clamps.size();
    w.drag({200, 20}, {230, 50}); // across the lower edge of the panel
    REQUIRE(w.job().sheet().clamps.size() == count + 1);
    w.settle();
    CHECK_FALSE(w.session->prover().proof()->mayRun());
    w.click("toolSelect");
    w.drag({215, 35}, {30, 200}, Qt::ControlModifier);
    w.act("editUndo");
    w.act("editUndo");
    w.settle();
    CHECK(w.job().sheet().clamps.size() == count);
    CHECK(w.session->prover().proof()->mayRun());
}

TEST_CASE("proof: a stencil that falls out of the sheet becomes a plate where the finding stands") {
    Window w;
    auto added = artwork::withPieces(*w.job().artwork, {{rectangle({60, 60}, {120, 140}), {}}}, "letters", "o");
    auto& art = added.artwork;
    art.groups.push_back({{++art.lastId}, {}, "o", std::make_shared<const artwork::Bridged>(), {}});
    art.items.back().group = art.groups.back().id;
    REQUIRE(w.session->apply("Draw", job::withArtwork(w.job(), std::move(art))));
    w.act("stepOutline");
    w.act("stationProof");
    w.settle();
    w.click("useSpaceAround");
    w.settle();
    CHECK(artwork::boundsOf(*w.job().artwork, {w.job().artwork->items[0].id}) == Box{{50, 50}, {130, 150}});
    CHECK(artwork::shapeOf(w.job().artwork->items[0])->piece.openings.size() == 1);
    CHECK(w.session->prover().proof()->mayRun());
    for (const auto& finding : w.session->prover().proof()->findings)
        CHECK(finding.offer == proof::Finding::Offer::none);
    w.act("editUndo");
    w.settle();
    CHECK(artwork::shapeOf(w.job().artwork->items[0])->piece.openings.empty());
}

TEST_CASE("cuts: an area that is chosen is cleared, and its floor is seen where it was cut, its island left") {
    Window w;
    auto added =
        artwork::withPieces(*w.job().artwork,
                            {{wound(rectangle({60, 60}, {160, 140}), true), {wound(circle({110, 100}, 15), false)}},
                             {rectangle({200, 60}, {300, 140}), {}}},
                            "wells", "well");
    const auto ids = added.ids;
    REQUIRE(w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork))));
    w.act("stepClear");
    w.settle();
    CHECK(w.message().contains("all closed outlines"));
    w.act("editUndo");
    w.session->select({ids[0]});
    w.act("stepClear");
    w.settle();
    REQUIRE(w.job().plan.steps.size() == 1);
    CHECK(w.job().plan.steps[0].rule.items == artwork::Ids{ids[0]});
    w.type("depth", "4");
    w.settle();
    CHECK(w.session->prover().proof()->mayRun());
    w.session->select({});
    const auto ribbon = w.pixel({75, 75}), wood = w.pixel({110, 100});
    CHECK_FALSE(test::like(ribbon, wood, 12));        // it is shown before it is proofed
    CHECK(test::like(w.pixel({250, 100}), wood, 12)); // the other is let alone
    w.act("stationProof");
    w.settle();
    CHECK_FALSE(test::like(w.pixel({75, 75}), w.pixel({110, 100}), 12));
    w.act("stationCuts");
    for (auto* word : w.main->findChildren<QAbstractButton*>())
        if (word->text() == "lines" && word->isVisible()) word->click();
    w.settle();
    CHECK(std::get<plan::Clear>(w.job().plan.steps[0].settings).by == plan::ClearBy::lines);
    CHECK(w.session->prover().proof()->mayRun());
}

TEST_CASE("reach: what the tool leaves is hatched and told, follows a drag before it ends, and a click brings tools") {
    Window w;
    const QString file = w.path("tray.ferro");
    REQUIRE(QFile::copy(FERRO_DEMO "/tray.ferro", file));
    w.open(file);
    w.act("stationCuts");
    w.session->selectStep(stepNamed(w, "Wells").id);
    w.settle();
    auto* left = w.find<QLabel>("reachLeft");
    CHECK(left->text().contains("5 places"));
    const auto reach = w.session->reacher().reach();
    REQUIRE(reach);
    const Vec2 corner = reach->places.front().at;
    w.act("viewReach");
    w.settle();
    CHECK_FALSE(w.session->reacher().reach());
    w.act("viewReach");
    w.settle();
    // In the middle of a drag, before the job has changed, the places of what is dragged are where it would be.
    w.session->select({reach->places.front().of.front()});
    w.settle();
    const auto before = w.job();
    auto* bench = w.find<app::BenchView>("bench");
    const Vec2 by{0, -12};
    QTest::mousePress(bench, Qt::LeftButton, {}, bench->toScreen(corner + Vec2{0, -30}).toPoint());
    for (int i = 1; i <= 8; ++i)
        QTest::mouseMove(bench, bench->toScreen(corner + Vec2{0, -30} + by * (i / 8.0)).toPoint());
    w.settle();
    CHECK(w.job() == before);
    REQUIRE(w.session->reacher().reach());
    CHECK(w.session->reacher().reach()->places.size() == reach->places.size());
    const auto moved = w.session->reacher().reach()->places;
    CHECK(std::any_of(moved.begin(), moved.end(), [&](const auto& p) { return distance(p.at, corner + by) < 1.5; }));
    QTest::mouseRelease(bench, Qt::LeftButton, {}, bench->toScreen(corner + Vec2{0, -30} + by).toPoint());
    w.act("editUndo");
    w.settle();
    w.click("compareTools");
    w.settle();
    REQUIRE(w.find<QWidget>("toolChoices")->isVisible());
    auto* first = w.find<QAbstractButton>("choice0");
    CHECK(first->accessibleName().startsWith("End mill 6, then End mill 3"));
    first->click();
    w.settle();
    REQUIRE(w.job().plan.steps.size() == 6);
    CHECK(w.job().plan.steps[1].name == "Wells, rest by End mill 3");
    CHECK(w.session->prover().proof()->mayRun());
    CHECK(w.session->reacher().choices().empty()); // of the step as it was
    w.act("editUndo");
    CHECK(w.job() == before);
}

TEST_CASE("cuts: a line that is scribed as wide as its ink is shown so, thin where it was thin") {
    Window w;
    auto job = test::fresh();
    const Path line{{60, 100}, {Segment::line({360, 100})}, false};
    auto added = artwork::withPieces(*job.artwork, {{line, {}}}, "brush", "stroke");
    added.artwork.items.back().leaf = artwork::leafOf({line, {}}, {0.3, 9});
    job = job::withArtwork(job, std::move(added.artwork));
    job = test::set(test::set(test::stepped(job, "scribe", "v-60"), "deep", "by ink's width"), "depth", "8");
    REQUIRE(w.session->apply("inked", job));
    w.settle();
    w.act("stationCuts");
    w.settle();
    const auto bare = w.pixel({350, 110});
    CHECK_FALSE(test::like(w.pixel({350, 103.4}), bare, 25)); // 4.3 mm wide to each side
    CHECK(test::like(w.pixel({80, 103.4}), bare, 25));        // 0.4 mm
}
