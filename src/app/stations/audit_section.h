#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

namespace ferro::app {

/// What the audit found, by fault: how many, show the next, mend these; and the tolerances it goes by.
class AuditSection : public Section {
    Q_OBJECT
public:
    explicit AuditSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    struct Row {
        QWidget* widget;
        QLabel* words;
    };
    Session& session_;
    QLabel *verdict_, *current_;
    QPushButton *all_, *one_;
    std::array<Row, mend::faults.size()> rows_;
    std::vector<std::pair<QuantityField*, double mend::Tolerances::*>> fields_;
};

} // namespace ferro::app
