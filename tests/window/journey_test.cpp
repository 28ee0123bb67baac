#include "job/boards.h"
#include "shop/own.h"
#include "support/jobs.h"
#include "window.h"

#include <QProcess>

#include "job/job_file.h"

using namespace ferro;
using test::Window;

namespace {

/// From a dropped picture to a planned job: traced, accepted, on 3 mm poplar, outlines cut with the 3 mm end mill.
void planMoon(Window& w) {
    w.drop(test::moonPicture(w.path("moon.png")));
    w.until([&] { return w.session->tracer().result() != nullptr; }, "the picture is traced");
    w.type("speck", "0.5 mm²");
    w.settle();
    REQUIRE(w.session->tracer().result());
    CHECK(w.session->tracer().result()->pieces.size() == 1);
    w.type("droX", "20"); // it came to the middle of the sheet
    w.type("droY", "20");
    w.settle();
    w.click("acceptTrace");
    CHECK(w.session->station() == app::StationId::mend);
    w.click("toSheet");
    w.choose("machine", "mill-600");
    w.choose("material", "poplar");
    w.type("stockWidth", "120");
    w.type("stockHeight", "4 in - 1.6");
    w.type("stockThickness", "3");
    w.type("stockSpacer", "1");
    w.click("toCuts");
    w.act("stepOutline");
    w.choose("stepTool", "end-3");
    w.settle();
}

/// Homes the machine that is connected, jogs over the bed and sets the zero there.
void setZeroOver(Window& w) {
    const auto& facts = w.session->runner().facts();
    w.click("home");
    w.until([&] { return facts.homed; }, "homed");
    w.session->runner().send({"G21 G90 G0 X40 Y40 Z-40"});
    w.until([&] { return !facts.sending && std::abs(facts.status.at.z + 40) < 0.01; }, "jogged");
    w.click("setZero");
    w.until([&] { return facts.zeroSet; }, "zero set");
}

} // namespace

TEST_CASE("a picture dropped on the bench becomes a finished run, and all of it can be undone") {
    Window w;
    const auto first = w.job();
    planMoon(w);
    // The moon is 40 mm across with a hole of 12 mm, and its picture is a locked guide below.
    REQUIRE(w.job().artwork->items.size() == 2);
    const auto& picture = w.job().artwork->items[0];
    CHECK(picture.underlay);
    CHECK(artwork::isLocked(*w.job().artwork, picture));
    const auto* moon = artwork::shapeOf(w.job().artwork->items[1]);
    REQUIRE(moon);
    REQUIRE(moon->piece.openings.size() == 1);
    CHECK(boundsOf(moon->piece.outline).width() == Approx(40).margin(0.1));
    CHECK(boundsOf(moon->piece.openings[0]).width() == Approx(12).margin(0.1));
    CHECK(w.job().sheet().stock.height == Approx(100));

    w.click("toProof");
    w.settle();
    REQUIRE(w.session->prover().isFresh());
    CAPTURE(w.find<QLabel>("verdict")->text().toStdString());
    REQUIRE(w.session->prover().proof()->mayRun());
    CHECK(w.session->prover().proof()->deviation.cutInto < 0.01);
    // What the operator sees: a gap beside the moon where the tool went, wood on the moon.
    const Vec2 centre = artwork::boundsOf(w.job().artwork->items[1]).centre();
    const QColor wood = w.pixel(centre + Vec2{0, 14});
    int open = 0; // of eight places in the groove, some may be tabs
    for (int i = 0; i < 8; ++i)
        open += !test::like(w.pixel(centre + 21.5 * Vec2{std::cos(i * pi / 4), std::sin(i * pi / 4)}), wood, 8);
    CHECK(open >= 4);

    w.click("toRun");
    w.settle();
    w.type("standInFaster", "500");
    w.click("startStandIn");
    w.until([&] { return w.session->runner().facts().connected; }, "the stand-in answers");
    CHECK_FALSE(w.find<QPushButton>("borderWalk")->isEnabled()); // no zero, no walk
    w.click("home");
    w.until([&] { return w.session->runner().facts().homed; }, "homed");
    w.type("jogStep", "50");
    for (const char* jog : {"jogXPlus", "jogYPlus", "jogZMinus"}) w.click(jog);
    w.until([&] { return std::abs(w.session->runner().facts().status.machine.z + 50) < 0.01; }, "jogged");
    w.click("zeroX"); // one axis after the other, and not set before the last
    w.until([&] { return w.session->runner().facts().zeroed[0]; }, "zero of X");
    CHECK_FALSE(w.find<QPushButton>("lastZero")->isEnabled()); // nothing was run here yet
    w.click("touchOff");                                       // 50 down from the top the plate is still 15 below
    w.until([&] { return w.session->runner().facts().zeroed[2]; }, "zero of Z");
    w.until([&] { return w.session->runner().facts().status.state == link::MachineState::resting; }, "at rest");
    const auto& touched = w.session->runner().facts().status;
    const double board = 5 + w.job().sheet().stock.thickness - w.job().machine.travelZ; // the stock's top
    CHECK(std::abs(touched.machine.z - touched.at.z - board) < 0.002);
    CHECK_FALSE(w.session->runner().facts().zeroSet);
    w.click("zeroY");
    w.until([&] { return w.session->runner().facts().zeroSet; }, "zero set");
    // The blank is felt, place by place; the plate on it makes no difference.
    for (auto* section : w.find("runSheet")->findChildren<app::Section*>()) section->setFolded(false);
    w.type("feelColumns", "3");
    w.type("feelRows", "2");
    w.click("feelBlank");
    w.until([&] { return w.session->runner().facts().lies == 1; }, "the blank is felt");
    w.until([&] { return w.job().sheet().lie.has_value(); }, "the job has it");
    CHECK(w.job().sheet().lie->xs.size() == 3);
    CHECK(w.job().sheet().lie->highest() < 0.003);
    CHECK(w.job().sheet().lie->lowest() > -0.003);
    w.settle();
    w.until([&] { return w.session->runner().facts().status.state == link::MachineState::resting; }, "up again");
    w.click("borderWalk");
    // It ends where it began, at the lower left of all that is cut, above stock and clamps.
    w.until(
        [&] {
            const auto& at = w.session->runner().facts().status.at;
            return at.x > 25 && at.x < 30 && at.y > 25 && at.y < 30 && at.z >= 5;
        },
        "the border is walked");
    w.click("startRun");
    using State = link::Streamer::State;
    w.until(
        [&] {
            if (w.session->runner().facts().state == State::asking) w.find<QPushButton>("resumeRun")->click();
            return w.session->runner().facts().state == State::finished;
        },
        "the run ends");
    w.until([&] { return w.find<QLabel>("runPrompt")->text() == "Finished."; }, "the sheet says so");
    CHECK(w.session->runner().facts().status.clock ==
          Approx(w.session->prover().proof()->timing.running()).epsilon(0.03).margin(0.3));
    CHECK(w.find<QProgressBar>("runProgress")->value() == w.find<QProgressBar>("runProgress")->maximum());
    // The zero of this run can be had back.
    const auto zeroNow = [&] {
        const auto& status = w.session->runner().facts().status;
        return toolpath::Vec3{status.machine.x - status.at.x, status.machine.y - status.at.y,
                              status.machine.z - status.at.z};
    };
    const auto ran = zeroNow();
    w.click("setZero");
    w.until([&] { return toolpath::distance(zeroNow(), ran) > 1; }, "another zero");
    w.until([&] { return w.find<QPushButton>("lastZero")->isEnabled(); }, "the zero of the run is offered");
    w.click("lastZero");
    w.until([&] { return toolpath::distance(zeroNow(), ran) < 0.001; }, "the zero of the run");

    int undone = 0;
    while (w.session->history().canUndo() && undone < 100) w.act("editUndo"), ++undone;
    CHECK(undone >= 8);
    CHECK(w.job() == first);
    while (w.session->history().canRedo()) w.act("editRedo");
    CHECK(w.job().plan.steps.size() == 1);
}

TEST_CASE("a machine of a plain conversation runs a job from the window, with its limits in sight") {
    Window w;
    planMoon(w);
    auto job = w.job();
    job.machine.conversation = "plain";
    REQUIRE(w.session->apply("Machine", job));
    w.act("stationRun");
    w.settle();
    w.type("standInFaster", "500");
    w.click("startStandIn");
    const auto& facts = w.session->runner().facts();
    w.until([&] { return facts.connected; }, "connected");
    w.until([&] { return w.find<QLabel>("runLimits")->text().contains("at the machine itself"); },
            "its limits are told");
    CHECK_FALSE(w.find<QLabel>("runWhere")->text().contains("of the machine"));
    w.click("home");
    w.until([&] { return facts.homed; }, "homed");
    w.session->runner().send({"G21 G90 G0 X40 Y40 Z-40"});
    w.until([&] { return !facts.sending && std::abs(facts.status.at.z + 40) < 0.01; }, "its place, by the lines done");
    w.click("setZero");
    w.until([&] { return facts.zeroSet; }, "zero set");
    CHECK_FALSE(w.find<QPushButton>("lastZero")->isEnabled());
    w.click("startRun");
    using State = link::Streamer::State;
    w.until(
        [&] {
            if (facts.state == State::asking) w.find<QPushButton>("resumeRun")->click();
            return facts.state == State::finished;
        },
        "finished");
}

TEST_CASE("a machine on a port of its own is run, and a board of the shelf is counted off, whatever is looked at") {
    Window w;
    shop::Board board{"plate", "Plate", "poplar", 120, 100, 3, 2, 0, {}};
    REQUIRE(w.session->shop().apply("Board", shop::withThing(w.session->shop().shelves(), board)));
    planMoon(w);
    w.session->apply("Board", job::withBoard(w.job(), w.session->book(), "plate"));
    w.settle();
    w.until([&] { return w.session->prover().isFresh(); }, "proofed");
    QProcess machine; // not the window's own: a machine, for all it knows
    const QString device = w.path("mill");
    machine.start(QCoreApplication::applicationDirPath() + "/ferrograph-standin",
                  {"--link", device, "--machine", "mill-600", "--faster", "500"});
    w.until([&] { return QFileInfo::exists(device); }, "the machine is there");
    w.act("stationRun");
    w.settle();
    auto* menu = w.find<QPushButton>("ports")->menu();
    Q_EMIT menu->aboutToShow();
    CHECK(menu->actions().size() >= 1); // ports, or that there is none
    w.type("device", device);
    w.click("connect");
    const auto& facts = w.session->runner().facts();
    w.until([&] { return facts.connected; }, "connected");
    CHECK_FALSE(w.session->runner().hasStandIn());
    setZeroOver(w);
    w.click("startRun");
    w.act("stationCuts");
    using State = link::Streamer::State;
    w.until(
        [&] {
            if (facts.state == State::asking) w.session->runner().resume();
            return facts.state == State::finished;
        },
        "finished");
    w.until([&] { return w.session->book().boards[0].count == 1; }, "one board less");
    w.settle();
    CHECK(w.session->book().boards[0].count == 1);
    w.session->shop().undo();
    CHECK(w.session->book().boards[0].count == 2);
    w.session->runner().disconnectNow();
    machine.terminate();
    machine.waitForFinished(3000);
}

TEST_CASE("hold, resume and stop reach the machine, a broken run goes on from its last line") {
    Window w;
    planMoon(w);
    w.act("stationRun");
    w.settle();
    w.type("standInFaster", "6");
    w.click("startStandIn");
    w.until([&] { return w.session->runner().facts().connected; }, "connected");
    const auto& facts = w.session->runner().facts();
    w.click("startRun");
    CHECK(w.message().contains("zero is not set"));
    w.session->runner().send({"G21 G90 G0 X40 Y40 Z-40"});
    w.until([&] { return std::abs(facts.status.machine.z + 40) < 0.01; }, "jogged");
    w.click("setZero");
    w.until([&] { return facts.zeroSet; }, "zero set");
    w.click("borderWalk");
    w.click("startRun"); // it waits for the end of the walk
    using State = link::Streamer::State;
    const auto answer = [&] {
        if (facts.state == State::asking) w.find<QPushButton>("resumeRun")->click();
    };
    w.until([&] { return answer(), facts.done > 12; }, "under way");
    w.click("holdRun");
    w.until([&] { return facts.state == State::holding; }, "held");
    QTest::qWait(400); // it has braked by then
    const auto held = facts.status.machine;
    QTest::qWait(300);
    CHECK(facts.status.machine == held);
    w.click("resumeRun");
    w.until([&] { return facts.done > 16; }, "goes on");
    w.click("stopRun");
    w.until([&] { return facts.state == State::stopped; }, "stopped");
    CHECK_FALSE(facts.problem.isEmpty());
    // The job has changed since: it is said in what, and only the program that was run is gone on with.
    const auto step = w.job().plan.steps[0].id;
    REQUIRE(w.session->apply("Feed", job::withStepSetting(w.job(), step, "feed", "444")));
    w.settle();
    const auto said = test::answered("resumeQuestion", "resumeLeave", [&] { w.click("resumeFromLog"); });
    CHECK(said.contains("F444"));
    CHECK(facts.state == State::stopped);
    test::answered("resumeQuestion", "resumeLogged", [&] { w.click("resumeFromLog"); });
    w.until([&] { return answer(), facts.state == State::finished; }, "the rest is done");
}

TEST_CASE("a killed window loses nothing that was kept: the next one offers it") {
    auto folder = std::make_shared<test::TemporaryFolder>();
    const QString picture = test::moonPicture(QString::fromStdString((folder->path / "moon.png").string()));
    qputenv("XDG_DATA_HOME", folder->path.c_str());
    QProcess other;
    other.start(FERRO_BIN "/ferrograph", {"--autosave", "1", picture});
    REQUIRE(other.waitForStarted());
    const QDir kept(QString::fromStdString((folder->path / "ferrograph/unfinished").string()));
    REQUIRE(QTest::qWaitFor([&] { return !kept.entryList({"*.ferro"}).isEmpty(); }, 60'000));
    other.kill();
    other.waitForFinished();

    Window w(folder);
    REQUIRE(w.find("recovery")->isVisible());
    CHECK(w.job().artwork->items.empty());
    w.click("recover");
    CHECK_FALSE(w.find("recovery")->isVisible());
    REQUIRE(w.job().artwork->items.size() == 1);
    CHECK(artwork::pictureOf(w.job().artwork->items[0])->picture.width == 600);
    CHECK(w.session->changed());
    CHECK(kept.entryList({"*.ferro"}).size() == 1); // still kept, now as ours
    w.act("editUndo");
    CHECK(w.job().artwork->items.empty());
}

TEST_CASE("saved and opened again, a job is the same, a damaged file changes nothing") {
    Window w;
    planMoon(w);
    const QString file = w.path("moon.ferro");
    REQUIRE(w.save(file));
    CHECK_FALSE(w.session->changed());
    const auto saved = w.job();
    w.act("fileNew");
    CHECK(w.job().plan.steps.empty());
    w.open(file);
    CHECK(w.job() == saved);
    QFile broken(w.path("broken.ferro"));
    REQUIRE(broken.open(QIODevice::WriteOnly));
    broken.write(QByteArray(5000, 'x'));
    broken.close();
    w.open(w.path("broken.ferro"));
    CHECK(w.message().contains("broken.ferro"));
    CHECK(w.job() == saved);
    QFile lie(w.path("lie.png"));
    REQUIRE(lie.open(QIODevice::WriteOnly));
    lie.write("\x89PNG\r\n\x1a\n but no more");
    lie.close();
    w.drop(w.path("lie.png"));
    w.until([&] { return w.message().contains("lie.png"); }, "the bad picture is named");
    CHECK(w.job() == saved);
}

TEST_CASE("a run begins with the step that is chosen, with its tool, and says what it takes as done") {
    Window w;
    const QString file = w.path("tray.ferro"); // its log goes beside it
    REQUIRE(QFile::copy(FERRO_DEMO "/tray.ferro", file));
    w.open(file);
    w.settle();
    w.act("stationRun");
    w.settle();
    auto* from = w.find<QComboBox>("runFrom");
    REQUIRE(from->count() == static_cast<int>(w.job().plan.steps.size()));
    w.type("standInFaster", "1000");
    w.click("startStandIn");
    const auto& facts = w.session->runner().facts();
    w.until([&] { return facts.connected; }, "connected");
    setZeroOver(w);
    from->setCurrentIndex(from->findText("Pegs"));
    w.click("startRun");
    CHECK(w.message().contains("Beginning with “Pegs”"));
    CHECK(from->currentIndex() == 0); // the next one is a whole run again
    using State = link::Streamer::State;
    QStringList asked;
    w.until(
        [&] {
            if (facts.state == State::asking) {
                asked << w.find<QLabel>("runPrompt")->text();
                w.find<QPushButton>("resumeRun")->click();
            }
            return facts.state == State::finished;
        },
        "finished");
    REQUIRE_FALSE(asked.isEmpty());
    CHECK(asked.first().contains("Drill 8"));
    // The log holds the whole run, which is done now.
    const auto text = realDisk().read(w.session->writer().runLogFile().toStdString());
    REQUIRE(text);
    const auto logged = link::loggedIn(*text);
    REQUIRE(logged);
    CHECK(logged->finished);
    CHECK(logged->run.steps.size() == 5);
    // Another job, another list, from its beginning.
    w.open(FERRO_DEMO "/badges.ferro");
    w.settle();
    w.act("stationRun");
    w.settle();
    CHECK(from->currentIndex() == 0);
    CHECK_FALSE(from->isVisible());
}

TEST_CASE("the queue counts what was run, lays the next sheet out and says what to lay on the machine") {
    Window w;
    const QString file = w.path("two.ferro"); // its log and queue go beside it
    REQUIRE(QFile::copy(FERRO_DEMO "/tray.ferro", file));
    w.open(file);
    auto two = w.job();
    two = with(two, job::withSheetAdded(two));
    const auto second = two.sheets.back().id;
    two = drawn(two, {{rectangle({40, 40}, {90, 80}), {}}}, "second");
    two = stepped(two, "outline", "end-6");
    two = set(two, "layers", "second");
    REQUIRE(w.session->apply("two sheets", two));
    w.session->layOut(two.sheets.front().id);
    w.settle();
    w.act("stationRun");
    w.settle();
    for (auto* section : w.main->findChildren<app::Section*>()) section->setFolded(false);
    auto* words = w.find<QLabel>("queueWords");
    CHECK(words->text() == "Next: Sheet 1. 2 left.");
    w.find<QSpinBox>("queueCopies1")->setValue(2);
    CHECK(words->text() == "Next: Sheet 1. 3 left.");
    w.type("standInFaster", "2000");
    w.click("startStandIn");
    const auto& facts = w.session->runner().facts();
    w.until([&] { return facts.connected; }, "connected");
    setZeroOver(w);
    using State = link::Streamer::State;
    const auto runIt = [&] {
        w.settle();
        w.click("startRun");
        w.until([&] { return facts.state != State::finished; }, "begun");
        w.until(
            [&] {
                if (facts.state == State::asking) w.find<QPushButton>("resumeRun")->click();
                return facts.state == State::finished && !w.session->runner().active();
            },
            "finished");
        w.settle();
    };
    runIt();
    CHECK(w.job().sheet().id == second);
    CHECK(w.find<QLabel>("runPrompt")->text().contains("Lay “Sheet 2”"));
    CHECK(words->text().startsWith("Next: Sheet 2. 2 left"));
    CHECK(app::cardsOf(*w.session)[5].second == "1 of 3 runs done");
    if (const auto shot = qgetenv("FERRO_TEST_SHOT"); !shot.isEmpty()) w.main->grab().save(QString::fromUtf8(shot));
    runIt();
    CHECK(w.find<QLabel>("runPrompt")->text().contains("1 of 2 done"));
    runIt();
    CHECK(words->text() == "All is done: 3 runs.");
    CHECK(app::cardsOf(*w.session)[5].second == "finished");
    CHECK(QFile::exists(w.session->writer().runLogFile() + ".queue"));
    w.click("queueAnew");
    CHECK(words->text().contains("3 left"));
}

TEST_CASE("zero by edges: a pin jogged beside the sheet on the stand-in finds X and Y, by a click each", "[safety]") {
    Window w;
    w.session->goTo(app::StationId::run);
    w.settle();
    for (auto* section : w.main->findChildren<app::Section*>()) section->setFolded(false);
    CHECK_FALSE(w.find<QPushButton>("edge left")->isEnabled()); // nothing is connected
    w.type("standInFaster", "1000");
    w.click("startStandIn"); // the sheet lies on it 20 mm from the bed's corner, 12 mm thick on 5 mm of board
    const auto& facts = w.session->runner().facts();
    w.until([&] { return facts.connected; }, "connected");
    w.click("home");
    w.until([&] { return facts.homed; }, "homed");
    const auto jog = [&](const char* by, const char* button, auto&& isThere) {
        w.type("jogStep", by);
        w.click(button);
        w.until([&] { return isThere(facts.status.machine) && !facts.sending; }, button);
    };
    using toolpath::Vec3;
    const double low = -w.job().machine.travelZ + 17 - 3; // 3 mm under its top
    const auto step = QString::number(-low).toStdString();
    jog("5", "jogXPlus", [](Vec3 at) { return std::abs(at.x - 5) < 0.01; });
    jog("100", "jogYPlus", [](Vec3 at) { return std::abs(at.y - 100) < 0.01; });
    jog(step.c_str(), "jogZMinus", [&](Vec3 at) { return std::abs(at.z - low) < 0.01; });
    w.click("edge left");
    w.until([&] { return facts.zeroed[0] && !facts.sending; }, "X is known");
    CHECK_FALSE(facts.zeroed[1]);
    jog(step.c_str(), "jogZPlus", [&](Vec3 at) { return std::abs(at.z) < 0.01; });
    jog("95", "jogYMinus", [](Vec3 at) { return std::abs(at.y - 5) < 0.01; });
    jog("100", "jogXPlus", [](Vec3 at) { return at.x > 110; });
    jog(step.c_str(), "jogZMinus", [&](Vec3 at) { return std::abs(at.z - low) < 0.01; });
    w.click("edge lower");
    w.until([&] { return facts.zeroed[1] && !facts.sending; }, "Y is known");
    w.until([&] { return facts.status.state == link::MachineState::resting; }, "at rest");
    CHECK(facts.status.machine.x - facts.status.at.x == Approx(20).margin(0.005));
    CHECK(facts.status.machine.y - facts.status.at.y == Approx(20).margin(0.005));
    CHECK(facts.problem.isEmpty());
}
