#include "app/stations/nest_section.h"

#include "app/theme/theme.h"
#include "geometry/flatten.h"

#include <QPainter>
#include <QPainterPath>

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

constexpr int pictureWidth = 118, pictureHeight = 78;

/// The sheets in use of a job side by side, parts dark on them.
QPixmap pictureOf(const job::Job& job, double scale) {
    QPixmap picture(QSize(pictureWidth, pictureHeight) * scale);
    picture.setDevicePixelRatio(scale);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    std::vector<const job::Sheet*> used;
    double width = 0, height = 0;
    constexpr double gap = 20; // mm
    for (const auto& sheet : job.sheets) {
        if (std::none_of(job.artwork->items.begin(), job.artwork->items.end(),
                         [&](const artwork::Item& item) { return item.sheet == sheet.id; }))
            continue;
        used.push_back(&sheet);
        width += sheet.stock.width + (used.size() > 1 ? gap : 0);
        height = std::max(height, sheet.stock.height);
    }
    if (used.empty()) return picture;
    const double each = std::min((pictureWidth - 2) / width, (pictureHeight - 2) / height);
    painter.translate(1, (pictureHeight + height * each) / 2);
    painter.scale(each, -each);
    QPen edge = theme().pen(Token::rule);
    edge.setCosmetic(true);
    for (const auto* sheet : used) {
        painter.setPen(edge);
        painter.setBrush(theme().color(Token::card));
        painter.drawRect(QRectF(0, 0, sheet->stock.width, sheet->stock.height));
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().color(Token::verdigris));
        for (const auto& item : job.artwork->items) {
            const auto* shape = artwork::shapeOf(item);
            if (!shape || item.sheet != sheet->id || !shape->piece.outline.closed) continue;
            QPainterPath path;
            const auto piece = artwork::placed(item);
            const auto ring = [&](const Path& outline) {
                QPolygonF polygon;
                for (const Vec2 p : flattened(outline, 1)) polygon << QPointF(p.x, p.y);
                path.addPolygon(polygon);
                path.closeSubpath();
            };
            ring(piece.outline);
            for (const auto& opening : piece.openings) ring(opening);
            painter.drawPath(path);
        }
        painter.translate(sheet->stock.width + gap, 0);
    }
    return picture;
}

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
    apart_ = new QCheckBox(tr("Keep parts apart when moved by hand"));
    apart_->setObjectName("nestApart");
    apart_->setToolTip(tr("They stop at others and slide along them; with Ctrl they go anywhere"));
    add(apart_);
    connect(apart_, &QCheckBox::clicked, this, [this](bool on) {
        auto hands = session_.hands();
        hands.apart = on;
        session_.setHands(hands);
    });
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
    keep_ = plainButton(tr("Keep this layout"), "keepLayout");
    keep_->setToolTip(tr("To lay out another way, and choose between them"));
    add(buttonRow({keep_}));
    kept_ = new QListWidget;
    kept_->setObjectName("keptLayouts");
    kept_->setAccessibleName(tr("Kept layouts"));
    kept_->setViewMode(QListView::IconMode);
    kept_->setIconSize({pictureWidth, pictureHeight});
    kept_->setMovement(QListView::Static);
    kept_->setResizeMode(QListView::Adjust);
    kept_->setGridSize({pictureWidth + 8, pictureHeight + 28});
    kept_->setFixedHeight(pictureHeight + 34);
    add(kept_);
    take_ = plainButton(tr("Take it"), "takeKept");
    drop_ = plainButton(tr("Away"), "dropKept");
    keptButtons_ = new QWidget;
    keptButtons_->setLayout(buttonRow({take_, drop_}));
    keptButtons_->layout()->setContentsMargins(0, 0, 0, 0);
    add(keptButtons_);
    connect(keep_, &QPushButton::clicked, &nester, &Nester::keep);
    const auto chosen = [this] { return static_cast<std::size_t>(kept_->currentRow()); };
    connect(take_, &QPushButton::clicked, this, [&nester, chosen] { nester.takeKept(chosen()); });
    connect(drop_, &QPushButton::clicked, this, [&nester, chosen] { nester.dropKept(chosen()); });
    connect(kept_, &QListWidget::itemDoubleClicked, this, [&nester, chosen] { nester.takeKept(chosen()); });
    connect(kept_, &QListWidget::currentRowChanged, this, &NestSection::refresh);
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
    apart_->setChecked(session_.hands().apart);
    const bool runs = nester.isRunning();
    const auto best = nester.best();
    keep_->setEnabled(!runs || best);
    if (kept_->count() != static_cast<int>(nester.kept().size())) {
        const QSignalBlocker quiet(kept_);
        kept_->clear();
        for (const auto& kept : nester.kept())
            kept_->addItem(new QListWidgetItem(QIcon(pictureOf(kept.job, devicePixelRatioF())),
                                               tr("%1: %2").arg(kept_->count() + 1).arg(kept.words)));
    }
    kept_->setVisible(!nester.kept().empty());
    keptButtons_->setVisible(!nester.kept().empty());
    take_->setEnabled(!runs && kept_->currentRow() >= 0);
    drop_->setEnabled(kept_->currentRow() >= 0);
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
