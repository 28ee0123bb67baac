#include "base/json.h"
#include "base/json_members.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <random>

using namespace ferro;
using Catch::Matchers::Contains;

namespace {

Json read(const std::string& text) {
    auto json = jsonFrom(text);
    INFO(text.substr(0, 80) << ": " << (json ? "" : json.problem().text()));
    REQUIRE(json);
    return *json;
}
std::string refusal(const std::string& text) {
    const auto json = jsonFrom(text);
    REQUIRE_FALSE(json);
    return json.problem().text();
}
Json random(std::mt19937& chance, int deep) {
    switch (chance() % (deep > 0 ? 7 : 5)) {
    case 0: return {};
    case 1: return chance() % 2 == 0;
    case 2: return static_cast<std::int64_t>(chance()) * (chance() % 2 ? 1 : -1) * static_cast<std::int64_t>(chance());
    case 3: return std::ldexp(static_cast<double>(chance()), static_cast<int>(chance() % 200) - 100);
    case 4: return std::string("Fähre “") + static_cast<char>('a' + chance() % 26) + "\"\\\n\x01";
    case 5: {
        Json list = Json::array();
        for (auto n = chance() % 4; n > 0; --n) list.push_back(random(chance, deep - 1));
        return list;
    }
    default: {
        Json group = Json::object();
        for (auto n = chance() % 4; n > 0; --n) group["k" + std::to_string(chance() % 50)] = random(chance, deep - 1);
        return group;
    }
    }
}

} // namespace

TEST_CASE("json: whatever is written reads back as the same text", "[property]") {
    std::mt19937 chance(7);
    for (int i = 0; i < 400; ++i) {
        const auto value = random(chance, 5);
        for (const int indent : {-1, 1}) {
            const auto text = value.dump(indent);
            CHECK(read(text).dump(indent) == text);
        }
    }
}

TEST_CASE("json: numbers keep their digits, braces make groups of pairs, missing members are told") {
    CHECK(*read("18446744073709551615").whole<std::uint64_t>() == 18446744073709551615ull);
    CHECK_FALSE(read("18446744073709551615").whole<std::int64_t>());
    CHECK(*read("-9007199254740993").whole<std::int64_t>() == -9007199254740993);
    CHECK(*read("3.0").whole<int>() == 3);
    for (const char* no : {"3.5", "4294967296", "-1"}) CHECK_FALSE(read(no).whole<std::uint32_t>());
    CHECK(read("0.1").number() == 0.1);
    const Json made{{"name", "wing"}, {"size", {40, 20.5}}, {"tags", Json::array({"a", "b"})}};
    CHECK(made.dump() == R"({"name":"wing","size":[40,20.5],"tags":["a","b"]})");
    CHECK(made.find("none") == nullptr);
    CHECK(made.find("size")->list()[1].number() == 20.5);
    CHECK(Json("a\xff z").dump() == "\"a\xEF\xBF\xBD z\"");
    CHECK(read(R"({"a":1,"a":2})").find("a")->number() == 2);
}

TEST_CASE("json: a fault is told by its line, in plain words, and nothing nests without end") {
    CHECK_THAT(refusal("{\n\"a\": 1\n\"b\": 2}"), Contains("Line 3") && Contains("comma"));
    CHECK_THAT(refusal("{\"a\" 1}"), Contains("colon"));
    CHECK_THAT(refusal("[1, 2"), Contains("too early"));
    CHECK_THAT(refusal("[\"\xff\"]"), Contains("not sound"));
    CHECK_THAT(refusal("[1e999]"), Contains("absurd"));
    for (const char open : {'[', '{'}) {
        std::string deep;
        for (int i = 0; i < 200'000; ++i) deep += open == '[' ? "[" : "{\"a\":";
        CHECK_THAT(refusal(deep), Contains("nested deeper"));
    }
    CHECK_THAT(refusal(""), !Contains("parse_error"));
}

TEST_CASE("json: members are read strictly, and a fault says where") {
    using namespace json_members;
    const auto whole = [](const std::string& text) {
        return readJson<Result<std::vector<int>>>(text, "Mend it.", [](const json& all) -> Result<std::vector<int>> {
            Reading io(all);
            std::vector<int> list;
            io.need("list", list);
            io.done();
            return list;
        });
    };
    CHECK(*whole(R"({"list": [1, 2, 3]})") == std::vector{1, 2, 3});
    CHECK_THAT(whole(R"({"list": [1, "2"]})").problem().text(), Contains("whole number") && Contains("list, 2"));
    CHECK_THAT(whole(R"({"list": [], "lost": 1})").problem().text(), Contains("“lost”"));
    CHECK_THAT(whole(R"({})").problem().text(), Contains("“list” is missing"));
    CHECK_THAT(whole(R"([])").problem().text(), Contains("{ }"));
    CHECK_THAT(whole(R"({"list": {}})").problem().text(), Contains("[ ]"));
}
