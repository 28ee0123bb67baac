#include "app/shopbook/entry_painter.h"

#include "app/shopbook/drawer.h"
#include "app/theme/theme.h"
#include "geometry/flatten.h"
#include "job/boards.h"

#include <QPainterPath>

namespace ferro::app {

void EntryPainter::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const QRectF area = option.rect;
    if (option.state & QStyle::State_Selected) {
        painter->fillRect(area, theme().color(Token::card));
        painter->fillRect(QRectF(area.left(), area.top(), 3, area.height()), theme().color(Token::oxide));
    }
    sign(painter, QRectF(area.left() + 12, area.top() + 6, 32, 32), index);
    const QString from = index.data(fromRole).toString();
    painter->setPen(theme().color(Token::ink));
    painter->setFont(theme().text(13, option.state & QStyle::State_Selected));
    const double room = area.width() - 56 - (from.isEmpty() ? 8 : 62);
    painter->drawText(
        QRectF(area.left() + 52, area.top() + 4, room, 19), Qt::AlignVCenter,
        painter->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, static_cast<int>(room)));
    painter->setFont(theme().caption());
    painter->setPen(theme().color(Token::faded));
    painter->drawText(QRectF(area.left() + 52, area.top() + 22, area.width() - 60, 16), Qt::AlignVCenter,
                      painter->fontMetrics().elidedText(index.data(moreRole).toString(), Qt::ElideRight,
                                                        static_cast<int>(area.width() - 60)));
    painter->drawText(QRectF(area.right() - 62, area.top() + 4, 54, 19), Qt::AlignRight | Qt::AlignVCenter, from);
    painter->restore();
}

void EntryPainter::sign(QPainter* painter, const QRectF& where, const QModelIndex& index) const {
    const auto key = index.data(keyRole).toString().toStdString();
    const auto& book = keeper_.book();
    switch (static_cast<ShopDrawer::Shelf>(index.data(shelfRole).toInt())) {
    case ShopDrawer::tools:
        if (const auto tool = book.tool(key)) drawTool(painter, where, *tool);
        break;
    case ShopDrawer::materials:
        if (const auto material = book.material(key)) {
            painter->setPen(theme().pen(Token::rule));
            painter->setBrush(QColor(QString::fromStdString(material->colour)));
            painter->drawRect(where.adjusted(2, 4, -2, -4));
        }
        break;
    case ShopDrawer::stock:
        for (const auto& board : book.boards)
            if (board.key == key) drawBoard(painter, where.adjusted(2, 4, -2, -4), board);
        break;
    case ShopDrawer::recipes:
        if (const auto* recipe = plan::recipeNamed(keeper_.house(), key)) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme().pattern(&plan::kindOf(recipe->step)));
            painter->drawRect(where.adjusted(5, 5, -5, -5));
        }
        break;
    case ShopDrawer::rules:
    case ShopDrawer::shelfCount: break;
    case ShopDrawer::machines: // a bed with its travel
        painter->setPen(theme().pen(Token::iron, 1.5));
        painter->setBrush(Qt::NoBrush);
        painter->drawRect(where.adjusted(3, 8, -3, -6));
        painter->drawLine(QPointF(where.left() + 3, where.center().y()),
                          QPointF(where.right() - 3, where.center().y()));
        painter->drawEllipse(where.center(), 2.5, 2.5);
    }
}

void EntryPainter::drawTool(QPainter* painter, const QRectF& where, const shop::Tool& tool) const {
    const auto outline = outlineOf(tool);
    const QRectF bounds = outline.cuts.boundingRect().united(outline.shank.boundingRect());
    const double scale = std::min(where.height() / bounds.height(), where.width() / bounds.width());
    painter->setPen(theme().pen(Token::iron));
    for (const auto* shape : {&outline.shank, &outline.cuts}) {
        QPolygonF there;
        for (const QPointF p : *shape)
            there << QPointF(where.center().x() + p.x() * scale, where.bottom() - p.y() * scale);
        QColor steel = theme().color(Token::iron);
        steel.setAlpha(shape == &outline.cuts ? 110 : 0);
        painter->setBrush(steel);
        painter->drawPolygon(there);
    }
}

/// Its shape to scale, in its material's colour; faint where it is used up.
void EntryPainter::drawBoard(QPainter* painter, const QRectF& where, const shop::Board& board) const {
    const auto stock = job::stockOf(board, {});
    if (!stock) return;
    const auto material = keeper_.book().material(board.material);
    QColor colour = material ? QColor(QString::fromStdString(material->colour)) : theme().color(Token::rule);
    if (board.count == 0) colour.setAlpha(70);
    const double scale = std::min(where.width() / stock->width, where.height() / stock->height);
    const QPointF middle = where.center();
    QPainterPath path;
    for (const auto& ring : flattened(job::blankOf(*stock), 0.5 / scale)) {
        QPolygonF polygon;
        for (const Vec2 p : ring)
            polygon << QPointF(middle.x() + (p.x - stock->width / 2) * scale,
                               middle.y() - (p.y - stock->height / 2) * scale);
        path.addPolygon(polygon);
        path.closeSubpath();
    }
    painter->setPen(theme().pen(Token::rule));
    painter->setBrush(colour);
    painter->drawPath(path);
}

} // namespace ferro::app
