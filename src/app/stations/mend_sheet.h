#pragma once

#include "app/stations/audit_section.h"
#include "app/stations/bridge_section.h"
#include "app/stations/draw_section.h"
#include "app/stations/point_section.h"
#include "app/stations/shape_section.h"
#include "app/stations/station_sheet.h"
#include "app/stations/true_up_section.h"

#include <QTreeWidget>

namespace ferro::app {

/// What the artwork is made of: layers to hide and lock, groups, and the chosen pieces' own facts.
class MendSheet : public StationSheet {
    Q_OBJECT
public:
    explicit MendSheet(Session& session);
    void refresh() override;

private:
    QTreeWidget* layers_;
    QLabel *counts_, *chosen_;
    QLineEdit *name_, *layer_;
    Section* selection_;
    AuditSection* audit_;
    BridgeSection* bridges_;
    TrueUpSection* truth_;
    PointSection* points_;
    DrawSection* draw_;
    ShapeSection* shape_;
    ChooseSection* choose_;
};

} // namespace ferro::app
