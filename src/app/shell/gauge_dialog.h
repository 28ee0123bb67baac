#pragma once

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QComboBox>
#include <QDialog>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/gauge.h"
#endif

namespace ferro::app {

class ShopKeeper;

/// Test pieces: a strip of notches from tight to loose, a comb of bars; and what they told when they were cut.
class GaugeDialog : public QDialog {
    Q_OBJECT
public:
    GaugeDialog(const job::Job& bench, ShopKeeper& shop, QWidget* parent);
    /// The job to be cut, when that was asked for.
    [[nodiscard]] const std::optional<job::Job>& made() const { return made_; }

private:
    QuantityField* field(QVBoxLayout* into, const QString& label, const char* name, Measure measure, double low,
                         double high, double value);
    [[nodiscard]] bool fits() const { return kind_->chosen() == 0; }
    [[nodiscard]] Result<job::Job> make() const;
    [[nodiscard]] job::FitGauge gauge() const;
    [[nodiscard]] job::KerfComb comb() const;
    void look();
    void keep();

    job::Job bench_;
    ShopKeeper& shop_;
    std::optional<job::Job> made_;
    WordChoice* kind_;
    QWidget *fitPart_, *kerfPart_;
    QuantityField *from_, *to_, *notches_, *press_, *snug_, *loose_, *bars_, *width_, *measured_;
    QComboBox* tool_;
    QLabel* words_;
    QPushButton *make_, *keep_;
};

} // namespace ferro::app
