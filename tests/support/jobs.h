#pragma once

#include "job/edits.h"
#include "plan/fields.h"
#include "plan/selection.h"
#include "shop/own.h"
#include "support/shapes.h"

namespace ferro::test {

inline shop::Book book() {
    auto book = shop::openBook(realDisk());
    REQUIRE(book);
    return *book;
}

inline job::Job with(const job::Job&, Result<job::Job> next) {
    INFO((next ? "" : next.problem().text()));
    REQUIRE(next);
    return *next;
}
inline job::Job drawn(const job::Job& job, std::vector<Piece> pieces, const char* layer = "cut",
                      const char* name = "piece") {
    return job::withArtwork(job, artwork::withPieces(*job.artwork, std::move(pieces), layer, name).artwork);
}
inline job::Job fresh(const char* machine = "mill-600", const char* material = "birch-ply") {
    auto job = job::freshJob(book(), machine, material);
    REQUIRE(job);
    return *job;
}
inline plan::StepId lastStep(const job::Job& job) { return job.plan.steps.back().id; }
inline job::Job set(const job::Job& job, std::string_view name, std::string_view value) {
    return with(job, job::withStepSetting(job, lastStep(job), name, value));
}
/// A step's number by its name, and how deep it goes.
inline double numberOf(const plan::Step& step, std::string_view name) {
    const auto* field = plan::fieldNamed(plan::kindOf(step), name);
    REQUIRE(field);
    return plan::valueOf(*field, step);
}
inline double bottomOf(const job::Job& job, const plan::Step& step) {
    if (const auto* bevel = plan::as<plan::Bevel>(step))
        return bevel->below + bevel->width / std::tan(job::toolOf(job, step)->angle * pi / 360);
    return plan::bottomOf(*plan::depthIn(step), job.sheet().stock.thickness);
}
inline job::Job stepped(const job::Job& job, const char* kind, const char* tool = "") {
    return with(job, job::withStepAdded(job, kind, tool));
}

/// A part with openings and holes, a scribed line, random in shape, machine and settings. The seed alone repeats it.
inline job::Job randomJob(unsigned seed) {
    std::mt19937 random(seed * 7919 + 1);
    const auto pick = [&](auto... options) {
        const std::common_type_t<decltype(options)...> list[] = {options...};
        return list[random() % sizeof...(options)];
    };
    const bool laser = seed % 4 == 0;
    job::Job job =
        laser ? fresh("laser-700", "poplar") : fresh(pick("mill-600", "mill-1200"), pick("birch-ply", "acrylic"));
    job::Stock stock = job.sheet().stock;
    stock.thickness = laser ? 3 : pick(3.0, 6.0, 12.0);
    stock.corner = static_cast<job::ZeroCorner>(random() % 5);
    stock.zeroAt = static_cast<job::ZeroHeight>(random() % 2);
    job = with(job, job::withStock(job, stock));
    std::vector<Piece> pieces;
    for (int i = 0; i < 2; ++i) {
        const Vec2 centre{120.0 + 260 * i, 150};
        Piece piece;
        piece.outline = random() % 2 ? curvedBlob(seed + static_cast<unsigned>(i), centre, 90)
                                     : pathOf(blob(seed + static_cast<unsigned>(i), centre, 90, 20, 0.35), true);
        piece.outline = wound(piece.outline, true);
        piece.openings.push_back(wound(random() % 2 ? rectangle(centre - Vec2{14, 9}, centre + Vec2{14, 9}, 2)
                                                    : curvedBlob(seed * 3, centre, 18, 9),
                                       false));
        pieces.push_back(piece);
    }
    job = drawn(job, pieces);
    job = drawn(job, {{circle({120, 118}, 4), {}}, {circle({380, 118}, 4), {}}}, "holes");
    job = drawn(job, {{pathOf(ring("90,175 150,178 148,170"), false), {}}}, "lines");
    if (!laser) {
        job = stepped(job, "drill", "drill-8");
        job = set(job, "peck", pick("0", "2", "5"));
    }
    job = stepped(job, "scribe", laser ? "beam" : pick("engraver-30", "ball-3", "v-60"));
    job = set(job, "layers", "lines");
    if (!laser && seed % 3 == 2) { // a groove with an island between the parts, and their edges taken off
        std::mt19937 own(seed);
        const auto one = [&](const char* a, const char* b) { return own() % 2 ? a : b; };
        job = drawn(job, {{wound(curvedBlob(seed * 5, {250, 320}, 9), true), {wound(circle({250, 320}, 5), false)}}},
                    "letters");
        job = set(set(stepped(job, "groove", one("v-60", "engraver-30")), "layers", "letters"), "depth", "1.7");
        job = set(job, "depthPerPass", one("0.6", "3"));
        job = set(set(stepped(job, "bevel", "v-60"), "layers", "cut"), "width", one("0.5", "1.1"));
        job = set(set(job, "pointBelow", one("0", "0.4")), "direction", one("climb", "conventional"));
    }
    job = stepped(job, "outline", laser ? "beam" : pick("end-3", "end-6"));
    job = set(job, "layers", laser ? "cut, holes" : "cut");
    job = set(job, "entry", pick("ramp", "plunge"));
    job = set(job, "direction", pick("climb", "conventional"));
    job = set(job, "lead", pick("0", "1", "3"));
    job = set(job, "rampAngle", pick("2", "8", "30"));
    job = set(job, "hold", pick("tabs", "none"));
    job = set(job, "depthPerPass", pick("0.9", "2.5", "5"));
    std::mt19937 leads(seed + 77);
    job = set(set(job, "leadBy", leads() % 2 ? "arc" : "straight"), "leads", leads() % 3 ? "in and out" : "in only");
    job = set(job, "leadOut", leads() % 2 ? "0" : "4");
    for (const auto& item : job.artwork->items)
        if (item.name == "piece" && leads() % 2)
            job = with(job, job::withStart(job, lastStep(job), item.id, -1, static_cast<double>(leads() % 100) / 100));
    if (leads() % 2) { // along one side of an open line
        job = drawn(job, {{pathOf(ring("25,262 60,290 130,270 150,300"), false), {}}}, "beside");
        job = set(set(stepped(job, "outline", laser ? "beam" : "end-3"), "layers", "beside"), "side",
                  leads() % 2 ? "left" : "right");
        job = set(set(job, "entry", leads() % 2 ? "ramp" : "plunge"), "depthPerPass", "2.5");
    }
    if (!laser && seed % 3 == 1) { // what is left of the parts' inner openings, and a pocket with an island beside them
        job = drawn(job, {{wound(curvedBlob(seed * 5, {250, 320}, 55), true), {wound(circle({250, 320}, 12), false)}}},
                    "floor");
        job = set(set(stepped(job, "clear", pick("end-3", "end-6")), "layers", "floor"), "depth", pick("1", "2.7"));
        job = set(set(job, "by", pick("rings", "lines")), "overlap", pick("20", "55", "80"));
        job = set(set(job, "direction", pick("climb", "conventional")), "entry", pick("ramp", "plunge", "helix"));
        job = set(set(job, "rampAngle", pick("2", "8", "30")), "depthPerPass", pick("0.9", "2.5"));
        job = set(set(job, "angle", pick("0", "35", "90")), "allowance", pick("0", "0.3"));
        job = set(job, "rim", leads() % 2 ? "blank and parts" : "none");
    }
    if (!laser && seed % 5 == 1) job = set(stepped(job, "skim", "end-6"), "ways", pick("one way", "both ways"));
    return job;
}

} // namespace ferro::test
