// What is kept of earlier proofs makes them quicker and changes nothing.
#include "base/kept.h"
#include "support/proofs.h"

#include <random>

using namespace ferro;
using namespace ferro::test;

namespace {

/// All of a proof that anyone can see, but for what its fixes would do.
std::string wordsOf(const proof::Proof& proof) {
    std::string out;
    for (const auto& step : proof.path.steps) {
        out += fmt::format("{} {}\n", step.name, step.moves.size());
        for (const auto& m : step.moves)
            out += fmt::format("{} {} {} {} {} {}\n", static_cast<int>(m.kind), m.to.x, m.to.y, m.to.z, m.feed,
                               m.kind == toolpath::Move::Kind::arc ? m.centre.x + 3 * m.centre.y : 0);
        for (const auto& cut : step.cuts) out += fmt::format("cut {} {}\n", cut.first, cut.intent.item.value);
    }
    for (const auto& f : proof.findings)
        out += fmt::format("{} {} {} {}\n", static_cast<int>(f.verdict), f.what, f.item.value, f.at ? f.at->x : 0);
    const auto& d = proof.deviation;
    out += fmt::format("{} {} {} {} {} {} {}\n", proof.timing.total, d.cutInto, d.leftStanding, d.corners,
                       d.unreachedArea, d.unreachedPlaces, d.unreachedAt.x);
    for (const auto& edge : d.edges)
        for (const auto& s : edge.samples) out += fmt::format("{} ", s.miss);
    return out;
}

} // namespace

TEST_CASE("kept: a proof of a job that is changed again and again is the same as one made from nothing", "[property]") {
    std::mt19937 random(11);
    const auto upTo = [&](double most) { return most * static_cast<double>(random()) / 4294967296.0; };
    std::vector<Piece> pieces;
    for (int i = 0; i < 12; ++i) {
        const Vec2 at{50 + 75.0 * (i % 4), 50 + 70.0 * (i / 4)};
        pieces.push_back(
            {curvedBlob(static_cast<unsigned>(i), at, 24), {wound(rectangle(at, at + Vec2{7, 5}), false)}});
    }
    auto job = drawn(fresh(), pieces, "cut", "leaf");
    job = set(stepped(job, "outline", "end-3"), "finish", "0.3");
    const auto outline = lastStep(job);
    job = drawn(job, {{rectangle({20, 250}, {90, 290}), {circle({50, 270}, 8)}}}, "pool", "pool");
    job = set(stepped(job, "clear", "end-6"), "layers", "pool");
    Kept kept;
    std::size_t most = 0;
    for (int change = 0; change < 12; ++change) {
        const auto& items = job.artwork->items;
        const auto& item = items[random() % items.size()];
        const double kind = upTo(4), by = upTo(1);
        const auto moved = [&](const Transform& to) {
            return job::withArtwork(job, artwork::withTransformed(*job.artwork, {item.id}, to));
        };
        const auto next =
            kind < 1   ? moved(Transform::moved({4 * by - 2, 2 * by}))
            : kind < 2 ? moved(Transform::rotated(by, artwork::boundsOf(item).centre()))
            : kind < 3 ? job::withStepSetting(job, outline, "lead", fmt::format("{:.1f} mm", 1 + 3 * by))
                       : job::withStepSetting(job, outline, "tabSpacing", fmt::format("{:.0f} mm", 30 + 90 * by));
        REQUIRE(next);
        job = *next;
        Progress progress;
        const auto with = proof::proofOf(job, progress, &kept);
        REQUIRE(with);
        kept.turn();
        REQUIRE(wordsOf(*with) == wordsOf(proofOf(job)));
        most = std::max(most, kept.size());
    }
    CHECK(most < 400); // it does not grow for ever
}
