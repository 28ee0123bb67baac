#pragma once

#include <QDialog>
#include <QImage>
#include <QVBoxLayout>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "picture/round_marks.h"
#endif

namespace ferro::app {

/// A picture with rings on it; a click says where, in its pixels. The wheel brings nearer, a drag moves.
class RingedPicture : public QWidget {
    Q_OBJECT
public:
    struct Ring {
        Vec2 at; ///< px
        double radius = 0;
        QString words;
        enum class As { found, missing, chosen } as = As::found;
        std::vector<Vec2> outline = {}; ///< px, drawn instead of a ring, the words in its middle
    };
    RingedPicture();
    void setImage(QImage image);
    void setRings(std::vector<Ring> rings);
    /// Where on the widget a place of the picture is shown.
    [[nodiscard]] QPointF shownAt(Vec2 px) const;

Q_SIGNALS:
    void clicked(Vec2 px);

protected:
    void paintEvent(QPaintEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] double scale() const;
    [[nodiscard]] QPointF origin() const;
    QImage image_;
    std::vector<Ring> rings_;
    double nearer_ = 1;
    QPointF shift_; ///< of the picture's middle from the widget's, in pixels of the picture
    QPointF pressed_, last_;
    bool dragged_ = false;
};

/// A picture as it is looked at and measured, with the round marks in it.
struct LookedAt {
    QImage image;
    picture::Grey grey;
    std::vector<picture::RoundMark> round;

    [[nodiscard]] static Result<LookedAt> of(const std::string& file);
    /// The middle of the round mark at a place, within so many of its radii; the place itself where there is none.
    [[nodiscard]] Vec2 snapped(Vec2 px, double radii = 1.5) const;
};

/// Puts the picture into a dialog, with a column beside it; answers that.
QVBoxLayout* besidePicture(QDialog* dialog, RingedPicture* picture);

} // namespace ferro::app
