#include "base/options.h"

#include <catch2/catch.hpp>

using namespace ferro;

namespace {
struct Line {
    std::string file, kind = "plain";
    double width = 0;
    std::optional<int> count;
    std::vector<double> size;
    std::vector<std::string> words;
    bool loud = false;
    int ran = 0;
    std::optional<int> ended;
};
Line taken(std::vector<const char*> words) {
    Line line;
    Options app("about", "tool");
    app.version("1.2");
    auto cut = app.command("cut", "cuts");
    cut.option("file", line.file).required();
    cut.option("-w,--width", line.width).range(1, 10);
    cut.option("--kind", line.kind).oneOf({"plain", "fine"});
    cut.option("--count", line.count);
    cut.option("--size", line.size).expected(3);
    cut.flag("--loud", line.loud);
    cut.run([&line] { ++line.ran; });
    auto edit = app.command("edit", "edits");
    edit.option("file", line.file).required();
    edit.option("words", line.words).required();
    edit.wordsAtTheEnd();
    edit.run([&line] { line.ran += 10; });
    words.insert(words.begin(), "tool");
    line.ended = app.take(static_cast<int>(words.size()), words.data());
    return line;
}
} // namespace

TEST_CASE("options: a line is taken into its variables, and only what was asked for is done") {
    const auto line = taken({"cut", "wing.ferro", "-w", "2.5", "--size", "1", "2", "3", "--count", "7", "--loud"});
    CHECK_FALSE(line.ended);
    CHECK(line.ran == 1);
    CHECK(line.file == "wing.ferro");
    CHECK(line.width == 2.5);
    CHECK(line.size == std::vector<double>{1, 2, 3});
    CHECK(line.count == 7);
    CHECK(line.loud);
    const auto bare = taken({"cut", "a", "--kind", "fine"});
    CHECK_FALSE(bare.count);
    CHECK_FALSE(bare.loud);
    CHECK(bare.kind == "fine");
    const auto edit = taken({"edit", "a", "move", "all", "-5", "2"});
    CHECK(edit.words == std::vector<std::string>{"move", "all", "-5", "2"});
    CHECK(edit.ran == 10);
}

TEST_CASE("options: a line that cannot be understood does nothing and ends with 1, help with 0") {
    for (const std::vector<const char*>& words : std::vector<std::vector<const char*>>{{},
                                                                                       {"cut"},
                                                                                       {"carve", "a"},
                                                                                       {"cut", "a", "-w", "11"},
                                                                                       {"cut", "a", "--kind", "rough"},
                                                                                       {"cut", "a", "--size", "1", "2"},
                                                                                       {"cut", "a", "--lost"},
                                                                                       {"cut", "a", "-w", "wide"}}) {
        const auto line = taken(words);
        CHECK(line.ended == 1);
        CHECK(line.ran == 0);
    }
    CHECK(taken({"--help"}).ended == 0);
    CHECK(taken({"--version"}).ended == 0);
}
