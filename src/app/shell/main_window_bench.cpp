// The bench in the window: its tools and readout, what it shows, and what is done on it.
#include "app/shell/main_window.h"

#include "app/theme/theme.h"

namespace ferro::app {

void MainWindow::buildBench(QVBoxLayout* into) {
    dro_ = new Dro;
    into->addWidget(dro_);
    buildBars(into);
    toolRow_ = new QWidget;
    toolRow_->setObjectName("toolRow");
    toolRow_->setFixedHeight(Theme::toolHeight);
    auto* tools = new QHBoxLayout(toolRow_);
    tools->setContentsMargins(8, 6, 8, 6);
    tools->setSizeConstraint(QLayout::SetNoConstraint); // they make do with the room there is
    toolRow_->setMinimumWidth(200);
    tools->setSpacing(4);
    const auto tool = [&](const QString& text, Glyph glyph, BenchTool which, const char* name) {
        auto* button = new QToolButton;
        button->setText(text);
        button->setObjectName(QLatin1String(name));
        button->setAccessibleName(tr("Tool %1").arg(text));
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        button->setCheckable(true);
        button->setProperty("tool", static_cast<int>(which));
        button->setProperty("glyph", static_cast<int>(glyph));
        tools->addWidget(button);
        tools_ << button;
        // An action like those of the menus, so that it is found where they are.
        auto* action = new QAction(tr("Take the %1 tool").arg(text), this);
        action->setObjectName(QLatin1String("take ") + QLatin1String(name));
        action->setProperty("menu", tr("Tools"));
        connect(action, &QAction::triggered, this, [this, which] { askForTool(which); });
        connect(button, &QToolButton::clicked, action, &QAction::trigger);
    };
    tool(tr("Select"), Glyph::select, BenchTool::select, "toolSelect");
    tool(tr("Points"), Glyph::points, BenchTool::points, "toolPoints");
    tool(tr("Draw"), Glyph::draw, BenchTool::draw, "toolDraw");
    tool(tr("Tab"), Glyph::tab, BenchTool::tab, "toolTab");
    tool(tr("Area"), Glyph::area, BenchTool::area, "toolArea");
    tool(tr("Eraser"), Glyph::eraser, BenchTool::erase, "toolEraser");
    tool(tr("Pen"), Glyph::typed, BenchTool::ink, "toolPen");
    tool(tr("Pick"), Glyph::pick, BenchTool::pick, "toolPick");
    tool(tr("Clamp"), Glyph::clamp, BenchTool::clamp, "toolClamp");
    tool(tr("Measure"), Glyph::measure, BenchTool::measure, "toolMeasure");
    const auto way = [&](const QString& text, Glyph glyph, const char* name, bool round) {
        auto* button = new QToolButton;
        button->setText(text);
        button->setObjectName(QLatin1String(name));
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        button->setCheckable(true);
        button->setProperty("glyph", static_cast<int>(glyph));
        connect(button, &QToolButton::clicked, this, [this, round] { showRound(round); });
        tools->addWidget(button);
        tools_ << button;
        return button;
    };
    planButton_ = way(tr("Plan"), Glyph::plan, "wayPlan", false);
    roundButton_ = way(tr("Round"), Glyph::round, "wayRound", true);
    auto* fit = new QToolButton;
    fit->setText(tr("Whole sheet"));
    fit->setObjectName("toolFit");
    fit->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    fit->setProperty("glyph", static_cast<int>(Glyph::fit));
    connect(fit, &QToolButton::clicked, this, [this] { action("viewFit")->trigger(); });
    tools->addWidget(fit);
    tools_ << fit;
    tools->addStretch();
    into->addWidget(toolRow_);
    sheetTabs_ = new SheetTabs;
    into->addWidget(sheetTabs_);
    connect(sheetTabs_, &SheetTabs::asked, &session_, &Session::layOut);
    connect(sheetTabs_, &SheetTabs::addAsked, this, [this] { action("sheetAdd")->trigger(); });
    bench_ = new BenchView;
    round_ = new RoundView(session_.turner());
    benches_ = new QStackedWidget;
    benches_->addWidget(bench_);
    benches_->addWidget(round_);
    into->addWidget(benches_, 1);
    connect(round_, &RoundView::pointerMoved, this, [this](Vec2 at) {
        pointer_ = at;
        refreshDro();
    });
    blendBar_ = new QWidget;
    blendBar_->setObjectName("blendBar");
    auto* blend = new QHBoxLayout(blendBar_);
    blend->setContentsMargins(16, 2, 16, 2);
    blend_ = new QSlider(Qt::Horizontal);
    blend_->setObjectName("blend");
    blend_->setAccessibleName(tr("Blend between picture and trace"));
    blend_->setRange(0, 100);
    blend_->setValue(60);
    for (auto* widget : std::initializer_list<QWidget*>{new QLabel(tr("picture")), blend_, new QLabel(tr("trace"))})
        blend->addWidget(widget);
    into->addWidget(blendBar_);
    connect(blend_, &QSlider::valueChanged, this, &MainWindow::refreshBench);
}

void MainWindow::connectBench() {
    connect(bench_, &BenchView::selectAsked, &session_, &Session::select);
    bench_->setTaker([this](const QPoint& at, bool dropped) {
        const auto sheet = sheetTabs_->holdOver(at);
        const bool takes = sheet && *sheet != session_.job().artwork->sheet;
        if (dropped) {
            sheetTabs_->holdOver({-1, -1});
            if (takes) layChosenOn(*sheet);
        }
        return takes;
    });
    connect(
        bench_, &BenchView::transformAsked, this, [this](const QString& label, const Transform& by, quint64 gesture) {
            editSelection(label, artwork::withTransformed(*session_.job().artwork, session_.selection(), by), gesture);
        });
    connect(bench_, &BenchView::movePreviewed, this, [this](const Transform& by) {
        if (auto moved = artwork::withTransformed(*session_.job().artwork, session_.selection(), by))
            session_.reacher().preview(std::move(*moved), session_.selection());
    });
    connect(bench_, &BenchView::shapePreviewed, this, [this](Vec2 from, Vec2 to) {
        if (auto drawn = session_.shapes().drawn(from, to))
            session_.reacher().preview(std::move(drawn->artwork), drawn->ids);
    });
    connect(bench_, &BenchView::tabsAsked, this,
            [this](plan::StepId step, artwork::ItemId item, int opening, const std::vector<double>& along) {
                session_.apply(tr("Place tabs"), job::withTabs(session_.job(), step, item, opening, along));
            });
    connect(bench_, &BenchView::startAsked, this,
            [this](plan::StepId step, artwork::ItemId item, int opening, double along) {
                session_.apply(along < 0 ? tr("Start where it suits") : tr("Place the start"),
                               job::withStart(session_.job(), step, item, opening,
                                              along < 0 ? std::nullopt : std::optional(along)));
            });
    connect(bench_, &BenchView::areaAsked, &session_.tracer(), &Tracer::setArea);
    connect(bench_, &BenchView::colourAsked, &session_.tracer(), &Tracer::pickColour);
    connect(bench_, &BenchView::brushAsked, this, [this](bool erases, const Ring& points) {
        session_.tracer().brush(erases ? picture::CleanStep::Kind::erase : picture::CleanStep::Kind::draw, points);
    });
    connect(bench_, &BenchView::shapeAsked, &session_.shapes(), &ShapeMaker::make);
    auto& points = session_.points();
    connect(bench_, &BenchView::pointsChosen, &points, &PointEditor::choose);
    connect(bench_, &BenchView::pointsMoveAsked, &points, [&points](Vec2 by) { points.move(by); });
    connect(bench_, &BenchView::handleMoveAsked, &points, &PointEditor::moveHandle);
    connect(bench_, &BenchView::bulgeAsked, &points, &PointEditor::bulge);
    connect(bench_, &BenchView::pointAddAsked, &points, &PointEditor::add);
    connect(bench_, &BenchView::bridgeMoveAsked, this, [this](const mend::BridgePlace& bridge, Vec2 to) {
        editSelection(tr("Move bridge"),
                      mend::withBridgeMoved(*session_.job().artwork, bridge.group, bridge.index, to));
    });
    connect(bench_, &BenchView::bridgeAwayAsked, this, [this](const mend::BridgePlace& bridge) {
        editSelection(tr("Take bridge away"), mend::withoutBridge(*session_.job().artwork, bridge.group, bridge.index));
    });
    connect(bench_, &BenchView::clampMoveAsked, this, [this](std::size_t index, Vec2 low) {
        session_.apply(tr("Move clamp"), job::withClampAt(session_.job(), index, low));
    });
    connect(bench_, &BenchView::clampAsked, this, [this](const Box& area) {
        session_.apply(tr("Add a clamp"), job::withClamp(session_.job(), {area, 15}));
    });
    connect(bench_, &BenchView::staysAsked, this, [this](Vec2 of) {
        stays_ = of;
        refreshBench();
    });
    connect(bench_, &BenchView::keyAsked, &session_, &Session::setKey);
    connect(bench_, &BenchView::menuAsked, this, &MainWindow::openBenchMenu);
    connect(bench_, &BenchView::filesDropped, this, [this](const QList<QUrl>& urls) {
        QStringList files;
        for (const auto& url : urls)
            if (url.isLocalFile()) files << url.toLocalFile();
        takeFiles(files);
    });
    connect(bench_, &BenchView::imageDropped, this,
            [this](const QImage& image) { addImage(image, tr("dropped.png")); });
    connect(arrival_, &ArrivalBar::measureAsked, this, [this] { takeTool(BenchTool::measure); });
    connect(bench_, &BenchView::textAsked, this, &MainWindow::letterText);
    connect(bench_, &BenchView::measured, this, [this](Vec2 from, Vec2 to) {
        if (!arrival_->isMeasuring()) return;
        takeTool(BenchTool::select);
        arrival_->measured(from, to);
    });
    connect(bench_, &BenchView::pointerMoved, this, [this](Vec2 at) {
        pointer_ = at;
        refreshDro();
    });
    connect(bench_, &BenchView::shownChanged, this, &MainWindow::refreshDro);
    connect(dro_, &Dro::moveAsked, this, [this](Vec2 by) {
        editSelection(tr("Move"),
                      artwork::withTransformed(*session_.job().artwork, session_.selection(), Transform::moved(by)));
    });
    connect(dro_, &Dro::sizeAsked, this, [this](double w, double h) {
        editSelection(tr("Size"), artwork::withSize(*session_.job().artwork, session_.selection(), w, h, stays_));
    });
    connect(dro_, &Dro::turnAsked, this, [this](double angle) {
        editSelection(tr("Turn"), artwork::withTransformed(*session_.job().artwork, session_.selection(),
                                                           Transform::rotated(angle, selectionCentre())));
    });
    connect(dro_, &Dro::zoomAsked, this, [this](double percent) { zoom(percent / 100 * 3.78 / shownScale()); });
    connect(dro_, &Dro::refused, this, [this](const QString& why) { tell(why, true); });
}

/// The actions of the menus that are about what is under the pointer.
void MainWindow::openBenchMenu(QPoint at, bool onPiece) {
    auto* menu = new QMenu(this);
    menu->setObjectName("benchMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto lists =
        onPiece ? std::vector<std::vector<const char*>>{{"editCut", "editToClipboard", "editDuplicate", "editCopy",
                                                         "editRepeat", "editOwn"},
                                                        {"pieceGroup", "pieceUngroup", "pieceLock", "pieceHide"},
                                                        {"pieceTurnLeft", "pieceTurnRight", "pieceMirrorX",
                                                         "pieceMirrorY", "pieceOriginal"},
                                                        {"pieceThin", "pieceTraceAgain", "viewFitSelection"},
                                                        {"editDelete"}}
                : std::vector<std::vector<const char*>>{{"editPaste", "editPasteInPlace"},
                                                        {"editSelectAll", "pieceShow", "pieceUnlock"},
                                                        {"fileAddArtwork", "pieceText"},
                                                        {"viewFit"}};
    for (const auto& list : lists) {
        for (const char* name : list) menu->addAction(action(name));
        menu->addSeparator();
    }
    if (onPiece && session_.job().sheets.size() > 1) menu->addMenu(layMenu_);
    menu->popup(at);
}

void MainWindow::refreshBench() {
    BenchFacts facts{session_.job(),
                     session_.selection(),
                     session_.station(),
                     session_.step(),
                     session_.prover().moves(),
                     session_.prover().proof(),
                     session_.prover().surface(),
                     proofSheet_ ? proofSheet_->view() : ProofView::surface,
                     session_.tracer().result(),
                     blend_->value() / 100.0,
                     std::nullopt,
                     session_.prover().playhead(),
                     session_.station() == StationId::mend && session_.auditor().isFresh() ? session_.auditor().audit()
                                                                                           : nullptr,
                     session_.auditor().current(),
                     session_.station() == StationId::mend ? mend::bridgesOf(*session_.job().artwork)
                                                           : std::vector<mend::BridgePlace>{}};
    if (session_.station() == StationId::mend)
        for (const auto& p : session_.auditor().proposed().changes) facts.proposals.push_back(p.becomes);
    facts.points = session_.points().marks();
    facts.chosenPoints = session_.points().chosen();
    for (const auto& path : session_.auditor().becomes()) facts.proposals.push_back(path);
    facts.goes = session_.auditor().goes();
    facts.stays = stays_;
    facts.key = session_.key();
    facts.nudge = session_.hands().nudge;
    if (session_.hands().apart) {
        const auto wish = session_.nester().wish();
        facts.apart = {wish.how.spacing, wish.how.margin};
    }
    facts.grid = session_.hands().grid;
    facts.reach = session_.reacher().reach();
    if (session_.nester().isRunning() && session_.nester().best()) { // the best so far, on the sheet that is at hand
        facts.job = session_.nester().seen();
        facts.reach = nullptr;
        facts.moves = nullptr, facts.proof = nullptr;
    }
    facts.underlay = underlay_;
    facts.shape = session_.shapes().settings();
    if (session_.station() == StationId::source) {
        if (session_.tracer().look()) facts.job.artwork = session_.tracer().look();
        if (const auto* picture = session_.tracer().picture()) facts.traced = picture->id;
        facts.area = session_.tracer().areaOutline();
        facts.only = session_.tracer().only();
        for (const auto& patch : session_.tracer().patches()) facts.patches.push_back(patch.area);
        facts.patch = session_.tracer().patch();
        facts.brush = session_.tracer().brushWidth;
    }
    const auto& run = session_.runner().facts();
    if (run.connected) {
        const auto frame = program::frameOf(session_.job());
        facts.tool =
            toolpath::Vec3{run.status.at.x + frame.zero.x, run.status.at.y + frame.zero.y, run.status.at.z + frame.z};
    }
    if (!facts.job.artwork->sheet)
        facts.job.sheet().clamps.clear(), facts.surface = {}; // no sheet is shown, nor what holds it
    const bool round =
        session_.turner().isOn() && session_.station() >= StationId::proof && session_.job().artwork->sheet;
    if (round)
        round_->setFacts(facts.proof, facts.job.sheet().clamps, facts.job.sheet().stock.thickness,
                         session_.job().units);
    bench_->setFacts(std::move(facts));
    if (benches_->currentIndex() != int(round)) {
        benches_->setCurrentIndex(int(round));
        refreshTools();
    }
    refreshDro();
}

/// From the plan into the round, or back.
void MainWindow::showRound(bool round) {
    if (round && session_.station() < StationId::proof) session_.goTo(StationId::proof);
    session_.turner().setSize(benches_->size() * devicePixelRatioF());
    session_.turner().setOn(round, bench_->toSheet({bench_->width() / 2.0, bench_->height() / 2.0}),
                            bench_->zoom() * devicePixelRatioF());
    refreshBench();
    refreshTools();
    (round ? static_cast<QWidget*>(round_) : bench_)->setFocus();
}

/// px per mm, of the plan or the round.
double MainWindow::shownScale() const {
    return benches_->currentWidget() == round_ ? session_.turner().view().scale / devicePixelRatioF() : bench_->zoom();
}

void MainWindow::zoom(double factor) {
    const QPointF middle(benches_->width() / 2.0, benches_->height() / 2.0);
    if (benches_->currentWidget() == round_)
        session_.turner().zoomBy(factor, {middle.x() * devicePixelRatioF(), middle.y() * devicePixelRatioF()});
    else
        bench_->zoomBy(factor, middle);
}

void MainWindow::refreshDro() {
    Dro::Facts facts{bench_->shownBounds(),
                     pointer_,
                     0,
                     shownScale() / 3.78 * 100,
                     session_.job().units,
                     job::zeroOf(session_.job().sheet().stock).at,
                     stays_,
                     artwork::turnOf(*session_.job().artwork, session_.selection())};
    for (const auto id : session_.selection())
        if (const auto* item = artwork::find(*session_.job().artwork, id))
            if (const auto* shape = artwork::shapeOf(*item)) facts.points += pointsOf(shape->piece);
    if (session_.selection().empty()) facts.points = artwork::countsOf(*session_.job().artwork).points;
    dro_->setFacts(facts);
}

void MainWindow::refreshTools() {
    for (auto* button : tools_) {
        button->setIcon(theme().icon(static_cast<Glyph>(button->property("glyph").toInt())));
        if (button == planButton_ || button == roundButton_) {
            button->setVisible(session_.station() >= StationId::proof);
            button->setChecked(session_.turner().isOn() == (button == roundButton_));
        }
        if (!button->property("tool").isValid()) continue;
        const auto tool = static_cast<BenchTool>(button->property("tool").toInt());
        if (benches_->currentWidget() == round_) { // nothing is chosen or measured there
            button->setVisible(false);
            continue;
        }
        const bool onPicture = tool == BenchTool::area || tool == BenchTool::erase || tool == BenchTool::ink;
        button->setVisible(
            tool == BenchTool::select || tool == BenchTool::measure ||
            (onPicture && session_.station() == StationId::source && session_.tracer().picture()) ||
            (tool == BenchTool::pick && session_.station() == StationId::source && session_.tracer().picture() &&
             session_.tracer().settings().find == trace::Find::colours) ||
            ((tool == BenchTool::points || tool == BenchTool::draw) && session_.station() == StationId::mend) ||
            (tool == BenchTool::tab && session_.station() == StationId::cuts) ||
            (tool == BenchTool::clamp && session_.station() == StationId::sheet));
        button->setChecked(bench_->tool() == tool);
    }
    fitTools();
}

/// In a narrow window the tools are their drawings only; what each is called, hovering tells.
void MainWindow::fitTools() {
    const auto* row = toolRow_->layout();
    const auto dress = [&](Qt::ToolButtonStyle style) {
        int needed = row->contentsMargins().left() + row->contentsMargins().right();
        for (auto* button : tools_) {
            button->setToolButtonStyle(style);
            button->setToolTip(button->text());
            if (button->isVisibleTo(toolRow_)) needed += button->sizeHint().width() + row->spacing();
        }
        return needed;
    };
    if (dress(Qt::ToolButtonTextBesideIcon) > toolRow_->width()) dress(Qt::ToolButtonIconOnly);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    QMetaObject::invokeMethod(this, &MainWindow::placeDrawer, Qt::QueuedConnection);
    QMetaObject::invokeMethod(this, &MainWindow::fitTools, Qt::QueuedConnection); // once the row has its width
}

/// Goes where the tool is of use, and takes it.
void MainWindow::askForTool(BenchTool tool) {
    switch (tool) {
    case BenchTool::area:
    case BenchTool::erase:
    case BenchTool::ink:
    case BenchTool::pick:
        session_.goTo(StationId::source);
        if (!session_.tracer().picture()) return tell(tr("There is no picture. Add artwork first."), true);
        if (tool == BenchTool::pick && session_.tracer().settings().find != trace::Find::colours)
            return tell(tr("Colours are picked where colours are traced. Set Find to colours first."), true);
        break;
    case BenchTool::points:
    case BenchTool::draw: session_.goTo(StationId::mend); break;
    case BenchTool::clamp: session_.goTo(StationId::sheet); break;
    case BenchTool::tab: session_.goTo(StationId::cuts); break;
    default: break;
    }
    takeTool(tool);
    refreshTools();
}

void MainWindow::takeTool(BenchTool tool) {
    bench_->setTool(tool);
    session_.points().setActive(tool == BenchTool::points);
    session_.shapes().setActive(tool == BenchTool::draw);
}

} // namespace ferro::app
