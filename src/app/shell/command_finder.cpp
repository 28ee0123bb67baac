#include "app/shell/command_finder.h"

namespace ferro::app {

bool answersTo(const QString& name, const QString& typed) {
    const auto words = name.split(QRegularExpression("[^\\w]+"), Qt::SkipEmptyParts);
    for (const auto& part : typed.split(' ', Qt::SkipEmptyParts))
        if (std::none_of(words.begin(), words.end(),
                         [&](const QString& word) { return word.startsWith(part, Qt::CaseInsensitive); }))
            return false;
    return true;
}

CommandFinder::CommandFinder(QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName("commandFinder");
    setFrameShape(QFrame::Box);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 6, 6, 6);
    edit_ = new QLineEdit;
    edit_->setObjectName("commandFinderEdit");
    edit_->setPlaceholderText(tr("Type what you want to do"));
    list_ = new QListWidget;
    list_->setObjectName("commandFinderList");
    list_->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(edit_);
    layout->addWidget(list_);
    edit_->installEventFilter(this);
    connect(edit_, &QLineEdit::textChanged, this, &CommandFinder::filter);
    connect(list_, &QListWidget::itemClicked, this, &CommandFinder::run);
}

void CommandFinder::open(const QList<QAction*>& actions, QWidget* below) {
    actions_ = actions;
    edit_->clear();
    filter({});
    resize(380, 320);
    const QPoint corner = below->mapToGlobal(QPoint(below->width() - width(), below->height() + 2));
    move(corner);
    show();
    edit_->setFocus();
}

void CommandFinder::filter(const QString& text) {
    list_->clear();
    for (auto* action : actions_) {
        const QString name = action->text().remove('&');
        const QString where = action->property("menu").toString();
        if (!answersTo(where + " " + name, text)) continue;
        auto* item = new QListWidgetItem(where.isEmpty() ? name : where + "  ›  " + name, list_);
        if (!action->shortcut().isEmpty())
            item->setText(item->text() + "    " + action->shortcut().toString(QKeySequence::NativeText));
        item->setData(Qt::UserRole, QVariant::fromValue(static_cast<QObject*>(action)));
        if (!action->isEnabled()) item->setFlags(Qt::NoItemFlags);
    }
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->flags() & Qt::ItemIsEnabled) {
            list_->setCurrentRow(i);
            break;
        }
}

void CommandFinder::run(QListWidgetItem* item) {
    if (!item || !(item->flags() & Qt::ItemIsEnabled)) return;
    auto* action = qobject_cast<QAction*>(item->data(Qt::UserRole).value<QObject*>());
    hide();
    if (action) action->trigger();
}

bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            list_->setCurrentRow(
                std::clamp(list_->currentRow() + (key == Qt::Key_Down ? 1 : -1), 0, list_->count() - 1));
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) return run(list_->currentItem()), true;
        if (key == Qt::Key_Escape) return hide(), true;
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace ferro::app
