#pragma once

#include "proof/proof.h"

#include <QColor>
#include <QImage>

namespace ferro::app {

/// The stock after the strokes up to `until` seconds, lit and in its material's look; `through` is what shows where
/// nothing is left. No image when cancelled.
[[nodiscard]] QImage surfaceImage(const job::Job& job, const proof::Strokes& strokes, bool laser, const QColor& through,
                                  Progress& progress, double until = 1e300);

} // namespace ferro::app
