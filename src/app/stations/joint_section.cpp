#include "app/stations/joint_section.h"

#include "job/edits.h"

namespace ferro::app {

JointSection::JointSection(Session& session)
    : ProposalSection(session, tr("Joints"), Auditor::Asked::joints, "joints", tr("Fit them")) {
    drawn_ = new QuantityField(tr("Drawn for sheets of"), Measure::length);
    drawn_->edit()->setObjectName("jointsDrawnFor");
    drawn_->setRange(0.1, 200);
    add(drawn_);
    fits_ = new WordChoice({}, {tr("press"), tr("snug"), tr("loose")});
    fits_->setObjectName("jointsFit");
    add(row(tr("Fit"), fits_));
    clearance_ = new QuantityField(tr("Slots wider by"), Measure::length);
    clearance_->edit()->setObjectName("jointsClearance");
    clearance_->setRange(-1, 5);
    add(clearance_);
    connect(drawn_, &QuantityField::edited, this, [this](double v) { drawn_->setQuantity(*(drawnFor_ = v)); });
    connect(clearance_, &QuantityField::edited, this, [this](double v) { clearance_->setQuantity(*(typed_ = v)); });
    connect(fits_, &WordChoice::asked, this, [this](int index) {
        fit_ = index;
        typed_.reset();
        refresh();
    });
    for (auto* field : {drawn_, clearance_}) connect(field, &QuantityField::refused, this, &JointSection::refused);
    finish();
}

double JointSection::clearance() const {
    const auto& material = job::materialOf(session_.job());
    const double of[] = {material.pressFit, material.snugFit, material.looseFit};
    return typed_.value_or(of[fit_]);
}

void JointSection::look() {
    const double sheet = session_.job().sheet().stock.thickness;
    session_.auditor().lookForJoints({drawnFor_.value_or(sheet), sheet, clearance()});
}

void JointSection::showFields() {
    const auto& stock = session_.job().sheet().stock;
    for (auto* field : {drawn_, clearance_}) field->setUnits(session_.job().units);
    drawn_->setQuantity(drawnFor_.value_or(stock.thickness));
    clearance_->setQuantity(clearance());
    clearance_->setHint(typed_ ? tr("typed")
                               : tr("of %1").arg(QString::fromStdString(job::materialOf(session_.job()).name)));
    fits_->setChosen(fit_);
}

QString JointSection::wordsBefore() const {
    return tr("Slots, notches and fingers become as wide as the sheet (%1, as Stock says) and what is asked more.")
        .arg(QString::fromStdString(
            shown(session_.job().sheet().stock.thickness, Measure::length, session_.job().units)));
}
QString JointSection::wordsOfNone() const {
    return session_.auditor().proposed().found == 0 ? tr("No joint is drawn for sheets so thick.")
                                                    : tr("All fit as asked already.");
}
QString JointSection::wordsOfSome() const {
    const auto found = session_.auditor().proposed().found;
    return found == 0 ? QString() : tr("Joints found: %1.").arg(found);
}

} // namespace ferro::app
