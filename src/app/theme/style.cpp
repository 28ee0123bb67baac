#include "app/theme/style.h"

#include "app/theme/theme.h"

#include <QIconEngine>
#include <QProxyStyle>

namespace ferro::app {

namespace {

/// "There is more": two small angles, drawn when they are shown.
class MoreIcon : public QIconEngine {
public:
    void paint(QPainter* painter, const QRect& rect, QIcon::Mode, QIcon::State) override {
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setPen(theme().pen(Token::ink, 1.5));
        const QPointF middle = QRectF(rect).center();
        for (const double x : {-3.0, 2.0})
            painter->drawPolyline(
                QPolygonF{middle + QPointF(x, -4), middle + QPointF(x + 3, 0), middle + QPointF(x, 4)});
        painter->restore();
    }
    QIconEngine* clone() const override { return new MoreIcon(*this); }
};

class Style : public QProxyStyle {
public:
    Style() : QProxyStyle(QStringLiteral("Fusion")) {}
    QIcon standardIcon(StandardPixmap which, const QStyleOption* option, const QWidget* widget) const override {
        if (which == SP_ToolBarHorizontalExtensionButton) return QIcon(new MoreIcon);
        return QProxyStyle::standardIcon(which, option, widget);
    }
};

} // namespace

QStyle* madeStyle() { return new Style; }

} // namespace ferro::app
