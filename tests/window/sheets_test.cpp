#include "app/stations/lie_section.h"
#include "artwork/copies.h"
#include "support/shapes.h"
#include "window.h"

#include <set>

using namespace ferro;
using namespace ferro::test;

namespace {
void draw(Window& w, std::vector<Piece> pieces, const char* layer, const char* name) {
    w.session->apply(
        "Draw",
        job::withArtwork(w.job(), artwork::withPieces(*w.job().artwork, std::move(pieces), layer, name).artwork));
}
void draw(Window& w) {
    auto art = artwork::withPieces(*w.job().artwork, {{rectangle({40, 40}, {140, 100}, 0), {}}}, "cut", "wing").artwork;
    art = artwork::withPieces(art, {{circle({240, 80}, 60), {}}}, "cut", "lantern").artwork;
    REQUIRE(w.session->apply("Draw", job::withArtwork(w.job(), art)));
    w.act("viewFit");
    w.settle();
}
} // namespace

TEST_CASE("sheets: tabs come with the second, each shows, plans and proofs its own, and looking is no edit") {
    Window w;
    draw(w);
    w.session->goTo(app::StationId::sheet);
    QCoreApplication::processEvents();
    CHECK_FALSE(w.find("sheetTabs")->isVisible());
    w.act("sheetAdd");
    CHECK(w.find("sheetTabs")->isVisible());
    REQUIRE(w.job().sheets.size() == 2);
    CHECK(w.find<QPushButton>("sheetTab Sheet 2")->isChecked());
    w.type("stockThickness", "6");
    CHECK(w.job().sheets[1].stock.thickness == 6);
    CHECK(w.job().sheets[0].stock.thickness == 12);
    w.click("sheetTab Sheet 1");
    CHECK(w.edit("stockThickness")->text().contains("12"));
    // The lantern goes over: by click on the bench, by menu.
    w.clickAt({240, 110});
    REQUIRE(w.session->selection().size() == 1);
    w.act("lay Sheet 2");
    CHECK(w.job().artwork->items[1].sheet == w.job().sheets[1].id);
    CHECK(w.find<QPushButton>("sheetTab Sheet 2")->text().contains("1"));
    w.clickAt({240, 110});
    CHECK(w.session->selection().empty()); // it is not here any more
    w.act("stepOutline");
    w.settle();
    REQUIRE(w.session->prover().isFresh());
    const auto cutsHere = [&] {
        std::set<artwork::ItemId> all;
        for (const auto& step : w.session->prover().proof()->path.steps)
            for (const auto& cut : step.cuts) all.insert(cut.intent.item);
        return all;
    };
    CHECK(cutsHere() == std::set{w.job().artwork->items[0].id});
    const auto label = w.session->history().undoLabel();
    w.act("sheetNext");
    w.settle();
    CHECK(cutsHere() == std::set{w.job().artwork->items[1].id});
    CHECK(w.session->prover().proof()->path.steps[0].cuts.size() > 0);
    CHECK(w.session->history().undoLabel() == label);
    // Undo goes to where it was done.
    w.session->select({w.job().artwork->items[1].id});
    w.act("editUndo");
    w.act("editUndo");
    CHECK(w.job().artwork->items[1].sheet == w.job().sheets[0].id);
    w.session->select({w.job().artwork->items[1].id});
    w.act("editRedo"); // it goes out of sight, and nothing is done any more to what is not seen
    CHECK(w.session->selection().empty());
    w.act("editUndo");
    CHECK(w.job().artwork->sheet == artwork::firstSheet);
}

TEST_CASE("sheets: pieces dragged onto the tab of another sheet lie there, let go beside it they are only moved") {
    Window w;
    draw(w);
    w.session->goTo(app::StationId::sheet);
    w.act("sheetAdd");
    w.click("sheetTab Sheet 1");
    w.settle();
    const auto before = w.job();
    const auto over = [&](const char* name) {
        auto* tab = w.find<QPushButton>(name);
        return w.bench()->toSheet(QPointF(w.bench()->mapFromGlobal(tab->mapToGlobal(tab->rect().center()))));
    };
    w.clickAt({240, 110});
    const auto lantern = w.job().artwork->items[1].id;
    REQUIRE(w.session->selection() == artwork::Ids{lantern});
    w.drag({240, 110}, over("sheetTab Sheet 2"), {}, [&] {
        CHECK(w.find<QPushButton>("sheetTab Sheet 2")->isDown());
        CHECK_FALSE(w.find<QPushButton>("sheetTab Sheet 1")->isDown());
    });
    CHECK_FALSE(w.find<QPushButton>("sheetTab Sheet 2")->isDown());
    CHECK(w.job().artwork->items[1].sheet == w.job().sheets[1].id);
    CHECK(artwork::boundsOf(w.job().artwork->items[1]).centre() ==
          artwork::boundsOf(before.artwork->items[1]).centre());
    w.act("editUndo");
    CHECK(w.job() == before);
    // Its own tab is no other place.
    w.session->select({lantern});
    w.drag({240, 110}, over("sheetTab Sheet 1"));
    CHECK(w.job().artwork->items[1].sheet == before.artwork->items[1].sheet);
    CHECK_FALSE(w.job() == before);
}

TEST_CASE("sheets: measured heights are read from a file, shown and forgotten, and a wrong file is told") {
    Window w;
    w.open(FERRO_DEMO "/proscenium.ferro");
    w.act("stationSheet");
    for (auto* section : w.find("stockSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.settle();
    w.type("stockUneven", "0.6");
    CHECK(w.job().sheet().stock.uneven == Approx(0.6));
    w.settle();
    const auto told = [&](std::string_view words) {
        const auto& findings = w.session->prover().proof()->findings;
        return std::any_of(findings.begin(), findings.end(),
                           [&](const auto& f) { return f.what.find(words) != std::string::npos; });
    };
    CHECK(told("uneven by 0.6 mm"));
    const auto write = [&](const char* name, const char* text) {
        REQUIRE(writeAtomically(realDisk(), w.path(name).toStdString(), text));
        w.find<app::LieSection>("howItLies")->read(w.path(name));
        w.settle();
    };
    write("bad.csv", "0,0,0\n0,x,1\n");
    CHECK(w.message().contains("line 2"));
    CHECK_FALSE(w.job().sheet().lie);
    write("good.csv", "x;y;z\n0;0;0\n600;0;0.2\n0;400;-0.3\n600;400;0.5\n");
    REQUIRE(w.job().sheet().lie);
    CHECK(w.find<QLabel>("lieWords")->text().contains("2 × 2 places"));
    CHECK_FALSE(w.edit("stockUneven")->isVisible());
    CHECK(told("from -0.3 mm to 0.5 mm"));
    CHECK_FALSE(told("uneven by"));
    w.click("forgetLie");
    CHECK_FALSE(w.job().sheet().lie);
    w.act("editUndo");
    CHECK(w.job().sheet().lie->highest() == Approx(0.5));
}

TEST_CASE("sheets: what lies beside has a tab of its own, and a sheet goes and comes back by undo") {
    Window w;
    draw(w);
    w.session->select({w.job().artwork->items[0].id});
    w.act("lay no sheet");
    CHECK(w.find("sheetTabs")->isVisible());
    w.click("sheetTab Beside");
    w.settle();
    w.clickAt({90, 70});
    REQUIRE(w.session->selection() == artwork::Ids{w.job().artwork->items[0].id});
    w.act("lay Sheet 1");
    w.click("sheetTab Sheet 1");
    CHECK_FALSE(w.find("sheetTabs")->isVisible());
    w.act("sheetAdd");
    w.act("sheetDrop");
    CHECK(w.job().sheets.size() == 1);
    w.act("editUndo");
    CHECK(w.job().sheets.size() == 2);
}

TEST_CASE("copies: made and given shapes of their own in the window, and facts of a part are typed and undone") {
    Window w;
    draw(w);
    w.session->goTo(app::StationId::sheet);
    w.session->select({w.job().artwork->items[0].id});
    w.act("editCopy");
    REQUIRE(w.job().artwork->items.size() == 3);
    const auto copy = w.job().artwork->items[2].id;
    CHECK(w.job().artwork->items[2].of == w.job().artwork->items[0].id);
    CHECK(w.session->selection() == artwork::Ids{copy});
    CHECK(w.find<QLabel>("partWords")->text().contains("wing"));
    w.type("partQuantity", "5");
    w.type("partThickness", "1/4in");
    w.choose("partMaterial", "acrylic");
    w.find("partTurns")->findChild<QPushButton*>("half")->click();
    w.type("partLabels", "act 2, left");
    const auto& part = artwork::partOf(*w.job().artwork, w.job().artwork->items[0]);
    CHECK(part.quantity == 5);
    CHECK(part.thickness == Approx(6.35));
    CHECK(part.material == "acrylic");
    CHECK(part.turns == artwork::Turns::half);
    CHECK(part.labels == std::vector<std::string>{"act 2", "left"});
    w.act("stepOutline");
    w.settle();
    const auto said = [&](const char* words) {
        const auto& all = w.session->prover().proof()->findings;
        return std::any_of(all.begin(), all.end(),
                           [&](const auto& f) { return f.what.find(words) != std::string::npos; });
    };
    CHECK(said("wanted 5 times; 2 lie"));
    CHECK(said("6.35 mm thick"));
    w.session->select({copy});
    w.act("editOwn");
    CHECK_FALSE(w.job().artwork->items[2].of);
    for (int i = 0; i < 20 && w.session->history().canUndo(); ++i) w.act("editUndo");
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("finder: tools are found like everything else, and taken where they are of use") {
    Window w;
    draw(w);
    w.session->goTo(app::StationId::sheet);
    w.act("helpFind");
    auto* words = w.main->findChild<QLineEdit*>("commandFinderEdit");
    REQUIRE(words);
    QTest::keyClicks(words, "tab tool");
    QTest::keyClick(words, Qt::Key_Return);
    QCoreApplication::processEvents();
    CHECK(w.session->station() == app::StationId::cuts);
    CHECK(w.bench()->tool() == app::BenchTool::tab);
    w.act("take toolArea");
    CHECK(w.message().contains("no picture"));
}

TEST_CASE("sheet: parts are laid out while one watches, good enough takes the best, undo takes it back") {
    Window w;
    w.act("stationSheet");
    auto drawn = artwork::withPieces(
        *w.job().artwork,
        {{wound(rectangle({10, 10}, {160, 70}), true), {}}, {wound(rectangle({300, 200}, {380, 280}), true), {}}},
        "cut", "part");
    const auto facts = artwork::withPart(drawn.artwork, drawn.ids, {.quantity = 5, .turns = artwork::Turns::quarter});
    REQUIRE(facts);
    REQUIRE(w.session->apply("kit", job::withArtwork(w.job(), *facts)));
    w.settle();
    const auto before = w.job();
    w.type("nestSpacing", "9");
    w.click("layOut");
    QElapsedTimer clock;
    clock.start();
    while (!w.session->nester().best() && clock.elapsed() < 20'000) QTest::qWait(20);
    REQUIRE(w.session->nester().best());
    CHECK(w.session->nester().isRunning());
    CHECK(w.job() == before); // what is watched is no edit yet
    CHECK(w.find<app::BenchView>("bench")->facts().job.artwork->items.size() == 10);
    CHECK(w.find<QLabel>("nestShare")->text().contains("%"));
    w.session->layOut({}); // what lies beside is looked at, and it goes on
    CHECK(w.session->nester().isRunning());
    w.session->layOut(before.sheets.front().id);
    CHECK(w.session->nester().isRunning());
    w.click("goodEnough");
    w.settle();
    CHECK_FALSE(w.session->nester().isRunning());
    REQUIRE(w.job().artwork->items.size() == 10);
    const auto& items = w.job().artwork->items;
    for (std::size_t i = 0; i < items.size(); ++i)
        for (std::size_t k = i + 1; k < items.size(); ++k) {
            const Box a = artwork::boundsOf(items[i]), b = artwork::boundsOf(items[k]);
            const double x = std::max({a.low.x - b.high.x, b.low.x - a.high.x, 0.0}),
                         y = std::max({a.low.y - b.high.y, b.low.y - a.high.y, 0.0});
            CHECK(std::hypot(x, y) > 8.998);
        }
    w.act("editUndo");
    CHECK(w.job() == before);
    w.click("layOut");
    w.click("layOutStop");
    w.settle();
    CHECK(w.job() == before);
    w.click("layOut");
    w.session->background().cancelAll(); // as the time strip's button does
    w.settle();
    CHECK_FALSE(w.session->nester().isRunning());
    CHECK(w.find<QPushButton>("layOut")->isVisibleTo(w.main.get()));
    CHECK(w.job() == before);
}

TEST_CASE(
    "sheet: a part pushed by hand stops at the next and slides along it, freely moved it is red where it overlaps") {
    Window w;
    draw(w, {{rectangle({50, 50}, {110, 110}), {}}, {rectangle({250, 50}, {330, 130}), {}}}, "cut", "part");
    w.act("stationSheet");
    w.settle();
    for (auto* section : w.find("stockSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.type("nestSpacing", "4");
    w.type("nestMargin", "10");
    const auto first = w.job().artwork->items[0].id;
    w.session->select({first});
    const auto low = [&] { return artwork::boundsOf(*artwork::find(*w.job().artwork, first)).low; };
    const QColor red = app::theme().color(app::Token::noGo);
    // Freely: onto the other, red meanwhile.
    bool seenRed = false;
    w.drag({80, 80}, {270, 90}, Qt::ControlModifier, [&] {
        seenRed = test::like(w.pixel({290, 100}), red, 90) && !test::like(w.pixel({244, 100}), red, 90);
    });
    CHECK(seenRed);
    CHECK(low().x == Approx(240).margin(0.5));
    w.act("editUndo");
    w.settle();
    // Kept apart: it stops 4 mm before the other; further down it would pass, so it slides to where the pointer is.
    w.click("nestApart");
    w.drag({80, 80}, {270, 72});
    CHECK(low().x == Approx(250 - 60 - 4).margin(0.02));
    CHECK(std::abs(low().y - 42) < 1);
    for (int i = 0; i < 3; ++i) QTest::keyClick(w.bench(), Qt::Key_Right, Qt::ShiftModifier);
    w.settle();
    CHECK(low().x == Approx(250 - 60 - 4).margin(0.02));
    // Into the corner: the margin holds it.
    w.drag({210, 70}, {5, 5});
    CHECK(low().x == Approx(10).margin(0.02));
    CHECK(low().y == Approx(10).margin(0.02));
    // Two layouts kept, the first one taken again.
    w.click("keepLayout");
    w.session->apply("Move", job::withArtwork(w.job(), artwork::withTransformed(*w.job().artwork, {first},
                                                                                Transform::moved({30, 200}))));
    w.settle();
    w.click("keepLayout");
    auto* kept = w.find<QListWidget>("keptLayouts");
    REQUIRE(kept->count() == 2);
    CHECK(kept->item(0)->text().contains("sheet"));
    kept->setCurrentRow(0);
    w.click("takeKept");
    w.settle();
    CHECK(low().x == Approx(10).margin(0.02));
    CHECK(w.session->history().undoLabel() == "Take the kept layout");
    w.click("dropKept");
    CHECK(kept->count() == 1);
    w.click("nestApart");
}

TEST_CASE("sheet: a board comes from the shelf, an outline becomes a blank, and the rest goes back as an off-cut") {
    Window w;
    w.act("shopBook");
    w.settle();
    w.click("shelfStock");
    CHECK(w.find<QLabel>("bookEmpty")->isVisible());
    w.click("bookAdd");
    w.settle();
    w.type("width", "300");
    w.type("height", "200");
    w.type("thickness", "6");
    w.type("count", "2");
    REQUIRE(w.session->book().boards.size() == 1);
    CHECK(w.session->book().boards[0].count == 2);
    QTest::keyClick(w.find("shopDrawer"), Qt::Key_Escape);
    draw(w, {{rectangle({10, 10}, {100, 190}), {}}, {circle({200, 100}, 70), {}}}, "cut", "part");
    w.act("stationSheet");
    w.settle();
    auto* menu = w.find<QPushButton>("fromShelf")->menu();
    Q_EMIT menu->aboutToShow();
    REQUIRE(menu->actions().size() == 1);
    CHECK(menu->actions()[0]->text().contains("2 there"));
    menu->actions()[0]->trigger();
    w.settle();
    CHECK(w.job().sheet().stock.width == 300);
    CHECK(w.find<QLabel>("stockBoard")->text().contains("2 on the shelf"));
    w.click("keepRest");
    REQUIRE(w.session->book().boards.size() == 2);
    CHECK_FALSE(w.session->book().boards[1].outline.empty());
    // The round part as the next blank: its corner is bench, its middle wood.
    w.session->select({w.job().artwork->items[1].id});
    w.settle();
    w.click("blankOutline");
    w.settle();
    REQUIRE(w.job().sheet().stock.outline);
    CHECK(w.job().sheet().board.empty());
    CHECK_FALSE(w.find("stockWidth")->isEnabled());
    w.act("viewFit");
    w.settle();
    CHECK_FALSE(test::like(w.pixel({3, 3}), w.pixel({100, 100}), 6));
    w.click("blankOutline");
    w.settle();
    CHECK_FALSE(w.job().sheet().stock.outline);
}

TEST_CASE("sheet: part facts are read from what is written on layers, and told") {
    Window w;
    draw(w, {{rectangle({10, 10}, {100, 90}), {}}, {rectangle({120, 10}, {200, 90}), {}}}, "poplar 6 mm, 3 off",
         "wing");
    w.act("stationSheet");
    w.session->select({w.job().artwork->items[0].id});
    w.settle();
    w.click("partsRead");
    w.settle();
    CHECK(w.message().contains("1 part: Poplar, 6 mm, 3 of each"));
    CHECK(artwork::partOf(*w.job().artwork, w.job().artwork->items[0]).quantity == 3);
    CHECK(artwork::partOf(*w.job().artwork, w.job().artwork->items[1]).quantity == 1); // it was not chosen
    w.click("partsRead");
    CHECK(w.message().contains("new"));
}

TEST_CASE("sheets: a tray of blanks is set by its rows, seen on the bench, cut blank by blank, and taken back") {
    Window w;
    draw(w);
    w.session->apply("Stock", job::withStock(w.job(), [&] {
                         auto stock = w.job().sheet().stock;
                         stock.width = 290, stock.height = 150;
                         return stock;
                     }()));
    w.act("stepOutline");
    w.settle();
    const double alone = w.session->prover().proof()->timing.motion;
    w.session->goTo(app::StationId::sheet);
    QCoreApplication::processEvents();
    CHECK(w.find<app::Section>("traySection")->isFolded());
    w.find<app::Section>("traySection")->setFolded(false);
    const auto inkAt = [&](Vec2 place) {
        w.settle();
        return w.bench()->grab().toImage().pixelColor(w.bench()->toScreen(place).toPoint());
    };
    w.act("viewFit");
    const QColor bench = inkAt({-8, 75});
    w.type("trayRows", "2");
    w.type("trayGapY", "15");
    REQUIRE(w.job().sheet().tray);
    CHECK(w.job().sheet().tray->rows == 2);
    CHECK(w.job().sheet().tray->columns == 1);
    CHECK(w.job().sheet().tray->gapY == 15);
    CHECK(w.find<QLabel>("trayWords")->text().startsWith("2 blanks"));
    w.act("viewFit");
    CHECK(inkAt({200, 165 + 20}) != bench); // the other blank lies there, and the bench between them
    CHECK(inkAt({200, 157.5}) == bench);
    w.settle();
    REQUIRE(w.session->prover().isFresh());
    CHECK(w.session->prover().proof()->path.steps.size() == 2);
    CHECK(w.session->prover().proof()->timing.motion > 1.9 * alone);
    CHECK(w.session->prover().moves()->steps.size() == 1);
    w.click("trayFill");
    CHECK(w.job().sheet().tray->count() > 2);
    w.click("trayOff");
    CHECK_FALSE(w.job().sheet().tray);
    w.act("editUndo");
    CHECK(w.job().sheet().tray);
}
