#pragma once

#include "app/bench/bench_view.h"
#include "app/bench/round_view.h"
#include "app/shell/arrival_bar.h"
#include "app/shell/command_finder.h"
#include "app/shell/dro.h"
#include "app/shell/route_card.h"
#include "app/shell/sheet_tabs.h"
#include "app/shell/time_strip.h"
#include "app/shopbook/drawer.h"
#include "app/stations/cuts_sheet.h"
#include "app/stations/mend_sheet.h"
#include "app/stations/proof_sheet.h"
#include "app/stations/run_sheet.h"
#include "app/stations/source_sheet.h"
#include "app/stations/stock_sheet.h"

#include <QElapsedTimer>
#include <QMainWindow>
#include <QSlider>
#include <QStackedWidget>
#include <QToolButton>

namespace ferro::app {

/// The shell: puts the parts together, turns their wishes into edits of the session and the session's facts into shows.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Session& session);

    [[nodiscard]] BenchView* bench() const { return bench_; }
    [[nodiscard]] RoundView* round() const { return round_; }
    [[nodiscard]] QAction* action(const char* name) const { return findChild<QAction*>(QLatin1String(name)); }
    void saveSheetMapTo(const QString& file);
    /// The sheet as it is to be printed; where its marks lie in a picture; how the camera stands by a picture of its
    /// card.
    void printSheetTo(const QString& file);
    void findMarksIn(const QString& picture);
    void findCameraIn(const QString& picture);
    /// How the cells of the card that is open came out; the one that is chosen is proven.
    void pickIn(const QString& picture);
    /// Files as dropped or named on the command line: jobs are opened, pictures are added, programs proofed.
    void takeFiles(const QStringList& files, bool strokesAsOutlines = false);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] StationSheet* sheetOf(StationId station);
    void buildMenus();
    void buildPieceMenus();
    void buildSheetActions(QMenu* menu);
    void buildBench(QVBoxLayout* into);
    void buildCards();
    void buildBars(QVBoxLayout* into);
    void connectBench();
    QAction* add(QMenu* menu, const QString& text, const char* name, const QKeySequence& keys,
                 const std::function<void()>& run);
    void followRun();
    void refresh();
    void refreshSoon();
    void refreshBench();
    void refreshDro();
    void refreshTools();
    void fitTools();
    void showRound(bool round);
    void zoom(double factor);
    [[nodiscard]] double shownScale() const;
    void takeTool(BenchTool tool);
    void askForTool(BenchTool tool);
    void refreshSheets();
    void layChosenOn(job::SheetId sheet);
    void nextSheet(int by);
    void refreshActions();
    void refreshStrip();
    void tell(const QString& text, bool isProblem);
    bool mayDiscard(const std::function<void()>& again);
    void save(bool ask, std::function<void()> then = {});
    void settleChanged(const QString& file);
    void openDialog();
    void addArtworkDialog(bool strokesAsOutlines = false);
    void proofProgramDialog();
    void addImage(const QImage& image, const QString& name);
    void paste(bool inPlace);
    void pasteIn(const artwork::Artwork& pieces, bool inPlace);
    bool toClipboard();
    void revert();
    void refreshRecent();
    void openBenchMenu(QPoint at, bool onPiece);
    void exportOutlines();
    void saveSetupSheet();
    void buildMarkActions(QMenu* menu);
    void makePlates();
    void makeKit();
    void proveStep(plan::StepId id);
    void prove(Result<shop::Proven> proven);
    void listCards(QMenu* menu);
    QString askPicture(const QString& title);
    void makeCameraCard();
    void printSheet();
    void saveSheetMap();
    void letterText();
    void repeatPieces();
    [[nodiscard]] artwork::ItemId pictureOfChosen() const;
    void traceAgain();
    [[nodiscard]] QList<QAction*> controlsToFind();
    void askUnit(const QString& name, const QByteArray& bytes, Session::DrawingWish wish,
                 const ferro::formats::Drawing::Drawn& drawn);
    void editSelection(const QString& label, Result<artwork::Artwork> next, quint64 gesture = 0);
    void addStep(const plan::Kind& kind);
    void addFittingSteps();
    void buildShopMenu();
    void refreshShopMenu();
    void openBook(bool open);
    void placeDrawer();
    void applyHouseRules();
    void keepRecipe();
    void makeSwatchCard();
    void makeGauge();
    void takeTestPiece(const QString& label, const job::Job& job, const QString& words);
    void proveSettings();
    void takeFromBook();
    [[nodiscard]] Vec2 selectionCentre() const;

    Session& session_;
    BenchView* bench_;
    RoundView* round_;
    QStackedWidget* benches_; ///< the plan and the round
    QToolButton *planButton_, *roundButton_;
    RouteCard* route_;
    TimeStrip* strip_;
    Dro* dro_;
    SheetTabs* sheetTabs_;
    QMenu *layMenu_, *recentMenu_;
    std::vector<std::pair<QString, job::SheetId>> layPlaces_; ///< that the menu has
    QStackedWidget* sheets_;
    std::array<StationSheet*, 6> stations_{};
    ProofSheet* proofSheet_ = nullptr;
    QWidget *blendBar_, *message_, *recovery_, *toolRow_;
    ArrivalBar* arrival_;
    QLabel* messageText_;
    QSlider* blend_;
    QPushButton *findButton_, *accept_, *fit_;
    QList<QToolButton*> tools_;
    ShopDrawer* drawer_ = nullptr;
    QMenu *shopMenu_ = nullptr, *recipeMenu_ = nullptr;
    QList<QAction*> ofBook_; ///< of the shop menu, by what the book holds
    QPushButton* byRules_;
    CommandFinder* finder_ = nullptr;
    QTimer messageTimer_;
    QElapsedTimer followed_;
    Vec2 pointer_;
    QObject* controls_ = nullptr; ///< owns what was offered of the side sheets last
    bool underlay_ = true;        ///< pictures that were traced are seen below
    Vec2 stays_{-1, -1};          ///< of the chosen pieces' bounds, when they are sized by number
    bool refreshDue_ = false;
};

} // namespace ferro::app
