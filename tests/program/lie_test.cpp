// Programs for blanks that lie unevenly, run by the witness over a surface of its own.
#include "geometry/measure.h"
#include "job/job_file.h"
#include "job/sheets.h"
#include "program/for_job.h"
#include "support/jobs.h"
#include "support/proofs.h"
#include "support/witness.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// A bowed and twisted top; bilinear in each cell, worked out by hand from the four corners round a place.
struct Top {
    double size = 50;
    [[nodiscard]] static double knot(int i, int j) { return 0.9 * std::sin(i * 0.8) + 0.35 * ((j * 5) % 4) - 0.4; }
    [[nodiscard]] double at(double x, double y) const {
        const double u = x / size, v = y / size;
        const int i = static_cast<int>(std::floor(u)), j = static_cast<int>(std::floor(v));
        const double a = u - i, b = v - j;
        return knot(i, j) * (1 - a) * (1 - b) + knot(i + 1, j) * a * (1 - b) + knot(i, j + 1) * (1 - a) * b +
               knot(i + 1, j + 1) * a * b;
    }
    /// As a person would have it from a probe: counted from the job's zero.
    [[nodiscard]] std::string csv(Vec2 zero, int columns, int rows) const {
        std::string out = "x;y;z\n";
        for (int i = 0; i < columns; ++i)
            for (int j = 0; j < rows; ++j)
                out += fmt::format("{};{};{:.6f}\n", i * size - zero.x, j * size - zero.y, knot(i, j));
        return out;
    }
};

struct Place {
    double x = 0, y = 0, z = 0;
};
/// Every place that a program's feed moves go through, a tenth of a mm apart, by a reader as small as can be.
std::vector<Place> fedThrough(const std::string& program) {
    std::vector<Place> out;
    Place at{0, 0, 1e9};
    int motion = 0;
    std::istringstream lines(program);
    for (std::string line; std::getline(lines, line);) {
        if (line.empty() || line[0] == '(' || line[0] == '%') continue;
        Place to = at;
        double i = 0, j = 0;
        bool moves = false;
        for (const char* c = line.c_str(); *c;) {
            const char letter = *c;
            char* end = nullptr;
            const double value = std::strtod(c + 1, &end);
            if (letter == '(' || end == c + 1) {
                if (letter == '(') break;
                ++c;
                continue;
            }
            c = end;
            if (letter == 'G' && value >= 0 && value <= 3) motion = static_cast<int>(value);
            if (letter == 'X') to.x = value, moves = true;
            if (letter == 'Y') to.y = value, moves = true;
            if (letter == 'Z') to.z = value, moves = true;
            if (letter == 'I') i = value;
            if (letter == 'J') j = value;
        }
        if (moves && motion > 0) {
            const double cx = at.x + i, cy = at.y + j, r = std::hypot(i, j);
            double sweep = 0;
            if (motion > 1) {
                sweep = std::atan2(to.y - cy, to.x - cx) - std::atan2(at.y - cy, at.x - cx);
                if (motion == 2 && sweep >= -1e-9) sweep -= 2 * pi;
                if (motion == 3 && sweep <= 1e-9) sweep += 2 * pi;
            }
            const double way = motion > 1 ? std::abs(sweep) * r : std::hypot(to.x - at.x, to.y - at.y);
            const int parts = std::max(1, static_cast<int>(way / 0.1));
            for (int k = 1; k <= parts; ++k) {
                const double t = static_cast<double>(k) / parts, turn = std::atan2(at.y - cy, at.x - cx) + sweep * t;
                Place p{at.x + (to.x - at.x) * t, at.y + (to.y - at.y) * t, at.z + (to.z - at.z) * t};
                if (motion > 1) p.x = cx + r * std::cos(turn), p.y = cy + r * std::sin(turn);
                out.push_back(p);
            }
        }
        at = to;
    }
    return out;
}

} // namespace

TEST_CASE("lie: what is cut at one depth is as deep below an uneven top everywhere, arcs and long lines too",
          "[property]") {
    const Top top;
    for (const auto corner : {job::ZeroCorner::lowerLeft, job::ZeroCorner::centre, job::ZeroCorner::upperRight}) {
        auto job = fresh();
        job.sheet().stock = {.width = 400, .height = 300, .thickness = 12, .corner = corner};
        job = drawn(job,
                    {{pathOf(ring("20,20 380,37 376,280 31,250 20,90"), false), {}},
                     {circle({210, 150}, 95), {}},
                     {circle({120, 100}, 12), {}}},
                    "lines");
        job = set(set(stepped(job, "scribe", "engraver-30"), "depth", "0.6"), "depthPerPass", "1");
        job = set(job, "entry", "plunge");
        const auto zero = job::zeroOf(job.sheet().stock).at;
        const auto lie = job::lieFrom(top.csv(zero, 9, 7), zero);
        INFO((lie ? "" : lie.problem().text()));
        REQUIRE(lie);
        job = with(job, job::withLie(job, *lie));
        const auto proof = proofOf(job);
        REQUIRE(proof.mayRun());
        const auto dialect = *program::dialectOf(realDisk(), job);
        const auto program = program::programFor(job, proof.path, dialect, program::Clearance::passed);
        INFO((program ? "" : program.problem().text()));
        REQUIRE(program);
        double worst = 0;
        std::size_t cut = 0;
        for (const auto& p : fedThrough(program->text)) {
            const double below = top.at(p.x + zero.x, p.y + zero.y) - p.z;
            if (below < 0.3) continue; // on its way down
            worst = std::max(worst, std::abs(below - 0.6));
            ++cut;
        }
        CAPTURE(worst, cut, program->lines);
        CHECK(cut > 15'000);
        CHECK(worst < 0.02);
        CHECK(program->lines < 900); // parted where it bends, not everywhere
        // Every rapid sideways is above all of the blank by the clearance.
        CHECK(proof.path.travel >= lie->highest() + job.plan.clearance - 1e-9);
        // Each move that is proofed has its line, in order.
        std::uint32_t before = 0;
        for (const auto& step : program->lineOf)
            for (const auto line : step) {
                if (line == 0) continue;
                CHECK(line > before);
                before = line;
            }
        // Flat again it is the program that it was.
        const auto flat = with(job, job::withLie(job, std::nullopt));
        const auto plain = program::programFor(flat, proofOf(flat).path, dialect, program::Clearance::passed);
        REQUIRE(plain);
        CHECK(plain->lines < program->lines);
        CHECK(plain->text.find("Z-0.6") != std::string::npos);
    }
}

TEST_CASE("lie: what was measured is read in any order and told where it is no grid") {
    const auto lie = job::lieFrom("\xEF\xBB\xBFx, y, z\r\n10 20 0.1\r\n0,20,0.3\n0;0;-0.2\n\n10\t0\t+0.4\n", {5, 7});
    REQUIRE(lie);
    CHECK(lie->xs == std::vector<double>{5, 15});
    CHECK(lie->ys == std::vector<double>{7, 27});
    CHECK(lie->at({5, 7}) == Approx(-0.2));
    CHECK(lie->at({15, 27}) == Approx(0.1));
    CHECK(lie->at({10, 17}) == Approx(0.15));
    CHECK(lie->at({-90, 17}) == Approx(0.05)); // as at its edge
    CHECK(lie->beyond({2, 31}) == Approx(5));
    CHECK(lie->lowest() == -0.2);
    CHECK(lie->highest() == 0.4);
    CHECK(*job::lieFrom(job::lieText(*lie, {5, 7}), {5, 7}) == *lie);
    const auto toldAbout = [](std::string_view text) {
        const auto read = job::lieFrom(text, {});
        REQUIRE_FALSE(read);
        return read.problem().where + ": " + read.problem().what;
    };
    CHECK(toldAbout("0,0,0\n0,10,0\n10,0,0\n") == ": The grid has no height at x 10 mm, y 10 mm.");
    CHECK(toldAbout("0,0,0\n0,10,0\n10,0,0\n10,10,0\n10,0,1").find("line 5: This place was measured in line 3") == 0);
    CHECK(toldAbout("0,0,0\n0,ten,0\n").find("line 2: “ten” is no number") == 0);
    CHECK(toldAbout("0,0,0\n0,1.5mm,0\n").find("line 2: “1.5mm” is no number") == 0);
    CHECK(toldAbout("0,0,0\n0,10\n").find("line 2: Three numbers") == 0);
    CHECK(toldAbout("0,0,99\n").find("line 1: A height of 99 mm") == 0);
    CHECK(toldAbout("0,0,1\n1,2,inf").find("line 2: “inf” is no number") == 0);
    CHECK(toldAbout("0,0,0\n5,0,0\n9,0,0").find("no places over an area") != std::string::npos);
    CHECK(toldAbout("").find("no places") != std::string::npos);
    std::string strewn;
    for (int k = 0; k < 300; ++k) strewn += fmt::format("{},{},0\n", k * 1.37, k * k * 0.11);
    CHECK(toldAbout(strewn).find("in no grid") != std::string::npos);
}

TEST_CASE("lie: a blank that may be uneven is told where depths hang on it, and what would do") {
    auto job = drawn(fresh(), {{rectangle({40, 40}, {120, 100}), {}}});
    job = set(stepped(job, "outline", "end-6"), "extra", "0.3");
    job = drawn(job, {{circle({80, 70}, 10), {}}}, "lines");
    job = set(set(stepped(job, "scribe", "engraver-30"), "layers", "lines"), "depth", "0.5");
    job::Stock stock = job.sheet().stock;
    const auto toldBy = [](const job::Job& asked, std::string_view words) {
        const auto proof = proofOf(asked);
        return std::count_if(proof.findings.begin(), proof.findings.end(),
                             [&](const auto& finding) { return finding.what.find(words) != std::string::npos; });
    };
    CHECK(toldBy(job, "uneven") == 0);
    stock.uneven = 0.4;
    auto bowed = with(job, job::withStock(job, stock));
    CHECK(toldBy(bowed, "may not come through") == 1);
    CHECK(toldBy(bowed, "twice as deep") == 1);
    CHECK(toldBy(with(bowed, job::withStepSetting(bowed, bowed.plan.steps[0].id, "hold", "skin")), "A skin of") == 1);
    const auto some = with(bowed, job::withStepSetting(bowed, bowed.plan.steps[0].id, "skinUnder", "60"));
    CHECK(toldBy(some, "A skin of") == 1);
    CHECK(toldBy(some, "may not come through") == 1);
    stock.uneven = 6;
    CHECK(toldBy(with(job, job::withStock(job, stock)), "Rapids pass") == 1);
    // Measured, none of that; but what is cut beyond the measuring is.
    const auto lie = *job::lieFrom("30,30,0\n30,110,0.2\n90,30,0.3\n90,110,-0.1\n", {});
    auto measured = with(bowed, job::withLie(bowed, lie));
    CHECK(toldBy(measured, "may not come through") == 0);
    CHECK(toldBy(measured, "was measured from -0.1 mm to 0.3 mm") == 1);
    CHECK(toldBy(measured, "beyond where the blank was measured") == 1);
    // Deeper than the board below allows where it lies lowest.
    auto low = *job::lieFrom("0,0,0\n0,400,-4\n600,0,-4\n600,400,-4\n", {});
    stock.uneven = 0, stock.spacer = 1;
    auto deep = with(job, job::withStock(job, stock));
    CHECK(toldBy(deep, "below the scrap board") == 0);
    deep = with(deep, job::withLie(deep, low));
    CHECK(toldBy(deep, "below the scrap board") == 1);
    // Of another size or zero it is another blank; the file keeps what is measured.
    CHECK(job::fromBytes(*job::toBytes(measured))->sheet().lie == lie);
    stock = measured.sheet().stock, stock.corner = job::ZeroCorner::upperLeft;
    CHECK_FALSE(with(measured, job::withStock(measured, stock)).sheet().lie);
    CHECK_FALSE(with(measured, job::withSheetAdded(measured)).sheet().lie); // another blank
    low.heights.pop_back();
    CHECK_FALSE(job::withLie(job, low));
}

TEST_CASE("lie: holes in one word are as deep below the top at their places, whatever else is cut before them",
          "[safety]") {
    const Top top;
    auto job = fresh();
    job.sheet().stock = {.width = 400, .height = 300, .thickness = 12};
    const Vec2 holes[] = {{60, 70}, {210, 160}, {330, 240}};
    job = drawn(job, {{pathOf(ring("20,20 380,37 376,280"), false), {}}}, "lines");
    job = set(set(stepped(job, "scribe", "engraver-30"), "layers", "lines"), "depth", "0.5");
    std::vector<Piece> circles;
    for (const Vec2 at : holes) circles.push_back({circle(at, 4), {}});
    job = set(stepped(drawn(job, circles, "holes"), "drill", "drill-8"), "layers", "holes");
    // The lines first, in the same step of moves and in one before, so that places in the list are not theirs.
    const auto lie = job::lieFrom(top.csv({0, 0}, 9, 7), {0, 0});
    REQUIRE(lie);
    job = with(job, job::withLie(job, *lie));
    auto dialect = *program::dialectOf(realDisk(), job);
    dialect.cycles = true;
    const auto proof = proofOf(job);
    const auto program = program::programFor(job, proof.path, dialect, program::Clearance::passed);
    INFO((program ? "" : program.problem().text()));
    REQUIRE(program);
    const double bottom = plan::bottomOf(*plan::depthIn(job.plan.steps.back()), 12);
    std::size_t found = 0;
    std::istringstream lines(program->text);
    for (std::string line; std::getline(lines, line);) {
        double x = 0, y = 0, z = 0;
        const auto at = line.find(" X");
        if (line.find("G98 G8") == std::string::npos ||
            std::sscanf(line.c_str() + at, " X%lf Y%lf Z%lf", &x, &y, &z) != 3)
            continue;
        ++found;
        CAPTURE(line);
        CHECK(z == Approx(top.at(x, y) - bottom).margin(0.002));
    }
    CHECK(found == 3);
    // Every move that is proofed has the line that does it.
    for (std::size_t s = 0; s < proof.path.steps.size(); ++s) {
        const auto& moves = proof.path.steps[s].moves;
        std::size_t told = 0;
        for (std::size_t i = 0; i < moves.size(); ++i) told += program->lineOf[s][i] > 0;
        CHECK(told + 3 >= moves.size());
    }
}
