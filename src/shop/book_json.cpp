#include "shop/json_fields_internal.h"

namespace ferro::shop {

namespace {

Problem bad(const std::string& thing, const char* what) {
    return {.what = fmt::format("“{}” {}.", thing, what), .where = {}, .mend = "Correct it in the shop book."};
}

Result<void> checked(const Book& book) {
    for (const auto& m : book.machines)
        if (auto fine = shop::checked(m); !fine) return fine;
    for (const auto& t : book.tools)
        if (auto fine = shop::checked(t); !fine) return fine;
    for (const auto& m : book.materials)
        if (auto fine = shop::checked(m); !fine) return fine;
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

Result<void> checked(const Machine& m) {
    if (m.key.empty()) return bad(m.name, "has no key");
    for (const double value : {m.bedX, m.bedY, m.travelZ, m.maxFeed, m.maxFeedZ, m.rapid, m.rapidZ, m.acceleration,
                               m.accelerationZ, m.junction})
        if (!(value > 0) || !(value < 1e7)) return bad(m.name, "needs sizes, feeds and accelerations above 0");
    if (!(m.toolChangeSeconds >= 0 && m.toolChangeSeconds < 86'400)) return bad(m.name, "has an absurd tool change");
    if (!(m.hourCost >= 0 && m.hourCost < 1e6)) return bad(m.name, "needs a cost an hour of 0 or more");
    if (!(m.holder >= 0 && m.holder < 1000)) return bad(m.name, "has an absurdly wide holder");
    if (m.processes.empty()) return bad(m.name, "needs a process: rotary, beam or blade");
    return {};
}

Result<void> checked(const Tool& t) {
    if (t.key.empty()) return bad(t.name, "has no key");
    if (!(t.diameter > 0 && t.diameter < 1000) || !(t.fluteLength > 0 && t.fluteLength < 1000))
        return bad(t.name, "needs a diameter and a flute length above 0");
    const bool pointed = t.kind == ToolKind::vBit || t.kind == ToolKind::engraver || t.kind == ToolKind::drill;
    if (pointed && !(t.angle > 1 && t.angle < 179)) return bad(t.name, "needs a point angle between 1° and 179°");
    if (!(t.tip >= 0 && t.tip <= t.diameter)) return bad(t.name, "has a tip wider than itself");
    if (t.number < 0 || t.number > 9999 || t.flutes < 0 || t.flutes > 64)
        return bad(t.name, "has an absurd number or absurdly many flutes");
    if (!(t.metreCost >= 0 && t.metreCost < 1e6)) return bad(t.name, "needs a cost a metre of 0 or more");
    if (!(t.shank >= 0 && t.shank < 1000) || !(t.stickOut >= 0 && t.stickOut < 1000))
        return bad(t.name, "needs a shank and a stick-out of 0 or more");
    return {};
}

Result<void> checked(const Material& m) {
    if (m.key.empty()) return bad(m.name, "has no key");
    for (const double value : {m.surfaceSpeed, m.chipPerDiameter, m.depthPerDiameter, m.cutPower, m.cutSpeed,
                               m.scribePower, m.scribeSpeed, m.laserDepth})
        if (!(value > 0 && value < 1e6)) return bad(m.name, "needs speeds, depths and powers above 0");
    if (!(m.squareCost >= 0 && m.squareCost < 1e6)) return bad(m.name, "needs a cost a square metre of 0 or more");
    if (!(m.ply >= 0 && m.ply < 1000)) return bad(m.name, "needs plies of 0 or more");
    return {};
}

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
