#include "app/shell/route_card.h"

#include "app/theme/theme.h"

namespace ferro::app {

StationCard::StationCard(int number, QWidget* parent) : QAbstractButton(parent), number_(number) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    actions_ = new QWidget(this);
    actions_->setAttribute(Qt::WA_NoSystemBackground);
    stack_ = new QVBoxLayout(actions_);
    stack_->setContentsMargins(42, 0, 14, 8);
    stack_->setSpacing(5);
    connect(&theme(), &Theme::changed, this, [this] { update(); });
}

void StationCard::addAction(QPushButton* button) { stack_->addWidget(button, 0, Qt::AlignLeft); }

void StationCard::setFacts(const CardFacts& facts, bool open) {
    facts_ = facts;
    open_ = open;
    actions_->setVisible(open);
    setFixedWidth(Theme::routeWidth - 1);
    setMinimumHeight(open ? 88 + actions_->sizeHint().height() : 62);
    setAccessibleName(tr("Station %1, %2: %3").arg(number_).arg(facts.name, facts.stateWords));
    setAccessibleDescription(facts.first + ". " + facts.second);
    setToolTip(facts.second.isEmpty() ? facts.first : facts.first + "\n" + facts.second);
    resizeEvent(nullptr);
    update();
}

void StationCard::resizeEvent(QResizeEvent*) {
    const int size = actions_->sizeHint().height();
    actions_->setGeometry(0, height() - size, width(), size);
}

void StationCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(open_ ? Token::card : Token::paper));
    if (open_) painter.fillRect(0, 0, 4, height(), theme().color(Token::oxide));
    painter.setPen(theme().pen(Token::rule));
    painter.drawLine(0, height() - 1, width(), height() - 1);
    if (hasFocus()) {
        painter.setPen(theme().pen(Token::oxide));
        painter.drawRect(rect().adjusted(0, 0, -1, -2));
    }
    painter.setFont(theme().text(20));
    painter.setPen(theme().color(open_ ? Token::oxide : Token::faded));
    painter.drawText(QRectF(14, 8, 24, 26), Qt::AlignHCenter | Qt::AlignVCenter, QString::number(number_));
    painter.setFont(theme().text(15, true));
    painter.setPen(theme().color(Token::ink));
    painter.drawText(QRectF(42, 8, 130, 26), Qt::AlignVCenter, facts_.name);
    paintState(painter, facts_.state, QRectF(width() - 28, 15, 13, 12));
    painter.setFont(theme().text(12));
    if (facts_.isOld) painter.setPen(theme().color(Token::faded));
    const QFontMetricsF metrics(theme().text(12));
    const double room = width() - 42 - 14;
    painter.drawText(QRectF(42, 34, room, 18), Qt::AlignVCenter,
                     metrics.elidedText(facts_.first, Qt::ElideRight, room));
    painter.setPen(theme().color(Token::faded));
    const int closed = height() < 90 && !open_;
    // A low card keeps its state word on the second line, at the right.
    const Token stateToken = facts_.state == State::ready      ? Token::verdigris
                             : facts_.state == State::look     ? Token::ochre
                             : facts_.state == State::noGo     ? Token::noGo
                             : facts_.state == State::underWay ? Token::iron
                                                               : Token::faded;
    const double words = metrics.horizontalAdvance(facts_.stateWords);
    const double second = closed ? room - words - 22 : room;
    painter.drawText(QRectF(42, 51, second, 18), Qt::AlignVCenter,
                     metrics.elidedText(facts_.second, Qt::ElideRight, second));
    painter.setPen(theme().color(stateToken));
    painter.drawText(QRectF(width() - 14 - words - 2, closed ? 51 : 68, words + 2, 18),
                     Qt::AlignVCenter | Qt::AlignRight, facts_.stateWords);
}

RouteCard::RouteCard(QWidget* parent) : QWidget(parent) {
    setObjectName("routeCard");
    setFixedWidth(Theme::routeWidth);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 1, 0);
    layout->setSpacing(0);
    constexpr const char* names[] = {"cardSource", "cardMend", "cardSheet", "cardCuts", "cardProof", "cardRun"};
    for (std::size_t i = 0; i < 6; ++i) {
        cards_[i] = new StationCard(static_cast<int>(i) + 1, this);
        cards_[i]->setObjectName(QLatin1String(names[i]));
        layout->addWidget(cards_[i], 1);
        connect(cards_[i], &QAbstractButton::clicked, this, [this, i] { Q_EMIT asked(static_cast<StationId>(i)); });
    }
}

void RouteCard::setFacts(const std::array<CardFacts, 6>& cards, StationId open) {
    auto* stack = static_cast<QVBoxLayout*>(layout());
    for (std::size_t i = 0; i < 6; ++i) {
        const bool isOpen = i == static_cast<std::size_t>(open);
        cards_[i]->setFacts(cards[i], isOpen);
        stack->setStretch(static_cast<int>(i), isOpen ? 16 : 10);
    }
}

void RouteCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(Token::paper));
    painter.setPen(theme().pen(Token::rule));
    painter.drawLine(width() - 1, 0, width() - 1, height());
}

} // namespace ferro::app
