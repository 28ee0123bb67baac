#pragma once

#include <QButtonGroup>
#include <QDialog>

#ifndef Q_MOC_RUN // it reads no concepts
#include "formats/drawing.h"
#endif

namespace ferro::app {

/// Asks what a drawing's numbers mean, with the size that each answer would give.
class UnitQuestion : public QDialog {
    Q_OBJECT
public:
    UnitQuestion(const QString& name, const formats::Drawing::Drawn& drawn, QWidget* parent);
    [[nodiscard]] double mmPerUnit() const;

private:
    QButtonGroup* choices_;
};

} // namespace ferro::app
