#pragma once

#include "support/jobs.h"
#include "support/witness.h"

namespace ferro::test {

/// What the witness has to know of a job: its tools, where its zero lies, how quickly it may plunge.
inline witness::Options watchedBy(const job::Job& job) {
    witness::Options options;
    options.beam = !job.machine.does(shop::Process::rotary);
    for (const auto& tool : job.tools)
        if ((tool.kind == shop::ToolKind::laser) == options.beam)
            options.tools[tool.number] = {tool.diameter, tool.tip,
                                          tool.kind == shop::ToolKind::endMill || tool.kind == shop::ToolKind::ball ||
                                                  tool.kind == shop::ToolKind::laser
                                              ? 0
                                              : tool.angle,
                                          tool.kind == shop::ToolKind::ball};
    const auto zero = job::zeroOf(job.sheet().stock);
    options.zeroX = zero.at.x, options.zeroY = zero.at.y, options.zeroZ = zero.z;
    options.plunge = 0;
    for (const auto& step : job.plan.steps) options.plunge = std::max(options.plunge, plan::ratesIn(step)->plunge);
    return options;
}

} // namespace ferro::test
