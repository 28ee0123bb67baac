#pragma once

#include <QAction>
#include <QFrame>
#include <QLineEdit>
#include <QListWidget>

namespace ferro::app {

/// Finds any action by a few letters of its words (Ctrl+K).
class CommandFinder : public QFrame {
    Q_OBJECT
public:
    explicit CommandFinder(QWidget* parent);
    void open(const QList<QAction*>& actions, QWidget* below);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void filter(const QString& text);
    void run(QListWidgetItem* item);
    QLineEdit* edit_;
    QListWidget* list_;
    QList<QAction*> actions_;
};

/// How well a name answers to what was typed, its words in any order: 3 when each begins a word of it, 2 when one only
/// stands within a word, 1 when one is misspelt by a letter or two, 0 when one is not there.
[[nodiscard]] int answersTo(const QString& name, const QString& typed);

} // namespace ferro::app
