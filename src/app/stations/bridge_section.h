#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "mend/bridges.h"
#endif

namespace ferro::app {

/// What would drop out, and the bridges that hold it.
class BridgeSection : public Section {
    Q_OBJECT
public:
    explicit BridgeSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    void bridge();
    void unbridge();
    [[nodiscard]] artwork::Ids items() const;
    Session& session_;
    mend::BridgeSettings settings_;
    QLabel *islands_, *bridges_;
    QuantityField *width_, *number_;
    WordChoice *areas_, *lie_;
    QPushButton *make_, *undo_;
};

} // namespace ferro::app
