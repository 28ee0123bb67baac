#pragma once

#include "base/disk.h"
#include "shop/shop.h"

namespace ferro::shop {

/// The shop book as it is kept: what is shipped, and what this shop has put beside it, over it, or away.
struct Shelves {
    Book shipped;
    Book own;                      ///< wins over what is shipped under the same key
    std::vector<std::string> away; ///< what is shipped and not on hand: "tool/end-6"
    friend bool operator==(const Shelves&, const Shelves&) = default;

    /// All that is on hand, as it is.
    [[nodiscard]] Book onHand() const;
};

/// Where a thing of the book is from.
enum class From { shipped, changed, own };
template<class Thing> [[nodiscard]] From fromWhere(const Shelves& shelves, std::string_view key);

/// The thing under its key, new or in place of the one that is there. Refused when it cannot be worked with.
template<class Thing> [[nodiscard]] Result<Shelves> withThing(const Shelves& shelves, const Thing& thing);
/// Without it: own ones go, shipped ones are put away.
template<class Thing> [[nodiscard]] Result<Shelves> withoutThing(const Shelves& shelves, std::string_view key);
/// As it is shipped again.
template<class Thing> [[nodiscard]] Result<Shelves> withThingAsShipped(const Shelves& shelves, std::string_view key);
/// A new one of this name, or of one much like it that is free, with usual values; answers its key too.
template<class Thing>
[[nodiscard]] Result<std::pair<Shelves, std::string>> withFresh(const Shelves& shelves, std::string_view name);
/// A copy of it under a key and a name of its own; answers its key too.
template<class Thing>
[[nodiscard]] Result<std::pair<Shelves, std::string>> withCopy(const Shelves& shelves, std::string_view key);

/// A board beside the others, under a key and a name that are free; answers its key too.
[[nodiscard]] Result<std::pair<Shelves, std::string>> withBoardLaid(const Shelves& shelves, Board board);
/// So many less of a board, or all that are left; none: it is not on the shelf, or none of it is left.
[[nodiscard]] std::optional<Shelves> withBoardUsed(const Shelves& shelves, std::string_view key, int many = 1);

/// What came of taking another book's things over.
struct Taken {
    Shelves shelves;
    std::size_t added = 0, replaced = 0, same = 0;
    std::vector<std::string> renamed; ///< those whose key was taken by something else: kept beside, as "… 2"
};
/// Things of the other book put beside those on hand. What is there under the same key and differs is kept, and the new
/// one laid beside it with a name of its own; with `replace` it takes its place.
[[nodiscard]] Result<Taken> withBook(const Shelves& shelves, const Book& other, bool replace);

/// The shipped starter set and the user's own `shop.json` in the data folder.
[[nodiscard]] Result<Shelves> openShelves(Disk& disk);
/// All that is on hand.
[[nodiscard]] Result<Book> openBook(Disk& disk);
/// Saves what is this shop's own, atomically.
[[nodiscard]] Result<void> saveShelves(Disk& disk, const Shelves& shelves);

/// A list of the book by what it holds.
template<class Thing> [[nodiscard]] const std::vector<Thing>& listIn(const Book& book) {
    if constexpr (std::is_same_v<Thing, Machine>)
        return book.machines;
    else if constexpr (std::is_same_v<Thing, Tool>)
        return book.tools;
    else if constexpr (std::is_same_v<Thing, Board>)
        return book.boards;
    else
        return book.materials;
}
template<class Thing> const std::vector<Thing>& listIn(Book&&) = delete; // it would not outlive the call
template<class Thing> [[nodiscard]] std::vector<Thing>& listIn(Book& book) {
    return const_cast<std::vector<Thing>&>(listIn<Thing>(std::as_const(book)));
}

} // namespace ferro::shop
