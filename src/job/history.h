#pragma once

#include "job/job.h"

namespace ferro::job {

/// Snapshots of one job, oldest first, with the name of the edit that led to each. Undo goes back to the opening.
class History {
public:
    explicit History(Job first) { entries_.push_back({std::move(first), {}, 0, 1}); }

    struct Edit {
        std::string label;
        std::uint64_t gesture = 0; ///< pushes of one drag or one typed field replace each other; 0 stands alone
    };
    void push(Job next, Edit edit);
    [[nodiscard]] const Job& current() const { return entries_[at_].job; }
    /// Counts up with every change, undo and redo: a derived result belongs to one revision.
    [[nodiscard]] std::uint64_t revision() const { return revision_; }

    [[nodiscard]] bool canUndo() const { return at_ > 0; }
    [[nodiscard]] bool canRedo() const { return at_ + 1 < entries_.size(); }
    [[nodiscard]] std::string undoLabel() const { return canUndo() ? entries_[at_].label : ""; }
    [[nodiscard]] std::string redoLabel() const { return canRedo() ? entries_[at_ + 1].label : ""; }
    /// The same job seen otherwise, such as another of its sheets laid out: no edit, nothing to undo or to save.
    void look(Job same);
    const Job& undo();
    const Job& redo();

    /// Names the state at hand: undone and done again, it is the same one. Never 0.
    [[nodiscard]] std::uint64_t present() const { return entries_[at_].state; }
    void markSaved() { saved_ = present(); }
    /// Of a state that was at hand when it was saved; whether it is now does not matter.
    void markSaved(std::uint64_t state) { saved_ = state; }
    [[nodiscard]] bool isSaved() const { return saved_ == present(); }

private:
    struct Entry {
        Job job;
        std::string label;
        std::uint64_t gesture = 0;
        std::uint64_t state = 0;
    };
    std::vector<Entry> entries_;
    std::size_t at_ = 0;
    std::uint64_t saved_ = 1;
    std::uint64_t revision_ = 1;
};

} // namespace ferro::job
