#pragma once

#include "app/shell/facts.h"
#include "app/stations/reach_section.h"
#include "app/stations/station_sheet.h"
#include "plan/fields.h"

#include <QComboBox>

namespace ferro::app {

/// One line of the step list: swatch, name, how, state.
class StepRow : public QAbstractButton {
    Q_OBJECT
public:
    explicit StepRow(const StepFacts& facts, bool current);
    [[nodiscard]] plan::StepId id() const { return facts_.id; }
    void setFacts(const StepFacts& facts, bool current);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    StepFacts facts_;
    bool current_;
};

/// The Cuts station: the list of steps and the settings of the chosen one, built from the plan's own table of fields.
class CutsSheet : public StationSheet {
    Q_OBJECT
public:
    explicit CutsSheet(Session& session);
    void refresh() override;

private:
    void buildSettings();
    void addField(Section* into, const plan::Field& field);
    void addChoice(Section* into, const plan::Choice& choice);
    [[nodiscard]] shop::Process processOfCurrent() const; ///< of the chosen step
    void refreshList();
    void refreshFindings();
    void set(std::string_view name, const QString& label, const std::string& value, quint64 gesture = 0);
    [[nodiscard]] const plan::Step* current() const { return plan::find(session_.job().plan, session_.step()); }

    QVBoxLayout* list_;
    std::vector<StepRow*> rows_;
    QWidget* settings_ = nullptr;
    std::pair<plan::StepId, const plan::Kind*> builtFor_{};
    shop::Process builtProcess_ = shop::Process::rotary;
    std::map<const plan::Field*, QuantityField*> fields_;
    std::map<const plan::Choice*, WordChoice*> choices_;
    QComboBox* tool_ = nullptr;
    QLineEdit *name_ = nullptr, *layers_ = nullptr, *note_ = nullptr;
    QLabel* takes_ = nullptr;
    Section* look_ = nullptr;
    ReachSection* reach_ = nullptr;
    QPushButton *up_, *down_, *again_, *remove_;
    QLabel* empty_;
};

} // namespace ferro::app
