#pragma once

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QDialog>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "artwork/repeat.h"
#endif

namespace ferro::app {

/// How the chosen pieces are repeated: in a grid, a ring or along a line. What they would become is on the bench
/// meanwhile.
class RepeatDialog : public QDialog {
    Q_OBJECT
public:
    /// `line`: the name of the chosen piece that the others may go along; none where there is none.
    RepeatDialog(const artwork::Repeat& usual, Units units, const QString& line, QWidget* parent);
    [[nodiscard]] artwork::Repeat repeat() const;
    /// What is to be said below: what it comes to, or why it cannot be done.
    void say(const QString& text, bool isProblem);

Q_SIGNALS:
    void changed();

private:
    void show_();
    WordChoice* way_;
    QuantityField *columns_, *rows_, *gapX_, *gapY_, *count_, *centreX_, *centreY_, *span_, *along_, *pitch_;
    QCheckBox *staggered_, *turns_;
    QLabel* words_;
    QPushButton* take_;
    std::array<std::vector<QWidget*>, 3> shown_; ///< by way
};

} // namespace ferro::app
