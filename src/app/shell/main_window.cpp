#include "app/shell/main_window.h"

#include "app/theme/theme.h"

namespace ferro::app {

MainWindow::MainWindow(Session& session) : session_(session) {
    setObjectName("mainWindow");
    setWindowIcon(QIcon::fromTheme("org.ferrograph.Ferrograph"));
    resize(1280, 800);
    auto* page = new QWidget;
    auto* rows = new QVBoxLayout(page);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(0);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(0);
    route_ = new RouteCard;
    columns->addWidget(route_);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    buildBench(middle);
    columns->addLayout(middle, 1);
    sheets_ = new QStackedWidget;
    sheets_->setFixedWidth(Theme::sheetWidth);
    sheets_->setObjectName("sideSheet");
    columns->addWidget(sheets_);
    rows->addLayout(columns, 1);
    strip_ = new TimeStrip;
    rows->addWidget(strip_);
    setCentralWidget(page);
    drawer_ = new ShopDrawer(session_, session_.shop(), page);
    buildMenus();
    buildCards();
    connectBench();

    connect(&session, &Session::jobChanged, this, &MainWindow::refreshSoon);
    connect(&session, &Session::selectionChanged, this, &MainWindow::refreshSoon);
    connect(&session, &Session::stationChanged, this, [this] {
        openBook(false);
        takeTool(BenchTool::select);
        refreshSoon();
    });
    connect(&session.points(), &PointEditor::changed, this, &MainWindow::refreshBench);
    connect(&session.shapes(), &ShapeMaker::changed, this, &MainWindow::refreshBench);
    connect(&session.nester(), &Nester::changed, this, &MainWindow::refreshBench);
    connect(&session.reacher(), &Reacher::changed, this, &MainWindow::refreshBench);
    connect(&session.turner(), &Turner::changed, this, &MainWindow::refreshDro);
    connect(&session.tracer(), &Tracer::changed, this, [this] {
        sheetOf(StationId::source)->refresh();
        if (bench_->tool() == BenchTool::pick && session_.tracer().settings().find != trace::Find::colours)
            takeTool(BenchTool::select);
        refreshTools();
        refreshActions();
        refreshBench();
    });
    connect(&session.prover(), &Prover::changed, this, &MainWindow::refreshSoon);
    connect(&session.writer(), &ProgramWriter::changed, this, &MainWindow::refreshSoon);
    connect(&session.auditor(), &Auditor::changed, this, &MainWindow::refreshSoon);
    connect(&session.prover(), &Prover::movesChanged, this, &MainWindow::refreshBench);
    connect(&session.prover(), &Prover::surfaceChanged, this, &MainWindow::refreshBench);
    connect(&session, &Session::told, this, &MainWindow::tell);
    connect(&session, &Session::unitAsked, this, &MainWindow::askUnit);
    connect(&session, &Session::jumpAsked, this, [this](QPointF at) {
        if (benches_->currentWidget() == round_) session_.turner().lookAt({at.x(), at.y()});
        if (bench_->zoom() < 6)
            bench_->zoomBy(6 / bench_->zoom(), QPointF(bench_->width() / 2.0, bench_->height() / 2.0));
        bench_->centreOn({at.x(), at.y()});
    });
    connect(&session.background(), &Background::changed, this,
            [this] { strip_->setActivity(session_.background().activity(), session_.background().fraction()); });
    connect(&session.runner(), &Runner::changed, this, [this] {
        followRun();
        if (session_.station() == StationId::run) sheetOf(StationId::run)->refresh(), refreshBench();
        route_->setFacts(cardsOf(session_), session_.station());
        refreshStrip();
    });
    connect(route_, &RouteCard::asked, &session, &Session::goTo);
    connect(&session_.files(), &JobFiles::changedOnDisk, this, &MainWindow::settleChanged);
    connect(&session_, &Session::replaced, this, [this] { bench_->fitStock(); });
    connect(strip_, &TimeStrip::stepAsked, this, [this](plan::StepId step) { session_.selectStep(step); });
    connect(strip_, &TimeStrip::playheadAsked, &session.prover(), &Prover::setPlayhead);
    connect(strip_, &TimeStrip::cancelAsked, this, [this] {
        session_.background().cancelAll();
        refreshSoon();
        tell(tr("Cancelled."), false);
    });
    connect(&theme(), &Theme::changed, this, &MainWindow::refresh);
    qApp->installEventFilter(this);
    refresh();
    theme().dress();
    bench_->setFocus();
}

/// While a program runs the stock is shown as it should look by now.
void MainWindow::followRun() {
    constexpr qint64 often = 600; // ms; each look is a sweep of its own
    const bool active = session_.runner().active();
    if (active && followed_.isValid() && followed_.elapsed() < often) return;
    if (active) {
        session_.prover().setPlayhead(session_.prover().timeAt(session_.runner().facts().status.clock));
        followed_.start();
    } else if (followed_.isValid()) {
        followed_.invalidate();
        if (session_.runner().facts().state == link::Streamer::State::finished) session_.prover().setPlayhead(-1);
    }
}

/// A sheet is built when its station is first gone to: six at once would keep the window waiting.
StationSheet* MainWindow::sheetOf(StationId station) {
    auto& sheet = stations_[static_cast<std::size_t>(station)];
    if (sheet) return sheet;
    switch (station) {
    case StationId::source: sheet = new SourceSheet(session_); break;
    case StationId::mend: {
        auto* mend = new MendSheet(session_);
        connect(mend, &MendSheet::menuAsked, this, [this](QPoint at) { openBenchMenu(at, true); });
        sheet = mend;
        break;
    }
    case StationId::sheet: sheet = new StockSheet(session_); break;
    case StationId::cuts: sheet = new CutsSheet(session_); break;
    case StationId::proof:
        sheet = proofSheet_ = new ProofSheet(session_);
        connect(proofSheet_, &ProofSheet::viewAsked, this, &MainWindow::refreshBench);
        connect(proofSheet_, &ProofSheet::jointsAsked, this, [this] {
            session_.goTo(StationId::mend);
            static_cast<MendSheet*>(sheetOf(StationId::mend))->lookForJoints();
        });
        break;
    case StationId::run: sheet = new RunSheet(session_); break;
    }
    sheets_->addWidget(sheet);
    connect(sheet, &StationSheet::told, this, &MainWindow::tell);
    connect(sheet, &StationSheet::wished, this,
            [this](const QString& name) { action(name.toLatin1().constData())->trigger(); });
    return sheet;
}

void MainWindow::buildBars(QVBoxLayout* into) {
    const auto bar = [&](const char* name) {
        auto* widget = new QFrame;
        widget->setObjectName(QLatin1String(name));
        auto* row = new QHBoxLayout(widget);
        row->setContentsMargins(12, 4, 8, 4);
        widget->hide();
        into->addWidget(widget);
        return widget;
    };
    message_ = bar("message");
    messageText_ = wrappedLabel();
    messageText_->setObjectName("messageText");
    message_->layout()->addWidget(messageText_);
    static_cast<QHBoxLayout*>(message_->layout())->setStretch(0, 1);
    auto* close = plainButton(tr("Close"), "closeMessage");
    message_->layout()->addWidget(close);
    connect(close, &QPushButton::clicked, message_, &QWidget::hide);
    messageTimer_.setSingleShot(true);
    connect(&messageTimer_, &QTimer::timeout, message_, &QWidget::hide);

    arrival_ = new ArrivalBar(session_);
    into->addWidget(arrival_);
    connect(&session_, &Session::arrived, this, [this](const artwork::Ids& items, Vec2 own, const QString& words) {
        arrival_->show(items, own, words);
        bench_->fitAll();
    });

    recovery_ = bar("recovery");
    if (session_.files().recoverable().isEmpty()) return;
    recovery_->layout()->addWidget(wrappedLabel(tr("A job was not closed in order. Its last state was kept.")));
    auto* back = primaryButton(tr("Open it"), "recover");
    auto* away = plainButton(tr("Throw it away"), "discardRecovery");
    recovery_->layout()->addWidget(back);
    recovery_->layout()->addWidget(away);
    connect(back, &QPushButton::clicked, this, [this] {
        recovery_->hide();
        session_.files().recover();
    });
    connect(away, &QPushButton::clicked, this, [this] {
        recovery_->hide();
        session_.files().discardRecovery();
    });
    recovery_->show();
}

void MainWindow::buildCards() {
    const auto button = [&](StationId station, QPushButton* made, const std::function<void()>& run) {
        route_->card(station)->addAction(made);
        connect(made, &QPushButton::clicked, this, run);
        return made;
    };
    accept_ = button(StationId::source, primaryButton(tr("Accept trace"), "acceptTrace"),
                     [this] { session_.tracer().accept(); });
    button(StationId::source, plainButton(tr("Add artwork…"), "addArtwork"), [this] { addArtworkDialog(); });
    button(StationId::mend, primaryButton(tr("Place on the sheet"), "toSheet"),
           [this] { session_.goTo(StationId::sheet); });
    button(StationId::sheet, primaryButton(tr("Plan the cuts"), "toCuts"), [this] { session_.goTo(StationId::cuts); });
    fit_ = button(StationId::cuts, primaryButton(tr("Add what fits"), "addWhatFits"), [this] { addFittingSteps(); });
    byRules_ = button(StationId::cuts, plainButton(tr("By the house rules"), "byRules"), [this] { applyHouseRules(); });
    auto* step = plainButton(tr("Add a step"), "addStep");
    auto* kinds = new QMenu(step);
    for (const auto* kind : plan::kinds())
        kinds->addAction(action(("step" + textOf(kind->label)).toLatin1().constData()));
    button(StationId::cuts, step, [step, kinds] { kinds->popup(step->mapToGlobal(QPoint(0, step->height()))); });
    button(StationId::cuts, plainButton(tr("Proof it"), "toProof"), [this] { session_.goTo(StationId::proof); });
    button(StationId::proof, primaryButton(tr("Go to the machine"), "toRun"),
           [this] { session_.goTo(StationId::run); });
    button(StationId::run, plainButton(tr("Write the program…"), "cardWrite"),
           [this] { findChild<QPushButton*>("writeProgram")->click(); });
}

void MainWindow::editSelection(const QString& label, Result<artwork::Artwork> next, quint64 gesture) {
    session_.apply(label, job::withArtwork(session_.job(), std::move(next)), gesture);
}

Vec2 MainWindow::selectionCentre() const {
    return artwork::boundsOf(*session_.job().artwork, session_.selection()).centre();
}

void MainWindow::addStep(const plan::Kind& kind) {
    session_.goTo(StationId::cuts);
    auto next = job::withStepAdded(session_.job(), kind.name, "");
    // An area is one of many outlines, a picture one of several, and all of them are hardly ever meant.
    const bool areas = kind.takes == plan::Takes::areas && !kind.takesPieces,
               pictures = kind.takes == plan::Takes::pictures;
    artwork::Ids chosen = session_.selection();
    if (pictures)
        std::erase_if(chosen, [&](artwork::ItemId id) {
            return !artwork::pictureOf(*artwork::find(*session_.job().artwork, id));
        });
    const bool some = !chosen.empty();
    if (next && (areas || pictures) && some) next = job::withStepItems(*next, next->plan.steps.back().id, chosen);
    if (!session_.apply(tr("Add step"), std::move(next))) return;
    session_.selectStep(session_.job().plan.steps.back().id);
    if (areas && !some) tell(tr("It takes all closed outlines. Choose pieces, or name its layers."), true);
}

void MainWindow::addFittingSteps() {
    session_.goTo(StationId::cuts);
    const auto before = session_.job().plan.steps.size();
    if (!session_.apply(tr("Add steps"), job::withFittingSteps(session_.job()))) return;
    QStringList names;
    const auto& steps = session_.job().plan.steps;
    for (std::size_t i = before; i < steps.size(); ++i) names << QString::fromStdString(steps[i].name);
    session_.selectStep(steps[before].id);
    tell(tr("Added: %1.").arg(names.join(tr(", "))), false);
}

/// An edit that also chooses and goes on to another station is shown once, when it is whole.
void MainWindow::refreshSoon() {
    if (std::exchange(refreshDue_, true)) return;
    QMetaObject::invokeMethod(this, &MainWindow::refresh, Qt::QueuedConnection);
}

void MainWindow::refresh() {
    refreshDue_ = false;
    route_->setFacts(cardsOf(session_), session_.station());
    auto* sheet = sheetOf(session_.station());
    sheets_->setCurrentWidget(sheet);
    sheet->refresh();
    blendBar_->setVisible(session_.station() == StationId::source && session_.tracer().picture());
    const QString name = session_.file().isEmpty() ? tr("%1.ferro").arg(QString::fromStdString(session_.job().name))
                                                   : QFileInfo(session_.file()).fileName();
    setWindowTitle(tr("%1%2 — Ferrograph").arg(name, session_.changed() ? " •" : ""));
    refreshSheets();
    refreshTools();
    refreshActions();
    refreshStrip();
    refreshBench();
}

void MainWindow::refreshStrip() { strip_->setFacts(stripOf(session_)); }

void MainWindow::tell(const QString& text, bool isProblem) {
    messageText_->setText(text);
    message_->setStyleSheet(
        QStringLiteral("QFrame#message { background: %1; border-left: 4px solid %2; }")
            .arg(theme().color(Token::card).name(), theme().color(isProblem ? Token::noGo : Token::verdigris).name()));
    message_->show();
    messageTimer_.start(std::max(isProblem ? 15'000 : 4'000, 60 * static_cast<int>(text.size()))); // time to read it
}

} // namespace ferro::app
