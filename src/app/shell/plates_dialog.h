#pragma once

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QDialog>
#include <QListWidget>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/plates.h"
#include "mend/bridges.h"
#endif

namespace ferro::app {

/// A stencil for each colour: margin, pins, what becomes of islands; and the plates it comes to, in the order of
/// painting.
class PlatesDialog : public QDialog {
    Q_OBJECT
public:
    PlatesDialog(const job::Job& job, QWidget* parent);
    [[nodiscard]] const std::optional<job::Plates>& made() const { return made_; }

private:
    QuantityField* field(const QString& label, const char* name, Measure measure, double low, double high,
                         double value);
    [[nodiscard]] Result<job::Plates> make() const;
    void look();

    job::Job job_;
    std::optional<job::Plates> made_;
    QVBoxLayout* column_;
    QuantityField *margin_, *pin_, *bridge_, *number_, *overlap_;
    WordChoice* islands_;
    QCheckBox* jig_;
    QListWidget* list_;
    QLabel* words_;
    QPushButton* make_;
};

} // namespace ferro::app
