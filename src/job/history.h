#pragma once

#include "job/job.h"

namespace ferro::job {

/// Snapshots of one job, oldest first, with the name of the edit that led to each. Undo goes back to the opening.
class History {
public:
    explicit History(Job first) { entries_.push_back({std::move(first), {}, 0}); }

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

    void markSaved() { saved_ = at_; }
    [[nodiscard]] bool isSaved() const { return saved_ == at_; }

private:
    struct Entry {
        Job job;
        std::string label;
        std::uint64_t gesture = 0;
    };
    std::vector<Entry> entries_;
    std::size_t at_ = 0;
    std::size_t saved_ = 0;
    std::uint64_t revision_ = 1;
};

} // namespace ferro::job
