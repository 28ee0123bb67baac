#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#include <QListWidget>

namespace ferro::app {

/// A part of the sheet that looks for what could be changed in the drawing: each proposal shown on the bench before it
/// is taken, and left out by a tick.
class ProposalSection : public Section {
    Q_OBJECT
public:
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

protected:
    /// `name` begins the names of its parts: "trueUp" has trueUpLook, trueUpTake, trueUpList and trueUpWords.
    ProposalSection(Session& session, const QString& title, Auditor::Asked asked, const QByteArray& name,
                    const QString& take);
    /// Adds buttons, words and list below what the section has of its own.
    void finish();
    virtual void look() = 0;
    virtual void showFields() = 0;
    /// What stands over the list before anyone has looked, when nothing was found, and over what was.
    [[nodiscard]] virtual QString wordsBefore() const = 0;
    [[nodiscard]] virtual QString wordsOfNone() const = 0;
    [[nodiscard]] virtual QString wordsOfSome() const { return {}; }

    Session& session_;

private:
    const Auditor::Asked asked_;
    QByteArray name_;
    QLabel* words_;
    QListWidget* list_;
    QPushButton *look_, *take_;
};

} // namespace ferro::app
