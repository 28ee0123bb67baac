#pragma once

#include "app/stations/proposal_section.h"

namespace ferro::app {

/// Slots and notches for the sheet's own thickness, and how tightly parts go together.
class JointSection : public ProposalSection {
    Q_OBJECT
public:
    explicit JointSection(Session& session);
    void look() override;

private:
    void showFields() override;
    [[nodiscard]] QString wordsBefore() const override;
    [[nodiscard]] QString wordsOfNone() const override;
    [[nodiscard]] QString wordsOfSome() const override;
    [[nodiscard]] double clearance() const;
    std::optional<double> drawnFor_, typed_; ///< none: the stock's thickness, the material's clearance
    int fit_ = 1;
    QuantityField *drawn_, *clearance_;
    WordChoice* fits_;
};

} // namespace ferro::app
