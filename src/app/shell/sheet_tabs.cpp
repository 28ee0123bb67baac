#include "app/shell/sheet_tabs.h"

#include <map>

namespace ferro::app {

SheetTabs::SheetTabs(QWidget* parent) : QWidget(parent), group_(new QButtonGroup(this)) {
    setObjectName("sheetTabs");
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(8, 0, 8, 4);
    row_->setSpacing(4);
    row_->setSizeConstraint(QLayout::SetNoConstraint); // many sheets do not widen the window
    setMinimumWidth(200);
    setFixedHeight(30);
    add_ = new QPushButton(tr("Add a sheet"));
    add_->setObjectName("sheetTabAdd");
    add_->setStyleSheet("QPushButton { padding: 2px 8px; }");
    connect(add_, &QPushButton::clicked, this, &SheetTabs::addAsked);
    row_->addWidget(add_);
    row_->addStretch();
    connect(group_, &QButtonGroup::idClicked, this,
            [this](int index) { Q_EMIT asked(shown_[static_cast<std::size_t>(index)].sheet); });
}

void SheetTabs::setJob(const job::Job& job) {
    std::map<job::SheetId, int> pieces;
    for (const auto& item : job.artwork->items)
        if (artwork::shapeOf(item)) ++pieces[item.sheet];
    std::vector<Tab> tabs;
    for (const auto& sheet : job.sheets)
        tabs.push_back({sheet.id, QString::fromStdString(sheet.name), pieces[sheet.id]});
    const bool beside = std::any_of(job.artwork->items.begin(), job.artwork->items.end(),
                                    [](const artwork::Item& item) { return !item.sheet; });
    if (beside || !job.artwork->sheet) tabs.push_back({{}, tr("Beside"), pieces[job::SheetId{}]});
    setVisible(tabs.size() > 1);
    if (tabs != shown_) {
        qDeleteAll(group_->buttons()); // which one was clicked is known by its sheet, not by the button
        for (std::size_t i = 0; i < tabs.size(); ++i) {
            auto* button = new QPushButton(tr("%1 · %2").arg(tabs[i].name.left(40)).arg(tabs[i].pieces));
            button->setCheckable(true);
            button->setObjectName(QStringLiteral("sheetTab %1").arg(tabs[i].name));
            button->setAccessibleName(tr("%1, %n pieces", nullptr, tabs[i].pieces).arg(tabs[i].name));
            button->setToolTip(tabs[i].sheet ? tr("Lay %1 out").arg(tabs[i].name)
                                             : tr("What lies on no sheet; it is not cut"));
            button->setStyleSheet("QPushButton { padding: 2px 10px; }");
            group_->addButton(button, static_cast<int>(i));
            row_->insertWidget(static_cast<int>(i), button);
        }
        shown_ = std::move(tabs);
    }
    for (std::size_t i = 0; i < shown_.size(); ++i)
        if (shown_[i].sheet == job.artwork->sheet) group_->button(static_cast<int>(i))->setChecked(true);
}

std::optional<job::SheetId> SheetTabs::holdOver(const QPoint& global) {
    std::optional<job::SheetId> found;
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        auto* button = group_->button(static_cast<int>(i));
        const bool over = isVisible() && button->rect().contains(button->mapFromGlobal(global));
        button->setDown(over);
        if (over) found = shown_[i].sheet;
    }
    return found;
}

} // namespace ferro::app
