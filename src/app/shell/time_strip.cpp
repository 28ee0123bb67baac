#include "app/shell/time_strip.h"

#include "app/theme/theme.h"

namespace ferro::app {

TimeStrip::TimeStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("timeStrip");
    setAccessibleName(tr("Time strip"));
    setFixedHeight(Theme::stripHeight);
    setMouseTracking(true);
    setFocusPolicy(Qt::TabFocus);
    cancel_ = new QPushButton(tr("Cancel"), this);
    cancel_->setObjectName("cancelWork");
    cancel_->setStyleSheet("QPushButton { padding: 0 6px; min-height: 14px; font-size: 11px; }");
    cancel_->hide();
    connect(cancel_, &QPushButton::clicked, this, &TimeStrip::cancelAsked);
    connect(&theme(), &Theme::changed, this, [this] { update(); });
}

void TimeStrip::setFacts(StripFacts facts) {
    facts_ = std::move(facts);
    setAccessibleDescription(facts_.nothing.isEmpty() ? facts_.words : facts_.nothing);
    update();
}

void TimeStrip::setActivity(const QString& what, double fraction) {
    if (what == activity_ && what.isEmpty()) return;
    activity_ = what;
    fraction_ = fraction;
    cancel_->setVisible(!what.isEmpty());
    cancel_->adjustSize();
    cancel_->move(300, 3);
    update();
}

QRectF TimeStrip::bar() const { return {26, 24, width() - 54.0, 27}; }
double TimeStrip::xOf(double seconds) const {
    return bar().left() + (facts_.total > 0 ? seconds / facts_.total : 0) * bar().width();
}
double TimeStrip::secondsAt(double x) const {
    return std::clamp((x - bar().left()) / bar().width(), 0.0, 1.0) * facts_.total;
}

QRectF TimeStrip::blockRect(std::size_t index) const {
    const auto& block = facts_.blocks[index];
    const double left = xOf(block.motionBegin);
    return {left, bar().top(), std::max(3.0, xOf(block.end) - left), bar().height()};
}

void TimeStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme().color(Token::paper));
    painter.setPen(theme().pen(Token::faded));
    painter.drawLine(0, 0, width(), 0);
    painter.setFont(theme().caption());
    painter.drawText(QRectF(14, 4, 60, 16), Qt::AlignVCenter, tr("TIME"));
    if (!activity_.isEmpty()) {
        painter.drawText(QRectF(70, 4, 150, 16), Qt::AlignVCenter, activity_ + QStringLiteral("…"));
        painter.setPen(theme().pen(Token::rule));
        painter.setBrush(theme().color(Token::card));
        painter.drawRect(QRectF(200, 8, 90, 7));
        painter.fillRect(QRectF(200.5, 8.5, 89 * fraction_, 6), theme().color(Token::verdigris));
        painter.setPen(theme().color(Token::faded));
    }
    painter.drawText(QRectF(width() - 514, 4, 500, 16), Qt::AlignVCenter | Qt::AlignRight, facts_.words);
    if (!facts_.nothing.isEmpty()) {
        painter.setPen(theme().pen(Token::rule));
        painter.setBrush(theme().color(Token::card));
        painter.drawRect(bar());
        painter.setPen(theme().color(Token::faded));
        painter.setFont(theme().text());
        painter.drawText(bar(), Qt::AlignCenter, facts_.nothing);
        return;
    }
    if (facts_.isOld) painter.setOpacity(0.45); // they are not what will be cut
    double labelled = 0;
    for (std::size_t i = 0; i < facts_.blocks.size(); ++i) {
        const auto& block = facts_.blocks[i];
        const QRectF rect = blockRect(i);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().pattern(block.kind));
        painter.setBrushOrigin(rect.topLeft());
        painter.drawRect(rect.adjusted(0, 0, -1, 0));
        if (block.toolChange) { // a notch: the tool is changed
            const double x = rect.left() - 3;
            painter.setPen(theme().pen(Token::ink, 1.4));
            painter.drawPolyline(QPolygonF{{x - 3, rect.top() - 4},
                                           {x + 1, rect.top() + 4},
                                           {x + 1, rect.bottom() - 4},
                                           {x - 3, rect.bottom() + 4}});
        }
        painter.setFont(theme().text());
        if (rect.width() > 40) {
            const QString words =
                painter.fontMetrics().elidedText(block.name, Qt::ElideRight, static_cast<int>(rect.width()) - 16);
            QRectF plate = painter.fontMetrics().boundingRect(words).adjusted(-3, -1, 3, 1);
            plate.moveLeft(rect.left() + 5);
            plate.moveTop(rect.center().y() - plate.height() / 2);
            painter.fillRect(plate, theme().hue(block.kind)); // no pattern behind words
            painter.setPen(theme().color(Token::onAccent));
            painter.drawText(plate, Qt::AlignCenter, words);
        }
        painter.setFont(theme().caption());
        painter.setPen(theme().color(Token::faded));
        if (rect.left() >= labelled) {
            painter.drawText(QPointF(rect.left(), rect.bottom() + 16), block.time);
            labelled = rect.left() + painter.fontMetrics().horizontalAdvance(block.time) + 10;
        }
    }
    painter.setOpacity(1);
    if (facts_.canDrag) {
        const double x = xOf(facts_.playhead < 0 ? facts_.total : facts_.playhead);
        painter.setPen(theme().pen(Token::oxide, 2));
        painter.drawLine(QPointF(x, bar().top() - 5), QPointF(x, bar().bottom() + 5));
        painter.setBrush(theme().color(Token::oxide));
        painter.setPen(Qt::NoPen);
        painter.drawPolygon(QPolygonF{{x - 5, bar().top() - 8}, {x + 5, bar().top() - 8}, {x, bar().top() - 1}});
    }
    if (hasFocus()) {
        painter.setPen(theme().pen(Token::oxide));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(bar().adjusted(-3, -3, 3, 3));
    }
}

void TimeStrip::mousePressEvent(QMouseEvent* event) {
    for (std::size_t i = 0; i < facts_.blocks.size(); ++i)
        if (blockRect(i).contains(event->position())) Q_EMIT stepAsked(facts_.blocks[i].step);
    if (facts_.canDrag && facts_.total > 0) Q_EMIT playheadAsked(secondsAt(event->position().x()));
}

void TimeStrip::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton && facts_.canDrag && facts_.total > 0)
        Q_EMIT playheadAsked(secondsAt(event->position().x()));
}

void TimeStrip::keyPressEvent(QKeyEvent* event) {
    if (!facts_.canDrag || (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right))
        return QWidget::keyPressEvent(event);
    const double now = facts_.playhead < 0 ? facts_.total : facts_.playhead;
    Q_EMIT playheadAsked(
        std::clamp(now + (event->key() == Qt::Key_Left ? -1 : 1) * facts_.total / 200, 0.0, facts_.total));
}

bool TimeStrip::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        for (std::size_t i = 0; i < facts_.blocks.size(); ++i)
            if (blockRect(i).contains(help->pos())) {
                const auto& b = facts_.blocks[i];
                QToolTip::showText(help->globalPos(),
                                   tr("%1 · %2 of moving · begins at %3")
                                       .arg(b.name, b.time, QString::fromStdString(shownTime(b.motionBegin))),
                                   this);
                return true;
            }
        QToolTip::hideText();
        return true;
    }
    return QWidget::event(event);
}

} // namespace ferro::app
