#include "app/stations/tray_section.h"

#include "base/quantity.h"

namespace ferro::app {

namespace {
/// What the fields show while there is no tray.
job::Tray alone() {
    job::Tray tray;
    tray.columns = tray.rows = 1;
    return tray;
}
} // namespace

TraySection::TraySection(Session& session) : Section(tr("Tray of blanks")), session_(session) {
    setObjectName("traySection");
    const auto number = [&](const QString& label, const char* name, Measure measure, double low, double high) {
        auto* field = new QuantityField(label, measure);
        field->edit()->setObjectName(name);
        field->setRange(low, high);
        add(field);
        return field;
    };
    const auto bind = [this](QuantityField* field, const QString& label, auto change) {
        connect(field, &QuantityField::edited, this,
                [=, this](double v) { ask(label, [=](job::Tray& t) { change(t, v); }); });
        connect(field, &QuantityField::scrubbed, this, [=, this](double v, quint64 gesture) {
            ask(
                label, [=](job::Tray& t) { change(t, v); }, gesture);
        });
    };
    columns_ = number(tr("Side by side"), "trayColumns", Measure::count, 1, 100);
    rows_ = number(tr("Behind each other"), "trayRows", Measure::count, 1, 100);
    gapX_ = number(tr("Between, sideways"), "trayGapX", Measure::length, 0, 1000);
    gapY_ = number(tr("Between, upwards"), "trayGapY", Measure::length, 0, 1000);
    bind(columns_, tr("Blanks side by side"), [](job::Tray& t, double v) { t.columns = static_cast<int>(v); });
    bind(rows_, tr("Blanks behind each other"), [](job::Tray& t, double v) { t.rows = static_cast<int>(v); });
    bind(gapX_, tr("Between blanks"), [](job::Tray& t, double v) { t.gapX = v; });
    bind(gapY_, tr("Between blanks"), [](job::Tray& t, double v) { t.gapY = v; });
    order_ = new WordChoice(tr("Cut"), {tr("blank by blank"), tr("step by step")});
    order_->setObjectName("trayOrder");
    add(order_);
    connect(order_, &WordChoice::asked, this, [this](int index) {
        ask(tr("Order on the tray"), [=](job::Tray& t) { t.order = static_cast<job::TrayOrder>(index); });
    });
    stops_ = new QCheckBox(tr("Stop before each further blank"));
    stops_->setObjectName("trayStops");
    add(stops_);
    connect(stops_, &QCheckBox::clicked, this,
            [this](bool on) { ask(tr("Stops between blanks"), [=](job::Tray& t) { t.stops = on; }); });
    auto* fill = plainButton(tr("Fill the bed"), "trayFill");
    fill->setToolTip(tr("As many as the machine's bed holds"));
    single_ = plainButton(tr("One blank"), "trayOff");
    add(buttonRow({fill, single_}));
    connect(fill, &QPushButton::clicked, this, [this] {
        session_.apply(tr("Fill the bed"), job::withTrayFilled(session_.job(), gapX_->quantity(), gapY_->quantity()));
    });
    connect(single_, &QPushButton::clicked, this,
            [this] { session_.apply(tr("One blank"), job::withTray(session_.job(), {})); });
    words_ = captionLabel();
    words_->setObjectName("trayWords");
    words_->setWordWrap(true);
    add(words_);
    setFolded(true);
}

void TraySection::ask(const QString& label, const std::function<void(job::Tray&)>& change, quint64 gesture) {
    auto tray = session_.job().sheet().tray.value_or(alone());
    change(tray);
    const bool none = tray.columns == 1 && tray.rows == 1;
    session_.apply(label, job::withTray(session_.job(), none ? std::nullopt : std::optional(tray)), gesture);
}

void TraySection::refresh() {
    const auto& job = session_.job();
    const bool isTray = job.sheet().tray.has_value();
    const auto tray = job.sheet().tray.value_or(alone());
    if (isTray && !wasTray_) setFolded(false); // it is to be seen what the sheet is
    wasTray_ = isTray;
    for (auto* field : {gapX_, gapY_}) field->setUnits(job.units);
    columns_->setQuantity(tray.columns);
    rows_->setQuantity(tray.rows);
    if (isTray) gapX_->setQuantity(tray.gapX), gapY_->setQuantity(tray.gapY);
    order_->setChosen(static_cast<int>(tray.order));
    stops_->setChecked(tray.stops);
    for (QWidget* widget :
         {static_cast<QWidget*>(order_), static_cast<QWidget*>(stops_), static_cast<QWidget*>(single_)})
        widget->setEnabled(isTray);
    const auto length = [&](double v) { return QString::fromStdString(shown(v, Measure::length, job.units)); };
    const ferro::Box all = job::trayOf(job.sheet());
    words_->setText(isTray ? tr("%1 blanks on %2 × %3. What is drawn on the one at the lower left is cut on all.")
                                 .arg(tray.count())
                                 .arg(length(all.width()), length(all.height()))
                           : tr("One blank. More of the same side by side are cut by one program."));
}

} // namespace ferro::app
