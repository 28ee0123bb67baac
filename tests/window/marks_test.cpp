// Cut to print in the window: marks put, found in a picture, one of them by a click, and all moved.
#include "window.h"

#include "app/shell/marks_dialog.h"
#include "app/shell/plates_dialog.h"
#include "job/camera.h"
#include "job/edits.h"
#include "job/sheets.h"
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
        if (!dialog || w.session->background().busy("marks")) return;
        timer->stop();
        hands(dialog);
    });
    timer->start(20);
}
void press(QDialog* dialog, const char* name) {
    auto* button = dialog->findChild<QPushButton*>(QLatin1String(name));
    REQUIRE(button);
    REQUIRE(button->isEnabled());
    QTest::mouseClick(button, Qt::LeftButton);
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
