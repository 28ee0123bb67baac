// The shop in the window: its menu, the drawer of the shop book, house rules and recipes on the open job.
#include "app/shell/main_window.h"

#include "app/shell/facts.h"
#include "app/shell/gauge_dialog.h"
#include "app/shell/pick_dialog.h"
#include "app/shell/swatch_dialog.h"
#include "job/from_book.h"
#include "job/house.h"
#include "job/kept_cards.h"

#include <QInputDialog>
#include <QMenuBar>

namespace ferro::app {

namespace {
std::string isoToday() { return QDate::currentDate().toString(Qt::ISODate).toStdString(); }
} // namespace

void MainWindow::buildShopMenu() {
    shopMenu_ = menuBar()->addMenu(tr("&Shop"));
    add(shopMenu_, tr("Shop book"), "shopBook", QKeySequence("Ctrl+B"), [this] { openBook(!drawer_->isVisible()); });
    add(shopMenu_, tr("Take the book's values over into the job"), "jobFromBook", {}, [this] { takeFromBook(); });
    add(shopMenu_, tr("Make a swatch card…"), "shopSwatch", {}, [this] { makeSwatchCard(); });
    auto* cards = shopMenu_->addMenu(tr("Kept swatch cards"));
    cards->setObjectName("keptCards");
    connect(cards, &QMenu::aboutToShow, this, [this, cards] { listCards(cards); });
    add(shopMenu_, tr("Pick from a picture of the card…"), "shopPick", {}, [this] {
        if (const QString file = askPicture(tr("A picture of the swatch card")); !file.isEmpty()) pickIn(file);
    });
    add(shopMenu_, tr("Gauges…"), "shopGauges", {}, [this] { makeGauge(); });
    add(shopMenu_, tr("Make a camera card…"), "shopCameraCard", {}, [this] { makeCameraCard(); });
    add(shopMenu_, tr("Where the camera stands…"), "shopCamera", {}, [this] {
        if (const QString file = askPicture(tr("A picture of the camera card")); !file.isEmpty()) findCameraIn(file);
    });
    add(shopMenu_, tr("These settings are proven…"), "shopProve", {}, [this] { proveSettings(); });
    add(shopMenu_, tr("Start the stand-in"), "shopStandIn", {}, [this] {
        session_.goTo(StationId::run);
        findChild<QPushButton*>("startStandIn")->click();
    });
    refreshShopMenu();
    connect(&session_.shop(), &ShopKeeper::changed, this, [this] {
        refreshShopMenu();
        refreshSoon();
    });
    connect(&session_.shop(), &ShopKeeper::told, this, [this](const QString& text, bool isProblem) {
        if (!drawer_->isVisible()) tell(text, isProblem); // it says it itself
    });
    connect(drawer_, &ShopDrawer::closed, this, [this] { openBook(false); });
    connect(drawer_, &ShopDrawer::rulesAsked, this, [this] { applyHouseRules(); });
    connect(drawer_, &ShopDrawer::fromBookAsked, this, [this] { takeFromBook(); });
}

/// Machines and materials of the book to put into the job, and its recipes.
void MainWindow::refreshShopMenu() {
    qDeleteAll(ofBook_);
    ofBook_.clear();
    ofBook_ << shopMenu_->addSeparator();
    for (const auto& m : session_.book().machines)
        ofBook_ << add(shopMenu_, tr("Machine: %1").arg(QString::fromStdString(m.name)), ("machine " + m.key).c_str(),
                       {}, [this, m] { session_.apply(tr("Machine"), job::withMachine(session_.job(), m)); });
    ofBook_ << shopMenu_->addSeparator();
    for (const auto& m : session_.book().materials)
        ofBook_ << add(shopMenu_, tr("Material: %1").arg(QString::fromStdString(m.name)), ("material " + m.key).c_str(),
                       {}, [this, m] { session_.apply(tr("Material"), job::withMaterial(session_.job(), m)); });
    for (const auto& recipe : session_.shop().house().recipes)
        ofBook_ << add(recipeMenu_, QString::fromStdString(recipe.name), ("recipe " + recipe.name).c_str(), {},
                       [this, recipe] {
                           session_.goTo(StationId::cuts);
                           if (session_.apply(tr("Add %1").arg(QString::fromStdString(recipe.name)),
                                              job::withStepByRecipe(session_.job(), recipe, session_.book())))
                               session_.selectStep(session_.job().plan.steps.back().id);
                       });
}

void MainWindow::openBook(bool open) {
    if (open == drawer_->isVisible()) return;
    if (open) {
        placeDrawer();
        drawer_->open();
    } else {
        drawer_->hide();
        bench_->setFocus();
    }
    refreshSoon();
}

void MainWindow::placeDrawer() {
    const int left = route_->geometry().right() + 1;
    drawer_->setGeometry(left, 0, centralWidget()->width() - left, strip_->geometry().top());
}

void MainWindow::applyHouseRules() {
    auto housed = job::withHouseRules(session_.job(), session_.shop().house(), session_.book());
    if (!housed) return tell(QString::fromStdString(housed.problem().text()), true);
    QStringList lines;
    for (const auto& line : job::linesOf(housed->report, session_.shop().house()))
        lines << QString::fromStdString(line) + QLatin1Char('.');
    bool look = !housed->report.unmatched.empty(); // a special row before a general one is as it should be
    for (const auto& row : housed->report.rows) look = look || !row.trouble.empty();
    session_.goTo(StationId::cuts);
    openBook(false);
    if (!session_.apply(tr("Steps by the house rules"), std::move(housed->job))) return;
    if (!session_.job().plan.steps.empty()) session_.selectStep(session_.job().plan.steps.front().id);
    constexpr int most = 8; // lines that leave the bench in sight
    if (lines.size() > most) {
        const auto more = lines.size() - most;
        lines.resize(most);
        lines << tr("… and %1 more, in the shop book beside the rules.").arg(more);
    }
    tell(lines.join('\n'), look);
}

void MainWindow::keepRecipe() {
    const auto* step = plan::find(session_.job().plan, session_.step());
    if (!step) return tell(tr("Choose a step first."), true);
    bool given = false;
    const auto name = QInputDialog::getText(this, tr("Keep the step as a recipe"), tr("Name"), QLineEdit::Normal,
                                            QString::fromStdString(step->name), &given)
                          .trimmed();
    if (!given) return;
    const bool there = plan::recipeNamed(session_.shop().house(), name.toStdString());
    auto recipe = job::recipeOf(session_.job(), step->id, name.toStdString());
    if (!recipe) return tell(QString::fromStdString(recipe.problem().text()), true);
    if (session_.shop().apply(tr("Keep a recipe"), plan::withRecipe(session_.shop().house(), *recipe)))
        tell(there ? tr("“%1” in the shop book is as this step now.").arg(name)
                   : tr("“%1” is in the shop book now.").arg(name),
             false);
}

void MainWindow::makeSwatchCard() {
    SwatchDialog dialog(session_.job(), this);
    if (dialog.exec() != QDialog::Accepted) return;
    auto card = job::swatchCard(session_.job(), dialog.card());
    if (!card) return tell(QString::fromStdString(card.problem().text()), true);
    const auto key = job::keepCard(realDisk(), *card, isoToday());
    if (!key) session_.tell(key.problem());
    takeTestPiece(tr("Swatch card"), *card,
                  tr("Cut it on a scrap. It is kept in the shop book with its plan: when its picture is taken, or the "
                     "best cell is known, open it from there."));
}

/// Each opens as a job; at the end one is forgotten.
void MainWindow::listCards(QMenu* menu) {
    menu->clear();
    const auto cards = job::keptCards(realDisk());
    for (const auto& kept : cards)
        menu->addAction(tr("%1 · %2").arg(QString::fromStdString(kept.date), QString::fromStdString(kept.name)), this,
                        [this, key = kept.key] {
                            const auto card = job::keptCard(realDisk(), key);
                            if (!card) return session_.tell(card.problem());
                            takeTestPiece(tr("Swatch card"), *card,
                                          tr("Choose the best cell, or take Shop › Pick from a picture of the card."));
                        });
    if (cards.empty()) {
        menu->addAction(tr("None yet: make a swatch card"))->setEnabled(false);
        return;
    }
    menu->addSeparator();
    menu->addAction(tr("Forget one…"), this, [this] {
        QStringList keys;
        for (const auto& kept : job::keptCards(realDisk())) keys << QString::fromStdString(kept.key);
        bool given = false;
        const auto key = QInputDialog::getItem(this, tr("Forget a card"), tr("Card"), keys, 0, false, &given);
        if (!given) return;
        if (auto gone = job::forgetCard(realDisk(), key.toStdString()); !gone) return session_.tell(gone.problem());
        tell(tr("“%1” is not kept any more.").arg(key), false);
    });
}

void MainWindow::makeGauge() {
    GaugeDialog dialog(session_.job(), session_.shop(), this);
    if (dialog.exec() != QDialog::Accepted || !dialog.made()) return;
    takeTestPiece(tr("Gauge"), *dialog.made(),
                  tr("Cut it from the sheet it is for. Then take Shop › Gauges and say what it told."));
}

/// A fresh job for a test, in place of the one that is open.
void MainWindow::takeTestPiece(const QString& label, const job::Job& job, const QString& words) {
    const auto take = [this, label, job, words] {
        session_.newJob();
        session_.apply(label, job); // an edit: what was not saved is asked about
        session_.goTo(StationId::cuts);
        tell(words, false);
    };
    if (mayDiscard(take)) take();
}

/// Of the step that takes the chosen piece, as a cell of a swatch card is chosen; else of the step at hand.
void MainWindow::proveSettings() {
    const auto& job = session_.job();
    const bool chosen = session_.selection().size() == 1;
    const auto id = chosen ? job::stepOn(job, session_.selection().front()) : session_.step();
    if (!plan::find(job.plan, id))
        return tell(chosen ? tr("No step takes the chosen piece.") : tr("Choose a piece that a step takes, or a step."),
                    true);
    proveStep(id);
}

void MainWindow::pickIn(const QString& picture) {
    if (job::cornerMarksOf(session_.job()).empty())
        return tell(tr("This job is no swatch card. Open the card's job, then take its picture."), true);
    PickDialog dialog(session_.job(), picture, session_.background(), this);
    if (dialog.exec() != QDialog::Accepted || dialog.chosen() == plan::StepId{}) return;
    if (const auto greys = dialog.greys())
        prove(job::provenGreys(session_.job(), *greys, dialog.chosen(), isoToday(), {}));
    else
        proveStep(dialog.chosen());
}

void MainWindow::proveStep(plan::StepId id) { prove(job::provenOf(session_.job(), id, isoToday(), {})); }

/// Asks for a note, and keeps it in the book's material.
void MainWindow::prove(Result<shop::Proven> proven) {
    const auto& job = session_.job();
    auto material = session_.book().material(job::materialOf(job).key);
    if (!material) return tell(QString::fromStdString(material.problem().text()), true);
    if (!proven) return tell(QString::fromStdString(proven.problem().text()), true);
    const auto& kind = *plan::kindNamed(proven->kind);
    QStringList words;
    for (const auto& [name, value] : proven->settings)
        if (const auto* field = plan::fieldNamed(kind, name))
            words << tr("%1 %2").arg(textOf(field->label).toLower(),
                                     QString::fromStdString(shown(value, field->measure, job.units)));
    bool given = false;
    const auto note = QInputDialog::getText(this, tr("Proven on %1").arg(QString::fromStdString(material->name)),
                                            tr("From now on %1 steps on this material begin with\n%2.\n\nNote")
                                                .arg(textOf(kind.name), words.join(QStringLiteral(", "))),
                                            QLineEdit::Normal, {}, &given);
    if (!given) return;
    proven->note = note.trimmed().toStdString();
    if (session_.shop().apply(tr("Proven settings"),
                              shop::withThing(session_.shop().shelves(), shop::withProven(*material, *proven))))
        tell(tr("Proven for %1: %2.").arg(QString::fromStdString(material->name), words.join(QStringLiteral(", "))),
             false);
}

void MainWindow::takeFromBook() {
    const auto changes = job::changesFrom(session_.job(), session_.book());
    if (changes.empty()) return tell(tr("The job has all of it as the shop book has it."), false);
    QStringList words;
    for (const auto& change : changes) words << QString::fromStdString(job::wordsFor(change));
    if (session_.apply(tr("Take the book's values over"), job::withShopBook(session_.job(), session_.book())))
        tell(tr("Taken over from the shop book: %1.").arg(words.join(QStringLiteral("; "))), false);
}

} // namespace ferro::app
