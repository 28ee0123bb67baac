#include "app/stations/true_up_section.h"

namespace ferro::app {

TrueUpSection::TrueUpSection(Session& session)
    : ProposalSection(session, tr("True up"), Auditor::Asked::truth, "trueUp", tr("Make exact")) {
    field_ = new QuantityField(tr("Off by at most"), Measure::length);
    field_->edit()->setObjectName("trueUpWithin");
    field_->setRange(0.001, 100);
    add(field_);
    connect(field_, &QuantityField::edited, this, [this](double v) { field_->setQuantity(within_ = v); });
    connect(field_, &QuantityField::refused, this, &TrueUpSection::refused);
    finish();
}

void TrueUpSection::look() { session_.auditor().lookForTruth(within_); }

void TrueUpSection::showFields() {
    field_->setUnits(session_.job().units);
    field_->setQuantity(within_);
}

QString TrueUpSection::wordsBefore() const {
    return tr("Near-circles, near-rectangles, near-straight lines, near-equal sizes.");
}
QString TrueUpSection::wordsOfNone() const { return tr("All is as exact as it gets."); }

} // namespace ferro::app
