#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"

namespace ferro::app {

/// What the chosen step's tool does not get to, and the tools on hand against time and what they leave.
class ReachSection : public Section {
    Q_OBJECT
public:
    explicit ReachSection(Session& session);
    void refresh();

private:
    void refreshChoices();
    Session& session_;
    QLabel *left_, *words_;
    QPushButton* compare_;
    QWidget* table_;
    QVBoxLayout* rows_;
};

} // namespace ferro::app
