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

/// All words of `typed` begin a word of `name`, in any order.
[[nodiscard]] bool answersTo(const QString& name, const QString& typed);

} // namespace ferro::app
