#pragma once

#include "job/edits.h"
#include "plan/house.h"

namespace ferro::cli {

/// What edits are made with: the shop's things and its ways. `tell` is given what a person should know of an edit.
struct Shop : shop::Book {
    Shop(shop::Book book, plan::House ways = {}) : shop::Book(std::move(book)), house(std::move(ways)) {}
    plan::House house;
    std::function<void(const std::string&)> tell = [](const std::string&) {};
};

/// One edit by name. Arguments are words; lengths take units and arithmetic as in the window.
struct Verb {
    std::string_view name;
    std::string usage;
    std::string_view help;
    std::size_t least = 0;
    std::function<Result<job::Job>(const job::Job&, const std::vector<std::string>&, const Shop&)> apply;
};
[[nodiscard]] const std::vector<Verb>& verbs();
/// The shop book and the house rules of whoever runs the program.
[[nodiscard]] Result<Shop> theShop();
/// Splits "move 3 10 20 + step drill" at the + words and applies one after the other.
[[nodiscard]] Result<job::Job> applied(const job::Job& job, const std::vector<std::string>& words, const Shop& shop);

} // namespace ferro::cli
