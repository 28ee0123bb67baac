#include "app/stations/machine_section.h"

#include "app/theme/theme.h"

#include <QMenu>

namespace ferro::app {

MachineSection::MachineSection(Session& session) : Section(tr("Machine")), session_(session) {
    device_ = new QLineEdit;
    device_->setObjectName("device");
    device_->setFixedWidth(150);
    device_->setPlaceholderText("/dev/ttyUSB0");
    add(row(tr("Port"), device_));
    // Looked up when asked for: what is plugged in changes while the sheet is open.
    ports_ = plainButton(tr("Ports"), "ports");
    ports_->setToolTip(tr("What is plugged in"));
    ports_->setMenu(new QMenu(ports_));
    connect(ports_->menu(), &QMenu::aboutToShow, this, &MachineSection::listPorts);
    auto* linkRow = new QHBoxLayout;
    connect_ = plainButton(tr("Connect"), "connect");
    standIn_ = plainButton(tr("Start the stand-in"), "startStandIn");
    linkRow->setSpacing(4);
    for (auto* button : {ports_, connect_, standIn_}) {
        button->setStyleSheet("QPushButton { padding: 4px 7px; } QPushButton::menu-indicator { width: 0; }");
        linkRow->addWidget(button);
    }
    rehearse_ = plainButton(tr("Rehearse on the stand-in"), "rehearse");
    rehearse_->setToolTip(tr("Runs the job on a stand-in from home to end"));
    linkRow->addStretch();
    add(linkRow);
    add(rehearse_);
    faster_ = new QuantityField(tr("Stand-in, × faster"), Measure::count);
    faster_->edit()->setObjectName("standInFaster");
    faster_->setRange(1, 10'000);
    faster_->setQuantity(20);
    connect(faster_, &QuantityField::edited, faster_, &QuantityField::setQuantity);
    connect(faster_, &QuantityField::scrubbed, this, [this](double v) { faster_->setQuantity(v); });
    add(faster_);
    state_ = wrappedLabel();
    state_->setObjectName("runState");
    where_ = captionLabel();
    where_->setObjectName("runWhere");
    problem_ = wrappedLabel();
    where_->setMinimumHeight(16);
    problem_->setObjectName("runProblem");
    limits_ = captionLabel();
    limits_->setObjectName("runLimits");
    limits_->setWordWrap(true);
    add(state_);
    add(where_);
    add(limits_);
    add(problem_);
    connect(connect_, &QPushButton::clicked, this, [this] {
        if (session_.runner().facts().connected)
            session_.runner().disconnectNow();
        else if (device_->text().trimmed().isEmpty())
            Q_EMIT told(tr("Type the machine's port first, or start the stand-in."), true);
        else
            session_.runner().connectTo(device_->text().trimmed(), conversation());
    });
    connect(standIn_, &QPushButton::clicked, this, [this] { Q_EMIT standInAsked(faster_->quantity()); });
    connect(rehearse_, &QPushButton::clicked, this, [this] {
        rehearsal_ = std::make_unique<Rehearsal>(session_, faster_->quantity());
        connect(rehearsal_.get(), &Rehearsal::ready, this, &MachineSection::startAsked);
    });
}

QString MachineSection::conversation() const { return QString::fromStdString(session_.job().machine.conversation); }

void MachineSection::listPorts() {
    auto* menu = ports_->menu();
    menu->clear();
    for (const auto& port : link::pluggedIn()) {
        const auto device = QString::fromStdString(port.device);
        auto* entry =
            menu->addAction(port.what.empty() ? device : tr("%1: %2").arg(device, QString::fromStdString(port.what)));
        if (!port.mayUse) entry->setText(tr("%1 (you may not use it)").arg(entry->text()));
        connect(entry, &QAction::triggered, this, [this, device] { device_->setText(device); });
    }
    if (menu->isEmpty()) menu->addAction(tr("No serial port is there"))->setEnabled(false);
}

void MachineSection::refresh() {
    const auto& facts = session_.runner().facts();
    const bool connected = facts.connected;
    const bool go = session_.prover().isFresh() && session_.prover().proof()->mayRun();
    connect_->setText(connected ? tr("Disconnect") : tr("Connect"));
    standIn_->setEnabled(!connected);
    rehearse_->setEnabled(!connected && go && !session_.job().plan.steps.empty());
    if (rehearsal_ && facts.state == link::Streamer::State::finished) rehearsal_.reset();
    state_->setText(!connected ? tr("Not connected. It is spoken to by “%1”.").arg(conversation())
                               : tr("Machine: %1").arg(wordOf(facts.status.state)));
    const auto number = [&](double v) {
        return QString::fromStdString(shownNumber(v, Measure::length, session_.job().units));
    };
    QString where;
    if (connected)
        where = tr("X %1   Y %2   Z %3")
                    .arg(number(facts.status.at.x), number(facts.status.at.y), number(facts.status.at.z));
    if (connected && facts.tellsPlace)
        where +=
            tr("\nof the machine: %1   %2   %3")
                .arg(number(facts.status.machine.x), number(facts.status.machine.y), number(facts.status.machine.z));
    where_->setText(where);
    limits_->setText(facts.limits.join(' '));
    limits_->setVisible(connected && !facts.limits.isEmpty());
    ports_->setEnabled(!connected);
    problem_->setText(facts.problem.isEmpty()
                          ? QString()
                          : QStringLiteral("<span style='color:%1'>%2</span>")
                                .arg(theme().color(Token::noGo).name(), facts.problem.toHtmlEscaped()));
}

} // namespace ferro::app
