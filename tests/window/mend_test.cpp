#include "window.h"

#include <QTreeView>

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
    w.open(file);
    w.act("stationMend");
    w.settle();
    return file;
}
std::size_t left(Window& w) {
    REQUIRE(w.session->auditor().isFresh());
    return w.session->auditor().audit()->flaws.size();
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
    w.settle();
    // What mending would come to is seen before it is taken.
    CHECK(w.bench()->facts().proposals.size() == 2);
    CHECK(w.find<QLabel>("auditCurrent")->text().contains("Mended: 1 "));
    w.click("show-speck");
    w.settle();
    CHECK(w.bench()->facts().proposals.empty());
    CHECK(w.bench()->facts().goes.size() == 1);
    CHECK(left(w) == 7); // nothing is done yet
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
                                        "<foreignObject/></svg>")});
    w.settle();
    CHECK(w.session->station() == app::StationId::mend);
    CHECK(w.session->selection().size() == 2);
    CHECK(artwork::boundsOf(*w.job().artwork, w.session->selection()).width() == Approx(50));
    CHECK(w.find<QTreeView>("pieceList")->model()->rowCount() == 2);
    CHECK(w.message().contains("foreign object was left out"));
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
        // The file is read in the background; the question then holds the window until it is answered.
        QTimer look;
        QObject::connect(&look, &QTimer::timeout, w.main.get(), [&] {
            auto* question = w.main->findChild<QDialog*>("unitQuestion");
            if (!question || !question->isVisible()) return;
            look.stop();
            for (const auto* label : question->findChildren<QLabel*>()) offered << label->text();
            question->findChild<QRadioButton*>(unit)->click();
            if (*button)
                question->findChild<QPushButton*>(button)->click();
            else
                question->reject();
        });
        look.start(20);
        w.main->takeFiles({w.path("wing.dxf")});
        w.until([&] { return !look.isActive(); }, "the unit is asked for");
        w.settle();
    };
    answer("unit_mm", "");
    CHECK(w.job().artwork->items.empty());
    CHECK(offered.contains("12.0 × 8.0 mm"));
    CHECK(offered.contains("304.8 × 203.2 mm"));
    CHECK(offered.contains("fits the sheet"));
    CHECK(offered.contains("larger than the machine"));
    answer("unit_inch", "unitTake");
    REQUIRE(w.job().artwork->items.size() == 1);
    const auto& item = w.job().artwork->items[0];
    CHECK(artwork::boundsOf(item).width() == Approx(304.8));
    CHECK(artwork::shapeOf(item)->piece.outline.closed);
    CHECK(w.session->station() == app::StationId::mend);
    CHECK(w.message().contains("3 lines joined into 1 outlines"));
    CHECK(w.session->selection() == artwork::Ids{item.id});
}

TEST_CASE("mend: drop-outs are counted, bridged, a bridge is dragged and taken away, each one undo") {
    Window w;
    const Piece ring{circle({200, 200}, 60), {reversed(circle({200, 200}, 30))}};
    w.session->apply("Draw",
                     job::withArtwork(w.job(), artwork::withPieces(*w.job().artwork, {ring}, "plate", "moon").artwork));
    w.act("stationMend");
    for (auto* section : w.find("mendSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.settle();
    CHECK(w.find<QLabel>("dropOuts")->text().contains("1 would drop out"));
    w.type("bridgeWidth", "8");
    w.click("bridgeMake");
    w.settle();
    CHECK(w.message().contains("1 island held by 2 bridges"));
    REQUIRE(w.job().artwork->items.size() == 2);
    CHECK(w.find<QLabel>("dropOuts")->text().contains("Nothing"));
    const auto before = mend::bridgesOf(*w.job().artwork);
    REQUIRE(before.size() == 2);
    const auto middle = [](const mend::BridgePlace& b) { return (b.bridge.from + b.bridge.to) / 2; };
    w.drag(middle(before[0]), {200 - 45, 200});
    const auto after = mend::bridgesOf(*w.job().artwork);
    REQUIRE(after.size() == 2);
    CHECK(distance(middle(after[0]), {155, 200}) < 3);
    CHECK(w.session->history().undoLabel() == "Move bridge");
    w.clickAt(middle(after[1]), Qt::ControlModifier);
    CHECK(mend::bridgesOf(*w.job().artwork).size() == 1);
    CHECK(w.job().artwork->items.size() == 1);
    w.click("bridgeTakeAway");
    CHECK(artwork::shapeOf(w.job().artwork->items[0])->piece == ring);
    for (int i = 0; i < 4; ++i) w.act("editUndo");
    CHECK(w.job().artwork->items.size() == 1);
    CHECK(w.session->history().undoLabel() == "Draw");
}

TEST_CASE("mend: shapes are combined, offset and chosen by likeness and size, the sheet brings edges into line") {
    Window w;
    w.session->apply("Draw", job::withArtwork(w.job(), artwork::withPieces(*w.job().artwork,
                                                                           {{rectangle({100, 100}, {200, 150}), {}},
                                                                            {circle({200, 125}, 15), {}},
                                                                            {circle({300, 300}, 15), {}},
                                                                            {circle({350, 320}, 4), {}}},
                                                                           "cut", "plate")
                                                           .artwork));
    w.act("stationMend");
    for (auto* section : w.find("mendSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.settle();
    const auto& items = [&]() -> const std::vector<artwork::Item>& { return w.job().artwork->items; };
    w.session->select({items()[1].id});
    w.click("chooseLike");
    CHECK(w.session->selection() == artwork::Ids{items()[1].id, items()[2].id});
    w.type("chooseUpTo", "10");
    CHECK(w.session->selection() == artwork::Ids{items()[3].id});
    w.session->select({items()[0].id, items()[1].id});
    w.click("shapeTakeAway");
    w.settle();
    REQUIRE(items().size() == 3);
    CHECK(areaOf(artwork::placed(items()[0]).outline) == Approx(5000 - 112.5 * pi));
    w.session->select({items()[1].id});
    w.type("shapeOffset", "5");
    w.click("shapeOffsetMake");
    w.settle();
    REQUIRE(items().size() == 4);
    CHECK(w.session->selection() == artwork::Ids{items()[3].id});
    CHECK(artwork::boundsOf(items()[3]).width() == Approx(40).margin(0.02));
    w.act("stationSheet");
    w.session->select({items()[1].id, items()[2].id});
    w.click("alignLeft");
    CHECK(artwork::boundsOf(items()[2]).low.x == Approx(285));
    CHECK(w.session->history().undoLabel() == "Align");
}

TEST_CASE("mend: near-exact pieces are proposed, shown on the bench, and made exact as ticked") {
    Window w;
    Ring round;
    for (int i = 0; i < 30; ++i)
        round.push_back(Vec2{200, 200} +
                        Vec2{std::cos(i * pi / 15), std::sin(i * pi / 15)} * (60 + (i % 2 ? 0.15 : 0)));
    w.session->apply(
        "Draw", job::withArtwork(w.job(), artwork::withPieces(
                                              *w.job().artwork,
                                              {{pathOf(round, true), {}},
                                               {pathOf({{300, 100}, {400, 100.1}, {400, 150}, {300, 150}}, true), {}}},
                                              "cut", "moon")
                                              .artwork));
    w.act("stationMend");
    for (auto* section : w.find("mendSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.settle();
    w.type("trueUpWithin", "0.5");
    w.click("trueUpLook");
    w.settle();
    auto* list = w.find<QListWidget>("trueUpList");
    REQUIRE(list->count() == 2);
    CHECK(list->item(0)->text().contains("a circle"));
    CHECK(test::like(w.pixel({200, 260}), app::theme().color(app::Token::verdigris), 90));
    list->item(1)->setCheckState(Qt::Unchecked);
    w.click("trueUpTake");
    w.settle();
    CHECK(circleOf(artwork::placed(w.job().artwork->items[0]).outline, 1e-6));
    CHECK(artwork::shapeOf(w.job().artwork->items[1])->piece.outline.segments.size() == 4);
    CHECK(w.session->auditor().proposed().changes.empty());
    CHECK(w.session->history().undoLabel() == "True up");
}

TEST_CASE("mend: the proof leads to joints that will not go together, and they are made to fit the sheet") {
    Window w;
    // A slot drawn for 5.7 mm and its tongue, on birch of 6 mm.
    std::vector<Piece> kit{
        {rectangle({20, 20}, {140, 120}), {wound(rectangle({77, 50}, {82.7, 90}), false)}},
        {pathOf({{160, 20}, {210, 20}, {210, 100}, {205, 100}, {205, 106}, {165, 106}, {165, 100}, {160, 100}}, true),
         {}}};
    w.session->apply(
        "Draw", job::withArtwork(w.job(), artwork::withPieces(*w.job().artwork, std::move(kit), "cut", "kit").artwork));
    w.act("stationSheet");
    w.type("stockThickness", "6");
    w.act("stationCuts");
    w.session->apply("Step", *job::withStepAdded(w.job(), "outline", "end-3"));
    w.act("stationProof");
    w.until([&] { return w.session->prover().isFresh() && w.main->findChild<QPushButton*>("toJoints"); },
            "the joints are told");
    w.click("toJoints");
    w.until([&] { return w.find<QListWidget>("jointsList")->count() == 1; }, "found");
    CHECK(w.session->station() == app::StationId::mend);
    CHECK(w.find<QListWidget>("jointsList")->item(0)->text().contains("6.10 × 40.10 mm, was 5.70 × 40.00"));
    CHECK(w.find<QLineEdit>("jointsClearance")->text().contains("0.1"));
    w.click("jointsTake");
    w.settle();
    CHECK(w.session->history().undoLabel() == "Fit joints");
    const auto slot = boundsOf(artwork::placed(w.job().artwork->items[0]).openings[0]);
    CHECK(slot.width() == Approx(6.1));
    CHECK(slot.height() == Approx(40.1));
    w.click("jointsLook");
    w.until([&] { return w.find<QLabel>("jointsWords")->text().contains("already"); }, "all fit");
}

TEST_CASE("mend: a text is typed, changed while it is one, and stays outlines") {
    Window w;
    const auto answer = [&](const QString& words, const char* height) {
        QTimer look; // the dialog holds the window until it is answered
        QObject::connect(&look, &QTimer::timeout, w.main.get(), [&] {
            auto* dialog = w.main->findChild<QDialog*>("textDialog");
            if (!dialog || !dialog->isVisible()) return;
            look.stop();
            dialog->findChild<QPlainTextEdit*>("textWords")->setPlainText(words);
            auto* edit = dialog->findChild<QLineEdit*>("textHeight");
            edit->selectAll();
            QTest::keyClicks(edit, height);
            QTest::keyClick(edit, Qt::Key_Return);
            if (dialog->isVisible()) dialog->findChild<QPushButton*>("textTake")->click();
        });
        look.start(20);
        w.act("pieceText");
        REQUIRE_FALSE(look.isActive());
    };
    answer("MOON", "20");
    REQUIRE(w.job().artwork->items.size() == 4);
    REQUIRE(w.job().artwork->groups.size() == 1);
    CHECK(w.session->selection().size() == 4);
    const Box box = artwork::boundsOf(*w.job().artwork, w.session->selection());
    CHECK(box.height() == Approx(20).margin(0.8)); // round letters reach a little over
    CHECK(distance(box.centre(), job::sheetOf(w.job().sheet().stock).centre()) < 1e-6);
    // While it is typed it is on the bench; left, it was never there.
    {
        const auto before = w.job();
        QTimer look;
        QObject::connect(&look, &QTimer::timeout, w.main.get(), [&] {
            auto* dialog = w.main->findChild<QDialog*>("textDialog");
            if (!dialog || !dialog->isVisible()) return;
            look.stop();
            auto* words = dialog->findChild<QPlainTextEdit*>("textWords");
            words->setPlainText("MO\nON");
            CHECK(w.job().artwork->groups[0].lettering->text == "MO\nON");
            auto* spacing = dialog->findChild<QLineEdit*>("textSpacing");
            spacing->selectAll();
            QTest::keyClicks(spacing, "300");
            Q_EMIT spacing->editingFinished();
            CHECK(w.job().artwork->groups[0].lettering->lineSpacing == Approx(3));
            dialog->reject();
        });
        look.start(20);
        // By a double-click on it, with the hand that picks.
        const auto& letter = w.job().artwork->items[0];
        const Piece piece = artwork::placed(letter);
        const QPointF at = w.bench()->toScreen(pointAt(piece.outline.start, piece.outline.segments[0], 0.5));
        QTest::mouseDClick(w.bench(), Qt::LeftButton, {}, at.toPoint());
        REQUIRE_FALSE(look.isActive());
        CHECK(w.job() == before);
    }
    answer("HERON", "30");
    CHECK(w.job().artwork->items.size() == 5);
    CHECK(w.job().artwork->groups[0].lettering->text == "HERON");
    CHECK(artwork::boundsOf(*w.job().artwork, w.session->selection()).low.x == Approx(box.low.x).margin(2));
    w.act("pieceUngroup");
    CHECK(w.job().artwork->groups.empty());
    // Along a chosen line, in a face from a file.
    auto added = artwork::withPieces(*w.job().artwork, {{circle({200, 150}, 60), {}}}, "cut", "ring");
    const auto ring = added.ids;
    w.session->apply("Draw", job::withArtwork(w.job(), std::move(added.artwork)));
    w.session->select(ring);
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, w.main.get(), [&] {
        auto* dialog = w.main->findChild<QDialog*>("textDialog");
        if (!dialog || !dialog->isVisible()) return;
        look.stop();
        dialog->findChild<QPlainTextEdit*>("textWords")->setPlainText("TIDE");
        auto* along = dialog->findChild<QCheckBox*>("textAlong");
        CHECK(along->isVisible());
        along->setChecked(true);
        dialog->findChild<QPushButton*>("textTake")->click();
    });
    look.start(20);
    w.act("pieceText");
    REQUIRE(w.job().artwork->groups.size() == 1);
    CHECK(w.job().artwork->groups[0].lettering->along);
    for (const auto id : w.session->selection()) { // each letter stands on the ring
        const Box letter = artwork::boundsOf(*artwork::find(*w.job().artwork, id));
        CHECK(distance(letter.centre(), {200, 150}) < 75);
        CHECK(distance(letter.centre(), {200, 150}) > 45);
    }
}
