#pragma once

#include "app/stations/edge_section.h"
#include "app/stations/file_section.h"
#include "app/stations/lie_section.h"
#include "app/stations/machine_section.h"
#include "app/stations/queue_section.h"
#include "app/stations/station_sheet.h"
#include "link/run_times.h"
#include "program/border.h"

#include <QComboBox>
#include <QDateTime>
#include <QProgressBar>

namespace ferro::app {

/// The Run station: the machine, its zero, the program that is streamed to it, and its files.
class RunSheet : public StationSheet {
    Q_OBJECT
public:
    explicit RunSheet(Session& session);
    void refresh() override;

private:
    QLayout* jogPad();
    void jog(double x, double y, double z);
    void start();
    void goOn();
    void takeBoard();
    void keepTime();
    void countRun();
    void listSteps();
    [[nodiscard]] long resumableLine();
    [[nodiscard]] QString zeroKey() const;
    void borderWalk(program::Border by);
    MachineSection* machine_;
    FileSection* files_;
    QueueSection* queue_;
    std::optional<job::SheetId> counted_; ///< the sheet whose whole run is under way
    QString nextWords_;                   ///< what the person does before the next run
    std::optional<link::RunTime> timed_;  ///< of the whole run that is under way
    link::RunsOn habit_;                  ///< of this machine
    EdgeSection* edge_;
    FeelSection* feel_;
    QuantityField *jogStep_, *plate_;
    QLabel *prompt_, *left_;
    QComboBox* from_; ///< the step to begin with
    QWidget* fromRow_;
    QProgressBar* progress_;
    QPushButton *home_, *zero_, *walk_, *walkClose_, *start_, *hold_, *resume_, *stop_, *resumeFrom_, *last_, *touch_;
    QList<QPushButton*> jogs_;
    QList<QPushButton*> axes_; ///< zero of one axis each
    link::Run run_;            ///< that is being streamed, or was; its board goes when it is counted off
    std::pair<QDateTime, qint64> logSeen_;
    QString logFile_;
    long logDone_ = 0;
    QString lastZeroOf_; ///< what `hasLastZero_` was looked up for
    bool hasLastZero_ = false;
};

} // namespace ferro::app
