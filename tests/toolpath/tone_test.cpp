// Pictures burnt in lines: the dose at every place against the picture, read from the moves alone.
#include "geometry/spatial.h"
#include "picture/picture.h"
#include "support/toolpaths.h"

using namespace ferro;
using namespace ferro::test;
using toolpath::Move;

namespace {

/// Light over a picture of 240 × 160 px: a slope with two moons, 0 black to 1 white. x, y from 0 to 1, y up.
double light(double x, double y) {
    double v = 0.15 + 0.7 * x;
    if (std::hypot(x - 0.3, (y - 0.5) * 0.67) < 0.12) v = 0.05;
    if (std::hypot(x - 0.75, (y - 0.4) * 0.67) < 0.1) v = 1;
    return v;
}

picture::Picture slope(const std::function<double(double, double)>& of = light) {
    picture::Picture picture;
    picture.width = 240, picture.height = 160, picture.channels = 1;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>();
    for (int y = 0; y < 160; ++y)
        for (int x = 0; x < 240; ++x)
            pixels->push_back(static_cast<std::uint8_t>(std::lround(255 * of((x + 0.5) / 240, 1 - (y + 0.5) / 160))));
    picture.pixels = pixels;
    return picture;
}

job::Job pictured(const picture::Picture& picture, Vec2 size = {60, 40}, Vec2 at = {30, 30}) {
    auto job = fresh("laser-700", "poplar");
    artwork::PictureLeaf leaf{"moon.png", std::make_shared<const std::string>(picture::toPng(picture, 4)), picture,
                              size};
    return job::withArtwork(job, artwork::withPicture(*job.artwork, std::move(leaf), at).artwork);
}

struct Stretch {
    Vec2 from, to;
    double power;
};
struct Reading {
    std::vector<Stretch> burnt;
    std::unique_ptr<SpatialIndex> index;
    double leastRunUp = 1e9;
    std::size_t scans = 0;

    /// The power with which a place is burnt, by the line that comes nearest.
    [[nodiscard]] double at(Vec2 p, double spacing) const {
        double power = 0, nearest = spacing * 0.5 + 1e-6;
        for (const auto i : index->meeting(Box{p, p}.grown(spacing))) {
            const Vec2 way = burnt[i].to - burnt[i].from, off = p - burnt[i].from;
            const double along = dot(off, way) / length(way), aside = std::abs(cross(way, off)) / length(way);
            if (along < 0 || along > length(way) || aside > nearest) continue;
            nearest = aside;
            power = burnt[i].power;
        }
        return power;
    }
    /// Burnt way times power in a square, against the same all burnt at 1.
    [[nodiscard]] double mean(Vec2 p, double half, double spacing) const {
        double sum = 0;
        int count = 0;
        for (double x = -half + spacing / 4; x < half; x += spacing / 2)
            for (double y = -half + spacing / 4; y < half; y += spacing / 2)
                sum += at(p + Vec2{x, y}, spacing), ++count;
        return sum / count;
    }
};

Reading readingOf(const toolpath::Toolpath& path) {
    Reading out;
    std::vector<Box> boxes;
    toolpath::forEachMove(path, [&](const toolpath::StepMoves& step, std::size_t, toolpath::Vec3 at, const Move& move) {
        const Vec2 from = at.flat(), to = move.to.flat();
        if (move.kind != Move::Kind::scan) {
            CHECK(move.power == 0);
            return;
        }
        ++out.scans;
        double t = 0, first = -1, last = 0;
        for (std::uint32_t i = 0; i < move.runs.count; ++i) {
            const auto& run = step.runs[move.runs.first + i];
            const auto end = static_cast<double>(run.end);
            if (run.power > 0) {
                out.burnt.push_back({lerp(from, to, t), lerp(from, to, end), double(run.power)});
                boxes.push_back(Box{out.burnt.back().from, out.burnt.back().from});
                boxes.back().take(out.burnt.back().to);
                if (first < 0) first = t;
                last = end;
            }
            CHECK(double(run.power) <= double(move.power) + 1e-9);
            t = end;
        }
        CHECK(first >= 0);
        const double whole = distance(from, to);
        out.leastRunUp = std::min({out.leastRunUp, first * whole, (1 - last) * whole});
    });
    out.index = std::make_unique<SpatialIndex>(boxes);
    return out;
}

} // namespace

TEST_CASE("tone: by power every place is as dark as the picture, however it lies and the lines run", "[property]") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        std::mt19937 random(seed);
        auto job = pictured(slope());
        const double turn = seed % 3 ? 0.4 * seed : 0, scale = seed % 2 ? 1 : 0.7;
        const auto id = job.artwork->items[0].id;
        const Transform by =
            Transform::rotated(turn, {60, 50}) * Transform::scaled(seed == 4 ? -scale : scale, scale, {60, 50});
        job = with(job, job::withArtwork(job, artwork::withTransformed(*job.artwork, {id}, by)));
        job = set(set(set(stepped(job, "tone"), "power", "60"), "least", "10"), "white", "3");
        const double spacing = seed % 2 ? 0.25 : 0.4;
        job = set(set(job, "spacing", fmt::format("{}", spacing)), "angle", seed % 2 ? "0" : "35");
        job = set(job, "ways", seed % 2 ? "both ways" : "one way");
        const auto reading = readingOf(planned(job));
        const auto onto = artwork::find(*job.artwork, id)->place;
        int judged = 0;
        for (int i = 0; i < 1500; ++i) {
            const double u = std::uniform_real_distribution<>(-0.1, 1.1)(random),
                         v = std::uniform_real_distribution<>(-0.1, 1.1)(random);
            const double margin = 0.03; // of edges, where a cell has something of both sides
            bool near = std::abs(std::hypot(u - 0.3, (v - 0.5) * 0.67) - 0.12) < margin ||
                        std::abs(std::hypot(u - 0.75, (v - 0.4) * 0.67) - 0.1) < margin;
            for (const double e : {u, v, 1 - u, 1 - v}) near = near || std::abs(e) < margin;
            if (near) continue;
            ++judged;
            const bool inside = u > 0 && v > 0 && u < 1 && v < 1;
            const double dark = inside ? 1 - light(u, v) : 0;
            const double wanted = dark <= 0.03 ? 0 : 0.1 + 0.5 * dark;
            INFO("seed " << seed << " at " << u << ", " << v);
            CHECK(reading.at(onto({u * 60, v * 40}), spacing) == Approx(wanted).margin(0.02));
        }
        CHECK(judged > 700);
        CHECK(reading.leastRunUp > 0.02); // the beam is at its speed where it burns
    }
}

TEST_CASE("tone: dots of any kind are as many as the picture is dark, at one power", "[property]") {
    for (const char* by : {"dots", "ordered", "screen"}) {
        auto job =
            set(set(set(stepped(pictured(slope([](double x, double) { return x; })), "tone"), "by", by), "power", "50"),
                "spacing", "0.1");
        job = set(set(job, "white", "0"), "cell", "0.9");
        const auto reading = readingOf(planned(job));
        for (const auto& stretch : reading.burnt) REQUIRE(stretch.power == Approx(0.5).margin(1e-4));
        for (double x = 36; x < 85; x += 6) {
            const double dark = 1 - (x - 30) / 60;
            CAPTURE(by, x);
            CHECK(reading.mean({x, 50}, 2.7, 0.1) / 0.5 == Approx(dark).margin(0.045));
        }
    }
    // Middle greys lighter, and the other way round.
    const auto grey = pictured(slope([](double, double) { return 0.5; }));
    const auto usual = set(set(stepped(grey, "tone"), "power", "100"), "spacing", "0.3");
    const auto dose = [&](const job::Job& job) { return readingOf(planned(job)).at({60, 50}, 0.3); };
    CHECK(dose(usual) == Approx(0.5).margin(0.01));
    CHECK(dose(set(usual, "gamma", "2")) == Approx(0.25).margin(0.01));
    CHECK(dose(set(set(usual, "inverted", "negative"), "gamma", "2")) == Approx(0.25).margin(0.01));
}

TEST_CASE("tone: which pictures are taken, and what is said of those that cannot be") {
    auto job = stepped(pictured(slope()), "tone");
    CHECK(planned(job).steps.size() == 1);
    CHECK(plan::picturesOf(job.plan.steps[0], *set(job, "layers", "no such").artwork).size() == 1);
    CHECK(planned(set(job, "layers", "no such")).steps.empty());
    CHECK(planned(set(job, "above", "80mm")).steps.empty());
    auto under = *job.artwork;
    under.items[0].underlay = true; // it was traced: its pieces are cut, not the picture
    CHECK(planned(job::withArtwork(job, under)).steps.empty());
    const auto said = [&](const job::Job& j) {
        const auto path = planned(j);
        REQUIRE_FALSE(path.snags.empty());
        return path.snags[0];
    };
    CHECK(said(stepped(pictured(slope([](double, double) { return 1; })), "tone")).what.find("white") !=
          std::string::npos);
    CHECK(said(stepped(pictured(slope(), {60, 40}, {-5, 10}), "tone")).verdict == Verdict::noGo);
    CHECK(said(set(stepped(pictured(slope(), {50, 30}, {10, 10}), "tone"), "spacing", "0.02")).what.find("pixel") !=
          std::string::npos);
    CHECK(said(set(set(job, "power", "20"), "least", "30")).what.find("faintest") != std::string::npos);
    // A piece of the picture's layer is no business of it, and it none of the piece's.
    job = drawn(job, {{rectangle({120, 30}, {150, 60}), {}}});
    job = stepped(job, "outline");
    const auto both = planned(job);
    REQUIRE(both.steps.size() == 2);
    CHECK(both.steps[0].name == "Pictures"); // before anything is cut loose
    CHECK(both.steps[1].cuts.size() == 1);
}
