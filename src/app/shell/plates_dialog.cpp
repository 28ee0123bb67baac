#include "app/shell/plates_dialog.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "job/edits.h"

namespace ferro::app {

namespace {
enum Islands { bridged, parted, left };
}

PlatesDialog::PlatesDialog(const job::Job& job, QWidget* parent) : QDialog(parent), job_(job) {
    setObjectName("platesDialog");
    setWindowTitle(tr("Plates by colour"));
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(20, 16, 20, 16);
    column_->setSpacing(8);
    column_->addWidget(
        captionLabel(tr("A stencil for each coloured layer, on a sheet of its own, all with the same register pins.")));
    margin_ = field(tr("Beyond the drawing by"), "platesMargin", Measure::length, 10, 200, 25);
    pin_ = field(tr("Pins of"), "platesPin", Measure::length, 1, 20, 4);
    islands_ = new WordChoice(tr("Islands"), {tr("bridged"), tr("on two plates"), tr("left")});
    islands_->setObjectName("platesIslands");
    column_->addWidget(islands_);
    bridge_ = field(tr("Bridges, wide"), "platesBridge", Measure::length, 0.3, 50, 2);
    number_ = field(tr("Bridges for each island"), "platesNumber", Measure::count, 1, 12, 2);
    overlap_ = field(tr("Halves overlap by"), "platesOverlap", Measure::length, 0, 5, 0.5);
    jig_ = new QCheckBox(tr("A jig with the pins and cross-hairs"));
    jig_->setObjectName("platesJig");
    jig_->setChecked(true);
    column_->addWidget(jig_);
    column_->addWidget(captionLabel(tr("Painted in this order:")));
    list_ = new QListWidget;
    list_->setObjectName("platesList");
    list_->setAccessibleName(tr("Plates in the order of painting"));
    list_->setSelectionMode(QAbstractItemView::NoSelection);
    list_->setMinimumSize(400, 120);
    column_->addWidget(list_, 1);
    words_ = wrappedLabel();
    words_->setObjectName("platesWords");
    words_->setMinimumHeight(40);
    column_->addWidget(words_);
    make_ = addAnswers(this, column_, tr("Make the plates"), "platesMake", tr("Leave"));
    connect(islands_, &WordChoice::asked, this, [this](int index) {
        islands_->setChosen(index);
        look();
    });
    connect(jig_, &QCheckBox::toggled, this, &PlatesDialog::look);
    islands_->setChosen(bridged);
    look();
}

QuantityField* PlatesDialog::field(const QString& label, const char* name, Measure measure, double low, double high,
                                   double value) {
    auto* made = new QuantityField(label, measure);
    made->setObjectName(QLatin1String(name));
    made->setUnits(job_.units);
    made->setRange(low, high);
    made->setQuantity(value);
    column_->addWidget(made);
    connect(made, &QuantityField::edited, this, [this, made, measure](double now) {
        made->setQuantity(measure == Measure::count ? std::round(now) : now);
        look();
    });
    return made;
}

Result<job::Plates> PlatesDialog::make() const {
    job::Job from = job_;
    if (const auto items = job::islandsIn(job_); islands_->chosen() == bridged && !items.empty()) {
        Progress progress;
        auto held = mend::withBridges(*job_.artwork, items,
                                      {.width = bridge_->quantity(), .number = static_cast<int>(number_->quantity())},
                                      progress);
        if (!held) return held.problem();
        from = job::withArtwork(job_, std::move(held->artwork));
    }
    return job::withPlates(from, {.margin = margin_->quantity(),
                                  .pin = pin_->quantity(),
                                  .parted = islands_->chosen() == parted,
                                  .overlap = overlap_->quantity(),
                                  .jig = jig_->isChecked()});
}

void PlatesDialog::look() {
    for (auto* of : {bridge_, number_}) of->setVisible(islands_->chosen() == bridged);
    overlap_->setVisible(islands_->chosen() == parted);
    auto made = make();
    made_.reset();
    list_->clear();
    make_->setEnabled(made.has_value());
    words_->setStyleSheet(made ? QString() : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
    if (!made) return words_->setText(QString::fromStdString(made.problem().text()));
    for (std::size_t i = 0; i < made->plates.size(); ++i) {
        const auto& plate = made->plates[i];
        QString line = tr("%1   %2").arg(i + 1).arg(QString::fromStdString(plate.layer));
        if (plate.again) line += tr(" again");
        line += plate.pieces == 1 ? tr(" · 1 piece") : tr(" · %1 pieces").arg(plate.pieces);
        if (plate.islands > 0)
            line += plate.islands == 1 ? tr(" · 1 island falls out") : tr(" · %1 islands fall out").arg(plate.islands);
        auto* item = new QListWidgetItem(line, list_);
        QPixmap swatch(14, 14);
        swatch.fill(QColor(QString::fromStdString(plate.colour)));
        item->setIcon(QIcon(swatch));
    }
    QStringList words;
    for (const auto& why : made->why) words << QString::fromStdString(why);
    words_->setText(words.join('\n'));
    made_ = std::move(*made);
}

} // namespace ferro::app
