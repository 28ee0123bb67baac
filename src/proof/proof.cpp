#include "proof/proof.h"

namespace ferro::proof {

Result<void> prove(Proof& proof, const job::Job& job, Progress& progress, Kept* kept) {
    progress.stage(0.4, 0.6);
    auto timing = timingOf(proof.path, job.machine, progress, job::zeroOf(job.sheet().stock).z);
    if (!timing) return timing.problem();
    proof.timing = std::move(*timing);
    progress.stage(0.6, 1);
    auto deviation = deviationOf(proof.path, progress, kept);
    if (!deviation) return deviation.problem();
    proof.deviation = std::move(*deviation);
    proof.findings = findingsOf(job, proof.path, proof.deviation, kept);
    return {};
}

Result<Proof> proofOf(const job::Job& job, Progress& progress, Kept* kept) {
    Proof proof;
    progress.stage(0, 0.4);
    auto path = toolpath::toolpathOf(job, progress, {}, kept);
    if (!path) return path.problem();
    proof.path = std::move(*path);
    if (const auto done = prove(proof, job, progress, kept); !done) return done.problem();
    return proof;
}

std::pair<Box, double> reachOf(const toolpath::Toolpath& path) {
    Box over;
    double lowest = 0;
    toolpath::forEachMove(
        path, [&](const toolpath::StepMoves&, std::size_t, toolpath::Vec3 from, const toolpath::Move& move) {
            if (move.kind != toolpath::Move::Kind::rapid) over.take(boundsOf(Path{from.flat(), {move.flat()}, false}));
            lowest = std::min(lowest, move.to.z);
        });
    return {over, lowest};
}

Result<MovesProof> proofOfMoves(const job::Job& job, toolpath::Toolpath& path,
                                const std::vector<std::vector<std::uint32_t>>& lineOf, Progress& progress) {
    if (path.count() == 0)
        return Problem{.what = "The program moves nothing.", .where = {}, .mend = "Check that it is the right file."};
    auto timing = timingOf(path, job.machine, progress);
    if (!timing) return timing.problem();
    // Another's program keeps a clearance of its own; below the top of the stock no rapid has anything to do.
    path.travel = 0;
    MovesProof proof{std::move(*timing), findingsOfMoves(job, path), {}, 0};
    for (auto& f : proof.findings)
        if (f.move) f.what = fmt::format("Line {}: {}", lineOf[f.move->step][f.move->move], f.what);
    std::tie(proof.bounds, proof.lowest) = reachOf(path);
    return proof;
}

void refuse(Proof& proof, const Problem& problem, std::optional<Finding::Fix> fix) {
    Finding finding;
    finding.verdict = Verdict::noGo;
    finding.what = problem.what;
    finding.mend = problem.mend;
    finding.fix = std::move(fix);
    proof.findings.insert(proof.findings.begin(), std::move(finding));
}

void remark(Proof& proof, const Problem& problem) {
    Finding finding;
    finding.what = problem.what;
    finding.mend = problem.mend;
    proof.findings.push_back(std::move(finding)); // notes come last
}

} // namespace ferro::proof
