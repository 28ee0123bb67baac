#pragma once

#include "app/shell/rehearsal.h"
#include "app/stations/station_sheet.h"

#include <QComboBox>
#include <QDateTime>
#include <QPlainTextEdit>
#include <QProgressBar>

namespace ferro::app {

/// The Run station: files, machine, program.
class RunSheet : public StationSheet {
    Q_OBJECT
public:
    explicit RunSheet(Session& session);
    void refresh() override;
    /// The programs of this sheet, or of all sheets on which something lies.
    void writeTo(const QString& folder, bool allSheets = false);

private:
    void editDialect();
    void showOutput();
    QLayout* jogPad();
    void jog(double x, double y, double z);
    void start();
    void goOn();
    [[nodiscard]] long resumableLine();
    [[nodiscard]] QString zeroKey() const;
    void borderWalk();
    void showProgram();
    void listPorts();
    [[nodiscard]] QString conversation() const;
    QComboBox* dialect_;
    WordChoice* each_;
    QLineEdit *fileName_, *device_;
    QLabel* files_;
    QuantityField *jogStep_, *faster_, *plate_;
    QLabel *state_, *where_, *limits_, *problem_, *prompt_, *left_;
    QProgressBar* progress_;
    QPlainTextEdit* text_;
    std::unique_ptr<Rehearsal> rehearsal_;
    QPushButton *write_, *writeAll_, *connect_, *standIn_, *rehearse_, *home_, *zero_, *walk_, *start_, *hold_,
        *resume_, *stop_, *resumeFrom_, *last_, *touch_, *ports_;
    QList<QPushButton*> jogs_;
    QList<QPushButton*> axes_; ///< zero of one axis each
    program::Program program_;
    link::Run run_; ///< that is being streamed
    std::pair<QDateTime, qint64> logSeen_;
    QString logFile_;
    long logDone_ = 0;
    std::uint64_t programRevision_ = 0;
    bool walked_ = false;
    bool boardTaken_ = true; ///< of the run that is streamed, once it is finished
    QString lastZeroOf_;     ///< what `hasLastZero_` was looked up for
    bool hasLastZero_ = false;
};

} // namespace ferro::app
