#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QListWidget>

namespace ferro::app {

/// What is near-exact, to be made exact: each proposal with how far it is off, shown on the bench before it is taken.
class TrueUpSection : public Section {
    Q_OBJECT
public:
    explicit TrueUpSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    Session& session_;
    double within_ = 0.2;
    QuantityField* field_;
    QLabel* words_;
    QListWidget* list_;
    QPushButton *look_, *take_;
};

} // namespace ferro::app
