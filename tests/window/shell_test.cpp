#include "window.h"

using namespace ferro;
using test::Window;

TEST_CASE("shell: the command finder runs any action by a few letters") {
    Window w;
    w.act("helpFind");
    auto* edit = w.find<QLineEdit>("commandFinderEdit");
    REQUIRE(edit->isVisible());
    QTest::keyClicks(edit, "li da");
    QTest::keyClick(edit, Qt::Key_Return);
    CHECK(app::theme().scheme() == app::Scheme::forge);
    CHECK_FALSE(w.find("commandFinder")->isVisible());
    CHECK(
        test::like(w.find("routeCard")->grab().toImage().pixelColor(206, 300), app::theme().color(app::Token::paper)));
    w.act("helpFind");
    QTest::keyClicks(edit, "station run");
    QTest::keyClick(edit, Qt::Key_Return);
    CHECK(w.session->station() == app::StationId::run);
    w.act("helpFind");
    QTest::keyClick(edit, Qt::Key_Escape);
    CHECK_FALSE(w.find("commandFinder")->isVisible());
}

TEST_CASE("shell: every action has a menu and a name of its own, every control a name that can be read out") {
    Window w;
    QSet<QString> names, keys;
    for (auto* action : w.main->findChildren<QAction*>()) {
        if (action->isSeparator() || action->menu() || action->text().isEmpty() || !action->property("menu").isValid())
            continue;
        INFO(action->text().toStdString());
        CHECK_FALSE(action->objectName().isEmpty());
        CHECK_FALSE(names.contains(action->objectName()));
        names << action->objectName();
        if (const auto key = action->shortcut().toString(); !key.isEmpty()) {
            CHECK_FALSE(keys.contains(key));
            keys << key;
        }
    }
    CHECK(names.size() > 45);
    for (int station = 0; station < 6; ++station) {
        w.session->goTo(static_cast<app::StationId>(station));
        for (auto* widget : w.main->findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->objectName().startsWith("qt_")) continue;
            QString words = widget->accessibleName();
            if (auto* button = qobject_cast<QAbstractButton*>(widget))
                words += button->text();
            else if (!qobject_cast<QLineEdit*>(widget) && !qobject_cast<QComboBox*>(widget) &&
                     !qobject_cast<QSlider*>(widget))
                continue;
            if (qobject_cast<QComboBox*>(widget->parentWidget())) continue;
            INFO("station " << station << ": " << widget->metaObject()->className() << " "
                            << widget->objectName().toStdString());
            CHECK_FALSE(words.isEmpty());
        }
    }
}

TEST_CASE("shell: long work shows itself and can be cancelled, and the window stays alive") {
    Window w;
    // A drawing of 16 megapixels full of small marks.
    QImage image(4000, 4000, QImage::Format_Grayscale8);
    image.fill(230);
    for (int y = 0; y < 4000; ++y)
        for (int x = 0; x < 4000; ++x)
            if ((x / 9 + y / 7) % 3 == 0 && (x * 7 + y * 13) % 11 < 5) image.scanLine(y)[x] = 20;
    REQUIRE(image.save(w.path("noise.bmp")));
    w.drop(w.path("noise.bmp"));
    auto* cancel = w.find<QPushButton>("cancelWork");
    w.until([&] { return w.job().artwork->items.size() == 1 && w.session->background().busy(); }, "tracing has begun");
    w.until([&] { return cancel->isVisible(); }, "the button to cancel is shown");
    QTest::mouseClick(cancel, Qt::LeftButton);
    w.settle();
    CHECK(w.session->tracer().result() == nullptr);
    CHECK(w.job().artwork->items.size() == 1);
    CHECK(w.message().contains("Cancelled"));
}

TEST_CASE("shell: route cards tell facts and state, and go to their station") {
    Window w;
    w.open(FERRO_DEMO "/heron.ferro");
    w.settle();
    const auto cards = app::cardsOf(*w.session);
    CHECK(cards[0].first.contains("1 picture"));
    CHECK(cards[3].state == app::State::ready);
    CHECK(cards[4].state == app::State::ready);
    auto* route = w.find<app::RouteCard>("routeCard");
    auto* card = route->card(app::StationId::sheet);
    QTest::mouseClick(card, Qt::LeftButton, {}, QPoint(60, 14));
    CHECK(w.session->station() == app::StationId::sheet);
}

TEST_CASE("cards: while a proof is under way the old figures stay, marked as old") {
    Window w;
    w.open(FERRO_DEMO "/proscenium.ferro");
    w.settle();
    const auto before = app::cardsOf(*w.session);
    CHECK_FALSE(before[4].isOld);
    const auto step = w.job().plan.steps.front().id;
    REQUIRE(w.session->apply("Off", job::withStepSetting(w.job(), step, "enabled", "off")));
    const auto during = app::cardsOf(*w.session);
    CHECK(during[4].isOld);
    CHECK(during[4].first == before[4].first);
    CHECK(during[4].stateWords == QString::fromUtf8("proofing…"));
    CHECK(during[3].isOld);
    CHECK(during[3].second.startsWith(before[3].second));
    w.settle();
    const auto after = app::cardsOf(*w.session);
    CHECK_FALSE(after[4].isOld);
    CHECK(after[3].second != before[3].second);
}
