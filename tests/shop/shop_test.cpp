#include "shop/own.h"
#include "support/failing_disk.h"

using namespace ferro;

TEST_CASE("shop book: the starter set opens, the user's own entries win") {
    const auto book = shop::openBook(realDisk());
    INFO((book ? "" : book.problem().text()));
    REQUIRE(book);
    CHECK(book->tools.size() >= 6);
    const test::OwnDataFolder data;
    auto shelves = *shop::openShelves(realDisk());
    auto mine = *book->tool("end-6");
    mine.flutes = 3;
    shelves = *shop::withThing(shelves, mine);
    REQUIRE(shop::saveShelves(realDisk(), shelves));
    CHECK(shop::openBook(realDisk())->tool("end-6")->flutes == 3);
    CHECK(book->tool("end-99").problem().mend.find("end-6") != std::string::npos);
}

TEST_CASE("shop book: impossible tools and machines are refused") {
    CHECK_FALSE(shop::bookFromText("["));
    CHECK_FALSE(shop::bookFromText(R"({"tools":[{"key":"x","diameter":0}]})"));
    CHECK_FALSE(shop::bookFromText(R"({"tools":[{"key":"x","kind":"v-bit","angle":180}]})"));
    CHECK_FALSE(shop::bookFromText(R"({"machines":[{"key":"x","rapid":-1}]})"));
    const auto book = shop::bookFromText(R"({"tools":[{"key":"x","diameter":4}]})");
    REQUIRE(book);
    CHECK(shop::bookFromText(shop::toText(*book))->tools == book->tools);
}

TEST_CASE("tools: profile and radius are each other's inverse") {
    const auto book = *shop::openBook(realDisk());
    for (const auto& tool : book.tools)
        for (double r = 0.05; r < tool.radius(); r += 0.1) {
            const double rise = tool.profile(r);
            if (rise <= 0) continue;
            CAPTURE(tool.key, r);
            CHECK(tool.radiusAt(rise) == Approx(r).epsilon(1e-6));
        }
}
