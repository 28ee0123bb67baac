#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"

#include <QCheckBox>
#include <QScrollArea>

namespace ferro::app {

/// The house rules as a table, each row with what it comes to in the open job.
class RulesPage : public QScrollArea {
    Q_OBJECT
public:
    RulesPage(Session& session, ShopKeeper& keeper);
    void refresh();

Q_SIGNALS:
    /// The steps of the open job are to be made by the rules.
    void applyAsked();

private:
    struct Row {
        QWidget* line;
        QLineEdit *layers, *above, *below;
        QComboBox* role;
        QPushButton *recipes, *up, *down, *remove;
        QLabel* fits;
    };
    void build();
    Row made(std::size_t row);
    void change(std::size_t row, const QString& label, const std::function<void(plan::HouseRule&)>& by);
    void chooseRecipes(std::size_t row, QPushButton* button);
    void count();

    Session& session_;
    ShopKeeper& keeper_;
    QVBoxLayout* column_;
    QWidget* table_ = nullptr;
    std::vector<Row> rows_;
    QLabel *empty_, *left_;
    QCheckBox* arrival_;
    QPushButton *add_, *apply_;
};

} // namespace ferro::app
