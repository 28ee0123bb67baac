#pragma once

#include "app/shell/session.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/part_list.h"
#endif

namespace ferro::app {

/// All parts of the job as a list with pictures: what is wanted, what lies where. Rows and what is chosen on the bench
/// go together; how many and how thick are typed in the list, also for several rows at once.
class PartsDialog : public QDialog {
    Q_OBJECT
public:
    PartsDialog(Session& session, QWidget* parent);

private:
    void refresh();
    void chooseRows();
    void showChosen();
    void typed(int row, int column);
    [[nodiscard]] QIcon pictureOf(const job::ListedPart& part) const;

    Session& session_;
    std::vector<job::ListedPart> parts_;
    QLineEdit* filter_;
    QTableWidget* table_;
    QLabel* words_;
    bool filling_ = false;
};

} // namespace ferro::app
