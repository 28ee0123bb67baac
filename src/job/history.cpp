#include "job/history.h"

namespace ferro::job {

void History::push(Job next, Edit edit) {
    ++revision_;
    if (edit.gesture != 0 && at_ > 0 && at_ + 1 == entries_.size() && entries_[at_].gesture == edit.gesture) {
        entries_[at_].job = std::move(next);
        entries_[at_].state = revision_;
        return;
    }
    entries_.resize(at_ + 1, {Job{}, {}, 0, 0});
    entries_.push_back({std::move(next), std::move(edit.label), edit.gesture, revision_});
    ++at_;
}

void History::look(Job same) {
    ++revision_;
    entries_[at_].job = std::move(same);
}

const Job& History::undo() {
    if (canUndo()) --at_, ++revision_;
    return current();
}

const Job& History::redo() {
    if (canRedo()) ++at_, ++revision_;
    return current();
}

} // namespace ferro::job
