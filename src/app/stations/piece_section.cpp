#include "app/stations/piece_section.h"

#include "app/theme/theme.h"
#include "job/layers.h"

#include <QColorDialog>
#include <QHeaderView>
#include <QMenu>
#include <QScrollBar>

namespace ferro::app {

namespace {
using Kind = artwork::Listed::Kind;
constexpr std::size_t openedUpTo = 200; // pieces
constexpr int deepest = 20;             // groups in groups are opened by hand from there
std::pair<Kind, std::uint32_t> keyOf(const artwork::Listed& line) { return {line.kind, line.id}; }
} // namespace

PieceSection::PieceSection(Session& session) : Section(tr("Piece list")), session_(session) {
    search_ = new QLineEdit;
    search_->setObjectName("pieceSearch");
    search_->setPlaceholderText(tr("Part of a name"));
    search_->setAccessibleName(tr("Look for pieces by name"));
    search_->setClearButtonEnabled(true);
    add(search_);
    model_ = new PieceModel(this);
    view_ = new QTreeView;
    view_->setObjectName("pieceList");
    view_->setAccessibleName(tr("Piece list"));
    view_->setModel(model_);
    view_->setUniformRowHeights(true); // thousands of rows are quick
    view_->setIndentation(10);
    view_->setFixedHeight(232);
    view_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    view_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    view_->setDragEnabled(true);
    view_->setAcceptDrops(true);
    view_->setDropIndicatorShown(true);
    view_->setContextMenuPolicy(Qt::CustomContextMenu);
    auto* header = view_->header();
    header->setStretchLastSection(false);
    header->setSectionResizeMode(QHeaderView::Fixed);
    header->setSectionResizeMode(PieceModel::name, QHeaderView::Stretch);
    header->setMinimumSectionSize(20);
    header->resizeSection(PieceModel::size, 80);
    header->resizeSection(PieceModel::points, 32);
    header->resizeSection(PieceModel::shown, 24);
    header->resizeSection(PieceModel::locked, 24);
    header->setSectionsClickable(true);
    add(view_);
    auto* fresh = plainButton(tr("New layer"), "layerNew");
    colour_ = plainButton(tr("Colour…"), "layerColour");
    notes_ = plainButton(tr("Notes"), "layerNotes");
    notes_->setToolTip(tr("Labels that stay with their part and are never cut"));
    drop_ = plainButton(tr("Delete"), "layerDelete");
    add(buttonRow({fresh, colour_}));
    add(buttonRow({notes_, drop_}));
    add(captionLabel(tr("Double-click to rename. Drag pieces onto a layer.")));

    connect(search_, &QLineEdit::textChanged, model_, &PieceModel::lookFor);
    connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] {
        const auto row = view_->currentIndex();
        current_ = row.isValid() ? std::optional(keyOf(model_->lineAt(row))) : std::nullopt;
        scrolled_ = view_->verticalScrollBar()->value();
    });
    connect(model_, &QAbstractItemModel::modelReset, this, &PieceSection::standAgain);
    connect(view_, &QTreeView::collapsed, this,
            [this](const QModelIndex& row) { folded_.insert(keyOf(model_->lineAt(row))); });
    connect(view_, &QTreeView::expanded, this,
            [this](const QModelIndex& row) { folded_.erase(keyOf(model_->lineAt(row))); });
    connect(header, &QHeaderView::sectionClicked, this, [this, header](int column) {
        if (column > PieceModel::points) return;
        // The same heading goes up, down, and back to the order of the drawing.
        const bool same = header->isSortIndicatorShown() && header->sortIndicatorSection() == column;
        if (same && header->sortIndicatorOrder() == Qt::DescendingOrder) {
            header->setSortIndicatorShown(false);
            return model_->sort(-1, Qt::AscendingOrder);
        }
        const auto order = same ? Qt::DescendingOrder : Qt::AscendingOrder;
        header->setSortIndicatorShown(true);
        header->setSortIndicator(column, order);
        model_->sort(column, order);
    });
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
        if (!showing_) chooseRows();
    });
    connect(view_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this] { refresh(); });
    connect(view_, &QTreeView::customContextMenuRequested, this, [this](QPoint at) {
        const auto row = view_->indexAt(at);
        const auto place = view_->viewport()->mapToGlobal(at);
        if (row.isValid() && model_->lineAt(row).kind == Kind::layer)
            layerMenu(place, artwork::LayerId{model_->lineAt(row).id});
        else if (row.isValid())
            Q_EMIT menuAsked(place);
    });
    // Later: an edit makes the list anew, and the view is in the middle of telling us.
    const auto edit = [this](const QString& label, std::function<Result<job::Job>()> next) {
        QTimer::singleShot(0, this, [this, label, next = std::move(next)] { session_.apply(label, next()); });
    };
    connect(model_, &PieceModel::renameAsked, this, [this, edit](const artwork::Listed& line, const QString& name) {
        if (line.kind == Kind::layer)
            return edit(tr("Rename the layer"), [this, id = artwork::LayerId{line.id}, name] {
                auto facts = *artwork::find(*session_.job().artwork, id);
                facts.name = name.toStdString();
                return job::withLayerFacts(session_.job(), id, facts);
            });
        edit(tr("Rename"), [this, id = artwork::ItemId{line.id}, name] {
            return job::withArtwork(session_.job(),
                                    artwork::withName(*session_.job().artwork, {id}, name.toStdString()));
        });
    });
    connect(model_, &PieceModel::flagAsked, this,
            [this, edit](const artwork::Listed& line, const artwork::Ids& items, artwork::Flag flag, bool on) {
                const QString label =
                    flag == artwork::Flag::hidden ? (on ? tr("Hide") : tr("Show")) : (on ? tr("Lock") : tr("Unlock"));
                edit(label, [this, line, items, flag, on]() -> Result<job::Job> {
                    const auto& art = *session_.job().artwork;
                    if (line.kind != Kind::layer)
                        return job::withArtwork(session_.job(), artwork::withFlag(art, items, flag, on));
                    const auto& name = artwork::find(art, artwork::LayerId{line.id})->name;
                    return job::withArtwork(session_.job(), artwork::withLayerFlag(art, name, flag, on));
                });
            });
    connect(model_, &PieceModel::layerAsked, this, [this, edit](const artwork::Ids& items, artwork::LayerId layer) {
        edit(tr("Change layer"), [this, items, layer] {
            const auto& art = *session_.job().artwork;
            return job::withArtwork(session_.job(), artwork::withLayer(art, items, artwork::find(art, layer)->name));
        });
    });
    connect(fresh, &QPushButton::clicked, this, [this] {
        for (int n = 1; n < 1000; ++n) {
            const auto name = tr("layer %1").arg(n);
            if (artwork::layerNamed(*session_.job().artwork, name.toStdString())) continue;
            if (!session_.apply(tr("New layer"), job::withLayerAdded(session_.job(), name.toStdString()))) return;
            const auto row = model_->indexOf(Kind::layer, session_.job().artwork->layers.back().id.value);
            view_->setCurrentIndex(row);
            return view_->edit(row);
        }
    });
    connect(colour_, &QPushButton::clicked, this, [this] {
        const auto layer = layerAtHand();
        if (!layer) return;
        const auto was = QColor(QString::fromStdString(artwork::find(*session_.job().artwork, *layer)->colour));
        const auto colour = QColorDialog::getColor(was, this, tr("Colour of the layer"));
        if (colour.isValid())
            changeLayer(tr("Colour of the layer"), *layer,
                        [&](artwork::Layer& facts) { facts.colour = colour.name().toStdString(); });
    });
    connect(notes_, &QPushButton::clicked, this, [this] {
        if (const auto layer = layerAtHand())
            changeLayer(tr("Notes"), *layer, [](artwork::Layer& facts) { facts.notes = !facts.notes; });
    });
    connect(drop_, &QPushButton::clicked, this, [this] {
        if (const auto layer = layerAtHand())
            session_.apply(tr("Delete the layer"), job::withoutLayer(session_.job(), *layer));
    });
}

/// The layer of the row that was clicked last.
std::optional<artwork::LayerId> PieceSection::layerAtHand() const {
    auto row = view_->currentIndex();
    while (row.parent().isValid()) row = row.parent();
    if (!row.isValid()) return {};
    return artwork::LayerId{model_->lineAt(row).id};
}

void PieceSection::changeLayer(const QString& label, artwork::LayerId layer,
                               const std::function<void(artwork::Layer&)>& change) {
    auto facts = *artwork::find(*session_.job().artwork, layer);
    change(facts);
    session_.apply(label, job::withLayerFacts(session_.job(), layer, facts));
}

void PieceSection::layerMenu(QPoint at, artwork::LayerId layer) {
    view_->setCurrentIndex(model_->indexOf(Kind::layer, layer.value));
    QMenu menu(this);
    menu.setObjectName("layerMenu");
    const bool notes = artwork::find(*session_.job().artwork, layer)->notes;
    menu.addAction(tr("Rename"), this, [this] { view_->edit(view_->currentIndex()); });
    menu.addAction(tr("Colour…"), colour_, &QPushButton::click);
    menu.addAction(notes ? tr("Not notes any more") : tr("Mark as notes"), notes_, &QPushButton::click);
    menu.addAction(tr("Delete the layer"), drop_, &QPushButton::click);
    menu.exec(at);
}

/// The list was made anew: folded as it was, at the same place, with the same row at hand. At first a layer of a few
/// pieces is open, one of thousands folded.
void PieceSection::standAgain() {
    const bool searched = !search_->text().isEmpty();
    const QSignalBlocker quiet(view_);
    const std::function<void(const QModelIndex&, int)> unfold = [&](const QModelIndex& row, int depth) {
        const auto key = keyOf(model_->lineAt(row));
        if (model_->rowCount(row) == 0 || depth > deepest) return;
        if (known_.insert(key).second && model_->itemsAt(row).size() > openedUpTo) folded_.insert(key);
        if (!searched && folded_.contains(key)) return;
        view_->setExpanded(row, true);
        for (int i = 0; i < model_->rowCount(row); ++i) unfold(model_->index(i, 0, row), depth + 1);
    };
    for (int i = 0; i < model_->rowCount(); ++i) unfold(model_->index(i, 0), 0);
    if (current_)
        if (const auto row = model_->indexOf(current_->first, current_->second); row.isValid())
            view_->selectionModel()->setCurrentIndex(row, QItemSelectionModel::NoUpdate);
    view_->verticalScrollBar()->setValue(scrolled_);
    showChosen();
}

/// What the rows hold becomes what is chosen; locked and hidden pieces cannot be, but for pictures that were traced.
void PieceSection::chooseRows() {
    const auto& art = *session_.job().artwork;
    std::set<artwork::ItemId> wanted;
    for (const auto& row : view_->selectionModel()->selectedRows())
        for (const auto id : model_->itemsAt(row)) wanted.insert(id);
    artwork::Ids ids;
    for (const auto& item : art.items)
        if (wanted.contains(item.id) && !artwork::isHidden(art, item) &&
            (item.underlay || !artwork::isLocked(art, item)))
            ids.push_back(item.id);
    session_.select(ids);
}

/// The rows of what is chosen on the bench, the first of them in sight.
void PieceSection::showChosen() {
    const auto& chosen = session_.selection();
    std::set<artwork::ItemId> listed;
    for (const auto& row : view_->selectionModel()->selectedRows())
        for (const auto id : model_->itemsAt(row)) listed.insert(id);
    if (listed == std::set<artwork::ItemId>(chosen.begin(), chosen.end())) return; // it was chosen here
    showing_ = true;
    QItemSelection rows;
    QModelIndex first;
    for (const auto id : chosen)
        if (const auto row = model_->indexOf(Kind::item, id.value); row.isValid()) {
            rows.select(row, row.siblingAtColumn(PieceModel::locked));
            if (!first.isValid()) first = row;
        }
    view_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect);
    if (first.isValid()) view_->scrollTo(first);
    showing_ = false;
}

void PieceSection::refresh() {
    model_->show(session_.job().artwork, session_.job().units);
    showChosen();
    const auto layer = layerAtHand();
    for (auto* button : {colour_, notes_, drop_}) button->setEnabled(layer.has_value());
    const auto* facts = layer ? artwork::find(*session_.job().artwork, *layer) : nullptr;
    notes_->setText(facts && facts->notes ? tr("Not notes") : tr("Notes"));
}

} // namespace ferro::app
