// What the proof says of jobs of all kinds, sound and faulty, word by word: time, findings, deviation, surface.
#include "artwork/copies.h"
#include "proof/removal.h"
#include "support/golden.h"
#include "support/proofs.h"

using namespace ferro;

namespace {

std::string number(double value) {
    const std::string text = fmt::format("{:.2f}", value + 1e-7); // no tie is left to the last bit
    return text == "-0.00" ? "0.00" : text;
}
std::string placeOf(Vec2 p) { return number(p.x) + "," + number(p.y); }

std::string recordOf(const std::string& title, const job::Job& job) {
    const auto proof = test::proofOf(job);
    std::string out = fmt::format("== {}\n", title);
    const auto& t = proof.timing;
    out += fmt::format("time {} moving {} spin-ups {} out {} home {} over {} mm\n", number(t.total), number(t.motion),
                       number(t.spinUps), number(t.wayOut), number(t.wayHome), number(t.length));
    for (const auto& step : t.steps)
        out += fmt::format("  step from {} change {} motion {} of {} moves, half of them by {}\n", number(step.begin),
                           number(step.change), number(step.motion), step.ends.size(),
                           number(step.ends.empty() ? 0 : step.ends[step.ends.size() / 2]));
    for (const auto& f : proof.findings) {
        out += fmt::format("  {}: {} | {} | item {} step {}", verdictName(f.verdict), f.what, f.mend, f.item.value,
                           f.step.value);
        if (f.at) out += " at " + placeOf(*f.at);
        if (f.move) out += fmt::format(" move {}/{}", f.move->step, f.move->move);
        if (f.fix) {
            const auto mended = f.fix->apply(job);
            out += fmt::format(" fix “{}”", f.fix->label);
            if (mended) out += fmt::format(" leaves {} no-gos", test::proofOf(*mended).count(Verdict::noGo));
        }
        out += '\n';
    }
    const auto& d = proof.deviation;
    out += fmt::format("deviation into {} at {} standing {} corners {} unreached {} mm² in {} places, first {}\n",
                       number(d.cutInto), placeOf(d.cutInto > 0.005 ? d.cutIntoAt : Vec2{}), number(d.leftStanding),
                       number(d.corners), number(d.unreachedArea), d.unreachedPlaces, placeOf(d.unreachedAt));
    for (const auto& edge : d.edges) {
        double least = 0, most = 0;
        for (const auto& s : edge.samples)
            least = std::min(least, double(s.miss)), most = std::max(most, double(s.miss));
        out += fmt::format("  edge {}/{}: {} samples {} to {}\n", edge.item.value, edge.opening, edge.samples.size(),
                           number(least), number(most));
    }
    const auto& stock = job.sheet().stock;
    const auto strokes = proof::strokesOf(proof.path, stock.thickness, 0.02, &t);
    for (const double until : {t.total / 2, 1e300}) {
        auto grid = proof::HeightGrid::over(job::sheetOf(stock), 1.5);
        Progress progress;
        const auto visited = proof::sweep(grid, strokes, progress, until);
        REQUIRE(visited);
        double sum = 0, lowest = 0;
        for (const float h : grid.heights) sum += double(h), lowest = std::min(lowest, double(h));
        out += fmt::format("surface: {} strokes, {} cells visited, {} mm³ gone, lowest {}\n", strokes.list.size(),
                           *visited, number(-sum * 1.5 * 1.5), number(lowest));
    }
    return out;
}

} // namespace

TEST_CASE("proof: jobs of all kinds are told of as they were, time, findings and surface") {
    std::string all;
    for (unsigned seed = 1; seed <= 7; ++seed)
        all += recordOf(fmt::format("random job {}", seed), test::randomJob(seed));
    const auto job = test::randomJob(2);
    const auto stocked = [&](auto change) {
        auto stock = job.sheet().stock;
        change(stock);
        return test::with(job, job::withStock(job, stock));
    };
    all += recordOf("the stock ends within the parts", stocked([](auto& s) { s.width = 430, s.height = 220; }));
    all += recordOf("parts that nothing holds", test::set(job, "hold", "none"));
    all += recordOf("from a start depth", test::set(job, "startDepth", "2"));
    all += recordOf("tabs as high as the stock", test::set(test::set(job, "hold", "tabs"), "tabHeight",
                                                           fmt::format("{}", job.sheet().stock.thickness)));
    all += recordOf("too deep a pass", test::set(job, "depthPerPass", "12"));
    all += recordOf("openings cut outside", test::set(test::set(job, "role", "openings"), "side", "outside"));
    all += recordOf("through a clamp", test::with(job, job::withClamp(job, {{{100, 60}, {140, 90}}, 15})));
    artwork::Part part;
    part.quantity = 3, part.thickness = 4;
    const auto art = artwork::withPart(*job.artwork, {job.artwork->items.front().id}, part);
    REQUIRE(art);
    const auto pieces = test::with(job, job::withArtwork(job, *art));
    all += recordOf("a part wanted three times, of another thickness", pieces);
    test::checkGolden("proof/record.txt", all);
}
