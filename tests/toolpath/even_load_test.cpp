// Even load, judged on a grid of cells that a disc takes away on its way: how much of its rim it has in them.
#include "support/toolpaths.h"

#include <deque>

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// Stock of one depth as cells.
class Cells {
public:
    Cells(Box box, double cell)
        : low_(box.low), cell_(cell), width_(static_cast<int>(box.width() / cell) + 1),
          height_(static_cast<int>(box.height() / cell) + 1), stands_(static_cast<std::size_t>(width_ * height_), 1) {}
    [[nodiscard]] bool stands(Vec2 p) const {
        const int x = static_cast<int>(std::floor((p.x - low_.x) / cell_)),
                  y = static_cast<int>(std::floor((p.y - low_.y) / cell_));
        return x >= 0 && y >= 0 && x < width_ && y < height_ && stands_[static_cast<std::size_t>(y * width_ + x)];
    }
    void take(Vec2 p, double radius) {
        const int from = std::max(0, static_cast<int>((p.y - radius - low_.y) / cell_)),
                  to = std::min(height_ - 1, static_cast<int>((p.y + radius - low_.y) / cell_));
        for (int y = from; y <= to; ++y) {
            const double up = low_.y + (y + 0.5) * cell_ - p.y, half2 = radius * radius - up * up;
            if (half2 < 0) continue;
            const double half = std::sqrt(half2);
            const int left = std::max(0, static_cast<int>(std::ceil((p.x - half - low_.x) / cell_ - 0.5))),
                      right = std::min(width_ - 1, static_cast<int>(std::floor((p.x + half - low_.x) / cell_ - 0.5)));
            if (left <= right)
                std::fill(stands_.begin() + y * width_ + left, stands_.begin() + y * width_ + right + 1, 0);
        }
    }

private:
    Vec2 low_;
    double cell_;
    int width_, height_;
    std::vector<char> stands_;
};

struct Borne {
    double most = 0; ///< degrees of the rim that were in stock, at full feed and full depth
    Vec2 where;
    double mostBack = 0;         ///< the same where it is faster: on its way back
    double way = 0, slotted = 0; ///< mm
};
/// All at one depth: the way down is not judged, nor what is announced as a slot by half the feed. What the tool
/// took on the last stretch before a place counts as standing there, or its own way would hide the contact at its side.
Borne borne(const job::Job& job, const toolpath::Toolpath& path, Box box, double depth) {
    constexpr double cell = 0.03, step = 0.1, seen = 83;
    constexpr std::size_t behind = 4; // steps
    std::deque<Vec2> recent;
    Cells cells(box.grown(1), cell);
    const double feed = numberOf(job.plan.steps[0], "feed"), radius = path.steps[0].tool.radius();
    Borne out;
    toolpath::forEachMove(path, [&](const auto&, std::size_t, toolpath::Vec3 from, const Move& move) {
        if (move.kind == Move::Kind::rapid || std::min(from.z, move.to.z) > -1e-6) return;
        const bool judged = std::abs(from.z + depth) + std::abs(move.to.z + depth) < 1e-6 && move.feed > feed - 1;
        const bool back = move.feed > feed + 1;
        Vec2 at = from.flat();
        flattenSegment(at, move.flat(), 0.001, [&](Vec2 to) {
            const double way = distance(at, to);
            const int parts = std::max(1, static_cast<int>(std::ceil(way / step)));
            (move.feed > feed - 1 ? out.way : out.slotted) += way;
            for (int k = 0; k < parts; ++k) {
                const Vec2 p = lerp(at, to, static_cast<double>(k) / parts), ahead = unit(to - at);
                if (judged) {
                    int in = 0;
                    for (int degrees = -90; degrees <= 90; ++degrees) {
                        const double a = std::clamp<double>(degrees, -seen, seen) * pi / 180;
                        const Vec2 rim = ahead * std::cos(a) + perpendicular(ahead) * std::sin(a);
                        in += cells.stands(p + rim * (radius - 1.5 * cell)); // what is thinner is the grid's own
                    }
                    if (back) out.mostBack = std::max<double>(out.mostBack, in);
                    if (!back && in > out.most) out.most = in, out.where = p;
                }
                recent.push_back(p);
                for (; recent.size() > behind; recent.pop_front()) cells.take(recent.front(), radius);
            }
            at = to;
        });
    });
    return out;
}

} // namespace

TEST_CASE("even load: never more of the rim in stock than was asked, whatever the shape", "[property]") {
    for (unsigned seed = 0; seed < 8; ++seed) {
        std::vector<Piece> pieces;
        Piece piece;
        switch (seed % 6) {
        case 0: piece.outline = curvedBlob(seed, {80, 80}, 17); break;
        case 1: piece.outline = pathOf(blob(seed, {80, 80}, 17, 12, 0.4), true); break;
        case 2: piece.outline = pathOf(ring("60,60 100,64 95,70 80,68 81,87 73,85 75,68 62,69"), true); break;
        case 3: piece.outline = circle({80, 80}, 14); break;
        case 5:
            piece.outline = pathOf(ring("60,60 100,60 100,66 70,68 100,70 100,90 80,71 60,90"), true);
            break; // needles
        default: piece.outline = rectangle({60, 66}, {95, 90}, 0);
        }
        piece.outline = wound(piece.outline, true);
        if (seed % 2 && seed % 6 < 2) piece.openings.push_back(wound(circle({78, 80}, 3), false));
        if (seed % 6 == 4) piece.openings.push_back(wound(rectangle({84, 72}, {87, 82}), false));
        pieces.push_back(piece);
        const char* asked = seed % 3 == 0 ? "40" : seed % 3 == 1 ? "60" : "90";
        auto job = set(stepped(drawn(fresh(), pieces, "floor"), "clear", seed % 4 == 3 ? "end-6" : "end-3"), "by",
                       "even load");
        job = set(set(set(job, "engagement", asked), "depth", "1"), "depthPerPass", "1");
        job = set(job, "direction", seed % 2 ? "conventional" : "climb");
        const auto path = planned(job);
        const auto b = borne(job, path, boundsOf(piece.outline), 1);
        CAPTURE(seed, asked, b.where, b.way, b.slotted);
        CHECK(b.most <= std::atof(asked) + 5);
        CHECK(b.mostBack == 0);
        CHECK(b.most > std::atof(asked) / 2); // it works as hard as it may
    }
}

TEST_CASE("even load: where the tool hardly fits it cuts a slot at half the feed, and says how long it is") {
    // Two rooms with a passage between them that is 0.1 mm wider than the tool, 30 mm long.
    const std::vector<Piece> rooms{
        {wound(pathOf(ring("40,40 60,40 60,50 90,50 90,40 110,40 110,70 90,70 90,53.1 60,53.1 60,70 40,70"), true),
               true),
         {}}};
    auto job = set(stepped(drawn(fresh(), rooms, "floor"), "clear", "end-3"), "by", "even load");
    job = set(set(job, "depth", "1"), "depthPerPass", "1");
    const auto path = planned(job);
    REQUIRE(path.snags.size() == 1);
    CHECK(path.snags[0].verdict == Verdict::look);
    CHECK(path.snags[0].what.find("cuts a slot") != std::string::npos);
    const auto b = borne(job, path, boundsOf(rooms[0].outline), 1);
    CAPTURE(b.where);
    CHECK(b.most <= 65);
    CHECK(b.slotted > 27);
    CHECK(b.slotted < 60);
    // What is left after a wider tool is told to be cleared in rings.
    const auto rest = planned(set(set(stepped(job, "clear", "end-3"), "by", "even load"), "what", "what is left"));
    CHECK(std::any_of(rest.snags.begin(), rest.snags.end(),
                      [](const auto& snag) { return snag.what.find("in rings") != std::string::npos; }));
}
