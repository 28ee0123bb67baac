// The shop's own things beside, over and away from what is shipped; and every property of every thing as a setting.
#include "shop/fields.h"
#include "shop/own.h"
#include "support/failing_disk.h"

using namespace ferro;

namespace {
template<class Thing> void settingsComeBack(const Thing& thing) {
    for (const auto& [name, value] : shop::settingsOf(thing)) {
        const auto same = shop::withSetting(thing, name, value, Units::inch);
        CAPTURE(thing.key, name, value);
        REQUIRE(same);
        CHECK(*same == thing);
    }
    for (const auto& field : shop::numbersOf<Thing>()) {
        if (field.counts && !field.counts(thing)) continue;
        CAPTURE(thing.key, field.name);
        CHECK_FALSE(shop::withSetting(thing, field.name, "1e12", Units::mm));
        CHECK_FALSE(shop::withSetting(thing, field.name, "wide", Units::mm));
        auto broken = thing;
        field.set(broken, field.low - 1);
        const auto told = shop::checked(broken);
        if (std::is_same_v<Thing, shop::Machine> && field.name == "maxSpindle") continue; // below the slowest first
        REQUIRE_FALSE(told);
        CHECK(told.problem().where.find(field.name) != std::string::npos);
    }
    CHECK_FALSE(shop::withSetting(thing, "taste", "1", Units::mm));
    CHECK_FALSE(shop::withSetting(thing, "name", " ", Units::mm));
}
} // namespace

TEST_CASE("shop book: every property of every thing can be read, set, and is kept in its range") {
    const auto book = *shop::openBook(realDisk());
    for (const auto& machine : book.machines) settingsComeBack(machine);
    for (const auto& tool : book.tools) settingsComeBack(tool);
    for (const auto& material : book.materials) settingsComeBack(material);
    const auto mill = *book.machine("mill-600");
    CHECK(shop::withSetting(mill, "processes", "rotary, beam", Units::mm)->does(shop::Process::beam));
    CHECK_FALSE(shop::withSetting(mill, "processes", "", Units::mm));
    CHECK_FALSE(shop::withSetting(mill, "processes", "steam", Units::mm));
    CHECK_FALSE(shop::withSetting(*book.material("poplar"), "colour", "red", Units::mm));
    CHECK(shop::withSetting(*book.tool("end-6"), "diameter", "1/4in", Units::mm)->diameter == Approx(6.35));
    CHECK_FALSE(shop::withSetting(*book.tool("v-60"), "tip", "13 mm", Units::mm));
    CHECK_FALSE(shop::withSetting(*book.tool("v-60"), "angle", "180", Units::mm));
    CHECK(shop::withSetting(*book.tool("v-60"), "kind", "ball", Units::mm)->kind == shop::ToolKind::ball);
    CHECK_FALSE(shop::withSetting(mill, "minSpindle", "30000", Units::mm));
}

TEST_CASE("shop book: own things lie beside or over the shipped ones, what is put away comes back, all of it kept") {
    const test::OwnDataFolder data;
    auto shelves = *shop::openShelves(realDisk());
    const auto shipped = shelves.onHand();
    auto [copied, key] = *shop::withCopy<shop::Tool>(shelves, "end-6");
    CHECK(key == "end-6-2");
    CHECK(copied.onHand().tool(key)->name == "End mill 6 2");
    CHECK(shop::fromWhere<shop::Tool>(copied, key) == shop::From::own);
    shelves = copied;
    auto mine = *shipped.tool("end-6");
    mine.flutes = 3;
    shelves = *shop::withThing(shelves, mine);
    CHECK(shop::fromWhere<shop::Tool>(shelves, "end-6") == shop::From::changed);
    shelves = *shop::withoutThing<shop::Machine>(shelves, "laser-700");
    CHECK_FALSE(shelves.onHand().machine("laser-700"));
    REQUIRE(shop::saveShelves(realDisk(), shelves));
    CHECK(*shop::openShelves(realDisk()) == shelves);
    CHECK(shop::openBook(realDisk())->tool("end-6")->flutes == 3);
    shelves = *shop::withThingAsShipped<shop::Machine>(shelves, "laser-700");
    shelves = *shop::withThingAsShipped<shop::Tool>(shelves, "end-6");
    shelves = *shop::withoutThing<shop::Tool>(shelves, key);
    CHECK(shelves.onHand() == shipped);
    CHECK(shelves.own == shop::Book{});
    // Typed back to what is shipped it is not the shop's own any more.
    CHECK(shop::withThing(*shop::withThing(shelves, mine), *shipped.tool("end-6"))->own == shop::Book{});
    const auto added = *shop::withFresh<shop::Tool>(shelves, "End mill 6");
    CHECK((added.second == "end-mill-6" && added.first.onHand().tool("end-mill-6")->name == "End mill 6 2"));
    CHECK(shop::withFresh<shop::Machine>(shelves, "Big mill")->first.onHand().machine("big-mill")->dialect ==
          shipped.machines[0].dialect);
    CHECK_FALSE(shop::withThingAsShipped<shop::Tool>(shelves, "end-99"));
    CHECK_FALSE(shop::withoutThing<shop::Tool>(shelves, "end-99"));
    for (const auto& material : shipped.materials)
        if (auto less = shop::withoutThing<shop::Material>(shelves, material.key)) shelves = *less;
    CHECK(shelves.onHand().materials.size() == 1); // the last one stays
}

TEST_CASE("shop book: another's book is taken over without loss on either side") {
    auto shelves = *shop::openShelves(realDisk());
    const auto shipped = shelves.onHand();
    auto other = shipped;
    other.tools.erase(other.tools.begin() + 2, other.tools.end());
    other.tools[0].flutes = 4;
    other.tools.push_back(other.tools[0]);
    other.tools.back().key = "theirs", other.tools.back().name = "Theirs";
    const auto beside = *shop::withBook(shelves, other, false);
    CHECK((beside.added == 2 && beside.replaced == 0 && beside.renamed.size() == 1));
    CHECK(beside.same == shipped.machines.size() + shipped.materials.size() + 1);
    const auto hand = beside.shelves.onHand();
    CHECK(hand.tools.size() == shipped.tools.size() + 2);
    CHECK(hand.tool(other.tools[0].key)->flutes == shipped.tools[0].flutes);
    const auto over = *shop::withBook(shelves, other, true);
    CHECK((over.added == 1 && over.replaced == 1));
    CHECK(over.shelves.onHand().tool(other.tools[0].key)->flutes == 4);
    other.tools[0].diameter = -1;
    CHECK_FALSE(shop::withBook(shelves, other, true));
}
