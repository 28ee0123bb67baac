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

/// The first finding that says this; none: nothing does.
inline const proof::Finding* finding(const proof::Proof& proof, std::string_view words) {
    for (const auto& f : proof.findings)
        if (f.what.find(words) != std::string::npos) return &f;
    return nullptr;
}

} // namespace ferro::test
