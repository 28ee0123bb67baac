#include "app/stations/stock_sheet.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "job/boards.h"
#include "job/marks.h"
#include "job/sheets.h"
#include "shop/own.h"

#include <QMenu>

namespace ferro::app {

StockSheet::StockSheet(Session& session) : StationSheet(session, tr("Sheet"), "stockSheet") {
    auto* stock = section(tr("Stock"));
    width_ = quantity(stock, tr("Width"), Measure::length, "stockWidth");
    height_ = quantity(stock, tr("Height"), Measure::length, "stockHeight");
    thickness_ = quantity(stock, tr("Thickness"), Measure::length, "stockThickness");
    spacer_ = quantity(stock, tr("Scrap board below"), Measure::length, "stockSpacer");
    spacer_->setHint(tr("cuts may go into it"));
    const auto bind = [this](QuantityField* field, const QString& label, double job::Stock::*member, double low) {
        field->setRange(low, 9999);
        connect(field, &QuantityField::edited, this,
                [=, this](double v) { ask(label, [=](job::Stock& s) { s.*member = v; }); });
        connect(field, &QuantityField::scrubbed, this, [=, this](double v, quint64 gesture) {
            ask(
                label, [=](job::Stock& s) { s.*member = v; }, gesture);
        });
    };
    bind(width_, tr("Stock width"), &job::Stock::width, 0.1);
    bind(height_, tr("Stock height"), &job::Stock::height, 0.1);
    bind(thickness_, tr("Stock thickness"), &job::Stock::thickness, 0.05);
    bind(spacer_, tr("Scrap board"), &job::Stock::spacer, 0);
    material_ = new QComboBox;
    material_->setObjectName("material");
    material_->setFixedWidth(150);
    stock->add(row(tr("Material"), material_));
    connect(material_, &QComboBox::activated, this, [this](int index) {
        if (const auto m = session_.book().material(material_->itemData(index).toString().toStdString()))
            session_.apply(tr("Material"), job::withMaterial(session_.job(), *m));
    });

    mirrored_ = new QCheckBox(tr("Mirrored, cut from its back"));
    mirrored_->setObjectName("sheetMirrored");
    mirrored_->setToolTip(tr("Film that is turned over shows what is drawn the right way round then"));
    stock->add(mirrored_);
    connect(mirrored_, &QCheckBox::clicked, this, [this](bool on) {
        session_.apply(on ? tr("Mirror the sheet") : tr("Mirror it back"), job::withSheetMirrored(session_.job(), on));
    });
    shelf_ = plainButton(tr("From the shelf"), "fromShelf");
    shelf_->setMenu(new QMenu(shelf_));
    shelf_->setStyleSheet("QPushButton::menu-indicator { width: 0; }");
    connect(shelf_->menu(), &QMenu::aboutToShow, this, &StockSheet::listBoards);
    rest_ = plainButton(tr("Keep the rest"), "keepRest");
    rest_->setToolTip(tr("What is left when all outlines are cut out becomes a board of the shop book"));
    stock->add(buttonRow({shelf_, rest_}));
    blank_ = plainButton({}, "blankOutline");
    stock->add(buttonRow({blank_}));
    board_ = captionLabel();
    board_->setObjectName("stockBoard");
    stock->add(board_);
    connect(rest_, &QPushButton::clicked, this, &StockSheet::keepRest);
    connect(blank_, &QPushButton::clicked, this, [this] {
        if (session_.job().sheet().stock.outline)
            session_.apply(tr("Rectangular blank"), job::withBlank(session_.job(), std::nullopt));
        else if (session_.selection().size() == 1)
            session_.apply(tr("Blank of this outline"), job::withBlankOf(session_.job(), session_.selection().front()));
        else
            Q_EMIT told(tr("Choose the one closed piece that is the blank's outline."), true);
    });

    tray_ = new TraySection(session);
    column_->insertWidget(column_->count() - 1, tray_);
    nest_ = new NestSection(session);
    column_->insertWidget(column_->count() - 1, nest_);
    part_ = new PartSection(session);
    column_->insertWidget(column_->count() - 1, part_);
    connect(part_, &PartSection::refused, this, [this](const QString& why) { Q_EMIT told(why, true); });
    arrange_ = new ArrangeSection(session);
    column_->insertWidget(column_->count() - 1, arrange_);

    auto* marks = section(tr("Printed marks"));
    marks_ = captionLabel();
    marks_->setObjectName("marksFacts");
    auto* put = plainButton(tr("Put round it"), "putMarks");
    auto* print = plainButton(tr("Print…"), "printMarks");
    auto* find = plainButton(tr("Find in a picture…"), "findMarks");
    marks->add(marks_);
    marks->add(buttonRow({put, print}));
    marks->add(buttonRow({find}));
    marks->setFolded(true);
    for (const auto& [button, name] : {std::pair(put, "marksPut"), {print, "marksPrint"}, {find, "marksFind"}})
        connect(button, &QPushButton::clicked, this, [this, name = QString(name)] { Q_EMIT wished(name); });

    auto* zero = section(tr("Zero"));
    corner_ = new WordChoice({}, {tr("◣"), tr("◢"), tr("◥"), tr("◤"), tr("centre")});
    corner_->setObjectName("zeroCorner");
    std::size_t i = 0;
    for (auto* button : corner_->findChildren<QPushButton*>()) {
        const QString corner = textOf(job::cornerWords[i++]);
        button->setToolTip(corner);
        button->setAccessibleName(tr("Zero %1").arg(corner));
        button->setObjectName(QStringLiteral("zero ") + corner);
    }
    zeroAt_ = new WordChoice(tr("Height"), {tr("top"), tr("bottom")});
    zeroAt_->setObjectName("zeroHeight");
    zero->add(corner_);
    zero->add(zeroAt_);
    connect(corner_, &WordChoice::asked, this, [this](int index) {
        ask(tr("Zero"), [=](job::Stock& s) { s.corner = static_cast<job::ZeroCorner>(index); });
    });
    connect(zeroAt_, &WordChoice::asked, this, [this](int index) {
        ask(tr("Zero height"), [=](job::Stock& s) { s.zeroAt = static_cast<job::ZeroHeight>(index); });
    });

    lie_ = new LieSection(session);
    lie_->setFolded(true);
    column_->insertWidget(column_->count() - 1, lie_);
    connect(lie_, &LieSection::told, this, &StockSheet::told);

    auto* machine = section(tr("Machine"));
    machine_ = new QComboBox;
    machine_->setObjectName("machine");
    machine_->setFixedWidth(178);
    machine->add(row(tr("Machine"), machine_));
    clearance_ = quantity(machine, tr("Clearance"), Measure::length, "clearance");
    clearance_->setRange(0.5, 200);
    connect(machine_, &QComboBox::activated, this, [this](int index) {
        if (const auto m = session_.book().machine(machine_->itemData(index).toString().toStdString()))
            session_.apply(tr("Machine"), job::withMachine(session_.job(), *m));
    });
    connect(clearance_, &QuantityField::edited, this,
            [this](double value) { session_.apply(tr("Clearance"), job::withClearance(session_.job(), value)); });

    auto* clamps = section(tr("Clamps"));
    clamps_ = new QListWidget;
    clamps_->setObjectName("clampList");
    clamps_->setAccessibleName(tr("Clamps"));
    clamps_->setFixedHeight(84);
    clamps->add(clamps_);
    clampHeight_ = quantity(clamps, tr("Height"), Measure::length, "clampHeight");
    clampHeight_->setRange(0.5, 200);
    clampHeight_->setQuantity(15);
    auto* buttons = new QHBoxLayout;
    auto* add = plainButton(tr("Add a clamp"), "addClamp");
    auto* remove = plainButton(tr("Remove"), "removeClamp");
    buttons->addWidget(add);
    buttons->addWidget(remove);
    buttons->addStretch();
    clamps->add(buttons);
    connect(add, &QPushButton::clicked, this, [this] {
        const auto& s = session_.job().sheet().stock;
        session_.apply(tr("Add a clamp"), job::withClamp(session_.job(), {{{0, s.height - 25}, {30, s.height}},
                                                                          clampHeight_->quantity()}));
    });
    connect(remove, &QPushButton::clicked, this, [this] {
        if (clamps_->currentRow() >= 0)
            session_.apply(tr("Remove clamp"),
                           job::withoutClamp(session_.job(), static_cast<std::size_t>(clamps_->currentRow())));
        else
            Q_EMIT told(tr("Choose a clamp in the list first."), true);
    });
    connect(clampHeight_, &QuantityField::edited, this, [this](double value) {
        if (clamps_->currentRow() < 0) return;
        session_.apply(tr("Clamp height"),
                       job::withClampHeight(session_.job(), static_cast<std::size_t>(clamps_->currentRow()), value));
    });
    connect(clamps_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0 && row < static_cast<int>(session_.job().sheet().clamps.size()))
            clampHeight_->setQuantity(session_.job().sheet().clamps[static_cast<std::size_t>(row)].height);
    });
    clamps->add(captionLabel(tr("Drag clamps on the bench, or draw one with the Clamp tool.")));
}

void StockSheet::ask(const QString& label, const std::function<void(job::Stock&)>& change, quint64 gesture) {
    auto stock = session_.job().sheet().stock;
    change(stock);
    session_.apply(label, job::withStock(session_.job(), stock), gesture);
}

void StockSheet::listBoards() {
    auto* menu = shelf_->menu();
    menu->clear();
    const auto units = session_.job().units;
    const auto length = [&](double v) { return QString::fromStdString(shownNumber(v, Measure::length, units)); };
    for (const auto& board : session_.book().boards) {
        auto* entry = menu->addAction(tr("%1 · %2 × %3 × %4 · %5")
                                          .arg(QString::fromStdString(board.name), length(board.width),
                                               length(board.height), length(board.thickness),
                                               board.count > 0 ? tr("%1 there").arg(board.count) : tr("used up")));
        entry->setEnabled(board.count > 0);
        connect(entry, &QAction::triggered, this, [this, key = board.key] {
            session_.apply(tr("Board from the shelf"), job::withBoard(session_.job(), session_.book(), key));
        });
    }
    if (menu->isEmpty()) menu->addAction(tr("No boards are kept in the shop book"))->setEnabled(false);
}

void StockSheet::keepRest() {
    const auto rest = job::restOf(session_.job());
    if (!rest) return void(Q_EMIT told(QString::fromStdString(rest.problem().text()), true));
    const auto next = shop::withBoardLaid(session_.shop().shelves(), rest->board);
    if (!session_.shop().apply(tr("Keep the rest of a sheet"),
                               next ? Result<shop::Shelves>(next->first) : Result<shop::Shelves>(next.problem())))
        return;
    Q_EMIT told(tr("“%1” lies on the shelf: %2 m²%3.")
                    .arg(QString::fromStdString(rest->board.name))
                    .arg(rest->area / 1e6, 0, 'f', 3)
                    .arg(rest->otherAreas > 100
                             ? tr("; %1 m² in smaller bits are not kept").arg(rest->otherAreas / 1e6, 0, 'f', 3)
                             : QString()),
                false);
}

void StockSheet::refresh() {
    arrange_->refresh();
    part_->refresh();
    nest_->refresh();
    tray_->refresh();
    lie_->refresh();
    const auto& job = session_.job();
    for (auto* field : {width_, height_, thickness_, spacer_, clearance_, clampHeight_}) field->setUnits(job.units);
    const auto& sheet = job.sheet();
    const auto marks = job::marksOf(job);
    marks_->setText(marks.empty() ? tr("None. They are printed with the artwork and found on the bed by a camera.")
                                  : tr("%1 marks of %2.")
                                        .arg(marks.size())
                                        .arg(textOf(shown(2 * marks.front().radius, Measure::length, job.units))));
    const bool outlined = sheet.stock.outline.has_value();
    for (auto* field : {width_, height_}) field->setEnabled(!outlined);
    blank_->setText(outlined ? tr("Make it a rectangle") : tr("Blank of the chosen outline"));
    const auto& boards = session_.book().boards;
    const auto from = std::find_if(boards.begin(), boards.end(), [&](const auto& b) { return b.key == sheet.board; });
    board_->setText(sheet.board.empty() ? QString()
                    : from == boards.end()
                        ? tr("from a board that is not in the shop book")
                        : tr("from “%1”, %2 on the shelf").arg(QString::fromStdString(from->name)).arg(from->count));
    board_->setVisible(!board_->text().isEmpty());
    width_->setQuantity(job.sheet().stock.width);
    height_->setQuantity(job.sheet().stock.height);
    mirrored_->setChecked(session_.job().sheet().mirrored);
    thickness_->setQuantity(job.sheet().stock.thickness);
    spacer_->setQuantity(job.sheet().stock.spacer);
    clearance_->setQuantity(job.plan.clearance);
    corner_->setChosen(static_cast<int>(job.sheet().stock.corner));
    zeroAt_->setChosen(static_cast<int>(job.sheet().stock.zeroAt));
    offer(material_, session_.book().materials);
    offer(machine_, session_.book().machines);
    material_->setCurrentIndex(material_->findData(QString::fromStdString(job::materialOf(job).key)));
    machine_->setCurrentIndex(machine_->findData(QString::fromStdString(job.machine.key)));
    spacer_->setVisible(job.machine.does(shop::Process::rotary));
    const int current = clamps_->currentRow();
    const QSignalBlocker quiet(clamps_);
    clamps_->clear();
    const auto number = [&](double v) { return QString::fromStdString(shownNumber(v, Measure::length, job.units)); };
    for (std::size_t i = 0; i < job.sheet().clamps.size(); ++i) {
        const auto& c = job.sheet().clamps[i];
        clamps_->addItem(
            tr("%1   at %2, %3   %4 × %5")
                .arg(i + 1)
                .arg(number(c.area.low.x), number(c.area.low.y), number(c.area.width()), number(c.area.height())));
    }
    if (current < clamps_->count()) clamps_->setCurrentRow(current);
    setNote(tr("%1 clamps").arg(job.sheet().clamps.size()));
}

} // namespace ferro::app
