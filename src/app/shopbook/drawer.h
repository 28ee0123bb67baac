#pragma once

#include "app/shopbook/recipe_card.h"
#include "app/shopbook/rules_page.h"

#include <QListWidget>
#include <QStackedWidget>

namespace ferro::app {

/// The shop book as a drawer over bench and side sheet: shelves, what lies on one of them, and one card of it.
class ShopDrawer : public QFrame {
    Q_OBJECT
public:
    ShopDrawer(Session& session, ShopKeeper& keeper, QWidget* parent);
    void open();
    void refresh();
    enum Shelf { machines, tools, materials, recipes, rules, stock, shelfCount };

Q_SIGNALS:
    void closed();
    void rulesAsked();    ///< the open job's steps by the house rules
    void fromBookAsked(); ///< the open job as the book has its things now

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent*) override;

private:
    /// Does something with the kind of thing that lies on the shelf; nothing for recipes and rules.
    template<class Act> void onThings(const Act& act);
    [[nodiscard]] bool holdsThings() const { return shelf_ != recipes && shelf_ != rules; }
    struct Entry {
        QString key, name, more;
        shop::From from = shop::From::shipped;
    };
    [[nodiscard]] std::vector<Entry> entriesOf(Shelf shelf) const;
    void showShelf(Shelf shelf);
    void refreshList();
    void choose(const QString& key);
    void add();
    void copy();
    void remove();
    void asShipped();
    void give();
    void take();
    [[nodiscard]] QString key() const { return keys_[shelf_]; }

    Session& session_;
    ShopKeeper& keeper_;
    Shelf shelf_ = tools;
    std::array<QString, shelfCount> keys_;
    std::array<QPushButton*, shelfCount> shelves_{};
    QListWidget* list_;
    QWidget* middle_;
    QStackedWidget* pages_;
    std::array<BookCard*, shelfCount> cards_{}; ///< of the house rules, which are a page, none
    RulesPage* rulesPage_;
    QPushButton *add_, *copy_, *remove_, *shipped_, *takeOver_;
    QLabel *differs_, *emptyCard_, *said_;
    QTimer saidTimer_;
    QWidget* differsBar_;
};

} // namespace ferro::app
