#include "artwork/copies.h"
#include "formats/kit.h"

#include <catch2/catch.hpp>
#include <map>
#include <random>

using namespace ferro;
using namespace ferro::formats;

namespace {

CutList listed(std::string_view text) {
    auto list = cutListFrom(text);
    INFO((list ? "" : list.problem().text()));
    REQUIRE(list);
    return *list;
}
std::string refused(std::string_view text) {
    const auto list = cutListFrom(text);
    REQUIRE_FALSE(list);
    CHECK_FALSE(list.problem().mend.empty());
    return list.problem().text();
}
bool says(const std::string& text, std::string_view word) { return text.find(word) != std::string::npos; }

} // namespace

TEST_CASE("cut list: columns are found by their names in any order, cells parted by what parts them") {
    const auto list = listed("Qty,File,Part,Material,Thickness,Turn,Mirror,Priority,Labels\r\n"
                             "4,wing.svg,Left wing,birch ply,6,half,yes,,S1/back\r\n"
                             "\r\n"
                             "1,\"foot, small.svg\",\"The \"\"foot\"\"\",,1/4in,none,no,filler,\r\n");
    REQUIRE(list.rows.size() == 2);
    const auto& wing = list.rows[0];
    CHECK(wing.line == 2);
    CHECK((wing.file == "wing.svg" && wing.name == "Left wing" && wing.material == "birch ply"));
    CHECK(wing.part.quantity == 4);
    CHECK(wing.part.thickness == 6);
    CHECK(wing.part.turns == artwork::Turns::half);
    CHECK(wing.part.mirror);
    CHECK(wing.part.labels == std::vector<std::string>{"S1", "back"});
    const auto& foot = list.rows[1];
    CHECK(foot.line == 4);
    CHECK((foot.file == "foot, small.svg" && foot.name == "The \"foot\""));
    CHECK(foot.part.thickness == Approx(6.35));
    CHECK(foot.part.priority == artwork::Priority::filler);
    CHECK(foot.part.turns == artwork::Turns::none);

    const auto semicolons = listed("file;quantity;thickness\nmoon.svg;2;6,5\n");
    CHECK(semicolons.rows[0].part.thickness == 6.5);
    CHECK(semicolons.rows[0].name == "moon"); // of the drawing
    CHECK(listed("drawing\tcount\nmoon.svg\t3").rows[0].part.quantity == 3);
    const auto extra = listed("file,colour,qty\nmoon.svg,blue,0\nowl.svg,grey,1\n");
    CHECK(extra.rows.size() == 1);
    REQUIRE(extra.notices.size() == 2);
    CHECK(says(extra.notices[0].text, "colour"));
    CHECK(says(extra.notices[1].text, "Line 2"));
}

TEST_CASE("cut list: any common encoding is read, line ends of any kind, a line break within quotes") {
    const auto name = [](std::string_view text) { return listed(text).rows.at(0).name; };
    CHECK(name("file,part\nm.svg,Größe\n") == "Größe");
    CHECK(name("\xEF\xBB\xBF"
               "file,part\rm.svg,Größe\r") == "Größe");
    CHECK(name("file,part\nm.svg,Gr\xF6\xDF"
               "e \x80\n") == "Größe €");
    std::string wide("\xFF\xFE", 2), tall("\xFE\xFF", 2);
    for (const char16_t c : std::u16string(u"file,part\nm.svg,Größe 🦉\n")) {
        wide += static_cast<char>(c & 0xFF), wide += static_cast<char>(c >> 8);
        tall += static_cast<char>(c >> 8), tall += static_cast<char>(c & 0xFF);
    }
    CHECK(name(wide) == "Größe 🦉");
    CHECK(name(tall) == "Größe 🦉");
    const auto broken = listed("file,part,qty\nm.svg,\"two\nlines\",2\no.svg,x,1\n");
    CHECK(broken.rows[0].name == "two\nlines");
    CHECK(broken.rows[1].line == 4);
    // What is written is read again as it was.
    const std::vector<std::vector<std::string>> rows{
        {"file", "part"}, {"a,b.svg", "he said \"no\"\nand left"}, {"c.svg", " x "}};
    CHECK(listed(csvOf(rows)).rows[0].name == rows[1][1]);
    CHECK(listed(csvOf(rows)).rows[0].file == rows[1][0]);
}

TEST_CASE("cut list: what is wrong is told with its line and column, and how to mend it") {
    CHECK(says(refused(""), "empty"));
    CHECK(says(refused("part,quantity\nx,1\n"), "line 1: No column names the drawings"));
    CHECK(says(refused("file,qty,count\nx.svg,1,1\n"), "Two columns mean the same"));
    CHECK(says(refused("file,qty\nx.svg,many\n"), "line 2, column quantity"));
    CHECK(says(refused("file,qty\nx.svg,1.5\n"), "“1.5”"));
    CHECK(says(refused("file,qty\nx.svg,-1\n"), "line 2"));
    CHECK(says(refused("file,thickness\na.svg,6\nx.svg,0\n"), "line 3, column thickness"));
    CHECK(says(refused("file,turn\nx.svg,upside\n"), "column turn"));
    CHECK(says(refused("file,mirror\nx.svg,maybe\n"), "column mirror"));
    CHECK(says(refused("file,qty\n,3\n"), "No drawing is named"));
    CHECK(says(refused("file,qty\nx.svg,1,2\n"), "beyond the last column"));
    CHECK(says(refused("file,part\nx.svg,\"open\n"), "never closed"));
    CHECK(says(refused(std::string("file\n\0x", 7)), "no text"));
    CHECK(says(refused("file\n"), "wants nothing"));
    std::mt19937 random(7); // whatever is done to it, it is read or refused
    const std::string good = "file;part;qty;thickness\n\"a;b.svg\";wing;3;6,5\nb.dxf;\"x\"\"y\";1;\n";
    for (int i = 0; i < 3000; ++i) {
        std::string bad = good;
        for (int k = 0; k < 1 + i % 6; ++k) bad[random() % bad.size()] = static_cast<char>(random());
        if (i % 3 == 0) bad.resize(random() % bad.size());
        const auto list = cutListFrom(bad);
        if (!list) CHECK_FALSE(list.problem().what.empty());
    }
}

TEST_CASE("kit: each row becomes a part with its facts, a file is read once, and a lack is told with its line") {
    const auto list =
        listed("file,part,qty,material,thickness\nwing.svg,Wing,3,Birch,6\nwing.svg,Spare,1,,\neye.svg,,2,,3\n");
    std::map<std::string, int> reads;
    const KitReader reader{
        .bytes = [&](const std::string& file) -> Result<std::string> {
            ++reads[file];
            if (file == "wing.svg")
                return std::string(
                    "<svg xmlns='http://www.w3.org/2000/svg' width='60mm' height='30mm' viewBox='0 0 60 30'>"
                    "<rect width='60' height='30'/><circle cx='10' cy='10' r='4'/></svg>");
            if (file == "eye.svg")
                return std::string("<svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm' viewBox='0 0 9 9'>"
                                   "<circle cx='4.5' cy='4.5' r='4'/></svg>");
            return Problem{.what = "There is no such file.", .where = {}, .mend = "Put it there."};
        },
        .material =
            [](std::string_view word) {
                return word == "Birch" ? std::optional<std::string>("birch-ply") : std::nullopt;
            }};
    Progress progress;
    const auto kit = withCutList({}, list, reader, progress);
    INFO((kit ? "" : kit.problem().text()));
    REQUIRE(kit);
    CHECK(kit->drawings == 2);
    CHECK(kit->parts == 6);
    CHECK(reads["wing.svg"] == 1);
    REQUIRE(kit->artwork.items.size() == 5);
    const auto& wing = kit->artwork.items[0];
    CHECK(wing.name.starts_with("Wing"));
    CHECK(wing.group);
    CHECK(wing.group == kit->artwork.items[1].group);
    const auto& facts = artwork::partOf(kit->artwork, wing);
    CHECK((facts.quantity == 3 && facts.material == "birch-ply" && facts.thickness == 6));
    CHECK_FALSE(kit->artwork.items[4].group);
    Box last;
    for (const auto& item : kit->artwork.items) { // none lies on another row's
        const Box box = boundsOf(item);
        if (!item.group || item.id == wing.id) CHECK(box.low.x > (last.empty() ? -1e9 : last.high.x));
        last.take(box);
    }
    const auto lacks = [&](std::string_view text) {
        const auto none = withCutList({}, listed(text), reader, progress);
        REQUIRE_FALSE(none);
        return none.problem().text();
    };
    CHECK(says(lacks("file\nwing.svg\nhat.svg\n"), "line 3"));
    CHECK(says(lacks("file\nhat.txt\n"), "no drawing"));
    CHECK(says(lacks("file,material\nwing.svg,granite\n"), "granite"));
}
