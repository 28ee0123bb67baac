#pragma once

#include "support/jobs.h"
#include "toolpath/toolpath.h"

namespace ferro::test {

inline toolpath::Toolpath planned(const job::Job& job) {
    Progress progress;
    auto path = toolpath::toolpathOf(job, progress);
    INFO((path ? "" : path.problem().text()));
    REQUIRE(path);
    return *path;
}

} // namespace ferro::test
