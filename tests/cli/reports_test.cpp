#include "support/shell.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <nlohmann/json.hpp>

using namespace ferro;
using namespace ferro::test;
using nlohmann::json;

namespace {

json report(const Answer& answer) {
    shouldBe(answer, 0);
    INFO(answer.out);
    REQUIRE(json::accept(answer.out));
    return json::parse(answer.out);
}
void write(const Shell& shell, const char* name, const std::string& text) { std::ofstream(shell.file(name)) << text; }
constexpr const char* kit =
    "<svg xmlns='http://www.w3.org/2000/svg' width='120mm' height='80mm' viewBox='0 0 120 80'>"
    "<g id='cut' fill='none' stroke='#f00'><rect x='10' y='10' width='40' height='30'/><circle cx='90' cy='40' "
    "r='20'/></g><g id='score' fill='none' stroke='#00f'><path d='M10 60H110'/></g></svg>";

} // namespace

TEST_CASE("reports: a conversion tells each layer's colour, pieces, points and bounds, and takes layers and colours") {
    const Shell shell;
    write(shell, "kit.svg", kit);
    const auto all = report(shell.run("convert kit.svg -o kit.dxf --json"));
    REQUIRE(all.size() == 2);
    CHECK(all[0]["layer"] == "cut");
    CHECK(all[0]["pieces"] == 2);
    CHECK(all[0]["bounds"]["x"].get<double>() == Approx(10));
    CHECK(all[0]["bounds"]["width"].get<double>() == Approx(100));
    // Out and in again, in another format and by way of inches: the same sizes to a micron.
    const auto again = report(shell.run("convert kit.dxf -o again.svg --json"));
    for (const char* key : {"x", "y", "width", "height"})
        CHECK(again[0]["bounds"][key].get<double>() == Approx(all[0]["bounds"][key].get<double>()).margin(0.001));
    const auto score = report(shell.run("convert kit.svg -o score.svg --layer score --colour score=#00ff80 --json"));
    REQUIRE(score.size() == 1);
    CHECK(score[0]["colour"] == "#00ff80");
    CHECK(shell.text("score.svg").find("#00ff80") != std::string::npos);
    CHECK(shell.text("score.svg").find("id=\"cut\"") == std::string::npos);
    const auto lines = report(shell.run("convert kit.svg -o lines.svg --lines --json"));
    CHECK(lines[0]["points"].get<int>() > 40);
    CHECK(shell.text("lines.svg").find('A') == std::string::npos);
    for (const char* bad : {"convert kit.svg -o x.svg --layer none", "convert kit.svg -o x.svg --colour cut=red",
                            "convert none.svg -o x.svg", "convert kit.svg -o missing/x.svg", "convert kit.svg"}) {
        const auto answer = shell.run(bad);
        INFO(bad);
        CHECK(answer.exit != 0);
        CHECK(!answer.errors.empty());
        CHECK_FALSE(std::filesystem::exists(shell.file("x.svg")));
    }
}

TEST_CASE("reports: an audit names what it finds and where, mending tells what is left, and goes where it is told") {
    const Shell shell;
    shouldBe(shell.run("new kit.ferro --machine mill-600 --material poplar --stock 200 150 6"), 0);
    shouldBe(shell.run("edit kit.ferro path 'M 10 10 L 60 10 M 60.1 10 L 60 50 L 10 50 L 10 10.1' kit frame + circle "
                       "120 60 30 kit "
                       "+ circle 120 60 30 kit + circle 150 120 0.3 kit + rectangle 180 10 40 20 kit"),
             0);
    const auto before = shell.text("kit.ferro");
    const auto audit = report(shell.run("mend kit.ferro --audit --json"));
    CHECK(shell.text("kit.ferro") == before);
    std::map<std::string, int> kinds;
    for (const auto& f : audit["findings"]) {
        ++kinds[f["fault"].get<std::string>()];
        CHECK(f["at"].size() == 2);
        CHECK(!f["what"].get<std::string>().empty());
    }
    CHECK(kinds["doubled"] == 1);
    CHECK(kinds["gap"] == 2);
    CHECK(kinds["speck"] == 1);
    CHECK(kinds["beyond"] == 1);
    // One kind only, to another file.
    const auto some = report(shell.run("mend kit.ferro --fix speck doubled -o some.ferro --json"));
    CHECK(shell.text("kit.ferro") == before);
    for (const auto& f : some["findings"]) CHECK((f["fault"] == "gap" || f["fault"] == "beyond"));
    // A gap is one by the tolerance that is given, and that is kept with the job.
    const auto narrow = report(shell.run("mend kit.ferro --gap 0.05 -o narrow.ferro --json"));
    for (const auto& f : narrow["findings"]) CHECK(f["fault"] != "gap");
    const auto done = report(shell.run("mend kit.ferro --fix all --json"));
    CHECK(done["findings"].empty());
    CHECK(shell.run("mend kit.ferro --fix all").out.find("nothing to mend") != std::string::npos);
    shouldBe(shell.run("mend kit.ferro --fix rust"), 1);
    CHECK(shell.run("mend kit.ferro --gap -1").exit != 0);
}

TEST_CASE("reports: a trace tells what came out, by every way of finding, the same on each run") {
    const Shell shell;
    const std::string heron = std::string(FERRO_DEMO) + "/heron-ink.png";
    for (const char* find : {"areas", "rim", "edges", "strokes"}) {
        CAPTURE(find);
        shouldBe(shell.run(fmt::format("trace {} --find {} -o one.svg --report one.json", heron, find)), 0);
        shouldBe(shell.run(fmt::format("trace {} --find {} -o two.svg --report two.json", heron, find)), 0);
        CHECK(shell.text("one.svg") == shell.text("two.svg"));
        CHECK(shell.text("one.json") == shell.text("two.json"));
        const auto r = json::parse(shell.text("one.json"));
        CHECK(r["pieces"].get<int>() > 0);
        CHECK(r["points"].get<int>() > 10);
        CHECK(r["largestMiss"].get<double>() < 1);
        if (std::string(find) == "rim") CHECK(r["openings"] == 0);
    }
    // Fewer points where more is allowed, and never farther off than that.
    shouldBe(shell.run("trace " + heron + " --report fine.json -o fine.svg"), 0);
    shouldBe(shell.run("trace " + heron + " --follow 0.3 --report coarse.json -o coarse.svg"), 0);
    CHECK(json::parse(shell.text("coarse.json"))["points"].get<int>() <
          json::parse(shell.text("fine.json"))["points"].get<int>());
    // Twice as wide is four times the area.
    shouldBe(shell.run("trace " + heron + " --width 50 --report small.json"), 0);
    shouldBe(shell.run("trace " + heron + " --width 100 --report large.json"), 0);
    CHECK(json::parse(shell.text("large.json"))["area"].get<double>() ==
          Approx(4 * json::parse(shell.text("small.json"))["area"].get<double>()).epsilon(0.01));
    for (const char* bad : {" --find rust", " --level 300", " --width 0", " --corners 200", " --follow -1",
                            " --colours rust --find colours"}) {
        INFO(bad);
        const auto answer = shell.run("trace " + heron + bad + " -o no.svg");
        CHECK(answer.exit != 0);
        CHECK(!answer.errors.empty());
        CHECK_FALSE(std::filesystem::exists(shell.file("no.svg")));
    }
}

TEST_CASE("reports: a clean-up tells the size it left and where that lay, a trace by --json what --report writes") {
    const Shell shell;
    const std::string photo = std::string(FERRO_DEMO) + "/lantern-photo.png";
    const auto all = report(shell.run("clean " + photo + " invert -o all.png --json"));
    const auto part = report(shell.run("clean " + photo + " crop=10,20,40,30 -o part.png --json"));
    CHECK(part["width"].get<double>() == Approx(40).margin(0.2));
    CHECK(part["height"].get<double>() == Approx(30).margin(0.2));
    CHECK(part["low"][0].get<double>() == Approx(10).margin(0.2));
    CHECK(part["pxPerMm"] == all["pxPerMm"]);
    CHECK(all["pixels"][0].get<int>() == Approx(all["width"].get<double>() * all["pxPerMm"].get<double>()));
    CHECK(!all["quality"].get<std::string>().empty());
    const auto traced = report(shell.run("trace part.png --find strokes --report part.json -o part.svg --json"));
    CHECK(traced == json::parse(shell.text("part.json")));
}

TEST_CASE("reports: text and bridges say what was made, in numbers that hold") {
    const Shell shell;
    for (const double height : {5.0, 12.5, 80.0}) {
        const auto t = report(shell.run(fmt::format("text HEN height={} face=stencil -o t.svg --json", height)));
        CHECK(t["bounds"]["height"].get<double>() == Approx(height).margin(0.02 * height));
        const auto back = report(shell.run("convert t.svg -o t.dxf --json"));
        CHECK(back[0]["bounds"]["width"].get<double>() == Approx(t["bounds"]["width"].get<double>()).margin(0.002));
    }
    shouldBe(shell.run("new sign.ferro --machine laser-700 --material black-card --stock 297 210 0.5"), 0);
    shouldBe(shell.run("edit sign.ferro text ROAD 40 20 60 face='sign bold' layer=sign"), 0);
    const auto look = report(shell.run("bridge sign.ferro --look --json"));
    CHECK(look["dropOuts"].size() == 4); // the middles of R, O, A and D
    const auto made = report(shell.run("bridge sign.ferro width=2 --json"));
    CHECK(made["dropOuts"].empty());
    CHECK(made["bridges"].size() == 8); // two in line for each
    for (const auto& bridge : made["bridges"]) {
        CHECK(bridge["width"].get<double>() == 2);
        CHECK(bridge["from"] != bridge["to"]);
    }
    CHECK(report(shell.run("bridge sign.ferro --look --json"))["dropOuts"].empty());
}

TEST_CASE("reports: info tells all that a job's steps are set to, what a program holds, in words and as JSON") {
    const Shell shell;
    shouldBe(shell.run("new row.ferro --machine mill-600 --material birch-ply --stock 300 200 6 --name Row"), 0);
    shouldBe(
        shell.run("edit row.ferro rectangle 40 40 120 80 cut + circle 60 60 8 holes + step drill Pegs drill-8 + set "
                  "Pegs layers=holes + step outline Edges end-6 + set Edges feed=900 layers=cut + group all plates + "
                  "lock layer:holes "
                  "on"),
        0);
    const auto job = report(shell.run("info row.ferro --json"));
    CHECK(job["name"] == "Row");
    CHECK(job["sheets"][0]["width"] == 300);
    REQUIRE(job["steps"].size() == 2);
    CHECK(job["steps"][0]["kind"] == "drill");
    CHECK(job["steps"][0]["layers"] == json::array({"holes"}));
    CHECK(job["steps"][1]["name"] == "Edges");
    CHECK(job["steps"][1]["feed"] == 900);
    CHECK(job["steps"][1]["role"].is_string());
    REQUIRE(job["items"].size() == 2);
    CHECK(job["items"][0]["group"].get<int>() > 0);
    CHECK(job["items"][1]["locked"] == true);
    const auto words = shell.run("info row.ferro");
    shouldBe(words, 0);
    for (const char* line : {"name: Row\n", "steps: 2\n", "items: 2\n"})
        CHECK(words.out.find(line) != std::string::npos);
    // The program that it comes to.
    shouldBe(shell.run("write row.ferro -o out"), 0);
    const auto program = report(shell.run("info out/Row.nc --json"));
    CHECK(program["kind"] == "program");
    CHECK(program["moves"].get<int>() > 10);
    CHECK(program["lines"].get<int>() >= program["moves"].get<int>());
    write(shell, "torn.nc", "G21\\nG1 X10 Y\\n");
    const auto torn = shell.run("info torn.nc");
    shouldBe(torn, 1);
    CHECK(torn.errors.find("torn.nc") != std::string::npos);
}

TEST_CASE("verbs on the command line: points thinned, texts changed, a design's ground cut instead of it") {
    const Shell shell;
    shouldBe(shell.run("new sign.ferro --machine laser-700 --material poplar --stock 300 200 3 --name Sign"), 0);
    shouldBe(shell.run("edit sign.ferro text FERRY 20 30 40 layer=letters"), 0);
    const auto items = [&] { return report(shell.run("info sign.ferro --json"))["items"]; };
    const auto before = items();
    const int group = before[0]["group"].get<int>();
    shouldBe(shell.run("edit sign.ferro text-change " + std::to_string(group) + " BOSS height=15"), 0);
    const auto changed = items();
    CHECK(changed.size() == 4);
    CHECK(changed[0]["bounds"]["height"].get<double>() == Approx(15).epsilon(0.03));
    CHECK(changed[0]["bounds"]["y"].get<double>() == Approx(before[0]["bounds"]["y"].get<double>()).margin(0.5));
    const auto points = [](const json& all) {
        int sum = 0;
        for (const auto& item : all) sum += item["points"].get<int>();
        return sum;
    };
    shouldBe(shell.run("edit sign.ferro thin all 0.2"), 0);
    CHECK(points(items()) < points(changed));
    shouldBe(shell.run("edit sign.ferro negative layer:letters 10"), 0);
    const auto ground = items();
    REQUIRE(ground.size() >= 1);
    int openings = 0;
    double wide = 0;
    for (const auto& item : ground)
        openings += item["openings"].get<int>(), wide = std::max(wide, item["bounds"]["width"].get<double>());
    CHECK(openings >= 4); // four letters are cut out of it
    CHECK(wide > 10 + changed[3]["bounds"]["x"].get<double>() - changed[0]["bounds"]["x"].get<double>());
    CHECK(shell.run("edit sign.ferro text-change 999 WAVE").exit != 0);
    CHECK(shell.run("edit sign.ferro thin all -1").exit != 0);
}
