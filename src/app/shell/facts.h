#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"

namespace ferro::app {

/// What a route card says. The only place that words it.
struct CardFacts {
    QString name, first, second;
    State state = State::empty;
    QString stateWords;
    bool isOld = false; ///< the figures are of before; new ones are under way
};
[[nodiscard]] std::array<CardFacts, 6> cardsOf(const Session& session);

/// Words of the core's tables, in the window.
[[nodiscard]] inline QString textOf(std::string_view words) {
    return QString::fromUtf8(words.data(), static_cast<int>(words.size()));
}

struct StepFacts {
    plan::StepId id;
    QString title, summary;
    const plan::Kind* kind = nullptr;
    bool enabled = true;
    State state = State::empty;
};
[[nodiscard]] std::vector<StepFacts> stepsOf(const Session& session);

struct StripBlock {
    plan::StepId step;
    QString name, time;
    const plan::Kind* kind = nullptr;
    double begin = 0, motionBegin = 0, end = 0; ///< s
    bool toolChange = false;
};
struct StripFacts {
    std::vector<StripBlock> blocks;
    double total = 0, playhead = -1;
    QString words;   ///< "total 41 min 20 s · 3 tools"
    QString nothing; ///< what to do when there are no blocks
    bool canDrag = false;
    bool isOld = false; ///< as the steps were before; new ones are being worked out
};
[[nodiscard]] StripFacts stripOf(const Session& session);

} // namespace ferro::app
