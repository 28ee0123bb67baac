#include "app/shell/command_finder.h"

namespace ferro::app {

namespace {

/// How many letters must change, come or go to make one word of the other (Levenshtein 1966); more than `most` is told
/// as `most` + 1.
int farApart(const QString& a, const QString& b, int most) {
    if (std::abs(a.size() - b.size()) > most) return most + 1;
    std::vector<int> row(static_cast<std::size_t>(b.size()) + 1);
    for (std::size_t j = 0; j < row.size(); ++j) row[j] = static_cast<int>(j);
    for (int i = 0; i < a.size(); ++i) {
        int corner = row[0];
        row[0] = i + 1;
        for (int j = 0; j < b.size(); ++j) {
            const auto at = static_cast<std::size_t>(j) + 1;
            const int change = corner + (a[i] != b[j]);
            corner = row[at];
            row[at] = std::min({change, row[at] + 1, row[at - 1] + 1});
        }
    }
    return row.back();
}

} // namespace

int answersTo(const QString& name, const QString& typed) {
    const auto words = name.toLower().split(QRegularExpression("[^\\w]+"), Qt::SkipEmptyParts);
    int worst = 3;
    for (const auto& part : typed.toLower().split(' ', Qt::SkipEmptyParts)) {
        int best = 0;
        for (const auto& word : words) {
            const int slips = part.size() >= 6 ? 2 : part.size() >= 4 ? 1 : 0; // that a hurried hand makes
            if (word.startsWith(part))
                best = 3;
            else if (part.size() >= 3 && word.contains(part))
                best = std::max(best, 2);
            else if (slips && farApart(part, word.left(part.size()), slips) <= slips)
                best = std::max(best, 1);
        }
        worst = std::min(worst, best);
    }
    return worst;
}

CommandFinder::CommandFinder(QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName("commandFinder");
    setFrameShape(QFrame::Box);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 6, 6, 6);
    edit_ = new QLineEdit;
    edit_->setObjectName("commandFinderEdit");
    edit_->setPlaceholderText(tr("Its name, or nearly"));
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
    for (int wanted = 3; wanted > 0; --wanted) // what is called so first, then what is called nearly so
        for (auto* action : actions_) {
            const QString name = action->text().remove('&');
            const QString where = action->property("menu").toString();
            if (answersTo(where + " " + name + " " + action->property("alsoCalled").toString(), text) != wanted)
                continue;
            auto* item = new QListWidgetItem(where.isEmpty() ? name : where + "  ›  " + name, list_);
            if (!action->shortcut().isEmpty())
                item->setText(item->text() + "    " + action->shortcut().toString(QKeySequence::NativeText));
            item->setData(Qt::UserRole, QVariant::fromValue(static_cast<QObject*>(action)));
            if (!action->isEnabled()) item->setFlags(Qt::NoItemFlags);
        }
    if (list_->count() == 0) {
        auto* nothing = new QListWidgetItem(tr("Nothing is called “%1”. Try another word for it.").arg(text), list_);
        nothing->setFlags(Qt::NoItemFlags);
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
