#pragma once

#include "job/job.h"

namespace ferro::job {

/// One property that the shop book has otherwise than the job that was made from it.
struct BookChange {
    std::string thing;   ///< name of the machine, tool or material
    std::string setting; ///< its name in the table of shop/fields.h; empty: the whole thing is new
    std::string here, book;
    std::string label = {}; ///< of the setting, for people
};
/// "End mill 6: flutes 2, 3 in the book".
[[nodiscard]] std::string wordsFor(const BookChange& change);
/// What would change in the job if it took over what the book has now. A job keeps what it was made with until then.
[[nodiscard]] std::vector<BookChange> changesFrom(const Job& job, const shop::Book& book);
/// Machine, materials and tools as the book has them now, and its tools that the job has not. What the book has not
/// stays. Steps get their new starting values, but not over what a person typed.
[[nodiscard]] Job withShopBook(const Job& job, const shop::Book& book);

} // namespace ferro::job
