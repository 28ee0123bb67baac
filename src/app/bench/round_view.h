#pragma once

#include "app/shell/turner.h"

#include "app/bench/bench_facts.h"

#include <QSlider>
#include <QWidget>

namespace ferro::app {

/// The bench turned: the piece in the round, with clamps and findings where they are. A drag turns, with the middle
/// button it moves, the wheel goes nearer; the slider at the right lowers a cutting plane.
class RoundView : public QWidget {
    Q_OBJECT
public:
    explicit RoundView(Turner& turner, QWidget* parent = nullptr);
    void setFacts(std::shared_ptr<const proof::Proof> proof, std::vector<job::Clamp> clamps, double thickness,
                  Units units);

Q_SIGNALS:
    void pointerMoved(ferro::Vec2 at); ///< a place of the sheet that is seen below the pointer

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    [[nodiscard]] Vec2 inPicture(QPointF at) const;
    [[nodiscard]] QPointF onScreen(Vec2 place, double z) const;
    void paintClamps(QPainter& painter) const;
    void paintFindings(QPainter& painter) const;
    void paintWords(QPainter& painter) const;

    Turner& turner_;
    std::shared_ptr<const proof::Proof> proof_;
    std::vector<job::Clamp> clamps_;
    double thickness_ = 0;
    Units units_ = Units::mm;
    QSlider* section_;
    QPointF lastAt_;
    std::optional<QPointF> pointer_;
};

} // namespace ferro::app
