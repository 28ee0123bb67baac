#pragma once

#include "base/quantity.h"
#include "geometry/vec.h"

#include <QBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QWidget>

namespace ferro::app {

/// The digital readout above the bench: shows where and how large, and takes typing.
class Dro : public QWidget {
    Q_OBJECT
public:
    struct Facts {
        ferro::Box bounds; ///< of the selection; empty: none
        Vec2 pointer;      ///< shown when nothing is selected
        std::size_t points = 0;
        double zoom = 100; ///< %
        Units units = Units::mm;
        Vec2 zero;                        ///< positions are from here
        Vec2 stays = {-1, -1};            ///< what of the bounds X and Y are of, and what stays when it is sized
        std::optional<double> turn = 0.0; ///< radians from how it came in; none: they differ
    };
    explicit Dro(QWidget* parent = nullptr);
    void setFacts(const Facts& facts);

Q_SIGNALS:
    void moveAsked(ferro::Vec2 by);
    void sizeAsked(double width, double height); ///< 0: in proportion
    void turnAsked(double radians);              ///< more
    void zoomAsked(double percent);
    void refused(const QString& why);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    QHBoxLayout* box(const QString& label);
    QLineEdit* field(const QString& label, const char* name, int width);
    void typed(QLineEdit* edit);
    void fit(); ///< leaves out what there is no room for
    QLineEdit *x_, *y_, *w_, *h_, *turn_, *zoom_;
    QLabel* points_;
    QToolButton* proportion_;
    QList<QWidget*> boxes_; // the last ones give way when it is narrow
    Facts facts_;
};

} // namespace ferro::app
