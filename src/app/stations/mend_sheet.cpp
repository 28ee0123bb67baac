#include "app/stations/mend_sheet.h"

#include "app/theme/theme.h"

namespace ferro::app {

void MendSheet::lookForJoints() {
    joints_->setFolded(false);
    joints_->look();
    QTimer::singleShot(0, this, [this] { ensureWidgetVisible(joints_); });
}

MendSheet::MendSheet(Session& session) : StationSheet(session, tr("Pieces"), "mendSheet") {
    auto* all = section(tr("Drawing"));
    counts_ = wrappedLabel();
    counts_->setObjectName("mendCounts");
    all->add(counts_);

    list_ = new PieceSection(session);
    column_->insertWidget(column_->count() - 1, list_);
    connect(list_, &PieceSection::menuAsked, this, &MendSheet::menuAsked);
    points_ = new PointSection(session);
    column_->insertWidget(column_->count() - 1, points_);
    draw_ = new DrawSection(session);
    column_->insertWidget(column_->count() - 1, draw_);
    audit_ = new AuditSection(session);
    column_->insertWidget(column_->count() - 1, audit_);
    bridges_ = new BridgeSection(session);
    truth_ = new TrueUpSection(session);
    joints_ = new JointSection(session);
    shape_ = new ShapeSection(session);
    choose_ = new ChooseSection(session);
    for (Section* part : std::initializer_list<Section*>{truth_, joints_, bridges_, shape_, choose_})
        column_->insertWidget(column_->count() - 1, part);
    const auto refuse = [this](const QString& why) { Q_EMIT told(why, true); };
    connect(points_, &PointSection::refused, this, refuse);
    connect(draw_, &DrawSection::refused, this, refuse);
    connect(audit_, &AuditSection::refused, this, refuse);
    connect(bridges_, &BridgeSection::refused, this, refuse);
    connect(truth_, &TrueUpSection::refused, this, refuse);
    connect(joints_, &JointSection::refused, this, refuse);
    connect(shape_, &ShapeSection::refused, this, refuse);

    selection_ = section(tr("Chosen"));
    chosen_ = wrappedLabel();
    selection_->add(chosen_);
    name_ = new QLineEdit;
    name_->setObjectName("pieceName");
    name_->setFixedWidth(150);
    layer_ = new QLineEdit;
    layer_->setObjectName("pieceLayer");
    layer_->setFixedWidth(150);
    selection_->add(row(tr("Name"), name_));
    selection_->add(row(tr("Layer"), layer_));
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(name_))
            session_.apply(
                tr("Rename"),
                job::withArtwork(session_.job(), artwork::withName(*session_.job().artwork, session_.selection(),
                                                                   name_->text().toStdString())));
    });
    connect(layer_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(layer_))
            session_.apply(
                tr("Change layer"),
                job::withArtwork(session_.job(), artwork::withLayer(*session_.job().artwork, session_.selection(),
                                                                    layer_->text().toStdString())));
    });
}

void MendSheet::refresh() {
    points_->refresh();
    draw_->refresh();
    audit_->refresh();
    bridges_->refresh();
    truth_->refresh();
    shape_->refresh();
    choose_->refresh();
    const auto& art = *session_.job().artwork;
    const auto counts = artwork::countsOf(art);
    counts_->setText(
        tr("%1 pieces · %2 points · %3 open lines").arg(counts.pieces).arg(counts.points).arg(counts.open));
    list_->refresh();
    const auto& chosen = session_.selection();
    selection_->setVisible(!chosen.empty());
    if (chosen.empty()) return;
    std::size_t points = 0;
    bool grouped = false;
    const artwork::Item* one = nullptr;
    for (const auto id : chosen)
        if (const auto* item = artwork::find(art, id)) {
            one = item;
            grouped |= static_cast<bool>(item->group);
            if (const auto* shape = artwork::shapeOf(*item)) points += pointsOf(shape->piece);
        }
    chosen_->setText(
        tr("%1 pieces · %2 points%3").arg(chosen.size()).arg(points).arg(grouped ? tr(" · grouped") : QString()));
    if (!one) return;
    const auto* layer = artwork::find(art, one->layer);
    showUnlessTyped(name_, chosen.size() == 1 ? QString::fromStdString(one->name) : QString());
    showUnlessTyped(layer_, layer ? QString::fromStdString(layer->name) : QString());
}

} // namespace ferro::app
