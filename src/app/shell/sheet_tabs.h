#pragma once

#include "job/job.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QWidget>

namespace ferro::app {

/// The sheets of a job in a row above the bench, with how much lies on each. Shown from the second sheet on, or when
/// something lies beside them.
class SheetTabs : public QWidget {
    Q_OBJECT
public:
    explicit SheetTabs(QWidget* parent = nullptr);
    void setJob(const job::Job& job);
    /// The tab at this place of the screen, pressed down while pieces are held over it; none: all are up.
    std::optional<job::SheetId> holdOver(const QPoint& global);

Q_SIGNALS:
    /// No sheet: what lies beside all of them.
    void asked(ferro::job::SheetId sheet);
    void addAsked();

private:
    struct Tab {
        job::SheetId sheet;
        QString name;
        int pieces = 0;
        friend bool operator==(const Tab&, const Tab&) = default;
    };
    QHBoxLayout* row_;
    QButtonGroup* group_;
    QPushButton* add_;
    std::vector<Tab> shown_;
};

} // namespace ferro::app
