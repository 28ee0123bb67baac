// Measures against the raw library or the physical limit in the same run and prints ratios. Nothing is asserted:
// numbers depend on the machine, ratios hardly do. ./dev bench [word of a name]
#include "bench.h"
#include "geometry/flatten.h"
#include "geometry/polygons.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "picture/clean.h"
#include "program/writer.h"
#include "proof/proof.h"
#include "proof/round.h"
#include "shop/own.h"
#include "trace/trace.h"

#include <clipper.hpp>
#include <cstdlib>
#include <cstring>
#include <fmt/format.h>
#include <potracelib.h>
#include <random>

using namespace ferro;

namespace {

/// An inked page of puppets: blobs with openings, soft edges.
picture::Grey page(int side) {
    picture::Grey grey{side, side,
                       std::vector<std::uint8_t>(static_cast<std::size_t>(side) * static_cast<std::size_t>(side), 235)};
    std::mt19937 random(1);
    for (int n = 0; n < 400; ++n) {
        const int cx = static_cast<int>(random() % static_cast<unsigned>(side)),
                  cy = static_cast<int>(random() % static_cast<unsigned>(side)),
                  r = 20 + static_cast<int>(random() % 90);
        const double wave = 3 + static_cast<double>(random() % 7),
                     depth = 0.1 + 0.02 * static_cast<double>(random() % 10);
        for (int y = std::max(0, cy - 2 * r); y < std::min(side, cy + 2 * r); ++y)
            for (int x = std::max(0, cx - 2 * r); x < std::min(side, cx + 2 * r); ++x) {
                const double d = std::hypot(x - cx, y - cy), a = std::atan2(y - cy, x - cx),
                             edge = r * (1 + depth * std::sin(wave * a)) - d;
                const double ink = std::clamp(edge + 0.5, 0.0, 1.0) * std::clamp(d - r / 3.0 + 0.5, 0.0, 1.0);
                auto& v = grey.values[static_cast<std::size_t>(y) * static_cast<std::size_t>(side) +
                                      static_cast<std::size_t>(x)];
                v = static_cast<std::uint8_t>(std::min<double>(v, 235 - 190 * ink));
            }
    }
    return grey;
}

/// The library alone on ready bits: no picture, no report, no pieces.
class Potrace {
public:
    Potrace(const picture::Grey& grey, int level, int specks) {
        constexpr int bits = sizeof(potrace_word) * 8;
        const int w = grey.width, h = grey.height, words = (w + bits - 1) / bits;
        map_.resize(static_cast<std::size_t>(words) * static_cast<std::size_t>(h), 0);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                if (grey.at(x, h - 1 - y) < level)
                    map_[static_cast<std::size_t>(y * words + x / bits)] |= potrace_word{1} << (bits - 1 - x % bits);
        bitmap_ = {w, h, words, map_.data()};
        how_->turdsize = specks;
        how_->alphamax = 4.0 / 3 * (1 - 110.0 / 180) * 1.9;
        how_->opttolerance = 0.5;
    }
    void operator()() const { potrace_state_free(potrace_trace(how_.get(), &bitmap_)); }

private:
    std::vector<potrace_word> map_;
    potrace_bitmap_t bitmap_{};
    std::unique_ptr<potrace_param_t, void (*)(potrace_param_t*)> how_{potrace_param_default(), potrace_param_free};
};

void benchTrace() {
    const auto grey = page(4000);
    Progress progress;
    const trace::Settings settings{.level = 140, .speck = 0.05};
    const auto [ours, theirs] =
        alternated([&] { (void)trace::traced(grey, 10, settings, progress).has_value(); }, Potrace(grey, 140, 5));
    row("trace 4000 × 4000", ours, theirs, "libpotrace alone", 1.15);
}

/// A sheet of 20 000 seat tokens photographed in uneven light: cleaned up with every step that costs time, and traced.
void benchClean() {
    constexpr int side = 6000;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(static_cast<std::size_t>(side) * side);
    picture::Grey ready{side, side, std::vector<std::uint8_t>(pixels->size(), 255)};
    std::mt19937 random(3);
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            const int column = x / 42, line = y / 42;
            const double dx = x % 42 - 21, dy = y % 42 - 21, d = std::sqrt(dx * dx + dy * dy);
            const double r = 14 + (column * 7 + line * 3) % 4 + ((column + line) % 3) * std::abs(dx) / 12;
            const double ink = column < 142 && line < 141 ? std::clamp(r - d + 0.5, 0.0, 1.0) : 0;
            const double light = 235 - 60.0 * x / side - (y > side / 2 ? 40 : 0);
            const auto at = static_cast<std::size_t>(y) * side + static_cast<std::size_t>(x);
            (*pixels)[at] = static_cast<std::uint8_t>(light * (1 - 0.85 * ink) + static_cast<double>(random() % 5));
            ready.values[at] = static_cast<std::uint8_t>(255 * (1 - ink));
        }
    picture::Picture photo;
    photo.width = photo.height = side, photo.channels = 1, photo.pixels = pixels;
    constexpr double pxPerMm = 20;
    std::vector<picture::CleanStep> steps;
    for (const auto kind : {picture::CleanStep::Kind::evenLight, picture::CleanStep::Kind::tone,
                            picture::CleanStep::Kind::despeckle, picture::CleanStep::Kind::smooth})
        steps.push_back(picture::freshStep(kind));
    steps[1].amount = 10, steps[1].second = 20;
    Progress progress;
    (void)picture::cleaned(photo, {}, pxPerMm, progress).has_value(); // the module is in place
    std::vector<double> cleaning, tracing;
    std::size_t pieces = 0;
    const auto ours = [&] {
        Result<picture::Cleaned> clean = Problem{};
        cleaning.push_back(seconds([&] { clean = picture::cleaned(photo, steps, pxPerMm, progress); }, 1));
        if (!clean) return fmt::print("clean-up: {}\n", clean.problem().text());
        tracing.push_back(seconds(
            [&] {
                const auto traced = trace::traced(clean->picture, pxPerMm, {.speck = 0.05}, progress);
                pieces = traced ? traced->pieces.size() : 0;
            },
            1));
    };
    const auto [both, theirs] = alternated(ours, Potrace(ready, 128, 5));
    row(fmt::format("clean and trace 6000 × 6000, {}", pieces).c_str(), both, theirs, "libpotrace alone", 1.0);
    fmt::print("{:34} {:9.2f} ms clean-up, {:.2f} ms trace\n", "  of that", median(cleaning) * 1e3,
               median(tracing) * 1e3);
    // What is seen first of a photo of 24 megapixels: all steps on a copy as fine as the bench shows it.
    picture::Picture big;
    big.width = 6000, big.height = 4000, big.channels = 3;
    big.pixels = std::make_shared<std::vector<std::uint8_t>>(std::size_t{6000} * 4000 * 3, std::uint8_t{200});
    const double look = seconds([&] {
        const auto copy = picture::reduced(big, pxPerMm, 600'000);
        if (copy) (void)picture::cleaned(copy->picture, steps, copy->pxPerMm, progress).has_value();
    });
    fmt::print("{:34} {:9.2f} ms  wanted ≤ 150 ms  {}\n", "first look at 24 megapixels", look * 1e3,
               look <= 0.15 ? "yes" : "NO");
}

Ring bigOutline(std::size_t count) {
    std::mt19937 random(2);
    std::uniform_real_distribution<> part(-0.002, 0.002);
    Ring ring;
    for (std::size_t i = 0; i < count; ++i) {
        const double a = 2 * pi * static_cast<double>(i) / static_cast<double>(count);
        const double r = 300 * (1 + 0.08 * std::sin(9 * a) + 0.03 * std::sin(41 * a)) + part(random);
        ring.push_back({r * std::cos(a), r * std::sin(a)});
    }
    return ring;
}

void benchOffset() {
    const Rings outline{bigOutline(100'000)};
    const Ring thin = thinned(outline[0], 0.01, true);
    ClipperLib::Path raw;
    for (const Vec2 p : thin) raw.emplace_back(std::llround(p.x * 1e5), std::llround(p.y * 1e5));
    const auto library = [&] {
        ClipperLib::ClipperOffset worker(2, 1000);
        worker.AddPath(raw, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
        ClipperLib::Paths out;
        worker.Execute(out, 3e5);
    };
    const OffsetOptions options{.tolerance = 0.04}; // thins at 0.01 mm, like the yardstick
    const auto plain = alternated([&] { (void)offset(outline, 3, options).has_value(); }, library),
               arcs = alternated([&] { (void)offsetPaths(outline, 3, options).has_value(); }, library);
    row("offset 100 000 points, thinned", plain.ours, plain.theirs, "libpolyclipping, thinned", 1.5);
    row("offset with arcs put back", arcs.ours, arcs.theirs, "libpolyclipping, thinned", 2.0);
}

toolpath::Toolpath manyMoves(std::size_t count) {
    toolpath::Toolpath path;
    path.start = {0, 0, 5};
    path.steps.push_back(
        {.step = {}, .name = "bench", .tool = {}, .note = {}, .moves = {}, .runs = {}, .waits = {}, .cuts = {}});
    auto& moves = path.steps[0].moves;
    for (std::size_t i = 0; i < count; ++i) {
        const double a = 0.0005 * static_cast<double>(i);
        moves.push_back({toolpath::Move::Kind::line,
                         true,
                         {200 + (40 + a) * std::cos(a), 200 + (40 + a) * std::sin(a), -3},
                         {},
                         1500,
                         0});
    }
    return path;
}

void benchRemoval() {
    const auto path = manyMoves(300'000);
    auto grid = proof::HeightGrid::over({{0, 0}, {400, 400}}, 0.1);
    Progress progress;
    std::size_t cells = 0;
    // From the moves to the surface, the making of strokes included.
    volatile float level = -1;
    const auto lowered = [&] {
        const float z = level;
        for (float& h : grid.heights) h = std::min(h, z);
    };
    const auto [ours, plain] =
        alternated([&] { cells = *proof::sweep(grid, proof::strokesOf(path, 12, 0.01), progress); }, lowered);
    const double rate = static_cast<double>(cells) / ours, limit = static_cast<double>(grid.heights.size()) / plain;
    fmt::print("{:34} {:9.0f} M cells/s  {:24} {:9.0f} M cells/s  ratio {:5.2f}  wanted ≥ 0.3  {}\n",
               "removal, 300 000 moves", rate / 1e6, "plain sweep", limit / 1e6, rate / limit,
               rate / limit >= 0.3 ? "yes" : "NO");
    auto broad = path;
    broad.steps[0].moves.clear();
    for (int i = 0; i < 130; ++i)
        broad.steps[0].moves.push_back(
            {toolpath::Move::Kind::line, true, {i % 2 ? 390.0 : 10.0, 10 + i * 2.9, -3}, {}, 1500, 0});
    const auto wide = proof::strokesOf(broad, 12, 0.01);
    const double broadTime = seconds([&] { cells = *proof::sweep(grid, wide, progress); });
    const double broadRate = static_cast<double>(cells) / broadTime;
    fmt::print("{:34} {:9.0f} M cells/s  {:24} {:9.0f} M cells/s  ratio {:5.2f}  wanted ≥ 0.3  {}\n",
               "removal, long moves", broadRate / 1e6, "plain sweep", limit / 1e6, broadRate / limit,
               broadRate / limit >= 0.3 ? "yes" : "NO");
}

/// The piece in the round at 1280 × 800: while it turns, 30 pictures a second at a reduced sampling; sharp, within a
/// quarter of a second.
void benchRound() {
    const auto path = manyMoves(300'000);
    auto grid = proof::HeightGrid::sized({{0, 0}, {400, 400}}, 1'500'000);
    Progress progress;
    (void)proof::sweep(grid, proof::strokesOf(path, 12, 0.01), progress);
    const auto solid = *proof::solidOf(std::move(grid), 12, progress);
    proof::RoundView view{.turn = 0.4, .tilt = 0.7, .centre = {}, .width = 1280, .height = 800};
    view = view.fitted(solid.grid.area, 12, 20);
    const auto drawn = [&](bool fine) {
        (void)proof::rounded(solid, {.ply = 1.4}, fine ? view : view.reduced(480'000), {}, fine);
    };
    row("round, turning", seconds([&] { drawn(false); }), 1.0 / 30, "a thirtieth of a second", 1);
    view.scale *= 12, view.centre = {200, 200};
    row("round, turning, near", seconds([&] { drawn(false); }), 1.0 / 30, "a thirtieth of a second", 1);
    row("round, sharp", seconds([&] { drawn(true); }), 0.25, "a quarter of a second", 1);
}

void benchText() {
    const auto path = manyMoves(500'000);
    program::Dialect dialect;
    dialect.header = {"G21"};
    const auto [ours, theirs] =
        alternated([&] { (void)program::written(path, dialect, {}, "bench").lines; },
                   [&] {
                       fmt::memory_buffer out;
                       for (const auto& m : path.steps[0].moves)
                           fmt::format_to(std::back_inserter(out), "X{:.3f} Y{:.3f}\n", m.to.x, m.to.y);
                   });
    row("G-code of 500 000 moves", ours, theirs, "fmt on the same numbers", 1.3);
}

void benchJob() {
    auto book = shop::openBook(realDisk());
    auto job = *job::freshJob(*book);
    std::vector<Piece> pieces;
    for (int i = 0; i < 5000; ++i) pieces.push_back({circle({i % 100 * 5.0, i / 100 * 5.0}, 2), {}});
    job = job::withArtwork(job, artwork::withPieces(*job.artwork, pieces, "cut", "token").artwork);
    std::string bytes;
    const double ours = seconds([&] {
        bytes = *job::toBytes(job);
        (void)job::fromBytes(bytes).has_value();
    });
    std::string copy(bytes.size(), 0);
    const double theirs = seconds([&] { std::memcpy(copy.data(), bytes.data(), bytes.size()); });
    fmt::print("{:34} {:9.2f} ms  {:28} {:9.4f} ms  {:.1f} MB/s of job file\n", "job of 5000 pieces, save + load",
               ours * 1e3, "copying the bytes", theirs * 1e3, static_cast<double>(bytes.size()) / ours / 1e6);
}

void benchStart() {
    const auto run = [](const char* command) {
        return [command] {
            if (std::system(command) != 0) fmt::print("could not run {}\n", command);
        };
    };
    const auto [ours, theirs] = alternated(run(FERRO_BIN "/ferrograph --start-up-only 2>/dev/null"),
                                           run(FERRO_BIN "/ferro_empty_window 2>/dev/null"));
    row("start-up of the window", ours, theirs, "empty Qt window", 2.0);
}

} // namespace

int main(int argc, char** argv) {
    const std::pair<const char*, void (*)()> all[] = {
        {"trace", benchTrace},     {"clean", benchClean}, {"offset", benchOffset},
        {"removal", benchRemoval}, {"round", benchRound}, {"text", benchText},
        {"job", benchJob},         {"start", benchStart}, {"cuts", benchCuts}};
    for (const auto& [name, run] : all)
        if (argc < 2 || std::string_view(name).find(argv[1]) != std::string_view::npos) run();
    if (argc > 1 && std::string_view(argv[1]) == "nest") benchNest(argc > 2 ? std::strtod(argv[2], nullptr) : 60);
}
