#pragma once

#include "app/stations/proposal_section.h"

namespace ferro::app {

/// What is near-exact, to be made exact, each with how far it is off.
class TrueUpSection : public ProposalSection {
    Q_OBJECT
public:
    explicit TrueUpSection(Session& session);

private:
    void look() override;
    void showFields() override;
    [[nodiscard]] QString wordsBefore() const override;
    [[nodiscard]] QString wordsOfNone() const override;
    double within_ = 0.2;
    QuantityField* field_;
};

} // namespace ferro::app
