#include "window.h"

#include "job/job_file.h"

using namespace ferro;
using test::answered;
using test::Window;

namespace {

job::Job onDisk(const QString& file) {
    auto job = job::load(realDisk(), file.toStdString());
    REQUIRE(job);
    return *job;
}
/// A saved job of one step, then changed on the disk by somebody else and here by us.
QString bothChanged(Window& w) {
    const QString file = w.path("kit.ferro");
    w.act("stepOutline");
    REQUIRE(w.save(file));
    auto theirs = onDisk(file);
    theirs = *job::withClearance(theirs, 42);
    REQUIRE(job::save(realDisk(), theirs, file.toStdString()));
    w.act("stepOutline");
    return file;
}

} // namespace

TEST_CASE("kept: a job that somebody else has saved meanwhile is not written over, and nothing of either is lost") {
    {
        Window w;
        const QString file = bothChanged(w);
        const auto said = answered("changedQuestion", "keepBoth", [&] { w.act("fileSave"); });
        CHECK(said.contains("kit.ferro"));
        CHECK(said.contains("2 steps"));
        CHECK(said.contains("1 steps"));
        CHECK(onDisk(file).plan.clearance == 42);
        CHECK(onDisk(w.path("kit (mine 1).ferro")).plan.steps.size() == 2);
        CHECK_FALSE(w.session->changed());
    }
    {
        Window w;
        const QString file = bothChanged(w);
        answered("changedQuestion", "keepMine", [&] { w.act("fileSave"); });
        CHECK(onDisk(file).plan.steps.size() == 2);
        CHECK(onDisk(file).plan.clearance == 5);
        w.act("stepOutline"); // and from then on it is ours again
        w.act("fileSave");
        CHECK(onDisk(file).plan.steps.size() == 3);
    }
    {
        Window w;
        const QString file = bothChanged(w);
        answered("changedQuestion", "takeTheirs", [&] { w.act("fileSave"); });
        CHECK(w.job().plan.clearance == 42);
        CHECK_FALSE(w.session->changed());
        w.act("editUndo"); // ours is one step back
        CHECK(w.job().plan.steps.size() == 2);
    }
}

TEST_CASE("kept: what is recovered comes beside what is open, and a living window's copy is not offered") {
    auto folder = std::make_shared<test::TemporaryFolder>();
    Window first(folder);
    first.act("stepOutline");
    first.session->files().setAutosave(1);
    const QDir kept(QString::fromStdString((folder->path / "ferrograph/unfinished").string()));
    first.until([&] { return !kept.entryList({"*.ferro"}).isEmpty(); }, "kept");
    Window second(folder);
    CHECK(second.session->files().recoverable().isEmpty()); // the first one lives, in this very process
    // One without a lock, as a window of before or a killed one leaves it.
    REQUIRE(QFile::copy(kept.filePath(kept.entryList({"*.ferro"}).first()), kept.filePath("4711.ferro")));
    second.act("stepDrill");
    second.session->files().recover();
    second.settle();
    CHECK(second.job().plan.steps.size() == 1);
    CHECK(plan::kindOf(second.job().plan.steps[0]).name == "outline");
    second.act("editUndo");
    REQUIRE(second.job().plan.steps.size() == 1);
    CHECK(plan::kindOf(second.job().plan.steps[0]).name == "drill"); // what was open is not lost
    CHECK_FALSE(QFile::exists(kept.filePath("4711.ferro")));
}

TEST_CASE("kept: a copy that could not be kept is told of, and tried again") {
    auto folder = std::make_shared<test::TemporaryFolder>();
    Window w(folder);
    const QString place = QString::fromStdString((folder->path / "ferrograph/unfinished").string());
    QDir(place).removeRecursively();
    QFile wall(place);
    REQUIRE(wall.open(QIODevice::WriteOnly)); // a file where the folder was
    w.session->files().setAutosave(1);
    w.act("stepOutline");
    w.until([&] { return w.message().contains("keeping a copy"); }, "told");
    REQUIRE(wall.remove());
    REQUIRE(QDir().mkpath(place));
    w.until([&] { return !QDir(place).entryList({"*.ferro"}).isEmpty(); }, "kept after all");
}
