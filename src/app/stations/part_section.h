#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>

namespace ferro::app {

/// What is known of the chosen part: how many are wanted, of what, and how they may lie.
class PartSection : public Section {
    Q_OBJECT
public:
    explicit PartSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    void ask(const QString& label, const std::function<void(artwork::Part&)>& change);
    [[nodiscard]] artwork::Part part() const;
    Session& session_;
    QLabel* words_;
    QuantityField *quantity_, *thickness_;
    QComboBox* material_;
    WordChoice *turns_, *priority_;
    QCheckBox* mirror_;
    QLineEdit* labels_;
};

} // namespace ferro::app
