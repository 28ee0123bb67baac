// What hands do all day: copying, pasting, undoing, the menu on the right button, going back to a job.
#include "job/job_file.h"
#include "support/shapes.h"
#include "window.h"

#include <QClipboard>
#include <QMessageBox>

using namespace ferro;
using namespace ferro::test;

namespace {
artwork::Ids drawWings(Window& w) {
    auto added = artwork::withPieces(
        *w.job().artwork, {{rectangle({40, 40}, {140, 100}, 0), {}}, {circle({240, 80}, 30), {}}}, "cut", "wing");
    const auto ids = added.ids;
    REQUIRE(w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork))));
    w.settle();
    return ids;
}
Box boundsOfChosen(Window& w) { return artwork::boundsOf(*w.job().artwork, w.session->selection()); }
} // namespace

TEST_CASE("hands: pieces are copied, cut and pasted within a job, into another one and to other programs") {
    Window w;
    const auto ids = drawWings(w);
    w.session->select({ids[0]});
    w.act("editToClipboard");
    const auto* mime = QGuiApplication::clipboard()->mimeData();
    REQUIRE(mime->hasFormat("image/svg+xml"));
    CHECK(mime->data("image/svg+xml").contains("width=\"100"));
    w.act("editPasteInPlace");
    REQUIRE(w.job().artwork->items.size() == 3);
    CHECK(boundsOfChosen(w).low == Vec2{40, 40});
    w.act("editPaste"); // to the middle of what is seen
    const Vec2 middle = w.bench()->toSheet({w.bench()->width() / 2.0, w.bench()->height() / 2.0});
    CHECK(distance(boundsOfChosen(w).centre(), middle) < 1e-6);
    w.act("editUndo");
    w.act("editUndo");
    CHECK(w.job().artwork->items.size() == 2);
    w.session->select({ids[1]});
    w.act("editCut");
    CHECK(w.job().artwork->items.size() == 1);
    // Another window takes it, with its layer.
    Window other;
    other.act("editPasteInPlace");
    REQUIRE(other.job().artwork->items.size() == 1);
    CHECK(boundsOfChosen(other).centre() == Vec2{240, 80});
    CHECK(artwork::layerNamed(*other.job().artwork, "cut"));
    // A drawing from elsewhere, as text.
    QGuiApplication::clipboard()->setText(
        R"(<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="20mm" viewBox="0 0 30 20"><path fill="#000" d="M0 0h30v20H0z"/></svg>)");
    other.act("editPaste");
    other.settle();
    CHECK(other.job().artwork->items.size() == 2);
    QGuiApplication::clipboard()->setText("a shopping list");
    other.act("editPaste");
    CHECK(other.message().contains("clipboard"));
    CHECK(other.job().artwork->items.size() == 2);
}

TEST_CASE("hands: undo in a field takes back what is typed there, else the job's last edit") {
    Window w;
    const auto ids = drawWings(w);
    w.session->goTo(app::StationId::sheet);
    QCoreApplication::processEvents();
    auto* field = w.edit("stockThickness");
    w.type("stockThickness", "9");
    REQUIRE(w.job().sheet().stock.thickness == 9);
    CHECK(field->selectedText() == field->text()); // what is typed next takes its place
    field->setFocus();
    QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier);
    QCoreApplication::processEvents();
    CHECK(w.job().sheet().stock.thickness == 12);
    field->selectAll();
    QTest::keyClicks(field, "77");
    QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier); // of the field alone
    CHECK(w.job().artwork->items.size() == 2);
    CHECK(w.job().sheet().stock.thickness == 12);
    QTest::keyClick(field, Qt::Key_Escape);
    QTest::keyClick(field, Qt::Key_Tab);
    auto* next = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    if (next) CHECK(next->selectedText() == next->text());
}

TEST_CASE("hands: the right button's menu is about what is under the pointer") {
    Window w;
    const auto ids = drawWings(w);
    w.session->goTo(app::StationId::mend);
    w.act("viewFit");
    const auto menuAt = [&](Vec2 at) {
        const QPoint p = w.bench()->toScreen(at).toPoint();
        QContextMenuEvent asks(QContextMenuEvent::Mouse, p, w.bench()->mapToGlobal(p));
        QCoreApplication::sendEvent(w.bench(), &asks);
        QCoreApplication::processEvents();
        QStringList words;
        auto* menu = w.find<QMenu>("benchMenu");
        for (auto* action : menu->actions())
            if (action->isEnabled() && !action->isSeparator()) words << action->objectName();
        menu->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return words;
    };
    const auto onPiece = menuAt({240, 80});
    CHECK(w.session->selection() == artwork::Ids{ids[1]});
    CHECK(onPiece.contains("editCut"));
    CHECK(onPiece.contains("pieceLock"));
    CHECK_FALSE(onPiece.contains("editPaste"));
    const auto beside = menuAt({20, 150});
    CHECK(beside.contains("editPaste"));
    CHECK_FALSE(beside.contains("editCut"));
}

TEST_CASE("hands: a job opens where it was left, is found again, and goes back to what was saved") {
    Window w;
    drawWings(w);
    w.session->goTo(app::StationId::sheet);
    REQUIRE(w.save(w.path("wings.ferro")));
    w.session->goTo(app::StationId::cuts);
    w.act("fileNew");
    CHECK(w.session->station() == app::StationId::source);
    CHECK(w.session->file().isEmpty());
    w.open(w.path("wings.ferro"));
    CHECK(w.session->station() == app::StationId::cuts);
    Q_EMIT qobject_cast<QMenu*>(w.find<QMenu>("recentJobs")->parent())->aboutToShow();
    auto* recent = w.find<QMenu>("recentJobs");
    REQUIRE(recent->actions().size() == 1);
    CHECK(recent->actions()[0]->text() == "wings.ferro");
    CHECK_FALSE(w.find<QAction>("fileRevert")->isEnabled());
    w.session->select({w.job().artwork->items[0].id});
    w.act("editDelete");
    REQUIRE(w.job().artwork->items.size() == 1);
    const auto press = [&](const char* words, const std::function<void()>& asks) {
        bool pressed = false;
        QTimer look;
        QObject::connect(&look, &QTimer::timeout, [&] {
            if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget()))
                for (auto* button : box->buttons())
                    if (button->text() == words) pressed = true, button->click();
        });
        look.start(20);
        asks();
        return pressed;
    };
    CHECK(press("Back to the saved job", [&] { w.act("fileRevert"); }));
    w.waitForFiles();
    CHECK(w.job().artwork->items.size() == 2);
    CHECK_FALSE(w.session->changed());
    CHECK_FALSE(press("Stay here", [&] { w.act("fileClose"); })); // nothing to lose, nothing asked
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("hands: a piece is sized and turned by number as it is asked, about the handle that was chosen") {
    Window w;
    const auto ids = drawWings(w);
    w.act("viewFit");
    w.session->select({ids[0]}); // 40,40 to 140,100
    const auto box = [&] { return artwork::boundsOf(*artwork::find(*w.job().artwork, ids[0])); };
    w.click("droProportion"); // not kept any more
    w.type("droW", "50%");
    CHECK(box().width() == Approx(50));
    CHECK(box().height() == Approx(60));
    w.click("droProportion");
    w.clickAt({90, 100}); // the upper right handle
    CHECK(w.edit("droX")->text() == "90.00");
    CHECK(w.edit("droY")->text() == "100.00");
    w.type("droW", "25");
    CHECK(distance(box().high, {90, 100}) < 1e-6);
    CHECK(box().height() == Approx(30));
    w.clickAt({90, 100}); // once more: the middle
    w.type("droH", "60");
    CHECK(distance(box().centre(), {77.5, 85}) < 1e-6);
    w.type("droTurn", "30");
    CHECK(w.edit("droTurn")->text() == "30°");
    w.type("droTurn", "40"); // as it lies, not more
    CHECK(w.edit("droTurn")->text() == "40°");
    CHECK(*artwork::turnOf(*w.job().artwork, {ids[0]}) == Approx(40 * pi / 180));
    w.type("droTurn", "0");
    CHECK(box().width() == Approx(50));
    w.type("droX", "1234567.89");
    const auto* x = w.edit("droX");
    CHECK(x->fontMetrics().horizontalAdvance(x->text()) < x->width());
}

TEST_CASE("hands: commands are found by near words and other names, and it is said when none is") {
    CHECK(app::answersTo("Edit Undo", "undo") == 3);
    CHECK(app::answersTo("Pieces Mirror left to right", "right mirror") == 3);
    CHECK(app::answersTo("Pieces Duplicate", "plicate") == 2);
    CHECK(app::answersTo("Pieces Duplicate", "duplcate") == 1);
    CHECK(app::answersTo("Pieces Duplicate", "mirror") == 0);
    Window w;
    const auto found = [&](const QString& text) {
        w.act("helpFind");
        w.find<QLineEdit>("commandFinderEdit")->setText(text);
        auto* list = w.find<QListWidget>("commandFinderList");
        const QString first = list->count() ? list->item(0)->text() : QString();
        w.find("commandFinder")->hide();
        return first;
    };
    CHECK(found("rotate").contains("Turn"));
    CHECK(found("measur").contains("Measure"));
    CHECK(found("mesure").contains("Measure"));
    CHECK(found("zzzz").contains("Nothing is called"));
    // What the side sheets hold too, of other stations and in folded sections.
    CHECK(found("touch off") == "Run  ›  Set up  ›  Touch off Z");
    CHECK(found("space around").contains("Use the space around"));
    w.act("helpFind");
    w.find<QLineEdit>("commandFinderEdit")->setText("scrap board");
    QTest::keyClick(w.find<QLineEdit>("commandFinderEdit"), Qt::Key_Return);
    QTest::qWait(50);
    CHECK(w.session->station() == app::StationId::sheet);
    CHECK(w.main->focusWidget() == w.edit("stockSpacer"));
}

TEST_CASE("hands: the picture below is hidden and shown at any station, and that is no edit") {
    Window w;
    w.open(FERRO_DEMO "/heron.ferro");
    w.act("stationMend");
    w.act("viewFit");
    w.settle();
    const Vec2 paper{80, 190}; // of the traced picture, where nothing is drawn
    const auto with = w.pixel(paper);
    w.act("viewUnderlay");
    const auto without = w.pixel(paper);
    CHECK(std::abs(with.lightness() - without.lightness()) > 10);
    CHECK_FALSE(w.session->changed());
    w.act("stationCuts");
    w.settle();
    CHECK(w.pixel(paper) == without);
    w.act("viewUnderlay");
    w.act("stationMend");
    w.settle();
    CHECK(w.pixel(paper) == with);
}

TEST_CASE("hands: arrow keys move by the step that is set, drags snap to a grid, others follow the key piece") {
    Window w;
    const auto ids = drawWings(w);
    w.act("stationSheet");
    w.act("viewFit");
    w.type("handNudge", "2.5");
    const auto choose = [&](const artwork::Ids& which) {
        w.session->select(which);
        QCoreApplication::processEvents();
    };
    choose({ids[0]});
    QTest::keyClick(w.bench(), Qt::Key_Right);
    QTest::keyClick(w.bench(), Qt::Key_Up, Qt::ShiftModifier);
    QTest::keyClick(w.bench(), Qt::Key_Left, Qt::ControlModifier);
    CHECK(distance(boundsOfChosen(w).low, {42.25, 65}) < 1e-9);
    w.type("handGrid", "20");
    w.drag({90, 80}, {129, 113});
    CHECK(distance(boundsOfChosen(w).low, {80, 100}) < 1e-9); // of the zero's grid, whatever the hand
    {
        Window again(w.folder()); // it is this desk's habit
        CHECK(again.session->hands().nudge == 2.5);
        CHECK(again.session->hands().grid == 20);
    }
    w.type("handGrid", "0");
    // The second is clicked once more: the first comes to it, and it stays.
    choose({ids[0], ids[1]});
    CHECK(w.session->key() == ids[0]);
    w.clickAt({240, 80});
    CHECK(w.session->key() == ids[1]);
    CHECK(w.session->selection().size() == 2);
    for (auto* word : w.main->findChildren<QAbstractButton*>())
        if (word->text() == "key piece" && word->isVisible()) word->click();
    w.click("alignBottom");
    CHECK(artwork::boundsOf(*artwork::find(*w.job().artwork, ids[0])).low.y == Approx(50));
    CHECK(artwork::boundsOf(*artwork::find(*w.job().artwork, ids[1])).low.y == Approx(50));
}

TEST_CASE("repeat: pieces are repeated while one sees what they become, and all of it can be undone") {
    Window w;
    const auto drawn = artwork::withPieces(*w.job().artwork, {{rectangle({20, 20}, {60, 50}), {}}}, "cut", "token");
    w.session->apply("Draw", job::withArtwork(w.job(), drawn.artwork));
    w.session->select(drawn.ids);
    QCoreApplication::processEvents();
    const auto count = [&] { return w.job().artwork->items.size(); };
    const auto before = w.job();
    std::size_t meanwhile = 0;
    QString words;
    const auto answer = [&](const char* button) {
        return [&, button](QWidget* modal) {
            if (modal->objectName() != "repeatDialog" || !modal->isActiveWindow()) return;
            const auto set = [&](const char* name, const char* text) {
                auto* edit = modal->findChild<QWidget*>(name)->findChild<QLineEdit*>();
                edit->setFocus();
                edit->selectAll();
                QTest::keyClicks(edit, text);
                QTest::keyClick(edit, Qt::Key_Tab);
            };
            set("repeatColumns", "4");
            set("repeatRows", "0");
            set("repeatGapX", "10");
            meanwhile = count();
            words = modal->findChild<QLabel*>("repeatWords")->text();
            if (const auto shot = qgetenv("FERRO_TEST_SHOT"); !shot.isEmpty())
                modal->grab().save(QString::fromUtf8(shot));
            for (auto* b : modal->findChildren<QPushButton*>())
                if (b->objectName() == button || (*button == 0 && b->text() == "Leave")) return b->click();
        };
    };
    answering(w, answer(""), [&] { w.main->action("editRepeat")->trigger(); });
    CHECK(meanwhile == 4 * 11); // 400 mm hold eleven rows of 30 and 5
    CHECK(words.startsWith("43 copies"));
    CHECK(w.job() == before);
    answering(w, answer("repeatTake"), [&] { w.main->action("editRepeat")->trigger(); });
    CHECK(count() == 44);
    CHECK(w.session->selection().size() == 44);
    CHECK(artwork::boundsOf(w.job().artwork->items[1]).low.x == Approx(70));
    w.act("editUndo");
    CHECK(w.job() == before);
    w.session->select({});
    QCoreApplication::processEvents();
    CHECK_FALSE(w.main->action("editRepeat")->isEnabled());
}

TEST_CASE("cut list: dropped on the window its parts come with their sheets and steps, and are laid out") {
    Window w;
    const auto put = [&](const char* name, const QByteArray& bytes) {
        QFile out(w.path(name));
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write(bytes);
        return w.path(name);
    };
    put("wing.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='60mm' viewBox='0 0 90 60'>"
                    "<path d='M0 0H90V60Z'/><circle cx='60' cy='25' r='8'/></svg>");
    const auto list = put("kit.csv", "file,qty,material,thickness\nwing.svg,3,Birch ply,6\nwing.svg,2,Poplar,3\n");
    const auto before = w.job();
    w.drop(list);
    w.until([&] { return w.session->nester().isRunning() || w.job().sheets.size() > 1; }, "the list to be read");
    w.until([&] { return !w.session->nester().isRunning() || w.session->nester().best(); }, "a layout");
    w.session->nester().takeBest(); // it is good enough
    w.until([&] { return !w.session->nester().isRunning() && !w.session->background().busy(); }, "the layout");
    CHECK(w.job().sheets.size() == 2);
    CHECK_FALSE(w.job().plan.steps.empty());
    CHECK(w.job().artwork->items.size() == 2 * 5);
    CHECK(w.session->station() == app::StationId::sheet);
    w.act("editUndo"); // the layout, then the list
    w.act("editUndo");
    CHECK(w.job() == before);
    w.drop(put("bad.csv", "file,qty\nwing.svg,1\nhat.svg,1\n"));
    w.settle();
    CHECK(w.message().contains("line 3"));
    CHECK(w.job() == before);
}

TEST_CASE("sheet map: the window writes the map of all sheets and the labels of their parts beside it") {
    Window w;
    w.open(FERRO_DEMO "/stage.ferro");
    REQUIRE(w.job().sheets.size() == 4);
    w.main->saveSheetMapTo(w.path("stage-map.pdf"));
    w.settle();
    CHECK(w.message().contains("stage-map-labels.pdf"));
    for (const char* name : {"stage-map.pdf", "stage-map-labels.pdf"}) {
        QFile in(w.path(name));
        REQUIRE(in.open(QIODevice::ReadOnly));
        CHECK(in.readAll().startsWith("%PDF"));
    }
}
