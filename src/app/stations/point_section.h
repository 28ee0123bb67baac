#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

namespace ferro::app {

/// What can be done to the chosen points; there while the Points tool is in hand.
class PointSection : public Section {
    Q_OBJECT
public:
    explicit PointSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    Session& session_;
    QLabel* words_;
    QuantityField *x_, *y_;
    QPushButton* join_;
    std::vector<QPushButton*> onSome_;
};

} // namespace ferro::app
