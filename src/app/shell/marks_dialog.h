#pragma once

#include "app/background/background.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"
#include "app/widgets/ringed_picture.h"

#include <QListWidget>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/camera.h"
#endif

namespace ferro::app {

/// Where the printed marks of a sheet lie on the bed, in a picture by the machine's camera; or where a card's spots are
/// seen, which tells how the camera stands. What was not found is clicked, or typed.
class MarksDialog : public QDialog {
    Q_OBJECT
public:
    enum class Of { sheet, camera };
    MarksDialog(const job::Job& job, const QString& picture, Of of, Background& background, QWidget* parent);

    [[nodiscard]] const std::optional<job::Correction>& correction() const { return correction_; }
    [[nodiscard]] const std::optional<job::CameraFound>& camera() const { return found_; }

private:
    void take(Result<LookedAt> seen);
    void clicked(Vec2 px);
    void typed();
    void choose(int mark);
    void showChosen();
    void look();
    void lookForCamera();
    [[nodiscard]] Vec2 drawnAt(std::size_t mark) const;

    job::Job job_;
    Of of_;
    std::vector<Vec2> drawn_;
    double radius_ = 2.5; ///< mm, of a mark
    std::optional<Viewed> view_;
    std::vector<std::optional<Vec2>> places_; ///< where each mark is; of a card's spots those told
    LookedAt seen_;
    std::optional<job::Correction> correction_;
    std::optional<job::CameraFound> found_;
    RingedPicture* picture_;
    QListWidget* list_;
    QuantityField *x_, *y_;
    QPushButton *leave_, *take_;
    QLabel* words_;
};

} // namespace ferro::app
