#include "app/shell/main_window.h"
#include "app/shell/rehearsal.h"
#include "app/theme/style.h"
#include "app/theme/system_fonts.h"
#include "app/theme/theme.h"
#include "shop/own.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QMessageBox>
#include <csignal>

int main(int argc, char** argv) {
    using namespace ferro::app;
    std::signal(SIGPIPE, SIG_IGN); // a lost link is a result, not the end
    useShortFontConfig();
    QApplication app(argc, argv);
    QApplication::setApplicationName("ferrograph");
    QApplication::setApplicationDisplayName("Ferrograph");
    QApplication::setApplicationVersion(FERRO_VERSION);
    QApplication::setDesktopFileName("org.ferrograph.Ferrograph");
    QApplication::setStyle(madeStyle());
    (void)theme();

    QCommandLineParser parser;
    parser.setApplicationDescription(
        "Turns traced artwork into jobs for mills, lasers and knives, and proofs them before they are cut.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("files", "Jobs to open, pictures to add.", "[files...]");
    const QCommandLineOption station("station", "Open at this station, 1 to 6.", "number");
    const QCommandLineOption dark("dark", "Use the dark theme.");
    const QCommandLineOption shot("shot", "Save a picture of the window when all work is done, and quit.", "file");
    const QCommandLineOption size("size", "Size of the window, 1280x800.", "pixels");
    const QCommandLineOption autosave("autosave", "Keep a copy of unfinished work this often, 1 to 30.", "seconds",
                                      "30");
    const QCommandLineOption rehearse("rehearse", "Run the job on a stand-in, this many times faster.", "times");
    const QCommandLineOption choose("choose", "Choose the pieces of this name.", "name");
    const QCommandLineOption act("do", "Trigger these actions or buttons, by their names in the window.", "names");
    const QCommandLineOption bare("start-up-only", "Show the window and quit; to time the start.");
    parser.addOptions({station, dark, shot, size, autosave, rehearse, choose, act, bare});
    parser.process(app);

    auto shelves = ferro::shop::openShelves(ferro::realDisk());
    auto house = ferro::plan::openHouse(ferro::realDisk());
    if (!shelves || !house) {
        const auto& problem = shelves ? house.problem() : shelves.problem();
        QMessageBox::critical(nullptr, "Ferrograph", QString::fromStdString(problem.text()));
        return 1;
    }
    if (parser.isSet(dark)) theme().setScheme(Scheme::forge);
    Session session(ShopKeeper::Kept(std::move(*shelves), std::move(*house)));
    session.files().setAutosave(parser.value(autosave).toInt());
    // Never taken apart: the process ends with it, and hundreds of widgets said goodbye to one by one are a wait for
    // nothing.
    auto& window = *new MainWindow(session);
    if (parser.isSet(size))
        window.resize(parser.value(size).section('x', 0, 0).toInt(), parser.value(size).section('x', 1, 1).toInt());
    window.takeFiles(parser.positionalArguments());
    while (session.background().busy("open")) // what follows is about what they hold
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    if (parser.isSet(station))
        session.goTo(static_cast<StationId>(std::clamp(parser.value(station).toInt(), 1, 6) - 1));
    window.show();
    if (parser.isSet(choose)) {
        ferro::artwork::Ids ids;
        for (const auto& item : session.job().artwork->items)
            if (QString::fromStdString(item.name) == parser.value(choose) &&
                !ferro::artwork::isHidden(*session.job().artwork, item))
                ids.push_back(item.id);
        session.select(ids);
    }
    for (const auto& name : parser.value(act).split(',', Qt::SkipEmptyParts)) {
        QCoreApplication::processEvents(); // what the one before has changed is shown
        if (auto* action = window.findChild<QAction*>(name))
            action->trigger();
        else if (auto* button = window.findChild<QAbstractButton*>(name))
            button->click();
        else
            qWarning("Nothing in the window is named %s.", qPrintable(name));
    }
    std::unique_ptr<Rehearsal> rehearsal;
    if (parser.isSet(rehearse)) {
        rehearsal = std::make_unique<Rehearsal>(session, std::clamp(parser.value(rehearse).toDouble(), 1.0, 10'000.0));
        QObject::connect(rehearsal.get(), &Rehearsal::ready, &window,
                         [&window] { window.findChild<QPushButton*>("startRun")->click(); });
    }
    if (parser.isSet(bare)) QTimer::singleShot(0, &app, &QApplication::quit);
    if (parser.isSet(shot)) {
        // Until nothing has been at work for half a second.
        auto* quiet = new QTimer(&window);
        auto* calm = new int(0);
        QObject::connect(quiet, &QTimer::timeout, &window, [&, calm, file = parser.value(shot)] {
            if (rehearsal && rehearsal->progress() < 0.6) return; // in the middle of the run
            *calm = session.background().busy() || window.bench()->isBehind() ? 0 : *calm + 1;
            if (*calm < (rehearsal ? 1 : 8)) return;
            auto* dialog = QApplication::activeModalWidget(); // what is open over it is what is asked for
            (dialog ? dialog : &window)->grab().save(file);
            QApplication::exit(); // not quit(): a running program would have it ask first
        });
        quiet->start(60);
    }
    const int exit = QApplication::exec();
    for (QObject* part : std::initializer_list<QObject*>{&session, &session.background(), &session.runner()})
        part->disconnect();
    return exit;
}
