#include "app/shell/unit_question.h"

#include "app/widgets/parts.h"
#include "formats/dxf_in.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

namespace ferro::app {

UnitQuestion::UnitQuestion(const QString& name, const formats::Drawing::Drawn& drawn, QWidget* parent)
    : QDialog(parent), choices_(new QButtonGroup(this)) {
    setObjectName("unitQuestion");
    setWindowTitle(tr("Unit of the drawing"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(12);
    auto* words = new QLabel(tr("%1 does not say what one unit is. How large is it?").arg(name));
    words->setWordWrap(true);
    column->addWidget(words);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(20);
    grid->setVerticalSpacing(8);
    for (std::size_t i = 0; i < formats::drawnUnits.size(); ++i) {
        const auto& unit = formats::drawnUnits[i];
        const Vec2 mm = drawn.units * unit.mm;
        const auto word = QString::fromUtf8(unit.word.data(), static_cast<qsizetype>(unit.word.size()));
        auto* button = new QRadioButton(word);
        button->setObjectName("unit_" + word);
        button->setChecked(unit.mm == drawn.mmPerUnit);
        choices_->addButton(button, static_cast<int>(i));
        const int row = static_cast<int>(i);
        const auto cell = [&](const QString& text, int at) {
            auto* label = new QLabel(text);
            label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
            grid->addWidget(label, row, at);
            return label;
        };
        grid->addWidget(button, row, 0);
        cell(tr("%1 × %2 mm").arg(mm.x, 0, 'f', 1).arg(mm.y, 0, 'f', 1), 1);
        cell(tr("%1 × %2 inch").arg(mm.x / 25.4, 0, 'f', 2).arg(mm.y / 25.4, 0, 'f', 2), 2)->setProperty("faded", true);
    }
    column->addLayout(grid);
    addAnswers(this, column, tr("Add at this size"), "unitTake", tr("Leave it out"));
}

double UnitQuestion::mmPerUnit() const {
    return formats::drawnUnits[static_cast<std::size_t>(choices_->checkedId())].mm;
}

} // namespace ferro::app
