#pragma once

#include "app/background/background.h"
#include "app/widgets/parts.h"
#include "app/widgets/ringed_picture.h"

#include <QListWidget>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/greys.h"
#endif

namespace ferro::app {

/// A picture of a swatch card that was cut: straightened by its corner marks, found or clicked, with how dark and how
/// even each cell came out. The cell that is chosen is to be proven.
class PickDialog : public QDialog {
    Q_OBJECT
public:
    PickDialog(const job::Job& card, const QString& picture, Background& background, QWidget* parent);
    [[nodiscard]] plan::StepId chosen() const;
    /// What is to be proven instead: even greys for pictures, from the cells like the chosen one; none: its settings.
    [[nodiscard]] std::optional<job::Greys> greys() const { return wantsGreys_ ? greys_ : std::nullopt; }

private:
    void take(Result<LookedAt> seen);
    void clicked(Vec2 px);
    void read();
    void look();
    void say(const QString& text, bool isProblem);

    job::Job card_;
    LookedAt seen_;
    std::vector<Vec2> corners_; ///< px, as far as they are known
    std::optional<job::SwatchReading> reading_;
    std::optional<job::Greys> greys_; ///< that the cells like the chosen one make
    bool wantsGreys_ = false;
    RingedPicture* picture_;
    QListWidget* list_;
    QLabel* words_;
    QPushButton *again_, *takeGreys_, *take_;
};

} // namespace ferro::app
