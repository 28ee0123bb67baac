#include "proof/proof.h"

namespace ferro::proof {

Result<Proof> proofOf(const job::Job& job, Progress& progress) {
    Proof proof;
    progress.stage(0, 0.4);
    auto path = toolpath::toolpathOf(job, progress);
    if (!path) return path.problem();
    proof.path = std::move(*path);
    progress.stage(0.4, 0.6);
    auto timing = timingOf(proof.path, job.machine, progress, job::zeroOf(job.sheet().stock).z);
    if (!timing) return timing.problem();
    proof.timing = std::move(*timing);
    progress.stage(0.6, 1);
    auto deviation = deviationOf(proof.path, progress);
    if (!deviation) return deviation.problem();
    proof.deviation = std::move(*deviation);
    proof.findings = findingsOf(job, proof.path, proof.deviation);
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

} // namespace ferro::proof
