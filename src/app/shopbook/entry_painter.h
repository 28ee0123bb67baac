#pragma once

#include "app/shopbook/keeper.h"

#include <QStyledItemDelegate>

namespace ferro::app {

/// A line of the shop book's list: a tool's silhouette, a material's colour, a board's shape or a step's pattern, the
/// name, and where it is from.
class EntryPainter : public QStyledItemDelegate {
public:
    EntryPainter(const ShopKeeper& keeper, QObject* parent) : QStyledItemDelegate(parent), keeper_(keeper) {}
    /// What of an entry is where; the shelf is a `ShopDrawer::Shelf`.
    enum Role { keyRole = Qt::UserRole, moreRole, fromRole, shelfRole };
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {100, 44}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;

private:
    void sign(QPainter* painter, const QRectF& where, const QModelIndex& index) const;
    void drawTool(QPainter* painter, const QRectF& where, const shop::Tool& tool) const;
    void drawBoard(QPainter* painter, const QRectF& where, const shop::Board& board) const;
    const ShopKeeper& keeper_;
};

} // namespace ferro::app
