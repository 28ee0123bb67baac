#pragma once

#include "app/stations/station_sheet.h"

#include "app/bench/bench_facts.h"

namespace ferro::app {

/// The Proof station: go/no-go list with jumps and fixes, what the bench shows, times.
class ProofSheet : public StationSheet {
    Q_OBJECT
public:
    explicit ProofSheet(Session& session);
    void refresh() override;
    [[nodiscard]] ProofView view() const { return view_; }

Q_SIGNALS:
    void viewAsked();
    void jointsAsked();

private:
    void rebuild();
    QVBoxLayout* list_;
    QLabel *verdict_, *deviation_, *legend_, *times_, *cost_;
    WordChoice* show_;
    QPushButton* play_;
    QTimer playing_;
    ProofView view_ = ProofView::surface;
    std::shared_ptr<const proof::Proof> built_;
    bool builtFresh_ = false;
};

} // namespace ferro::app
