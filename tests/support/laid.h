#pragma once

#include "job/nesting.h"
#include "support/jobs.h"

namespace ferro::test {

inline job::LaidOut laid(const job::Job& job, const job::LayingOut& wish) {
    Progress progress;
    auto out = job::laidOut(job, wish, progress);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    return *out;
}

} // namespace ferro::test
