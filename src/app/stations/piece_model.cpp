#include "app/stations/piece_model.h"

#include "app/theme/theme.h"
#include "artwork/recipe.h"

#include <QMimeData>
#include <QPainter>

namespace ferro::app {

namespace {
const QString carried = QStringLiteral("application/x-ferrograph-item-numbers");
using Kind = artwork::Listed::Kind;

/// What a row is, as a small drawing; a layer shows its colour.
QIcon drawnSort(std::string_view sort, const QColor& layer = {}) {
    QPixmap pixmap(28, 28);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(theme().pen(Token::ink, 1.2));
    const QColor soft = theme().color(Token::rule);
    if (sort == "layer") {
        painter.setBrush(layer);
        painter.drawRect(QRectF(2, 4, 10, 6));
    } else if (sort == "group") {
        painter.drawPolyline(QPolygonF{{5, 2.5}, {2.5, 2.5}, {2.5, 11.5}, {5, 11.5}});
        painter.drawPolyline(QPolygonF{{9, 2.5}, {11.5, 2.5}, {11.5, 11.5}, {9, 11.5}});
    } else if (sort == "outline") {
        painter.setBrush(soft);
        painter.drawEllipse(QRectF(2.5, 3, 9, 8));
    } else if (sort == "line") {
        painter.drawPolyline(QPolygonF{{2, 11}, {6, 5}, {12, 3}});
    } else if (sort == "dot") {
        painter.setBrush(theme().color(Token::ink));
        painter.drawEllipse(QRectF(5.5, 5.5, 3, 3));
    } else if (sort == "picture") {
        painter.drawRect(QRectF(2, 3, 10, 8));
        painter.drawPolyline(QPolygonF{{2, 10}, {5.5, 6}, {8, 9}, {9.5, 7.5}, {12, 10}});
    } else {
        painter.drawEllipse(QRectF(1.5, 2, 7.5, 7));
        painter.setBrush(soft);
        painter.drawEllipse(QRectF(5, 5, 7.5, 7));
    }
    painter.end();
    return QIcon(pixmap);
}

QString sortWord(std::string_view sort) {
    if (sort == "outline") return QObject::tr("outline");
    if (sort == "line") return QObject::tr("open line");
    if (sort == "dot") return QObject::tr("dot");
    if (sort == "picture") return QObject::tr("picture");
    return QObject::tr("copy");
}
} // namespace

void PieceModel::show(std::shared_ptr<const artwork::Artwork> art, Units units) {
    if (art == art_ && units == units_) return;
    art_ = std::move(art);
    units_ = units;
    list();
}

void PieceModel::lookFor(const QString& words) {
    words_ = words.trimmed();
    list();
}

void PieceModel::sort(int column, Qt::SortOrder order) {
    order_ = column == name     ? artwork::ListOrder::name
             : column == size   ? artwork::ListOrder::size
             : column == points ? artwork::ListOrder::points
                                : artwork::ListOrder::drawing;
    descending_ = order == Qt::DescendingOrder;
    list();
}

void PieceModel::list() {
    beginResetModel();
    const auto wanted = [this](const std::string& text) {
        return QString::fromStdString(text).contains(words_, Qt::CaseInsensitive);
    };
    listing_ = words_.isEmpty() ? artwork::listingOf(*art_, {}, order_, descending_)
                                : artwork::listingOf(*art_, wanted, order_, descending_);
    at_.clear();
    itemOf_.assign(listing_.lines.size(), 0);
    for (const auto i : listing_.top) at_[{Kind::layer, listing_.lines[i].id}] = i;
    for (std::size_t i = 0; i < listing_.lines.size(); ++i)
        if (listing_.lines[i].kind != Kind::layer) at_.try_emplace({listing_.lines[i].kind, listing_.lines[i].id}, i);
    for (std::size_t i = 0; i < art_->items.size(); ++i)
        if (const auto line = at_.find({Kind::item, art_->items[i].id.value}); line != at_.end())
            itemOf_[line->second] = i;
    endResetModel();
}

QModelIndex PieceModel::indexOf(Kind kind, std::uint32_t id) const {
    const auto line = at_.find({kind, id});
    if (line == at_.end()) return {};
    return createIndex(static_cast<int>(listing_.lines[line->second].place), 0, line->second);
}

QModelIndex PieceModel::index(int row, int column, const QModelIndex& parent) const {
    const auto& lines = parent.isValid() ? listing_.lines[parent.internalId()].under : listing_.top;
    if (row < 0 || row >= static_cast<int>(lines.size()) || column < 0 || column >= columns) return {};
    return createIndex(row, column, lines[static_cast<std::size_t>(row)]);
}

QModelIndex PieceModel::parent(const QModelIndex& index) const {
    if (!index.isValid()) return {};
    const auto within = listing_.lines[index.internalId()].within;
    if (within == artwork::Listed::none) return {};
    return createIndex(static_cast<int>(listing_.lines[within].place), 0, within);
}

int PieceModel::rowCount(const QModelIndex& parent) const {
    if (parent.column() > 0) return 0;
    return static_cast<int>(parent.isValid() ? listing_.lines[parent.internalId()].under.size() : listing_.top.size());
}

const artwork::Layer& PieceModel::layerOf(std::size_t line) const {
    return *artwork::find(*art_, artwork::LayerId{listing_.lines[line].id});
}

bool PieceModel::ticked(std::size_t line, int column) const {
    const auto is = [&](const auto& thing) { return column == shown ? !thing.hidden : thing.locked; };
    if (listing_.lines[line].kind == Kind::layer) return is(layerOf(line));
    if (listing_.lines[line].kind == Kind::item) return is(itemAt(line));
    const auto items = artwork::itemsUnder(listing_, line);
    return std::all_of(items.begin(), items.end(), [&](auto id) { return is(itemAt(at_.at({Kind::item, id.value}))); });
}

QString PieceModel::wordsFor(std::size_t i) const {
    const auto& line = listing_.lines[i];
    if (line.kind == Kind::layer) {
        const auto& layer = layerOf(i);
        const auto count = artwork::itemsUnder(listing_, i).size();
        return tr("Layer “%1”: %2 pieces here%3")
            .arg(QString::fromStdString(layer.name))
            .arg(count)
            .arg(layer.notes ? tr(", notes that are never cut") : QString());
    }
    if (line.kind == Kind::group) return tr("Group of %1 pieces").arg(artwork::itemsUnder(listing_, i).size());
    const auto& item = itemAt(i);
    QString words = tr("%1, %2").arg(QString::fromStdString(item.name), sortWord(artwork::sortOf(item)));
    if (const auto* original = item.of ? artwork::find(*art_, item.of) : nullptr)
        words += tr(" of %1").arg(QString::fromStdString(original->name));
    return words;
}

QVariant PieceModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const std::size_t i = index.internalId();
    const auto& line = listing_.lines[i];
    const int column = index.column();
    if (role == Qt::ToolTipRole && column < shown) return wordsFor(i);
    if (role == Qt::CheckStateRole && (column == shown || column == locked))
        return ticked(i, column) ? Qt::Checked : Qt::Unchecked;
    if (role == Qt::TextAlignmentRole && (column == size || column == points))
        return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
    if (role == Qt::DecorationRole && column == name) {
        if (line.kind == Kind::group) return drawnSort("group");
        if (line.kind == Kind::item) return drawnSort(artwork::sortOf(itemAt(i)));
        const auto& layer = layerOf(i);
        return drawnSort("layer", layer.colour.empty() ? theme().color(Token::ink)
                                                       : QColor(QString::fromStdString(layer.colour)));
    }
    if (role == Qt::FontRole && line.kind == Kind::layer && column == name && layerOf(i).notes) {
        auto font = theme().text(13);
        font.setItalic(true);
        return font;
    }
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    if (column == name) {
        if (line.kind == Kind::item) return QString::fromStdString(itemAt(i).name);
        if (line.kind == Kind::layer) {
            const auto& layer = layerOf(i);
            const auto text = QString::fromStdString(layer.name);
            return role == Qt::DisplayRole && layer.notes ? tr("%1 (notes)").arg(text) : text;
        }
        for (const auto& group : art_->groups)
            if (group.id.value == line.id) return QString::fromStdString(group.name);
    }
    if (column == size && line.kind == Kind::item) {
        const Box box = artwork::boundsOf(itemAt(i));
        const auto told = [&](double v) { // to tell pieces apart; the exact numbers stand over the bench
            const double value = units_ == Units::inch ? v / 25.4 : v;
            return QString::number(value, 'f', units_ == Units::inch ? 2 : value < 9.95 ? 1 : 0);
        };
        return tr("%1 × %2").arg(told(box.width()), told(box.height()));
    }
    if (column == size) return QString::number(artwork::itemsUnder(listing_, i).size());
    if (column == points && line.kind == Kind::item)
        if (const auto* shape = artwork::shapeOf(itemAt(i))) return QString::number(pointsOf(shape->piece));
    return {};
}

bool PieceModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const auto line = listing_.lines[index.internalId()];
    if (role == Qt::CheckStateRole) {
        const bool on = value.toInt() == Qt::Checked, shows = index.column() == shown;
        Q_EMIT flagAsked(line, itemsAt(index), shows ? artwork::Flag::hidden : artwork::Flag::locked, shows ? !on : on);
    } else if (role == Qt::EditRole && value.toString() != data(index, role).toString()) {
        Q_EMIT renameAsked(line, value.toString().trimmed());
    }
    return false; // it changes when the artwork does
}

QVariant PieceModel::headerData(int section, Qt::Orientation, int role) const {
    const bool icon = section == shown || section == locked;
    if (role == Qt::DecorationRole && icon) return theme().icon(section == shown ? Glyph::eye : Glyph::lock);
    if (role == Qt::ToolTipRole && icon) return section == shown ? tr("Shown") : tr("Locked");
    if (role == Qt::DisplayRole && !icon)
        return section == name ? tr("Name") : section == size ? tr("Size") : tr("Pts");
    return {};
}

Qt::ItemFlags PieceModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return Qt::NoItemFlags;
    const auto kind = lineAt(index).kind;
    auto flags = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (index.column() == shown || index.column() == locked) flags |= Qt::ItemIsUserCheckable;
    if (index.column() == name && kind != Kind::group) flags |= Qt::ItemIsEditable;
    flags |= kind == Kind::layer ? Qt::ItemIsDropEnabled : Qt::ItemIsDragEnabled;
    return flags;
}

QStringList PieceModel::mimeTypes() const { return {carried}; }

QMimeData* PieceModel::mimeData(const QModelIndexList& rows) const {
    QByteArray numbers;
    for (const auto& row : rows)
        if (row.column() == name && lineAt(row).kind != Kind::layer)
            for (const auto id : itemsAt(row)) numbers += QByteArray::number(id.value) + ' ';
    auto* data = new QMimeData;
    data->setData(carried, numbers);
    return data;
}

bool PieceModel::dropMimeData(const QMimeData* data, Qt::DropAction, int, int, const QModelIndex& onto) {
    if (!onto.isValid() || lineAt(onto).kind != Kind::layer) return false;
    artwork::Ids ids;
    for (const auto& number : data->data(carried).split(' '))
        if (const auto value = number.toUInt()) ids.push_back(artwork::ItemId{value});
    if (!ids.empty()) Q_EMIT layerAsked(ids, artwork::LayerId{lineAt(onto).id});
    return false; // the rows go where the artwork says
}

} // namespace ferro::app
