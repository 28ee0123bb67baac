#include "app/shell/unit_question.h"

#include "app/widgets/parts.h"
#include "base/quantity.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

namespace ferro::app {

UnitQuestion::UnitQuestion(const QString& name, const formats::Drawing::Drawn& drawn, Vec2 sheet, Vec2 bed,
                           QWidget* parent)
    : QDialog(parent), guesses_(formats::guessesOf(drawn, sheet, bed)), choices_(new QButtonGroup(this)) {
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
    for (std::size_t i = 0; i < guesses_.size(); ++i) {
        const auto& guess = guesses_[i];
        const auto word = QString::fromUtf8(guess.word.data(), static_cast<qsizetype>(guess.word.size()));
        auto* button = new QRadioButton(word);
        button->setObjectName("unit_" + word);
        button->setChecked(i == 0); // the likeliest
        choices_->addButton(button, static_cast<int>(i));
        const int row = static_cast<int>(i);
        const auto cell = [&](const QString& text, int at, Qt::Alignment to = Qt::AlignRight) {
            auto* label = new QLabel(text);
            label->setAlignment(to | Qt::AlignVCenter);
            grid->addWidget(label, row, at);
            return label;
        };
        grid->addWidget(button, row, 0);
        cell(tr("%1 × %2 mm").arg(guess.size.x, 0, 'f', 1).arg(guess.size.y, 0, 'f', 1), 1);
        cell(tr("%1 × %2 inch").arg(guess.size.x / mmPerInch, 0, 'f', 2).arg(guess.size.y / mmPerInch, 0, 'f', 2), 2)
            ->setProperty("faded", true);
        cell(QString::fromStdString(guess.why), 3, Qt::AlignLeft)->setObjectName("why_" + word);
    }
    column->addLayout(grid);
    strays_ =
        new QCheckBox(drawn.strays == 1 ? tr("Leave out the one that lies far from all the rest")
                                        : tr("Leave out the %1 that lie far from all the rest").arg(drawn.strays));
    strays_->setObjectName("unitStrays");
    strays_->setVisible(drawn.strays > 0);
    column->addWidget(strays_);
    addAnswers(this, column, tr("Add at this size"), "unitTake", tr("Leave it out"));
}

double UnitQuestion::mmPerUnit() const { return guesses_[static_cast<std::size_t>(choices_->checkedId())].mm; }

} // namespace ferro::app
