#include "job/job_file.h"
#include "window.h"

#include <QAbstractSpinBox>

using namespace ferro;
using test::Window;

namespace {

/// What a person cannot read in full: words wider than the control they stand in, controls that lie over each other or
/// stick out of what they are in.
QStringList cutOff(QWidget* in) {
    QStringList out;
    for (auto* label : in->findChildren<QLabel*>()) {
        if (!label->isVisible() || label->text().isEmpty() || label->visibleRegion().isEmpty()) continue;
        QTextDocument plain;
        plain.setHtml(label->text());
        const QString words = plain.toPlainText();
        if (label->wordWrap()) {
            if (label->height() + 1 < label->heightForWidth(label->width()))
                out << QStringLiteral("%1: “%2” is too high").arg(label->objectName(), words.left(60));
            continue;
        }
        for (const auto& line : words.split('\n'))
            if (label->fontMetrics().horizontalAdvance(line) > label->contentsRect().width() + 1)
                out << QStringLiteral("%1: “%2” is too wide").arg(label->objectName(), line.left(60));
    }
    for (auto* area : in->findChildren<QScrollArea*>())
        if (area->isVisible() && area->widget() && area->widget()->width() > area->viewport()->width())
            out << QStringLiteral("%1 is wider than its column").arg(area->objectName());
    for (auto* button : in->findChildren<QAbstractButton*>()) {
        if (!button->isVisible() || button->text().isEmpty() || button->visibleRegion().isEmpty()) continue;
        const auto* tool = qobject_cast<QToolButton*>(button);
        if (tool && tool->toolButtonStyle() == Qt::ToolButtonIconOnly) continue; // hovering tells
        const QString words = button->text().remove('&');
        if (button->fontMetrics().horizontalAdvance(words) > button->width())
            out << QStringLiteral("%1: “%2” is too wide").arg(button->objectName(), words);
    }
    return out;
}

/// The demo job with a step, a trace in the making and something to mend, so that no station is empty.
void fill(Window& w) {
    w.open(QStringLiteral(FERRO_DEMO "/proscenium.ferro"));
    w.settle();
    REQUIRE(!w.job().artwork->items.empty());
}

} // namespace

TEST_CASE("layout: nothing is cut off at any station, in a narrow window, in either theme") {
    Window w;
    fill(w);
    for (const QSize size : {QSize(1280, 800), QSize(1000, 680)}) {
        w.main->resize(size);
        for (const auto scheme : {app::Scheme::paper, app::Scheme::forge}) {
            app::theme().setScheme(scheme);
            for (const char* station :
                 {"stationSource", "stationMend", "stationSheet", "stationCuts", "stationProof", "stationRun"}) {
                w.act(station);
                w.settle();
                CAPTURE(station, size.width(), static_cast<int>(scheme));
                const auto found = cutOff(w.main.get());
                for (const auto& one : found) UNSCOPED_INFO(one.toStdString());
                CHECK(found.isEmpty());
                CHECK(w.main->width() == size.width()); // no station needs more than there is
            }
        }
    }
}

TEST_CASE("layout: the settings of every kind of step fit into the side sheet, all of them shown") {
    Window w;
    fill(w);
    w.act("stationCuts");
    for (const auto* kind : plan::kinds()) {
        w.act(("step" + std::string(kind->label)).c_str());
        w.settle();
        for (auto* section : w.main->findChildren<QToolButton*>())
            if (section->isVisible() && section->isCheckable() && !section->isChecked()) section->click();
        w.settle();
        CAPTURE(std::string(kind->name));
        const auto found = cutOff(w.main.get());
        for (const auto& one : found) UNSCOPED_INFO(one.toStdString());
        CHECK(found.isEmpty());
    }
}

TEST_CASE("layout: the tools of every station fit above the bench, and take the pointer") {
    Window w;
    fill(w);
    w.main->resize(1000, 680);
    for (const char* station :
         {"stationSource", "stationMend", "stationSheet", "stationCuts", "stationProof", "stationRun"}) {
        w.act(station);
        w.settle();
        CAPTURE(station);
        auto* row = w.find("toolRow");
        int tools = 0;
        for (auto* button : row->findChildren<QToolButton*>()) {
            if (!button->isVisible()) continue;
            CAPTURE(button->objectName().toStdString());
            CHECK(row->rect().contains(button->geometry()));
            CHECK_FALSE(button->icon().isNull());
            if (!button->isCheckable()) continue;
            w.click(button->objectName().toLatin1().constData());
            CHECK(button->isChecked());
            ++tools;
        }
        CHECK(tools >= 2);
    }
}
