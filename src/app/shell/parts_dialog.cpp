#include "app/shell/parts_dialog.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "app/widgets/parts.h"
#include "base/quantity.h"
#include "geometry/flatten.h"

#include <QHeaderView>
#include <QPainter>
#include <QPainterPath>

namespace ferro::app {

namespace {
enum Column { name, extent, wanted, laid, material, thickness, turns, where, columns };
constexpr int pictureSize = 44; // px
} // namespace

PartsDialog::PartsDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
    setObjectName("partsDialog");
    setWindowTitle(tr("Parts"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 12, 16, 12);
    column->setSpacing(8);
    filter_ = new QLineEdit;
    filter_->setObjectName("partsFilter");
    filter_->setPlaceholderText(tr("Part of a name, a layer or a material"));
    filter_->setClearButtonEnabled(true);
    column->addWidget(filter_);
    table_ = new QTableWidget;
    table_->setObjectName("partsTable");
    table_->setAccessibleName(tr("Parts"));
    table_->setColumnCount(columns);
    table_->setHorizontalHeaderLabels(
        {tr("Part"), tr("Size"), tr("Wanted"), tr("Laid"), tr("Material"), tr("Thick"), tr("Turns"), tr("On")});
    table_->setIconSize({pictureSize, pictureSize});
    table_->verticalHeader()->setVisible(false);
    table_->verticalHeader()->setDefaultSectionSize(pictureSize + 6);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                            QAbstractItemView::AnyKeyPressed);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->setMinimumSize(860, 370);
    column->addWidget(table_, 1);
    words_ = wrappedLabel();
    words_->setObjectName("partsWords");
    column->addWidget(words_);
    column->addWidget(
        captionLabel(tr("Type how many are wanted or how thick they are to be; with several rows chosen it "
                        "is for all of them. What is chosen here is chosen on the bench.")));
    connect(filter_, &QLineEdit::textChanged, this, &PartsDialog::refresh);
    connect(table_, &QTableWidget::itemSelectionChanged, this, &PartsDialog::chooseRows);
    connect(table_, &QTableWidget::cellChanged, this, &PartsDialog::typed);
    connect(&session_, &Session::jobChanged, this, &PartsDialog::refresh);
    connect(&session_, &Session::selectionChanged, this, &PartsDialog::showChosen);
    refresh();
}

QIcon PartsDialog::pictureOf(const job::ListedPart& part) const {
    const double ratio = devicePixelRatioF();
    QPixmap pixmap(QSize(pictureSize, pictureSize) * ratio);
    pixmap.setDevicePixelRatio(ratio);
    pixmap.fill(Qt::transparent);
    const double longer = std::max({part.box.width(), part.box.height(), 1e-6}), scale = (pictureSize - 4) / longer;
    const Vec2 middle = part.box.centre();
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    for (const auto& outline : part.outlines) {
        QPolygonF polygon;
        for (const Vec2 p : flattened(outline, 0.3 / scale))
            polygon << QPointF(pictureSize / 2.0 + (p.x - middle.x) * scale,
                               pictureSize / 2.0 - (p.y - middle.y) * scale);
        path.addPolygon(polygon);
        if (outline.closed) path.closeSubpath();
    }
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().color(Token::ink), 1));
    painter.setBrush(theme().color(Token::rule));
    painter.drawPath(path);
    return QIcon(pixmap);
}

void PartsDialog::refresh() {
    filling_ = true;
    const auto& job = session_.job();
    const QString wants = filter_->text().trimmed();
    parts_.clear();
    std::size_t all = 0, asked = 0, there = 0, missing = 0;
    for (auto& part : job::partListOf(job)) {
        ++all;
        asked += static_cast<std::size_t>(part.part.quantity), there += part.laid;
        if (part.laid < static_cast<std::size_t>(part.part.quantity) && part.part.priority == artwork::Priority::must)
            ++missing;
        const auto holds = [&](const std::string& text) {
            return QString::fromStdString(text).contains(wants, Qt::CaseInsensitive);
        };
        if (wants.isEmpty() || holds(part.name) || holds(part.layer) || holds(part.part.material))
            parts_.push_back(std::move(part));
    }
    table_->setRowCount(static_cast<int>(parts_.size()));
    const auto put = [&](int row, Column column, const QString& text, bool typed = false) {
        auto* item = new QTableWidgetItem(text);
        item->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled | (typed ? Qt::ItemIsEditable : Qt::NoItemFlags));
        table_->setItem(row, column, item);
        return item;
    };
    for (int row = 0; row < table_->rowCount(); ++row) {
        const auto& part = parts_[static_cast<std::size_t>(row)];
        const auto length = [&](double mm) { return QString::fromStdString(shown(mm, Measure::length, job.units)); };
        put(row, name, QString::fromStdString(part.name))->setIcon(pictureOf(part));
        put(row, extent, length(part.box.width()) + QStringLiteral(" × ") + length(part.box.height()));
        put(row, wanted, QString::number(part.part.quantity), true);
        auto* lies = put(row, laid, QString::number(part.laid));
        if (part.laid < static_cast<std::size_t>(part.part.quantity)) lies->setForeground(theme().color(Token::ochre));
        const auto stuff = session_.book().material(part.part.material);
        put(row, material,
            part.part.material.empty() ? tr("any") : QString::fromStdString(stuff ? stuff->name : part.part.material));
        put(row, thickness, part.part.thickness > 0 ? length(part.part.thickness) : tr("any"), true);
        put(row, turns, textOf(artwork::turnsWords[static_cast<std::size_t>(part.part.turns)]));
        QStringList sheets;
        for (const auto id : part.sheets) sheets << QString::fromStdString(job::find(job, id)->name);
        put(row, where, sheets.isEmpty() ? tr("beside the sheets") : sheets.join(QStringLiteral(", ")));
    }
    table_->resizeColumnsToContents();
    for (int column = 0; column + 1 < columns; ++column) // the last one takes what is left
        table_->setColumnWidth(column, table_->columnWidth(column) + 14);
    words_->setText(all == 0 ? tr("There are no parts: closed outlines make them.")
                    : parts_.empty()
                        ? tr("None of the %1 parts has that in its name, layer or material.").arg(all)
                        : tr("%1 parts, %2 wanted, %3 on the sheets%4")
                              .arg(all)
                              .arg(asked)
                              .arg(there)
                              .arg(missing ? tr("; of %1 there are too few.").arg(missing) : QStringLiteral(".")));
    filling_ = false;
    showChosen();
}

/// What is chosen in the list is chosen on the bench, on the sheet that the first of it lies on.
void PartsDialog::chooseRows() {
    if (filling_) return;
    artwork::Ids ids;
    for (const auto& index : table_->selectionModel()->selectedRows()) {
        const auto& part = parts_[static_cast<std::size_t>(index.row())];
        ids.insert(ids.end(), part.items.begin(), part.items.end());
    }
    if (ids.empty()) return;
    filling_ = true;
    const auto* first = artwork::find(*session_.job().artwork, ids.front());
    session_.layOut(first->sheet);
    std::erase_if(ids, [&](auto id) { return artwork::find(*session_.job().artwork, id)->sheet != first->sheet; });
    session_.select(ids);
    filling_ = false;
}

void PartsDialog::showChosen() {
    if (filling_) return;
    filling_ = true;
    const auto& chosen = session_.selection();
    table_->clearSelection();
    for (int row = 0; row < table_->rowCount(); ++row) {
        const auto& part = parts_[static_cast<std::size_t>(row)];
        const bool is = std::any_of(part.items.begin(), part.items.end(), [&](auto id) {
            return std::find(chosen.begin(), chosen.end(), id) != chosen.end();
        });
        if (!is) continue;
        for (int column = 0; column < columns; ++column) table_->item(row, column)->setSelected(true);
    }
    filling_ = false;
}

/// For the row, and all others that are chosen with it.
void PartsDialog::typed(int row, int column) {
    if (filling_ || (column != wanted && column != thickness)) return;
    const auto text = table_->item(row, column)->text().toStdString();
    const bool counts = column == wanted;
    const auto value = !counts && (text == tr("any").toStdString() || text.empty())
                           ? Result<double>(0.0)
                           : parseQuantity(text, counts ? Measure::count : Measure::length, session_.job().units);
    if (!value) {
        session_.tell(value.problem());
        return refresh();
    }
    std::vector<int> rows{row};
    for (const auto& index : table_->selectionModel()->selectedRows())
        if (index.row() != row && table_->item(row, column)->isSelected()) rows.push_back(index.row());
    Result<artwork::Artwork> art = *session_.job().artwork;
    for (const int one : rows) {
        const auto& listed = parts_[static_cast<std::size_t>(one)];
        artwork::Part part = listed.part;
        if (counts)
            part.quantity = static_cast<int>(std::lround(std::clamp(*value, 0.0, 1e6)));
        else
            part.thickness = *value;
        art = artwork::withPart(*art, {listed.item}, part);
        if (!art) {
            session_.tell(art.problem());
            return refresh();
        }
    }
    session_.apply(counts ? tr("Part: how many") : tr("Part: thickness"),
                   job::withArtwork(session_.job(), std::move(*art)));
    refresh();
}

} // namespace ferro::app
