#include "app/shell/surface.h"

#include "proof/burn.h"
#include "proof/look.h"

namespace ferro::app {

namespace {
std::array<std::uint8_t, 3> bytesOf(const QColor& colour) {
    return {static_cast<std::uint8_t>(colour.red()), static_cast<std::uint8_t>(colour.green()),
            static_cast<std::uint8_t>(colour.blue())};
}
constexpr std::size_t cells = 1'500'000; // finer than any bench shows it
} // namespace

QImage surfaceImage(const job::Job& job, const toolpath::Toolpath& path, const proof::Strokes& strokes,
                    const QColor& through, Progress& progress, const proof::Timing* timing, double until) {
    auto grid = proof::HeightGrid::of(job.sheet().stock, cells);
    if (!proof::sweep(grid, strokes, progress, until)) return {};
    const auto& material = job::materialOf(job);
    const auto dark = proof::darknessOf(grid, path, material, progress, timing, until);
    if (!dark) return {};
    auto look = proof::lookOf(material, path.byBeam());
    look.through = bytesOf(through);
    const auto picture = proof::lit(grid, job.sheet().stock.thickness, look, path.byBeam() ? &*dark : nullptr);
    return QImage(picture.rgb.data(), picture.width, picture.height, picture.width * 3, QImage::Format_RGB888).copy();
}

} // namespace ferro::app
