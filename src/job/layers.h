#pragma once

#include "job/edits.h"

namespace ferro::job {

/// All facts of a layer at once: name, colour ("#rrggbb" or empty), locked, hidden, notes; its id stays. Steps that
/// take it by its name go on taking it. A name is not empty, no other layer's, and without `*`, which means any in a
/// rule.
[[nodiscard]] Result<Job> withLayerFacts(const Job& job, artwork::LayerId layer, const artwork::Layer& facts);
/// Above the others, with nothing on it.
[[nodiscard]] Result<Job> withLayerAdded(const Job& job, std::string_view name);
/// A layer that holds something stays.
[[nodiscard]] Result<Job> withoutLayer(const Job& job, artwork::LayerId layer);

} // namespace ferro::job
