#include "app/stations/true_up_section.h"

namespace ferro::app {

TrueUpSection::TrueUpSection(Session& session) : Section(tr("True up")), session_(session) {
    auto& auditor = session.auditor();
    field_ = new QuantityField(tr("Off by at most"), Measure::length);
    field_->edit()->setObjectName("trueUpWithin");
    field_->setRange(0.001, 100);
    add(field_);
    connect(field_, &QuantityField::edited, this, [this](double v) { field_->setQuantity(within_ = v); });
    connect(field_, &QuantityField::refused, this, &TrueUpSection::refused);
    words_ = captionLabel();
    words_->setObjectName("trueUpWords");
    list_ = new QListWidget;
    list_->setObjectName("trueUpList");
    list_->setAccessibleName(tr("Proposals"));
    list_->setFixedHeight(110);
    list_->setWordWrap(true);
    auto* line = new QHBoxLayout;
    look_ = plainButton(tr("Look"), "trueUpLook");
    take_ = plainButton(tr("Make exact"), "trueUpTake");
    line->addWidget(look_);
    line->addWidget(take_);
    line->addStretch();
    add(line);
    add(words_);
    add(list_);
    connect(look_, &QPushButton::clicked, this, [this, &auditor] { auditor.lookForTruth(within_); });
    connect(take_, &QPushButton::clicked, this, [this, &auditor] {
        std::vector<std::size_t> taken;
        for (int i = 0; i < list_->count(); ++i)
            if (list_->item(i)->checkState() == Qt::Checked) taken.push_back(static_cast<std::size_t>(i));
        auditor.takeTruth(taken);
    });
    connect(list_, &QListWidget::currentRowChanged, this, [this, &auditor](int row) {
        if (row < 0 || row >= static_cast<int>(auditor.proposals().size())) return;
        const auto& p = auditor.proposals()[static_cast<std::size_t>(row)];
        const Vec2 at = boundsOf(p.becomes).centre();
        session_.select({p.item});
        Q_EMIT session_.jumpAsked({at.x, at.y});
    });
    connect(&auditor, &Auditor::truthChanged, this, &TrueUpSection::refresh);
    setFolded(true);
}

void TrueUpSection::refresh() {
    const auto& found = session_.auditor().proposals();
    field_->setUnits(session_.job().units);
    field_->setQuantity(within_);
    const bool same =
        list_->count() == static_cast<int>(found.size()) && list_->property("of") == session_.auditor().truthCount();
    if (!same) {
        const QSignalBlocker quiet(list_);
        list_->clear();
        for (const auto& p : found) {
            auto* item = new QListWidgetItem(QString::fromStdString(p.what), list_);
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(Qt::Checked);
        }
        list_->setProperty("of", session_.auditor().truthCount());
    }
    list_->setVisible(!found.empty());
    take_->setEnabled(!found.empty());
    words_->setText(!session_.auditor().hasLookedForTruth()
                        ? tr("Near-circles, near-rectangles, near-straight lines, near-equal sizes.")
                    : found.empty() ? tr("All is as exact as it gets.")
                                    : tr("Green on the bench: what it becomes. Untick what is meant as it is."));
}

} // namespace ferro::app
