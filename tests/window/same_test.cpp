#include "job/job_file.h"
#include "window.h"

#include <QProcess>

using namespace ferro;
using test::Window;

namespace {

/// The command line's own program, in the window's folder.
void cli(Window& w, const QStringList& words) {
    QProcess process;
    process.setWorkingDirectory(QString::fromStdString(w.folder()->path.string()));
    process.start(QStringLiteral(FERRO_BIN "/ferrograph-cli"), words);
    REQUIRE(process.waitForFinished(120'000));
    INFO(words.join(' ').toStdString() << "\n" << process.readAllStandardError().toStdString());
    REQUIRE(process.exitCode() == 0);
}
job::Job opened(Window& w, const char* name) {
    auto job = job::load(realDisk(), w.path(name).toStdString());
    REQUIRE(job);
    return *job;
}
/// Pieces and layers as they lie on the sheet, whatever their numbers and names.
std::vector<std::string> lying(const job::Job& job) {
    std::vector<std::string> out;
    for (const auto& item : job.artwork->items) {
        if (!artwork::shapeOf(item)) continue;
        std::string text = artwork::find(*job.artwork, item.layer)->name;
        const auto piece = artwork::placed(item);
        text += " " + toText(piece.outline);
        for (const auto& opening : piece.openings) text += " " + toText(opening);
        out.push_back(std::move(text));
    }
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace

TEST_CASE("same everywhere: a job mended in the window is what the command line makes of it") {
    Window w;
    const auto job = w.job();
    REQUIRE(job::save(realDisk(), job, w.path("start.ferro").toStdString()));
    // A careless kit: loose bits, one line twice, a near-circle, a stencil's ring, a speck.
    cli(w,
        {"edit",
         "start.ferro",
         "path",
         "M 40 40 L 140 40 M 140.1 40.1 L 140 120 M 140 120 C 120 150 60 150 40 120 M 40 119.9 L 40 40",
         "kit",
         "hill",
         "+",
         "path",
         "M 60 60 L 120 60",
         "kit",
         "rope",
         "+",
         "path",
         "M 120 60 L 60 60",
         "kit",
         "rope",
         "+",
         "path",
         "M 220 60 A 30 30 0 0 1 280 60.02 A 30 30 0 0 1 220 60 Z M 235 60 A 15 15 0 0 1 265 60 A 15 15 0 0 1 235 60 Z",
         "kit",
         "ring",
         "+",
         "circle",
         "300",
         "200",
         "0.3",
         "kit"});
    w.open(w.path("start.ferro"));
    w.act("stationMend");
    w.settle();
    REQUIRE(w.job().artwork->items.size() > 4);
    w.click("mendAll");
    w.settle();
    cli(w, {"mend", "start.ferro", "--fix", "all", "-o", "mended.ferro"});
    CHECK(lying(w.job()) == lying(opened(w, "mended.ferro")));
    // Both files, whichever wrote them, hold the same bytes.
    REQUIRE(w.save(w.path("window.ferro")));
    cli(w, {"edit", "mended.ferro", "name", "window", "-o", "window-too.ferro"});
    const auto one = realDisk().read(w.path("window.ferro").toStdString()),
               two = realDisk().read(w.path("window-too.ferro").toStdString());
    REQUIRE((one && two));
    CHECK(*one == *two);
}
