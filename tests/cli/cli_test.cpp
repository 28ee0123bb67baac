#include "support/failing_disk.h"
#include "support/jobs.h"
#include "support/shell.h"

#include "job/job_file.h"
#include "program/for_job.h"
#include "program/reader.h"
#include "proof/proof.h"

#include <nlohmann/json.hpp>

#include <fstream>

using namespace ferro;
using nlohmann::json;

using test::Answer;
using test::Beside;
using test::makePlate;
using test::Shell;
using test::shouldBe;

TEST_CASE("cli: new, edit, proof, write, the bytes are the core's own") {
    const Shell shell;
    makePlate(shell);
    const auto proved = shell.run("proof plate.ferro --json --picture cut.png");
    shouldBe(proved, 0);
    const auto report = json::parse(proved.out);
    CHECK(report["go"] == true);
    CHECK(report["time"]["steps"].size() == 2);
    CHECK(report["deviation"]["cutInto"].get<double>() < 0.01);
    CHECK(shell.text("cut.png").substr(1, 3) == "PNG");
    CHECK(proved.errors.find("proofing") != std::string::npos); // progress, not on the way of the answer
    shouldBe(shell.run("write plate.ferro -o out"), 0);
    shouldBe(shell.run("write plate.ferro -o one.nc"), 0); // a file where one is named
    CHECK(std::filesystem::is_regular_file(shell.file("one.nc")));
    const auto job = job::load(realDisk(), shell.file("plate.ferro"));
    REQUIRE(job);
    Progress progress;
    const auto proof = proof::proofOf(*job, progress);
    REQUIRE(proof);
    const auto dialect = program::dialectOf(realDisk(), *job);
    REQUIRE(dialect);
    const auto program = program::programFor(*job, proof->path, *dialect, program::Clearance::passed);
    REQUIRE(program);
    CHECK(shell.text("out/plate.nc") == program->text);
    // The program by itself is proofed too, on the stock of its job.
    const auto again = shell.run("proof out/plate.nc --job plate.ferro --json");
    shouldBe(again, 0);
    CHECK(json::parse(again.out)["time"]["motion"].get<double>() ==
          Approx(proof->timing.motion).epsilon(0.03)); // it begins elsewhere
    shouldBe(shell.run("dump plate.ferro --step 2"), 0);
    REQUIRE(realDisk().write(shell.file("low.nc"), "G21 G90\nG0 Z5\nG0 X10 Y10 Z-1\nG0 X50\n"));
    const auto low = shell.run("proof low.nc --stock 100 80 6");
    shouldBe(low, 2);
    CHECK(low.out.find("Line 3") != std::string::npos);
}

TEST_CASE("cli: a no-go writes nothing and answers 2, bad input answers 1, says where, and leaves the job alone") {
    const Shell shell;
    makePlate(shell);
    shouldBe(shell.run("edit plate.ferro stock spacer=0 -o deep.ferro"), 0);
    const auto proved = shell.run("proof deep.ferro");
    shouldBe(proved, 2);
    CHECK(proved.out.find("no-go") != std::string::npos);
    shouldBe(shell.run("write deep.ferro -o deep"), 2);
    CHECK_FALSE(std::filesystem::exists(shell.file("deep/deep.nc")));
    shouldBe(shell.run("run deep.ferro --to tcp:1"), 2);

    const auto before = shell.text("plate.ferro");
    for (const char* bad :
         {"edit plate.ferro mov all 1 2", "edit plate.ferro move 99 1 2", "edit plate.ferro move all 1",
          "edit plate.ferro set Edges feed=fast", "edit plate.ferro set Edges depth=-4",
          "edit plate.ferro tabs Edges 99 -1 0.5", "edit plate.ferro stock width=0", "edit plate.ferro path 'M0 0 L'",
          "edit plate.ferro machine no-such", "edit plate.ferro circle 1 1 5 + drop Nothing", "edit none.ferro name x",
          "proof none.ferro", "info errors.txt", "trace plate.ferro -o x.svg", "new plate.ferro", "new plate.txt"}) {
        INFO(bad);
        const auto answer = shell.run(bad);
        INFO(answer.errors);
        CHECK(answer.exit == 1);
        CHECK(answer.errors.size() > 15);
        CHECK((shell.text("plate.ferro") == before)); // not to be printed
    }
    shouldBe(shell.run("--help"), 0);
    shouldBe(shell.run("edit --help"), 0);
}

TEST_CASE("cli: a picture is traced to an exact drawing with a report") {
    const Shell shell;
    const auto traced = shell.run("trace '" FERRO_DEMO "/heron-ink.png' --speck 0.4 -o heron.svg --report r.json");
    shouldBe(traced, 0);
    const auto report = json::parse(shell.text("r.json"));
    CHECK(report["pieces"] == 2);
    CHECK(shell.text("heron.svg").find("147.9") != std::string::npos); // mm, from the file's resolution
    const auto info = shell.run("info '" FERRO_DEMO "/heron-ink.png' --json");
    shouldBe(info, 0);
    CHECK(json::parse(info.out)["width"] == 1213);
}

TEST_CASE("cli: the demo jobs are go, and the stand-in's clock agrees with their proof within 3 %") {
    const Shell shell;
    const std::pair<const char*, const char*> jobs[] = {{"heron", "laser-700"}, {"proscenium", "mill-600"}};
    for (const auto& [name, machine] : jobs) {
        INFO(name);
        std::filesystem::copy_file(std::filesystem::path(FERRO_DEMO) / fmt::format("{}.ferro", name),
                                   shell.file(fmt::format("{}.ferro", name)));
        const auto proved = shell.run(fmt::format("proof {}.ferro --json", name));
        shouldBe(proved, 0);
        const auto report = json::parse(proved.out);
        int looks = 0;
        for (const auto& f : report["findings"]) looks += f["verdict"] == "look";
        CHECK(looks == (std::string_view(name) == "proscenium" ? 1 : 0));
        const auto device = shell.file("machine");
        const Beside standIn(FERRO_BIN "/ferrograph-standin",
                             {"--link", device.string(), "--machine", machine, "--faster", "300"});
        shell.waitFor("machine");
        const auto ran = shell.run(fmt::format("run {}.ferro --to machine --home --zero 5 5 -30 --yes", name));
        shouldBe(ran, 0);
        double clock = 0;
        REQUIRE(std::sscanf(std::strstr(ran.out.c_str(), "lines, ") + 7, "%lf", &clock) == 1);
        CHECK(clock == Approx(report["time"]["running"].get<double>()).epsilon(0.03));
    }
}

TEST_CASE("mend: looks, mends what is named, and says what it did") {
    const Shell shell;
    shouldBe(shell.run("new kit.ferro --machine mill-600 --material poplar --stock 300 200 6"), 0);
    shouldBe(shell.run("edit kit.ferro path 'M 40 40 L 140 40 M 140.1 40.2 L 140 100 M 140 100 L 40 40.1' kit hill "
                       "+ circle 200 90 60 kit + circle 200 90 60 kit"),
             0);
    const auto counts = [&] { return nlohmann::json::parse(shell.run("mend kit.ferro --json").out)["counts"]; };
    CHECK(counts()["gap"] == 3);
    CHECK(counts()["doubled"] == 1);
    const auto mended = shell.run("mend kit.ferro --fix gap -o hill.ferro");
    shouldBe(mended, 0);
    CHECK(mended.out == "3 gaps closed\n");
    CHECK(counts()["gap"] == 3); // written elsewhere
    shouldBe(shell.run("mend kit.ferro --fix all"), 0);
    CHECK(counts()["gap"] == 0);
    CHECK(counts()["doubled"] == 0);
    CHECK(shell.run("mend kit.ferro").out == "nothing to mend\n");
    shouldBe(shell.run("mend kit.ferro --fix rust"), 1);
    shouldBe(shell.run("mend kit.ferro --gap -1"), 1);
}

TEST_CASE("drawing and convert: an SVG comes in and goes out at its size, layer by layer") {
    const Shell shell;
    std::ofstream(shell.file("kit.svg")) << "<svg width='120mm' height='80mm' viewBox='0 0 120 80'>"
                                            "<g id='cut'><rect x='10' y='10' width='50' height='20' rx='3'/>"
                                            "<circle cx='90' cy='40' r='12'/></g>"
                                            "<g id='fold'><path d='M15 20h40' fill='none' stroke='#000'/></g>"
                                            "<foreignObject/></svg>";
    shouldBe(shell.run("new kit.ferro --machine laser-700 --material black-card --stock 297 210 0.5"), 0);
    const auto taken = shell.run("edit kit.ferro drawing kit.svg 20 30");
    shouldBe(taken, 0);
    CHECK(taken.errors.find("foreign object was left out") != std::string::npos);
    const auto info = nlohmann::json::parse(shell.run("info kit.ferro --json").out);
    REQUIRE(info["items"].size() == 3);
    CHECK(info["items"][0]["layer"] == "cut");
    CHECK(info["items"][0]["bounds"]["x"].get<double>() == Approx(30));
    CHECK(info["items"][0]["bounds"]["y"].get<double>() == Approx(80));
    CHECK(info["items"][2]["closed"] == false);
    shouldBe(shell.run("convert kit.ferro -o fold.svg --layer fold"), 0);
    CHECK(shell.text("fold.svg").find("cut") == std::string::npos);
    shouldBe(shell.run("convert kit.svg -o again.svg"), 0);
    shouldBe(shell.run("convert again.svg -o once-more.svg"), 0);
    CHECK(shell.text("again.svg") == shell.text("once-more.svg"));
    shouldBe(shell.run("convert kit.svg -o no.svg --layer rust"), 1);
    shouldBe(shell.run("convert kit.ferro/none -o no.svg"), 1);
    std::ofstream(shell.file("bad.svg")) << "<html/>";
    CHECK(shell.run("edit kit.ferro drawing bad.svg").errors.find("no SVG") != std::string::npos);
}

TEST_CASE("drawing and convert: a DXF of loose lines comes in as outlines, in the unit that is told") {
    const Shell shell;
    const auto kit = shell.run("convert " FERRO_DEMO "/scenery-kit.dxf -o kit.dxf --json --colour cut=#0000ff");
    shouldBe(kit, 0);
    const auto layers = nlohmann::json::parse(kit.out);
    REQUIRE(layers.size() == 3);
    CHECK(layers[0]["layer"] == "cut");
    CHECK(layers[0]["colour"] == "#0000ff");
    CHECK(kit.errors.find("Far from all the rest") != std::string::npos);
    CHECK(kit.errors.find("guides 1 (hidden)") != std::string::npos);
    // Out and in again: the same pieces.
    shouldBe(shell.run("convert kit.dxf -o kit.svg --json"), 0);
    const auto again = nlohmann::json::parse(shell.text("out.txt"));
    REQUIRE(again.size() == 3);
    for (std::size_t i = 0; i < 3; ++i) {
        CHECK(again[i]["pieces"] == layers[i]["pieces"]);
        for (const char* side : {"x", "y", "width", "height"})
            CHECK(std::abs(again[i]["bounds"][side].get<double>() - layers[i]["bounds"][side].get<double>()) < 0.001);
    }
    std::ofstream(shell.file("bare.dxf"))
        << "0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n8\nholes\n10\n1\n20\n1\n40\n0.5\n0\nENDSEC\n0\nEOF\n";
    const auto bare = shell.run("convert bare.dxf -o bare.svg --json");
    CHECK(bare.errors.find("does not say its unit") != std::string::npos);
    CHECK(bare.errors.find("25.4 × 25.4 mm") != std::string::npos);
    const auto inches = nlohmann::json::parse(shell.run("convert bare.dxf -o bare.svg --json --unit inch").out);
    CHECK(inches[0]["bounds"]["width"].get<double>() == Approx(25.4));
    shouldBe(shell.run("convert bare.dxf -o bare.svg --unit ell"), 1);
    shouldBe(shell.run("new kit.ferro --machine laser-700 --material black-card --stock 297 210 0.5"), 0);
    shouldBe(shell.run("edit kit.ferro drawing bare.dxf 10 20 unit=inch + layer-notes holes on"), 0);
    CHECK(shell.run("convert kit.ferro -o none.svg --json").out.find("holes") == std::string::npos);
    CHECK(shell.run("convert kit.ferro -o notes.svg --json --layer holes").out.find("holes") != std::string::npos);
}

TEST_CASE("bridge and shapes: from the command line as in the window") {
    const Shell shell;
    shouldBe(shell.run("new wave.ferro --machine laser-700 --material black-card --stock 297 210 0.5"), 0);
    shouldBe(
        shell.run("edit wave.ferro path 'M 20 40 A 20 20 0 1 1 60 40 A 20 20 0 1 1 20 40 Z M 30 40 A 10 10 0 1 1 50 40 "
                  "A 10 10 0 1 1 30 40 Z' plate moon + rectangle 100 20 40 20 plate + circle 140 30 20 plate"),
        0);
    CHECK(shell.run("bridge wave.ferro --look").out == "1 would drop out\n");
    const auto made = shell.run("bridge wave.ferro width=1.5 --json");
    shouldBe(made, 0);
    const auto report = nlohmann::json::parse(made.out);
    CHECK(report["dropOuts"].empty());
    REQUIRE(report["bridges"].size() == 2);
    CHECK(report["bridges"][0]["width"] == 1.5);
    const auto group = report["bridges"][0]["group"].get<int>();
    shouldBe(shell.run(fmt::format("edit wave.ferro bridge-move {} 0 25 41", group)), 0);
    const auto moved = nlohmann::json::parse(shell.run("bridge wave.ferro --look --json").out);
    CHECK(moved["bridges"][0]["from"][0].get<double>() < 31);
    shouldBe(shell.run(fmt::format("edit wave.ferro unbridge {}", group)), 0);
    CHECK(shell.run("bridge wave.ferro --look").out == "1 would drop out\n");
    shouldBe(shell.run("bridge wave.ferro width=0"), 1);
    shouldBe(shell.run("bridge wave.ferro wide=3"), 1);
    const auto count = [&] { return nlohmann::json::parse(shell.run("info wave.ferro --json").out)["items"].size(); };
    shouldBe(shell.run("edit wave.ferro combine 'not:name:moon' join"), 0);
    CHECK(count() == 2);
    shouldBe(shell.run("edit wave.ferro offset name:rectangle 2 sharp + widen name:moon 1 + align all left stock"), 0);
    CHECK(count() >= 3);
    shouldBe(shell.run("edit wave.ferro combine name:moon rust"), 1);
    shouldBe(shell.run("edit wave.ferro duplicate name:rectangle 50 50 + space all across"), 0);
    shouldBe(shell.run("edit wave.ferro delete upto:0.1"), 1);
}

TEST_CASE("clean, trace and text: every way of finding, patches from a file, and text to be changed") {
    const Shell shell;
    const std::string demo = FERRO_DEMO;
    shouldBe(shell.run("clean " + demo + "/lantern-photo.png even-light=5 straighten=1.5 crop=4,4,104,76 -o flat.png"),
             0);
    shouldBe(shell.run("trace flat.png --find strokes -o flat.svg --report flat.json"), 0);
    const auto flat = nlohmann::json::parse(shell.text("flat.json"));
    CHECK(flat["pieces"].get<int>() >= 12);
    CHECK(flat["pieces"].get<int>() <= 20);
    shouldBe(shell.run("clean " + demo + "/lantern-photo.png rust -o no.png"), 1);
    CHECK(shell.run("clean " + demo + "/lantern-photo.png straighten=400 -o no.png").errors.find("clean-up step 1") !=
          std::string::npos);
    shouldBe(shell.run("trace " + demo + "/poster.png --find colours --go-under --report poster.json -o poster.svg"),
             0);
    const auto poster = nlohmann::json::parse(shell.text("poster.json"));
    REQUIRE(poster["colours"].size() == 3);
    CHECK(shell.text("poster.svg").find("stroke=\"" + poster["colours"][0]["colour"].get<std::string>()) !=
          std::string::npos);
    std::ofstream(shell.file("parts.json")) << R"([{"area": "0,0,150,40", "find": "nothing"},
                                                   {"area": "100,60;140,60;140,100;100,100", "find": "areas"}])";
    shouldBe(shell.run("trace " + demo + "/ferry-pen.png --find strokes --patches parts.json --report parts.json2"), 0);
    const auto parts = nlohmann::json::parse(shell.text("parts.json2"));
    CHECK(parts["pieces"].get<int>() < 24);
    CHECK(parts["openings"].get<int>() >= 1); // the moon as an area
    std::ofstream(shell.file("bad.json")) << R"([{"find": "nothing"}])";
    shouldBe(shell.run("trace " + demo + "/ferry-pen.png --patches bad.json"), 1);
    shouldBe(shell.run("trace " + demo + "/ferry-pen.png --find edges --only 0,0,60,60"), 0);

    shouldBe(shell.run("new sign.ferro --machine laser-700 --material black-card --stock 297 210 0.5"), 0);
    shouldBe(shell.run("edit sign.ferro text FERRY 15 40 60 face=stencil layer=sign"), 0);
    const auto dump = [&] { return nlohmann::json::parse(shell.run("info sign.ferro --json").out); };
    CHECK(dump()["items"].size() >= 5);
    CHECK(shell.run("edit sign.ferro text FERRY 15 40 60 face=none").errors.find("sign bold") != std::string::npos);
    shouldBe(
        shell.run("edit sign.ferro path 'M 100 10 L 160 10.05 L 160 40 L 100 40 Z' cut frame + true-up name:frame 0.2"),
        0);
    shouldBe(shell.run("edit sign.ferro true-up all 0.2 rust"), 1);
    const auto fitted =
        shell.run("edit sign.ferro path 'M 200 10 L 260 10 L 260 60 L 233 60 L 233 30 L 227 30 L 227 60 L "
                  "200 60 Z' cut rib + joints name:rib 6 0.25");
    shouldBe(fitted, 0);
    CHECK(fitted.errors.find("1 notch of “rib”: 0.75 mm wide, was 6.00") != std::string::npos);
    CHECK(shell.run("edit sign.ferro joints name:rib 2").errors.find("No joint") != std::string::npos);
    shouldBe(shell.run("text 'FERRY 12' height=30 face='sign narrow' align=centre -o ferry.svg --json"), 0);
    shouldBe(shell.run("text MOON height=20 --along 'M0 0 A40 40 0 0 1 80 0' -o moon.dxf"), 0);
    const auto letters = nlohmann::json::parse(shell.run("text H height=30 --json").out);
    CHECK(letters["bounds"]["height"].get<double>() == Approx(30).margin(0.01));
    CHECK(nlohmann::json::parse(shell.run("convert ferry.svg -o again.dxf --json").out)[0]["pieces"].get<int>() == 7);
    shouldBe(shell.run("text MOON rust=3 -o no.svg"), 1);
    shouldBe(shell.run("text MOON --along rust -o no.svg"), 1);
    shouldBe(shell.run(fmt::format("edit sign.ferro picture {}/ferry-pen.png + clean name:ferry-pen.png invert + trace "
                                   "name:ferry-pen.png find=strokes invert=on layer=score",
                                   demo)),
             0);
}

TEST_CASE("cli: an answer that cannot be written is exit code 1, and a name that says another format is told") {
    const Shell shell;
    makePlate(shell);
    for (const char* words : {"info plate.ferro --json", "proof plate.ferro --json", "dump plate.ferro"}) {
        CAPTURE(words);
        const int status = std::system(fmt::format("cd '{}' && {}/ferrograph-cli {} >/dev/full 2>errors.txt",
                                                   shell.folder.path.string(), FERRO_BIN, words)
                                           .c_str());
        CHECK(WEXITSTATUS(status) == 1);
        CHECK(shell.text("errors.txt").find("could not be written") != std::string::npos);
    }
    const auto named = shell.run("convert plate.ferro -o plate.pdf");
    CHECK(named.exit == 1);
    CHECK(named.errors.find(".svg or .dxf") != std::string::npos);
    shouldBe(shell.run("convert plate.ferro -o PLATE.DXF"), 0);
    CHECK(shell.text("PLATE.DXF").find("ENTITIES") != std::string::npos);
    // What a file says never reaches the terminal as anything but letters.
    REQUIRE(realDisk().write(shell.file("sly.svg"),
                             "<svg width='9mm' viewBox='0 0 9 9'><\x1b[31m" + std::string(9000, 'x') + "/>"));
    const auto sly = shell.run("convert sly.svg -o x.svg");
    CHECK(sly.errors.find('\x1b') == std::string::npos);
    CHECK(sly.errors.size() < 2000);
}

TEST_CASE("cli: pieces come from another job, artwork is fitted, faded and sized from where it is to stay") {
    const std::string demo = FERRO_DEMO;
    const Shell shell;
    shouldBe(shell.run("new sign.ferro --machine laser-700 --material black-card --stock 200 100 0.5"), 0);
    shouldBe(shell.run("edit sign.ferro rectangle 20 20 60 40 frame + rectangle 100 20 10 10 mark"), 0);
    const auto item = [&](const char* file, std::size_t i) {
        return nlohmann::json::parse(shell.run(std::string("info ") + file + " --json").out)["items"][i];
    };
    const auto bounds = [&](const char* file, std::size_t i, const char* which) {
        return item(file, i)["bounds"][which].get<double>();
    };
    shouldBe(shell.run("edit sign.ferro size 2 30 0 stays=middle"), 0);
    CHECK(bounds("sign.ferro", 0, "x") == Approx(35));
    CHECK(bounds("sign.ferro", 0, "y") == Approx(30));
    shouldBe(shell.run("edit sign.ferro size 2 60 40 stays=upper-right"), 0);
    CHECK(bounds("sign.ferro", 0, "x") == Approx(5));
    for (const char* bad : {"stays=nowhere", "stay=middle", "middle"})
        CHECK(shell.run(std::string("edit sign.ferro size 2 60 40 ") + bad).exit == 1);
    shouldBe(shell.run("new other.ferro --machine laser-700 --material black-card --stock 200 100 0.5"), 0);
    shouldBe(shell.run("edit other.ferro pieces sign.ferro layer:mark 0 30"), 0);
    CHECK(bounds("other.ferro", 0, "y") == Approx(50));
    CHECK(item("other.ferro", 0)["layer"] == "mark");
    shouldBe(shell.run("edit other.ferro pieces none.ferro all"), 1);
    shouldBe(shell.run("edit other.ferro pieces sign.ferro layer:rust"), 1);
    const auto own = shell.run("edit other.ferro picture " + demo + "/ferry-pen.png");
    shouldBe(own, 0);
    CHECK(own.errors.find("ferry-pen.png: ") != std::string::npos); // how large, and how that is known
    shouldBe(shell.run("edit sign.ferro picture " + demo + "/ferry-pen.png fit"), 0);
    const double width = bounds("sign.ferro", 2, "width"), height = bounds("sign.ferro", 2, "height");
    CHECK((width == Approx(200) || height == Approx(100)));
    CHECK(bounds("sign.ferro", 2, "x") + width / 2 == Approx(100));
    CHECK(bounds("sign.ferro", 2, "y") + height / 2 == Approx(50));
    shouldBe(shell.run("edit sign.ferro fade name:ferry-pen.png 0.4"), 0);
    for (const char* bad : {"fade name:ferry-pen.png 2", "fade 2 0.5", "fade name:ferry-pen.png dark"})
        CHECK(shell.run(std::string("edit sign.ferro ") + bad).exit == 1);
    shouldBe(shell.run("edit sign.ferro trace name:ferry-pen.png find=strokes layer=score"), 0);
    const auto again = shell.run("edit sign.ferro trace name:ferry-pen.png level=100");
    shouldBe(again, 0);
    CHECK(again.errors.find("of the trace before") != std::string::npos);
    // Kinds of the router: made, set and proofed by their words; what they cannot be is refused with what they can.
    shouldBe(shell.run("new board.ferro --machine mill-600 --material birch-ply --stock 200 100 18"), 0);
    shouldBe(
        shell.run("edit board.ferro rectangle 20 20 120 60 board + text OWL 20 80 40 align=centre layer=letters "
                  "+ step groove L v-60 + set L layers=letters depth=3 + step bevel B v-60 "
                  "+ set B layers=board width=1.5 + step outline C end-6 + set C layers=board hold=skin finish=0.3"),
        0);
    CHECK(shell.run("proof board.ferro").exit == 0);
    for (const char* bad :
         {"set L depth=0", "set L relief=corner", "set B width=-1", "set C relief=sideways", "set C skin=40"})
        CHECK(shell.run(std::string("edit board.ferro ") + bad).exit == 1);
    CHECK(shell.run("edit other.ferro drawing " + demo + "/scenery-kit.dxf strays=rust").exit == 1);
    shouldBe(shell.run("edit other.ferro drawing " + demo + "/scenery-kit.dxf unit=mm strays=drop"), 0);
}

TEST_CASE("command line: what tools do not reach, which would, and the steps for them") {
    Shell shell;
    shouldBe(shell.run("new tray.ferro --machine mill-600 --material birch-ply --stock 200 150 12"), 0);
    shouldBe(shell.run("edit tray.ferro rectangle 40 40 90 70 + step clear Well end-6 + set Well depth=4"), 0);
    const auto reach = nlohmann::json::parse(shell.run("reach tray.ferro --json").out);
    REQUIRE(reach["places"].size() == 4);
    CHECK(reach["area"].get<double>() == Approx(4 * (1 - pi / 4) * 9).margin(0.02));
    const auto tools = nlohmann::json::parse(shell.run("reach tray.ferro --step Well --tools --json").out);
    REQUIRE(tools.size() == 3);
    CHECK(tools[0]["tools"] == nlohmann::json({"end-6", "end-3"}));
    shouldBe(shell.run("edit tray.ferro tools Well end-6 end-3"), 0);
    const auto after = nlohmann::json::parse(shell.run("reach tray.ferro --json").out);
    CHECK(after["area"].get<double>() == Approx(tools[0]["area"].get<double>()).margin(0.01));
    shouldBe(shell.run("proof tray.ferro"), 0);
    shouldBe(shell.run("edit tray.ferro tools Well end-3 end-6"), 1);
    shouldBe(shell.run("reach tray.ferro --tools"), 1);
    shouldBe(shell.run("reach tray.ferro --step Weel"), 1);
}

TEST_CASE("command line: parts are laid out on sheets, the same from the same seed, and sheets keep to what they may") {
    Shell shell;
    shouldBe(shell.run("new kit.ferro --machine mill-1200 --material birch-ply --stock 400 300 6"), 0);
    shouldBe(shell.run("edit kit.ferro path 'M 10 10 L 150 10 L 10 90 Z' wing wing + rectangle 200 20 90 60 tag + step "
                       "outline + set 1 hold=none"),
             0);
    shouldBe(
        shell.run("edit kit.ferro part layer:wing quantity=4 turns=half + part layer:tag quantity=6 turns=quarter"), 0);
    const auto first = nlohmann::json::parse(shell.run("nest kit.ferro --out a.ferro --effort 0.2 --json").out);
    CHECK(first["left"].empty());
    CHECK(first["spacing"].get<double>() == Approx(7));
    CHECK(first["sheets"] == 1);
    CHECK(first["share"].get<double>() > 0.5);
    shouldBe(shell.run("nest kit.ferro --out b.ferro --effort 0.2"), 0);
    CHECK(shell.run("info a.ferro --json").out == shell.run("info b.ferro --json").out);
    shouldBe(shell.run("proof a.ferro"), 0);
    shouldBe(shell.run("edit kit.ferro part layer:tag quantity=40"), 0);
    CHECK(shell.run("nest kit.ferro --out c.ferro --effort 0.1 --only-these").errors.find("no room") !=
          std::string::npos);
    shouldBe(shell.run("nest kit.ferro --out c.ferro --effort 0.1 --only-these"), 2);
    shouldBe(shell.run("nest kit.ferro --out c.ferro --effort 0.1"), 0);
    shouldBe(shell.run("nest kit.ferro --start middle"), 1);
}

TEST_CASE("command line: a setup sheet is a PDF, the same each time, and tells a no-go") {
    Shell shell;
    shouldBe(shell.run(fmt::format("setup {}/sign.ferro -o a.pdf", FERRO_DEMO)), 0);
    shouldBe(shell.run(fmt::format("setup {}/sign.ferro -o b.pdf", FERRO_DEMO)), 0);
    const auto a = realDisk().read(shell.file("a.pdf").string()), b = realDisk().read(shell.file("b.pdf").string());
    REQUIRE(a);
    CHECK(a->starts_with("%PDF-1."));
    CHECK(a->find("%%EOF") != std::string::npos);
    CHECK(*a == *b);
    shouldBe(shell.run(fmt::format("setup {}/sign.ferro -o a.txt", FERRO_DEMO)), 1);
    shouldBe(shell.run("new none.ferro --machine mill-600"), 0);
    shouldBe(shell.run("setup none.ferro -o none.pdf"), 2);
    CHECK(std::filesystem::exists(shell.file("none.pdf")));
}

TEST_CASE(
    "command line: from a cut list to laid out sheets, programs and setup sheets, or to what keeps them from it") {
    Shell shell;
    const auto put = [&](const char* name, std::string_view text) {
        REQUIRE(writeAtomically(realDisk(), shell.file(name), text));
    };
    put("wing.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='60mm' viewBox='0 0 90 60'>"
                    "<path d='M0 0H90V60Z'/><circle cx='60' cy='25' r='8'/></svg>");
    put("moon.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='50mm' height='50mm' viewBox='0 0 50 50'>"
                    "<circle cx='25' cy='25' r='24'/></svg>");
    put("kit.csv", "file;part;qty;material;thickness\nwing.svg;Wing;4;Birch ply;6\nmoon.svg;Moon;3;poplar;3,0\n");
    const auto made = shell.run("kit kit.csv --machine mill-600 --stock 400 300 6 --effort 0.2 -o out");
    INFO(made.errors);
    shouldBe(made, 0);
    CHECK(made.errors.find("7 parts of 2 drawings") != std::string::npos);
    for (const char* file : {"out/kit.ferro", "out/laid.csv", "out/kit-Sheet-1.nc", "out/kit-Poplar-3-mm.nc",
                             "out/kit-Sheet-1.pdf", "out/kit-Poplar-3-mm.pdf", "out/map.pdf", "out/labels.pdf"})
        CHECK(std::filesystem::exists(shell.file(file)));
    const auto laid = shell.text("out/laid.csv");
    CHECK(std::count(laid.begin(), laid.end(), '\n') == 8);
    CHECK(laid.find("Poplar 3 mm,Moon") != std::string::npos);
    shouldBe(shell.run("proof out/kit.ferro"), 0);
    shouldBe(shell.run("map out/kit.ferro -o map.pdf --labels labels.pdf --label-size 63.5 38 --label-grid 3 7 "
                       "--label-margin 7 15 --label-gap 2.5 0"),
             0);
    CHECK(shell.text("map.pdf") == shell.text("out/map.pdf"));
    shouldBe(shell.run("map out/kit.ferro --labels labels.pdf --label-size 120 38"), 1);
    shouldBe(shell.run("map out/kit.ferro"), 1);
    put("lacks.csv", "file,qty\nwing.svg,1\nhat.svg,2\n");
    const auto lacks = shell.run("kit lacks.csv -o none");
    shouldBe(lacks, 1);
    CHECK(lacks.errors.find("line 3") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(shell.file("none")));
    shouldBe(shell.run("kit kit.csv --unit furlong -o none"), 1);
    shouldBe(shell.run("map out/kit.ferro --labels labels.pdf --label-grid 2.5 7"), 1);
    put("big.csv", "file,qty\nwing.svg,1\n");
    shouldBe(shell.run("kit big.csv --stock 60 40 6 -o big"), 2); // it fits no sheet
    CHECK_FALSE(std::filesystem::exists(shell.file("big/big.nc")));
}

TEST_CASE("command line: the piece in the round from any side, a file for each tool, a shaded token") {
    Shell shell;
    const std::string sign = fmt::format("{}/sign.ferro", FERRO_DEMO);
    shouldBe(shell.run(fmt::format("proof {} --picture a.png --round 30 35 --size 320 200 --cells 100000", sign)), 0);
    shouldBe(shell.run(fmt::format("proof {} --picture b.png --round 30 35 --size 320 200 --cells 100000", sign)), 0);
    shouldBe(shell.run(fmt::format("proof {} --picture c.png --round -30 35 --size 320 200 --cells 100000 --section 2 "
                                   "--at 60",
                                   sign)),
             0);
    CHECK(shell.text("a.png").starts_with("\x89PNG"));
    CHECK(shell.text("a.png") == shell.text("b.png"));
    CHECK(shell.text("a.png") != shell.text("c.png"));
    shouldBe(shell.run(fmt::format("proof {} --round 30 35", sign)), 1);
    shouldBe(shell.run(fmt::format("proof {} --picture d.png --round 30 95", sign)), 1);
    shouldBe(shell.run(fmt::format("edit {} output tool '{{number}}-{{tool}}' -o tools.ferro", sign)), 0);
    const auto several = shell.run("write tools.ferro -o one.nc");
    CHECK(several.exit == 1);
    CHECK(several.errors.find("names one") != std::string::npos);
    const auto written = shell.run("write tools.ferro -o out").out;
    CHECK(std::count(written.begin(), written.end(), '\n') >= 2);
    CHECK(written.find("out/01-") != std::string::npos);
    shouldBe(shell.run(fmt::format("edit {} output step '{{tool}}' -o tools.ferro", sign)), 1);

    shouldBe(shell.run("new token.ferro --machine laser-700 --material poplar --stock 60 60 3"), 0);
    shouldBe(shell.run("edit token.ferro circle 30 30 40 token + circle 30 30 12 moon + repeat layer:moon ring count=3 "
                       "centre-x=30 centre-y=22 + step hatch Shade + set Shade layers=moon spacing=0.2 + step outline "
                       "Token + set Token layers=token"),
             0);
    shouldBe(shell.run("proof token.ferro"), 0);
    shouldBe(shell.run("write token.ferro -o out"), 0);
}
