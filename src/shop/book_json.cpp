#include "shop/json_fields_internal.h"

namespace ferro::shop {

namespace {

using nlohmann::json;

Result<void> checked(const Book& book) {
    const auto bad = [](const std::string& thing, const char* what) {
        return Problem{
            .what = fmt::format("“{}” {}.", thing, what), .where = {}, .mend = "Correct it in the shop book."};
    };
    for (const auto& m : book.machines) {
        if (m.key.empty()) return bad(m.name, "has no key");
        for (const double value : {m.bedX, m.bedY, m.travelZ, m.maxFeed, m.maxFeedZ, m.rapid, m.rapidZ, m.acceleration,
                                   m.accelerationZ, m.junction})
            if (!(value > 0) || !(value < 1e7)) return bad(m.name, "needs sizes, feeds and accelerations above 0");
    }
    for (const auto& t : book.tools) {
        if (t.key.empty()) return bad(t.name, "has no key");
        if (!(t.diameter > 0 && t.diameter < 1000) || !(t.fluteLength > 0))
            return bad(t.name, "needs a diameter and a flute length above 0");
        const bool pointed = t.kind == ToolKind::vBit || t.kind == ToolKind::engraver || t.kind == ToolKind::drill;
        if (pointed && !(t.angle > 1 && t.angle < 179)) return bad(t.name, "needs a point angle between 1° and 179°");
    }
    for (const auto& m : book.materials)
        if (m.key.empty()) return bad(m.name, "has no key");
    return {};
}

template<class Thing> void lay(std::vector<Thing>& under, const std::vector<Thing>& over) {
    for (const auto& thing : over) {
        const auto at = std::find_if(under.begin(), under.end(), [&](const Thing& t) { return t.key == thing.key; });
        if (at == under.end())
            under.push_back(thing);
        else
            *at = thing;
    }
}

} // namespace

Result<Book> bookFromText(std::string_view text) {
    try {
        const json all = json::parse(text);
        Book book{all.value("machines", std::vector<Machine>{}), all.value("tools", std::vector<Tool>{}),
                  all.value("materials", std::vector<Material>{})};
        if (auto fine = checked(book); !fine) return fine.problem();
        return book;
    } catch (const json::exception& error) {
        return Problem{.what = fmt::format("The shop book cannot be read: {}.", error.what()),
                       .where = {},
                       .mend = "Correct the file or remove it."};
    }
}

std::string toText(const Book& book) {
    return json{{"machines", book.machines}, {"tools", book.tools}, {"materials", book.materials}}.dump(2) + "\n";
}

Result<Book> openBook(Disk& disk) {
    Book book;
    for (const char* name : {"machines.json", "tools.json", "materials.json"}) {
        const auto file = shippedFolder("starter") / name;
        const auto text = disk.read(file);
        if (!text) return text.problem();
        auto part = bookFromText(*text);
        if (!part) return part.problem().within(file.string());
        lay(book.machines, part->machines);
        lay(book.tools, part->tools);
        lay(book.materials, part->materials);
    }
    const auto own = userDataFolder() / "shop.json";
    std::error_code ignored;
    if (!std::filesystem::exists(own, ignored)) return book;
    const auto text = disk.read(own);
    if (!text) return text.problem();
    auto part = bookFromText(*text);
    if (!part) return part.problem().within(own.string());
    lay(book.machines, part->machines);
    lay(book.tools, part->tools);
    lay(book.materials, part->materials);
    return book;
}

Result<void> saveOwnBook(Disk& disk, const Book& own) {
    if (auto fine = checked(own); !fine) return fine.problem();
    return writeAtomically(disk, userDataFolder() / "shop.json", toText(own));
}

} // namespace ferro::shop
