#include "app/shell/session.h"

#include "job/sheets.h"

#include <QFile>
#include <set>

namespace ferro::app {

Session::Session(ShopKeeper::Kept shop, QObject* parent)
    : QObject(parent), shop_(std::move(shop)), history_(firstJob()) {
    connect(&background_, &Background::ranOut, this, [this](const QString& what) {
        Q_EMIT told(tr("%1: the memory does not suffice. Use a smaller drawing or picture.").arg(what), true);
    });
}

Session::~Session() = default; // ended in order: nothing is left to recover

bool Session::apply(const QString& label, Result<job::Job> next, quint64 gesture) {
    if (!next) {
        if (!next.problem().isCancelled) tell(next.problem());
        return false;
    }
    const bool shop = next->machine.key != job().machine.key || next->material.key != job().material.key;
    history_.push(std::move(*next), {label.toStdString(), gesture});
    if (shop) noteShop();
    afterChange();
    return true;
}

void Session::editArtwork(const QString& label, std::function<Result<Edited>(Progress&)> work) {
    background_.run("edit", label, std::move(work), this, [this, label, art = job().artwork](Result<Edited> edited) {
        if (!edited) return edited.problem().isCancelled ? void() : tell(edited.problem());
        if (art != job().artwork) return; // the drawing went on meanwhile
        const auto did = QString::fromStdString(edited->did);
        if (edited->artwork && !apply(label, job::withArtwork(job(), std::move(*edited->artwork)))) return;
        if (!edited->select.empty()) select(edited->select);
        if (!did.isEmpty()) Q_EMIT told(did.left(1).toUpper() + did.mid(1) + QLatin1Char('.'), false);
    });
}

void Session::undo() {
    if (!history_.canUndo()) return;
    const auto label = QString::fromStdString(history_.undoLabel());
    history_.undo();
    afterChange();
    Q_EMIT told(tr("Undone: %1").arg(label), false);
}

void Session::redo() {
    if (!history_.canRedo()) return;
    const auto label = QString::fromStdString(history_.redoLabel());
    history_.redo();
    afterChange();
    Q_EMIT told(tr("Done again: %1").arg(label), false);
}

void Session::afterChange() {
    std::set<artwork::ItemId> here;
    for (const auto& item : job().artwork->items) // what is out of sight on another sheet is not chosen
        if (item.sheet == job().artwork->sheet) here.insert(item.id);
    const auto gone = std::erase_if(selection_, [&](artwork::ItemId id) { return !here.contains(id); });
    if (!plan::find(job().plan, step_)) step_ = job().plan.steps.empty() ? plan::StepId{} : job().plan.steps.front().id;
    Q_EMIT jobChanged();
    if (gone) Q_EMIT selectionChanged();
}

void Session::select(artwork::Ids items) {
    if (items == selection_) return;
    selection_ = std::move(items);
    Q_EMIT selectionChanged();
}

artwork::ItemId Session::key() const {
    if (selection_.empty()) return {};
    return std::find(selection_.begin(), selection_.end(), key_) != selection_.end() ? key_ : selection_.front();
}

void Session::setKey(artwork::ItemId item) {
    key_ = item;
    Q_EMIT selectionChanged();
}

void Session::layOut(job::SheetId sheet) {
    auto seen = sheet ? job::atSheet(job(), sheet) : Result<job::Job>(job::atBeside(job()));
    if (!seen) return tell(seen.problem());
    history_.look(std::move(*seen));
    select({});
    prover_.forget(); // the other sheet's
    afterChange();
}

void Session::selectStep(plan::StepId step) {
    if (step == step_) return;
    step_ = step;
    Q_EMIT selectionChanged();
}

void Session::goTo(StationId station) {
    if (station == station_) return;
    station_ = station;
    Q_EMIT stationChanged();
}

} // namespace ferro::app
