#include "app/shell/swatch_dialog.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "plan/fields.h"

namespace ferro::app {

SwatchDialog::SwatchDialog(const job::Job& bench, QWidget* parent) : QDialog(parent), bench_(bench) {
    setObjectName("swatchDialog");
    setWindowTitle(tr("Swatch card"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    column->addWidget(
        captionLabel(tr("A test on a scrap of %1: cells that are alike but for one setting in each direction. "
                        "It becomes a job of its own, on the open job's machine and sheet.")
                         .arg(QString::fromStdString(job::materialOf(bench).name))));
    kind_ = new QComboBox;
    kind_->setObjectName("swatchKind");
    for (const auto* kind : plan::kinds())
        if (kind->processes.meets(bench.machine.processes) &&
            (kind->takes == plan::Takes::outlines || kind->takes == plan::Takes::areas) &&
            job::withStepAdded(bench, kind->name, {}))
            kind_->addItem(textOf(kind->label), textOf(kind->name));
    if (const int hatch = kind_->findData("hatch"); hatch >= 0) kind_->setCurrentIndex(hatch);
    column->addLayout(row(tr("Cells by a step of kind"), kind_));
    rows_ = axis(column, tr("Upwards"), "swatchRows");
    columns_ = axis(column, tr("To the right"), "swatchColumns");
    const auto number = [&](const QString& label, const char* name, double low, double high, double value) {
        auto* field = new QuantityField(label, Measure::length);
        field->setObjectName(QLatin1String(name));
        field->setUnits(bench_.units);
        field->setRange(low, high);
        field->setQuantity(value);
        column->addWidget(field);
        const auto take = [this, field](double now) {
            field->setQuantity(now);
            look();
        };
        connect(field, &QuantityField::edited, this, take);
        connect(field, &QuantityField::scrubbed, this, take);
        return field;
    };
    cell_ = number(tr("A cell (0: as large as fits)"), "swatchCell", 0, 200, 0);
    gap_ = number(tr("Between cells"), "swatchGap", 0.5, 50, 3);
    words_ = wrappedLabel();
    words_->setObjectName("swatchWords");
    words_->setMinimumSize(420, 40);
    column->addWidget(words_);
    make_ = addAnswers(this, column, tr("Make the card"), "swatchMake", tr("Leave"));
    connect(kind_, &QComboBox::currentIndexChanged, this, &SwatchDialog::offerSettings);
    offerSettings();
}

SwatchDialog::Axis SwatchDialog::axis(QVBoxLayout* into, const QString& label, const char* name) {
    Axis made{};
    made.setting = new QComboBox;
    made.setting->setObjectName(QLatin1String(name));
    into->addLayout(row(label, made.setting));
    auto* line = new QHBoxLayout;
    const auto number = [&](const QString& words, const char* part, Measure measure) {
        auto* field = new QuantityField(words, measure);
        field->setObjectName(QStringLiteral("%1%2").arg(QLatin1String(name), QLatin1String(part)));
        line->addWidget(field);
        return field;
    };
    made.from = number(tr("from"), "From", Measure::plain);
    made.to = number(tr("to"), "To", Measure::plain);
    made.count = number(tr("cells"), "Count", Measure::count);
    made.count->setRange(1, 20);
    made.count->setQuantity(6);
    into->addLayout(line);
    for (auto* field : {made.from, made.to, made.count}) {
        const bool whole = field == made.count;
        const auto take = [this, field, whole](double now) {
            field->setQuantity(whole ? std::round(now) : now);
            look();
        };
        connect(field, &QuantityField::edited, this, take);
        connect(field, &QuantityField::scrubbed, this, take);
    }
    connect(made.setting, &QComboBox::activated, this, [this, made] {
        begin(made);
        look();
    });
    return made;
}

const plan::Kind* SwatchDialog::kind() const { return plan::kindNamed(kind_->currentData().toString().toStdString()); }

void SwatchDialog::offerSettings() {
    const auto* of = kind();
    if (!of) return look();
    const auto probe = job::withStepAdded(bench_, of->name, {});
    const auto* tool = probe ? job::toolOf(*probe, probe->plan.steps.back()) : nullptr;
    for (const auto& axis : {rows_, columns_}) {
        axis.setting->clear();
        for (const auto& field : of->fields)
            if (tool && field.processes.has(tool->process())) {
                const auto unit = QString::fromStdString(unitName(field.measure, Units::mm));
                axis.setting->addItem(unit.isEmpty() ? textOf(field.label)
                                                     : tr("%1, %2").arg(textOf(field.label), unit),
                                      textOf(field.name));
            }
    }
    const auto choose = [](const Axis& axis, std::initializer_list<const char*> names) {
        for (const char* name : names)
            if (const int at = axis.setting->findData(QLatin1String(name)); at >= 0)
                return axis.setting->setCurrentIndex(at);
    };
    choose(rows_, {"power", "force", "depthPerPass", "depth"});
    choose(columns_, {"feed"});
    begin(rows_), begin(columns_);
    look();
}

void SwatchDialog::begin(const Axis& axis) {
    const auto* of = kind();
    const auto* field = of ? plan::fieldNamed(*of, axis.setting->currentData().toString().toStdString()) : nullptr;
    const auto probe = of ? job::withStepAdded(bench_, of->name, {}) : Result<job::Job>(bench_);
    if (!field || !probe) return;
    const double usual = plan::valueOf(*field, probe->plan.steps.back());
    axis.from->setRange(field->low, field->high);
    axis.to->setRange(field->low, field->high);
    axis.from->setQuantity(std::clamp(usual * 0.4, field->low, field->high));
    axis.to->setQuantity(std::clamp(usual > 0 ? usual * 1.6 : field->high, field->low, field->high));
}

job::SwatchAxis SwatchDialog::axisOf(const Axis& axis) const {
    return {axis.setting->currentData().toString().toStdString(), axis.from->quantity(), axis.to->quantity(),
            static_cast<int>(std::lround(axis.count->quantity()))};
}

job::SwatchCard SwatchDialog::card() const {
    return {kind_->currentData().toString().toStdString(),
            {},
            axisOf(rows_),
            axisOf(columns_),
            cell_->quantity(),
            gap_->quantity(),
            {}};
}

void SwatchDialog::look() {
    const auto made = job::swatchCard(bench_, card());
    words_->setText(made ? tr("%1 cells, a step each, with what they try written beside them.")
                               .arg(static_cast<int>(rows_.count->quantity() * columns_.count->quantity()))
                         : QString::fromStdString(made.problem().text()));
    words_->setStyleSheet(made ? QString() : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
    make_->setEnabled(bool(made));
}

} // namespace ferro::app
