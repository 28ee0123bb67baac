#include "job/job_file.h"
#include "support/sound.h"
#include "window.h"

#include <random>

using namespace ferro;
using test::Window;

namespace {

/// What must hold whatever a person does.
void mustBeSound(Window& w) {
    test::mustBeSound(*w.job().artwork);
    for (const auto id : w.session->selection())
        CHECK(artwork::find(*w.job().artwork, id)); // nothing chosen that is gone
}

constexpr const char* actions[] = {
    "editUndo",      "editRedo",     "editDuplicate", "editDelete",    "editSelectAll", "editSelectNone",
    "viewFit",       "viewNearer",   "viewFarther",   "viewUnits",     "viewTheme",     "viewFitSelection",
    "stationSource", "stationMend",  "stationMend",   "stationSheet",  "stationCuts",   "stationProof",
    "stepOutline",   "stepDrill",    "stepScribe",    "pieceGroup",    "pieceUngroup",  "pieceLock",
    "pieceUnlock",   "pieceHide",    "pieceShow",     "piecesMendAll", "pieceThin",     "pieceTurnLeft",
    "pieceMirrorX",  "pieceMirrorY", "pieceOriginal", "orderAutomatic"};

} // namespace

TEST_CASE("anything at all, in any order, leaves a sound job that can be undone to its opening", "[property]") {
    for (unsigned seed = 1; seed <= 3; ++seed) {
        Window w;
        w.open(QStringLiteral(FERRO_DEMO "/scenery.ferro"));
        w.settle();
        const auto first = w.job();
        REQUIRE(first.artwork->items.size() > 3);
        std::mt19937 random(seed);
        const auto share = [&] { return std::uniform_real_distribution<>(0, 1)(random); };
        QStringList did;
        const auto anywhere = [&] {
            const Box sheet = job::sheetOf(w.job().sheet().stock).grown(10);
            return Vec2{std::lerp(sheet.low.x, sheet.high.x, share()), std::lerp(sheet.low.y, sheet.high.y, share())};
        };
        const auto onSomething = [&] { // half of the time
            const auto& items = w.job().artwork->items;
            if (items.empty() || random() % 2) return anywhere();
            const auto& item = items[random() % items.size()];
            const auto* shape = artwork::shapeOf(item);
            return shape ? artwork::placed(item).outline.start : artwork::boundsOf(item).centre();
        };
        for (int i = 0; i < 150; ++i) {
            constexpr Qt::KeyboardModifiers keys[] = {Qt::NoModifier, Qt::ShiftModifier, Qt::ControlModifier,
                                                      Qt::ShiftModifier | Qt::ControlModifier};
            const auto held = keys[random() % std::size(keys)];
            switch (random() % 5) {
            case 0:
            case 1: {
                const char* name = actions[random() % std::size(actions)];
                QCoreApplication::processEvents();
                if (auto* action = w.find<QAction>(name); action->isEnabled()) did << name, action->trigger();
                break;
            }
            case 2: {
                QList<QToolButton*> tools;
                for (auto* button : w.find("toolRow")->findChildren<QToolButton*>())
                    if (button->isVisible()) tools << button;
                auto* tool = tools[static_cast<qsizetype>(random() % static_cast<unsigned>(tools.size()))];
                did << tool->objectName();
                tool->click();
                break;
            }
            case 3: {
                const Vec2 at = onSomething();
                did << QStringLiteral("click %1 %2").arg(at.x).arg(at.y);
                w.clickAt(at, held);
                if (random() % 4 == 0)
                    QTest::mouseDClick(w.bench(), Qt::LeftButton, held, w.bench()->toScreen(at).toPoint());
                break;
            }
            default: {
                const Vec2 from = onSomething(), to = anywhere();
                did << QStringLiteral("drag %1 %2 to %3 %4").arg(from.x).arg(from.y).arg(to.x).arg(to.y);
                w.drag(from, to, held);
                if (random() % 3 == 0)
                    QTest::keyClick(w.bench(), random() % 2   ? Qt::Key_Left
                                               : random() % 2 ? Qt::Key_Delete
                                                              : Qt::Key_Escape);
            }
            }
            QCoreApplication::processEvents();
            INFO("seed " << seed << ": " << did.join(", ").toStdString());
            mustBeSound(w);
        }
        w.settle();
        // What it came to is kept as it is, and all of it is undone.
        const QString file = w.path("after.ferro");
        const auto after = w.job();
        REQUIRE(job::save(realDisk(), after, file.toStdString()));
        const auto back = job::load(realDisk(), file.toStdString());
        REQUIRE(back);
        CHECK(*back == after);
        for (int i = 0; i < 1000 && w.session->history().canUndo(); ++i) w.session->undo();
        CHECK(w.job() == first);
        mustBeSound(w);
    }
}
