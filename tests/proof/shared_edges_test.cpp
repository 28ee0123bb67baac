// One cut between two parts: both come out as drawn, each is let go once and last, and less is cut.
#include "geometry/polygons.h"
#include "support/proofs.h"
#include "support/toolpaths.h"

#include <set>

using namespace ferro;
using namespace ferro::test;

namespace {

/// What is cut through, as areas, by the moves and the tool's width alone.
Rings cutAway(const proof::Proof& proof, double bottom) {
    Rings lines;
    for (const auto& step : proof.path.steps) {
        toolpath::Vec3 at = proof.path.start;
        for (const auto& move : step.moves) {
            const bool cuts = proof.path.byBeam() ? move.power > 0
                                                  : std::min(at.z, move.to.z) <= bottom + 1e-6 &&
                                                        move.kind != toolpath::Move::Kind::rapid;
            if (cuts && distance(at.flat(), move.to.flat()) > 1e-9) {
                const bool line = move.kind == toolpath::Move::Kind::line;
                const Path way{at.flat(), {line ? Segment::line(move.to.flat()) : move.flat()}, false};
                lines.push_back(flattened(way, 0.001));
            }
            at = move.to;
        }
    }
    const auto away = widened(lines, false, proof.path.steps[0].tool.diameter, Cap::round);
    REQUIRE(away);
    return *away;
}
double litLength(const proof::Proof& proof) {
    double sum = 0;
    for (const auto& step : proof.path.steps) {
        Vec2 at;
        for (const auto& move : step.moves) {
            if (move.kind != toolpath::Move::Kind::rapid) sum += lengthOf(at, move.flat());
            at = move.to.flat();
        }
    }
    return sum;
}
/// Each part lies by itself in what is left of the sheet, as large as it was drawn.
void partsComeOut(const job::Job& job, const std::vector<Piece>& pieces) {
    const auto proof = proofOf(job);
    for (const auto& f : proof.findings) UNSCOPED_INFO(f.what);
    CHECK(proof.mayRun());
    CHECK(proof.deviation.cutInto < 0.012);
    CHECK(std::none_of(proof.findings.begin(), proof.findings.end(),
                       [](const auto& f) { return f.what.find("smaller than") != std::string::npos; }));
    const auto& stock = job.sheet().stock;
    const auto left = combined({flattened(rectangle({0, 0}, {stock.width, stock.height}), 0.01)},
                               cutAway(proof, -stock.thickness), Combine::takeAway);
    REQUIRE(left);
    for (const auto& piece : pieces) {
        const Box box = boundsOf(piece.outline);
        const double wanted = std::abs(areaOf(flattened(piece.outline, 0.001)));
        bool found = false;
        for (const auto& ring : *left) {
            Box around;
            for (const Vec2 p : ring) around.take(p);
            found =
                found || (areaOf(ring) > 0 && distance(around.low, box.low) < 0.05 &&
                          distance(around.high, box.high) < 0.05 && std::abs(areaOf(ring) - wanted) < 0.01 * wanted);
        }
        CAPTURE(box.low, box.high, wanted);
        CHECK(found);
    }
    // Let go once each, and nothing is cut for a part that is gone.
    std::multiset<std::uint32_t> freed;
    for (const auto& step : proof.path.steps)
        for (const auto& cut : step.cuts) {
            if (cut.intent.role != plan::Role::outerEdges) continue;
            if (cut.end > cut.first) CHECK_FALSE(freed.contains(cut.intent.item.value));
            if (cut.intent.frees) freed.insert(cut.intent.item.value);
        }
    CHECK(freed.size() == pieces.size());
    CHECK(std::set<std::uint32_t>(freed.begin(), freed.end()).size() == pieces.size());
}
std::vector<Piece> grid(int columns, int rows, Vec2 size, double gap) {
    std::vector<Piece> out;
    for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c) {
            const Vec2 low{60 + c * (size.x + gap), 60 + r * (size.y + gap)};
            out.push_back({wound(rectangle(low, low + size), true), {}});
        }
    return out;
}
job::Job outlined(const std::vector<Piece>& pieces, bool beam) {
    auto job = beam ? fresh("laser-700", "poplar") : fresh();
    job = stepped(drawn(job, pieces), "outline", beam ? "" : "end-3");
    if (!beam) job = set(job, "hold", "none");
    return job;
}

} // namespace

TEST_CASE("shared edges: a grid of parts is cut by lines and what is left round it, by a beam and by a mill",
          "[property][safety]") {
    for (const bool beam : {true, false}) {
        const double width = beam ? job::toolOf(outlined({}, true), outlined({}, true).plan.steps[0])->diameter : 3;
        CAPTURE(beam, width);
        const auto pieces = grid(3, 3, {40, 30}, width);
        const auto twice = outlined(pieces, beam), once = set(twice, "shared", "cut once");
        partsComeOut(once, pieces);
        // Lanes that meet at crossings are one line each: two across, two up, as long as the grid.
        const auto path = proofOf(once).path;
        std::vector<double> lanes;
        for (const auto& cut : path.steps[0].cuts)
            if (cut.end > cut.first && !cut.intent.frees && cut.centre.segments.size() == 1)
                lanes.push_back(lengthOf(cut.centre));
        std::sort(lanes.begin(), lanes.end());
        REQUIRE(lanes.size() == 4);
        CHECK(lanes.front() > 3 * 30 + 2 * width - 0.02);
        CHECK(lanes.back() > 3 * 40 + 2 * width - 0.02);
        CHECK(lanes.back() < 3 * 40 + 5 * width);
        // Six lanes of 120 and 90 mm serve two sides each.
        const double passes = beam ? 1 : 5;
        CHECK(litLength(proofOf(twice)) - litLength(proofOf(once)) > 0.8 * passes * (2 * 120 + 2 * 90));
    }
}

TEST_CASE("shared edges: different lengths, slanting and turned ones, and parts that share nothing", "[property]") {
    const double width = job::toolOf(outlined({}, true), outlined({}, true).plan.steps[0])->diameter;
    // Two small parts beside a long one; a triangle on a slanting side; a circle by itself.
    std::vector<Piece> pieces{{wound(rectangle({60, 60}, {160, 90}), true), {}},
                              {wound(rectangle({60, 90 + width}, {100, 120}), true), {}},
                              {wound(rectangle({100 + width, 90 + width}, {150, 125}), true), {}},
                              {wound(circle({250, 80}, 20), true), {}}};
    partsComeOut(set(outlined(pieces, true), "shared", "cut once"), pieces);
    // Whichever comes first, and on whichever side of the long one: a line between two ends where a third begins.
    for (const double turn : {0.0, pi / 2, pi, 3 * pi / 2})
        for (const bool backwards : {false, true}) {
            std::vector<Piece> laid;
            for (const auto& piece : pieces)
                laid.push_back({transformed(piece.outline, Transform::rotated(turn, {170, 150})), {}});
            if (backwards) std::reverse(laid.begin(), laid.end());
            CAPTURE(turn, backwards);
            partsComeOut(set(outlined(laid, true), "shared", "cut once"), laid);
        }
    // All of it turned by an odd angle.
    for (const double angle : {0.3, 1.1, 2.0}) {
        std::vector<Piece> turned;
        for (const auto& piece : pieces)
            turned.push_back({transformed(piece.outline, Transform::rotated(angle, {200, 150})), {}});
        bool inside = true;
        for (const auto& piece : turned) inside = inside && Box{{5, 5}, {595, 395}}.contains(boundsOf(piece.outline));
        if (!inside) continue;
        auto job = set(outlined(turned, true), "shared", "cut once");
        CAPTURE(angle);
        const auto proof = proofOf(job);
        CHECK(proof.mayRun());
        CHECK(proof.deviation.cutInto < 0.012);
        CHECK(litLength(proof) < litLength(proofOf(set(job, "shared", "cut twice"))) - 75);
    }
}

TEST_CASE("shared edges: where it cannot be, it is told and cut twice") {
    const auto told = [](const job::Job& job, std::string_view words) {
        const auto proof = proofOf(job);
        return std::any_of(proof.findings.begin(), proof.findings.end(),
                           [&](const auto& f) { return f.what.find(words) != std::string::npos; });
    };
    const auto apart = set(outlined(grid(2, 1, {40, 30}, 5), false), "shared", "cut once");
    CHECK(told(apart, "none is cut once"));
    CHECK(litLength(proofOf(apart)) == Approx(litLength(proofOf(set(apart, "shared", "cut twice")))));
    const auto held = set(set(outlined(grid(2, 1, {40, 30}, 3), false), "hold", "tabs"), "shared", "cut once");
    CHECK(told(held, "held by nothing"));
    CHECK(proofOf(held).path.steps[0].cuts.size() == 2);
}
