#include "mend/points.h"

#include "artwork/text.h"
#include "mend/repair.h"
#include "mend/snaps.h"
#include "support/shapes.h"

using namespace ferro;
using mend::PointRefs;

namespace {
artwork::Artwork drawn(std::vector<Piece> pieces) {
    return artwork::withPieces({}, std::move(pieces), "kit", "plate").artwork;
}
artwork::Artwork must(Result<mend::PointEdit> edit) {
    INFO((edit ? "" : edit.problem().text()));
    REQUIRE(edit);
    return edit->artwork;
}
Path outlineAt(const artwork::Artwork& art, std::size_t i) { return artwork::placed(art.items[i]).outline; }
} // namespace

TEST_CASE("points of pieces: turned, mirrored and stretched ones are edited where they lie on the sheet",
          "[property]") {
    const Transform places[] = {Transform::moved({40, 10}), Transform::rotated(0.7, {3, 4}),
                                Transform::scaled(-1, 1, {20, 0}), Transform::scaled(2, 0.5)};
    for (const auto& place : places) {
        auto art = drawn({{rectangle({0, 0}, {30, 20}, 4), {circle({15, 10}, 3)}}});
        art.items[0].place = place;
        const auto id = art.items[0].id;
        const auto marks = mend::pointsOf(art, {id});
        REQUIRE(marks.size() == 10);
        for (const auto& mark : marks) {
            const auto moved = must(mend::withPointsMoved(art, {mark.ref}, {1.5, -2}));
            const auto now = mend::placeOf(moved, mark.ref);
            REQUIRE(now);
            CHECK(distance(*now, mark.at + Vec2{1.5, -2}) < 1e-9);
            CHECK(areaOf(artwork::shapeOf(moved.items[0])->piece.outline) > 0);
        }
    }
}

TEST_CASE("points of pieces: outlines keep their way round, what is emptied goes, a text becomes pieces") {
    auto art = drawn({{rectangle({0, 0}, {30, 20}), {circle({15, 10}, 3)}}, {circle({60, 10}, 5), {}}});
    const auto plate = art.items[0].id, hole = art.items[1].id;
    // The upper edge is drawn through the lower one: the outline turns over, and the chosen points stay chosen.
    auto flipped = mend::withPointsMoved(art, {{plate, -1, 2}, {plate, -1, 3}}, {0, -50});
    REQUIRE(flipped);
    CHECK(areaOf(artwork::shapeOf(flipped->artwork.items[0])->piece.outline) == Approx(900));
    for (const auto& ref : flipped->chosen) CHECK(mend::placeOf(flipped->artwork, ref)->y == Approx(-30));
    CHECK(must(mend::withPointsRemoved(art, {{hole, -1, 0}, {hole, -1, 1}})).items.size() == 1);
    const auto filled = must(mend::withPointsRemoved(art, {{plate, 0, 0}, {plate, 0, 1}}));
    CHECK(artwork::shapeOf(filled.items[0])->piece.openings.empty());
    CHECK_FALSE(mend::withPointsMoved(art, {{plate, 7, 0}}, {1, 0}));
    CHECK_FALSE(mend::withPointsMoved(art, {}, {1, 0}));
    auto locked = art;
    locked.items[0].locked = true;
    CHECK_FALSE(mend::withPointsMoved(locked, {{plate, -1, 0}}, {1, 0}));
    CHECK(mend::pointsOf(locked, {plate}).empty());
    const auto text = artwork::withText({}, {.text = "O"}, {0, 0}, "sign");
    REQUIRE(text);
    REQUIRE(text->artwork.groups.at(0).lettering);
    const auto pieces = must(mend::withPointsMoved(text->artwork, {{text->ids[0], -1, 0}}, {0.1, 0}));
    CHECK(std::none_of(pieces.groups.begin(), pieces.groups.end(), [](const auto& g) { return g.lettering; }));
}

TEST_CASE("points of pieces: opened, parted and joined, also across pieces that lie differently") {
    const auto art = drawn({{rectangle({0, 0}, {30, 20}), {circle({15, 10}, 3)}}});
    const auto plate = art.items[0].id;
    auto opened = mend::withSplit(art, {{plate, -1, 1}});
    REQUIRE(opened);
    REQUIRE(opened->artwork.items.size() == 2); // the opening is a piece now
    CHECK_FALSE(outlineAt(opened->artwork, 0).closed);
    CHECK(areaOf(outlineAt(opened->artwork, 1)) > 0);
    const auto closed = must(mend::withEndsJoined(opened->artwork, {{plate, -1, 0}, {plate, -1, 4}}, 0.1));
    CHECK(outlineAt(closed, 0).closed);
    CHECK(areaOf(outlineAt(closed, 0)) == Approx(600));
    auto lines = drawn(
        {{Path{{0, 0}, {Segment::line({10, 0})}, false}, {}}, {Path{{0, 0}, {Segment::line({10, 0})}, false}, {}}});
    lines.items[1].place = Transform::moved({10.2, 0}) * Transform::rotated(pi / 2);
    const auto a = lines.items[0].id, b = lines.items[1].id;
    const auto one = must(mend::withEndsJoined(lines, {{b, -1, 0}, {a, -1, 1}}, 0.5));
    REQUIRE(one.items.size() == 1);
    const Path line = outlineAt(one, 0);
    REQUIRE(line.segments.size() == 2);
    CHECK(distance(line.segments[0].end, {10.1, 0}) < 1e-9);
    CHECK_FALSE(mend::withEndsJoined(lines, {{a, -1, 0}}, 0.5));
    CHECK_FALSE(mend::withEndsJoined(art, {{plate, -1, 0}, {plate, -1, 1}}, 0.5));
    // A place on a line, and a point more there.
    const auto on = mend::nearestOnLine(lines, {a, b}, {4, 0.3}, 1);
    REQUIRE(on);
    const auto more = mend::withPointAdded(lines, on->from, on->t);
    REQUIRE(more);
    CHECK(distance(*mend::placeOf(more->artwork, more->chosen.at(0)), {4, 0}) < 1e-3);
}

TEST_CASE("points of pieces: any hundred edits leave sound pieces, and the same hundred leave the same", "[property]") {
    const auto sound = [](const artwork::Artwork& art) {
        for (const auto& item : art.items) {
            const auto& piece = artwork::shapeOf(item)->piece;
            INFO(toText(piece.outline));
            const auto line = [&](const Path& path, bool outer) {
                REQUIRE_FALSE(path.segments.empty());
                if (path.closed) {
                    REQUIRE(path.end() == path.start);
                    REQUIRE((areaOf(path) == 0 || (areaOf(path) > 0) == outer));
                }
                for (std::size_t k = 0; k < path.segments.size(); ++k) {
                    const auto& s = path.segments[k];
                    REQUIRE((isFinite(s.end) && isFinite(s.a) && isFinite(s.b)));
                    if (s.kind == Segment::Kind::arc)
                        REQUIRE(distance(path.from(k), s.a) == Approx(distance(s.end, s.a)).epsilon(1e-6).margin(1e-6));
                }
            };
            line(piece.outline, true);
            for (const auto& opening : piece.openings) line(opening, false);
            REQUIRE((piece.openings.empty() || piece.outline.closed));
        }
    };
    const auto edited = [&](unsigned seed) {
        std::mt19937 random(seed);
        const auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
        std::uniform_real_distribution<double> off(-4, 4);
        auto art =
            drawn({{test::curvedBlob(seed, {0, 0}, 30), {wound(circle({2, 1}, 5), false)}},
                   {rectangle({60, 0}, {100, 30}, 5), {}},
                   {Path{{0, 60}, {Segment::line({20, 60}), Segment::arc({20, 70}, {30, 70}, true)}, false}, {}}});
        art.items[1].place = Transform::rotated(0.3 * seed, {70, 10});
        std::size_t done = 0;
        for (int round = 0; round < 100 && !art.items.empty(); ++round) {
            artwork::Ids ids;
            for (const auto& item : art.items) ids.push_back(item.id);
            const auto marks = mend::pointsOf(art, ids);
            PointRefs refs;
            for (std::size_t n = 1 + below(3); n > 0; --n) refs.push_back(marks[below(marks.size())].ref);
            const auto& mark = marks[below(marks.size())];
            const Vec2 to = mark.at + Vec2{off(random), off(random)};
            const auto one = mark.ref;
            using mend::PointForm;
            const auto edit = [&]() -> Result<mend::PointEdit> {
                switch (below(9)) {
                case 0: return mend::withPointsMoved(art, refs, {off(random), off(random)});
                case 1: return mend::withHandleMoved(art, one, below(2) ? Side::before : Side::after, to, below(2));
                case 2: return below(3) ? mend::withPointAdded(art, one, 0.3) : mend::withPointsRemoved(art, refs);
                case 3: return mend::withPointAdded(art, one, 0.6);
                case 4: return mend::withPointsFormed(art, refs, PointForm::smooth);
                case 5: return mend::withPointsFormed(art, refs, static_cast<PointForm>(below(4)));
                case 6: return mend::withBulge(art, one, to);
                case 7: return below(4) ? mend::withPointsMoved(art, {one}, to - mark.at) : mend::withSplit(art, {one});
                default: return mend::withEndsJoined(art, {one, marks[below(marks.size())].ref}, 1);
                }
            }();
            if (!edit) { // refused with a reason, and nothing has changed
                REQUIRE_FALSE(edit.problem().what.empty());
                continue;
            }
            ++done;
            art = edit->artwork;
            sound(art);
            for (const auto& ref : edit->chosen) REQUIRE(mend::placeOf(art, ref));
        }
        CHECK(done > 40);
        return art;
    };
    for (unsigned seed = 1; seed <= 12; ++seed) {
        CAPTURE(seed);
        CHECK(edited(seed) == edited(seed));
    }
}

TEST_CASE("snaps: points before centres before tangents before lines, and level with the neighbours") {
    const auto art = drawn({{rectangle({0, 0}, {30, 20}), {}}, {circle({60, 10}, 5), {}}});
    const PointRefs dragged{{art.items[0].id, -1, 2}};
    const mend::Snaps snaps(art, dragged);
    const auto near = mend::neighboursOf(art, dragged);
    REQUIRE(near.size() == 2);
    const auto at = [&](Vec2 p) { return snaps.near(p, 1, near); };
    CHECK(at({29.5, 0.4})->at == Vec2{30, 0});
    CHECK(at({60.3, 10.2})->kind == mend::Snap::Kind::centre);
    CHECK(at({15.4, 0.3})->kind == mend::Snap::Kind::middle);
    CHECK(at({20, 0.5})->kind == mend::Snap::Kind::on);
    CHECK(at({30.4, 35})->at.x == 30);
    CHECK(at({30.4, 20.4})->kind == mend::Snap::Kind::square); // its own place does not count
    CHECK_FALSE(at({80, 50}));
    CHECK_FALSE(mend::Snaps(art, {}, {art.items[1].id}).near({60.3, 10.2}, 1, {})); // what is dragged is no aim
    // From 0,20 a line touches the circle where it is square to the radius.
    const Vec2 v = Vec2{0, 20} - Vec2{60, 10};
    const double d = length(v);
    const Vec2 touch = Vec2{60, 10} + v * (25 / (d * d)) + perpendicular(v) * (-5 * std::sqrt(d * d - 25) / (d * d));
    const auto tangent = at(touch + Vec2{0.3, 0.2});
    REQUIRE(tangent);
    CHECK(tangent->kind == mend::Snap::Kind::tangent);
    CHECK(std::abs(dot(tangent->at - Vec2{60, 10}, tangent->at - Vec2{0, 20})) < 1e-9);
}

TEST_CASE("points of pieces: a stroke keeps the width of its ink where it is parted, joined, thinned and mended") {
    // As wide as it is far from the left.
    const Path line = pathOf(test::ring("2,0 4,0 7,1 9,0 12,0"), false);
    artwork::NamedPieces set{{{line, {}}}, "ink", "stroke", false, {{2, 4, 7, 9, 12}}};
    auto art = artwork::withAllPieces({}, {set}).artwork;
    art = *artwork::withTransformed(art, {art.items[0].id}, Transform::scaled(2, 2));
    const auto shouldKeep = [](const artwork::Artwork& of, const char* what) {
        CAPTURE(what);
        for (const auto& item : of.items) {
            const auto* shape = artwork::shapeOf(item);
            REQUIRE(shape->widths.size() == shape->piece.outline.segments.size() + 1);
            for (std::size_t i = 0; i < shape->widths.size(); ++i)
                CHECK(shape->widths[i] == Approx(pointOf(shape->piece.outline, i).x).margin(1e-6));
        }
    };
    const auto id = art.items[0].id;
    const auto parted = mend::withSplit(art, {{id, -1, 2}});
    REQUIRE(parted);
    CHECK(parted->artwork.items.size() == 2);
    shouldKeep(parted->artwork, "parted");
    const auto& two = parted->artwork.items;
    const auto joined = mend::withEndsJoined(parted->artwork, {{two[0].id, -1, 2}, {two[1].id, -1, 0}}, 0.1);
    REQUIRE(joined);
    CHECK(joined->artwork.items.size() == 1);
    shouldKeep(joined->artwork, "joined");
    const auto fewer = mend::withPointsRemoved(art, {{id, -1, 1}});
    REQUIRE(fewer);
    shouldKeep(fewer->artwork, "a point less");
    const auto more = mend::withPointAdded(art, {id, -1, 0}, 0.25);
    REQUIRE(more);
    shouldKeep(more->artwork, "a point more");
    Progress progress;
    constexpr std::array gaps{mend::Fault::gap};
    const auto mended = mend::withAllMended(parted->artwork, gaps, {}, {}, progress);
    REQUIRE(mended);
    CHECK(mended->artwork.items.size() == 1);
    shouldKeep(mended->artwork, "mended");
    const auto thin = mend::withThinned(art, std::array{id}, 5);
    REQUIRE(thin);
    CHECK(artwork::shapeOf(thin->artwork.items[0])->piece.outline.segments.size() < 4);
    shouldKeep(thin->artwork, "thinned");
}
