#pragma once

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QComboBox>
#include <QDialog>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/swatch.h"
#endif

namespace ferro::app {

/// What a material test tries: a kind of step, one setting upwards and one to the right.
class SwatchDialog : public QDialog {
    Q_OBJECT
public:
    SwatchDialog(const job::Job& bench, QWidget* parent);
    [[nodiscard]] job::SwatchCard card() const;

private:
    struct Axis {
        QComboBox* setting;
        QuantityField *from, *to, *count;
    };
    Axis axis(QVBoxLayout* into, const QString& label, const char* name);
    void offerSettings();
    void begin(const Axis& axis); ///< its usual range
    void look();
    [[nodiscard]] job::SwatchAxis axisOf(const Axis& axis) const;
    [[nodiscard]] const plan::Kind* kind() const;

    job::Job bench_;
    QComboBox* kind_;
    Axis rows_, columns_;
    QuantityField *cell_, *gap_;
    QLabel* words_;
    QPushButton* make_;
};

} // namespace ferro::app
