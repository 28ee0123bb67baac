#include "shop/own.h"

#include "shop/json_fields_internal.h"

namespace ferro::shop {

namespace {

template<class Thing> auto at(std::vector<Thing>& list, std::string_view key) {
    return std::find_if(list.begin(), list.end(), [&](const Thing& t) { return t.key == key; });
}
template<class Thing> const Thing* in(const Book& book, std::string_view key) {
    const auto& list = listIn<Thing>(book);
    const auto found = std::find_if(list.begin(), list.end(), [&](const Thing& t) { return t.key == key; });
    return found == list.end() ? nullptr : &*found;
}

template<class Thing> std::string tagOf(std::string_view key) { return fmt::format("{}/{}", nounOf<Thing>(), key); }

template<class Thing> void put(std::vector<Thing>& list, const Thing& thing) {
    const auto there = at(list, thing.key);
    if (there == list.end())
        list.push_back(thing);
    else
        *there = thing;
}

template<class Thing> void lay(Book& under, const Shelves& shelves) {
    for (const auto& thing : listIn<Thing>(shelves.own)) put(listIn<Thing>(under), thing);
    std::erase_if(listIn<Thing>(under), [&](const Thing& thing) {
        return std::find(shelves.away.begin(), shelves.away.end(), tagOf<Thing>(thing.key)) != shelves.away.end();
    });
}

template<class Thing> Problem missing(std::string_view key) {
    return {.what = fmt::format("The shop book has no {} “{}”.", nounOf<Thing>(), key), .where = {}, .mend = {}};
}

/// As it is, or with a number behind that no other has.
template<class Has> std::string freeWord(const std::string& word, std::string_view gap, Has&& has) {
    if (!has(word)) return word;
    for (int n = 2;; ++n)
        if (std::string other = fmt::format("{}{}{}", word, gap, n); !has(other)) return other;
}

template<class Thing> Thing renamed(const Shelves& shelves, Thing thing) {
    const Book hand = shelves.onHand();
    thing.key = freeWord(thing.key, "-", [&](const std::string& key) {
        return in<Thing>(hand, key) || in<Thing>(shelves.shipped, key) || in<Thing>(shelves.own, key);
    });
    thing.name = freeWord(thing.name, " ", [&](const std::string& name) {
        const auto& list = listIn<Thing>(hand);
        return std::any_of(list.begin(), list.end(), [&](const Thing& t) { return t.name == name; });
    });
    return thing;
}

template<class Thing> Result<void> take(Taken& taken, const Book& other, bool replace) {
    for (const auto& thing : listIn<Thing>(other)) {
        const Book hand = taken.shelves.onHand();
        const auto* there = in<Thing>(hand, thing.key);
        Thing laid = thing;
        if (there && *there == thing) {
            ++taken.same;
            continue;
        }
        if (there && !replace) {
            laid = renamed(taken.shelves, thing);
            taken.renamed.push_back(laid.name);
        } else if (there) {
            ++taken.replaced;
        }
        auto next = withThing(taken.shelves, laid);
        if (!next) return next.problem();
        taken.shelves = std::move(*next);
        taken.added += !there || !replace;
    }
    return {};
}

} // namespace

Book Shelves::onHand() const {
    Book all = shipped;
    lay<Machine>(all, *this), lay<Tool>(all, *this), lay<Material>(all, *this), lay<Board>(all, *this);
    return all;
}

template<class Thing> From fromWhere(const Shelves& shelves, std::string_view key) {
    if (!in<Thing>(shelves.own, key)) return From::shipped;
    return in<Thing>(shelves.shipped, key) ? From::changed : From::own;
}

template<class Thing> Result<Shelves> withThing(const Shelves& shelves, const Thing& thing) {
    if (auto fine = checked(thing); !fine) return fine.problem();
    Shelves out = shelves;
    auto& own = listIn<Thing>(out.own);
    const auto* shipped = in<Thing>(out.shipped, thing.key);
    if (shipped && *shipped == thing)
        std::erase_if(own, [&](const Thing& t) { return t.key == thing.key; });
    else
        put(own, thing);
    std::erase(out.away, tagOf<Thing>(thing.key));
    return out;
}

template<class Thing> Result<Shelves> withoutThing(const Shelves& shelves, std::string_view key) {
    const Book hand = shelves.onHand();
    if (!in<Thing>(hand, key)) return missing<Thing>(key);
    if (!std::is_same_v<Thing, Board> && listIn<Thing>(hand).size() == 1) // a shelf may be empty
        return Problem{.what = fmt::format("It is the only {} in the shop book.", nounOf<Thing>()),
                       .where = {},
                       .mend = "Add another one first."};
    Shelves out = shelves;
    std::erase_if(listIn<Thing>(out.own), [&](const Thing& t) { return t.key == key; });
    if (in<Thing>(out.shipped, key)) out.away.push_back(tagOf<Thing>(key));
    return out;
}

template<class Thing> Result<Shelves> withThingAsShipped(const Shelves& shelves, std::string_view key) {
    if (!in<Thing>(shelves.shipped, key))
        return Problem{
            .what = fmt::format("The {} “{}” was not shipped.", nounOf<Thing>(), key), .where = {}, .mend = {}};
    Shelves out = shelves;
    std::erase_if(listIn<Thing>(out.own), [&](const Thing& t) { return t.key == key; });
    std::erase(out.away, tagOf<Thing>(key));
    return out;
}

namespace {

template<class Thing> Result<std::pair<Shelves, std::string>> laid(const Shelves& shelves, const Thing& thing) {
    const Thing named = renamed(shelves, thing);
    auto next = withThing(shelves, named);
    if (!next) return next.problem();
    return std::pair(std::move(*next), named.key);
}

} // namespace

template<class Thing> Result<std::pair<Shelves, std::string>> withFresh(const Shelves& shelves, std::string_view name) {
    const Book hand = shelves.onHand();
    Thing thing;
    thing.name = name;
    for (const char c : name)
        thing.key += c == ' ' ? '-' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    if constexpr (std::is_same_v<Thing, Machine>) thing.dialect = hand.machines.front().dialect;
    if constexpr (std::is_same_v<Thing, Board>) thing.material = hand.materials.front().key;
    if constexpr (std::is_same_v<Thing, Tool>)
        for (const auto& tool : hand.tools) thing.number = std::max(thing.number, tool.number + 1);
    return laid(shelves, thing);
}

template<class Thing> Result<std::pair<Shelves, std::string>> withCopy(const Shelves& shelves, std::string_view key) {
    const Book hand = shelves.onHand();
    const auto* thing = in<Thing>(hand, key);
    if (!thing) return missing<Thing>(key);
    return laid(shelves, *thing);
}

#define FERRO_OF(Thing)                                                                                                \
    template From fromWhere<Thing>(const Shelves&, std::string_view);                                                  \
    template Result<Shelves> withThing(const Shelves&, const Thing&);                                                  \
    template Result<Shelves> withoutThing<Thing>(const Shelves&, std::string_view);                                    \
    template Result<Shelves> withThingAsShipped<Thing>(const Shelves&, std::string_view);                              \
    template Result<std::pair<Shelves, std::string>> withFresh<Thing>(const Shelves&, std::string_view);               \
    template Result<std::pair<Shelves, std::string>> withCopy<Thing>(const Shelves&, std::string_view);
FERRO_OF(Machine)
FERRO_OF(Tool)
FERRO_OF(Material)
FERRO_OF(Board)
#undef FERRO_OF

Result<std::pair<Shelves, std::string>> withBoardLaid(const Shelves& shelves, Board board) {
    if (board.key.empty()) board.key = board.outline.empty() ? "board" : "off-cut";
    return laid(shelves, board);
}

std::optional<Shelves> withBoardUsed(const Shelves& shelves, std::string_view key, int many) {
    const Book hand = shelves.onHand();
    const auto* board = in<Board>(hand, key);
    if (!board || board->count < 1) return std::nullopt;
    Board less = *board;
    less.count = std::max(0, less.count - many);
    auto next = withThing(shelves, less);
    return next ? std::optional(std::move(*next)) : std::nullopt;
}

Result<Taken> withBook(const Shelves& shelves, const Book& other, bool replace) {
    Taken taken{shelves, 0, 0, 0, {}};
    if (auto fine = take<Machine>(taken, other, replace); !fine) return fine.problem();
    if (auto fine = take<Tool>(taken, other, replace); !fine) return fine.problem();
    if (auto fine = take<Material>(taken, other, replace); !fine) return fine.problem();
    if (auto fine = take<Board>(taken, other, replace); !fine) return fine.problem();
    return taken;
}

Result<Shelves> openShelves(Disk& disk) {
    Shelves shelves;
    for (const char* name : {"machines.json", "tools.json", "materials.json"}) {
        const auto file = shippedFolder("starter") / name;
        const auto text = disk.read(file);
        if (!text) return text.problem();
        auto part = bookFromText(*text);
        if (!part) return part.problem().within(file.string());
        for (const auto& m : part->machines) put(shelves.shipped.machines, m);
        for (const auto& t : part->tools) put(shelves.shipped.tools, t);
        for (const auto& m : part->materials) put(shelves.shipped.materials, m);
    }
    const auto file = userDataFolder() / "shop.json";
    std::error_code ignored;
    if (!std::filesystem::exists(file, ignored)) return shelves;
    const auto text = disk.read(file);
    if (!text) return text.problem();
    auto fine = json_members::readJson<Result<void>>(*text, "Correct the shop book's file, or remove it.",
                                                     [&](const json& all) -> Result<void> {
                                                         json_members::Reading io(all);
                                                         members(io, shelves.own);
                                                         io("away", shelves.away);
                                                         io.done();
                                                         return checked(shelves.own);
                                                     });
    if (!fine) return fine.problem().within(file.string());
    return shelves;
}

Result<Book> openBook(Disk& disk) {
    auto shelves = openShelves(disk);
    if (!shelves) return shelves.problem();
    return shelves->onHand();
}

Result<void> saveShelves(Disk& disk, const Shelves& shelves) {
    json all = json_members::written(shelves.own);
    all["away"] = shelves.away;
    return writeAtomically(disk, userDataFolder() / "shop.json", all.dump(2) + "\n");
}

} // namespace ferro::shop
