#include "artwork/installed_faces.h"
#include "artwork/text.h"

#include "support/shapes.h"

using namespace ferro;
using artwork::Lettering;

namespace {
artwork::Lettered letters(const Lettering& l) {
    auto out = artwork::lettered(l);
    INFO((out ? "" : out.problem().text()));
    REQUIRE(out);
    return *out;
}
Box boxOf(const std::vector<Piece>& pieces) {
    Box box;
    for (const auto& piece : pieces) box.take(boundsOf(piece));
    return box;
}
} // namespace

TEST_CASE("text: capitals are as high as asked, letters have their openings, in every shipped face") {
    for (const auto& face : artwork::shippedFaces()) {
        CAPTURE(face);
        const auto h = letters({"H", face, 12});
        CHECK(h.notices.empty());
        CHECK(boxOf(h.pieces).high.y == Approx(12).margin(0.15));
        CHECK(boxOf(h.pieces).low.y == Approx(0).margin(0.15));
        const auto o = letters({"O", face, 12});
        if (face == "single line") {
            CHECK(boxOf(o.pieces).height() == Approx(12).margin(0.15));
        } else if (face == "stencil") {
            CHECK(o.pieces.size() == 2); // it has its bridges
        } else {
            REQUIRE(o.pieces.size() == 1);
            CHECK(o.pieces[0].openings.size() == 1);
        }
    }
    for (const auto& piece : letters({"Heron 12", "single line", 8}).pieces) CHECK(piece.openings.empty());
}

TEST_CASE("text: tracking, alignment and lines are exact, kerning is the face's own") {
    const auto width = [](const Lettering& l) { return boxOf(letters(l).pieces).width(); };
    const Lettering plain{"MOON", "sign bold", 10};
    Lettering wide = plain;
    wide.tracking = 2;
    CHECK(width(wide) - width(plain) == Approx(6));
    CHECK(width({"AV", "sign bold", 10}) < width({"A", "sign bold", 10}) + width({"V", "sign bold", 10}));
    Lettering two = plain;
    two.text = "I\nI";
    CHECK(boxOf(letters(two).pieces).height() == Approx(10 + 16).margin(0.2));
    for (const auto& [align, share] :
         {std::pair{Lettering::Align::left, 0.0}, {Lettering::Align::centre, 0.5}, {Lettering::Align::right, 1.0}}) {
        Lettering l = plain;
        l.align = align;
        const Box box = boxOf(letters(l).pieces);
        CHECK(box.low.x == Approx(-share * box.width()).margin(1.5)); // side bearings apart
    }
    // Round a circle: upright at its top when centred there.
    Lettering round = plain;
    round.text = "O";
    round.align = Lettering::Align::centre;
    Path arc{{-50, 0}, {Segment::arc({0, 0}, {50, 0}, false)}, false};
    round.along = arc;
    const Box top = boxOf(letters(round).pieces);
    CHECK(top.centre().x == Approx(0).margin(0.3));
    CHECK(top.low.y == Approx(50).margin(0.5));
}

TEST_CASE("text: stays a text that can be changed until it is ungrouped, and is refused with a reason") {
    const Lettering first{"Ferry", "sign narrow", 15};
    const auto added = artwork::withText({}, first, {30, 40}, "sign");
    REQUIRE(added);
    REQUIRE(added->artwork.groups.size() == 1);
    const auto group = added->artwork.groups[0].id;
    CHECK(*added->artwork.groups[0].lettering == first);
    CHECK(artwork::boundsOf(added->artwork, added->ids).low.x == Approx(30).margin(2));
    Lettering other = first;
    other.text = "Lantern";
    other.capHeight = 8;
    const auto changed = artwork::withTextChanged(added->artwork, group, other);
    REQUIRE(changed);
    CHECK(changed->items.size() == 7);
    CHECK(*changed->groups[0].lettering == other);
    artwork::Ids all;
    for (const auto& item : changed->items) all.push_back(item.id);
    CHECK(artwork::boundsOf(*changed, all).low.x == Approx(30).margin(2));
    const auto loose = artwork::withUngrouped(*changed, all);
    REQUIRE(loose);
    CHECK(loose->groups.empty());
    CHECK(loose->items.size() == 7);
    CHECK_FALSE(artwork::withTextChanged(*loose, group, other));
    CHECK(artwork::lettered({"x", "gone", 5}).problem().mend.find("sign bold") != std::string::npos);
    CHECK_FALSE(artwork::lettered({"x", FERRO_TESTS "/CMakeLists.txt", 5}));
    CHECK_FALSE(artwork::lettered({"x", "sign bold", 0}));
    CHECK_FALSE(artwork::withText({}, {"  ", "sign bold", 5}, {}, "sign"));
    // What is no UTF-8, or lacks in the face, is told or passed over.
    CHECK_FALSE(letters({"\xE6\xBC\xA2", "stencil", 5}).notices.empty());
    CHECK(letters({"\xff\xfe A", "sign bold", 5}).pieces.size() >= 1);
}

TEST_CASE("text: the face of a family is the nearest in width and weight, an italic only where asked for") {
    const std::vector<artwork::InstalledFace> faces{
        {{"Lantern Sans", "LaternenSchrift"}, "Condensed Bold", "/f/cb", 700, 75, false},
        {{"Lantern Sans"}, "Light", "/f/l", 300, 100, false},
        {{"Lantern Sans"}, "Medium", "/f/m", 500, 100, false},
        {{"Lantern Sans"}, "Black", "/f/k", 900, 100, false},
        {{"Lantern Sans"}, "Oblique", "/f/o", 400, 100, true},
        {{"Marsh"}, "Regular", "/f/n", 400, 100, false}};
    const auto file = [&](std::string_view family, bool bold, bool italic) {
        const auto* face = artwork::faceOf(faces, family, bold, italic);
        return face ? face->file : std::string();
    };
    CHECK(file("lantern sans", false, false) == "/f/l"); // as near as the medium, and first
    CHECK(file("'LanternSans'", true, false) == "/f/m");
    CHECK(file("Lantern Sans", true, true) == "/f/o");
    CHECK(file("laternenschrift", false, false) == "/f/cb");
    CHECK(file("Marsh", true, false) == "/f/n");
    CHECK(file("Marsh", true, true).empty());
    CHECK(file("", false, false).empty());
    // What this machine has can be lettered in, each by its file, and is found by the name it goes by.
    std::size_t tried = 0;
    for (const auto& face : artwork::installedFaces()) {
        CHECK(face.file.starts_with("/"));
        CHECK(artwork::faceOf(artwork::installedFaces(), face.families.front(), face.weight > 550, face.italic));
        if (tried++ < 5) CHECK(artwork::capHeightOf(face.file) > 0.3);
    }
}
