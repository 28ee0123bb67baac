#include "app/shell/gauge_dialog.h"

#include "app/shopbook/keeper.h"
#include "app/theme/theme.h"
#include "shop/fields.h"
#include "shop/own.h"

namespace ferro::app {

GaugeDialog::GaugeDialog(const job::Job& bench, ShopKeeper& shop, QWidget* parent)
    : QDialog(parent), bench_(bench), shop_(shop) {
    setObjectName("gaugeDialog");
    setWindowTitle(tr("Gauges"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    kind_ = new WordChoice(tr("Find out"), {tr("how wide slots have to be"), tr("how wide a cut is")});
    kind_->setObjectName("gaugeKind");
    column->addWidget(kind_);
    const auto& material = job::materialOf(bench);
    const auto part = [&] {
        auto* widget = new QWidget;
        auto* lines = new QVBoxLayout(widget);
        lines->setContentsMargins(0, 0, 0, 0);
        lines->setSpacing(6);
        column->addWidget(widget);
        return std::pair(widget, lines);
    };
    const auto [fitPart, fit] = part();
    fitPart_ = fitPart;
    fit->addWidget(captionLabel(
        tr("A strip with notches, each a little wider than the last. Put an edge of the same sheet into them.")));
    from_ = field(fit, tr("Tightest, wider than the sheet by"), "gaugeFrom", Measure::length, -1, 3, -0.1);
    to_ = field(fit, tr("Loosest, by"), "gaugeTo", Measure::length, -1, 3, 0.4);
    notches_ = field(fit, tr("Notches"), "gaugeNotches", Measure::count, 2, 20, 6);
    fit->addWidget(captionLabel(tr("When it is cut: which notch fits how?")));
    press_ = field(fit, tr("Press"), "gaugePress", Measure::length, -1, 5, material.pressFit);
    snug_ = field(fit, tr("Snug"), "gaugeSnug", Measure::length, -1, 5, material.snugFit);
    loose_ = field(fit, tr("Loose"), "gaugeLoose", Measure::length, -1, 5, material.looseFit);
    const auto [kerfPart, kerf] = part();
    kerfPart_ = kerfPart;
    kerf->addWidget(captionLabel(tr("Bars cut along their line. Push them together and measure them all at once.")));
    bars_ = field(kerf, tr("Bars"), "gaugeBars", Measure::count, 3, 30, 10);
    width_ = field(kerf, tr("Each as wide as"), "gaugeWidth", Measure::length, 3, 100, 10);
    kerf->addWidget(captionLabel(tr("When it is cut: how much do all measure?")));
    measured_ = field(kerf, tr("Together"), "gaugeMeasured", Measure::length, 0, 3000, 0);
    tool_ = new QComboBox;
    tool_->setObjectName("gaugeTool");
    tool_->setFixedWidth(178);
    for (const auto& tool : shop.book().tools)
        if (bench.machine.does(tool.process()))
            tool_->addItem(QString::fromStdString(tool.name), QString::fromStdString(tool.key));
    kerf->addLayout(row(tr("Cut by"), tool_));
    words_ = wrappedLabel();
    words_->setObjectName("gaugeWords");
    words_->setMinimumSize(400, 40);
    column->addWidget(words_);
    keep_ = plainButton(tr("Into the shop book"), "gaugeKeep");
    column->addWidget(keep_);
    make_ = addAnswers(this, column, tr("Make the gauge"), "gaugeMake", tr("Leave"));
    connect(kind_, &WordChoice::asked, this, [this](int index) {
        kind_->setChosen(index);
        look();
    });
    connect(keep_, &QPushButton::clicked, this, &GaugeDialog::keep);
    connect(this, &QDialog::accepted, this, [this] {
        if (auto made = make()) made_ = std::move(*made);
    });
    kind_->setChosen(0);
    look();
}

QuantityField* GaugeDialog::field(QVBoxLayout* into, const QString& label, const char* name, Measure measure,
                                  double low, double high, double value) {
    auto* made = new QuantityField(label, measure);
    made->setObjectName(QLatin1String(name));
    made->setUnits(bench_.units);
    made->setRange(low, high);
    made->setQuantity(value);
    into->addWidget(made);
    const auto take = [this, made, measure](double now) {
        made->setQuantity(measure == Measure::count ? std::round(now) : now);
        look();
    };
    connect(made, &QuantityField::edited, this, take);
    connect(made, &QuantityField::scrubbed, this, take);
    return made;
}

job::FitGauge GaugeDialog::gauge() const {
    return {from_->quantity(), to_->quantity(), static_cast<int>(notches_->quantity())};
}
job::KerfComb GaugeDialog::comb() const { return {static_cast<int>(bars_->quantity()), width_->quantity(), 30}; }

Result<job::Job> GaugeDialog::make() const {
    return fits() ? job::fitGauge(bench_, gauge()) : job::kerfComb(bench_, comb());
}

void GaugeDialog::look() {
    fitPart_->setVisible(fits());
    kerfPart_->setVisible(!fits());
    const auto job = make();
    make_->setEnabled(job.has_value());
    const auto kerf = job::kerfBy(comb(), measured_->quantity());
    keep_->setEnabled(fits() || (measured_->quantity() > 0 && kerf));
    QString words;
    bool fine = true;
    if (!fits() && measured_->quantity() > 0) {
        fine = kerf.has_value();
        words = fine
                    ? tr("The cut is %1 wide.").arg(QString::fromStdString(shown(*kerf, Measure::length, bench_.units)))
                    : QString::fromStdString(kerf.problem().text());
    } else {
        fine = job.has_value();
        words =
            fine
                ? tr("For %1, %2 thick, on a job of its own.")
                      .arg(QString::fromStdString(job::materialOf(bench_).name),
                           QString::fromStdString(shown(bench_.sheet().stock.thickness, Measure::length, bench_.units)))
                : QString::fromStdString(job.problem().text());
    }
    words_->setText(words);
    words_->setStyleSheet(fine ? QString() : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
}

void GaugeDialog::keep() {
    const auto set = [](auto thing, std::initializer_list<std::pair<const char*, double>> values) {
        auto next = Result<std::remove_cvref_t<decltype(thing)>>(thing);
        for (const auto& [name, value] : values)
            if (next) next = shop::withSetting(*next, name, exactly(value, Measure::length), Units::mm);
        return next;
    };
    const auto put = [&](const QString& label, const auto& next) {
        const auto shelves = next ? shop::withThing(shop_.shelves(), *next) : Result<shop::Shelves>(next.problem());
        if (shop_.apply(label, shelves))
            words_->setText(tr("It is in the shop book now."));
        else
            words_->setText(QString::fromStdString(shelves.problem().text()));
    };
    if (fits()) {
        const auto material = shop_.book().material(job::materialOf(bench_).key);
        if (!material) return words_->setText(QString::fromStdString(material.problem().text()));
        return put(
            tr("Fits of %1").arg(QString::fromStdString(material->name)),
            set(*material,
                {{"pressFit", press_->quantity()}, {"snugFit", snug_->quantity()}, {"looseFit", loose_->quantity()}}));
    }
    const auto kerf = job::kerfBy(comb(), measured_->quantity());
    const auto tool = shop_.book().tool(tool_->currentData().toString().toStdString());
    if (!kerf || !tool) return;
    put(tr("Kerf of %1").arg(QString::fromStdString(tool->name)), set(*tool, {{"diameter", *kerf}}));
}

} // namespace ferro::app
