#include "app/stations/run_sheet.h"

#include "link/resume.h"
#include "link/run_log.h"
#include "shop/own.h"

#include <QFileInfo>
#include <QMessageBox>

namespace ferro::app {

using RunState = link::Streamer::State;

RunSheet::RunSheet(Session& session) : StationSheet(session, tr("Run"), "runSheet") {
    machine_ = new MachineSection(session);
    column_->insertWidget(column_->count() - 1, machine_);
    connect(machine_, &MachineSection::told, this, &RunSheet::told);
    connect(machine_, &MachineSection::standInAsked, this, [this](double faster) {
        // Its plate lies where the zero is: on the stock or under it, and that on a scrap board.
        constexpr double board = 5; // mm
        const auto& job = session_.job();
        session_.runner().startStandIn(
            QString::fromStdString(job.machine.key), QString::fromStdString(job.machine.conversation), faster,
            board + job.sheet().stock.thickness + job::zeroOf(job.sheet().stock).z + plate_->quantity(),
            plate_->quantity(), edge_->boardOfStandIn(board));
    });
    connect(machine_, &MachineSection::startAsked, this, &RunSheet::start);
    // Whatever station is looked at when it is finished.
    connect(&session.runner(), &Runner::changed, this, &RunSheet::takeBoard);
    connect(&session.runner(), &Runner::changed, this, &RunSheet::keepTime);
    connect(&session.runner(), &Runner::changed, this, &RunSheet::countRun);

    auto* set = section(tr("Set up"));
    auto* homeRow = new QHBoxLayout;
    home_ = plainButton(tr("Home"), "home");
    zero_ = plainButton(tr("Zero is here"), "setZero");
    walk_ = plainButton(tr("Walk the border"), "borderWalk");
    homeRow->setSpacing(4);
    walkClose_ = plainButton(tr("Walk close round"), "closeWalk");
    walkClose_->setToolTip(tr("As near to what is cut as a tight string would go round it"));
    for (auto* button : {home_, zero_}) {
        button->setStyleSheet("QPushButton { padding: 4px 5px; }");
        homeRow->addWidget(button);
    }
    homeRow->addStretch();
    set->add(homeRow);
    set->add(buttonRow({walk_, walkClose_}));
    auto* axisRow = new QHBoxLayout;
    axisRow->setSpacing(4);
    const std::tuple<QString, const char*, QString, Runner::Then> axes[] = {
        {tr("Zero X"), "zeroX", "G92 X0", Runner::Then::zeroX},
        {tr("Zero Y"), "zeroY", "G92 Y0", Runner::Then::zeroY},
        {tr("Zero Z"), "zeroZ", "G92 Z0", Runner::Then::zeroZ}};
    for (const auto& [label, name, block, then] : axes) {
        auto* button = plainButton(label, name);
        button->setStyleSheet("QPushButton { padding: 4px 7px; }");
        axisRow->addWidget(button);
        axes_ << button;
        connect(button, &QPushButton::clicked, this,
                [this, block = block, then = then] { session_.runner().send({block}, then); });
    }
    axisRow->addStretch();
    set->add(axisRow);
    last_ = plainButton(tr("Last zero"), "lastZero");
    last_->setToolTip(tr("The zero of the last run on this machine; home it first"));
    last_->setStyleSheet("QPushButton { padding: 4px 7px; }");
    axisRow->insertWidget(3, last_);
    connect(last_, &QPushButton::clicked, this, [this] { session_.runner().takeLastZero(zeroKey()); });
    plate_ = quantity(set, tr("Plate"), Measure::length, "plateThickness");
    plate_->setRange(0.1, 100);
    plate_->setQuantity(10);
    plate_->setHint(tr("its thickness, to touch off on"));
    connect(plate_, &QuantityField::edited, plate_, &QuantityField::setQuantity);
    connect(plate_, &QuantityField::scrubbed, this, [this](double v) { plate_->setQuantity(v); });
    touch_ = plainButton(tr("Touch off Z"), "touchOff");
    touch_->setToolTip(tr("Down to the plate twice, the second time slowly; 40 mm at most"));
    set->add(buttonRow({touch_}));
    connect(touch_, &QPushButton::clicked, this, [this] { session_.runner().touchOff({.plate = plate_->quantity()}); });
    jogStep_ = quantity(set, tr("Jog by"), Measure::length, "jogStep");
    jogStep_->setRange(0.01, 500);
    jogStep_->setQuantity(10);
    set->add(jogPad());
    connect(home_, &QPushButton::clicked, this, [this] { session_.runner().home(); });
    connect(zero_, &QPushButton::clicked, this,
            [this] { session_.runner().send({"G92 X0 Y0 Z0"}, Runner::Then::zeroSet); });
    connect(walk_, &QPushButton::clicked, this, [this] { borderWalk(program::Border::box); });
    connect(walkClose_, &QPushButton::clicked, this, [this] { borderWalk(program::Border::string); });

    edge_ = new EdgeSection(session);
    column_->insertWidget(column_->count() - 1, edge_);
    connect(edge_, &EdgeSection::told, this, &RunSheet::told);
    feel_ = new FeelSection(session);
    column_->insertWidget(column_->count() - 1, feel_);
    connect(feel_, &FeelSection::told, this, &RunSheet::told);

    auto* run = section(tr("Program"));
    prompt_ = wrappedLabel();
    prompt_->setObjectName("runPrompt");
    run->add(prompt_);
    from_ = new QComboBox;
    from_->setObjectName("runFrom");
    from_->setFixedWidth(178);
    fromRow_ = new QWidget;
    fromRow_->setLayout(row(tr("Begin with"), from_));
    fromRow_->layout()->setContentsMargins(0, 0, 0, 0);
    run->add(fromRow_);
    auto* runRow = new QHBoxLayout;
    start_ = primaryButton(tr("Start"), "startRun");
    hold_ = plainButton(tr("Hold"), "holdRun");
    resume_ = plainButton(tr("Resume"), "resumeRun");
    stop_ = plainButton(tr("Stop"), "stopRun");
    runRow->setSpacing(4);
    for (auto* button : {start_, hold_, resume_, stop_}) {
        button->setStyleSheet("QPushButton { padding: 4px 6px; }");
        runRow->addWidget(button);
    }
    run->add(runRow);
    progress_ = new QProgressBar;
    progress_->setObjectName("runProgress");
    progress_->setAccessibleName(tr("Lines done"));
    progress_->setTextVisible(false); // the number stands below, where it can be read on any colour
    run->add(progress_);
    left_ = captionLabel();
    left_->setObjectName("runLeft");
    run->add(left_);
    resumeFrom_ = plainButton(tr("Resume after the last line done"), "resumeFromLog");
    run->add(resumeFrom_);
    connect(start_, &QPushButton::clicked, this, &RunSheet::start);
    connect(hold_, &QPushButton::clicked, this, [this] { session_.runner().hold(); });
    connect(resume_, &QPushButton::clicked, this, [this] { session_.runner().resume(); });
    connect(stop_, &QPushButton::clicked, this, [this] { session_.runner().stop(); });
    connect(resumeFrom_, &QPushButton::clicked, this, &RunSheet::goOn);
    queue_ = new QueueSection(session);
    column_->insertWidget(column_->count() - 1, queue_);
    connect(queue_, &QueueSection::told, this, &RunSheet::told);
    files_ = new FileSection(session);
    column_->insertWidget(column_->count() - 1, files_);
    connect(files_, &FileSection::told, this, &RunSheet::told);

    setTabOrder(start_, hold_);
}

QLayout* RunSheet::jogPad() {
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const auto add = [&](const QString& text, const char* name, double x, double y, double z) {
        auto* button = plainButton(text, name);
        button->setStyleSheet("QPushButton { padding: 4px 0; }");
        button->setFixedWidth(40);
        row->addWidget(button);
        jogs_ << button;
        connect(button, &QPushButton::clicked, this, [=, this] { jog(x, y, z); });
    };
    add("X−", "jogXMinus", -1, 0, 0);
    add("X+", "jogXPlus", 1, 0, 0);
    add("Y−", "jogYMinus", 0, -1, 0);
    add("Y+", "jogYPlus", 0, 1, 0);
    add("Z−", "jogZMinus", 0, 0, -1);
    add("Z+", "jogZPlus", 0, 0, 1);
    row->addStretch();
    return row;
}

void RunSheet::jog(double x, double y, double z) {
    const double by = jogStep_->quantity();
    session_.runner().send({QStringLiteral("G21 G91 G0 X%1 Y%2 Z%3").arg(x * by).arg(y * by).arg(z * by), "G90"});
}

void RunSheet::borderWalk(program::Border by) {
    const auto proof = session_.prover().proof();
    if (!proof) return;
    QStringList blocks;
    for (const auto& block : program::borderWalk(session_.job(), proof->path, by))
        blocks << QString::fromStdString(block);
    if (blocks.isEmpty()) return void(Q_EMIT told(tr("Nothing is cut: there is nothing to go round."), true));
    session_.runner().send(blocks);
}

void RunSheet::start() {
    const auto program = session_.writer().program();
    if (!program) return void(Q_EMIT told(QString::fromStdString(program.problem().text()), true));
    if (!session_.runner().facts().zeroSet)
        return void(Q_EMIT told(tr("The zero is not set. Jog to the sheet's zero and press “Zero is here”."), true));
    const auto run = session_.writer().run();
    if (!run) return void(Q_EMIT told(QString::fromStdString(run.problem().text()), true));
    std::optional<link::Resumption> from;
    if (const int step = from_->currentIndex(); step > 0) {
        auto rest = link::beginningAt(*run, static_cast<std::size_t>(step));
        if (!rest) return void(Q_EMIT told(QString::fromStdString(rest.problem().text()), true));
        from = std::move(*rest);
        Q_EMIT told(tr("Beginning with “%1” at line %2: what comes before it is taken as done.")
                        .arg(from_->currentText())
                        .arg(from->fromLine),
                    false);
    }
    run_ = *run;
    nextWords_.clear();
    timed_.reset();
    if (!from) // a part of it tells nothing about the whole
        timed_ = {.when = link::timeNow(),
                  .machine = zeroKey().toStdString(),
                  .proofed = session_.prover().proof()->timing.running(),
                  .job = session_.job().name};
    counted_ = from ? std::nullopt : std::optional(session_.job().sheet().id);
    session_.runner().start(*run, session_.writer().runLogFile(), zeroKey(), from);
    from_->setCurrentIndex(0); // it holds for one run
}

/// A sheet that has been run to its end is counted in the queue, which says what comes next.
void RunSheet::countRun() {
    const auto& facts = session_.runner().facts();
    if (!counted_ || facts.state == RunState::ready) return;
    if (facts.state == RunState::stopped || facts.state == RunState::failed) return counted_.reset();
    if (facts.state != RunState::finished || facts.done < facts.lines || facts.lines == 0) return;
    const auto sheet = *std::exchange(counted_, {});
    nextWords_ = queue_->takeFinished(sheet, facts.status.clock > 0 ? facts.status.clock : facts.running);
    if (!nextWords_.isEmpty()) Q_EMIT told(nextWords_, false);
    refresh();
}

/// What a whole run took, beside what was proofed of it.
void RunSheet::keepTime() {
    const auto& facts = session_.runner().facts();
    if (!timed_ || facts.state == RunState::ready) return;
    if (facts.state == RunState::stopped || facts.state == RunState::failed) return timed_.reset();
    if (facts.state != RunState::finished || facts.done < facts.lines || facts.lines == 0) return;
    auto run = *std::exchange(timed_, {});
    run.taken = facts.status.clock > 0 ? facts.status.clock : facts.running;
    if (auto kept = link::keepRunTime(realDisk(), link::runTimesFile(), run); !kept)
        return void(Q_EMIT told(QString::fromStdString(kept.problem().text()), true));
    lastZeroOf_.clear(); // what is kept of this machine is looked up again
    Q_EMIT told(tr("It took %1, %2 were proofed.")
                    .arg(QString::fromStdString(shownTime(run.taken)), QString::fromStdString(shownTime(run.proofed))),
                false);
}

/// A finished run has cut up a board of the shelf, unless the stand-in did it.
void RunSheet::takeBoard() {
    if (session_.runner().facts().state != RunState::finished || run_.board.empty()) return;
    const auto board = std::exchange(run_.board, {}); // once
    if (session_.runner().hasStandIn()) return;
    auto less = shop::withBoardUsed(session_.shop().shelves(), board, run_.boards);
    if (!less)
        return void(Q_EMIT told(tr("“%1” is not on the shelf any more.").arg(QString::fromStdString(board)), true));
    if (session_.shop().apply(tr("A board is used"), Result<shop::Shelves>(std::move(*less))))
        Q_EMIT told(run_.boards > 1 ? tr("%1 boards less on the shelf.").arg(run_.boards)
                                    : tr("One board less on the shelf."),
                    false);
}

/// From the log, whoever wrote it: this window or one before. Only what the log holds is gone on with.
void RunSheet::goOn() {
    const auto text = realDisk().read(session_.writer().runLogFile().toStdString());
    const auto logged = text ? link::loggedIn(*text) : Result<link::Logged>(text.problem());
    if (!logged) return void(Q_EMIT told(QString::fromStdString(logged.problem().text()), true));
    if (logged->finished) return void(Q_EMIT told(tr("This run was finished; nothing is left to resume."), true));
    const auto now = session_.writer().run();
    const std::string differs = now ? link::differenceOf(logged->run, *now) : now.problem().what;
    if (!differs.empty()) {
        QMessageBox question(this);
        question.setObjectName("resumeQuestion");
        question.setIcon(QMessageBox::Warning);
        question.setText(tr("The job is not the one that was run."));
        question.setInformativeText(
            tr("Since line %1 was done it has changed: %2.\nThe program that was run is kept in "
               "its log and can be gone on with.")
                .arg(logged->done)
                .arg(QString::fromStdString(differs)));
        auto* go = question.addButton(tr("Go on with the logged program"), QMessageBox::AcceptRole);
        go->setObjectName("resumeLogged");
        question.addButton(tr("Leave it"), QMessageBox::RejectRole)->setObjectName("resumeLeave");
        question.exec();
        if (question.clickedButton() != go) return;
    }
    const auto rest = link::resumed(logged->run, logged->done);
    if (!rest) return void(Q_EMIT told(QString::fromStdString(rest.problem().text()), true));
    run_ = logged->run;
    counted_.reset();
    if (differs.empty()) counted_ = session_.job().sheet().id; // the rest of it makes it whole
    session_.runner().goOn(*rest, session_.writer().runLogFile());
    Q_EMIT told(
        counted_
            ? tr("Resuming at line %1.").arg(rest->fromLine)
            : tr("Resuming at line %1. The queue does not count it: the job is another by now.").arg(rest->fromLine),
        false);
}

/// The steps of the program, to begin with one of them; the first whenever they are others.
void RunSheet::listSteps() {
    QStringList names;
    if (session_.prover().isFresh())
        for (const auto& step : session_.prover().proof()->path.steps) names << QString::fromStdString(step.title());
    QStringList shown;
    for (int i = 0; i < from_->count(); ++i) shown << from_->itemText(i);
    if (names != shown) {
        from_->clear();
        from_->addItems(names);
    }
    fromRow_->setVisible(names.size() > 1);
    from_->setEnabled(!session_.runner().active());
}

/// Under what the zero of a run is kept: a stand-in's tells nothing about the machine it stands in for.
QString RunSheet::zeroKey() const {
    const auto key = QString::fromStdString(session_.job().machine.key);
    return session_.runner().hasStandIn() ? key + QStringLiteral("@stand-in") : key;
}

/// How far the log of this job has come; read again only when the file has changed.
long RunSheet::resumableLine() {
    const QFileInfo file(session_.writer().runLogFile());
    const std::pair seen{file.lastModified(), file.size()};
    if (seen != logSeen_ || file.filePath() != logFile_) {
        logSeen_ = seen;
        logFile_ = file.filePath();
        const auto text = file.isFile() ? realDisk().read(file.filePath().toStdString())
                                        : Result<std::string>(Problem{.what = "none", .where = {}, .mend = {}});
        const auto logged = text ? link::loggedIn(*text) : Result<link::Logged>(text.problem());
        logDone_ = logged && !logged->finished ? logged->done : 0;
    }
    return logDone_;
}

void RunSheet::refresh() {
    if (session_.station() != StationId::run) return;
    machine_->refresh();
    files_->refresh();
    edge_->refresh();
    feel_->refresh();
    queue_->refresh();
    const auto& facts = session_.runner().facts();
    const bool active = session_.runner().active() || facts.feeling, connected = facts.connected;
    const bool noGo = !session_.prover().isFresh() || !session_.prover().proof()->mayRun();
    for (auto* button : {home_, zero_, walk_, walkClose_}) button->setEnabled(connected && !active);
    for (auto* button : axes_) button->setEnabled(connected && !active);
    // Looked up again for another machine, and after a run.
    if (const QString now = QStringLiteral("%1 %2 %3").arg(zeroKey()).arg(facts.homed).arg(active);
        now != std::exchange(lastZeroOf_, now))
        hasLastZero_ = link::lastZero(realDisk(), link::lastZeroFile(), zeroKey().toStdString()).has_value(),
        habit_ = link::runsOn(link::runTimes(realDisk(), link::runTimesFile()), zeroKey().toStdString());
    touch_->setEnabled(connected && !active && !facts.sending);
    last_->setEnabled(connected && facts.tellsPlace && !active && !facts.sending && facts.homed &&
                      facts.status.state == link::MachineState::resting && hasLastZero_);
    for (auto* walk : {walk_, walkClose_}) walk->setEnabled(connected && !active && facts.zeroSet);
    for (auto* button : jogs_) button->setEnabled(connected && !active);
    start_->setEnabled(connected && !active && !noGo);
    listSteps();
    hold_->setEnabled(facts.state == RunState::running);
    resume_->setEnabled(facts.state == RunState::holding || facts.state == RunState::asking);
    using link::MachineState;
    const bool moving = facts.status.state == MachineState::moving || facts.status.state == MachineState::waiting;
    stop_->setEnabled(connected && (active || facts.sending || moving));
    const long resumable = connected && !active ? resumableLine() : 0;
    resumeFrom_->setVisible(resumable > 0);
    resumeFrom_->setText(tr("Resume after line %1").arg(resumable));
    QString prompt;
    if (session_.job().plan.steps.empty())
        prompt = tr("There is nothing to run yet. Add a step in Cuts.");
    else if (noGo)
        prompt = tr("A no-go stands: nothing can run. See Proof.");
    else if (facts.state == RunState::asking && facts.question == "tool") {
        const auto* step = run_.stepOf(facts.done + 1);
        const QString next =
            step ? tr("T%1 %2").arg(step->tool).arg(QString::fromStdString(step->toolName)) : tr("the next tool");
        prompt = tr("Put in %1, then press Resume.").arg(next);
    } else if (facts.state == RunState::asking) {
        prompt = tr("The program pauses. Press Resume to go on.");
        const auto* step = run_.stepOf(facts.done + 1);
        for (const auto& planned : session_.job().plan.steps)
            if (step && planned.name == step->name && !planned.note.empty())
                prompt += QLatin1Char(' ') + QString::fromStdString(planned.note);
    } else if (facts.state == RunState::finished)
        prompt = nextWords_.isEmpty() ? tr("Finished.") : tr("Finished.") + QLatin1Char(' ') + nextWords_;
    else if (!connected)
        prompt = tr("Connect a machine, or start the stand-in.");
    else if (!facts.zeroSet && !active)
        prompt = tr("Home, jog to the sheet's zero, then press “Zero is here”.");
    prompt_->setText(prompt);
    progress_->setRange(0, static_cast<int>(std::max(1L, facts.lines)));
    progress_->setValue(static_cast<int>(facts.done));
    const auto lines = tr("line %1 of %2").arg(facts.done).arg(facts.lines);
    const double seconds = session_.prover().leftAt(facts.status.clock);
    left_->setText(active            ? tr("%1 · %2 left").arg(lines, QString::fromStdString(shownTime(seconds)))
                   : facts.lines > 0 ? lines
                   : habit_.runs > 0 ? tr("The last %n runs here took %1 times what was proofed.", nullptr,
                                          static_cast<int>(habit_.runs))
                                           .arg(habit_.share, 0, 'f', 2)
                                     : QString());
}

} // namespace ferro::app
