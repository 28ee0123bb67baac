#pragma once

namespace ferro::app {

enum class StationId { source, mend, sheet, cuts, proof, run };

} // namespace ferro::app
