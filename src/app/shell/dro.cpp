#include "app/shell/dro.h"

#include "app/theme/theme.h"

namespace ferro::app {

Dro::Dro(QWidget* parent) : QWidget(parent) {
    setObjectName("dro");
    setFixedHeight(Theme::droHeight);
    setAttribute(Qt::WA_StyledBackground, false);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 0, 8, 0);
    layout->setSpacing(2);
    x_ = field(tr("X"), "droX", 88);
    y_ = field(tr("Y"), "droY", 88);
    w_ = field(tr("W"), "droW", 88);
    h_ = field(tr("H"), "droH", 88);
    turn_ = field(tr("TURN"), "droTurn", 52);
    points_ = new QLabel;
    points_->setFont(theme().text(20));
    points_->setStyleSheet("font-size: 20px;");
    points_->setObjectName("droPoints");
    points_->setMinimumWidth(48);
    box(tr("PTS"))->addWidget(points_);
    zoom_ = field(tr("ZOOM"), "droZoom", 72);
    layout->addStretch();
    layout->setSizeConstraint(QLayout::SetNoConstraint);
    setMinimumWidth(2 * boxes_.front()->sizeHint().width());
}

QHBoxLayout* Dro::box(const QString& label) {
    auto* widget = new QWidget;
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    auto* caption = new QLabel(label);
    caption->setProperty("caption", true);
    row->addWidget(caption);
    layout()->addWidget(widget);
    boxes_ << widget;
    return row;
}

QLineEdit* Dro::field(const QString& label, const char* name, int width) {
    auto* edit = new QLineEdit;
    edit->setProperty("dro", true);
    edit->setObjectName(QLatin1String(name));
    edit->setAccessibleName(label);
    edit->setFixedWidth(width);
    edit->setFont(theme().text(20));
    box(label)->addWidget(edit);
    connect(edit, &QLineEdit::editingFinished, this, [this, edit] { typed(edit); });
    return edit;
}

void Dro::resizeEvent(QResizeEvent*) { fit(); }

void Dro::fit() {
    int needed = 20;
    for (auto* box : boxes_) {
        needed += box->sizeHint().width() + 2;
        box->setVisible(needed <= width());
    }
}

void Dro::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(Token::card));
    painter.setPen(theme().pen(Token::rule));
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

void Dro::setFacts(const Facts& facts) {
    facts_ = facts;
    const bool some = !facts.bounds.empty();
    const auto show = [&](QLineEdit* edit, const QString& text, bool on) {
        if (edit->hasFocus() && edit->isModified()) return;
        const QSignalBlocker quiet(edit);
        edit->setText(text);
        edit->setModified(false);
        edit->setReadOnly(!on);
        edit->setProperty("bad", false);
    };
    const auto number = [&](double v) { return QString::fromStdString(shownNumber(v, Measure::length, facts.units)); };
    const Vec2 at = (some ? facts.bounds.low : facts.pointer) - facts.zero;
    show(x_, number(at.x), some);
    show(y_, number(at.y), some);
    show(w_, some ? number(facts.bounds.width()) : QStringLiteral("–"), some);
    show(h_, some ? number(facts.bounds.height()) : QStringLiteral("–"), some);
    show(turn_, some ? QStringLiteral("0°") : QStringLiteral("–"), some);
    show(zoom_, QStringLiteral("%1%").arg(facts.zoom, 0, 'f', 0), true);
    // The sheet at the right tells large numbers to the last one.
    const auto text =
        facts.points < 100'000 ? QString::number(facts.points) : QObject::tr("%1k").arg((facts.points + 500) / 1000);
    if (text != points_->text()) {
        points_->setText(text);
        points_->setMinimumWidth(std::max(48, points_->fontMetrics().horizontalAdvance(text) + 8));
        fit();
    }
}

void Dro::typed(QLineEdit* edit) {
    if (!edit->isModified()) return;
    edit->setModified(false);
    const Measure measure = edit == turn_ ? Measure::angle : edit == zoom_ ? Measure::percent : Measure::length;
    const auto value = parseQuantity(edit->text().toStdString(), measure, facts_.units);
    if (!value || ((edit == w_ || edit == h_ || edit == zoom_) && !(*value > 0))) {
        edit->setProperty("bad", true);
        edit->style()->polish(edit);
        Q_EMIT refused(value ? tr("Give a number above 0.") : QString::fromStdString(value.problem().text()));
        return;
    }
    edit->style()->polish(edit);
    const Vec2 at = facts_.bounds.low - facts_.zero;
    if (edit == x_)
        Q_EMIT moveAsked({*value - at.x, 0});
    else if (edit == y_)
        Q_EMIT moveAsked({0, *value - at.y});
    else if (edit == w_)
        Q_EMIT sizeAsked(*value, 0);
    else if (edit == h_)
        Q_EMIT sizeAsked(0, *value);
    else if (edit == turn_)
        Q_EMIT turnAsked(*value * pi / 180);
    else
        Q_EMIT zoomAsked(*value);
}

} // namespace ferro::app
