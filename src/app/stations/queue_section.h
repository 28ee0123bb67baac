#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"

#include <QSpinBox>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "link/queue.h"
#endif

namespace ferro::app {

/// Which sheets are run how often, how far that has come and which comes next; kept beside the run's log.
class QueueSection : public Section {
    Q_OBJECT
public:
    explicit QueueSection(Session& session);
    void refresh();
    /// A whole run of this sheet has come to its end: counts it, and lays the next one out. What is to be done by the
    /// person, empty when the queue has nothing more to say.
    [[nodiscard]] QString takeFinished(job::SheetId sheet, double seconds);

Q_SIGNALS:
    void told(const QString& text, bool isProblem);

private:
    struct Row {
        QWidget* whole;
        QLabel *name, *done;
        QSpinBox* copies;
    };
    void keep(link::Queue queue);
    void load();

    Session& session_;
    link::Queue queue_;
    QString file_;               ///< that it was read from
    std::uint64_t revision_ = 0; ///< of the job that its sheets are of
    std::vector<Row> rows_;
    QLabel* words_;
    QPushButton *anew_, *go_;
};

} // namespace ferro::app
