#include "app/stations/lie_section.h"

#include "app/theme/theme.h"
#include "base/disk.h"
#include "job/edits.h"

#include <QFileDialog>
#include <QFileInfo>

namespace ferro::app {

LieSection::LieSection(Session& session) : Section(tr("How it lies")), session_(session) {
    setObjectName("howItLies");
    uneven_ = new QuantityField(tr("Uneven by"), Measure::length);
    uneven_->edit()->setObjectName("stockUneven");
    uneven_->setRange(0, 50);
    uneven_->setHint(tr("up or down from the zero"));
    add(uneven_);
    const auto set = [this](double v, quint64 gesture) {
        auto stock = session_.job().sheet().stock;
        stock.uneven = v;
        session_.apply(tr("Uneven by"), job::withStock(session_.job(), stock), gesture);
    };
    connect(uneven_, &QuantityField::edited, this, [set](double v) { set(v, 0); });
    connect(uneven_, &QuantityField::scrubbed, this, set);
    words_ = captionLabel();
    words_->setObjectName("lieWords");
    add(words_);
    read_ = plainButton(tr("Read heights…"), "readLie");
    read_->setToolTip(tr("A file with a place a line: x, y, z in mm from the zero, in rows and columns"));
    flat_ = plainButton(tr("Forget them"), "forgetLie");
    add(buttonRow({read_, flat_}));
    connect(read_, &QPushButton::clicked, this, [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Read measured heights"), {}, tr("Tables (*.csv *.txt *.tsv)"));
        if (!file.isEmpty()) read(file);
    });
    connect(flat_, &QPushButton::clicked, this,
            [this] { session_.apply(tr("Forget measured heights"), job::withLie(session_.job(), std::nullopt)); });
}

void LieSection::read(const QString& file) {
    const auto text = realDisk().read(file.toStdString(), 1 << 22);
    const auto zero = job::zeroOf(session_.job().sheet().stock).at;
    const auto lie = text ? job::lieFrom(*text, zero) : Result<job::Lie>(text.problem());
    if (!lie)
        return void(Q_EMIT told(
            QString::fromStdString(lie.problem().within(QFileInfo(file).fileName().toStdString()).text()), true));
    if (session_.apply(tr("Measured heights"), job::withLie(session_.job(), *lie)))
        Q_EMIT told(tr("%1 heights are read; depths follow them.").arg(lie->heights.size()), false);
}

void LieSection::refresh() {
    const auto& job = session_.job();
    setVisible(job.machine.does(shop::Process::rotary) || job.machine.does(shop::Process::blade));
    const auto& sheet = job.sheet();
    uneven_->setUnits(job.units);
    uneven_->setQuantity(sheet.stock.uneven);
    uneven_->setVisible(!sheet.lie);
    flat_->setVisible(sheet.lie.has_value());
    const auto length = [&](double v) { return QString::fromStdString(shown(v, Measure::length, job.units)); };
    words_->setText(sheet.lie ? tr("Measured in %1 × %2 places, %3 to %4 from the zero. Depths follow it.")
                                    .arg(sheet.lie->xs.size())
                                    .arg(sheet.lie->ys.size())
                                    .arg(length(sheet.lie->lowest()), length(sheet.lie->highest()))
                              : tr("Not measured. Run feels it with a probe."));
}

FeelSection::FeelSection(Session& session) : Section(tr("Feel the blank")), session_(session) {
    const auto field = [this](const QString& label, Measure measure, const char* name, double low, double high,
                              double begins) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(name);
        made->setRange(low, high);
        made->setQuantity(begins);
        connect(made, &QuantityField::edited, made, &QuantityField::setQuantity);
        connect(made, &QuantityField::scrubbed, made, [made](double v) { made->setQuantity(v); });
        add(made);
        return made;
    };
    columns_ = field(tr("Places across"), Measure::count, "feelColumns", 2, 100, 4);
    rows_ = field(tr("Places up"), Measure::count, "feelRows", 2, 100, 3);
    margin_ = field(tr("Margin"), Measure::length, "feelMargin", 0, 1000, 10);
    feel_ = plainButton(tr("Feel it"), "feelBlank");
    feel_->setToolTip(tr("With a probe in the spindle: down to the blank twice at each place, 8 mm below the zero at "
                         "most. Set the zero first."));
    add(buttonRow({feel_}));
    words_ = captionLabel();
    words_->setObjectName("feelWords");
    add(words_);
    connect(feel_, &QPushButton::clicked, this, &FeelSection::start);
    connect(&session.runner(), &Runner::changed, this, &FeelSection::takeResult);
    setFolded(true);
}

void FeelSection::start() {
    link::FeelGrid grid;
    grid.columns = static_cast<int>(std::lround(columns_->quantity()));
    grid.rows = static_cast<int>(std::lround(rows_->quantity()));
    // The stand-in's plate lies on all of its blank.
    if (session_.runner().hasStandIn()) grid.plate = session_.runner().standInPlate();
    const auto placed = link::placedOn(session_.job(), grid, margin_->quantity());
    if (!placed) return void(Q_EMIT told(QString::fromStdString(placed.problem().text()), true));
    const auto zero = job::zeroOf(session_.job().sheet().stock);
    session_.runner().feel(*placed, zero.at, zero.z);
}

void FeelSection::takeResult() {
    const auto& facts = session_.runner().facts();
    if (facts.lies == std::exchange(taken_, facts.lies) || !facts.lie) return;
    session_.apply(tr("Feel the blank"), job::withLie(session_.job(), *facts.lie));
}

void FeelSection::refresh() {
    const auto& facts = session_.runner().facts();
    const auto& job = session_.job();
    setVisible(job.machine.does(shop::Process::rotary) || job.machine.does(shop::Process::blade));
    margin_->setUnits(job.units);
    feel_->setEnabled(facts.connected && facts.tellsPlace && facts.zeroSet && !facts.feeling && !facts.sending &&
                      !session_.runner().active());
    words_->setText(
        facts.feeling ? tr("%1 of %2 places.").arg(facts.felt).arg(facts.toFeel)
        : job.sheet().lie
            ? tr("Measured: %1 to %2 from the zero.")
                  .arg(QString::fromStdString(shown(job.sheet().lie->lowest(), Measure::length, job.units)),
                       QString::fromStdString(shown(job.sheet().lie->highest(), Measure::length, job.units)))
        : !facts.tellsPlace && facts.connected ? tr("This machine does not tell where it stands.")
        : !facts.zeroSet                       ? tr("Set the zero first.")
                                               : QString());
    words_->setVisible(!words_->text().isEmpty());
}

} // namespace ferro::app
