#include "app/shell/point_editor.h"

#include "app/shell/session.h"

#include <set>

namespace ferro::app {

PointEditor::PointEditor(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, &PointEditor::refresh);
    connect(&session, &Session::selectionChanged, this, &PointEditor::refresh);
}

const artwork::Artwork& PointEditor::art() const { return *session_.job().artwork; }

void PointEditor::setActive(bool active) {
    if (active == active_) return;
    active_ = active;
    chosen_.clear();
    refresh();
    Q_EMIT changed();
}

void PointEditor::refresh() {
    marks_ = active_ ? mend::pointsOf(art(), session_.selection()) : std::vector<mend::PointMark>{};
    std::set<mend::PointRef> here;
    for (const auto& mark : marks_) here.insert(mark.ref);
    std::erase_if(chosen_, [&](const mend::PointRef& ref) { return !here.contains(ref); });
}

void PointEditor::choose(mend::PointRefs points) {
    if (points == chosen_) return;
    chosen_ = std::move(points);
    Q_EMIT changed();
}

void PointEditor::chooseAll() {
    mend::PointRefs all;
    for (const auto& mark : marks_) all.push_back(mark.ref);
    choose(std::move(all));
}

std::optional<Vec2> PointEditor::place() const {
    Box box;
    for (const auto& ref : chosen_)
        if (const auto at = mend::placeOf(art(), ref)) box.take(*at);
    return box.empty() ? std::nullopt : std::optional(box.centre());
}

void PointEditor::take(const QString& label, Result<mend::PointEdit> edit, quint64 gesture) {
    if (!edit) {
        session_.apply(label, edit.problem());
        return;
    }
    // Pieces that a point's edit has made are chosen too, so that their points are there to go on with.
    auto pieces = session_.selection();
    for (const auto& ref : edit->chosen)
        if (std::find(pieces.begin(), pieces.end(), ref.item) == pieces.end()) pieces.push_back(ref.item);
    auto chosen = std::move(edit->chosen);
    if (!session_.apply(label, job::withArtwork(session_.job(), std::move(edit->artwork)), gesture)) return;
    session_.select(std::move(pieces));
    choose(std::move(chosen));
    Q_EMIT changed();
}

void PointEditor::move(Vec2 by, quint64 gesture) {
    take(tr("Move points"), mend::withPointsMoved(art(), chosen_, by), gesture);
}
void PointEditor::moveHandle(const mend::PointRef& point, Side side, Vec2 to, bool alone) {
    const auto chosen = chosen_;
    take(tr("Move a handle"), mend::withHandleMoved(art(), point, side, to, alone));
    choose(chosen);
}
void PointEditor::bulge(const mend::PointRef& from, Vec2 through) {
    take(tr("Bend"), mend::withBulge(art(), from, through));
}
void PointEditor::add(const mend::PointRef& from, double t) {
    take(tr("Add a point"), mend::withPointAdded(art(), from, t));
}
void PointEditor::remove() { take(tr("Take points out"), mend::withPointsRemoved(art(), chosen_)); }
void PointEditor::form(mend::PointForm form) {
    const auto label = form == mend::PointForm::straight  ? tr("Straight")
                       : form == mend::PointForm::handles ? tr("Handles")
                       : form == mend::PointForm::smooth  ? tr("Smooth")
                                                          : tr("Corner");
    take(label, mend::withPointsFormed(art(), chosen_, form));
}
void PointEditor::split() { take(tr("Part at points"), mend::withSplit(art(), chosen_)); }
void PointEditor::join() { take(tr("Join ends"), mend::withEndsJoined(art(), chosen_, session_.job().tolerances.gap)); }

} // namespace ferro::app
