#include "job/lie.h"
#include "support/failing_disk.h"
#include "support/shell.h"

using namespace ferro;
using test::Beside;
using test::makePlate;
using test::Shell;
using test::shouldBe;

namespace {

std::string standInWords(const Shell& shell) {
    return "run plate.ferro --to '" + shell.file("mill").string() + "' --home --zero 20 20 -40 --yes";
}
std::unique_ptr<Beside> standIn(const Shell& shell, std::vector<std::string> more, const char* faster = "400") {
    std::vector<std::string> words{"--link", shell.file("mill").string(), "--machine", "mill-600", "--faster", faster};
    words.insert(words.end(), more.begin(), more.end());
    auto beside = std::make_unique<Beside>(FERRO_BIN "/ferrograph-standin", words);
    shell.waitFor("mill");
    return beside;
}

} // namespace

TEST_CASE("run: over a pseudo-terminal a job is finished, whatever the link does on the way") {
    for (const auto& faults : std::vector<std::vector<std::string>>{{},
                                                                    {"--fault", "drop@30"},
                                                                    {"--fault", "swallow@12", "garble@20", "drop@60"},
                                                                    {"--fault-rate", "0.1", "--seed", "5"},
                                                                    {"--fault-rate", "0.15", "--seed", "6"}}) {
        const Shell shell;
        makePlate(shell);
        auto more = faults;
        more.insert(more.end(), {"--table", shell.file("table.svg").string()});
        const auto machine = standIn(shell, more);
        const auto ran = shell.run(standInWords(shell));
        INFO((faults.empty() ? "no fault" : faults.back()));
        shouldBe(ran, 0);
        CHECK(ran.out.find("finished") != std::string::npos);
        const auto log = shell.text("plate.ferro.runlog");
        CHECK(log.find("finished") != std::string::npos);
        // Acknowledged in order, none twice.
        long last = -1;
        for (auto at = log.find("acked "); at != std::string::npos; at = log.find("acked ", at + 1)) {
            const long line = std::stol(log.substr(at + 6));
            CHECK(line > last);
            last = line;
        }
    }
}

TEST_CASE("run: a blank is felt by the machine, its program follows how it lies, and what the run took is kept") {
    const Shell shell;
    makePlate(shell);
    // The bed lies 90 below the upper end of the mill's travel; the blank's top goes up by 1 mm in 600.
    REQUIRE(writeAtomically(realDisk(), shell.file("top.csv"), "0,0,12\n600,0,13\n0,400,12\n600,400,13\n"));
    const auto machine = standIn(shell, {"--top", shell.file("top.csv").string()});
    const std::string to = " --to '" + shell.file("mill").string() + "' --home --zero 20 20 ";
    // From below the top nothing is felt, and that is told.
    const auto under = shell.run("feel plate.ferro" + to + "-85");
    CHECK(under.exit == 1);
    CHECK(under.errors.find("met before it is begun") != std::string::npos);
    CHECK(shell.run("lie plate.ferro").errors.find("not measured") != std::string::npos);
    CHECK(shell.run("feel plate.ferro --places 1x9" + to + "-78").exit == 1);
    shouldBe(shell.run("feel plate.ferro --places 3x2 --margin 15" + to + "-78"), 0);
    const auto lie = shell.run("lie plate.ferro");
    shouldBe(lie, 0);
    CHECK(std::count(lie.out.begin(), lie.out.end(), '\n') == 7);
    REQUIRE(writeAtomically(realDisk(), shell.file("felt.csv"), lie.out));
    const auto heights = job::lieFrom(lie.out, {});
    REQUIRE(heights);
    // Where the sheet's corner lies, 20 from the bed's, it is 20/600 above 12; the zero was 0 there.
    for (const double x : heights->xs)
        for (const double y : heights->ys) CHECK(heights->at({x, y}) == Approx((x + 20) / 600).margin(0.004));
    shouldBe(shell.run("write plate.ferro -o bent.nc"), 0);
    shouldBe(shell.run("lie plate.ferro --flat"), 0);
    shouldBe(shell.run("write plate.ferro -o flat.nc"), 0);
    CHECK(shell.text("bent.nc").size() > shell.text("flat.nc").size());
    shouldBe(shell.run("lie plate.ferro --read felt.csv"), 0);
    shouldBe(shell.run("write plate.ferro -o again.nc"), 0);
    CHECK(std::abs(static_cast<double>(shell.text("again.nc").size()) -
                   static_cast<double>(shell.text("bent.nc").size())) < 40); // heights of four digits
    CHECK(shell.run("runs").out.empty());
    shouldBe(shell.run("run plate.ferro" + to + "-78 --yes"), 0);
    const auto runs = shell.run("runs");
    CHECK(runs.out.find("mill-600: the last 1 runs took 1.0") != std::string::npos);
    CHECK(runs.out.find("proofed\tplate") != std::string::npos);
}

TEST_CASE("run: a machine of a plain conversation is run by its answers alone, and what that cannot promise is told") {
    const Shell shell;
    makePlate(shell);
    const auto words = standInWords(shell) + " --speaks plain";
    {
        const auto machine = standIn(shell, {"--speaks", "plain", "--fault", "drop@60"});
        const auto broken = shell.run(words);
        CHECK(broken.exit == 1);
        CHECK(broken.errors.find("plain: A line that is spoilt on the way is not noticed") != std::string::npos);
        CHECK(broken.errors.find("what it has taken in is not known") != std::string::npos);
    }
    std::filesystem::remove(shell.file("mill"));
    const auto machine = standIn(shell, {"--speaks", "plain"});
    shouldBe(shell.run(words + " --resume --logged"), 0);
    CHECK(shell.text("plate.ferro.runlog").find("\nfinished") != std::string::npos);
    CHECK(
        shell.run("run plate.ferro --to '" + shell.file("mill").string() + "' --home --last-zero --yes --speaks plain")
            .errors.find("does not tell") != std::string::npos);
    CHECK(shell.run(standInWords(shell) + " --speaks no-such").errors.find("checked, plain") != std::string::npos);
    shouldBe(shell.run("ports"), 0);
    // A board of the shelf that was cut up is counted off, once, and one that is gone is told.
    shouldBe(shell.run("book add board Plate material=poplar width=320 height=220 thickness=12 count=1"), 0);
    shouldBe(shell.run("edit plate.ferro board plate"), 0);
    const auto cut = shell.run(standInWords(shell) + " --speaks plain");
    shouldBe(cut, 0);
    CHECK(cut.errors.find("0 × “Plate” left on the shelf") != std::string::npos);
    CHECK(cut.out.find("clock") == std::string::npos); // the machine has told none
    CHECK(shell.run(standInWords(shell) + " --speaks plain").errors.find("not on the shelf") != std::string::npos);
}

TEST_CASE("run: a reset in the middle is told with its line, and the rest is run from there") {
    const Shell shell;
    makePlate(shell);
    {
        const auto machine = standIn(shell, {"--fault", "reset@80"});
        const auto broken = shell.run(standInWords(shell));
        CHECK(broken.exit == 1);
        CHECK(broken.errors.find("after line") != std::string::npos);
    }
    std::filesystem::remove(shell.file("mill"));
    const auto machine = standIn(shell, {});
    const auto rest = shell.run(standInWords(shell) + " --resume");
    shouldBe(rest, 0);
    CHECK(rest.errors.find("resuming at line") != std::string::npos);
    CHECK(shell.text("plate.ferro.runlog").find("\nfinished") != std::string::npos);
}

TEST_CASE(
    "run: over a socket, a program beyond the travel is refused with its line, and the table shows what was done") {
    const Shell shell;
    makePlate(shell);
    const auto table = shell.file("table.svg");
    {
        const Beside machine(FERRO_BIN "/ferrograph-standin", {"--port", "41877", "--machine", "mill-600", "--faster",
                                                               "400", "--table", table.string()});
        std::this_thread::sleep_for(std::chrono::milliseconds(400));
        // The zero is so far over that the plate's far edge lies beyond the bed.
        const auto refused = shell.run("run plate.ferro --to tcp:41877 --home --zero 560 20 -40 --yes");
        CHECK(refused.exit == 1);
        CHECK(refused.errors.find("limit") != std::string::npos);
        CHECK(refused.errors.find("line") != std::string::npos);
    }
    const auto svg = shell.text("table.svg");
    CHECK(svg.starts_with("<svg"));
    CHECK(svg.find("M0.000 420.000L") != std::string::npos); // from home
}

TEST_CASE("run: without a machine, or with one that is none, it says so and is over") {
    const Shell shell;
    makePlate(shell);
    for (const char* device : {"/nowhere/tty", "tcp:1", "tcp:x", "/dev/null"}) {
        const auto answer = shell.run(fmt::format("run plate.ferro --to {} --yes", device));
        CAPTURE(device, answer.errors);
        CHECK(answer.exit == 1);
        CHECK(answer.errors.size() > 20);
    }
}

TEST_CASE("run: resuming belongs to the program that was run, however the job has changed since", "[safety]") {
    const Shell shell;
    makePlate(shell);
    shouldBe(shell.run("edit plate.ferro set Edges depthPerPass=0.1"), 0); // many lines: the queue takes 200
    {
        const auto machine = standIn(shell, {"--fault", "reset@80"}, "50000");
        CHECK(shell.run(standInWords(shell)).exit == 1);
    }
    std::filesystem::remove(shell.file("mill"));
    const auto log = shell.text("plate.ferro.runlog");
    const auto lineIn = [](const std::string& said) {
        const auto at = said.find("resuming at line ");
        return at == std::string::npos ? 0 : std::stol(said.substr(at + 17));
    };
    long first = 0;
    shouldBe(shell.run("edit plate.ferro set Edges feed=900"), 0);
    {
        const auto machine = standIn(shell, {"--fault", "reset@400"}, "50000");
        const auto refused = shell.run(standInWords(shell) + " --resume");
        CHECK(refused.exit == 1);
        CHECK(refused.errors.find("not the one that was run") != std::string::npos);
        CHECK(refused.errors.find("--logged") != std::string::npos);
        CHECK(shell.text("plate.ferro.runlog") == log); // nothing was begun
        // The logged program goes on, breaks off again, and goes on from there: not from the start.
        const auto again = shell.run(standInWords(shell) + " --resume --logged");
        CHECK(again.exit == 1);
        first = lineIn(again.errors);
        CHECK(first > 3);
    }
    std::filesystem::remove(shell.file("mill"));
    const auto machine = standIn(shell, {});
    const auto rest = shell.run(standInWords(shell) + " --resume --logged");
    shouldBe(rest, 0);
    CHECK(lineIn(rest.errors) > first + 50);
    const auto over = shell.run(standInWords(shell) + " --resume --logged");
    CHECK(over.exit == 1);
    CHECK(over.errors.find("finished") != std::string::npos);
}

TEST_CASE("run: a log outlives a machine that is not there, and is never written over something else") {
    const Shell shell;
    makePlate(shell);
    {
        const auto machine = standIn(shell, {"--fault", "reset@80"});
        CHECK(shell.run(standInWords(shell)).exit == 1);
    }
    const auto log = shell.text("plate.ferro.runlog"), job = shell.text("plate.ferro");
    CHECK(shell.run("run plate.ferro --to /nowhere/tty --yes").exit == 1);
    CHECK(shell.run("run plate.ferro --to /nowhere/tty --yes --resume").exit == 1);
    CHECK(shell.text("plate.ferro.runlog") == log);
    std::filesystem::remove(shell.file("mill"));
    const auto machine = standIn(shell, {});
    CHECK(shell.run(standInWords(shell) + " --log plate.ferro").exit == 1);
    CHECK(shell.text("plate.ferro") == job);
}

TEST_CASE("edit: ten at once lose none") {
    const Shell shell;
    shouldBe(shell.run("new kit.ferro --machine mill-600 --material poplar --stock 300 200 6"), 0);
    std::vector<std::thread> many;
    for (int i = 0; i < 10; ++i)
        many.emplace_back([&, i] {
            std::system(fmt::format("cd '{}' && {}/ferrograph-cli edit kit.ferro circle {} 50 5 holes >/dev/null 2>&1",
                                    shell.folder.path.string(), FERRO_BIN, 20 + 20 * i)
                            .c_str());
        });
    for (auto& one : many) one.join();
    const auto info = shell.run("info kit.ferro");
    CHECK(info.out.find("pieces: 10") != std::string::npos);
}

TEST_CASE("stand-in: a name that is taken by something else is let alone") {
    const Shell shell;
    REQUIRE(realDisk().write(shell.file("mill"), "a list of scenery"));
    const auto answer = shell.run("--link mill", "ferrograph-standin");
    CHECK(answer.exit == 1);
    CHECK(shell.text("mill") == "a list of scenery");
}

TEST_CASE("run: the height is found by a plate, the zero of that run is had back, and only by a homed machine") {
    const Shell shell;
    makePlate(shell);
    const auto to = "run plate.ferro --to '" + shell.file("mill").string() + "' --yes";
    {
        // The mill's travel is 90: the plate's top is 40 above the bed.
        const auto machine = standIn(shell, {"--plate", "40"});
        const auto never = shell.run(to + " --home --last-zero");
        CHECK(never.exit == 1);
        CHECK(never.errors.find("No zero of mill-600 is kept") != std::string::npos);
        shouldBe(shell.run(to + " --home --zero 20 20 -40 --touch-off 12.5"), 0);
        shouldBe(shell.run(to + " --home --last-zero"), 0);
        for (const char* bad :
             {" --last-zero", " --home --last-zero --zero 1 1 -40", " --home --zero 20 20 -40 --touch-off 0"})
            CHECK(shell.run(to + bad).exit == 1);
    }
    const auto machine = standIn(shell, {}); // no plate: it trips, and nothing is run
    const auto missed = shell.run(to + " --home --zero 20 20 -40 --touch-off 12.5");
    CHECK(missed.exit == 1);
    CHECK(missed.errors.find("tripped") != std::string::npos);
}

TEST_CASE("run: a queue of copies goes on where it was broken off, and counts what its rest has finished") {
    const Shell shell;
    makePlate(shell);
    const auto machine = standIn(shell, {});
    const auto done = shell.run(standInWords(shell) + " --all --copies 2");
    INFO(done.errors);
    shouldBe(done, 0);
    CHECK(done.errors.find("Sheet 1: run 2 of 2") != std::string::npos);
    CHECK(done.out.find("the queue is done: 2 runs") != std::string::npos);
    CHECK(shell.text("plate.ferro.runlog.queue").find("\"done\": 2") != std::string::npos);
    shouldBe(shell.run(standInWords(shell) + " --all --copies 2"), 1); // nothing is left
    const auto third = shell.run(standInWords(shell) + " --all --copies 3");
    shouldBe(third, 0);
    CHECK(third.errors.find("run 3 of 3") != std::string::npos);
    CHECK(third.errors.find("run 2 of 3") == std::string::npos);
    shouldBe(shell.run(standInWords(shell) + " --copies 3"), 1);
    shouldBe(shell.run(standInWords(shell) + " --all --sheet 1"), 1);
    REQUIRE(writeAtomically(realDisk(), shell.file("plate.ferro.runlog.queue"), "{"));
    shouldBe(shell.run(standInWords(shell) + " --all"), 1);
    shouldBe(shell.run(standInWords(shell) + " --all --anew"), 0);
}

TEST_CASE("edge: X and Y of the zero are found by the sheet's sides, what is not met and no edge is told") {
    const Shell shell;
    makePlate(shell);
    const auto to = [&](const char* words) {
        return shell.run(std::string("edge plate.ferro ") + words + " --pin 5 --to '" + shell.file("mill").string() +
                         "'");
    };
    const auto machine = standIn(shell, {"--board", "40", "50", "320", "200", "30", "--pin", "5"});
    const auto left = to("left --home --from 25 120 -65");
    INFO(left.errors);
    shouldBe(left, 0);
    CHECK(left.out == "X is known by the left edge: the zero lies at X 40.000 of the machine\n");
    const auto lower = to("lower --from 120 38 -65");
    CHECK(lower.out == "Y is known by the lower edge: the zero lies at Y 50.000 of the machine\n");
    const auto over = to("left --from 25 120 -55"); // higher than the board
    shouldBe(over, 1);
    CHECK(over.errors.find("not met within 20 mm") != std::string::npos);
    shouldBe(to("middle"), 1);
}

TEST_CASE("tray: a run cuts every blank, stops between them, and is begun with any of them") {
    const Shell shell;
    makePlate(shell);
    shouldBe(shell.run("edit plate.ferro sheet-tray columns=0"), 1);
    shouldBe(shell.run("edit plate.ferro sheet-tray columns=2 rows=1 gap=12 sideways=3"), 1);
    shouldBe(shell.run("edit plate.ferro sheet-tray columns=2 rows=1 gap=12"), 0);
    shouldBe(shell.run("write plate.ferro -o plate.nc"), 0);
    const auto text = shell.text("plate.nc");
    CHECK(text.find("Blank 2 of 2.") != std::string::npos);
    CHECK(text.find(", blank 2: ") != std::string::npos);
    const auto machine = standIn(shell, {});
    shouldBe(shell.run(standInWords(shell)), 0);
    const auto steps = shell.run(standInWords(shell) + " --from nothing");
    CHECK(steps.errors.find(", blank 2") != std::string::npos); // what it can be begun with
    shouldBe(shell.run("edit plate.ferro sheet-tray fill gap=5 stops=off"), 0);
    shouldBe(shell.run("edit plate.ferro sheet-tray off"), 0);
}
