#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

namespace ferro::app {

/// How the blank lies: what was measured, or by how much it may be uneven. Its heights are read from a file here, and
/// felt by the machine in Run.
class LieSection : public Section {
    Q_OBJECT
public:
    explicit LieSection(Session& session);
    void refresh();
    /// Heights from a file of x, y, z.
    void read(const QString& file);

Q_SIGNALS:
    void told(const QString& text, bool isProblem);

private:
    Session& session_;
    QuantityField* uneven_;
    QLabel* words_;
    QPushButton *read_, *flat_;
};

/// The blank's top felt by a probe in the spindle, place by place.
class FeelSection : public Section {
    Q_OBJECT
public:
    explicit FeelSection(Session& session);
    void refresh();

Q_SIGNALS:
    void told(const QString& text, bool isProblem);

private:
    void start();
    void takeResult();
    Session& session_;
    QuantityField *columns_, *rows_, *margin_;
    QPushButton* feel_;
    QLabel* words_;
    int taken_ = 0; ///< of the runner's results
};

} // namespace ferro::app
