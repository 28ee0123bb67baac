#include "window.h"

#include "formats/svg.h"
#include "job/job_file.h"

using namespace ferro;
using test::Window;

namespace {
/// The scenery as a careless drawing: a hill in four bits, a moon drawn twice, a bow, a speck.
QString scenery(Window& w) {
    auto job = job::freshJob(w.session->book());
    REQUIRE(job);
    auto paths = pathsFromText("M 40 40 L 240 40 M 240.1 40.2 L 240 180 M 240 180 C 200 220 80 220 40 180 "
                               "M 40 179.8 L 40 40.1 M 360 60 L 460 160 L 460 60 L 360 160 L 360 60 Z");
    REQUIRE(paths);
    paths->insert(paths->end(), {circle({300, 90}, 30), circle({300, 90}, 30), circle({300, 250}, 0.2)});
    std::vector<Piece> pieces;
    for (auto& path : *paths) pieces.push_back({path, {}});
    *job = job::withArtwork(*job, artwork::withPieces(*job->artwork, pieces, "kit", "scenery").artwork);
    const QString file = w.path("kit.ferro");
    REQUIRE(job::save(realDisk(), *job, file.toStdString()));
    w.main->takeFiles({file});
    w.act("stationMend");
    w.settle();
    return file;
}
std::size_t left(Window& w) {
    REQUIRE(w.session->auditor().isFresh());
    return w.session->auditor().audit()->findings.size();
}
} // namespace

TEST_CASE("mend: the audit counts what it finds, walks from one to the next, mends one, a kind, or all") {
    Window w;
    scenery(w);
    CHECK(left(w) == 7);
    CHECK(w.find<QLabel>("audit-gap")->text() == "4 gaps");
    CHECK(w.find<QLabel>("audit-doubled")->text() == "1 doubled line");
    CHECK_FALSE(w.find<QLabel>("audit-beyond")->isVisible());
    CHECK_FALSE(w.find("mendOne")->isVisible());

    w.click("show-gap");
    const int first = w.session->auditor().current();
    CHECK(w.session->selection().size() == 1);
    CHECK(w.find<QLabel>("auditCurrent")->text().contains("between"));
    w.click("show-gap");
    CHECK(w.session->auditor().current() != first);
    for (int i = 0; i < 3; ++i) w.click("show-gap");
    CHECK(w.session->auditor().current() == first); // once round

    w.click("show-crossing");
    w.click("mendOne");
    w.settle();
    CHECK(left(w) == 6);
    CHECK(w.session->history().undoLabel() == "Mend one");
    w.click("mend-gap");
    w.settle();
    CHECK(left(w) == 2);
    CHECK(w.message().contains("4 gaps closed"));
    CHECK(artwork::countsOf(*w.job().artwork).open == 0);
    w.act("editUndo");
    w.settle();
    CHECK(left(w) == 6);
    w.click("mendAll");
    w.settle();
    CHECK(left(w) == 0);
    CHECK(w.find<QLabel>("auditVerdict")->text() == "Nothing to mend.");
    CHECK_FALSE(w.find("mendAll")->isVisible());
    CHECK(artwork::countsOf(*w.job().artwork).pieces == 4);
    w.act("editUndo");
    w.act("editUndo");
    w.settle();
    CHECK(left(w) == 7);
}

TEST_CASE("mend: a tolerance changes what is found at once, and a look at another station costs nothing") {
    Window w;
    scenery(w);
    w.type("auditGap", "0.15");
    w.settle();
    CHECK(w.find<QLabel>("audit-gap")->text() == "2 gaps");
    w.type("auditSpeck", "0.01");
    w.settle();
    CHECK_FALSE(w.find<QLabel>("audit-speck")->isVisible());
    w.type("auditGap", "nonsense");
    CHECK(w.session->auditor().tolerances().gap == 0.15);
    w.act("stationSheet");
    const auto kept = w.session->auditor().audit();
    w.act("stationMend");
    CHECK(w.session->auditor().audit() == kept);
    w.act("editSelectAll");
    w.act("pieceThin");
    w.settle();
    CHECK(w.message().contains("none to spare")); // lines and arcs, as few as they get
    w.act("piecesMendAll");
    w.settle();
    CHECK(w.session->history().undoLabel() == "Mend all");
}

TEST_CASE(
    "mend: a drawing dropped on the window comes in at its size, chosen, with its layers, and says what it lacks") {
    Window w;
    const auto write = [&](const char* name, const QByteArray& content) {
        QFile out(w.path(name));
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write(content);
        return w.path(name);
    };
    w.main->takeFiles({write("kit.svg", "<svg width='120mm' height='80mm' viewBox='0 0 120 80'>"
                                        "<g id='cut'><rect x='10' y='10' width='50' height='20'/></g>"
                                        "<g id='fold'><path d='M15 20h40' fill='none' stroke='#000'/></g>"
                                        "<text>Lantern</text></svg>")});
    w.settle();
    CHECK(w.session->station() == app::StationId::mend);
    CHECK(w.session->selection().size() == 2);
    CHECK(artwork::boundsOf(*w.job().artwork, w.session->selection()).width() == Approx(50));
    CHECK(w.find<QTreeWidget>("layerList")->topLevelItemCount() == 2);
    CHECK(w.message().contains("Text was left out"));
    w.act("editUndo");
    CHECK(w.job().artwork->items.empty());
    w.main->takeFiles({write("bad.svg", "<html/>")});
    w.settle();
    CHECK(w.message().contains("bad.svg"));
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("source: a DXF that does not say its unit asks, with the sizes, loose lines come in as outlines") {
    Window w;
    const QByteArray lines =
        "0\nSECTION\n2\nENTITIES\n0\nLINE\n8\ncut\n10\n0\n20\n0\n11\n12\n21\n0\n0\nLINE\n8\ncut\n10\n12\n"
        "20\n8\n11\n12\n21\n0\n0\nLINE\n8\ncut\n10\n0\n20\n0\n11\n12\n21\n8\n0\nENDSEC\n0\nEOF\n";
    QFile out(w.path("wing.dxf"));
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(lines);
    out.close();
    QStringList offered;
    const auto answer = [&](const char* unit, const char* button) {
        QTimer::singleShot(0, w.main.get(), [&w, &offered, unit, button] {
            // The file is read in the background: the question comes when it is.
            const bool asked =
                QTest::qWaitFor([&] { return w.main->findChild<QDialog*>("unitQuestion") != nullptr; }, 30'000);
            REQUIRE(asked);
            auto* question = w.main->findChild<QDialog*>("unitQuestion");
            for (const auto* label : question->findChildren<QLabel*>()) offered << label->text();
            question->findChild<QRadioButton*>(unit)->click();
            if (*button)
                question->findChild<QPushButton*>(button)->click();
            else
                question->reject();
        });
        w.main->takeFiles({w.path("wing.dxf")});
        QCoreApplication::processEvents();
        w.settle();
    };
    answer("unit_mm", "");
    CHECK(w.job().artwork->items.empty());
    CHECK(offered.contains("12.0 × 8.0 mm"));
    CHECK(offered.contains("304.8 × 203.2 mm"));
    answer("unit_inch", "unitTake");
    REQUIRE(w.job().artwork->items.size() == 1);
    const auto& item = w.job().artwork->items[0];
    CHECK(artwork::boundsOf(item).width() == Approx(304.8));
    CHECK(artwork::shapeOf(item)->piece.outline.closed);
    CHECK(w.session->station() == app::StationId::mend);
    CHECK(w.message().contains("3 lines joined into 1 outlines"));
    CHECK(w.session->selection() == artwork::Ids{item.id});
}
