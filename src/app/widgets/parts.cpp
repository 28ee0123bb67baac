#include "app/widgets/parts.h"

#include "app/theme/theme.h"

namespace ferro::app {

QString wordOf(State state) {
    switch (state) {
    case State::empty: return QObject::tr("empty");
    case State::underWay: return QObject::tr("under way");
    case State::ready: return QObject::tr("ready");
    case State::look: return QObject::tr("look");
    case State::noGo: return QObject::tr("no-go");
    }
    return {};
}

void paintState(QPainter& painter, State state, const QRectF& where) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double side = std::min(where.width(), where.height());
    const QRectF ring = QRectF(where.right() - side, where.top(), side, side).adjusted(1, 1, -1, -1);
    switch (state) {
    case State::empty:
        painter.setPen(QPen(theme().color(Token::faded), 1.5));
        painter.drawEllipse(ring);
        break;
    case State::underWay:
        painter.setPen(QPen(theme().color(Token::iron), 1.5));
        painter.drawEllipse(ring);
        painter.setBrush(theme().color(Token::iron));
        painter.drawPie(ring, 90 * 16, -180 * 16);
        break;
    case State::ready:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().color(Token::verdigris));
        painter.drawEllipse(ring.adjusted(-0.5, -0.5, 0.5, 0.5));
        break;
    case State::look:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().color(Token::ochre));
        painter.drawPolygon(QPolygonF{
            {where.center().x(), where.top()}, {where.right(), where.bottom()}, {where.left(), where.bottom()}});
        break;
    case State::noGo:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().color(Token::noGo));
        painter.drawRect(QRectF(where.left(), where.center().y() - 2.5, where.width(), 5));
        break;
    }
    painter.restore();
}

Section::Section(const QString& title, QWidget* parent) : QFrame(parent) {
    head_ = new QPushButton(title);
    head_->setCheckable(true);
    head_->setChecked(true);
    head_->setFlat(true);
    head_->setAccessibleName(tr("Section %1").arg(title));
    head_->setStyleSheet("QPushButton { text-align: left; border: none; background: transparent; font-weight: bold; "
                         "padding: 0; color: " +
                         theme().color(Token::ink).name() + "; }");
    connect(&theme(), &Theme::changed, this, [this] {
        head_->setStyleSheet("QPushButton { text-align: left; border: none; background: transparent; font-weight: "
                             "bold; padding: 0; color: " +
                             theme().color(Token::ink).name() + "; }");
    });
    content_ = new QWidget;
    body_ = new QVBoxLayout(content_);
    body_->setContentsMargins(0, 0, 0, 0);
    body_->setSpacing(6);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 16, 10);
    layout->setSpacing(6);
    layout->addWidget(head_);
    layout->addWidget(content_);
    connect(head_, &QPushButton::toggled, this, [this](bool open) {
        content_->setVisible(open);
        update();
        if (open) Q_EMIT opened();
    });
}

void Section::setFolded(bool folded) { head_->setChecked(!folded); }
bool Section::isFolded() const { return !head_->isChecked(); }
void Section::setTitle(const QString& title) { head_->setText(title); }

void Section::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setPen(theme().pen(Token::rule));
    painter.drawLine(0, height() - 1, width(), height() - 1);
    painter.setPen(theme().color(Token::faded));
    painter.drawText(QRectF(width() - 28, 8, 14, 18), Qt::AlignCenter,
                     head_->isChecked() ? QStringLiteral("−") : QStringLiteral("+"));
}

WordChoice::WordChoice(const QString& label, const QStringList& words, QWidget* parent)
    : QWidget(parent), group_(new QButtonGroup(this)) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    if (!label.isEmpty()) {
        auto* text = new QLabel(label);
        layout->addWidget(text);
        layout->addSpacing(8);
    }
    layout->addStretch();
    for (int i = 0; i < words.size(); ++i) {
        auto* button = new QPushButton(words[i]);
        button->setCheckable(true);
        button->setObjectName(words[i]);
        button->setAccessibleName(label.isEmpty() ? words[i] : label + ": " + words[i]);
        // Five words are as much as a side sheet takes, six when they stand close.
        button->setStyleSheet(QStringLiteral("QPushButton { padding: 3px %1px; border-radius: 0; }")
                                  .arg(words.size() > 5   ? 3
                                       : words.size() > 3 ? 5
                                                          : 6));
        group_->addButton(button, i);
        layout->addWidget(button);
    }
    connect(group_, &QButtonGroup::idClicked, this, &WordChoice::asked);
}

void WordChoice::setChosen(int index) {
    const QSignalBlocker quiet(group_);
    if (auto* button = group_->button(index)) button->setChecked(true);
}

QLabel* captionLabel(const QString& text) {
    auto* label = wrappedLabel(text);
    label->setProperty("caption", true);
    return label;
}
QLabel* wrappedLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    return label;
}
QPushButton* primaryButton(const QString& text, const char* name) {
    auto* button = plainButton(text, name);
    button->setProperty("primary", true);
    return button;
}
QPushButton* plainButton(const QString& text, const char* name) {
    auto* button = new QPushButton(text);
    button->setObjectName(QLatin1String(name));
    button->setAccessibleName(text);
    return button;
}
QLayout* buttonRow(const std::vector<QPushButton*>& buttons) {
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    for (auto* button : buttons) line->addWidget(button, 1);
    return line;
}

QPushButton* addAnswers(QDialog* dialog, QVBoxLayout* column, const QString& take, const char* name,
                        const QString& leave) {
    auto* buttons = new QDialogButtonBox;
    auto* button = buttons->addButton(take, QDialogButtonBox::AcceptRole);
    button->setObjectName(QLatin1String(name));
    button->setDefault(true);
    buttons->addButton(leave, QDialogButtonBox::RejectRole);
    QObject::connect(buttons, &QDialogButtonBox::accepted, dialog, &QDialog::accept);
    QObject::connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    column->addWidget(buttons);
    return button;
}

bool takesTyped(QLineEdit* line) {
    const bool typed = line->isModified();
    line->setModified(false);
    return typed;
}

void showUnlessTyped(QLineEdit* line, const QString& text) {
    if (line->hasFocus() && line->isModified()) return;
    line->setText(text);
    line->setModified(false);
}

QLayout* row(const QString& label, QWidget* widget) {
    auto* layout = new QHBoxLayout;
    auto* text = new QLabel(label);
    text->setBuddy(widget);
    widget->setAccessibleName(label);
    layout->addWidget(text, 1);
    layout->addWidget(widget);
    return layout;
}

} // namespace ferro::app
