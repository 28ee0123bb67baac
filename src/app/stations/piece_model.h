#pragma once

#include "app/shell/session.h"
#include "artwork/listing.h"

#include <QAbstractItemModel>

namespace ferro::app {

/// The artwork as a tree of layers, groups and pieces. Rows are read from the artwork when they are seen; what is
/// ticked, renamed or dragged is said as a wish, and the tree changes when the artwork does.
class PieceModel : public QAbstractItemModel {
    Q_OBJECT
public:
    enum Column { name, size, points, shown, locked, columns };

    explicit PieceModel(QObject* parent = nullptr) : QAbstractItemModel(parent) {}

    /// Nothing is done when neither has changed.
    void show(std::shared_ptr<const artwork::Artwork> art, Units units);
    void lookFor(const QString& words);
    void sort(int column, Qt::SortOrder order) override;

    [[nodiscard]] const artwork::Listed& lineAt(const QModelIndex& index) const {
        return listing_.lines[index.internalId()];
    }
    [[nodiscard]] artwork::Ids itemsAt(const QModelIndex& index) const {
        return artwork::itemsUnder(listing_, index.internalId());
    }
    /// Where a layer, group or item stands (a group the first time); none when it is not in the list.
    [[nodiscard]] QModelIndex indexOf(artwork::Listed::Kind kind, std::uint32_t id) const;

    [[nodiscard]] QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    [[nodiscard]] QModelIndex parent(const QModelIndex& index) const override;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex&) const override { return columns; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
    [[nodiscard]] Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    [[nodiscard]] QStringList mimeTypes() const override;
    [[nodiscard]] QMimeData* mimeData(const QModelIndexList& rows) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction, int row, int column, const QModelIndex& onto) override;

Q_SIGNALS:
    void renameAsked(const ferro::artwork::Listed& line, const QString& name);
    void flagAsked(const ferro::artwork::Listed& line, const ferro::artwork::Ids& items, ferro::artwork::Flag flag,
                   bool on);
    void layerAsked(const ferro::artwork::Ids& items, ferro::artwork::LayerId layer);

private:
    void list();
    [[nodiscard]] const artwork::Item& itemAt(std::size_t line) const { return art_->items[itemOf_[line]]; }
    [[nodiscard]] const artwork::Layer& layerOf(std::size_t line) const;
    [[nodiscard]] bool ticked(std::size_t line, int column) const;
    [[nodiscard]] QString wordsFor(std::size_t line) const;

    std::shared_ptr<const artwork::Artwork> art_ = std::make_shared<const artwork::Artwork>();
    Units units_ = Units::mm;
    QString words_;
    artwork::ListOrder order_ = artwork::ListOrder::drawing;
    bool descending_ = false;
    artwork::Listing listing_;
    std::vector<std::size_t> itemOf_; ///< by line: the item's index; of others nothing
    std::map<std::pair<artwork::Listed::Kind, std::uint32_t>, std::size_t> at_; ///< the line of each
};

} // namespace ferro::app
