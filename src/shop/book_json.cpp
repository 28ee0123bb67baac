#include "shop/json_fields_internal.h"

namespace ferro::shop {

Result<Book> bookFromText(std::string_view text) {
    return json_members::readJson<Result<Book>>(text, "Correct the shop book's file, or remove it.",
                                                [](const json_members::json& all) -> Result<Book> {
                                                    Book book;
                                                    json_members::read(all, book);
                                                    if (auto fine = checked(book); !fine) return fine.problem();
                                                    return book;
                                                });
}

std::string toText(const Book& book) { return json_members::written(book).dump(2) + "\n"; }

} // namespace ferro::shop
