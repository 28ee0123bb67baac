#pragma once

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTimer>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "program/for_job.h"
#endif

namespace ferro::app {

/// A dialect on the desk: its numbers and the lines it puts round what is cut, beside a little program written in it,
/// read back as it is typed. What does not read back as meant cannot be kept.
class DialectDialog : public QDialog {
    Q_OBJECT
public:
    DialectDialog(const program::Dialect& dialect, QWidget* parent);
    [[nodiscard]] program::Dialect dialect() const;
    /// Whether it was kept, or the own one was taken away.
    [[nodiscard]] bool isDone() const { return done_; }

private:
    void show(const program::Dialect& dialect);
    void look();
    void keep();
    program::Dialect from_;
    QLineEdit *key_, *title_, *ending_, *comment_;
    WordChoice *units_, *arcs_;
    QuantityField *decimals_, *feedDecimals_, *numbers_;
    QCheckBox *modal_, *cycles_, *wear_, *heights_;
    std::array<QPlainTextEdit*, 9>
        lines_{}; ///< header, tool change, start, stop, pause, footer, air on and off, pierce
    std::array<QLabel*, 9> labels_{};
    QPlainTextEdit* sample_;
    QLabel *verdict_, *kept_;
    QPushButton *keep_, *away_;
    QTimer soon_;
    bool done_ = false;
};

} // namespace ferro::app
