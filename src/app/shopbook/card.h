#pragma once

#include "app/shopbook/keeper.h"
#include "app/shopbook/tool_drawing.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include "plan/kind.h"

#include <QGridLayout>
#include <QScrollArea>
#include <map>

namespace ferro::app {

/// One thing of the shop book, all of it to read and to change.
class BookCard : public QScrollArea {
    Q_OBJECT
public:
    explicit BookCard(ShopKeeper& keeper);
    /// Shows what the book has under this key now. False: it has it no longer.
    virtual bool show(const QString& key, Units units) = 0;

Q_SIGNALS:
    /// Its key is another now.
    void renamed(const QString& key);

protected:
    [[nodiscard]] QuantityField* number(const QString& label, Measure measure, const char* name);
    [[nodiscard]] QLineEdit* addName(); ///< at the top
    void add(QWidget* widget);          ///< over the whole width
    void addBeside(QWidget* widget);    ///< at the left, the next one at the right
    void addBeside(const QString& label, QWidget* widget);
    void begin(const QString& key, const QString& name);
    /// Whether the widgets are still those of this thing.
    [[nodiscard]] bool holds(const QString& key) const { return key == key_ && body_; }
    /// Empties the card: it is of something else.
    void clear();
    ShopKeeper& keeper_;
    QString key_;
    Units units_ = Units::mm;

private:
    void flow(); ///< in as many columns as there is room for
    void resizeEvent(QResizeEvent* event) override;
    QWidget* body_ = nullptr;
    QGridLayout* grid_ = nullptr;
    std::vector<std::pair<QWidget*, bool>> widgets_; ///< in their order, and whether over the whole width
    int columns_ = 2;
};

/// A machine, tool or material by the tables of shop/fields.h.
template<class Thing> class ThingCard final : public BookCard {
public:
    using BookCard::BookCard;
    bool show(const QString& key, Units units) override;

private:
    void build(const Thing& thing);
    void set(std::string_view name, const QString& label, const std::string& value, quint64 gesture = 0);
    [[nodiscard]] std::optional<Thing> current() const;
    QLineEdit* name_ = nullptr;
    ToolDrawing* drawing_ = nullptr;
    std::vector<std::pair<std::size_t, QuantityField*>> numbers_;
    std::vector<QComboBox*> words_;
    std::vector<std::pair<std::string, QWidget*>> texts_;
    std::vector<shop::Proven> proven_; ///< of a material, as it is shown
};

} // namespace ferro::app
