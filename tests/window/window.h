#pragma once

#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "shop/own.h"

#include "support/failing_disk.h"

#include <QTest>
#include <catch2/catch.hpp>

namespace ferro::test {

/// The whole window on a data folder of its own, with hands: widgets are found by object name.
class Window {
public:
    Window() : Window(std::make_shared<TemporaryFolder>()) {}
    explicit Window(std::shared_ptr<TemporaryFolder> folder) : folder_(std::move(folder)) {
        qputenv("XDG_DATA_HOME", folder_->path.c_str());
        auto book = shop::openBook(realDisk());
        REQUIRE(book);
        session = std::make_unique<app::Session>(std::move(*book));
        main = std::make_unique<app::MainWindow>(*session);
        main->show();
        QCoreApplication::processEvents();
    }
    ~Window() {
        session->background().cancelAll();
        main.reset();
        session.reset();
        app::theme().setScheme(app::Scheme::paper);
    }

    template<class T = QWidget> T* find(const char* name) {
        auto* widget = main->findChild<T*>(QLatin1String(name));
        INFO("widget " << name);
        REQUIRE(widget);
        return widget;
    }
    /// Waits at most half a minute, sanitizers and all.
    void until(const std::function<bool()>& true_, const char* what) {
        const bool done = QTest::qWaitFor(true_, 60'000);
        INFO(what << "; the window says: " << message().toStdString());
        const auto& run = session->runner().facts();
        INFO("the machine: " << link::stateName(run.status.state) << " done " << run.done << " of " << run.lines << " "
                             << run.question.toStdString() << run.problem.toStdString());
        REQUIRE(done);
    }
    /// Files come and go in the background; a person waits for them.
    void waitForFiles() {
        QCoreApplication::processEvents();
        until([&] { return !session->background().busy("open") && !session->background().busy("save"); }, "files");
        QCoreApplication::processEvents();
    }
    void open(const QString& file) {
        main->takeFiles({file});
        waitForFiles();
    }
    /// Whether the job lies there now.
    bool save(const QString& file) {
        session->files().save(file);
        waitForFiles();
        return !session->changed() && session->file() == file;
    }
    void settle() {
        int calm = 0;
        until([&] { return (calm = session->background().busy() ? 0 : calm + 1) > 12; }, "background work ends");
    }
    void click(const char* name) {
        auto* button = find<QAbstractButton>(name);
        QCoreApplication::processEvents();
        INFO("click " << name << "; the window says: " << message().toStdString());
        REQUIRE(button->isVisible());
        REQUIRE(button->isEnabled());
        // A box or radio takes clicks on its mark and words only, which need not reach the middle.
        const bool marks = qobject_cast<QCheckBox*>(button) || qobject_cast<QRadioButton*>(button);
        QTest::mouseClick(button, Qt::LeftButton, {},
                          marks ? QPoint(8, button->height() / 2) : button->rect().center());
        waitForFiles();
    }
    void act(const char* name) {
        auto* action = find<QAction>(name);
        QCoreApplication::processEvents(); // what was said to the session is shown
        INFO("act " << name << "; the window says: " << message().toStdString());
        REQUIRE(action->isEnabled());
        action->trigger();
        waitForFiles();
    }
    QLineEdit* edit(const char* name) {
        auto* widget = find(name);
        auto* line = qobject_cast<QLineEdit*>(widget);
        if (!line) line = widget->findChild<QLineEdit*>();
        REQUIRE(line);
        return line;
    }
    /// Types over a field and leaves it by Return.
    void type(const char* name, const QString& text) {
        auto* line = edit(name);
        INFO("type into " << name);
        REQUIRE(line->isVisible());
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        QCoreApplication::processEvents();
    }
    void choose(const char* name, const QString& data) {
        auto* box = find<QComboBox>(name);
        const int at = box->findData(data);
        REQUIRE(at >= 0);
        box->setCurrentIndex(at);
        Q_EMIT box->activated(at);
        QCoreApplication::processEvents();
    }
    [[nodiscard]] app::BenchView* bench() { return find<app::BenchView>("bench"); }
    /// Presses at one place of the sheet, drags to another and lets go; `meanwhile` before it lets go.
    void drag(Vec2 from, Vec2 to, Qt::KeyboardModifiers keys = {}, const std::function<void()>& meanwhile = {}) {
        auto* b = bench();
        const QPoint a = b->toScreen(from).toPoint(), z = b->toScreen(to).toPoint();
        QTest::mousePress(b, Qt::LeftButton, keys, a);
        QCoreApplication::processEvents(); // a hand is slower than the loop
        for (int i = 1; i <= 6; ++i) {
            const QPointF p = QPointF(a) + (QPointF(z) - QPointF(a)) * i / 6.0;
            QMouseEvent move(QEvent::MouseMove, p, b->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, keys);
            QCoreApplication::sendEvent(b, &move);
        }
        if (meanwhile) meanwhile();
        QTest::mouseRelease(b, Qt::LeftButton, keys, z);
        QCoreApplication::processEvents();
    }
    void clickAt(Vec2 p, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseClick(bench(), Qt::LeftButton, keys, bench()->toScreen(p).toPoint());
        QCoreApplication::processEvents();
    }
    void drop(const QString& file) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(file)});
        const QPointF middle = bench()->rect().center();
        QDragEnterEvent enter(middle.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, {});
        QCoreApplication::sendEvent(bench(), &enter);
        REQUIRE(enter.isAccepted());
        QDropEvent event(middle, Qt::CopyAction, &data, Qt::LeftButton, {});
        QCoreApplication::sendEvent(bench(), &event);
        QCoreApplication::processEvents();
    }
    [[nodiscard]] QColor pixel(Vec2 p) {
        const auto image = bench()->grab().toImage();
        return image.pixelColor(bench()->toScreen(p).toPoint());
    }
    [[nodiscard]] QString message() { return main->findChild<QLabel*>("messageText")->text(); }
    [[nodiscard]] const job::Job& job() const { return session->job(); }
    [[nodiscard]] QString path(const char* name) const {
        return QString::fromStdString((folder_->path / name).string());
    }
    [[nodiscard]] std::shared_ptr<TemporaryFolder> folder() const { return folder_; }

    std::unique_ptr<app::Session> session;
    std::unique_ptr<app::MainWindow> main;

private:
    std::shared_ptr<TemporaryFolder> folder_;
};

/// Answers what opens while `answer` says true to nothing; ends with the program's own wait.
template<class Answer> void answering(Window& w, const Answer& answer, const std::function<void()>& act) {
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, w.main.get(), [&] {
        if (auto* modal = QApplication::activeModalWidget()) answer(modal);
    });
    look.start(30);
    act();
    w.waitForFiles();
}

/// Answers the next question of this name by one of its buttons, and keeps what it said.
inline QString answered(const char* question, const char* button, const std::function<void()>& asks) {
    QString said;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, [&] {
        for (auto* widget : QApplication::topLevelWidgets())
            if (auto* box = qobject_cast<QMessageBox*>(widget); box && box->objectName() == question) {
                said = box->text() + box->informativeText();
                for (auto* b : box->buttons())
                    if (b->objectName() == button) b->click();
            }
    });
    look.start(20);
    asks();
    return said;
}

inline bool like(QColor a, QColor b, int within = 40) {
    return std::abs(a.red() - b.red()) <= within && std::abs(a.green() - b.green()) <= within &&
           std::abs(a.blue() - b.blue()) <= within;
}

/// A puppet's moon, 40 mm across at 10 px/mm, with a round hole of 12 mm, ink on paper.
inline QString moonPicture(const QString& file) {
    QImage image(600, 600, QImage::Format_RGB32);
    image.setDotsPerMeterX(10'000);
    image.setDotsPerMeterY(10'000);
    image.fill(QColor(240, 236, 225));
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath moon;
    moon.addEllipse(QPointF(300, 300), 200, 200);
    moon.addEllipse(QPointF(300, 300), 60, 60);
    painter.fillPath(moon, QColor(25, 22, 20));
    painter.fillRect(QRect(20, 20, 3, 3), Qt::black); // a speck
    painter.end();
    REQUIRE(image.save(file, "PNG"));
    return file;
}

/// A dark disc and a smaller one on paper, half of it in a hard shadow, `size` times 400 × 300 px.
inline QString shadowedPhoto(const QString& file, int size, int dotsPerMeter) {
    QImage photo(400 * size, 300 * size, QImage::Format_Grayscale8);
    for (int y = 0; y < photo.height(); ++y)
        for (int x = 0; x < photo.width(); ++x) {
            const double u = static_cast<double>(x) / size, v = static_cast<double>(y) / size;
            const bool ink = std::hypot(u - 120, v - 150) < 50 || std::hypot(u - 320, v - 150) < 30;
            photo.scanLine(y)[x] = static_cast<uchar>((ink ? 40 : 230) * (u > 220 ? 0.48 : 1) + (x * 7 + y * 13) % 9);
        }
    photo.setDotsPerMeterX(dotsPerMeter);
    photo.setDotsPerMeterY(dotsPerMeter);
    REQUIRE(photo.save(file, "PNG"));
    return file;
}

/// A button of a dialog that can be pressed.
inline void press(QDialog* dialog, const char* name) {
    auto* button = dialog->findChild<QPushButton*>(QLatin1String(name));
    REQUIRE(button);
    REQUIRE(button->isEnabled());
    QTest::mouseClick(button, Qt::LeftButton);
}

} // namespace ferro::test
