#include "app/shell/reacher.h"

#include "app/shell/session.h"

#include <set>

namespace ferro::app {

Reacher::Reacher(Session& session) : session_(session) {
    connect(&session, &Session::jobChanged, this, [this] {
        forgetChoices();
        refresh();
    });
    connect(&session, &Session::selectionChanged, this, [this] { // another step, maybe
        if (choicesOf_ != session_.step()) forgetChoices();
        if (session_.station() == StationId::cuts) refresh();
    });
    connect(&session, &Session::stationChanged, this, &Reacher::refresh);
}

std::vector<plan::StepId> Reacher::steps() const {
    const auto station = session_.station();
    if (!shown_ || station < StationId::mend || station > StationId::cuts) return {};
    if (!session_.job().artwork->sheet) return {}; // nothing of what lies beside is cut
    const auto& plan = session_.job().plan;
    if (station == StationId::cuts && plan::find(plan, session_.step())) return {session_.step()};
    std::vector<plan::StepId> all;
    for (const auto& step : plan.steps)
        if (step.enabled) all.push_back(step.id);
    return all;
}

void Reacher::refresh() {
    const auto asked = steps();
    if (asked.empty()) {
        session_.background().cancel("reach");
        if (std::exchange(reach_, nullptr)) Q_EMIT changed();
        return;
    }
    session_.background().run(
        "reach", tr("Finding what the tools reach"),
        [job = session_.job(), asked](Progress& progress) { return toolpath::reachOf(job, asked, progress); }, this,
        [this](Result<toolpath::Reach> reach) {
            // What cannot be worked out, self-crossing artwork say, is told by the audit and by the proof.
            reach_ = reach ? std::make_shared<const toolpath::Reach>(std::move(*reach)) : nullptr;
            Q_EMIT changed();
        });
}

void Reacher::preview(artwork::Artwork artwork, const artwork::Ids& changed) {
    const auto asked = steps();
    if (asked.empty()) return;
    session_.background().run(
        "reach", tr("Finding what the tools reach"),
        [job = job::withArtwork(session_.job(), std::move(artwork)), asked, changed](Progress& progress) {
            return toolpath::reachOf(job, asked, progress, changed);
        },
        this,
        [this, changed](Result<toolpath::Reach> some) {
            if (!some) return;
            // The rest stays as it was.
            const std::set<artwork::ItemId> moved(changed.begin(), changed.end());
            auto all = std::move(some->places);
            if (reach_)
                for (const auto& place : reach_->places)
                    if (std::none_of(place.of.begin(), place.of.end(), [&](auto id) { return moved.contains(id); }))
                        all.push_back(place);
            reach_ = std::make_shared<const toolpath::Reach>(toolpath::reachOf(std::move(all)));
            Q_EMIT this->changed();
        });
}

void Reacher::setShown(bool shown) {
    if (shown == std::exchange(shown_, shown)) return;
    refresh();
    Q_EMIT changed();
}

void Reacher::forgetChoices() {
    session_.background().cancel("advice");
    if (choices_.empty()) return;
    choices_.clear();
    Q_EMIT choicesChanged();
}

bool Reacher::isComparing() const { return session_.background().busy("advice"); }

void Reacher::compare() {
    choices_.clear();
    choicesOf_ = session_.step();
    session_.background().run(
        "advice", tr("Comparing tools"),
        [job = session_.job(), step = choicesOf_](Progress& progress) {
            return proof::choicesFor(job, step, progress);
        },
        this,
        [this](Result<std::vector<proof::Choice>> choices) {
            if (!choices) return choices.problem().isCancelled ? void() : session_.tell(choices.problem());
            choices_ = std::move(*choices);
            Q_EMIT choicesChanged();
        });
    Q_EMIT choicesChanged();
}

void Reacher::take(std::size_t choice) {
    if (choice >= choices_.size()) return;
    const auto tools = choices_[choice].tools;
    session_.apply(tools.size() > 1 ? tr("Several tools") : tr("Tool"),
                   job::withStepTools(session_.job(), choicesOf_, tools));
}

} // namespace ferro::app
