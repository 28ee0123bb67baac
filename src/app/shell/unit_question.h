#pragma once

#include <QButtonGroup>
#include <QCheckBox>
#include <QDialog>

#ifndef Q_MOC_RUN // it reads no concepts
#include "formats/drawing.h"
#endif

namespace ferro::app {

/// Asks what a drawing's numbers mean, with the size that each answer would give.
class UnitQuestion : public QDialog {
    Q_OBJECT
public:
    /// `sheet`, `bed`: mm, what makes one answer likelier than another.
    UnitQuestion(const QString& name, const formats::Drawing::Drawn& drawn, Vec2 sheet, Vec2 bed, QWidget* parent);
    [[nodiscard]] double mmPerUnit() const;
    [[nodiscard]] bool dropStrays() const { return strays_->isChecked(); }

private:
    std::vector<formats::UnitGuess> guesses_;
    QButtonGroup* choices_;
    QCheckBox* strays_;
};

} // namespace ferro::app
