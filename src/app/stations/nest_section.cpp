#include "app/stations/nest_section.h"

#include "app/theme/theme.h"

namespace ferro::app {

namespace {

/// The share over time, from the first layout to the last.
class ShareCurve : public QWidget {
public:
    explicit ShareCurve(const Nester& nester) : nester_(nester) {
        setFixedHeight(36);
        setAccessibleName(tr("Share over time"));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(theme().pen(Token::rule));
        painter.drawLine(0, height() - 1, width(), height() - 1);
        const auto& curve = nester_.curve();
        if (curve.size() < 2) return;
        double low = 1, high = 0;
        for (const auto& [seconds, share] : curve) low = std::min(low, share), high = std::max(high, share);
        const double last = std::max(curve.back().first, 0.1), span = std::max(high - low, 0.01);
        QPolygonF line;
        for (const auto& [seconds, share] : curve) {
            const QPointF at(seconds / last * (width() - 2) + 1, height() - 4 - (share - low) / span * (height() - 8));
            if (!line.isEmpty()) line << QPointF(at.x(), line.last().y());
            line << at;
        }
        painter.setPen(theme().pen(Token::verdigris, 1.5));
        painter.drawPolyline(line);
    }

private:
    const Nester& nester_;
};

} // namespace

NestSection::NestSection(Session& session) : Section(tr("Laying out")), session_(session) {
    auto& nester = session.nester();
    const auto field = [&](const QString& label, const char* name, void (Nester::*set)(std::optional<double>)) {
        auto* made = new QuantityField(label, Measure::length);
        made->setObjectName(QLatin1String(name));
        made->setRange(0, 500);
        add(made);
        connect(made, &QuantityField::edited, this, [&nester, set](double v) { (nester.*set)(v); });
        connect(made, &QuantityField::resetAsked, this, [&nester, set] { (nester.*set)(std::nullopt); });
        return made;
    };
    spacing_ = field(tr("Between parts"), "nestSpacing", &Nester::setSpacing);
    margin_ = field(tr("To the edge"), "nestMargin", &Nester::setMargin);
    start_ = new WordChoice(tr("From"), {tr("◣"), tr("◢"), tr("◥"), tr("◤")});
    start_->setObjectName("nestStart");
    along_ = new WordChoice(tr("Along"), {tr("width"), tr("height")});
    along_->setObjectName("nestAlong");
    add(start_);
    add(along_);
    add_ = new QCheckBox(tr("Add sheets as needed"));
    add_->setObjectName("nestAddSheets");
    add(add_);
    lay_ = primaryButton(tr("Lay out"), "layOut");
    enough_ = primaryButton(tr("Good enough"), "goodEnough");
    stop_ = plainButton(tr("Stop"), "layOutStop");
    add(buttonRow({lay_}));
    add(buttonRow({enough_, stop_}));
    share_ = new QLabel;
    share_->setObjectName("nestShare");
    add(share_);
    words_ = captionLabel();
    words_->setObjectName("nestWords");
    add(words_);
    curve_ = new ShareCurve(nester);
    add(curve_);
    left_ = captionLabel();
    left_->setObjectName("nestLeft");
    add(left_);
    connect(start_, &WordChoice::asked, this,
            [&nester](int index) { nester.setStart(static_cast<nest::Corner>(index)); });
    connect(along_, &WordChoice::asked, this,
            [&nester](int index) { nester.setAlong(static_cast<nest::Along>(index)); });
    connect(add_, &QCheckBox::clicked, this, [&nester](bool on) { nester.setMayAddSheets(on); });
    connect(lay_, &QPushButton::clicked, &nester, &Nester::start);
    connect(enough_, &QPushButton::clicked, &nester, &Nester::takeBest);
    connect(stop_, &QPushButton::clicked, &nester, &Nester::stop);
    connect(&nester, &Nester::changed, this, &NestSection::refresh);
}

void NestSection::refresh() {
    const auto& nester = session_.nester();
    const auto wish = nester.wish();
    const auto units = session_.job().units;
    for (auto* field : {spacing_, margin_}) field->setUnits(units);
    spacing_->setQuantity(wish.how.spacing);
    spacing_->setOrigin(nester.isTyped(true) ? Origin::typed : Origin::none);
    margin_->setQuantity(wish.how.margin);
    margin_->setOrigin(nester.isTyped(false) ? Origin::typed : Origin::none);
    start_->setChosen(static_cast<int>(wish.how.start));
    along_->setChosen(static_cast<int>(wish.how.keeps));
    add_->setChecked(wish.mayAddSheets);
    const bool runs = nester.isRunning();
    const auto best = nester.best();
    lay_->setVisible(!runs);
    enough_->setVisible(runs);
    enough_->setEnabled(best != nullptr);
    stop_->setVisible(runs);
    for (auto* label : {share_, words_, left_}) label->setVisible(best != nullptr);
    curve_->setVisible(nester.curve().size() > 1);
    curve_->update();
    if (!best) return;
    share_->setFont(theme().text(26, true));
    share_->setText(tr("%1 %").arg(best->share * 100, 0, 'f', 1));
    words_->setText(tr("of the stock used is parts. %1: %2 of the last one, %3 of it left over.")
                        .arg(best->sheets == 1 ? tr("One sheet") : tr("%1 sheets").arg(best->sheets),
                             QString::fromStdString(shown(best->used, Measure::length, units)),
                             tr("%1 m²").arg(best->rest / 1e6, 0, 'f', 3)));
    QStringList left;
    for (const auto& one : best->left) left << QString::fromStdString(one);
    if (left.size() > 6) left = left.mid(0, 6) << tr("and %1 more").arg(best->left.size() - 6);
    if (best->stays > 0) left << tr("%1 locked parts stay where they are.").arg(best->stays);
    left_->setText(best->leftCount == 0 && left.isEmpty() ? tr("Everything fits.")
                                                          : tr("Not laid:") + "\n" + left.join("\n"));
}

} // namespace ferro::app
