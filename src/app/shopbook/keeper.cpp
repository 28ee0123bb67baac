#include "app/shopbook/keeper.h"

namespace ferro::app {

ShopKeeper::ShopKeeper(Kept kept, QObject* parent)
    : QObject(parent), now_(std::move(kept)), book_(now_.shelves.onHand()) {}

bool ShopKeeper::apply(const QString& label, Result<shop::Shelves> next, quint64 gesture) {
    if (next) return apply(label, Kept(std::move(*next), now_.house), gesture);
    Q_EMIT told(QString::fromStdString(next.problem().text()), true);
    Q_EMIT changed(); // fields show again what is
    return false;
}

bool ShopKeeper::apply(const QString& label, Result<plan::House> next, quint64 gesture) {
    if (next) return apply(label, Kept(now_.shelves, std::move(*next)), gesture);
    Q_EMIT told(QString::fromStdString(next.problem().text()), true);
    Q_EMIT changed();
    return false;
}

bool ShopKeeper::apply(const QString& label, Kept next, quint64 gesture) {
    if (next == now_) return true;
    const bool goesOn = gesture && !undo_.empty() && undo_.back().gesture == gesture;
    if (!goesOn) undo_.push_back({now_, label, gesture});
    redo_.clear();
    take(std::move(next));
    return true;
}

void ShopKeeper::undo() {
    if (undo_.empty()) return;
    Was was = std::move(undo_.back());
    undo_.pop_back();
    redo_.push_back({now_, was.label, 0});
    take(std::move(was.kept));
    Q_EMIT told(tr("Undone in the shop book: %1").arg(was.label), false);
}

void ShopKeeper::redo() {
    if (redo_.empty()) return;
    Was was = std::move(redo_.back());
    redo_.pop_back();
    undo_.push_back({now_, was.label, 0});
    take(std::move(was.kept));
    Q_EMIT told(tr("Done again in the shop book: %1").arg(was.label), false);
}

void ShopKeeper::take(Kept next) {
    const Kept before = std::exchange(now_, std::move(next));
    book_ = now_.shelves.onHand();
    std::error_code none;
    std::filesystem::create_directories(userDataFolder(), none);
    const auto save = [&](const Result<void>& saved) {
        if (!saved) Q_EMIT told(QString::fromStdString(saved.problem().text()), true);
    };
    if (before.shelves != now_.shelves) save(shop::saveShelves(realDisk(), now_.shelves));
    if (before.house != now_.house) save(plan::saveHouse(realDisk(), now_.house));
    Q_EMIT changed();
}

void ShopKeeper::readAgain() {
    auto shelves = shop::openShelves(realDisk());
    auto house = plan::openHouse(realDisk());
    if (!shelves || !house) {
        Q_EMIT told(QString::fromStdString((shelves ? house.problem() : shelves.problem()).text()), true);
        return;
    }
    Kept there(std::move(*shelves), std::move(*house));
    if (there == now_) return;
    undo_.clear(), redo_.clear(); // of what somebody else went on from
    now_ = std::move(there);
    book_ = now_.shelves.onHand();
    Q_EMIT changed();
}

} // namespace ferro::app
