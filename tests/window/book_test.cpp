// The shop book's drawer: what the shop has and how it works, changed by hand and kept on disk.
#include "window.h"

#include "job/from_book.h"
#include "job/swatch.h"

#include <QInputDialog>

using namespace ferro;
using namespace ferro::test;

namespace {

QListWidgetItem* entry(Window& w, const QString& name) {
    auto* list = w.find<QListWidget>("bookList");
    for (int i = 0; i < list->count(); ++i)
        if (list->item(i)->text() == name) return list->item(i);
    return nullptr;
}
void pick(Window& w, const QString& name) {
    auto* list = w.find<QListWidget>("bookList");
    auto* item = entry(w, name);
    REQUIRE(item);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(item).center());
    QCoreApplication::processEvents();
}
/// A field of the drawer: stations may have one of that name too.
QLineEdit* field(Window& w, const char* name) {
    for (auto* widget : w.find("shopDrawer")->findChildren<QWidget*>(QLatin1String(name))) {
        auto* line = qobject_cast<QLineEdit*>(widget);
        if (widget->isVisible()) return line ? line : widget->findChild<QLineEdit*>();
    }
    FAIL("no field " << name << " is in sight");
    return nullptr;
}
void type(Window& w, const char* name, const QString& text) {
    auto* line = field(w, name);
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    QCoreApplication::processEvents();
}

} // namespace

TEST_CASE(
    "window: shop book: a tool is copied, measured anew, undone, kept on disk and taken over by the job when asked") {
    Window w;
    w.act("stationSheet");
    w.act("shopBook");
    w.click("shelfTools");
    pick(w, "End mill 6");
    w.click("bookCopy");
    CHECK(field(w, "bookName")->text() == "End mill 6 2");
    type(w, "bookName", "Upcut 6");
    type(w, "diameter", "1/4in");
    type(w, "diameter", "0"); // told, and nothing changes
    CHECK(w.find<QLabel>("bookSaid")->text().contains("0.01"));
    const auto kept = [] { return shop::openBook(realDisk())->tool("end-6-2"); };
    REQUIRE(kept());
    CHECK((kept()->diameter == Approx(6.35) && kept()->name == "Upcut 6"));
    QTest::keyClick(w.main.get(), Qt::Key_Z, Qt::ControlModifier);
    CHECK(kept()->diameter == 6);
    w.act("editRedo");
    CHECK(kept()->diameter == Approx(6.35));
    CHECK_FALSE(w.session->history().canUndo()); // the job has nothing to do with it
    CHECK_FALSE(w.find<QAction>("editDelete")->isEnabled());

    CHECK(w.find<QLabel>("bookDiffers")->text().contains("Upcut 6"));
    w.click("bookIntoJob");
    CHECK(job::changesFrom(w.job(), w.session->book()).empty());
    CHECK_FALSE(w.find("bookDiffers")->isVisible());

    w.click("shelfMaterials");
    w.click("bookAdd");
    type(w, "bookName", "Cork");
    w.click("shelfMachines");
    w.click("process beam");
    CHECK(w.session->book().machines[0].does(shop::Process::beam));
    w.click("process rotary");
    w.click("process beam"); // refused: it would do nothing
    CHECK(w.session->book().machines[0].does(shop::Process::beam));
    QTest::keyClick(w.find("shopDrawer"), Qt::Key_Escape);
    QCoreApplication::processEvents();
    CHECK_FALSE(w.find("shopDrawer")->isVisible());
    w.choose("material", "new-material");
    CHECK(w.job().material.name == "Cork");

    // What is removed of the shipped ones is only put away.
    w.act("shopBook");
    w.click("shelfTools");
    pick(w, "Drill 8");
    w.click("bookRemove");
    CHECK_FALSE(entry(w, "Drill 8"));
    w.click("bookShipped");
    CHECK(entry(w, "Drill 8"));
    // Changed by somebody else meanwhile: opened again it shows that.
    w.act("shopBook");
    auto shelves = *shop::openShelves(realDisk());
    REQUIRE(shop::saveShelves(realDisk(), *shop::withoutThing<shop::Tool>(shelves, "ball-3")));
    w.act("shopBook");
    CHECK_FALSE(entry(w, "Ball 3"));
}

TEST_CASE("window: house rules: a step is kept, rows ask for it, the job gets its steps and an arriving drawing too") {
    Window w;
    w.act("stationMend");
    w.session->apply(
        "draw",
        job::withArtwork(
            w.job(),
            artwork::withPieces(*w.job().artwork, {{rectangle({20, 20}, {120, 90}), {}}}, "cuts", "wing").artwork));
    w.act("stepOutline");
    CHECK_FALSE(w.find<QAction>("stepsByRules")->isEnabled());
    QTimer answer;
    QObject::connect(&answer, &QTimer::timeout, w.main.get(), [&] {
        if (auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            dialog && dialog->isActiveWindow()) {
            dialog->setTextValue("Cut out");
            dialog->accept();
        }
    });
    answer.start(30);
    w.act("keepRecipe");
    answer.stop();
    REQUIRE(plan::recipeNamed(w.session->shop().house(), "Cut out"));
    w.act("shopBook");
    w.click("shelfRecipes");
    type(w, "depthPerPass", "1.2");
    CHECK(plan::recipeNamed(w.session->shop().house(), "Cut out")->step.typed ==
          std::vector<std::string>{"depthPerPass"});
    w.click("shelfRules");
    w.click("ruleAdd");
    w.click("ruleAdd");
    type(w, "ruleLayers 1", "cut*");
    type(w, "ruleAbove 1", "5cm");
    type(w, "ruleBelow 1", "4"); // nothing is both
    w.settle();
    const auto& rules = w.session->shop().house().rules;
    REQUIRE(rules.size() == 2);
    CHECK((rules[0].match.above == 50 && rules[0].match.below == 0));
    CHECK(rules[0].recipes == std::vector<std::string>{"Cut out"});
    CHECK(rules[1].recipes.empty());
    CHECK(w.find<QLabel>("ruleFits 1")->text() == "one outline");
    CHECK(w.find<QLabel>("ruleFits 2")->text() == "nothing");
    w.click("rulesOnArrival");
    w.click("rulesApply");
    CHECK_FALSE(w.find("shopDrawer")->isVisible());
    REQUIRE(w.job().plan.steps.size() == 1);
    CHECK(w.job().plan.steps[0].name == "Cut out");
    CHECK(plan::depthIn(w.job().plan.steps[0])->perPass == 1.2);
    CHECK(w.message().contains("in place of 1"));
    w.act("editUndo");
    CHECK(w.job().plan.steps[0].name != "Cut out");

    w.session->newJob();
    REQUIRE(realDisk().write(w.path("flat.svg").toStdString(),
                             "<svg xmlns='http://www.w3.org/2000/svg' width='100mm' height='80mm' viewBox='0 0 100 80'>"
                             "<g id='cut'><path d='M5 5H85V65H5Z' fill='none' stroke='black'/></g></svg>"));
    w.drop(w.path("flat.svg"));
    w.settle();
    CHECK(w.job().plan.steps.size() == 1);
    CHECK(w.message().contains("1 step by the house rules"));
}

TEST_CASE("window: swatches: a card is made for a scrap, the best cell is chosen and begun with from then on") {
    Window w;
    w.act("machine laser-700");
    w.act("material poplar");
    job::Stock scrap = w.job().sheet().stock;
    scrap.width = 120, scrap.height = 90, scrap.thickness = 3;
    w.session->apply("scrap", job::withStock(w.job(), scrap));
    answering(
        w,
        [&](QWidget* modal) {
            auto* question = qobject_cast<QMessageBox*>(modal);
            if (question) return question->buttons().back()->click(); // what is open may go
            auto* dialog = qobject_cast<QDialog*>(modal);
            if (!dialog || dialog->objectName() != "swatchDialog" || !dialog->isActiveWindow()) return;
            auto* count = dialog->findChild<QWidget*>("swatchRowsCount")->findChild<QLineEdit*>();
            count->setFocus();
            count->selectAll();
            QTest::keyClicks(count, "4");
            QTest::keyClick(count, Qt::Key_Tab);
            CHECK(dialog->findChild<QLabel*>("swatchWords")->text().contains("24"));
            QTest::mouseClick(dialog->findChild<QPushButton*>("swatchMake"), Qt::LeftButton);
        },
        [&] { w.act("shopSwatch"); });
    w.settle();
    REQUIRE(w.job().plan.steps.size() == 26); // labels, marks, cells
    CHECK(w.session->prover().proof()->mayRun());
    const auto& items = w.job().artwork->items;
    const auto cell = std::find_if(items.begin(), items.end(), [](const auto& i) { return i.name == "cell 2-3"; });
    REQUIRE(cell != items.end());
    w.clickAt(artwork::boundsOf(*cell).centre());
    if (w.session->selection() != artwork::Ids{cell->id}) w.session->select({cell->id});
    const auto best = job::stepOn(w.job(), cell->id);
    const double power = plan::beamIn(*plan::find(w.job().plan, best))->power;
    answering(
        w,
        [](QWidget* modal) {
            auto* dialog = qobject_cast<QInputDialog*>(modal);
            if (!dialog || !dialog->isActiveWindow()) return;
            dialog->setTextValue("even");
            dialog->accept();
        },
        [&] { w.act("shopProve"); });
    const auto material = *w.session->book().material("poplar");
    REQUIRE(material.proven.size() == 1);
    CHECK((material.proven[0].note == "even" && material.proven[0].settings.at("power") == power));
    w.act("jobFromBook");
    w.act("stepHatch");
    CHECK(plan::beamIn(w.job().plan.steps.back())->power == power);
    w.act("shopBook");
    w.click("shelfMaterials");
    pick(w, "Poplar");
    w.click("bookForget");
    CHECK(w.session->book().material("poplar")->proven.empty());
    // The card is kept with its plan, and comes back from the menu.
    auto* cards = w.main->findChild<QMenu*>("keptCards");
    REQUIRE(cards);
    Q_EMIT cards->aboutToShow();
    REQUIRE(cards->actions().size() == 3); // the card, a line, forgetting
    answering(
        w,
        [](QWidget* modal) {
            if (auto* question = qobject_cast<QMessageBox*>(modal)) question->buttons().back()->click();
        },
        [&] { cards->actions().front()->trigger(); });
    w.settle();
    CHECK(w.job().plan.steps.size() == 26);
    CHECK(w.job().name.find("Swatches") == 0);
}

TEST_CASE("shop book: a fit gauge is made from the menu, and what it told is kept for the material") {
    Window w;
    answering(
        w,
        [&](QWidget* dialog) {
            if (auto* question = qobject_cast<QMessageBox*>(dialog)) return question->buttons().back()->click();
            if (dialog->objectName() != "gaugeDialog" || !dialog->isActiveWindow()) return;
            auto* notches = dialog->findChild<QWidget*>("gaugeNotches")->findChild<QLineEdit*>();
            notches->setFocus();
            notches->selectAll();
            QTest::keyClicks(notches, "4");
            QTest::keyClick(notches, Qt::Key_Tab);
            auto* snug = dialog->findChild<QWidget*>("gaugeSnug")->findChild<QLineEdit*>();
            snug->setFocus();
            snug->selectAll();
            QTest::keyClicks(snug, "0.17");
            QTest::keyClick(snug, Qt::Key_Tab);
            dialog->findChild<QPushButton*>("gaugeKeep")->click();
            CHECK(dialog->findChild<QLabel*>("gaugeWords")->text().contains("shop book"));
            dialog->findChild<QPushButton*>("gaugeMake")->click();
        },
        [&] { w.act("shopGauges"); });
    w.settle();
    CHECK(w.session->book().material(job::materialOf(w.job()).key)->snugFit == Approx(0.17));
    REQUIRE(w.job().plan.steps.size() == 2);
    CHECK(w.job().name.find("Fit gauge") == 0);
    CHECK(w.session->station() == app::StationId::cuts);
}
