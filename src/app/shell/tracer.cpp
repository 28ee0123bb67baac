#include "app/shell/tracer.h"

#include "app/shell/session.h"

namespace ferro::app {

Tracer::Tracer(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, &Tracer::refresh);
    connect(&session, &Session::selectionChanged, this, &Tracer::refresh);
    connect(&session, &Session::stationChanged, this, &Tracer::refresh);
}

const artwork::Item* Tracer::picture() const {
    const auto& chosen = session_.selection();
    const artwork::Item* last = nullptr;
    for (const auto& item : session_.job().artwork->items) {
        if (!artwork::pictureOf(item)) continue;
        if (std::find(chosen.begin(), chosen.end(), item.id) != chosen.end()) return &item;
        if (!item.underlay) last = &item;
    }
    return last;
}

trace::Recipe Tracer::recipe() const {
    const auto* item = picture();
    return item ? trace::onSheet(*item, trace::recipeOf(*item)) : trace::Recipe{};
}

bool Tracer::keep(const QString& label, const trace::Recipe& recipe, quint64 gesture) {
    const auto* item = picture();
    return item && session_.apply(label,
                                  job::withArtwork(session_.job(), trace::withRecipe(*session_.job().artwork, item->id,
                                                                                     trace::onPicture(*item, recipe))),
                                  gesture);
}

trace::Settings Tracer::settings() const {
    auto all = recipe();
    const auto at = static_cast<std::size_t>(patch_);
    return patch_ < 0 || at >= all.patches.size() ? all.whole : all.patches[at].settings;
}

void Tracer::setSettings(const trace::Settings& settings, quint64 gesture) {
    if (settings == this->settings()) return;
    auto all = recipe();
    const auto at = static_cast<std::size_t>(patch_);
    (patch_ < 0 || at >= all.patches.size() ? all.whole : all.patches[at].settings) = settings;
    keep(tr("Trace setting"), all, gesture);
}

std::vector<trace::Colour> Tracer::coloursFound() const {
    if (!result_) return {};
    const auto at = static_cast<std::size_t>(std::max(patch_, 0));
    if (patch_ >= 0)
        return at < result_->patchPalettes.size() ? result_->patchPalettes[at] : std::vector<trace::Colour>{};
    return result_->palette;
}

std::vector<trace::Colour> Tracer::colours() const {
    if (!settings().palette.empty()) return settings().palette;
    return coloursFound();
}

void Tracer::pickColour(Vec2 at) {
    const auto* item = picture();
    const auto back = item ? item->place.inverse() : std::nullopt;
    if (!back) return;
    const auto& leaf = *artwork::pictureOf(*item);
    const Vec2 px = (*back)(at) * (leaf.picture.width / leaf.size.x);
    const auto colour = trace::colourAt(leaf.picture, static_cast<int>(std::floor(px.x)),
                                        leaf.picture.height - 1 - static_cast<int>(std::floor(px.y)));
    if (!colour) return Q_EMIT session_.told(tr("Point at the picture to pick one of its colours."), true);
    auto all = colours();
    constexpr double same = 4; // in CIELAB: hardly to be told apart side by side
    for (const auto& had : all)
        if (trace::difference(had, *colour) < same)
            return Q_EMIT session_.told(
                tr("%1 is among the colours, as %2.")
                    .arg(QString::fromStdString(trace::toText(*colour)), QString::fromStdString(trace::toText(had))),
                false);
    all.push_back(*colour);
    auto changed = settings();
    changed.palette = std::move(all);
    setSettings(changed);
    Q_EMIT session_.told(tr("Picked %1.").arg(QString::fromStdString(trace::toText(*colour))), false);
}

void Tracer::choosePatch(int index) {
    patch_ = std::clamp(index, -1, static_cast<int>(recipe().patches.size()) - 1);
    Q_EMIT changed();
}

void Tracer::addPatch(const Ring& area) {
    if (area.size() < 3) return;
    auto all = recipe();
    trace::Settings own = all.whole;
    own.only = {};
    all.patches.push_back({area, own});
    area_ = {};
    if (keep(tr("Trace a patch"), all)) choosePatch(static_cast<int>(all.patches.size()) - 1);
}

void Tracer::dropPatch() {
    auto all = recipe();
    if (patch_ < 0 || patch_ >= static_cast<int>(all.patches.size())) return;
    all.patches.erase(all.patches.begin() + std::exchange(patch_, -1));
    keep(tr("Drop a patch"), all);
}

void Tracer::setOnly(const Box& area) {
    auto all = recipe();
    all.whole.only = area;
    area_ = {};
    keep(area.empty() ? tr("Trace all") : tr("Trace only a part"), all);
}

Box Tracer::area() const {
    Box box;
    for (const Vec2 corner : area_) box.take(corner);
    return box;
}

void Tracer::setArea(const Ring& corners) {
    area_ = corners;
    Q_EMIT changed();
}

std::shared_ptr<const artwork::Artwork> Tracer::look() const {
    return session_.background().busy("clean") ? look_ : nullptr; // not of a clean-up that was cancelled
}

const std::vector<picture::CleanStep>& Tracer::cleanSteps() const {
    static const std::vector<picture::CleanStep> none;
    const auto* item = picture();
    return item ? artwork::pictureOf(*item)->clean : none;
}

void Tracer::cleanUp(std::vector<picture::CleanStep> steps, quint64 gesture) {
    const auto* item = picture();
    if (!item || steps == cleanSteps()) return;
    acceptDue_ = false;
    constexpr std::size_t quick = 600'000; // pixels, done in a few ms
    const auto* leaf = artwork::pictureOf(*item);
    if (artwork::originalOf(*leaf).count() > 2 * quick)
        session_.background().run(
            "clean-look", tr("Cleaning up"),
            [art = session_.job().artwork, id = item->id, steps](Progress& progress) -> Result<artwork::Artwork> {
                auto small = *art;
                for (auto& i : small.items)
                    if (i.id == id) {
                        auto own = *artwork::pictureOf(i);
                        auto copy = picture::reduced(artwork::originalOf(own), artwork::ownPxPerMm(own), quick);
                        if (!copy) return copy.problem();
                        own.size =
                            Vec2{static_cast<double>(copy->picture.width), static_cast<double>(copy->picture.height)} /
                            copy->pxPerMm;
                        own.picture = own.original = std::move(copy->picture);
                        i.leaf = std::make_shared<const artwork::PictureLeaf>(std::move(own));
                    }
                return artwork::withCleanUp(small, id, steps, progress);
            },
            this,
            [this](Result<artwork::Artwork> look) {
                if (!look || !session_.background().busy("clean")) return; // the whole was quicker
                look_ = std::make_shared<const artwork::Artwork>(std::move(*look));
                Q_EMIT changed();
            });
    session_.background().run(
        "clean", tr("Cleaning up"),
        [art = session_.job().artwork, id = item->id, steps](Progress& progress) {
            return artwork::withCleanUp(*art, id, steps, progress);
        },
        this,
        [this, gesture, art = session_.job().artwork](Result<artwork::Artwork> done) {
            look_.reset();
            // A step that is being dragged has been asked for anew by now if the artwork is another.
            if (done && art != session_.job().artwork) return;
            const bool due = std::exchange(acceptDue_, false);
            acceptDue_ =
                session_.apply(tr("Clean up"), job::withArtwork(session_.job(), std::move(done)), gesture) && due;
            Q_EMIT changed();
        });
}

void Tracer::cropToArea() {
    const auto* item = picture();
    const auto back = item ? item->place.inverse() : std::nullopt;
    if (!back || area_.empty()) return;
    auto step = picture::freshStep(picture::CleanStep::Kind::crop);
    const Box box = area();
    for (const Vec2 corner : {box.low, Vec2{box.high.x, box.low.y}, box.high, Vec2{box.low.x, box.high.y}})
        step.area.take((*back)(corner));
    auto steps = cleanSteps();
    steps.push_back(std::move(step));
    area_ = {};
    cleanUp(std::move(steps));
}

void Tracer::brush(picture::CleanStep::Kind kind, const Ring& points) {
    const auto* item = picture();
    const auto back = item ? item->place.inverse() : std::nullopt;
    if (!back || points.empty()) return;
    picture::BrushStroke stroke{{}, brushWidth / std::sqrt(std::abs(item->place.determinant()))};
    for (const Vec2 p : points) stroke.points.push_back((*back)(p));
    auto steps = cleanSteps();
    if (steps.empty() || steps.back().kind != kind) steps.push_back(picture::freshStep(kind));
    steps.back().strokes.push_back(std::move(stroke));
    cleanUp(std::move(steps));
}

void Tracer::reset() {
    result_.reset();
    isCurrent_ = acceptDue_ = false;
    item_ = {};
    measured_ = nullptr;
    patch_ = -1;
    area_ = {};
    look_.reset();
}

void Tracer::refresh() {
    const auto* item = picture();
    if (!item || session_.station() != StationId::source) {
        if (result_ || item_) {
            session_.background().cancel("trace");
            result_.reset();
            item_ = {};
            isCurrent_ = acceptDue_ = false;
            Q_EMIT changed();
        }
        return;
    }
    const auto* leaf = artwork::pictureOf(*item);
    const auto recipe = trace::recipeOf(*item);
    if (item_ != item->id || patch_ >= static_cast<int>(recipe.patches.size())) patch_ = -1;
    // The same picture at the same place with the same settings is traced already.
    if (item_ == item->id && measured_ == &leaf->picture && place_ == item->place && traced_ == recipe) return;
    item_ = item->id;
    traced_ = recipe;
    place_ = item->place;
    measured_ = &leaf->picture;
    isCurrent_ = acceptDue_ = false;
    struct Answer {
        Result<trace::Traced> traced;
        picture::Quality quality;
        std::array<std::size_t, 256> histogram;
    };
    session_.background().run(
        "trace", tr("Tracing"),
        [copy = *item, recipe](Progress& progress) {
            const auto* own = artwork::pictureOf(copy);
            const auto grey = picture::greyOf(own->picture);
            const double width = artwork::boundsOf(copy).width();
            return Answer{trace::tracedItem(copy, recipe, progress), picture::qualityOf(grey, grey.width / width),
                          picture::histogramOf(grey)};
        },
        this,
        [this](Answer answer) {
            quality_ = answer.quality;
            histogram_ = answer.histogram;
            isCurrent_ = bool(answer.traced);
            const bool due = std::exchange(acceptDue_, false);
            if (answer.traced)
                result_ = std::make_shared<const trace::Traced>(std::move(*answer.traced));
            else if (!answer.traced.problem().isCancelled)
                Q_EMIT session_.told(QString::fromStdString(answer.traced.problem().text()), true);
            Q_EMIT changed();
            if (due && isCurrent_) accept();
        });
}

void Tracer::accept() {
    const auto* item = picture();
    if (!item || !result_) return;
    const auto& work = session_.background();
    if (!isCurrent_ || work.busy("clean")) { // what is shown is of other settings, or of the picture as it was
        if (!work.busy("trace") && !work.busy("clean")) item_ = {}, refresh(); // cancelled before
        acceptDue_ = true;
        Q_EMIT session_.told(tr("The trace will be accepted as soon as it is done."), false);
        return;
    }
    if (result_->pieces.empty()) {
        Q_EMIT session_.told(result_->notices.empty() ? tr("The trace found nothing. Move the level.")
                                                      : QString::fromStdString(result_->notices.back().text),
                             true);
        return;
    }
    auto accepted = trace::withAccepted(*session_.job().artwork, item->id, *result_, "trace");
    const auto words = QString::fromStdString(accepted.words());
    if (!session_.apply(tr("Accept trace"), job::withArtwork(session_.job(), std::move(accepted.artwork)))) return;
    patch_ = -1;
    session_.select(accepted.ids);
    session_.goTo(StationId::mend);
    if (!words.isEmpty()) Q_EMIT session_.told(words, !accepted.kept.empty());
}

} // namespace ferro::app
