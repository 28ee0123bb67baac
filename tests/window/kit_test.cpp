// The kit in one go and the list of parts, through the window.
#include "app/shell/kit_dialog.h"
#include "app/shell/parts_dialog.h"
#include "artwork/copies.h"
#include "window.h"

#include <QTableWidget>

using namespace ferro;
using namespace ferro::test;

namespace {

void put(const QString& file, std::string_view text) { REQUIRE(writeAtomically(realDisk(), file.toStdString(), text)); }
template<class Hands> void inKit(Window& w, Hands hands) {
    auto* timer = new QTimer(w.main.get());
    QObject::connect(timer, &QTimer::timeout, w.main.get(), [timer, hands] {
        auto* dialog = qobject_cast<app::KitDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        timer->stop();
        hands(dialog);
    });
    timer->start(20);
}
void shot(QWidget* widget, const char* name) {
    if (const QString shots = qEnvironmentVariable("FERRO_SHOTS"); !shots.isEmpty())
        widget->grab().save(shots + "/" + name);
}

} // namespace

TEST_CASE("kit: from a list to written programs by one dialog, and what must be looked at is told there") {
    Window w;
    put(w.path("wing.svg"), "<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='60mm' viewBox='0 0 90 60'>"
                            "<path d='M0 0H90V60Z'/></svg>");
    put(w.path("kit.csv"), "file,qty\nwing.svg,3\n");
    put(w.path("lacks.csv"), "file,qty\nhat.svg,3\n");
    inKit(w, [&](app::KitDialog* dialog) {
        auto* words = dialog->findChild<QLabel*>("kitWords");
        auto* make = dialog->findChild<QPushButton*>("kitMake");
        CHECK_FALSE(make->isEnabled());
        const auto madeOf = [&](const char* list) {
            dialog->setList(w.path(list));
            press(dialog, "kitMake");
            CHECK(make->text() == "Stop");
            REQUIRE(QTest::qWaitFor([&] { return make->text() != "Stop"; }, 60000));
        };
        madeOf("lacks.csv");
        CHECK(words->text().contains("hat.svg"));
        CHECK_FALSE(dialog->findChild<QPushButton*>("kitOpen")->isVisible());
        dialog->setFolder(w.path("out"));
        madeOf("kit.csv");
        INFO(words->text().toStdString());
        CHECK(words->text().contains("3 parts of 1 drawing on one sheet"));
        CHECK(dialog->findChild<QListWidget*>("kitFound")->count() > 0);
        press(dialog, "kitOpen");
    });
    w.main->action("fileKit")->trigger();
    w.settle();
    CHECK(w.session->job().name == "kit");
    CHECK(QFile::exists(w.path("out/map.pdf")));
    CHECK_FALSE(QDir(w.path("out")).entryList({"*.nc"}).isEmpty());
}

TEST_CASE("parts: the list shows all of them with pictures, chooses on the bench, and takes how many for several") {
    Window w;
    w.open(FERRO_DEMO "/stage.ferro");
    w.main->action("jobParts")->trigger();
    auto* dialog = w.main->findChild<app::PartsDialog*>();
    REQUIRE(dialog);
    auto* table = dialog->findChild<QTableWidget*>("partsTable");
    auto* words = dialog->findChild<QLabel*>("partsWords");
    const auto parts = job::partListOf(w.session->job());
    REQUIRE(parts.size() > 4);
    CHECK(table->rowCount() == static_cast<int>(parts.size()));
    CHECK_FALSE(table->item(0, 0)->icon().isNull());
    shot(dialog, "parts.png");
    table->selectRow(1);
    CHECK(w.session->selection() == parts[1].items);
    w.session->select(parts[2].items);
    CHECK(table->selectionModel()->selectedRows().size() == 1);
    CHECK(table->selectionModel()->selectedRows()[0].row() == 2);
    // For all rows that are chosen.
    table->setSelectionMode(QAbstractItemView::MultiSelection);
    table->selectRow(3);
    CHECK(w.session->selection().size() == parts[2].items.size() + parts[3].items.size());
    table->item(3, 2)->setText("50");
    w.settle();
    const auto now = job::partListOf(w.session->job());
    CHECK(now[2].part.quantity == 50);
    CHECK(now[3].part.quantity == 50);
    CHECK(now[4].part.quantity == parts[4].part.quantity);
    CHECK(words->text().contains("of 2 there are too few"));
    table->item(3, 2)->setText("plenty"); // refused, and what was so stands there again
    w.settle();
    CHECK(table->item(3, 2)->text() == "50");
    dialog->findChild<QLineEdit*>("partsFilter")->setText("rail");
    CHECK(table->rowCount() < static_cast<int>(parts.size()));
    CHECK(table->rowCount() > 0);
    dialog->close();
}
