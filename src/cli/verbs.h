#pragma once

#include "job/edits.h"
#include "shop/shop.h"

namespace ferro::cli {

/// One edit by name. Arguments are words; lengths take units and arithmetic as in the window.
struct Verb {
    std::string_view name;
    std::string usage;
    std::string_view help;
    std::size_t least = 0;
    std::function<Result<job::Job>(const job::Job&, const std::vector<std::string>&, const shop::Book&)> apply;
};
[[nodiscard]] const std::vector<Verb>& verbs();
/// Splits "move 3 10 20 + step drill" at the + words and applies one after the other.
[[nodiscard]] Result<job::Job> applied(const job::Job& job, const std::vector<std::string>& words,
                                       const shop::Book& book);

} // namespace ferro::cli
