#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "proof/advice.h"
#endif

namespace ferro::app {

class Session;

/// What tools do not get to, made anew in the background while the drawing or a step's tool changes and while pieces
/// are dragged; and the tools that a step could be done by, when that is asked. In Cuts it is of the chosen step, at
/// the stations before of all steps together.
class Reacher : public QObject {
    Q_OBJECT
public:
    explicit Reacher(Session& session);

    /// The last one made; none where nothing is asked about.
    [[nodiscard]] std::shared_ptr<const toolpath::Reach> reach() const { return reach_; }
    /// The pieces as they would be in the middle of a drag, of which only these have changed.
    void preview(artwork::Artwork artwork, const artwork::Ids& changed);
    [[nodiscard]] bool isShown() const { return shown_; }
    void setShown(bool shown);

    /// Ways to do the chosen step; empty until they were asked for since it last changed.
    [[nodiscard]] const std::vector<proof::Choice>& choices() const { return choices_; }
    [[nodiscard]] bool isComparing() const;
    void compare();
    void take(std::size_t choice);

Q_SIGNALS:
    void changed();
    void choicesChanged();

private:
    [[nodiscard]] std::vector<plan::StepId> steps() const;
    void refresh();
    void forgetChoices();

    Session& session_;
    std::shared_ptr<const toolpath::Reach> reach_;
    std::vector<proof::Choice> choices_;
    plan::StepId choicesOf_;
    bool shown_ = true;
};

} // namespace ferro::app
