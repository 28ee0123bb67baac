#include "app/stations/edge_section.h"

#include "app/shell/facts.h"
#include "link/zeroing.h"

namespace ferro::app {

EdgeSection::EdgeSection(Session& session) : Section(tr("Zero by edges")), session_(session) {
    setObjectName("edgeSection");
    pin_ = new QuantityField(tr("Pin"), Measure::length);
    pin_->edit()->setObjectName("edgePin");
    pin_->setRange(0.1, 50);
    pin_->setQuantity(6);
    pin_->setHint(tr("its diameter, of what is in the spindle"));
    connect(pin_, &QuantityField::edited, pin_, &QuantityField::setQuantity);
    connect(pin_, &QuantityField::scrubbed, this, [this](double v) { pin_->setQuantity(v); });
    add(pin_);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(4);
    const QString labels[] = {tr("Left"), tr("Right"), tr("Lower"), tr("Upper")};
    for (std::size_t i = 0; i < 4; ++i) {
        const auto edge = static_cast<link::Edge>(i);
        auto* button = plainButton(labels[i], "");
        button->setObjectName(QStringLiteral("edge ") + textOf(link::edgeWords[i]));
        button->setToolTip(tr("Touch the %1 edge of the sheet, the pin standing beside it").arg(labels[i].toLower()));
        button->setAccessibleName(tr("Touch the %1 edge").arg(labels[i].toLower()));
        button->setStyleSheet("QPushButton { padding: 4px 7px; }");
        buttons->addWidget(button);
        edges_ << button;
        connect(button, &QPushButton::clicked, this, [this, edge] {
            const auto touch = link::edgeTouch(session_.job(), edge, pin_->quantity());
            if (!touch) return void(Q_EMIT told(QString::fromStdString(touch.problem().text()), true));
            QStringList blocks;
            for (const auto& block : link::blocksFor(*touch)) blocks << QString::fromStdString(block);
            session_.runner().send(blocks, touch->inX() ? Runner::Then::zeroX : Runner::Then::zeroY);
        });
    }
    buttons->addStretch();
    add(buttons);
    auto* words =
        captionLabel(tr("Jog the pin beside the edge, lower than the sheet's top. It goes towards it for 20 mm "
                        "at most, twice, the second time slowly: then X or Y is known."));
    words->setWordWrap(true);
    add(words);
    setFolded(true);
}

QStringList EdgeSection::boardOfStandIn(double scrapBoard) const {
    const auto& stock = session_.job().sheet().stock;
    QStringList words{"--board"};
    for (const double v : {20.0, 20.0, stock.width, stock.height, scrapBoard + stock.thickness})
        words << QString::number(v, 'f', 3);
    return words << "--pin" << QString::number(pin_->quantity(), 'f', 3);
}

void EdgeSection::refresh() {
    const auto& facts = session_.runner().facts();
    const bool may = facts.connected && !session_.runner().active() && !facts.feeling;
    setVisible(session_.job().machine.does(shop::Process::rotary)); // a beam's head holds no pin
    pin_->setUnits(session_.job().units);
    for (auto* button : edges_) button->setEnabled(may);
}

} // namespace ferro::app
