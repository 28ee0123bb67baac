#pragma once

#include "job/job.h"

namespace ferro::job {

/// What words say of a part, as people write it on layers and pieces: “birch 6 mm, 2 off”, “Poplar 3mm x4”, “qty 3”.
struct PartWords {
    std::optional<int> quantity;
    std::optional<std::string> material; ///< key of the shop book
    std::optional<double> thickness;     ///< mm
    bool unclear = false;                ///< it says two things of one kind
    [[nodiscard]] bool empty() const { return !quantity && !material && !thickness; }
    friend bool operator==(const PartWords&, const PartWords&) = default;
};
/// A material by its key, its name, or a word of its name that no other has. A thickness has its unit. How many: “2
/// off”, “2 pcs”, “2x”, “x2”, “qty 2”. What says two things of one kind says nothing of it.
[[nodiscard]] PartWords partWordsIn(std::string_view text, const shop::Book& book);

/// The job with the facts of its parts as the names of these pieces say, or all of them; what a name does not say, the
/// name of its layer may; what neither says stays. Told in a line for each sort of words, with how many parts it was
/// for.
struct PartsRead {
    Job job;
    std::size_t parts = 0;         ///< that got a fact
    std::vector<std::string> told; ///< by words, in drawing order; then names that say two things of one kind
};
[[nodiscard]] Result<PartsRead> withPartWords(const Job& job, const artwork::Ids& items, const shop::Book& book);

} // namespace ferro::job
