#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>

namespace ferro::app {

/// The sheet as one of several blanks that one program cuts.
class TraySection : public Section {
    Q_OBJECT
public:
    explicit TraySection(Session& session);
    void refresh();

private:
    void ask(const QString& label, const std::function<void(job::Tray&)>& change, quint64 gesture = 0);
    Session& session_;
    QuantityField *columns_, *rows_, *gapX_, *gapY_;
    WordChoice* order_;
    QCheckBox* stops_;
    QPushButton* single_;
    QLabel* words_;
    bool wasTray_ = false;
};

} // namespace ferro::app
