#include "artwork/edits.h"
#include "artwork/text.h"
#include "geometry/flatten.h"
#include "geometry/thin.h"
#include "mend/chain.h"
#include "mend/repair.h"
#include "support/shapes.h"

#include <set>

using namespace ferro;
using mend::Fault;

namespace {

artwork::Artwork drawn(const std::vector<Path>& paths) {
    std::vector<Piece> pieces;
    for (const auto& path : paths) pieces.push_back({path, {}});
    return artwork::withPieces({}, std::move(pieces), "kit", "plate").artwork;
}
std::vector<Path> paths(const char* text) {
    auto read = pathsFromText(text);
    REQUIRE(read);
    return *read;
}
/// Stock of this box; none for an empty one.
Piece plate(const Box& stock) { return stock.empty() ? Piece{} : Piece{rectangle(stock.low, stock.high), {}}; }
mend::Audit audit(const artwork::Artwork& art, const mend::Tolerances& tolerances = {}, const Box& stock = {}) {
    Progress progress;
    auto out = mend::audited(art, tolerances, plate(stock), progress);
    REQUIRE(out);
    return *out;
}
mend::Mended mended(const artwork::Artwork& art, const mend::Tolerances& tolerances = {}, const Box& stock = {}) {
    Progress progress;
    auto out = mend::withAllMended(art, mend::faults, tolerances, plate(stock), progress);
    REQUIRE(out);
    return *out;
}
double largestOff(const Path& a, const Path& b) {
    const Ruler ruler(b);
    double worst = 0;
    for (const Vec2 p : flattened(a, 0.001)) worst = std::max(worst, distance(p, ruler.at(ruler.nearest(p)).point));
    return worst;
}

} // namespace

TEST_CASE("chain: loose lines and arcs in any order and direction become the outlines they were", "[property]") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        std::mt19937 random(seed);
        const Path whole = test::curvedBlob(seed, {50, 50}, 40);
        std::vector<Path> loose;
        for (std::size_t i = 0; i < whole.segments.size(); ++i) {
            Path bit{whole.from(i), {whole.segments[i]}, false};
            loose.push_back(random() % 2 ? reversed(bit) : bit);
        }
        loose.push_back(test::curvedBlob(seed + 100, {150, 50}, 30)); // one that is closed already
        std::shuffle(loose.begin(), loose.end(), random);
        const auto chains = mend::chained(loose, 0.1);
        CAPTURE(seed);
        REQUIRE(chains.size() == 1);
        CHECK(chains[0].path.closed);
        CHECK(chains[0].from.size() == whole.segments.size());
        CHECK(chains[0].path.segments.size() == whole.segments.size()); // no line of no length put in
        CHECK(std::abs(areaOf(chains[0].path)) == Approx(areaOf(whole)).epsilon(1e-9));
    }
}

TEST_CASE("chain: the nearest ends belong together, wide gaps stay, small ones are closed without leaving the lines") {
    const auto loose = paths("M 0 0 L 10 0 M 10.004 0 L 10 10 M 10 10.3 L 0 10 M 0 10.2 L 0 0.006");
    CHECK(mend::gapsBetween(loose, 0.5).size() == 4);
    CHECK(mend::gapsBetween(loose, 0.25).size() == 3);
    const auto all = mend::chained(loose, 0.5);
    REQUIRE(all.size() == 1);
    CHECK(all[0].path.closed);
    CHECK(all[0].path.segments.size() == 4); // lines are led to where they meet
    const auto some = mend::chained(loose, 0.25);
    REQUIRE(some.size() == 1);
    CHECK_FALSE(some[0].path.closed);
    CHECK(distance(some[0].path.start, some[0].path.end()) == Approx(0.3).margin(0.01));
    // A short line is not closed onto itself.
    CHECK_FALSE(mend::chained(paths("M 0 0 L 0.3 0"), 0.5)[0].path.closed);
}

TEST_CASE("thin points: the fewest lines and arcs, corners kept, within the tolerance", "[property]") {
    // A plate with rounded corners that came as four hundred points.
    const Path plate = rectangle({0, 0}, {80, 50}, 8);
    const auto back = thinnedPath(pathOf(flattened(plate, 0.0005), true), 0.01);
    CHECK(back.path.segments.size() == 8);
    CHECK(areaOf(back.path) == Approx(areaOf(plate)).epsilon(1e-4));
    const auto round = thinnedPath(pathOf(flattened(circle({5, 5}, 20), 0.0005), true), 0.01);
    CHECK(round.path.segments.size() <= 3);
    for (unsigned seed = 1; seed <= 12; ++seed) {
        const Path shape = test::curvedBlob(seed, {50, 50}, 40);
        const Path many = pathOf(flattened(shape, 0.001), true);
        for (const double tolerance : {0.01, 0.05, 0.3}) {
            const auto thin = thinnedPath(many, tolerance);
            CAPTURE(seed, tolerance, thin.path.segments.size());
            CHECK(thin.path.closed);
            CHECK(thin.path.end() == thin.path.start);
            CHECK(thin.path.segments.size() < many.segments.size() / 4);
            CHECK(thin.deviation <= tolerance);
            CHECK(largestOff(thin.path, many) <= tolerance * 1.3);
            CHECK(thinnedPath(many, tolerance).path == thin.path);
            CHECK(largestOff(many, thinnedPath(thin.path, tolerance).path) <= 2 * tolerance);
        }
        // What is as short as it gets stays bit by bit.
        CHECK(thinnedPath(pathOf(test::ring("0,0 9,1 8,7 1,8"), true), 0.01).path ==
              pathOf(test::ring("0,0 9,1 8,7 1,8"), true));
    }
}

TEST_CASE("audit: each fault is found where it is, and nothing in a clean drawing") {
    CHECK(audit(drawn({circle({50, 50}, 20), rectangle({0, 0}, {20, 10}, 2)}), {}, {{0, 0}, {100, 100}}).flaws.empty());
    const auto art = drawn(paths("M 0 0 L 10 0 L 10 10 M 10 10.2 L 0 10 L 0 0.1 "
                                 "M 20 0 L 30 0 L 30 10 L 20 10 L 20 0 Z M 30 10 L 30 0 L 20 0 L 20 10 L 30 10 Z "
                                 "M 40 0 L 50 10 L 50 0 L 40 10 L 40 0 Z M 60 0 L 60.2 0 L 60.2 0.2 L 60 0 Z "
                                 "M 70 0 L 80 0 L 80 0 L 80 10 L 70 0 Z M 95 0 L 105 0 L 105 9 L 95 0 Z "
                                 "M 22 0 L 28 0"));
    const auto found = audit(art, {}, {{0, 0}, {100, 100}});
    for (const Fault fault : {Fault::speck, Fault::stub, Fault::crossing, Fault::beyond}) {
        CAPTURE(mend::wordOf(fault));
        CHECK(found.count(fault) == 1);
        CHECK(mend::faultFrom(mend::wordOf(fault)) == fault);
    }
    CHECK(found.count(Fault::gap) == 2);
    CHECK(found.count(Fault::doubled) == 2); // the plate drawn twice, and a line that lies on its edge
    CHECK(found.count(Fault::crowded) == 0);
    for (const auto& f : found.flaws) {
        CHECK(artwork::find(art, f.item));
        CHECK(!f.what.empty());
        if (f.fault == Fault::crossing) CHECK(distance(f.at, {45, 5}) < 1e-6);
        if (f.fault == Fault::gap) CHECK(f.size <= 0.2 + 1e-9);
    }
    // Hidden and locked pieces are nobody's business.
    artwork::Ids all;
    for (const auto& item : art.items) all.push_back(item.id);
    CHECK(audit(*artwork::withFlag(art, all, artwork::Flag::hidden, true)).flaws.empty());
    Progress cancelled;
    cancelled.cancel();
    CHECK_FALSE(mend::audited(art, {}, {}, cancelled));
    Progress progress;
    CHECK_FALSE(mend::audited(art, {.gap = -1}, {}, progress));
}

TEST_CASE(
    "audit: the border of a page is pointed out, a panel with holes is none, and only taken out when that is asked") {
    const Piece token{circle({60, 60}, 20), {reversed(circle({60, 60}, 5))}}, moon{circle({150, 90}, 25), {}};
    const auto has = [](const std::vector<Piece>& pieces) {
        const auto art = artwork::withPieces({}, pieces, "kit", "plate").artwork;
        return audit(art).count(Fault::border);
    };
    const Path page = rectangle({10, 10}, {200, 140}), skewed = transformed(page, Transform::rotated(0.01, {100, 70}));
    CHECK(has({{page, {}}, token, moon}) == 1);
    CHECK(has({token, {skewed, {}}, moon}) == 1);
    CHECK(has({{page, {reversed(rectangle({12, 12}, {198, 138}))}}, moon, {circle({40, 40}, 8), {}}}) ==
          1); // a drawn line
    // Two rings apart, one in the other: they have openings though they are single outlines.
    CHECK(has({{page, {}}, moon, {circle({150, 90}, 10), {}}}) == 1);
    CHECK(has({{page, {}}, moon, {circle({40, 40}, 8), {}}}) == 0); // a panel with two holes
    CHECK(has({{page, {}}, token}) == 0);
    CHECK(has({{page, {reversed(circle({60, 60}, 20)), reversed(circle({150, 90}, 25))}}, moon, token}) == 0);
    CHECK(has({{circle({100, 70}, 90), {}}, token, moon}) == 0);            // a round plate is no page
    CHECK(has({{page, {}}, token, moon, {circle({220, 90}, 5), {}}}) == 0); // something lies outside
    const auto art = artwork::withPieces({}, {{page, {}}, token, moon}, "kit", "plate").artwork;
    CHECK(mended(art).artwork.items.size() == 2); // all faults named
    Progress progress;
    const auto kept = mend::withAllMended(art, mend::surely, {}, {}, progress);
    REQUIRE(kept);
    CHECK(kept->artwork.items.size() == 3);
}

TEST_CASE("mend: what was found is mended and is not found again", "[property]") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<> part(0, 1);
        std::vector<Path> all;
        for (unsigned k = 0; k < 6; ++k) {
            const Vec2 at{50 + 100.0 * (k % 3), 50 + 100.0 * (k / 3)};
            const Path shape = test::curvedBlob(seed * 10 + k, at, 40);
            switch ((k + seed) % 6) {
            case 0: // in bits, with small gaps
                for (std::size_t i = 0; i < shape.segments.size(); ++i) {
                    Path bit{shape.from(i), {shape.segments[i]}, false};
                    all.push_back(transformed(bit, Transform::moved({0.1 * part(random), 0.1 * part(random)})));
                }
                break;
            case 1: all.insert(all.end(), {shape, reversed(shape)}); break;
            case 2: all.push_back(pathOf(flattened(shape, 0.001), true)); break;
            case 3: all.insert(all.end(), {shape, circle(at, 0.2)}); break;
            case 4: all.push_back(transformed(shape, Transform::moved({-60, 0}))); break;
            default: all.push_back(shape);
            }
        }
        const auto art = drawn(all);
        const Box stock{{0, 0}, {300, 300}};
        const auto out = mended(art, {}, stock);
        CAPTURE(seed, out.did);
        CHECK(out.count > 0);
        const auto left = audit(out.artwork, {}, stock);
        for (const auto& f : left.flaws) UNSCOPED_INFO(f.what);
        CHECK(left.flaws.empty());
        CHECK(artwork::countsOf(out.artwork).open == 0);
        CHECK(artwork::countsOf(out.artwork).pieces == 6);
    }
    CHECK(mended({}).did == "nothing to mend");
}

TEST_CASE(
    "mend: what reaches over the stock is moved whole or stays and is told, dots of texts and notes are no specks") {
    const Box stock{{0, 0}, {100, 80}};
    auto art = drawn({rectangle({90, 10}, {120, 30}, 0), circle({130, 20}, 5)});
    art =
        *artwork::withGrouped(art, {art.items[0].id, art.items[1].id}, "lantern"); // one of them touches, one does not
    const auto out = mended(art, {}, stock);
    const Box both = artwork::boundsOf(out.artwork, {out.artwork.items[0].id, out.artwork.items[1].id});
    CHECK(both.high.x == Approx(100));
    CHECK(both.width() == Approx(45)); // still together
    const auto wide = mended(drawn({rectangle({50, 10}, {170, 30}, 0)}), {}, stock);
    CHECK(wide.count == 0);
    CHECK(wide.told().find("larger than the stock") != std::string::npos);
    const auto stray = drawn({rectangle({900, 10}, {910, 30}, 0)});
    CHECK(audit(stray, {}, stock).flaws[0].what.find("far off") != std::string::npos);
    const auto left = mended(stray, {}, stock);
    CHECK(left.artwork == stray); // not pulled in
    CHECK(left.told().find("far off the stock") != std::string::npos);

    artwork::Lettering tiny;
    tiny.text = "i.j";
    tiny.capHeight = 2;
    const auto lettered = artwork::withText({}, tiny, {20, 20}, "text");
    REQUIRE(lettered);
    CHECK(audit(lettered->artwork, {.speck = 5}).count(Fault::speck) == 0);
    const auto dot = drawn({circle({20, 20}, 0.2)});
    CHECK(audit(dot).count(Fault::speck) == 1);
    CHECK(audit(*artwork::withLayerFlag(dot, "kit", artwork::Flag::notes, true)).count(Fault::speck) == 0);
}

TEST_CASE("mend: one that crosses itself is parted into what it encloses, its openings stay with their piece") {
    auto art =
        artwork::withPieces({}, {{paths("M 0 0 L 20 10 L 20 0 L 0 10 L 0 0 Z")[0], {circle({3, 5}, 1)}}}, "kit", "bow")
            .artwork;
    art.items[0].place = Transform::rotated(0.3);
    const auto out = mended(art);
    CHECK(out.artwork.items.size() == 2);
    CHECK(out.did == "1 crossing outline parted");
    double area = 0;
    std::size_t openings = 0;
    for (const auto& item : out.artwork.items) {
        const Piece piece = artwork::placed(item);
        area += areaOf(piece.outline);
        openings += piece.openings.size();
        CHECK(artwork::find(out.artwork, item.layer));
    }
    CHECK(area == Approx(100).epsilon(0.001));
    CHECK(openings == 1);
}

TEST_CASE("thin: only what is named changes, openings too, and what it did is told") {
    const Path moon = pathOf(flattened(circle({50, 50}, 20), 0.0005), true);
    auto art =
        artwork::withPieces({}, {{moon, {reversed(pathOf(flattened(circle({50, 50}, 5), 0.0005), true))}}, {moon, {}}},
                            "kit", "moon")
            .artwork;
    const auto before = pointsOf(artwork::shapeOf(art.items[1])->piece);
    const std::vector<artwork::ItemId> first{art.items[0].id};
    const auto out = mend::withThinned(art, first, 0.02);
    REQUIRE(out);
    CHECK(pointsOf(artwork::shapeOf(out->artwork.items[0])->piece) <= 6);
    CHECK(pointsOf(artwork::shapeOf(out->artwork.items[1])->piece) == before);
    CHECK(areaOf(artwork::placed(out->artwork.items[0]).openings[0]) == Approx(-pi * 25).epsilon(0.002));
    CHECK(out->did.find("points fewer") != std::string::npos);
    const auto again = mend::withThinned(out->artwork, first, 0.02);
    REQUIRE(again);
    CHECK(again->count == 0);
    CHECK(again->did.find("none to spare") != std::string::npos);
    CHECK_FALSE(mend::withThinned(art, first, 0));
    CHECK_FALSE(mend::withThinned(art, {}, 0.02));
    const std::vector<artwork::ItemId> nobody{{999}};
    CHECK_FALSE(mend::withThinned(art, nobody, 0.02));
    art.items[0].locked = true;
    CHECK_FALSE(mend::withThinned(art, first, 0.02));
}

TEST_CASE("outlines: loose lines of a layer and group are joined, every second level becomes an opening") {
    // A plate in four bits, a hole in two, an island in the hole, a line that meets nothing; the same again elsewhere.
    const auto kit = paths("M0 0L40 0 M40 30L40 0 M0 30L0 0 M0 30L40 30 M10 15A15 15+20 15 M20 15A15 15+10 15 "
                           "M13 15A15 15+17 15A15 15+13 15Z M50 0L50 9");
    std::vector<artwork::NamedPieces> sets(3);
    sets[0].layer = "cut", sets[1].layer = "cut", sets[2].layer = "fold";
    for (const auto& path : kit)
        for (auto& set : sets) set.pieces.push_back({path, {}});
    sets[1].grouped = true;
    const auto added = artwork::withAllPieces({}, sets);
    const auto made = mend::withOutlines(added.artwork, added.ids, 0.01);
    CHECK(made.did == "18 lines joined into 6 outlines, 3 of all outlines are openings now");
    REQUIRE(made.artwork.items.size() == 9);
    CHECK(made.artwork.groups.size() == 1);
    for (std::size_t i : {0u, 3u, 6u}) {
        const auto* plate = artwork::shapeOf(made.artwork.items[i]);
        CHECK(plate->piece.outline.closed);
        CHECK(areaOf(plate->piece.outline) == Approx(1200));
        REQUIRE(plate->piece.openings.size() == 1);
        CHECK(areaOf(plate->piece.openings[0]) == Approx(-25 * pi));
        CHECK(areaOf(artwork::shapeOf(made.artwork.items[i + 1])->piece.outline) == Approx(4 * pi)); // the island
        CHECK_FALSE(artwork::shapeOf(made.artwork.items[i + 2])->piece.outline.closed);
    }
    // A side drawn twice, once backwards, is no outline of its own.
    const auto twice = drawn(paths("M0 0L40 0 M40 0L0 0 M40 0L40 30 M40 30L0 30 M0 30L0 0"));
    artwork::Ids all;
    for (const auto& item : twice.items) all.push_back(item.id);
    const auto closed = mend::withOutlines(twice, all, 0.01);
    REQUIRE(closed.artwork.items.size() == 2);
    CHECK(areaOf(artwork::shapeOf(closed.artwork.items[0])->piece.outline) == Approx(1200));
    CHECK(audit(closed.artwork).count(Fault::doubled) == 1);
    // Again: nothing more to do, and nothing lost.
    const auto again = mend::withOutlines(made.artwork, added.ids, 0.01);
    CHECK(again.artwork == made.artwork);
    CHECK(again.did == "nothing to join");
    // All of a group joined into one piece: a group of one is none.
    std::vector<artwork::NamedPieces> one(1);
    one[0] = {{{kit[0], {}}, {kit[1], {}}, {kit[2], {}}, {kit[3], {}}}, "cut", "flat", true, {}};
    const auto flat = artwork::withAllPieces({}, one);
    const auto whole = mend::withOutlines(flat.artwork, flat.ids, 0.01);
    REQUIRE(whole.artwork.items.size() == 1);
    CHECK(whole.artwork.groups.empty());
    CHECK_FALSE(whole.artwork.items[0].group);
}

TEST_CASE("audit: stretches that two lines or arcs share are found and one of them is cut back, neighbours are not") {
    // Two lines that overlap by 5 mm, a line along a plate's edge, an arc along a circle; a tangent line, a T, a
    // neighbour.
    auto art =
        drawn(paths("M0 0L30 0 M25 0L50 0 M100 0L160 0L160 40L100 40Z M110 40L130 40L130 60 M220 20A200 20+180 20A200 "
                    "20+220 20Z M220 20A200 20+200 40L200 60 M0 100L40 100 M20 100L20 130 M40 100A40 120+60 120"));
    const auto before = audit(art);
    REQUIRE(before.count(Fault::doubled) == 3);
    CHECK(before.flaws[0].size == Approx(5));
    const auto fixed = mended(art, {.gap = 0});
    CHECK(audit(fixed.artwork, {.gap = 0}).count(Fault::doubled) == 0);
    double length = 0;
    for (const auto& item : fixed.artwork.items) length += lengthOf(artwork::placed(item).outline);
    double whole = 0;
    for (const auto& item : art.items) whole += lengthOf(artwork::placed(item).outline);
    CHECK(whole - length == Approx(5 + 20 + 10 * pi));
    // In the middle of a longer one: it falls into two.
    Progress progress;
    const std::array only{Fault::doubled};
    const auto middle =
        mend::withAllMended(drawn(paths("M0 0L0 9L50 9 M10 9L20 9L20 0L-90 0")), only, {}, {}, progress);
    REQUIRE(middle);
    CHECK(middle->artwork.items.size() == 3);
}

TEST_CASE("chain: of a group whose lines become one outline that is left, in the group round it") {
    const auto loose = drawn(paths("M0 0L10 0 M10 0L10 10 M10 10L0 0 M50 0L60 5 M70 0L80 5 M90 0L99 0"));
    artwork::Ids ids;
    for (const auto& item : loose.items) ids.push_back(item.id);
    auto grouped = artwork::withGrouped(loose, {ids[0], ids[1], ids[2]}, "triangle");
    REQUIRE(grouped);
    grouped = artwork::withGrouped(*grouped, {ids[0], ids[3]}, "around"); // the groups of both, and what is single
    REQUIRE(grouped);
    grouped = artwork::withGrouped(*grouped, {ids[4], ids[5]}, "other");
    REQUIRE(grouped);
    REQUIRE(grouped->groups.size() == 3);
    const auto made = mend::withOutlines(*grouped, ids, 0.01);
    REQUIRE(made.artwork.items.size() == 4);
    std::map<std::string, int> members;
    for (const auto& group : made.artwork.groups) {
        CHECK(group.parent.value == 0);
        for (const auto& item : made.artwork.items) members[group.name] += item.group == group.id;
    }
    CHECK(members == std::map<std::string, int>{{"around", 2}, {"other", 2}});
}

TEST_CASE("repair: what an edit changes is told as outlines, what it leaves alone is not") {
    auto added = artwork::withPieces(
        {}, {{rectangle({0, 0}, {10, 10}), {}}, {circle({30, 5}, 4), {}}, {circle({50, 5}, 4), {}}}, "cut", "p");
    const auto& before = added.artwork;
    auto after = *artwork::withTransformed(before, {added.ids[0]}, Transform::moved({0, 20}));
    after = *artwork::withRemoved(after, {added.ids[1]});
    after = *artwork::withName(after, {added.ids[2]}, "another name");
    after = artwork::withPieces(after, {{rectangle({0, 50}, {9, 60}), {rectangle({2, 52}, {4, 54})}}}, "cut", "new")
                .artwork;
    const auto changes = mend::changesOf(before, after);
    REQUIRE(changes.becomes.size() == 3); // the moved, the new and its opening
    CHECK(boundsOf(changes.becomes[0]) == Box{{0, 20}, {10, 30}});
    CHECK(boundsOf(changes.becomes[2]) == Box{{2, 52}, {4, 54}});
    REQUIRE(changes.goes.size() == 1);
    CHECK(boundsOf(changes.goes[0]).centre().x == Approx(30));
    CHECK(mend::changesOf(before, before).becomes.empty());
}

TEST_CASE("audit: on a blank that is no rectangle what lies beside its outline is told, and stays where it is") {
    const Piece ell{pathOf({{0, 0}, {300, 0}, {300, 80}, {100, 80}, {100, 200}, {0, 200}}, true),
                    {wound(circle({250, 40}, 15), false)}};
    auto art = drawn({rectangle({20, 20}, {80, 180}), rectangle({0, 0}, {60, 15}), rectangle({150, 90}, {180, 120}),
                      circle({250, 40}, 20), rectangle({290, 20}, {320, 60}), pathOf({{10, 190}, {90, 190}}, false),
                      pathOf({{10, 195}, {190, 195}}, false)});
    Progress progress;
    const auto found = mend::audited(art, {}, ell, progress);
    REQUIRE(found);
    std::vector<std::size_t> beyond;
    for (const auto& f : found->flaws)
        if (f.fault == mend::Fault::beyond)
            for (std::size_t i = 0; i < art.items.size(); ++i)
                if (art.items[i].id == f.item) beyond.push_back(i);
    CHECK(beyond == std::vector<std::size_t>{2, 3, 4, 6}); // flush with the edge is on it
    const auto mended = mend::withAllMended(art, std::vector{mend::Fault::beyond}, {}, ell, progress);
    REQUIRE(mended);
    CHECK(artwork::boundsOf(mended->artwork.items[4]).high.x == Approx(300)); // that could be moved onto it
    CHECK(artwork::boundsOf(mended->artwork.items[2]) == artwork::boundsOf(art.items[2]));
    CHECK(mended->left.find("3 not on the blank") != std::string::npos);
}

TEST_CASE("audit: of a thousand lines nearly in one place each that lies on another is told, as if all were compared") {
    std::mt19937 random(11);
    const auto upTo = [&](double most) { return static_cast<double>(random() % 100'000) / 100'000 * most; };
    std::vector<Path> lines;
    for (int i = 0; i < 1200; ++i) {
        const double y = 100 + upTo(0.3);
        lines.push_back(pathOf({{10 + upTo(50), y}, {200 + upTo(150), y + upTo(0.08)}}, false));
    }
    constexpr double tolerance = 0.05;
    const auto liesOn = [&](const Path& a, const Path& b) { // of straight ones their ends tell
        const auto near = [&](Vec2 p) { return distanceToLine(p, b.start, b.end()) <= tolerance; };
        return near(a.start) && near(a.end());
    };
    std::set<std::size_t> expected;
    for (std::size_t i = 0; i < lines.size(); ++i)
        for (std::size_t j = 0; j < lines.size(); ++j) {
            if (i == j) continue;
            const double mine = lengthOf(lines[i]), other = lengthOf(lines[j]);
            const bool alike = std::abs(mine - other) <= 4 * tolerance;
            if (alike ? j < i && liesOn(lines[i], lines[j]) && liesOn(lines[j], lines[i])
                      : mine < other && liesOn(lines[i], lines[j]))
                expected.insert(i);
        }
    REQUIRE(expected.size() > 500);
    REQUIRE(expected.size() < lines.size());
    const auto art = drawn(lines);
    std::set<std::size_t> told;
    for (const auto& flaw : audit(art).flaws)
        if (flaw.fault == Fault::doubled && !flaw.stretch)
            for (std::size_t i = 0; i < art.items.size(); ++i)
                if (art.items[i].id == flaw.item) told.insert(i);
    CHECK(told == expected);
}
