// Planning of cuts: clearing against the library's offsets alone, grooves against its Voronoi diagram alone.
#include "base/kept.h"
#include "bench.h"
#include "geometry/area_axis.h"
#include "geometry/flatten.h"
#include "job/edits.h"
#include "program/for_job.h"
#include "proof/proof.h"
#include "shop/own.h"
#include "toolpath/toolpath.h"

#include <boost/polygon/segment_data.hpp>
#include <boost/polygon/voronoi.hpp>
#include <clipper.hpp>
#include <random>

using namespace ferro;

namespace {

job::Job jobWith(std::vector<Piece> pieces, std::string_view kind, std::string_view tool,
                 std::initializer_list<std::pair<const char*, const char*>> settings) {
    auto job = *job::freshJob(*shop::openBook(realDisk()), "mill-1200", "birch-ply");
    job = job::withArtwork(job, artwork::withPieces(*job.artwork, std::move(pieces), "cut", "piece").artwork);
    job = *job::withStepAdded(job, kind, tool);
    for (const auto& [name, value] : settings) job = *job::withStepSetting(job, job.plan.steps.back().id, name, value);
    return job;
}
std::size_t movesOf(const job::Job& job) {
    Progress progress;
    const auto path = toolpath::toolpathOf(job, progress);
    return path ? path->count() : 0;
}

/// A board of 500 × 400 mm with 200 round posts.
Piece boardWithPosts() {
    Piece piece{wound(rectangle({20, 20}, {520, 420}), true), {}};
    std::mt19937 random(3);
    for (int i = 0; i < 200; ++i)
        piece.openings.push_back(
            wound(circle({45.0 + 25 * (i % 19) + static_cast<double>(random() % 5), 45.0 + 33 * (i / 19)},
                         3 + static_cast<double>(random() % 40) / 10),
                  false));
    return piece;
}

void clearing() {
    const Piece piece = boardWithPosts();
    const auto job = jobWith({piece}, "clear", "end-3", {{"overlap", "40"}, {"depth", "1"}});
    using namespace ClipperLib;
    Paths rings;
    const auto add = [&](const ferro::Path& path) {
        ClipperLib::Path ring;
        for (const Vec2 p : flattened(path, 0.002)) ring.emplace_back(std::llround(p.x * 1e5), std::llround(p.y * 1e5));
        rings.push_back(ring);
    };
    add(piece.outline);
    for (const auto& opening : piece.openings) add(opening);
    std::size_t count = 0;
    const auto library = [&] {
        for (double by = 1.5;; by += 1.8) {
            ClipperOffset offset(2, 0.002 * 1e5);
            offset.AddPaths(rings, jtRound, etClosedPolygon);
            Paths out;
            offset.Execute(out, -by * 1e5);
            count += out.size();
            if (out.empty()) return;
        }
    };
    const auto time = alternated([&] { count += movesOf(job); }, library, 5);
    row("clear, 200 islands, planned whole", time.ours, time.theirs, "libpolyclipping, its rings", 2.0);
    const auto even = jobWith({piece}, "clear", "end-3", {{"by", "even load"}, {"depth", "1"}});
    const auto evenTime = alternated([&] { count += movesOf(even); }, library, 5);
    row("clear, 200 islands, with an even load", evenTime.ours, evenTime.theirs, "libpolyclipping, its rings", 6.0);
}

void grooves() {
    std::vector<Piece> letters;
    std::size_t count = 0;
    std::mt19937 random(5);
    for (int n = 0; n < 200; ++n) {
        Ring ring;
        const Vec2 middle{40.0 + 50 * (n % 20), 40.0 + 50 * (n / 20)};
        const double waves = 3 + static_cast<double>(random() % 5);
        for (int i = 0; i < 250; ++i) {
            const double a = 2 * pi * i / 250,
                         r = 5 + 3 * std::sin(waves * a) + static_cast<double>(random() % 100) / 1000;
            ring.push_back(middle + Vec2{std::cos(a), std::sin(a)} * r);
        }
        count += ring.size();
        letters.push_back({wound(pathOf(ring, true), true), {}});
    }
    std::vector<Path> area;
    for (const auto& letter : letters) area.push_back(letter.outline);
    const auto edges = *areaEdges(area, 0.001);
    std::vector<boost::polygon::segment_data<std::int32_t>> sites;
    for (std::size_t i = 0; i < edges.corners.size(); ++i) {
        const auto a = edges.corners[i], b = edges.corners[edges.next[i]];
        sites.emplace_back(boost::polygon::point_data<std::int32_t>(a.x, a.y),
                           boost::polygon::point_data<std::int32_t>(b.x, b.y));
    }
    std::size_t seen = 0;
    const auto library = [&] {
        boost::polygon::voronoi_diagram<double> diagram;
        boost::polygon::construct_voronoi(sites.begin(), sites.end(), &diagram);
        seen += diagram.edges().size();
    };
    const auto axis = alternated([&] { seen += areaAxis(area, 0.001)->edges.size(); }, library, 5);
    row("axis of an area, 50 000 segments", axis.ours, axis.theirs, "its Voronoi diagram alone", 2.0);
    const auto job = jobWith(letters, "groove", "v-60", {{"depth", "10.5"}});
    const auto time = alternated([&] { seen += movesOf(job); }, library, 5);
    row("groove, 50 000 segments, planned", time.ours, time.theirs, "its Voronoi diagram alone", 2.0);
}

/// A picture of 300 × 200 mm in lines 0.1 mm apart: planned, proofed, written and read back, against formatting as many
/// places and powers.
void tones() {
    picture::Picture picture;
    picture.width = 3000, picture.height = 2000, picture.channels = 1;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(picture.count());
    for (std::size_t i = 0; i < pixels->size(); ++i)
        (*pixels)[i] = static_cast<std::uint8_t>(120 + 90 * std::sin(static_cast<double>(i % 3000) * 0.01) +
                                                 static_cast<double>(i * 7919 % 40));
    picture.pixels = pixels;
    auto job = *job::freshJob(*shop::openBook(realDisk()), "laser-700", "poplar");
    artwork::PictureLeaf leaf{"moon.png", std::make_shared<const std::string>(), picture, {300, 200}};
    job = job::withArtwork(job, artwork::withPicture(*job.artwork, std::move(leaf), {20, 20}).artwork);
    job = *job::withStepAdded(job, "tone", "");
    job = *job::withStepSetting(job, job.plan.steps.back().id, "spacing", "0.1mm");
    std::size_t bytes = 0;
    const auto dialect = *program::dialectOf(realDisk(), job);
    const auto whole = [&] {
        Progress progress;
        const auto proof = proof::proofOf(job, progress);
        bytes += program::programFor(job, proof->path, dialect, program::Clearance::passed)->text.size();
    };
    const auto formatted = [&] {
        std::string text;
        for (int y = 0; y < 2000; ++y)
            for (int x = 0; x < 3000; ++x)
                fmt::format_to(std::back_inserter(text), "X{:.3f} S{}\n", 20 + 0.1 * x, (x * y) % 1000);
        bytes += text.size();
    };
    const auto time = alternated(whole, formatted, 3);
    row("tone, 6 million dots, all of it", time.ours, time.theirs, "fmt, the same numbers", 2.0);
}

/// A sheet of 500 parts with a hole each: all of it planned anew, as after a move of one of them.
void manyParts() {
    std::vector<Piece> pieces;
    std::mt19937 random(3);
    for (int i = 0; i < 500; ++i) {
        const Vec2 at{30 + (i % 25) * 46.0, 30 + (i / 25) * 57.0};
        Ring ring;
        for (int k = 0; k < 9; ++k)
            ring.push_back(at + Vec2{std::cos(k * 2 * pi / 9), std::sin(k * 2 * pi / 9)} *
                                    (16 + static_cast<double>(random() % 50) / 10));
        ferro::Path outline{ring[0], {}, true};
        for (int k = 1; k <= 9; ++k) outline.segments.push_back(Segment::line(ring[static_cast<std::size_t>(k % 9)]));
        pieces.push_back({wound(outline, true), {wound(circle(at, 4), false)}});
    }
    auto job = jobWith(pieces, "outline", "end-3", {});
    job.sheets[0].stock.width = job.sheets[0].stock.height = 1200;
    using namespace ClipperLib;
    const auto library = [&] {
        for (const auto& piece : pieces)
            for (const auto* path : {&piece.outline, &piece.openings[0]}) {
                ClipperLib::Path ring;
                for (const Vec2 p : flattened(*path, 0.002))
                    ring.emplace_back(std::llround(p.x * 1e5), std::llround(p.y * 1e5));
                ClipperOffset offset;
                offset.AddPath(ring, jtRound, etClosedPolygon);
                Paths out;
                offset.Execute(out, 1.5e5);
            }
    };
    const auto planned = alternated([&] { (void)movesOf(job); }, library);
    row("500 parts, all planned", planned.ours, planned.theirs, "the library's offsets", 8.0);
    const auto proofed = alternated(
        [&] {
            Progress progress;
            (void)proof::proofOf(job, progress);
        },
        library, 3);
    row("500 parts, planned and proofed", proofed.ours, proofed.theirs, "the library's offsets", 12.0);
    // One of them moved: to be seen within 100 ms, and proofed within 300.
    Kept kept;
    int turn = 0;
    const auto moved = [&] {
        auto next = job;
        const auto part = job.artwork->items[250].id;
        auto artwork = artwork::withTransformed(*job.artwork, {part}, Transform::moved({0.5 * (++turn % 7), 0}));
        return job::withArtwork(job, std::move(*artwork));
    };
    const auto proofAgain = [&] {
        Progress progress;
        (void)proof::proofOf(moved(), progress, &kept);
        kept.turn();
    };
    proofAgain();
    const auto planAgain = alternated(
        [&] {
            Progress progress;
            (void)toolpath::toolpathOf(moved(), progress, {}, &kept);
        },
        library);
    row("500 parts, one moved, planned", planAgain.ours, planAgain.theirs, "the library's offsets", 2.5);
    const auto again = alternated(proofAgain, library);
    row("500 parts, one moved, proofed", again.ours, again.theirs, "the library's offsets", 9.0);
}

} // namespace

void benchCuts() {
    manyParts();
    tones();
    clearing();
    grooves();
}
