// Measures the window with a big drawing in it: 20 000 pieces of 200 000 points. What a person does and then waits for,
// from the click to the painted bench; the frame's own timer while moving about; memory. ./dev bench window
#include "app/shell/main_window.h"
#include "app/theme/style.h"
#include "app/theme/theme.h"
#include "formats/drawing.h"
#include "formats/hairlines.h"
#include "shop/own.h"

#include <QApplication>
#include <QTemporaryDir>
#include <fmt/format.h>
#include <malloc.h>

#include <numeric>

using namespace ferro;

namespace {

double seconds(const std::function<void()>& work) {
    QElapsedTimer timer;
    timer.start();
    work();
    return static_cast<double>(timer.nsecsElapsed()) / 1e9;
}

void row(const char* name, double ms, double limit) {
    fmt::print("{:44} {:9.1f} ms  wanted ≤ {:6.1f}  {}\n", name, ms, limit, ms <= limit ? "yes" : "NO");
}

/// 200 × 100 small puppets of ten points each, grouped by the hundred.
artwork::Artwork crowd() {
    std::vector<artwork::NamedPieces> sets;
    for (int row = 0; row < 200; ++row) {
        artwork::NamedPieces set{{}, "crowd " + std::to_string(row % 5), "puppets " + std::to_string(row), true, {}};
        for (int column = 0; column < 100; ++column) {
            const Vec2 middle{4 + column * 5.9, 1.5 + row * 1.9};
            Ring ring;
            for (int i = 0; i < 10; ++i) {
                const double r = 0.8 + 0.1 * ((i * 7 + row + column) % 3), angle = 2 * pi * i / 10;
                ring.push_back(middle + Vec2{std::cos(angle), std::sin(angle)} * r);
            }
            set.pieces.push_back({pathOf(ring, true), {}});
        }
        sets.push_back(std::move(set));
    }
    return artwork::withAllPieces({}, std::move(sets)).artwork;
}

/// Bytes that the program holds of the heap.
double held() {
    const auto info = mallinfo2();
    return static_cast<double>(info.uordblks + info.hblkhd);
}

class Hand {
public:
    Hand(app::Session& session, app::MainWindow& window) : session_(session), window_(window) {}

    /// From the wish to the painted bench; what goes on in the background is not waited for, but let end before.
    double timed(const std::function<void()>& wish) {
        settle();
        return 1e3 * seconds([&] {
                   wish();
                   QCoreApplication::sendPostedEvents();
                   window_.repaint();
               });
    }
    double act(const char* name) {
        return timed([&] { window_.action(name)->trigger(); });
    }
    void settle() {
        const auto works = [&] { return session_.background().busy() || !session_.prover().isFresh(); };
        for (int calm = 0; calm < 5; calm = works() ? 0 : calm + 1)
            QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    }

private:
    app::Session& session_;
    app::MainWindow& window_;
};

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qputenv("QT_LOGGING_RULES", "qt.qpa.*=false");
    QTemporaryDir folder;
    qputenv("XDG_DATA_HOME", folder.path().toUtf8());
    QApplication application(argc, argv);
    QApplication::setStyle(app::madeStyle());
    (void)app::theme();
    auto book = shop::openBook(realDisk());
    if (!book) return 1;
    app::Session session(*book);
    app::MainWindow window(session); // goes before the session does
    window.show();
    session.newJob();
    Hand hand(session, window);
    hand.settle();

    const auto art = crowd();
    const auto counts = artwork::countsOf(art);
    fmt::print("{} pieces, {} points\n", counts.pieces, counts.points);
    const auto lines = *formats::hairlinesOf(art);
    const double before = held();
    for (const char* kind : {"crowd.svg", "crowd.dxf"}) {
        const bool svg = std::string_view(kind).ends_with("svg");
        const std::string bytes = svg ? formats::svgOf(lines, {{0, 0}, {1200, 400}}) : formats::dxfOf(lines);
        formats::DrawingOptions how;
        how.mmPerUnit = 1;
        // Parsed and opened by turns, the best of each: what else goes on in the machine may not count for one of them.
        double parsing = 1e9, opening = 1e9;
        for (int i = 0; i < 4; ++i) {
            session.newJob();
            hand.settle();
            opening = std::min(opening, 1e3 * seconds([&] {
                                            session.addDrawing(
                                                kind, QByteArray(bytes.data(), static_cast<qsizetype>(bytes.size())),
                                                {.mmPerUnit = 1.0});
                                            while (session.job().artwork->items.empty())
                                                QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
                                            window.repaint();
                                        }));
            hand.settle();
            parsing =
                std::min(parsing, 1e3 * seconds([&] { (void)formats::drawingFrom(bytes, kind, how).has_value(); }));
        }
        row(fmt::format("open {} ({:.0f} ms to parse)", kind, parsing).c_str(), opening, 1.2 * parsing + 300);
        fmt::print("{:44} {:9.0f} bytes a point, wanted < 1000\n", "memory",
                   (held() - before) / static_cast<double>(counts.points));
    }

    session.newJob();
    session.apply("Crowd", job::withArtwork(session.job(), art));
    hand.settle();
    for (const auto station : {app::StationId::mend, app::StationId::sheet}) {
        session.goTo(station);
        hand.settle();
        window.bench()->fitStock();
        fmt::print("{}\n", station == app::StationId::mend ? "at Mend" : "at Sheet");
        auto* bench = window.bench();
        row("choose all", hand.act("editSelectAll"), 150);
        row("choose nothing", hand.act("editSelectNone"), 150);
        const auto band = [&] {
            const auto send = [&](QEvent::Type type, QPointF at) {
                QMouseEvent event(type, at, bench->mapToGlobal(at),
                                  type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, Qt::LeftButton, {});
                QCoreApplication::sendEvent(bench, &event);
            };
            const QPointF from = bench->toScreen({-5, -5}), to = bench->toScreen({2000, 2000});
            send(QEvent::MouseButtonPress, from);
            send(QEvent::MouseMove, to);
            send(QEvent::MouseButtonRelease, to);
        };
        row("box round all", hand.timed(band), 150);
        row("ungroup", hand.act("pieceUngroup"), 150);
        row("undo", hand.act("editUndo"), 150);
        row("delete", hand.act("editDelete"), 150);
        row("undo", hand.act("editUndo"), 150);
        session.select({session.job().artwork->items[5000].id});
        row("nudge one", hand.timed([&] {
            Q_EMIT bench->transformAsked("Nudge", Transform::moved({0.1, 0}), 0);
        }),
            100);
        session.select({});
        // The same way three times, the best time of each frame: one that another program held up tells nothing.
        std::vector<double> frames;
        for (int round = 0; round < 3; ++round) {
            std::size_t at = 0;
            const auto frame = [&] {
                bench->repaint();
                if (round == 0) frames.push_back(bench->frameTime());
                frames[at] = std::min(frames[at], bench->frameTime());
                ++at;
            };
            bench->fitStock();
            hand.settle();
            for (int i = 0; i < 24; ++i) bench->zoomBy(i < 12 ? 1.3 : 1 / 1.3, QPointF(300, 300)), frame();
            for (int i = 0; i < 12; ++i) bench->centreOn({200.0 + 10 * i, 150}), frame();
        }
        const double worst = *std::max_element(frames.begin(), frames.end());
        const double sum = std::accumulate(frames.begin(), frames.end(), 0.0);
        row(fmt::format("frame, zoom and pan (mean {:.1f})", sum / static_cast<double>(frames.size())).c_str(), worst,
            1000.0 / 60);
    }
    session.background().cancelAll();
    return 0;
}
