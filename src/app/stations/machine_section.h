#pragma once

#include "app/shell/rehearsal.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

namespace ferro::app {

/// The link to the machine: its port, the stand-in in its place, where it is and what it cannot promise.
class MachineSection : public Section {
    Q_OBJECT
public:
    explicit MachineSection(Session& session);
    void refresh();

Q_SIGNALS:
    void told(const QString& text, bool isProblem);
    void standInAsked(double faster);
    void startAsked(); ///< a rehearsal is ready for it

private:
    void listPorts();
    [[nodiscard]] QString conversation() const;
    Session& session_;
    QLineEdit* device_;
    QuantityField* faster_;
    QLabel *state_, *where_, *limits_, *problem_;
    QPushButton *ports_, *connect_, *standIn_, *rehearse_;
    std::unique_ptr<Rehearsal> rehearsal_;
};

} // namespace ferro::app
