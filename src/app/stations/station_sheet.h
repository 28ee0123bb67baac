#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QScrollArea>

namespace ferro::app {

/// What every side sheet is: a column of sections that shows the session's facts and says wishes to it.
class StationSheet : public QScrollArea {
    Q_OBJECT
public:
    StationSheet(Session& session, const QString& title, const char* name);
    /// Shows what is so now.
    virtual void refresh() = 0;

Q_SIGNALS:
    void told(const QString& text, bool isProblem);
    /// An action of the window, by its name.
    void wished(const QString& action);

protected:
    Section* section(const QString& title);
    QuantityField* quantity(Section* into, const QString& label, Measure measure, const char* name);
    void setNote(const QString& text);
    Session& session_;
    QVBoxLayout* column_;

private:
    QLabel* note_;
};

} // namespace ferro::app
