#pragma once

#include "job/house.h"
#include "shop/own.h"

#include <QComboBox>
#include <QObject>

namespace ferro::app {

/// The shop book of this desk: what the shop has and how it works. Every change is on disk at once, and can be undone
/// until the window closes. Jobs keep what they were made with until they are asked.
class ShopKeeper : public QObject {
    Q_OBJECT
public:
    struct Kept {
        Kept(shop::Book shipped) : shelves{std::move(shipped), {}, {}} {}
        Kept(shop::Shelves all, plan::House ways) : shelves(std::move(all)), house(std::move(ways)) {}
        shop::Shelves shelves;
        plan::House house;
        friend bool operator==(const Kept&, const Kept&) = default;
    };
    explicit ShopKeeper(Kept kept, QObject* parent = nullptr);

    [[nodiscard]] const shop::Book& book() const { return book_; }
    [[nodiscard]] const shop::Shelves& shelves() const { return now_.shelves; }
    [[nodiscard]] const plan::House& house() const { return now_.house; }

    /// Takes a change over and saves it, or says why not. `gesture`: changes of one are undone as one.
    bool apply(const QString& label, Result<shop::Shelves> next, quint64 gesture = 0);
    bool apply(const QString& label, Result<plan::House> next, quint64 gesture = 0);
    bool apply(const QString& label, Kept next, quint64 gesture = 0);
    void undo();
    void redo();
    [[nodiscard]] bool canUndo() const { return !undo_.empty(); }
    [[nodiscard]] bool canRedo() const { return !redo_.empty(); }
    /// As it lies on disk, where somebody else has changed it meanwhile.
    void readAgain();

Q_SIGNALS:
    void changed();
    void told(const QString& text, bool isProblem);

private:
    struct Was {
        Kept kept;
        QString label;
        quint64 gesture = 0;
    };
    void take(Kept next);

    Kept now_;
    shop::Book book_;
    std::vector<Was> undo_, redo_;
};

/// A box offers these things by name, with their keys as data, if it does not do so already.
template<class Thing> void offer(QComboBox* box, const std::vector<Thing>& things, int from = 0) {
    bool same = box->count() == static_cast<int>(things.size()) + from;
    for (std::size_t i = 0; same && i < things.size(); ++i)
        same = box->itemData(static_cast<int>(i) + from).toString().toStdString() == things[i].key &&
               box->itemText(static_cast<int>(i) + from).toStdString() == things[i].name;
    if (same) return;
    while (box->count() > from) box->removeItem(box->count() - 1);
    for (const auto& thing : things)
        box->addItem(QString::fromStdString(thing.name), QString::fromStdString(thing.key));
}

} // namespace ferro::app
