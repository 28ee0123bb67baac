#pragma once

#include "app/stations/lie_section.h"
#include "app/stations/nest_section.h"
#include "app/stations/part_section.h"
#include "app/stations/shape_section.h"
#include "app/stations/station_sheet.h"
#include "app/stations/tray_section.h"

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>

namespace ferro::app {

/// The Sheet station: stock, zero, material, machine, clamps.
class StockSheet : public StationSheet {
    Q_OBJECT
public:
    explicit StockSheet(Session& session);
    void refresh() override;

private:
    void listBoards();
    void keepRest();
    void ask(const QString& label, const std::function<void(job::Stock&)>& change, quint64 gesture = 0);
    QuantityField *width_, *height_, *thickness_, *spacer_, *clearance_, *clampHeight_;
    QComboBox *material_, *machine_;
    QCheckBox* mirrored_;
    WordChoice *corner_, *zeroAt_;
    QListWidget* clamps_;
    QPushButton *shelf_, *rest_, *blank_;
    QLabel *board_, *marks_;
    ArrangeSection* arrange_;
    PartSection* part_;
    NestSection* nest_;
    TraySection* tray_;
    LieSection* lie_;
};

} // namespace ferro::app
