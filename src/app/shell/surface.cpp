#include "app/shell/surface.h"

#include "proof/look.h"

namespace ferro::app {

namespace {
std::array<std::uint8_t, 3> bytesOf(const QColor& colour) {
    return {static_cast<std::uint8_t>(colour.red()), static_cast<std::uint8_t>(colour.green()),
            static_cast<std::uint8_t>(colour.blue())};
}
constexpr std::size_t cells = 1'500'000; // finer than any bench shows it
} // namespace

QImage surfaceImage(const job::Job& job, const proof::Strokes& strokes, bool laser, const QColor& through,
                    Progress& progress, double until) {
    auto grid = proof::HeightGrid::sized(job::sheetOf(job.sheet().stock), cells);
    if (!proof::sweep(grid, strokes, progress, until)) return {};
    auto look = proof::lookOf(job::materialOf(job), laser);
    look.through = bytesOf(through);
    const auto picture = proof::lit(grid, job.sheet().stock.thickness, look);
    return QImage(picture.rgb.data(), picture.width, picture.height, picture.width * 3, QImage::Format_RGB888).copy();
}

} // namespace ferro::app
