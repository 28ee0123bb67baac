#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QListWidget>
#include <QToolButton>

namespace ferro::app {

/// The clean-up of the picture: its steps in order, each on or off, with its values; the original is never changed.
class CleanSection : public Section {
    Q_OBJECT
public:
    explicit CleanSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    void ask(const std::function<void(std::vector<picture::CleanStep>&)>& change, quint64 gesture = 0);
    void add(picture::CleanStep::Kind kind);
    [[nodiscard]] int row() const;
    Session& session_;
    QListWidget* steps_;
    QuantityField *amount_, *percent_, *degrees_, *area_, *level_, *second_, *brush_;
    QToolButton *remove_, *up_, *down_;
    QLabel* hint_;
};

/// What part of the picture is traced how: an area drawn on the bench becomes all that is traced, what is cropped to,
/// or a patch with settings of its own.
class AreaSection : public Section {
    Q_OBJECT
public:
    explicit AreaSection(Session& session);
    void refresh();

private:
    Session& session_;
    QLabel *words_, *patches_;
    bool drawn_ = false;
    QPushButton *only_, *crop_, *patch_, *whole_, *drop_, *previous_, *next_;
};

} // namespace ferro::app
