// Every action of the window: its words, its keys, its name for tests.
#include "app/shell/main_window.h"

#include "app/shell/parts_dialog.h"
#include "app/theme/theme.h"
#include "artwork/copies.h"
#include "job/by_hand.h"
#include "job/nesting.h"
#include "job/sheets.h"

#include <QFileDialog>
#include <QInputDialog>
#include <QMenuBar>
#include <QMessageBox>

namespace ferro::app {

namespace {
/// Other words by which people look for an action.
constexpr std::pair<const char*, const char*> alsoCalled[] = {
    {"fileAddArtwork", "import picture photo drawing svg dxf load"},
    {"fileSheetMap", "print stickers tags parts pdf"},
    {"fileCutList", "csv kit parts list import nesting"},
    {"jobParts", "list quantity pictures material thickness how many"},
    {"fileKit", "csv cut list batch all sheets programs setup labels map"},
    {"fileExport", "svg dxf drawing save"},
    {"fileWrite", "gcode nc cut file export"},
    {"fileProofProgram", "gcode nc check open"},
    {"fileRevert", "discard"},
    {"editDelete", "remove erase"},
    {"editSelectAll", "select"},
    {"editSelectNone", "deselect clear"},
    {"editCopy", "clone linked instance repeat"},
    {"editRepeat", "array grid pattern ring circular rows columns along copies"},
    {"viewFit", "zoom all"},
    {"viewFitSelection", "zoom"},
    {"viewNearer", "zoom in bigger"},
    {"viewFarther", "zoom out smaller"},
    {"viewRound", "3d solid turn tilt perspective"},
    {"viewUnits", "mm inch metric imperial"},
    {"viewTheme", "night day colours"},
    {"pieceText", "words letters font write"},
    {"pieceTurnLeft", "rotate"},
    {"pieceTurnRight", "rotate"},
    {"pieceMirrorX", "flip"},
    {"pieceMirrorY", "flip"},
    {"pieceThin", "simplify fewer nodes reduce"},
    {"piecesMendAll", "repair fix heal close"},
    {"shopStandIn", "simulate machine test"},
    {"shopBook", "tools library machines materials settings recipes edit"},
    {"keepRecipe", "save step preset"},
    {"shopSwatch", "material test grid power speed burn sample"},
    {"shopGauges", "fit press snug loose kerf comb test clearance"},
    {"platesMakeAll", "stencil layers register pins jig paint spray"},
    {"marksPut", "registration print"},
    {"marksPrint", "pdf paper stickers"},
    {"marksFind", "registration camera print align"},
    {"shopCamera", "calibrate lens"},
    {"shopCameraCard", "calibrate lens"},
    {"shopPick", "swatch photograph measure darkness test result"},
    {"shopProve", "best result save setting pick cell"},
    {"stepsByRules", "automatic layers plan"},
    {"jobAcceptTrace", "take outlines vector"},
    {"pieceTraceAgain", "retrace redo picture settings"},
};
constexpr const char* stationNames[] = {"Source", "Mend", "Sheet", "Cuts", "Proof", "Run"};
} // namespace

QAction* MainWindow::add(QMenu* menu, const QString& text, const char* name, const QKeySequence& keys,
                         const std::function<void()>& run) {
    auto* action = menu->addAction(text);
    action->setObjectName(QLatin1String(name));
    action->setShortcut(keys);
    action->setProperty("menu", menu->title().remove('&'));
    connect(action, &QAction::triggered, this, run);
    return action;
}

void MainWindow::buildMenus() {
    auto* bar = menuBar();
    bar->setFixedHeight(Theme::menuHeight);
    auto* file = bar->addMenu(tr("&File"));
    add(file, tr("New job"), "fileNew", QKeySequence::New, [this] {
        if (mayDiscard([this] { action("fileNew")->trigger(); })) session_.newJob();
    });
    add(file, tr("Open…"), "fileOpen", QKeySequence::Open, [this] { openDialog(); });
    recentMenu_ = file->addMenu(tr("Open again"));
    recentMenu_->setObjectName("recentJobs");
    connect(file, &QMenu::aboutToShow, this, &MainWindow::refreshRecent);
    file->addSeparator();
    add(file, tr("Save"), "fileSave", QKeySequence::Save, [this] { save(false); });
    add(file, tr("Save as…"), "fileSaveAs", QKeySequence::SaveAs, [this] { save(true); });
    add(file, tr("Back to the saved job"), "fileRevert", {}, [this] { revert(); });
    add(file, tr("Close the job"), "fileClose", QKeySequence("Ctrl+W"), [this] {
        if (mayDiscard([this] { action("fileClose")->trigger(); })) session_.newJob();
    });
    file->addSeparator();
    add(file, tr("Add artwork…"), "fileAddArtwork", QKeySequence("Ctrl+I"), [this] { addArtworkDialog(); });
    add(file, tr("Take a cut list…"), "fileCutList", {}, [this] {
        const QString list = QFileDialog::getOpenFileName(this, tr("Take a cut list"), {}, tr("Cut lists (*.csv)"));
        if (!list.isEmpty()) session_.addCutList(list);
    });
    add(file, tr("Kit to programs…"), "fileKit", {}, [this] { makeKit(); });
    add(file, tr("Add a drawing, strokes as areas…"), "fileAddStrokes", {}, [this] { addArtworkDialog(true); });
    add(file, tr("Export outlines…"), "fileExport", QKeySequence("Ctrl+Shift+X"), [this] { exportOutlines(); });
    add(file, tr("Proof a program…"), "fileProofProgram", QKeySequence("Ctrl+Shift+P"),
        [this] { proofProgramDialog(); });
    add(file, tr("Write the program…"), "fileWrite", QKeySequence("Ctrl+Shift+W"), [this] {
        session_.goTo(StationId::run);
        findChild<QPushButton*>("writeProgram")->click();
    });
    add(file, tr("Save the setup sheet…"), "fileSetupSheet", {}, [this] { saveSetupSheet(); });
    add(file, tr("Save the sheet map and labels…"), "fileSheetMap", {}, [this] { saveSheetMap(); });
    file->addSeparator();
    add(file, tr("Quit"), "fileQuit", QKeySequence::Quit, [this] { close(); });

    auto* edit = bar->addMenu(tr("&Edit"));
    add(edit, tr("Undo"), "editUndo", QKeySequence::Undo,
        [this] { drawer_->isVisible() ? session_.shop().undo() : session_.undo(); });
    add(edit, tr("Redo"), "editRedo", QKeySequence::Redo,
        [this] { drawer_->isVisible() ? session_.shop().redo() : session_.redo(); });
    edit->addSeparator();
    add(edit, tr("Cut"), "editCut", QKeySequence::Cut, [this] {
        if (!session_.selection().empty() && toClipboard())
            editSelection(tr("Cut"), artwork::withRemoved(*session_.job().artwork, session_.selection()));
    });
    add(edit, tr("Copy"), "editToClipboard", QKeySequence::Copy, [this] { toClipboard(); });
    add(edit, tr("Paste"), "editPaste", QKeySequence::Paste, [this] { paste(false); });
    add(edit, tr("Paste in place"), "editPasteInPlace", QKeySequence("Ctrl+Shift+V"), [this] { paste(true); });
    edit->addSeparator();
    add(edit, tr("Duplicate"), "editDuplicate", QKeySequence("Ctrl+D"), [this] {
        auto added = artwork::withDuplicates(*session_.job().artwork, session_.selection(), {10, -10});
        if (!added) return tell(QString::fromStdString(added.problem().text()), true);
        const auto ids = added->ids;
        if (session_.apply(tr("Duplicate"), job::withArtwork(session_.job(), std::move(added->artwork))))
            session_.select(ids);
    });
    add(edit, tr("Copy that follows"), "editCopy", QKeySequence("Ctrl+Shift+C"), [this] {
        auto added = artwork::withCopies(*session_.job().artwork, session_.selection(), {10, -10}, 1);
        if (!added) return tell(QString::fromStdString(added.problem().text()), true);
        const auto ids = added->ids;
        if (session_.apply(tr("Copy"), job::withArtwork(session_.job(), std::move(added->artwork))))
            session_.select(ids);
    });
    add(edit, tr("Repeat…"), "editRepeat", QKeySequence("Ctrl+Shift+Q"), [this] { repeatPieces(); });
    add(edit, tr("Give the copy its own shape"), "editOwn", {}, [this] {
        editSelection(tr("Own shape"), artwork::withOwnShapes(*session_.job().artwork, session_.selection()));
    });
    add(edit, tr("Delete"), "editDelete", QKeySequence::Delete, [this] {
        if (!session_.points().chosen().empty()) return session_.points().remove();
        editSelection(tr("Delete"), artwork::withRemoved(*session_.job().artwork, session_.selection()));
    });
    edit->addSeparator();
    add(edit, tr("Choose all"), "editSelectAll", QKeySequence::SelectAll, [this] {
        if (!session_.points().marks().empty()) return session_.points().chooseAll();
        artwork::Ids ids;
        for (const auto& item : session_.job().artwork->items)
            if (!item.underlay && !artwork::isHidden(*session_.job().artwork, item) &&
                !artwork::isLocked(*session_.job().artwork, item))
                ids.push_back(item.id);
        session_.select(std::move(ids));
    });
    add(edit, tr("Choose nothing"), "editSelectNone", QKeySequence("Ctrl+Shift+A"), [this] { session_.select({}); });

    auto* view = bar->addMenu(tr("&View"));
    add(view, tr("Whole sheet"), "viewFit", QKeySequence("Ctrl+0"), [this] {
        if (benches_->currentWidget() == round_) return session_.turner().home();
        bench_->fitStock();
    });
    add(view, tr("Chosen pieces"), "viewFitSelection", QKeySequence("Ctrl+Shift+0"),
        [this] { bench_->fitSelection(); });
    add(view, tr("Nearer"), "viewNearer", QKeySequence::ZoomIn, [this] { zoom(1.25); });
    add(view, tr("Farther"), "viewFarther", QKeySequence::ZoomOut, [this] { zoom(0.8); });
    add(view, tr("Plan or round"), "viewRound", QKeySequence("F5"),
        [this] { showRound(!session_.turner().isOn() || session_.station() < StationId::proof); });
    view->addSeparator();
    for (int i = 0; i < 6; ++i)
        add(view, tr("Station %1").arg(tr(stationNames[i])), (std::string("station") + stationNames[i]).c_str(),
            QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)),
            [this, i] { session_.goTo(static_cast<StationId>(i)); });
    view->addSeparator();
    add(view, tr("Millimetres or inches"), "viewUnits", QKeySequence("Ctrl+U"), [this] {
        const Units other = session_.job().units == Units::mm ? Units::inch : Units::mm;
        session_.apply(tr("Units"), job::withUnits(session_.job(), other));
    });
    add(view, tr("Hide the picture below"), "viewUnderlay", QKeySequence("F9"), [this] {
        underlay_ = !underlay_;
        action("viewUnderlay")->setText(underlay_ ? tr("Hide the picture below") : tr("Show the picture below"));
        refreshBench();
    });
    add(view, tr("Hide what tools do not reach"), "viewReach", QKeySequence("Shift+F9"), [this] {
        auto& reacher = session_.reacher();
        reacher.setShown(!reacher.isShown());
        action("viewReach")
            ->setText(reacher.isShown() ? tr("Hide what tools do not reach") : tr("Show what tools do not reach"));
    });
    add(view, tr("Light or dark"), "viewTheme", QKeySequence("Ctrl+Shift+T"),
        [] { theme().setScheme(theme().scheme() == Scheme::paper ? Scheme::forge : Scheme::paper); });

    buildPieceMenus();

    auto* jobMenu = bar->addMenu(tr("&Job"));
    add(jobMenu, tr("Add the steps that fit"), "stepsThatFit", {}, [this] { addFittingSteps(); });
    add(jobMenu, tr("Make the steps by the house rules"), "stepsByRules", {}, [this] { applyHouseRules(); });
    recipeMenu_ = jobMenu->addMenu(tr("Add a step by a recipe"));
    add(jobMenu, tr("Keep the step as a recipe…"), "keepRecipe", {}, [this] { keepRecipe(); });
    add(jobMenu, tr("Lay out the parts"), "layOutParts", QKeySequence("Ctrl+Shift+Y"), [this] {
        session_.goTo(StationId::sheet);
        session_.nester().start();
    });
    add(jobMenu, tr("Compare tools for the step"), "compareToolsOfStep", {}, [this] {
        session_.goTo(StationId::cuts);
        session_.reacher().compare();
    });
    for (const auto* kind : plan::kinds()) {
        const QString label = textOf(kind->label);
        add(jobMenu, tr("Add %1 step").arg(label.toLower()), ("step" + label).toLatin1().constData(),
            QKeySequence(textOf(kind->shortcut)), [this, kind] { addStep(*kind); });
    }
    jobMenu->addSeparator();
    buildSheetActions(jobMenu);
    jobMenu->addSeparator();
    buildMarkActions(jobMenu);
    add(jobMenu, tr("Parts…"), "jobParts", {}, [this] { (new PartsDialog(session_, this))->show(); });
    add(jobMenu, tr("Make plates by colour…"), "platesMakeAll", {}, [this] { makePlates(); });
    jobMenu->addSeparator();
    add(jobMenu, tr("Order the steps automatically"), "orderAutomatic", {},
        [this] { session_.apply(tr("Order of steps"), job::withOrder(session_.job(), plan::Order::automatic)); });
    add(jobMenu, tr("Accept trace"), "jobAcceptTrace", QKeySequence("Ctrl+Return"),
        [this] { session_.tracer().accept(); });

    buildShopMenu();

    auto* help = bar->addMenu(tr("&Help"));
    add(help, tr("Find a command"), "helpFind", QKeySequence("Ctrl+K"), [this] {
        const auto controls = controlsToFind(); // first: it does away with those of last time
        QList<QAction*> all;
        for (auto* action : findChildren<QAction*>())
            if (action->property("menu").isValid() && action->parent() != controls_) all << action;
        all << controls;
        if (!finder_) {
            finder_ = new CommandFinder(this);
            for (const auto& [name, words] : alsoCalled)
                if (auto* known = this->action(name)) known->setProperty("alsoCalled", QLatin1String(words));
        }
        finder_->open(all, findButton_);
    });
    add(help, tr("About Ferrograph"), "helpAbout", {}, [this] {
        QMessageBox about(
            QMessageBox::NoIcon, tr("About Ferrograph"),
            tr("Ferrograph %1\n\nTurns traced artwork into jobs for mills, lasers and knives, and proofs them "
               "before they are cut.\n\nFree software under the GNU General Public License, version 3 or "
               "later.\n\nLettering of the window: B612 by AIRBUS, League Mono by Tyler Finck. Faces for texts: League "
               "Spartan by The League of Moveable Type, Bebas Neue by Ryoichi Tsunekawa, Allerta Stencil "
               "by Matt McInerney (all SIL Open Font License 1.1), and the single-line face by Dr. A. V. "
               "Hershey. Their notices lie in the documentation folder.")
                .arg(FERRO_VERSION),
            QMessageBox::Ok, this);
        about.exec();
    });
    findButton_ = new QPushButton(tr("Find a command"));
    findButton_->setObjectName("findCommand");
    findButton_->setFixedWidth(222);
    findButton_->setFocusPolicy(Qt::NoFocus);
    findButton_->setStyleSheet(
        "QPushButton { text-align: left; padding: 1px 8px; font-size: 11px; min-height: 14px; }");
    findButton_->setFixedHeight(20);
    connect(findButton_, &QPushButton::clicked, action("helpFind"), &QAction::trigger);
    auto* keys = new QLabel(tr("Ctrl+K"));
    keys->setProperty("caption", true);
    keys->setAttribute(Qt::WA_TransparentForMouseEvents);
    auto* inside = new QHBoxLayout(findButton_);
    inside->setContentsMargins(0, 0, 8, 0);
    inside->addStretch();
    inside->addWidget(keys);
    auto* corner = new QWidget;
    auto* layout = new QHBoxLayout(corner);
    layout->setContentsMargins(0, 3, 12, 3);
    layout->addWidget(findButton_);
    bar->setCornerWidget(corner);
}

void MainWindow::buildSheetActions(QMenu* menu) {
    add(menu, tr("Add a sheet"), "sheetAdd", {},
        [this] { session_.apply(tr("Add a sheet"), job::withSheetAdded(session_.job())); });
    add(menu, tr("Name the sheet…"), "sheetName", {}, [this] {
        const auto& sheet = session_.job().sheet();
        bool given = false;
        const auto name = QInputDialog::getText(this, tr("Name the sheet"), tr("Name"), QLineEdit::Normal,
                                                QString::fromStdString(sheet.name), &given);
        if (given)
            session_.apply(tr("Name the sheet"),
                           job::withSheetNamed(session_.job(), sheet.id, name.trimmed().toStdString()));
    });
    add(menu, tr("Take the sheet away"), "sheetDrop", {}, [this] {
        session_.apply(tr("Take the sheet away"), job::withoutSheet(session_.job(), session_.job().sheet().id));
    });
    add(menu, tr("Next sheet"), "sheetNext", QKeySequence("Ctrl+PgDown"), [this] { nextSheet(1); });
    add(menu, tr("Sheet before"), "sheetBefore", QKeySequence("Ctrl+PgUp"), [this] { nextSheet(-1); });
    layMenu_ = menu->addMenu(tr("Lay the chosen on"));
}

void MainWindow::nextSheet(int by) {
    const auto& job = session_.job();
    std::vector<job::SheetId> all;
    for (const auto& sheet : job.sheets) all.push_back(sheet.id);
    if (std::any_of(job.artwork->items.begin(), job.artwork->items.end(), [](const auto& i) { return !i.sheet; }))
        all.push_back({});
    const auto at = std::find(all.begin(), all.end(), job.artwork->sheet) - all.begin();
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    session_.layOut(all[static_cast<std::size_t>((at + by + count) % count)]);
}

void MainWindow::layChosenOn(job::SheetId sheet) {
    const auto how = job::usualLayingOut(session_.job()).how;
    auto laid = job::laidOn(session_.job(), session_.selection(), sheet, how.spacing, how.margin);
    if (!laid) return session_.tell(laid.problem());
    const auto* on = job::find(session_.job(), sheet);
    const auto where = on ? QString::fromStdString(on->name) : QString();
    const bool moved = laid->moved, fits = laid->fits;
    if (!session_.apply(tr("Lay on a sheet"), Result<job::Job>(std::move(laid->job)))) return;
    session_.select({});
    if (!fits)
        tell(tr("There is no room for it on %1: it lies over what is there.").arg(where), true);
    else if (moved)
        tell(tr("On %1 something lies in its place: it was laid where there is room.").arg(where), false);
}

/// The row of sheets, and the sheets that chosen pieces can be laid on.
void MainWindow::refreshSheets() {
    const auto& job = session_.job();
    sheetTabs_->setJob(job);
    std::vector<std::pair<QString, job::SheetId>> places;
    for (const auto& sheet : job.sheets) places.emplace_back(QString::fromStdString(sheet.name), sheet.id);
    places.emplace_back(tr("no sheet"), job::SheetId{});
    if (places != layPlaces_) {
        layPlaces_ = places;
        qDeleteAll(layMenu_->actions());
        for (const auto& [name, sheet] : places)
            add(layMenu_, name, (QStringLiteral("lay ") + name).toUtf8().constData(), {},
                [this, sheet = sheet] { layChosenOn(sheet); });
    }
    for (int i = 0; i < layMenu_->actions().size(); ++i)
        layMenu_->actions()[i]->setEnabled(!session_.selection().empty() &&
                                           places[static_cast<std::size_t>(i)].second != job.artwork->sheet);
    const bool many = job.sheets.size() > 1;
    for (const char* name : {"sheetDrop", "sheetNext", "sheetBefore"}) action(name)->setEnabled(many);
}

void MainWindow::buildPieceMenus() {
    auto* pieces = menuBar()->addMenu(tr("&Pieces"));
    const auto art = [this]() -> const artwork::Artwork& { return *session_.job().artwork; };
    add(pieces, tr("Letter a text…"), "pieceText", QKeySequence("Ctrl+T"), [this] { letterText(); });
    pieces->addSeparator();
    add(pieces, tr("Group"), "pieceGroup", QKeySequence("Ctrl+G"),
        [=, this] { editSelection(tr("Group"), artwork::withGrouped(art(), session_.selection(), "group")); });
    add(pieces, tr("Ungroup"), "pieceUngroup", QKeySequence("Ctrl+Shift+G"),
        [=, this] { editSelection(tr("Ungroup"), artwork::withUngrouped(art(), session_.selection())); });
    pieces->addSeparator();
    add(pieces, tr("Lock"), "pieceLock", QKeySequence("F4"), [=, this] {
        editSelection(tr("Lock"), artwork::withFlag(art(), session_.selection(), artwork::Flag::locked, true));
        session_.select({});
    });
    add(pieces, tr("Unlock all"), "pieceUnlock", QKeySequence("Shift+F4"), [=, this] {
        artwork::Ids ids;
        for (const auto& item : art().items)
            if (item.locked && !item.underlay) ids.push_back(item.id);
        editSelection(tr("Unlock all"), artwork::withFlag(art(), ids, artwork::Flag::locked, false));
    });
    add(pieces, tr("Hide"), "pieceHide", QKeySequence("F6"), [=, this] {
        editSelection(tr("Hide"), artwork::withFlag(art(), session_.selection(), artwork::Flag::hidden, true));
        session_.select({});
    });
    add(pieces, tr("Show all"), "pieceShow", QKeySequence("Shift+F6"), [=, this] {
        artwork::Ids ids;
        for (const auto& item : art().items)
            if (item.hidden) ids.push_back(item.id);
        editSelection(tr("Show all"), artwork::withFlag(art(), ids, artwork::Flag::hidden, false));
    });
    pieces->addSeparator();
    add(pieces, tr("Mend all"), "piecesMendAll", QKeySequence("F3"), [this] {
        session_.goTo(StationId::mend);
        session_.auditor().mendAll();
    });
    add(pieces, tr("Thin points"), "pieceThin", QKeySequence("Ctrl+Shift+N"),
        [this] { session_.auditor().thinChosen(); });
    add(pieces, tr("Trace the picture again"), "pieceTraceAgain", {}, [this] { traceAgain(); });
    pieces->addSeparator();
    const auto turn = [=, this](const QString& label, const Transform& by) {
        editSelection(label, artwork::withTransformed(art(), session_.selection(), by));
    };
    add(pieces, tr("Turn left 90°"), "pieceTurnLeft", QKeySequence("F7"),
        [=, this] { turn(tr("Turn"), Transform::rotated(pi / 2, selectionCentre())); });
    add(pieces, tr("Turn right 90°"), "pieceTurnRight", QKeySequence("F8"),
        [=, this] { turn(tr("Turn"), Transform::rotated(-pi / 2, selectionCentre())); });
    add(pieces, tr("Mirror left to right"), "pieceMirrorX", QKeySequence("Ctrl+M"),
        [=, this] { turn(tr("Mirror"), Transform::scaled(-1, 1, selectionCentre())); });
    add(pieces, tr("Mirror top to bottom"), "pieceMirrorY", QKeySequence("Ctrl+Shift+M"),
        [=, this] { turn(tr("Mirror"), Transform::scaled(1, -1, selectionCentre())); });
    add(pieces, tr("Original size"), "pieceOriginal", QKeySequence("Ctrl+Shift+1"),
        [=, this] { editSelection(tr("Original size"), artwork::withOriginalSize(art(), session_.selection())); });
}

/// Every control of every side sheet, so that it is found by its name as what the menus hold is. Found, it is gone to
/// and takes the keys; it is not pressed: Start is a word that a hurried hand may type.
QList<QAction*> MainWindow::controlsToFind() {
    delete controls_;
    controls_ = new QObject(this);
    QList<QAction*> all;
    for (int i = 0; i < 6; ++i) {
        const auto station = static_cast<StationId>(i);
        auto* sheet = sheetOf(station);
        sheet->refresh();
        const QString place = tr(stationNames[i]);
        const auto offer = [&](QWidget* widget, QWidget* focus, const QString& name) {
            auto* at = widget->parentWidget();
            while (at && !qobject_cast<Section*>(at)) at = at->parentWidget();
            auto* section = qobject_cast<Section*>(at);
            if (name.isEmpty() || !section || !section->isVisibleTo(sheet) || !section->shows(widget)) return;
            auto* action = new QAction(name, controls_);
            action->setProperty("menu", QStringLiteral("%1  ›  %2").arg(place, section->title()));
            connect(action, &QAction::triggered, this, [this, station, sheet, section, focus] {
                session_.goTo(station);
                refresh();
                section->setFolded(false);
                QMetaObject::invokeMethod(
                    this,
                    [sheet, focus] { // once it is laid out
                        sheet->ensureWidgetVisible(focus);
                        focus->setFocus(Qt::ShortcutFocusReason);
                    },
                    Qt::QueuedConnection);
            });
            all << action;
        };
        for (auto* button : sheet->findChildren<QAbstractButton*>())
            if (!button->objectName().isEmpty()) offer(button, button, button->text());
        for (auto* field : sheet->findChildren<QuantityField*>()) offer(field, field->edit(), field->label());
    }
    return all;
}

/// The picture that is chosen, or that a chosen piece was traced from.
artwork::ItemId MainWindow::pictureOfChosen() const {
    const auto& art = *session_.job().artwork;
    for (const auto id : session_.selection()) {
        const auto* item = artwork::find(art, id);
        if (item && artwork::pictureOf(*item)) return item->id;
        if (item && item->origin && artwork::find(art, item->origin->picture)) return item->origin->picture;
    }
    return {};
}

void MainWindow::traceAgain() {
    const auto picture = pictureOfChosen();
    if (!picture) return tell(tr("Choose a picture, or a piece that was traced from one."), true);
    session_.select({picture});
    session_.goTo(StationId::source);
}

void MainWindow::refreshActions() {
    const bool book = drawer_->isVisible(); // it hides what is chosen, and has an undo of its own
    const bool some = !session_.selection().empty() && !book;
    for (const char* name : {"editPaste", "editPasteInPlace", "editSelectAll"}) action(name)->setEnabled(!book);
    action("fileRevert")->setEnabled(!session_.file().isEmpty() && session_.changed());
    for (const char* name :
         {"editCut", "editToClipboard", "editDuplicate", "editCopy", "editRepeat", "editOwn", "editDelete",
          "pieceGroup", "pieceUngroup", "pieceLock", "pieceHide", "pieceTurnLeft", "pieceTurnRight", "pieceMirrorX",
          "pieceMirrorY", "pieceOriginal", "pieceThin", "viewFitSelection"})
        action(name)->setEnabled(some);
    action("pieceTraceAgain")->setEnabled(bool(pictureOfChosen()));
    action("pieceGroup")->setEnabled(session_.selection().size() > 1);
    action("jobAcceptTrace")->setEnabled(session_.tracer().result() != nullptr);
    accept_->setEnabled(session_.tracer().result() != nullptr);
    fit_->setVisible(session_.job().plan.steps.empty());
    byRules_->setVisible(!session_.shop().house().rules.empty());
    recipeMenu_->setEnabled(!session_.shop().house().recipes.empty());
    action("shopProve")->setEnabled(!session_.job().plan.steps.empty() && !book);
    action("keepRecipe")->setEnabled(bool(plan::find(session_.job().plan, session_.step())));
    action("stepsByRules")->setEnabled(!session_.shop().house().rules.empty());
    const auto& history = session_.history();
    const auto& shop = session_.shop();
    const bool undo = book ? shop.canUndo() : history.canUndo(), redo = book ? shop.canRedo() : history.canRedo();
    action("editUndo")->setEnabled(undo);
    action("editUndo")
        ->setText(undo && !book ? tr("Undo: %1").arg(QString::fromStdString(history.undoLabel())) : tr("Undo"));
    action("editRedo")->setEnabled(redo);
    action("editRedo")
        ->setText(redo && !book ? tr("Redo: %1").arg(QString::fromStdString(history.redoLabel())) : tr("Redo"));
}

} // namespace ferro::app
