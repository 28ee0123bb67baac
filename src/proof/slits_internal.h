#pragma once

#include "proof/deviation.h"

namespace ferro::proof {

/// How far the tip of a trailing blade leaves the lines it is to slit, into `result`.
void followTips(const toolpath::Toolpath& path, Deviation& result);

} // namespace ferro::proof
