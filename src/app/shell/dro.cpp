#include "app/shell/dro.h"

#include "app/theme/theme.h"
#include "artwork/edits.h"

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
    proportion_ = new QToolButton;
    proportion_->setObjectName("droProportion");
    proportion_->setCheckable(true);
    proportion_->setChecked(true);
    proportion_->setAccessibleName(tr("Keep the proportion of width and height"));
    proportion_->setToolTip(tr("Width and height keep their proportion"));
    proportion_->setFocusPolicy(Qt::NoFocus);
    proportion_->setFixedSize(22, 22);
    proportion_->setIconSize(QSize(14, 14));
    boxes_.back()->layout()->addWidget(proportion_);
    boxes_.back()->layout()->setContentsMargins(0, 0, 6, 0); // not against the H
    connect(proportion_, &QToolButton::toggled, this, [this](bool on) {
        proportion_->setToolTip(on ? tr("Width and height keep their proportion")
                                   : tr("Width and height change alone"));
    });
    connect(&theme(), &Theme::changed, this, [this] { proportion_->setIcon(theme().icon(Glyph::lock)); });
    proportion_->setIcon(theme().icon(Glyph::lock));
    h_ = field(tr("H"), "droH", 88);
    turn_ = field(tr("TURN"), "droTurn", 72);
    points_ = new QLabel;
    points_->setFont(theme().text(20));
    points_->setStyleSheet("font-size: 20px;");
    points_->setObjectName("droPoints");
    points_->setContentsMargins(4, 0, 0, 0);
    points_->setMinimumWidth(52);
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
    edit->setProperty("least", width);
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
    bool resized = false;
    const auto show = [&](QLineEdit* edit, const QString& text, bool on) {
        if (edit->hasFocus() && edit->isModified()) return;
        const QSignalBlocker quiet(edit);
        edit->setText(text);
        edit->setModified(false);
        edit->setReadOnly(!on);
        // Long numbers never clip.
        const int needed = edit->fontMetrics().horizontalAdvance(text) + 12, least = edit->property("least").toInt();
        if (edit->width() != std::max(least, needed)) edit->setFixedWidth(std::max(least, needed)), resized = true;
        edit->setProperty("bad", false);
    };
    const auto number = [&](double v) { return QString::fromStdString(shownNumber(v, Measure::length, facts.units)); };
    const auto angle = [](double radians) {
        const double degrees = std::round(radians * 1800 / pi) / 10;
        return QStringLiteral("%1°").arg(degrees == 0 ? 0 : degrees);
    };
    const Vec2 at = (some ? artwork::placeIn(facts.bounds, facts.stays) : facts.pointer) - facts.zero;
    show(x_, number(at.x), some);
    show(y_, number(at.y), some);
    show(w_, some ? number(facts.bounds.width()) : QStringLiteral("–"), some);
    show(h_, some ? number(facts.bounds.height()) : QStringLiteral("–"), some);
    show(turn_, some && facts.turn ? angle(*facts.turn) : QStringLiteral("–"), some);
    show(zoom_, QStringLiteral("%1%").arg(facts.zoom, 0, 'f', 0), true);
    if (resized) fit();
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
    auto value = parseQuantity(edit->text().toStdString(), measure, facts_.units);
    // Of what it is now, in percent.
    if (const auto text = edit->text().trimmed(); (edit == w_ || edit == h_) && text.endsWith('%')) {
        value = parseQuantity(text.toStdString(), Measure::percent, facts_.units);
        if (value) *value *= (edit == w_ ? facts_.bounds.width() : facts_.bounds.height()) / 100;
    }
    if (!value || ((edit == w_ || edit == h_ || edit == zoom_) && !(*value > 0))) {
        edit->setProperty("bad", true);
        edit->style()->polish(edit);
        Q_EMIT refused(value ? tr("Give a number above 0.") : QString::fromStdString(value.problem().text()));
        return;
    }
    edit->style()->polish(edit);
    const Vec2 at = artwork::placeIn(facts_.bounds, facts_.stays) - facts_.zero;
    const bool both = proportion_->isChecked();
    if (edit == x_)
        Q_EMIT moveAsked({*value - at.x, 0});
    else if (edit == y_)
        Q_EMIT moveAsked({0, *value - at.y});
    else if (edit == w_)
        Q_EMIT sizeAsked(*value, both ? 0 : facts_.bounds.height());
    else if (edit == h_)
        Q_EMIT sizeAsked(both ? 0 : facts_.bounds.width(), *value);
    else if (edit == turn_)
        Q_EMIT turnAsked(*value * pi / 180 - facts_.turn.value_or(0));
    else
        Q_EMIT zoomAsked(*value);
}

} // namespace ferro::app
