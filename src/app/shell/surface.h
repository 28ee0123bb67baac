#pragma once

#include "proof/proof.h"

#include <QColor>
#include <QImage>

namespace ferro::app {

/// The stock after the strokes of a path up to `until` seconds, lit and in its material's look, burnt as dark as a beam
/// leaves it; `through` is what shows where nothing is left. No image when cancelled.
[[nodiscard]] QImage surfaceImage(const job::Job& job, const toolpath::Toolpath& path, const proof::Strokes& strokes,
                                  const QColor& through, Progress& progress, const proof::Timing* timing = nullptr,
                                  double until = 1e300);

} // namespace ferro::app
