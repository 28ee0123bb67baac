#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QComboBox>

namespace ferro::app {

/// Which basic shape is drawn, its settings, and its place and size by numbers; there while the Draw tool is in hand.
class DrawSection : public Section {
    Q_OBJECT
public:
    explicit DrawSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    QuantityField* field(const QString& label, const char* name, Measure measure, double low, double high);
    void setting(QuantityField* field, const std::function<void(ShapeSettings&, double)>& take);
    void draw();
    Session& session_;
    QComboBox* kind_;
    QuantityField *corner_, *corners_, *inner_, *width_, *rise_;
    QuantityField *across_, *upward_, *size_, *height_, *angle_;
};

} // namespace ferro::app
