#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

namespace ferro::app {

/// X and Y of the zero by the sheet's edges, touched with a pin in the spindle.
class EdgeSection : public Section {
    Q_OBJECT
public:
    explicit EdgeSection(Session& session);
    void refresh();
    /// What lies on a stand-in's bed, for it to be told: the job's sheet on a scrap board so thick, 20 mm from its
    /// corner.
    [[nodiscard]] QStringList boardOfStandIn(double scrapBoard) const;

Q_SIGNALS:
    void told(const QString& text, bool isProblem);

private:
    Session& session_;
    QuantityField* pin_;
    QList<QPushButton*> edges_;
};

} // namespace ferro::app
