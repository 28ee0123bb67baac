#include "app/shell/shape_maker.h"

#include "app/shell/session.h"

namespace ferro::app {

void ShapeMaker::setActive(bool active) {
    if (active == std::exchange(active_, active)) return;
    Q_EMIT changed();
}

void ShapeMaker::setSettings(const ShapeSettings& settings) {
    if (settings == settings_) return;
    settings_ = settings;
    Q_EMIT changed();
}

Result<artwork::Added> ShapeMaker::drawn(Vec2 from, Vec2 to) const {
    auto path = shapeBetween(settings_, from, to);
    if (!path) return path.problem();
    const auto& art = *session_.job().artwork;
    std::string layer = "drawing";
    if (!session_.selection().empty())
        if (const auto* item = artwork::find(art, session_.selection().front()); item && artwork::shapeOf(*item))
            layer = artwork::find(art, item->layer)->name;
    return artwork::withPieces(art, {{std::move(*path), {}}}, layer, std::string(wordOf(settings_.kind)));
}

void ShapeMaker::make(Vec2 from, Vec2 to) {
    const auto label = tr("Draw a shape: %1").arg(QString::fromStdString(std::string(wordOf(settings_.kind))));
    auto added = drawn(from, to);
    if (!added) {
        session_.apply(label, added.problem());
        return;
    }
    if (session_.apply(label, job::withArtwork(session_.job(), std::move(added->artwork)))) session_.select(added->ids);
}

} // namespace ferro::app
