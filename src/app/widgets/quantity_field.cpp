#include "app/widgets/quantity_field.h"

#include "app/theme/theme.h"

namespace ferro::app {

quint64 freshGesture() {
    static quint64 last = 1000;
    return ++last;
}

QuantityField::QuantityField(const QString& label, Measure measure, QWidget* parent)
    : QWidget(parent), measure_(measure) {
    label_ = new QLabel(label);
    label_->setCursor(Qt::SizeHorCursor);
    label_->installEventFilter(this);
    label_->setToolTip(tr("Drag to change"));
    edit_ = new QLineEdit;
    edit_->setAlignment(Qt::AlignRight);
    edit_->setFixedWidth(112);
    edit_->setAccessibleName(label);
    unit_ = new QLabel(edit_);
    unit_->setProperty("caption", true);
    unit_->setAttribute(Qt::WA_TransparentForMouseEvents);
    mark_ = new QToolButton;
    mark_->setFixedSize(20, 20);
    mark_->setIconSize(QSize(16, 16));
    mark_->setProperty("mark", true);
    mark_->setFocusPolicy(Qt::NoFocus);
    hint_ = new QLabel;
    hint_->setProperty("caption", true);
    hint_->setAlignment(Qt::AlignRight);
    hint_->setWordWrap(true); // a long one makes the field higher, never the sheet wider
    hint_->hide();
    auto* layout = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setHorizontalSpacing(4);
    layout->setVerticalSpacing(0);
    layout->addWidget(label_, 0, 0);
    layout->addWidget(edit_, 0, 1);
    layout->addWidget(mark_, 0, 2);
    layout->addWidget(hint_, 1, 0, 1, 2);
    layout->setColumnStretch(0, 1);
    connect(edit_, &QLineEdit::editingFinished, this, &QuantityField::commit);
    connect(edit_, &QLineEdit::textEdited, this, [this] {
        edit_->setProperty("bad", false);
        edit_->style()->polish(edit_);
    });
    connect(mark_, &QToolButton::clicked, this, &QuantityField::resetAsked);
    edit_->installEventFilter(this);
    setOrigin(Origin::none);
    setUnits(Units::mm);
}

void QuantityField::setQuantity(double value) {
    value_ = value;
    if (!edit_->hasFocus() || !edit_->isModified()) show_();
}

void QuantityField::show_() {
    const QSignalBlocker quiet(edit_);
    edit_->setText(QString::fromStdString(shownNumber(value_, measure_, units_)));
    edit_->setModified(false);
    edit_->setProperty("bad", false);
    edit_->style()->polish(edit_);
    if (edit_->hasFocus()) edit_->selectAll(); // what is typed next takes its place
}

void QuantityField::setUnits(Units units) {
    units_ = units;
    unit_->setText(QString::fromStdString(unitName(measure_, units)));
    unit_->adjustSize();
    edit_->setTextMargins(0, 0, unit_->text().isEmpty() ? 0 : unit_->width() + 4, 0);
    unit_->move(edit_->width() - unit_->width() - 7, (edit_->height() - unit_->height()) / 2 + 1);
    show_();
}

void QuantityField::setRange(double low, double high) {
    low_ = low;
    high_ = high;
}

void QuantityField::setOrigin(Origin origin, const QString& words) {
    mark_->setEnabled(origin == Origin::typed);
    mark_->setIcon(origin == Origin::none     ? QIcon()
                   : origin == Origin::book   ? theme().icon(Glyph::book)
                   : origin == Origin::proven ? theme().icon(Glyph::stamp)
                                              : theme().icon(Glyph::typed));
    mark_->setToolTip(origin == Origin::book
                          ? words.isEmpty() ? tr("From the shop book") : tr("From the shop book: %1").arg(words)
                      : origin == Origin::proven ? tr("In the shop book, %1").arg(words)
                      : origin == Origin::typed  ? tr("Typed. Click for the shop book's value")
                                                 : QString());
    mark_->setAccessibleName(origin == Origin::typed ? tr("Back to the book's value")
                                                     : tr("Where the value came from"));
}

void QuantityField::setHint(const QString& hint) {
    hint_->setText(hint);
    hint_->setVisible(!hint.isEmpty());
}

void QuantityField::commit() {
    if (!edit_->isModified()) return;
    const auto value = parseQuantity(edit_->text().toStdString(), measure_, units_);
    QString why;
    if (!value)
        why = QString::fromStdString(value.problem().text());
    else if (*value < low_ - 1e-9 || *value > high_ + 1e-9)
        why = tr("Give between %1 and %2.")
                  .arg(QString::fromStdString(shown(low_, measure_, units_)),
                       QString::fromStdString(shown(high_, measure_, units_)));
    if (!why.isEmpty()) {
        edit_->setProperty("bad", true);
        edit_->style()->polish(edit_);
        edit_->setToolTip(why);
        Q_EMIT refused(why);
        return;
    }
    edit_->setToolTip({});
    value_ = *value;
    show_();
    Q_EMIT edited(*value);
}

bool QuantityField::eventFilter(QObject* watched, QEvent* event) {
    if (watched == edit_ && event->type() == QEvent::Resize)
        unit_->move(edit_->width() - unit_->width() - 7, (edit_->height() - unit_->height()) / 2 + 1);
    if (watched == edit_ && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape && edit_->isModified()) {
        show_();
        return true;
    }
    if (watched != label_) return QWidget::eventFilter(watched, event);
    const bool presses = event->type() == QEvent::MouseButtonPress, moves = event->type() == QEvent::MouseMove;
    auto* mouse = presses || moves ? static_cast<QMouseEvent*>(event) : nullptr;
    if (presses && mouse->button() == Qt::LeftButton) {
        scrubbing_ = true;
        scrubFrom_ = value_;
        scrubX_ = mouse->globalPosition().toPoint().x();
        gesture_ = freshGesture();
        return true;
    }
    if (moves && scrubbing_) {
        const double step = measure_ == Measure::length || measure_ == Measure::area  ? 0.05
                            : measure_ == Measure::feed || measure_ == Measure::turns ? 10
                                                                                      : 1;
        const double moved = std::round((mouse->globalPosition().toPoint().x() - scrubX_) / 2.0);
        const double value = std::clamp(scrubFrom_ + moved * step, low_, high_);
        if (value == value_) return true;
        value_ = value;
        show_();
        Q_EMIT scrubbed(value, gesture_);
        return true;
    }
    if (event->type() == QEvent::MouseButtonRelease) scrubbing_ = false;
    return QWidget::eventFilter(watched, event);
}

} // namespace ferro::app
