#pragma once

#include "base/quantity.h"
#include "shop/shop.h"

#include <QWidget>

namespace ferro::app {

/// A tool as a shop drawing: its true silhouette with its dimensions, as large as there is room.
class ToolDrawing : public QWidget {
    Q_OBJECT
public:
    explicit ToolDrawing(QWidget* parent = nullptr);
    void setTool(const shop::Tool& tool, Units units);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    shop::Tool tool_;
    Units units_ = Units::mm;
};

/// The silhouette from its lowest point upwards in mm, y up, on both sides of the axis: of what cuts, and of its shank.
struct ToolOutline {
    QPolygonF cuts, shank;
};
[[nodiscard]] ToolOutline outlineOf(const shop::Tool& tool);

} // namespace ferro::app
