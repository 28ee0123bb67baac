#pragma once

#include "app/stations/audit_section.h"
#include "app/stations/bridge_section.h"
#include "app/stations/draw_section.h"
#include "app/stations/joint_section.h"
#include "app/stations/piece_section.h"
#include "app/stations/point_section.h"
#include "app/stations/shape_section.h"
#include "app/stations/station_sheet.h"
#include "app/stations/true_up_section.h"

namespace ferro::app {

/// What the artwork is made of: the list of its pieces, what is to be mended of them, and the chosen ones' own facts.
class MendSheet : public StationSheet {
    Q_OBJECT
public:
    explicit MendSheet(Session& session);
    /// Opens what fits joints and looks for them.
    void lookForJoints();
    void refresh() override;

Q_SIGNALS:
    /// What can be done with the chosen pieces.
    void menuAsked(QPoint at);

private:
    PieceSection* list_;
    QLabel *counts_, *chosen_;
    QLineEdit *name_, *layer_;
    Section* selection_;
    AuditSection* audit_;
    BridgeSection* bridges_;
    TrueUpSection* truth_;
    JointSection* joints_;
    PointSection* points_;
    DrawSection* draw_;
    ShapeSection* shape_;
    ChooseSection* choose_;
};

} // namespace ferro::app
