#pragma once

#include "job/job.h"

#include <QMimeData>
#include <memory>
#include <optional>

namespace ferro::app {

/// Pieces as they go over the clipboard: as a small job for another window of ours, with all that is known of them, and
/// as SVG for other programs.
[[nodiscard]] Result<std::unique_ptr<QMimeData>> clippingOf(const job::Job& job, const artwork::Ids& items);
/// What one of our own windows has put there; nothing if it holds no pieces of ours.
[[nodiscard]] std::optional<Result<artwork::Artwork>> piecesIn(const QMimeData& data);
/// An SVG drawing that another program has put there, as a type of its own or as text; empty: none.
[[nodiscard]] QByteArray svgIn(const QMimeData& data);

} // namespace ferro::app
