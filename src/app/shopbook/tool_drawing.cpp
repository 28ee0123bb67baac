#include "app/shopbook/tool_drawing.h"

#include "app/theme/theme.h"

namespace ferro::app {

ToolOutline outlineOf(const shop::Tool& tool) {
    ToolOutline out;
    const double top = tool.fluteLength, radius = tool.radius();
    QPolygonF side; // right half, upwards
    constexpr int steps = 24;
    side << QPointF(0, 0);
    for (int i = 0; i <= steps; ++i) {
        const double r = radius * i / steps, rise = tool.profile(r);
        if (rise > top) {
            side << QPointF(std::min(tool.radiusAt(top), radius), top);
            break;
        }
        side << QPointF(r, rise);
    }
    if (side.back().y() < top) side << QPointF(radius, top);
    out.cuts = side;
    for (auto i = side.size(); i-- > 0;) out.cuts << QPointF(-side[i].x(), side[i].y());
    if (tool.process() == shop::Process::rotary) {
        const double shank = tool.shankRadius(), reach = std::max(tool.stickOut, top + std::max(6.0, 2 * shank));
        out.shank << QPointF(-shank, top) << QPointF(shank, top) << QPointF(shank, reach) << QPointF(-shank, reach);
    }
    return out;
}

ToolDrawing::ToolDrawing(QWidget* parent) : QWidget(parent) {
    setFixedHeight(232);
    setObjectName("toolDrawing");
    setAccessibleName(tr("The tool's shape and dimensions"));
}

void ToolDrawing::setTool(const shop::Tool& tool, Units units) {
    tool_ = tool;
    units_ = units;
    update();
}

namespace {

/// A dimension between two places, as on a shop drawing: a thin line with short strokes at its ends, its number beside.
void dimension(QPainter& painter, QPointF a, QPointF b, const QString& text) {
    painter.setPen(theme().pen(Token::faded));
    painter.drawLine(a, b);
    const bool upright = std::abs(a.x() - b.x()) < 1;
    for (const QPointF end : {a, b}) painter.drawLine(end + QPointF(-3, 3), end + QPointF(3, -3));
    painter.setPen(theme().color(Token::ink));
    painter.setFont(theme().caption());
    const QPointF middle = (a + b) / 2;
    if (upright)
        painter.drawText(QRectF(middle.x() + 6, middle.y() - 9, 130, 18), Qt::AlignVCenter | Qt::AlignLeft, text);
    else
        painter.drawText(QRectF(middle.x() - 80, middle.y() + 2, 160, 16), Qt::AlignCenter, text);
}

} // namespace

void ToolDrawing::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme().color(Token::card));
    painter.setPen(theme().pen(Token::rule));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    const auto text = [&](double v) { return QString::fromStdString(shown(v, Measure::length, units_)); };
    if (tool_.process() != shop::Process::rotary) { // nothing but a width: as a spot, many times its size
        const QPointF middle(width() / 2.0, height() / 2.0 - 10);
        painter.setBrush(theme().color(Token::oxide));
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(middle, 40, 40);
        dimension(painter, middle + QPointF(-40, 62), middle + QPointF(40, 62),
                  tr("%1 kerf").arg(text(tool_.diameter)));
        return;
    }
    const auto outline = outlineOf(tool_);
    const double tall = outline.shank.boundingRect().bottom(), wide = std::max(2 * tool_.shankRadius(), tool_.diameter);
    const double scale = std::min((height() - 62) / std::max(tall, 1e-6), 220 / std::max(wide, 1e-6));
    const QPointF foot(width() / 2.0 - 40, height() - 40.0);
    const auto place = [&](QPointF p) { return foot + QPointF(p.x() * scale, -p.y() * scale); };
    const auto draw = [&](const QPolygonF& shape, const QBrush& brush) {
        QPolygonF there;
        for (const QPointF p : shape) there << place(p);
        painter.setPen(theme().pen(Token::ink, 1.5));
        painter.setBrush(brush);
        painter.drawPolygon(there);
    };
    draw(outline.shank, theme().color(Token::paper));
    QColor steel = theme().color(Token::iron);
    steel.setAlpha(70);
    draw(outline.cuts, steel);
    painter.setPen(QPen(theme().color(Token::faded), 1, Qt::DashDotLine));
    painter.drawLine(place({0, -6 / scale}), place({0, tall + 8 / scale}));
    const double right = std::max(tool_.radius(), tool_.shankRadius()) * scale + 16;
    const auto level = [&](double z) { return foot.y() - z * scale; };
    dimension(painter, {foot.x() - tool_.radius() * scale, foot.y() + 16},
              {foot.x() + tool_.radius() * scale, foot.y() + 16}, QStringLiteral("⌀ ") + text(tool_.diameter));
    dimension(painter, {foot.x() + right, level(0)}, {foot.x() + right, level(tool_.fluteLength)},
              tr("%1 cutting").arg(text(tool_.fluteLength)));
    if (tool_.stickOut > 0)
        dimension(painter, {foot.x() + right + 110, level(0)}, {foot.x() + right + 110, level(tool_.stickOut)},
                  tr("%1 out").arg(text(tool_.stickOut)));
    painter.setPen(theme().color(Token::ink));
    painter.setFont(theme().caption());
    QStringList notes;
    if (tool_.shank > 0) notes << tr("shank ⌀ %1").arg(text(tool_.shank));
    if (tool_.isPointed()) notes << QStringLiteral("∠ %1°").arg(tool_.angle);
    if (tool_.tip > 0) notes << tr("tip %1").arg(text(tool_.tip));
    if (tool_.kind == shop::ToolKind::bullNose || tool_.kind == shop::ToolKind::taperedBall)
        notes << tr("r %1").arg(text(tool_.corner));
    if (tool_.kind == shop::ToolKind::ball) notes << tr("r %1").arg(text(tool_.radius()));
    notes << tr("%1 flutes").arg(tool_.flutes);
    painter.drawText(QRectF(10, 8, width() / 2.0 - 60, height() - 16.0), Qt::AlignTop | Qt::TextWordWrap,
                     notes.join('\n'));
}

} // namespace ferro::app
