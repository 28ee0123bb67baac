// Cut to print in the window: marks put, found in a picture, one of them by a click, and all moved.
#include "window.h"

#include "app/shell/marks_dialog.h"
#include "app/shell/pick_dialog.h"
#include "app/shell/plates_dialog.h"
#include "job/camera.h"
#include "job/edits.h"
#include "job/sheets.h"
#include "job/swatch_reading.h"
#include "print/artwork_page.h"
#include "standin/camera.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// Writes what the camera sees of the sheet; answers the file.
QString photo(const job::Job& job, const standin::Lying& lying, const QString& file, unsigned seed) {
    const auto page = print::artworkPicture(job, {}, 10);
    REQUIRE(page);
    standin::Eye eye;
    eye.width = 1400, eye.height = 1050, eye.noise = 2, eye.bend = 0.03, eye.tilt = 0.05, eye.seed = seed;
    const auto seen = standin::photographed(picture::greyOf(*page), 10, lying, eye);
    picture::Picture as;
    as.width = seen.width, as.height = seen.height;
    as.pixels = std::make_shared<const std::vector<std::uint8_t>>(seen.values);
    REQUIRE(writeAtomically(realDisk(), file.toStdString(), picture::toPng(as, 4)));
    return file;
}

/// Works in the dialog while it is open, when it has found what it finds.
template<class Dialog = app::MarksDialog, class Hands> void inDialog(Window& w, Hands hands) {
    auto* timer = new QTimer(w.main.get());
    QObject::connect(timer, &QTimer::timeout, w.main.get(), [&w, timer, hands] {
        auto* dialog = qobject_cast<Dialog*>(QApplication::activeModalWidget());
        if (!dialog || w.session->background().busy("marks") || w.session->background().busy("pick")) return;
        timer->stop();
        hands(dialog);
    });
    timer->start(20);
}
QString words(QDialog* dialog) { return dialog->findChild<QLabel*>("marksWords")->text(); }

} // namespace

TEST_CASE("cut to print: how the camera stands, marks found and clicked, and the job where its print lies") {
    Window w;
    w.open(FERRO_DEMO "/badges.ferro");
    const QString folder = QString::fromStdString(w.folder()->path.string());
    const auto badges = w.job();
    // The card of a knife is printed: two of its spots are told.
    w.act("shopCameraCard");
    w.settle();
    CHECK(w.job().plan.steps.empty());
    standin::Lying onBed;
    onBed.shift = {3, 5}, onBed.turn = 0.01;
    const auto spots = job::spotsOf(w.job());
    const QString card = photo(w.job(), onBed, folder + "/card.png", 3);
    inDialog(w, [&](app::MarksDialog* dialog) {
        CHECK(words(dialog).contains("Tell where two of them are"));
        auto* list = dialog->findChild<QListWidget*>("marksList");
        for (const int k : {0, static_cast<int>(spots.size()) - 2}) {
            list->setCurrentRow(k);
            const Vec2 at = onBed.map()(spots[static_cast<std::size_t>(k)]);
            for (const auto& [name, value] : {std::pair("markXEdit", at.x), {"markYEdit", at.y}}) {
                auto* line = dialog->findChild<QLineEdit*>(name);
                line->setFocus();
                line->selectAll();
                QTest::keyClicks(line, QString::number(value, 'f', 4));
                QTest::keyClick(line, Qt::Key_Return);
            }
        }
        CHECK(words(dialog).contains(QString("%1 of %1 spots").arg(spots.size())));
        press(dialog, "marksTake");
    });
    w.main->findCameraIn(card);
    REQUIRE(job::cameraOf(realDisk(), badges.machine.key));

    w.session->undo();
    w.open(FERRO_DEMO "/badges.ferro");
    REQUIRE(job::marksOf(w.job()).size() == 7);
    w.main->printSheetTo(folder + "/page.pdf");
    w.settle();
    CHECK(QFileInfo(folder + "/page.pdf").size() > 10'000);
    // One mark is under a thumb.
    const auto marks = job::marksOf(w.job());
    standin::Lying lying;
    lying.shift = {4, -3}, lying.turn = -0.02, lying.wider = 1.003;
    const auto covered = job::withArtwork(badges, *artwork::withRemoved(*badges.artwork, {marks[3].item}));
    const QString bed = photo(covered, lying, folder + "/bed.png", 4);
    inDialog(w, [&](app::MarksDialog* dialog) {
        CHECK(words(dialog).contains("6 of 7 marks"));
        auto* list = dialog->findChild<QListWidget*>("marksList");
        CHECK(list->currentRow() == 3); // what was not found is asked for
        CHECK(list->item(3)->text().contains("not found"));
        auto* picture = dialog->findChild<app::RingedPicture*>("ringedPicture");
        const auto camera = *job::cameraOf(realDisk(), badges.machine.key);
        const Vec2 px = job::inPicture(badges, camera, lying.map()(marks[3].at));
        QTest::mouseClick(picture, Qt::LeftButton, {}, picture->shownAt(px).toPoint());
        CHECK(words(dialog).contains("7 of 7 marks"));
        if (const QString shots = qEnvironmentVariable("FERRO_SHOTS"); !shots.isEmpty()) // for the guide
            dialog->grab().save(shots + "/marks.png");
        press(dialog, "marksTake");
    });
    const auto before = w.job();
    w.main->findMarksIn(bed);
    w.settle();
    for (std::size_t i = 0; i < before.artwork->items.size(); ++i) {
        const auto& item = before.artwork->items[i];
        const Vec2 at = item.place({1, 1});
        CHECK(distance(w.job().artwork->items[i].place({1, 1}), lying.map()(at)) < 0.15); // a click is a person's
    }
    CHECK(w.message().contains("where its print does"));
    w.act("editUndo");
    CHECK(w.job() == before);
}

TEST_CASE("plates: each colour becomes a sheet, islands bridged or parted, and one undo takes all of it back") {
    Window w;
    const auto piece = [&](const char* layer, const char* colour, std::vector<Piece> pieces) {
        auto art = artwork::withPieces(*w.job().artwork, std::move(pieces), layer, layer).artwork;
        for (auto& l : art.layers)
            if (l.name == layer) l.colour = colour;
        w.session->apply("draw", job::withArtwork(w.job(), std::move(art)));
    };
    inDialog<app::PlatesDialog>(w, [](app::PlatesDialog* dialog) {
        CHECK(dialog->findChild<QLabel*>("platesWords")->text().contains("No layer"));
        CHECK_FALSE(dialog->findChild<QPushButton*>("platesMake")->isEnabled());
        dialog->reject();
    });
    w.act("platesMakeAll");
    piece("sea", "#1d4a5f", {{rectangle({200, 120}, {380, 180}), {}}});
    piece("hull", "#8c3b2a", {{rectangle({240, 160}, {340, 220}), {wound(circle({290, 190}, 15), false)}}});
    piece("moon", "#e0b84a", {{circle({370, 240}, 18), {}}});
    const auto before = w.job();
    inDialog<app::PlatesDialog>(w, [](app::PlatesDialog* dialog) {
        auto* list = dialog->findChild<QListWidget*>("platesList");
        REQUIRE(list->count() == 3);
        CHECK(list->item(0)->text().contains("sea"));
        CHECK(list->item(1)->text().contains("2 pieces")); // what two bridges leave of it
        for (auto* button : dialog->findChild<app::WordChoice*>("platesIslands")->findChildren<QPushButton*>())
            if (button->text().contains("two plates")) QTest::mouseClick(button, Qt::LeftButton);
        REQUIRE(list->count() == 4);
        CHECK(list->item(2)->text().contains("hull again"));
        if (const QString shots = qEnvironmentVariable("FERRO_SHOTS"); !shots.isEmpty())
            dialog->grab().save(shots + "/plates.png");
        press(dialog, "platesMake");
    });
    w.act("platesMakeAll");
    w.settle();
    CHECK(w.job().sheets.size() == 5);
    CHECK(w.job().sheets.back().name == "Jig");
    for (const auto& sheet : job::sheetsToCut(w.job())) {
        w.session->apply("look", job::atSheet(w.job(), sheet.sheet().id));
        w.settle();
        CHECK(w.session->prover().proof()->mayRun());
        w.session->undo();
    }
    w.act("editUndo");
    CHECK(w.job() == before);
}

TEST_CASE("swatches: a picture of the card tells what came out best, a click on a cell proves it") {
    Window w;
    w.main->pickIn("none.png");
    CHECK(w.message().contains("no swatch card"));
    w.open(FERRO_DEMO "/swatches.ferro");
    const auto card = w.job();
    // As it was burnt: the more power and the slower, the darker.
    constexpr double px = 10;
    picture::Grey page{1200, 900, std::vector<std::uint8_t>(1200 * 900, 215)};
    for (const auto& item : card.artwork->items) {
        const auto box = artwork::boundsOf(item);
        const bool mark = artwork::find(*card.artwork, item.layer)->name == "marks";
        if (!mark && !item.name.starts_with("cell ")) continue;
        const double dark = mark ? 0.9 : 0.1 + 0.1 * (item.name[5] - '1') + 0.03 * ('6' - item.name[7]);
        for (int y = 0; y < page.height; ++y)
            for (int x = 0; x < page.width; ++x) {
                const Vec2 at{(x + 0.5) / px, (page.height - y - 0.5) / px};
                if (box.contains(at) && (!mark || distance(at, box.centre()) < box.width() / 2))
                    page.values[static_cast<std::size_t>(y * page.width + x)] =
                        static_cast<std::uint8_t>(std::lround(215 * (1 - dark)));
            }
    }
    standin::Eye eye;
    eye.width = 1100, eye.height = 825, eye.over = {60, 45}, eye.wide = 150, eye.high = 220;
    eye.tilt = 0.1, eye.roll = 0.05, eye.noise = 2, eye.gloom = 0.2;
    const auto seen = standin::photographed(page, px, {}, eye);
    picture::Picture as;
    as.width = seen.width, as.height = seen.height;
    as.pixels = std::make_shared<const std::vector<std::uint8_t>>(seen.values);
    const QString file = w.path("card.png");
    REQUIRE(writeAtomically(realDisk(), file.toStdString(), picture::toPng(as, 7)));
    const auto noteIs = [&](const char* words) { // asked for when this dialog has gone
        auto* timer = new QTimer(w.main.get());
        QObject::connect(timer, &QTimer::timeout, w.main.get(), [timer, words] {
            auto* note = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (!note) return;
            timer->stop();
            note->setTextValue(words);
            note->accept();
        });
        timer->start(20);
    };
    inDialog<app::PickDialog>(w, [&](app::PickDialog* dialog) {
        auto* list = dialog->findChild<QListWidget*>("pickList");
        auto* says = dialog->findChild<QLabel*>("pickWords");
        REQUIRE(list->count() == 36);
        CHECK(says->text().contains("power 40, feed 1000"));
        CHECK(list->currentItem()->text().contains("power 40, feed 1000"));
        // The corners by hand: from the lower left round.
        press(dialog, "pickCorners");
        CHECK(says->text().contains("lower left"));
        auto* picture = dialog->findChild<app::RingedPicture*>("ringedPicture");
        const auto corners = *job::cornerMarksIn(picture::roundMarksIn(seen));
        for (const Vec2 corner : corners)
            QTest::mouseClick(picture, Qt::LeftButton, {}, picture->shownAt(corner).toPoint());
        INFO(says->text().toStdString());
        REQUIRE(list->count() == 36);
        // Another cell than the darkest: by a click on it.
        const auto reading = job::swatchRead(card, seen, corners);
        const auto cell = std::find_if(reading->cells.begin(), reading->cells.end(),
                                       [](const auto& c) { return c.name == "cell 3-2"; });
        QTest::mouseClick(picture, Qt::LeftButton, {},
                          picture->shownAt(reading->view.seen(boundsOf(cell->outline).centre())).toPoint());
        CHECK(list->currentItem()->text().contains("power 20.8, feed 2000"));
        if (const QString shots = qEnvironmentVariable("FERRO_SHOTS"); !shots.isEmpty())
            dialog->grab().save(shots + "/swatches.png");
        noteIs("even");
        press(dialog, "pickTake");
    });
    w.main->pickIn(file);
    const auto material = *w.session->book().material("poplar");
    REQUIRE(material.proven.size() == 1);
    CHECK(material.proven[0].settings.at("power") == Approx(20.8));
    CHECK(material.proven[0].settings.at("feed") == 2000);
    CHECK(material.proven[0].note == "even");
    // Greys for pictures, from the cells that differ by power alone.
    inDialog<app::PickDialog>(w, [&](app::PickDialog* dialog) {
        CHECK(dialog->findChild<QLabel*>("pickWords")->text().contains("Greys by 6 cells"));
        noteIs("moon");
        press(dialog, "pickGreys");
    });
    w.main->pickIn(file);
    const auto both = *w.session->book().material("poplar");
    REQUIRE(both.proven.size() == 2);
    CHECK(both.proven[1].kind == "tone");
    CHECK(both.proven[1].settings.contains("gamma"));
    CHECK(both.proven[1].note == "moon");
}
