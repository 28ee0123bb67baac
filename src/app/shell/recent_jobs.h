#pragma once

#include "app/shell/station_id.h"

#include <QStringList>
#include <optional>

namespace ferro::app {

/// The jobs that were open last, the youngest first, each with the station it was left at; kept in the user's data
/// folder. A list that cannot be read or written is an empty one: no work hangs on it.
class RecentJobs {
public:
    static constexpr int most = 10;

    /// Those that still are there.
    [[nodiscard]] QStringList files() const;
    [[nodiscard]] std::optional<StationId> leftAt(const QString& file) const;
    void note(const QString& file, StationId at);
};

} // namespace ferro::app
