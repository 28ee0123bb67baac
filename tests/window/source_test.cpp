#include "formats/drawing.h"
#include "window.h"

#include <QFileDialog>
#include <QInputDialog>
#include <set>

using namespace ferro;
using namespace ferro::test;

namespace {

/// Three flat colours of a poster: night, moon and sea, and a lantern so small that it is not counted among them.
QString poster(const QString& file) {
    QImage image(400, 300, QImage::Format_RGB32);
    image.setDotsPerMeterX(10'000);
    image.setDotsPerMeterY(10'000);
    image.fill(QColor(20, 24, 60));
    image.setPixelColor(0, 0, QColor(20, 24, 60));
    QPainter painter(&image);
    painter.fillRect(0, 200, 400, 100, QColor(30, 120, 130));
    painter.fillRect(60, 40, 100, 100, QColor(235, 225, 190));
    painter.fillRect(300, 150, 8, 8, QColor(220, 60, 30));
    painter.end();
    REQUIRE(image.save(file, "PNG"));
    return file;
}

/// The poster on the bench, split into its colours.
app::Tracer& splitPoster(Window& w) {
    w.drop(poster(w.path("poster.png")));
    w.until([&] { return w.session->tracer().picture() != nullptr; }, "the picture is on the bench");
    w.settle();
    w.click("findColours");
    w.settle();
    REQUIRE(w.session->tracer().result());
    return w.session->tracer();
}

} // namespace

TEST_CASE("A colour that was too small to be found is picked from the picture and gets its own layer", "[window]") {
    Window w;
    splitPoster(w);
    const auto found = w.session->tracer().result()->palette.size();
    CHECK(found == 3);
    w.click("toolPick");
    const auto& item = *w.session->tracer().picture();
    const Vec2 low = artwork::boundsOf(item).low;
    w.clickAt(low + Vec2{11, 20}); // the moon: is among them
    CHECK(w.session->tracer().settings().palette.empty());
    CHECK(w.message().contains("is among the colours"));
    w.clickAt(low + Vec2{-5, -5});
    CHECK(w.message().contains("Point at the picture"));
    w.act("viewFitSelection");
    w.clickAt(low + Vec2{30.4, 14.6}); // the lantern, 0.8 mm wide
    CHECK(w.message().contains("#dc3c1e"));
    w.settle();
    REQUIRE(w.session->tracer().result());
    REQUIRE(w.session->tracer().settings().palette.size() == found + 1);
    const auto& layers = w.session->tracer().result()->layers;
    const auto lantern = std::find_if(layers.begin(), layers.end(), [](const auto& l) {
        return l.colour == trace::Colour{220, 60, 30};
    });
    REQUIRE(lantern != layers.end());
    CHECK(lantern->pieces == 1);
    // Another way of finding has no use for the tool.
    w.click("findAreas");
    CHECK(w.bench()->tool() == app::BenchTool::select);
    CHECK_FALSE(w.find("toolPick")->isVisible());
}

TEST_CASE("A picture split into colours has a patch of its own: left out, by its level, by its own colours",
          "[window]") {
    Window w;
    auto& tracer = splitPoster(w);
    const auto moons = [&] { // pieces in the colour of the moon, less the lantern, which looks most like it
        std::size_t count = 0, at = 0;
        REQUIRE(tracer.result());
        for (const auto& layer : tracer.result()->layers) {
            for (std::size_t i = at; i < at + layer.pieces; ++i)
                count += layer.colour.r > 200 && layer.colour.g > 200 &&
                         ferro::boundsOf(tracer.result()->pieces[i]).width() > 2;
            at += layer.pieces;
        }
        return count;
    };
    REQUIRE(moons() == 1);
    const Vec2 low = artwork::boundsOf(*tracer.picture()).low;
    w.act("viewFitSelection");
    w.click("toolArea");
    w.drag(low + Vec2{4, 14}, low + Vec2{18, 28}); // round the moon
    w.click("areaPatch");
    w.settle();
    CHECK(tracer.coloursFound().size() == 2); // a patch begins as the whole is: by colours, its own
    CHECK(moons() == 1);
    w.click("findNothing");
    w.settle();
    CHECK(moons() == 0);
    CHECK(tracer.coloursFound().empty());
    w.click("findAreas");
    w.settle();
    const auto result = tracer.result();
    std::size_t coloured = 0;
    for (const auto& layer : result->layers) coloured += layer.pieces;
    REQUIRE(result->pieces.size() > coloured); // the night round the moon, by its level
    CHECK(w.find<QPushButton>("acceptTrace")->isEnabled());
    w.click("acceptTrace");
    w.settle();
    const auto& art = *w.job().artwork;
    CHECK(art.items.size() == 1 + result->pieces.size());
    std::set<std::string> layers;
    for (const auto& layer : art.layers) layers.insert(layer.name);
    CHECK(layers.contains("trace"));
    CHECK(layers.size() >= 3);
}

TEST_CASE("An export takes the layers that are chosen, in the colours a bureau asks for", "[window]") {
    Window w;
    QFile drawing(w.path("kit.svg"));
    REQUIRE(drawing.open(QIODevice::WriteOnly));
    drawing.write(R"(<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">
        <g id="cut"><rect x="10" y="10" width="40" height="30" fill="none" stroke="#000"/></g>
        <g id="score"><circle cx="60" cy="30" r="8" fill="none" stroke="#00f"/></g></svg>)");
    drawing.close();
    w.drop(drawing.fileName());
    w.until([&] { return w.job().artwork->items.size() == 2; }, "the drawing is on the bench");
    w.settle();
    const QString file = w.path("out.svg");
    bool refused = false;
    answering(
        w,
        [&](QWidget* modal) {
            if (auto* files = qobject_cast<QFileDialog*>(modal)) {
                files->findChild<QLineEdit*>()->setText(file);
                return files->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Save)->click();
            }
            if (modal->objectName() != "exportDialog") return modal->close(), void();
            auto* take = modal->findChild<QPushButton*>("exportTake");
            modal->findChild<QCheckBox*>("export_cut")->setChecked(false);
            auto* colour = modal->findChild<QLineEdit*>("exportColour_score");
            colour->setText("#ff00f");
            refused = !take->isEnabled() && modal->findChild<QLabel*>("exportWords")->text().contains("no colour");
            colour->setText("#ff00ff");
            take->click();
        },
        [&] { w.act("fileExport"); });
    CHECK(refused);
    const auto text = realDisk().read(file.toStdString());
    REQUIRE(text);
    CHECK(text->find("#ff00ff") != std::string::npos);
    const auto back = formats::drawingFrom(*text, "out.svg");
    REQUIRE(back);
    REQUIRE(back->items.size() == 1);
    REQUIRE(back->items[0].pieces.size() == 1);
    CHECK(std::abs(areaOf(back->items[0].pieces[0].outline)) == Approx(pi * 64).epsilon(1e-6));
}

TEST_CASE("source: only an area is traced, patches are walked through, what finds nothing says so") {
    Window w;
    auto& tracer = splitPoster(w);
    const auto whole = tracer.result()->pieces.size();
    const Vec2 low = artwork::boundsOf(*tracer.picture()).low;
    const auto draw = [&](Vec2 from, Vec2 to) {
        w.click("toolArea");
        w.drag(low + from, low + to);
    };
    w.act("viewFitSelection");
    draw({4, 14}, {18, 28}); // round the moon
    w.click("areaOnly");
    w.settle();
    CHECK(tracer.result()->pieces.size() < whole);
    for (const auto& piece : tracer.result()->pieces) CHECK(boundsOf(piece).high.x < low.x + 19);
    w.click("areaWhole");
    w.settle();
    CHECK(tracer.result()->pieces.size() == whole);
    draw({4, 14}, {18, 28});
    w.click("areaPatch");
    draw({2, 2}, {38, 8});
    w.click("areaPatch");
    w.settle();
    REQUIRE(tracer.patches().size() == 2);
    CHECK(tracer.patch() == 1);
    CHECK_FALSE(w.find<QPushButton>("patchNext")->isEnabled());
    w.click("findNothing");
    w.click("patchPrevious");
    CHECK(tracer.patch() == 0);
    CHECK(tracer.settings().find == trace::Find::colours); // each has its own
    w.click("patchPrevious");
    CHECK(tracer.patch() == -1);
    CHECK(w.find<QLabel>("patchWords")->text() == "Settings: whole picture");
    CHECK_FALSE(w.find<QPushButton>("patchPrevious")->isEnabled());
    w.click("patchNext");
    w.click("patchDrop");
    w.click("patchNext");
    CHECK(tracer.settings().find == trace::Find::nothing);
    w.click("patchDrop");
    CHECK(tracer.patches().empty());
    CHECK_FALSE(w.find("findNothing")->isVisible()); // that is for patches
    trace::Settings dark;
    dark.level = 1;
    tracer.setSettings(dark);
    w.settle();
    w.act("jobAcceptTrace");
    CHECK(w.message().contains("Nothing was found: the picture's greys are"));
    CHECK(w.job().artwork->items.size() == 1);
    // What is accepted is of the settings as they are, not what was last seen; another setting asks anew.
    tracer.setSettings({});
    tracer.accept(); // without a pause in which the trace might end
    CHECK(w.message().contains("as soon as it is done"));
    tracer.setSettings(dark);
    w.settle();
    CHECK(w.job().artwork->items.size() == 1);
    tracer.setSettings({});
    w.act("jobAcceptTrace");
    w.until([&] { return w.job().artwork->items.size() > 1; }, "the trace is accepted");
    CHECK(w.session->station() == app::StationId::mend);
}

TEST_CASE("source: a large picture shows its clean-up on a small copy first, and comes to the same in full") {
    Window w;
    QImage image(2600, 1800, QImage::Format_Grayscale8);
    image.setDotsPerMeterX(10'000);
    image.setDotsPerMeterY(10'000);
    image.fill(QColor(230, 230, 230));
    QPainter painter(&image);
    painter.fillRect(300, 300, 1200, 900, QColor(60, 60, 60));
    painter.end();
    w.session->addPicture("wall.png", [&] {
        QByteArray bytes;
        QBuffer buffer(&bytes);
        buffer.open(QIODevice::WriteOnly);
        image.save(&buffer, "PNG");
        return bytes;
    }());
    w.until([&] { return w.session->tracer().picture() != nullptr; }, "the picture is on the bench");
    w.settle();
    auto& tracer = w.session->tracer();
    auto smooth = picture::freshStep(picture::CleanStep::Kind::smooth);
    smooth.amount = 0.4;
    auto invert = picture::freshStep(picture::CleanStep::Kind::invert);
    tracer.cleanUp({smooth, invert}, 0);
    w.settle();
    CHECK_FALSE(tracer.look()); // the small copy has made way for the whole
    REQUIRE(tracer.cleanSteps().size() == 2);
    const auto& leaf = *artwork::pictureOf(*tracer.picture());
    CHECK(leaf.picture.width == 2600);
    CHECK(picture::greyOf(leaf.picture).at(600, 600) == 195); // 60, turned round
    CHECK(picture::greyOf(leaf.picture).at(100, 100) == 25);
}

TEST_CASE("trace: its settings and patches are the picture's, undone like all else and there again after saving") {
    Window w;
    w.drop(moonPicture(w.path("moon.png")));
    w.until([&] { return w.session->tracer().result() != nullptr; }, "traced");
    auto& tracer = w.session->tracer();
    const auto before = tracer.settings();
    w.type("speck", "7 mm²");
    w.click("findStrokes");
    tracer.addPatch({{25, 25}, {45, 25}, {45, 45}});
    w.settle();
    REQUIRE(tracer.patches().size() == 1);
    CHECK(tracer.patch() == 0);
    w.click("findNothing");
    CHECK(tracer.settings().find == trace::Find::nothing);
    REQUIRE(w.save(w.path("moon.ferro")));
    w.act("fileNew");
    CHECK(tracer.patches().empty());
    w.open(w.path("moon.ferro"));
    w.session->goTo(app::StationId::source);
    w.settle();
    REQUIRE(tracer.patches().size() == 1);
    CHECK(tracer.patches()[0].settings.find == trace::Find::nothing);
    CHECK(tracer.patches()[0].area[1].x == Approx(45));
    CHECK(tracer.settings().speck == 7);
    // Where the picture goes, its patches go.
    const auto id = tracer.picture()->id;
    REQUIRE(w.session->apply("Move", job::withArtwork(w.job(), artwork::withTransformed(*w.job().artwork, {id},
                                                                                        Transform::moved({100, 0})))));
    CHECK(tracer.patches()[0].area[1].x == Approx(145));
    w.act("editUndo");
    tracer.setSettings(before);
    CHECK(tracer.settings() == before);
    w.act("editUndo");
    CHECK(tracer.settings().find == trace::Find::strokes);
    CHECK(tracer.settings().speck == 7);
}

TEST_CASE("source: from a shadowed photo to a finished run on the stand-in in twelve clicks") {
    int clicks = 0;
    const auto count = [&](Window& w, const char* name) {
        CAPTURE(name);
        REQUIRE(w.find(name)->isVisible());
        w.click(name);
        ++clicks;
        w.settle();
    };
    Window w; // the shop has used its laser and card before
    REQUIRE(w.session->apply("Machine", job::withMachine(w.job(), *w.session->book().machine("laser-700"))));
    REQUIRE(w.session->apply("Material", job::withMaterial(w.job(), *w.session->book().material("black-card"))));
    w.session->newJob();
    w.settle();
    CHECK(w.job().machine.key == "laser-700");
    CHECK(w.job().material.key == "black-card");
    clicks += 3; // Add artwork…, the file, Open
    w.main->takeFiles({test::shadowedPhoto(w.path("photo.png"), 2, 8000)});
    w.settle();
    count(w, "evenTheLight");
    count(w, "acceptTrace");
    REQUIRE(w.job().artwork->items.size() == 3);
    w.act("stationCuts"), ++clicks; // its card
    count(w, "addWhatFits");
    REQUIRE(w.job().plan.steps.size() == 1);
    CHECK_FALSE(w.find("addWhatFits")->isVisible());
    count(w, "toProof");
    CHECK(w.session->prover().proof()->mayRun());
    count(w, "toRun");
    w.type("standInFaster", "5000"); // so that the test does not take long
    w.click("rehearse"), ++clicks;
    w.until([&] { return w.session->runner().facts().state == link::Streamer::State::finished; }, "finished");
    CHECK(clicks <= 12);
    CHECK(w.session->runner().facts().done == w.session->runner().facts().lines);
}

TEST_CASE("source: artwork comes to the middle, fitted, and is sized at once by a known distance") {
    Window w;
    const Box sheet = job::sheetOf(w.job().sheet().stock);
    const auto bounds = [&] { return artwork::boundsOf(*w.job().artwork, w.session->selection()); };
    QImage photo(4000, 3000, QImage::Format_Grayscale8);
    photo.fill(230);
    for (int y = 1000; y < 2000; ++y) std::fill_n(photo.scanLine(y) + 1500, 1000, static_cast<uchar>(30));
    photo.setDotsPerMeterX(3780); // 96 an inch
    photo.setDotsPerMeterY(3780);
    photo.save(w.path("photo.png"));
    w.main->takeFiles({w.path("photo.png")});
    w.settle();
    REQUIRE(w.find("arrival")->isVisible());
    const auto words = [&] { return w.find<QLabel>("arrivalWords")->text(); };
    CAPTURE(words().toStdString());
    CHECK(words().contains("1058"));
    CHECK(words().contains("cameras and screens"));
    CHECK(words().contains("was fitted")); // a metre wide
    CHECK(distance(bounds().centre(), sheet.centre()) < 1e-6);
    CHECK(bounds().width() <= sheet.width() + 1e-6);
    CHECK(bounds().height() == Approx(sheet.height()));
    w.click("arrivalOwn");
    CHECK(bounds().width() == Approx(1058.2).margin(0.2));
    w.click("arrivalFit");
    CHECK(bounds().height() == Approx(sheet.height() - 20));
    // The dark square is known to be 100 mm.
    w.settle();
    w.click("arrivalDistance");
    const Box now = bounds();
    const double px = now.width() / 4000;
    QTimer::singleShot(300, [] {
        auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
        REQUIRE(dialog);
        dialog->setTextValue("100");
        dialog->accept();
    });
    w.drag(now.low + Vec2{1500 * px, 1500 * px}, now.low + Vec2{2500 * px, 1500 * px});
    CHECK(bounds().width() == Approx(400).epsilon(0.02));
    CHECK(distance(bounds().centre(), sheet.centre()) < 1e-6);
    w.act("editUndo");
    CHECK(bounds().height() == Approx(sheet.height() - 20));
    w.session->select({});
    CHECK_FALSE(w.find("arrival")->isVisible());
}

TEST_CASE("source: a picture that was accepted is taken up again by a click, faded, cleaned, and its pieces follow") {
    Window w;
    w.main->takeFiles({test::shadowedPhoto(w.path("photo.png"), 2, 8000)});
    w.settle();
    w.click("evenTheLight");
    w.settle();
    w.click("acceptTrace");
    w.settle();
    REQUIRE(w.session->station() == app::StationId::mend);
    const auto pieces = w.session->selection();
    REQUIRE(pieces.size() == 2);
    const auto picture = w.job().artwork->items[0].id;
    // From a piece back to its picture.
    w.session->select({pieces[0]});
    w.act("pieceTraceAgain");
    w.settle();
    CHECK(w.session->station() == app::StationId::source);
    CHECK(w.session->selection() == artwork::Ids{picture});
    w.type("pictureFade", "40");
    CHECK(artwork::find(*w.job().artwork, picture)->fade == Approx(0.4));
    // By a click on it, though it is locked; an empty place lets go of it.
    w.session->select({});
    w.settle();
    const Box box = artwork::boundsOf(*artwork::find(*w.job().artwork, picture));
    w.act("viewFit");
    w.clickAt(box.low + Vec2{1, 1});
    CHECK(w.session->selection() == artwork::Ids{picture});
    w.settle();
    const auto was = artwork::find(*w.job().artwork, pieces[1])->leaf;
    // One piece is changed by hand, then the picture is traced with corners everywhere.
    REQUIRE(w.session->apply("Move", job::withArtwork(w.job(), artwork::withTransformed(*w.job().artwork, {pieces[0]},
                                                                                        Transform::moved({300, 0})))));
    w.type("cornersUnder", "20");
    w.settle();
    w.act("jobAcceptTrace");
    w.settle();
    CHECK(w.job().artwork->items.size() == 3);
    CHECK_FALSE(artwork::find(*w.job().artwork, pieces[1])->leaf == was);
    CHECK(w.message().contains("1 changed by hand since stays as it is"));
    // All of that lives on in the file.
    REQUIRE(w.save(w.path("again.ferro")));
    const auto kept = *w.job().artwork;
    w.open(w.path("again.ferro"));
    CHECK(*w.job().artwork == kept);
}
