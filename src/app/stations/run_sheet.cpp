#include "app/stations/run_sheet.h"

#include "app/shell/dialect_dialog.h"
#include "app/theme/theme.h"
#include "job/sheets.h"
#include "link/resume.h"
#include "link/run_log.h"
#include "shop/own.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>

namespace ferro::app {

using RunState = link::Streamer::State;

RunSheet::RunSheet(Session& session) : StationSheet(session, tr("Run"), "runSheet") {
    auto* machine = section(tr("Machine"));
    device_ = new QLineEdit;
    device_->setObjectName("device");
    device_->setFixedWidth(150);
    device_->setPlaceholderText("/dev/ttyUSB0");
    machine->add(row(tr("Port"), device_));
    // Looked up when asked for: what is plugged in changes while the sheet is open.
    ports_ = plainButton(tr("Ports"), "ports");
    ports_->setToolTip(tr("What is plugged in"));
    ports_->setMenu(new QMenu(ports_));
    connect(ports_->menu(), &QMenu::aboutToShow, this, &RunSheet::listPorts);
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
    machine->add(linkRow);
    machine->add(rehearse_);
    faster_ = quantity(machine, tr("Stand-in, × faster"), Measure::count, "standInFaster");
    faster_->setRange(1, 10'000);
    faster_->setQuantity(20);
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
    machine->add(state_);
    machine->add(where_);
    machine->add(limits_);
    machine->add(problem_);
    connect(connect_, &QPushButton::clicked, this, [this] {
        if (session_.runner().facts().connected)
            session_.runner().disconnectNow();
        else if (device_->text().trimmed().isEmpty())
            Q_EMIT told(tr("Type the machine's port first, or start the stand-in."), true);
        else
            session_.runner().connectTo(device_->text().trimmed(), conversation());
    });
    connect(standIn_, &QPushButton::clicked, this, [this] {
        // Its plate lies where the zero is: on the stock or under it, and that on a scrap board.
        constexpr double board = 5; // mm
        const auto& stock = session_.job().sheet().stock;
        session_.runner().startStandIn(QString::fromStdString(session_.job().machine.key), conversation(),
                                       faster_->quantity(),
                                       board + stock.thickness + job::zeroOf(stock).z + plate_->quantity());
    });

    connect(rehearse_, &QPushButton::clicked, this, [this] {
        rehearsal_ = std::make_unique<Rehearsal>(session_, faster_->quantity());
        connect(rehearsal_.get(), &Rehearsal::ready, start_, &QPushButton::click);
    });

    auto* set = section(tr("Set up"));
    auto* homeRow = new QHBoxLayout;
    home_ = plainButton(tr("Home"), "home");
    zero_ = plainButton(tr("Zero is here"), "setZero");
    walk_ = plainButton(tr("Walk the border"), "borderWalk");
    homeRow->setSpacing(4);
    for (auto* button : {home_, zero_, walk_}) {
        button->setStyleSheet("QPushButton { padding: 4px 5px; }");
        homeRow->addWidget(button);
    }
    homeRow->addStretch();
    set->add(homeRow);
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
    connect(walk_, &QPushButton::clicked, this, &RunSheet::borderWalk);

    auto* run = section(tr("Program"));
    prompt_ = wrappedLabel();
    prompt_->setObjectName("runPrompt");
    run->add(prompt_);
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
    auto* files = section(tr("File"));
    dialect_ = new QComboBox;
    dialect_->setObjectName("dialect");
    dialect_->setFixedWidth(150);
    dialect_->addItem(tr("the machine's own"), QString());
    files->add(row(tr("Dialect"), dialect_));
    auto* edit = plainButton(tr("Change the dialect…"), "editDialect");
    files->add(edit);
    connect(edit, &QPushButton::clicked, this, &RunSheet::editDialect);
    each_ = new WordChoice({}, {tr("job"), tr("tool"), tr("step")});
    each_->setObjectName("outputEach");
    files->add(row(tr("A file for each"), each_));
    fileName_ = new QLineEdit;
    fileName_->setObjectName("outputName");
    fileName_->setAccessibleName(tr("Name of the files"));
    fileName_->setFixedWidth(150);
    fileName_->setPlaceholderText(tr("as is usual"));
    fileName_->setToolTip(tr("{job}, {sheet}, {number}, {tool} and {step} are filled in"));
    files->add(row(tr("Called"), fileName_));
    files_ = captionLabel();
    files_->setObjectName("outputFiles");
    files_->setWordWrap(true);
    files->add(files_);
    write_ = plainButton(tr("Write the program…"), "writeProgram");
    writeAll_ = plainButton(tr("Write all sheets…"), "writeAllSheets");
    files->add(buttonRow({write_, writeAll_}));
    text_ = new QPlainTextEdit;
    text_->setObjectName("programText");
    text_->setAccessibleName(tr("Program"));
    text_->setReadOnly(true);
    text_->setProperty("code", true); // its face is the style sheet's
    text_->setFixedHeight(110);
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    files->add(text_);
    connect(dialect_, &QComboBox::activated, this, [this](int index) {
        session_.apply(tr("Dialect"),
                       job::withDialect(session_.job(), dialect_->itemData(index).toString().toStdString()));
    });
    for (auto* button : {write_, writeAll_})
        connect(button, &QPushButton::clicked, this, [this, all = button == writeAll_] {
            const QString folder = QFileDialog::getExistingDirectory(this, tr("Write the program into"));
            if (!folder.isEmpty()) writeTo(folder, all);
        });
    const auto output = [this](const job::Output& wished) {
        session_.apply(tr("Files of the program"), job::withOutput(session_.job(), wished));
        refresh();
    };
    connect(each_, &WordChoice::asked, this, [this, output](int index) {
        output({static_cast<job::FileOf>(index), session_.job().output.name});
    });
    connect(fileName_, &QLineEdit::editingFinished, this, [this, output] {
        const auto name = fileName_->text().trimmed().toStdString();
        if (name != session_.job().output.name) output({session_.job().output.each, name});
    });

    setTabOrder(start_, hold_);
}

QString RunSheet::conversation() const { return QString::fromStdString(session_.job().machine.conversation); }

void RunSheet::listPorts() {
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

void RunSheet::borderWalk() {
    if (!session_.prover().proof()) return;
    ferro::Box box;
    for (const auto& step : session_.prover().proof()->path.steps)
        for (const auto& cut : step.cuts) {
            box.take(boundsOf(cut.centre).grown(step.tool.radius()));
            for (const auto& ring : cut.intent.area)
                for (const Vec2 p : ring) box.take(p);
        }
    if (box.empty()) return;
    const auto frame = program::frameOf(session_.job());
    const Vec2 low = box.low - frame.zero, high = box.high - frame.zero;
    const auto at = [](double x, double y) { return QStringLiteral("G0 X%1 Y%2").arg(x, 0, 'f', 3).arg(y, 0, 'f', 3); };
    QStringList blocks{"G21 G90", "M5"};
    // At travel height and with the beam off: even a faint beam marks.
    if (session_.job().machine.does(shop::Process::rotary))
        blocks << QStringLiteral("G0 Z%1").arg(session_.prover().proof()->path.travel - frame.z, 0, 'f', 3);
    blocks << at(low.x, low.y) << at(high.x, low.y) << at(high.x, high.y) << at(low.x, high.y) << at(low.x, low.y);
    session_.runner().send(blocks);
    walked_ = true;
}

void RunSheet::writeTo(const QString& folder, bool allSheets) {
    session_.background().run(
        "program file", tr("Writing the program"),
        [jobs = allSheets ? job::sheetsToCut(session_.job()) : std::vector<job::Job>{session_.job()},
         known = session_.prover().isFresh() ? session_.prover().proof() : nullptr,
         folder = std::filesystem::path(folder.toStdString()), allSheets](Progress& progress) -> Result<QStringList> {
            if (jobs.empty())
                return Problem{.what = "Nothing lies on any sheet.", .where = {}, .mend = "Lay pieces on a sheet."};
            const auto dialect = program::dialectOf(realDisk(), jobs.front());
            if (!dialect) return dialect.problem();
            std::map<std::string, std::string> texts;
            for (std::size_t i = 0; i < jobs.size(); ++i) { // all of them, or none
                progress.stage(static_cast<double>(i) / static_cast<double>(jobs.size()),
                               static_cast<double>(i + 1) / static_cast<double>(jobs.size()));
                auto proof = allSheets || !known ? proof::proofOf(jobs[i], progress) : Result<proof::Proof>(*known);
                if (!proof) return proof.problem();
                auto files = program::programFilesFor(jobs[i], proof->path, *dialect,
                                                      proof->mayRun() ? program::Clearance::passed
                                                                      : program::Clearance::refused);
                if (!files) return allSheets ? files.problem().within(jobs[i].sheet().name) : files.problem();
                for (auto& file : *files)
                    if (!texts.emplace(file.name, std::move(file.program.text)).second)
                        return Problem{.what = fmt::format("Two sheets would be written to {}.", file.name),
                                       .where = {},
                                       .mend = "Put {sheet} into the name of the files."};
            }
            QStringList done;
            for (const auto& [name, text] : texts) {
                if (auto written = writeAtomically(realDisk(), folder / name, text); !written) return written.problem();
                done << QString::fromStdString((folder / name).string());
            }
            return done;
        },
        this,
        [this](const Result<QStringList>& done) {
            if (!done) return void(Q_EMIT told(QString::fromStdString(done.problem().text()), true));
            Q_EMIT told(done->size() == 1
                            ? tr("Wrote %1").arg(done->front())
                            : tr("Wrote %n files: %1", {}, static_cast<int>(done->size())).arg(done->join(tr(", "))),
                        false);
        });
}

void RunSheet::editDialect() {
    const auto dialect = session_.writer().dialect();
    if (!dialect) return void(Q_EMIT told(QString::fromStdString(dialect.problem().text()), true));
    auto* dialog = new DialectDialog(*dialect, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog, was = dialect->key] {
        const auto key = dialog->dialect().key;
        if (key != was && program::isOwnDialect(key))
            session_.apply(tr("Dialect"), job::withDialect(session_.job(), key));
        session_.prover().again(); // what is written may be another
        refresh();
    });
    dialog->open();
}

/// Under which names it would be written.
void RunSheet::showOutput() {
    const auto& output = session_.job().output;
    each_->setChosen(static_cast<int>(output.each));
    if (!fileName_->hasFocus()) fileName_->setText(QString::fromStdString(output.name));
    writeAll_->setVisible(session_.job().sheets.size() > 1);
    const auto proof = session_.prover().proof();
    files_->setVisible(proof && !proof->path.steps.empty());
    if (!files_->isVisibleTo(this)) return;
    const auto names = program::fileNamesFor(session_.job(), proof->path);
    QStringList shown;
    for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 6); ++i) shown << QString::fromStdString(names[i]);
    if (names.size() > 6) shown << tr("and %1 more").arg(names.size() - 6);
    files_->setText(shown.join('\n'));
}

void RunSheet::start() {
    const auto program = session_.writer().program();
    if (!program) return void(Q_EMIT told(QString::fromStdString(program.problem().text()), true));
    if (!session_.runner().facts().zeroSet)
        return void(Q_EMIT told(tr("The zero is not set. Jog to the sheet's zero and press “Zero is here”."), true));
    const auto run = session_.writer().run();
    if (!run) return void(Q_EMIT told(QString::fromStdString(run.problem().text()), true));
    run_ = *run;
    boardTaken_ = false;
    session_.runner().start(*run, session_.writer().runLogFile(), zeroKey());
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
    boardTaken_ = false;
    session_.runner().goOn(*rest, session_.writer().runLogFile());
    Q_EMIT told(tr("Resuming at line %1.").arg(rest->fromLine), false);
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

void RunSheet::showProgram() {
    if (session_.runner().active() || programRevision_ == session_.history().revision()) return;
    if (session_.background().busy("write")) return text_->setPlainText(tr("Being written …"));
    const auto program = session_.writer().program();
    if (!program) {
        text_->setPlainText(QString::fromStdString(program.problem().text()));
        return;
    }
    program_ = *program;
    programRevision_ = session_.history().revision();
    text_->setPlainText(
        QString::fromStdString(program_.text.size() > 400'000 ? program_.text.substr(0, 400'000) : program_.text));
}

void RunSheet::refresh() {
    if (session_.station() != StationId::run) return;
    showProgram();
    const auto& facts = session_.runner().facts();
    const bool active = session_.runner().active(), connected = facts.connected;
    const bool noGo = !session_.prover().isFresh() || !session_.prover().proof()->mayRun();
    if (const auto known = program::knownDialects(); dialect_->count() != static_cast<int>(known.size()) + 1) {
        dialect_->clear();
        dialect_->addItem(tr("the machine's own"), QString());
        for (const auto& name : known) dialect_->addItem(QString::fromStdString(name), QString::fromStdString(name));
    }
    showOutput();
    dialect_->setCurrentIndex(std::max(0, dialect_->findData(QString::fromStdString(session_.job().dialect))));
    write_->setEnabled(!noGo);
    writeAll_->setEnabled(session_.prover().isFresh());
    connect_->setText(connected ? tr("Disconnect") : tr("Connect"));
    standIn_->setEnabled(!connected);
    for (auto* button : {home_, zero_, walk_}) button->setEnabled(connected && !active);
    for (auto* button : axes_) button->setEnabled(connected && !active);
    // Looked up again for another machine, and after a run.
    if (const QString now = QStringLiteral("%1 %2 %3").arg(zeroKey()).arg(facts.homed).arg(active);
        now != std::exchange(lastZeroOf_, now))
        hasLastZero_ = link::lastZero(realDisk(), link::lastZeroFile(), zeroKey().toStdString()).has_value();
    touch_->setEnabled(connected && !active && !facts.sending);
    last_->setEnabled(connected && facts.tellsPlace && !active && !facts.sending && facts.homed &&
                      facts.status.state == link::MachineState::resting && hasLastZero_);
    rehearse_->setEnabled(!connected && !noGo && !session_.job().plan.steps.empty());
    if (rehearsal_ && facts.state == RunState::finished) rehearsal_.reset();
    // A board of the shelf is cut up, unless it was the stand-in that did it.
    if (facts.state == RunState::finished && !std::exchange(boardTaken_, true) && !session_.runner().hasStandIn())
        if (auto less = shop::withBoardUsed(session_.shop().shelves(), run_.board))
            session_.shop().apply(tr("A board is used"), Result<shop::Shelves>(std::move(*less)));
    walk_->setEnabled(connected && !active && facts.zeroSet);
    for (auto* button : jogs_) button->setEnabled(connected && !active);
    start_->setEnabled(connected && !active && !noGo);
    hold_->setEnabled(facts.state == RunState::running);
    resume_->setEnabled(facts.state == RunState::holding || facts.state == RunState::asking);
    using link::MachineState;
    const bool moving = facts.status.state == MachineState::moving || facts.status.state == MachineState::waiting;
    stop_->setEnabled(connected && (active || facts.sending || moving));
    const long resumable = connected && !active ? resumableLine() : 0;
    resumeFrom_->setVisible(resumable > 0);
    resumeFrom_->setText(tr("Resume after line %1").arg(resumable));
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
        prompt = tr("Finished.");
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
                                     : QString());
}

} // namespace ferro::app
