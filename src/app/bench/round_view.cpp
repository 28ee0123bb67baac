#include "app/bench/round_view.h"

#include "app/theme/theme.h"
#include "app/widgets/parts.h"

#include <QMouseEvent>

namespace ferro::app {

namespace {
constexpr double turnPerPixel = 0.007; // rad that a drag turns by
constexpr double turnStep = pi / 24;   // and an arrow key
constexpr int fineness = 1000;         // parts of the slider's way
} // namespace

RoundView::RoundView(Turner& turner, QWidget* parent) : QWidget(parent), turner_(turner) {
    setObjectName("roundView");
    setAccessibleName(tr("The piece in the round"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    section_ = new QSlider(Qt::Vertical, this);
    section_->setObjectName("roundSection");
    section_->setAccessibleName(tr("Height of the cutting plane"));
    section_->setToolTip(tr("Lower the cutting plane: what lies above it is taken away"));
    section_->setRange(0, fineness);
    section_->setValue(fineness);
    connect(section_, &QSlider::valueChanged, this, [this](int value) {
        auto view = turner_.view();
        view.section = thickness_ * (fineness - value) / fineness;
        turner_.setView(view);
    });
    connect(&turner_, &Turner::changed, this, [this] {
        const QSignalBlocker quiet(section_);
        if (thickness_ > 0)
            section_->setValue(fineness -
                               static_cast<int>(std::lround(turner_.view().section / thickness_ * fineness)));
        update();
    });
}

void RoundView::setFacts(std::shared_ptr<const proof::Proof> proof, std::vector<job::Clamp> clamps, double thickness,
                         Units units) {
    proof_ = std::move(proof), clamps_ = std::move(clamps), thickness_ = thickness, units_ = units;
    update();
}

Vec2 RoundView::inPicture(QPointF at) const { return {at.x() * devicePixelRatioF(), at.y() * devicePixelRatioF()}; }

QPointF RoundView::onScreen(Vec2 place, double z) const {
    const Vec2 p = turner_.imageView().project(place, z);
    return {p.x / devicePixelRatioF(), p.y / devicePixelRatioF()};
}

void RoundView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(Token::bench));
    painter.setRenderHint(QPainter::Antialiasing);
    if (turner_.image().isNull()) {
        painter.setPen(theme().color(Token::faded));
        painter.setFont(theme().text(15));
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("Cutting the proof…\nThe piece stands here as soon as there is something to cut."));
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(
        QRectF(0, 0, turner_.imageView().width / devicePixelRatioF(), turner_.imageView().height / devicePixelRatioF()),
        turner_.image());
    paintClamps(painter);
    paintFindings(painter);
    paintWords(painter);
}

/// Blocks that stand on the sheet: the sides that are turned to one who looks, then the top.
void RoundView::paintClamps(QPainter& painter) const {
    const auto& view = turner_.imageView();
    const Vec2 ahead{-std::sin(view.turn), std::cos(view.turn)};
    QColor fill = theme().color(Token::iron);
    for (const auto& clamp : clamps_) {
        const auto& a = clamp.area;
        const std::array<Vec2, 4> corners{a.low, Vec2{a.high.x, a.low.y}, a.high, Vec2{a.low.x, a.high.y}};
        painter.setPen(theme().pen(Token::iron, 1.2));
        for (std::size_t i = 0; i < 4; ++i) {
            const Vec2 from = corners[i], to = corners[(i + 1) % 4];
            if (ferro::dot(-perpendicular(to - from), ahead) >= 0) continue; // its outside looks away
            fill.setAlpha(150);
            painter.setBrush(fill);
            painter.drawPolygon(QPolygonF{onScreen(from, 0), onScreen(to, 0), onScreen(to, clamp.height),
                                          onScreen(from, clamp.height)});
        }
        QPolygonF top;
        for (const Vec2 corner : corners) top << onScreen(corner, clamp.height);
        fill.setAlpha(70);
        painter.setBrush(fill);
        painter.drawPolygon(top);
        painter.setBrush(QBrush(theme().color(Token::iron), Qt::BDiagPattern));
        painter.setPen(Qt::NoPen);
        painter.drawPolygon(top);
    }
}

void RoundView::paintFindings(QPainter& painter) const {
    if (!proof_) return;
    for (const auto& finding : proof_->findings) {
        if (!finding.at || finding.verdict == proof::Verdict::note) continue;
        const QPointF foot = onScreen(*finding.at, 0), head = foot - QPointF(0, 22);
        const bool isNoGo = finding.verdict == proof::Verdict::noGo;
        painter.setPen(theme().pen(isNoGo ? Token::noGo : Token::ochre, 1.5));
        painter.drawLine(foot, head);
        paintState(painter, isNoGo ? State::noGo : State::look, QRectF(head.x() - 7, head.y() - 12, 14, 12));
    }
}

void RoundView::paintWords(QPainter& painter) const {
    QStringList words;
    if (turner_.view().section > 0)
        words << tr("cut open %1 below the top")
                     .arg(QString::fromStdString(shown(turner_.view().section, Measure::length, units_)));
    if (pointer_)
        if (const auto place = turner_.placeAt(inPicture(*pointer_)))
            words << (place->z < -1e-4
                          ? tr("%1 deep here").arg(QString::fromStdString(shown(-place->z, Measure::length, units_)))
                          : tr("uncut here"));
    if (words.isEmpty()) words << tr("drag to turn · wheel to go nearer · middle button to move");
    painter.setFont(theme().caption());
    const QString text = words.join(tr(" · "));
    const QRectF box(10, height() - 28, painter.fontMetrics().horizontalAdvance(text) + 16, 20);
    QColor ground = theme().color(Token::card);
    ground.setAlpha(220);
    painter.fillRect(box, ground);
    painter.setPen(theme().color(Token::ink));
    painter.drawText(box, Qt::AlignCenter, text);
}

void RoundView::mousePressEvent(QMouseEvent* event) { lastAt_ = event->position(); }

void RoundView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position(), by = at - lastAt_;
    lastAt_ = at;
    pointer_ = at;
    auto view = turner_.view();
    if (event->buttons() & Qt::MiddleButton ||
        (event->buttons() & Qt::LeftButton && event->modifiers() & Qt::ShiftModifier)) {
        view.centre = view.centre + view.placeAt(inPicture(at - by), 0) - view.placeAt(inPicture(at), 0);
        turner_.setView(view);
    } else if (event->buttons() & Qt::LeftButton) {
        view.turn -= by.x() * turnPerPixel;
        view.tilt += by.y() * turnPerPixel;
        turner_.setView(view);
    } else if (const auto place = turner_.placeAt(inPicture(at))) {
        Q_EMIT pointerMoved(place->flat());
    }
    update();
}

void RoundView::mouseReleaseEvent(QMouseEvent*) { update(); }

void RoundView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto place = turner_.placeAt(inPicture(event->position()))) turner_.lookAt(place->flat());
}

void RoundView::wheelEvent(QWheelEvent* event) {
    turner_.zoomBy(std::pow(1.0015, event->angleDelta().y()), inPicture(event->position()));
    event->accept();
}

void RoundView::keyPressEvent(QKeyEvent* event) {
    auto view = turner_.view();
    switch (event->key()) {
    case Qt::Key_Left: view.turn -= turnStep; break;
    case Qt::Key_Right: view.turn += turnStep; break;
    case Qt::Key_Up: view.tilt += turnStep; break;
    case Qt::Key_Down: view.tilt -= turnStep; break;
    case Qt::Key_PageDown: view.section += thickness_ / 20; break;
    case Qt::Key_PageUp: view.section -= thickness_ / 20; break;
    case Qt::Key_Home: return turner_.home();
    default: return QWidget::keyPressEvent(event);
    }
    turner_.setView(view);
}

void RoundView::resizeEvent(QResizeEvent*) {
    turner_.setSize(size() * devicePixelRatioF());
    section_->setGeometry(width() - 26, 14, 20, std::min(260, height() - 28));
}

void RoundView::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

} // namespace ferro::app
