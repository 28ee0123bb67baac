#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QCheckBox>
#include <QListWidget>

namespace ferro::app {

/// Laying out the parts: how far apart and where to, the one action, and how it goes.
class NestSection : public Section {
    Q_OBJECT
public:
    explicit NestSection(Session& session);
    void refresh();

private:
    Session& session_;
    QuantityField *spacing_, *margin_;
    WordChoice *start_, *along_;
    QCheckBox *add_, *apart_;
    QPushButton *lay_, *enough_, *stop_;
    QLabel *share_, *words_, *left_;
    QWidget* curve_;
    QPushButton *keep_, *take_, *drop_;
    QListWidget* kept_;
    QWidget* keptButtons_;
};

} // namespace ferro::app
