#include "program/reader.h"
#include "support/jobs.h"

using namespace ferro;
using program::Interpreter;
using toolpath::Move;

namespace {
std::vector<Move> movesOf(const std::string& text, bool beam = false) {
    program::ReadOptions options;
    options.interpreter = {beam, 1000};
    options.startHeight = 0;
    auto read = program::readProgram(text, options);
    INFO(text << "\n" << (read ? "" : read.problem().text()));
    REQUIRE(read);
    std::vector<Move> all;
    for (const auto& step : read->path.steps) all.insert(all.end(), step.moves.begin(), step.moves.end());
    return all;
}
toolpath::Vec3 endOf(const std::string& text) { return movesOf(text).back().to; }
} // namespace

TEST_CASE("reader: units, modes and offsets mean what RS-274 says") {
    CHECK(endOf("G20 G0 X1 Y2") == toolpath::Vec3{25.4, 50.8, 0});
    CHECK(endOf("G21 G91 G0 X1\nX1\nX1") == toolpath::Vec3{3, 0, 0});
    CHECK(endOf("G90 G0 X5\nG91 X1\nG90 Y2") == toolpath::Vec3{6, 2, 0});
    CHECK(endOf("G0 X10\nG92 X0\nX5").x == Approx(15)); // the numbers mean other places, the tool has not moved
    CHECK(endOf("G0 Z10\nG92 Z0\nZ5").z == Approx(15));
    CHECK(endOf("G0 X1 Y10\nG92 Y0\nY5").y == Approx(15));
    CHECK(endOf("g0x10y-.5z+3.") == toolpath::Vec3{10, -0.5, 3});
    CHECK(endOf("/G0 X9 (skip?) Y1 ; tail\nN20 X4").x == Approx(4));
    const auto feeds = movesOf("G20 G1 X1 F10\nG21 X30");
    CHECK(feeds[0].feed == Approx(254));
    CHECK(feeds[1].feed == Approx(254));
}

TEST_CASE("reader: arcs by centre, by radius, in a spiral, full turns") {
    const auto quarter = movesOf("G0 X10\nG3 X0 Y10 I-10 J0 F100");
    CHECK(quarter.back().centre == Vec2{0, 0});
    CHECK(quarter.back().ccw);
    const auto byRadius = movesOf("G0 X10\nG3 X0 Y10 R10 F100");
    CHECK(distance(byRadius.back().centre, {0, 0}) < 1e-9);
    const auto theLongWay = movesOf("G0 X10\nG3 X0 Y10 R-10 F100");
    double turned = 0;
    Vec2 from{10, 0};
    for (std::size_t i = 1; i < theLongWay.size(); ++i) {
        turned += sweepOf(from, theLongWay[i].flat());
        from = theLongWay[i].to.flat();
    }
    CHECK(turned == Approx(3 * pi / 2));
    const auto absolute = movesOf("G90.1 G0 X10\nG2 X10 Y0 I5 J0 F100"); // a full turn about 5,0
    double length = 0;
    from = {10, 0};
    for (std::size_t i = 1; i < absolute.size(); ++i) {
        length += lengthOf(from, absolute[i].flat());
        from = absolute[i].to.flat();
    }
    CHECK(length == Approx(10 * pi));
    const auto helix = movesOf("G0 X10 Z0\nG3 X-10 Y0 Z-4 I-10 J0 F100");
    CHECK(helix.back().to == toolpath::Vec3{-10, 0, -4});
    // In another plane it comes as fine lines.
    const auto upright = movesOf("G18 G0 X10\nG3 X0 Z10 I-10 K0 F100");
    CHECK(upright.size() > 8);
    for (std::size_t i = 1; i < upright.size(); ++i)
        CHECK(std::hypot(upright[i].to.x, upright[i].to.z) == Approx(10).margin(0.01));
}

TEST_CASE("reader: drilling cycles become the moves they stand for") {
    const auto drill = movesOf("G0 X0 Y0 Z10\nG81 X5 Y5 Z-3 R2 F100\nX9\nG80\nG0 X0");
    double lowest = 0;
    int holes = 0;
    for (const auto& m : drill) {
        lowest = std::min(lowest, m.to.z);
        holes += m.kind == Move::Kind::line && m.to.z == -3;
        if (m.kind == Move::Kind::rapid) CHECK(m.to.z >= 2);
    }
    CHECK(lowest == -3);
    CHECK(holes == 2);
    const auto pecks = movesOf("G0 Z10\nG83 X1 Y1 Z-9 R1 Q3 F100");
    int downs = 0;
    for (const auto& m : pecks) downs += m.kind == Move::Kind::line;
    CHECK(downs >= 4); // 1 to -2, -5, -8, -9
    const auto retract = [](const char* mode) {
        return movesOf(std::string("G0 Z10\n") + mode + " G81 X1 Z-3 R2 F100\nX2\nG80").back().to.z;
    };
    CHECK(retract("G98") == Approx(10));
    CHECK(retract("G99") == Approx(2));
}

TEST_CASE("reader: a beam burns on feed moves only, by its power") {
    const auto moves = movesOf("M4 S500\nG0 X5\nG1 X10 F600\nS0\nX15\nM5\nX20", true);
    REQUIRE(moves.size() == 4);
    CHECK(moves[0].power == 0);
    CHECK(moves[1].power == Approx(0.5));
    CHECK(moves[2].power == 0);
    CHECK(moves[3].power == 0);
}

TEST_CASE("reader: any damage to a program is refused with its line or read, never a crash", "[fuzz]") {
    const std::string good = "(heron)\nG21 G90 G17\nT2 M6\nM3 S12000\nG0 X1 Y2 Z5\nG1 Z-1 F300\nG2 X5 Y6 I2 J2\n"
                             "G3 X1 Y2 R9\nG81 X4 Z-2 R1\nG80\nG92 X0\nM5\nM30\n";
    std::mt19937 random(7);
    for (int i = 0; i < 3000; ++i) {
        std::string text = good;
        for (unsigned k = 0; k < 1 + random() % 4; ++k) {
            const auto at = random() % text.size();
            if (random() % 3 == 0)
                text.erase(at, random() % 6);
            else if (random() % 2)
                text[at] = static_cast<char>(random() % 128);
            else
                text.insert(at, std::string(1 + random() % 3, "0123456789.-GXYZIJRMF(); \n"[random() % 27]));
            if (text.empty()) text = "G";
        }
        program::ReadOptions options;
        const auto read = program::readProgram(text, options);
        if (!read) {
            CHECK(read.problem().where.find("line") != std::string::npos);
            continue;
        }
        bool sound = true;
        toolpath::forEachMove(read->path, [&](const auto&, std::size_t, toolpath::Vec3, const Move& move) {
            sound = sound && isFinite(move.to.flat()) && std::isfinite(move.to.z) && isFinite(move.centre);
        });
        CHECK(sound);
    }
    CHECK(program::readProgram("", {}).has_value());
    CHECK_FALSE(program::readProgram("G1 X1\n", {})); // no feed yet
    CHECK_FALSE(program::readProgram("G41 D1\nG1 X1 F1\n", {}));
    CHECK_FALSE(program::readProgram("G2 X5 Y5 I1 J0 F100\n", {})); // the radii differ
}

TEST_CASE("reader: what it cannot follow is refused, what it passes over although it means something is told",
          "[safety]") {
    const auto refused = [](const std::string& text, std::string_view word) {
        const auto read = program::readProgram("G21 G90 F100\nG0 Z5\n" + text + "\n", {});
        CAPTURE(text);
        REQUIRE_FALSE(read);
        CHECK(read.problem().where == "line 3");
        CAPTURE(read.problem().what);
        CHECK(read.problem().what.find(word) != std::string::npos);
    };
    for (const char* flow :
         {"O100 sub", "o100 call [1]", "O7 repeat [3]", "o7 while [#1 LT 3]", "O7 endsub", "o<shape> if [1]"})
        refused(flow, flow[1] == '<' ? "" : "O-words");
    refused("M98 P100", "M98");
    refused("G0 G1 X5", "G0 and G1");
    refused("G1 G81 X5 Z-1 R1", "G1 and G81");
    refused("G2 X5 Y5 R5 I2 J2", "radius");
    refused("G81 X5 Y5 Z-3", "without R");
    refused("G83 X5 Y5 R1 Q1", "without Z");
    refused("G41", "G41");
    CHECK(program::readProgram("%\nO1234 (proscenium)\nO 77\nG21 G90 F100\nG1 X5\n%\n", {}).has_value());
    CHECK(program::readProgram("G21 F100\nG81 X5 Y5 Z-3 R1\nX9\nG82 X12 P1\n", {}).has_value()); // they go on
    const auto notices = [](const std::string& text) {
        const auto read = program::readProgram("G21 G90 F100\nM3 S9000\n" + text + "\nG1 X5\n", {});
        REQUIRE(read);
        std::string all;
        for (const auto& n : read->notices) all += n.text + "\n";
        return all;
    };
    CHECK(notices("G55").find("G55") != std::string::npos);
    CHECK(notices("G43 H1").find("G43") != std::string::npos);
    CHECK(notices("G53 G0 Z-5").find("G53") != std::string::npos);
    CHECK(notices("G28").find("G28") != std::string::npos);
    CHECK(notices("G54 G49 G40 G61").empty());
}

TEST_CASE(
    "reader: a spindle that stops or changes its speed begins a step of its own, a tool is in when it was put in") {
    const auto read =
        program::readProgram("G21 G90 F100\nG0 Z5\nT3\nT5 M6\nM3 S9000\nG4 P1.5\nG1 Z-1\nT7\nX5\nM5\nX9\nM4 S500\nX10\n"
                             "M3 S0\nX11\nG0 Z5\n",
                             {.interpreter = {}, .frame = {}, .tools = {}});
    REQUIRE(read);
    std::vector<std::pair<int, double>> steps;
    for (const auto& step : read->path.steps) steps.emplace_back(step.tool.number, step.spindle);
    CHECK(steps == std::vector<std::pair<int, double>>{{0, 0}, {5, 9000}, {5, 0}, {5, 500}, {5, 0}});
    CHECK(read->path.steps[1].spinUp == 1.5);
    CHECK(read->atEnd.tool == 5);
}

TEST_CASE("reader: a program in inches is its twin in millimetres, word by word") {
    const std::pair<const char*, const char*> twins[] = {
        // in, mm
        {"G0 X1 Y2 Z3", "G0 X25.4 Y50.8 Z76.2"},
        {"G0 X1\nG3 X0 Y1 R1 F10", "G0 X25.4\nG3 X0 Y25.4 R25.4 F254"},
        {"G0 X1\nG3 X0 Y1 I-1 J0 F10", "G0 X25.4\nG3 X0 Y25.4 I-25.4 J0 F254"},
        {"G0 Z2\nG83 X1 Y1 Z-1 R0.5 Q0.25 F10", "G0 Z50.8\nG83 X25.4 Y25.4 Z-25.4 R12.7 Q6.35 F254"},
        {"G0 Z2\nG91 G81 X1 Y2 Z-1 R-0.5 L3 F10", "G0 Z50.8\nG91 G81 X25.4 Y50.8 Z-25.4 R-12.7 L3 F254"},
        {"G92 X1 Y2 Z3\nG1 X2 Y3 Z4 F10", "G92 X25.4 Y50.8 Z76.2\nG1 X50.8 Y76.2 Z101.6 F254"},
        {"G92 X1\nG1 X2 Y3 F10", "G92 X25.4\nG1 X50.8 Y76.2 F254"},
        {"G92 Y1\nG1 X2 Y3 F10", "G92 Y25.4\nG1 X50.8 Y76.2 F254"},
    };
    for (const auto& [inches, millimetres] : twins) {
        const auto a = movesOf("G20\n" + std::string(inches)), b = movesOf("G21\n" + std::string(millimetres));
        CAPTURE(inches);
        REQUIRE(a.size() == b.size());
        for (std::size_t i = 0; i < a.size(); ++i) {
            CHECK(a[i].kind == b[i].kind);
            CHECK(distance(a[i].to.flat(), b[i].to.flat()) < 1e-6);
            CHECK(std::abs(a[i].to.z - b[i].to.z) < 1e-6);
            CHECK(distance(a[i].centre, b[i].centre) < 1e-6);
            CHECK(a[i].feed == Approx(b[i].feed));
        }
    }
}

TEST_CASE("reader: a pecked hole lifts out and comes back to just above where it was, at no feed and no power") {
    const auto moves = movesOf("G21 G0 Z5\nG83 X10 Y10 Z-3 R1 Q1.5 F100");
    std::vector<double> heights;
    for (const auto& move : moves) heights.push_back(move.to.z);
    // Up and over, down to R, a peck, out, back to a quarter above, the next, and out.
    const std::vector<double> wanted{5, 5, 1, -0.5, 1, -0.25, -2, 1, -1.75, -3, 5};
    REQUIRE(heights.size() == wanted.size());
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        CAPTURE(i);
        CHECK(heights[i] == Approx(wanted[i]));
        if (moves[i].kind == Move::Kind::rapid) CHECK(moves[i].power == 0);
    }
    const auto fine = movesOf("G21 G0 Z5\nG83 X10 Y10 Z-1 R0 Q0.2 F100");
    double nearest = 1;
    for (std::size_t i = 1; i < fine.size(); ++i)
        if (fine[i].kind == Move::Kind::rapid && fine[i].to.z < -0.05) nearest = std::min(nearest, fine[i].to.z);
    CHECK(nearest == Approx(-0.7)); // by half a peck where a peck is small
    const auto low = movesOf("G21 G0 Z-2\nG81 X10 Y10 Z-3 R1 F100");
    CHECK(low[1].to.z == 1); // up before over
    CHECK(low[1].to.x == 0);
    CHECK(low[1].feed == 0);
}

TEST_CASE("reader: a tool that nobody knows is named by its number, taken for an end mill, and told") {
    program::ReadOptions options;
    options.tools = {*test::book().tool("end-6")};
    const auto read = program::readProgram("T9 M6\nG0 X1 Y1 Z5\nM3 S9000\nG1 Z-1 F100\nX9", options);
    REQUIRE(read);
    REQUIRE_FALSE(read->path.steps.empty());
    CHECK(read->path.steps.back().tool.name == "Tool 9");
    CHECK(read->path.steps.back().tool.kind == shop::ToolKind::endMill);
    CHECK(std::any_of(read->notices.begin(), read->notices.end(),
                      [](const auto& n) { return n.text.find("Tool 9") != std::string::npos; }));
}
