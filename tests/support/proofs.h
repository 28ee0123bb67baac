#pragma once

#include "proof/proof.h"
#include "support/jobs.h"

namespace ferro::test {

inline proof::Proof proofOf(const job::Job& job) {
    Progress progress;
    auto proof = proof::proofOf(job, progress);
    INFO((proof ? "" : proof.problem().text()));
    REQUIRE(proof);
    return std::move(*proof);
}

} // namespace ferro::test
