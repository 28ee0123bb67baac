#include "proof/round.h"
#include "support/toolpaths.h"

#include <set>

using namespace ferro;
using namespace ferro::test;
using proof::HeightGrid;
using proof::RoundView;
using proof::Solid;

namespace {

constexpr double thickness = 12;

HeightGrid landscape(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> x(5, 75), y(5, 45), size(2, 12), deep(1, 14);
    auto grid = HeightGrid::over({{0, 0}, {80, 50}}, 0.25);
    for (int i = 0; i < 9; ++i) { // pits, bowls and holes
        const Vec2 at{x(random), y(random)};
        const double radius = size(random), depth = deep(random);
        const bool bowl = random() % 3 == 0;
        for (int r = 0; r < grid.rows; ++r)
            for (int c = 0; c < grid.columns; ++c) {
                const double far = distance(grid.middle(c, r), at) / radius;
                if (far >= 1) continue;
                float& z = grid.heights[static_cast<std::size_t>(r * grid.columns + c)];
                z = std::min(z, static_cast<float>(bowl ? -depth * (1 - far * far) : -depth));
            }
    }
    return grid;
}
Solid solid(HeightGrid grid) {
    Progress progress;
    auto made = proof::solidOf(std::move(grid), thickness, progress);
    REQUIRE(made);
    return *made;
}
/// Bilinear between the middles of cells, as the header says; nothing beyond the grid.
std::optional<double> surface(const HeightGrid& grid, Vec2 p) {
    if (!grid.area.contains(p)) return std::nullopt;
    const double x = std::clamp(p.x / grid.cell - 0.5, 0.0, grid.columns - 1.0),
                 y = std::clamp(p.y / grid.cell - 0.5, 0.0, grid.rows - 1.0);
    const int c = std::min(static_cast<int>(x), grid.columns - 2), r = std::min(static_cast<int>(y), grid.rows - 2);
    const auto h = [&](int dc, int dr) {
        return std::max(-thickness, double(grid.heights[static_cast<std::size_t>((r + dr) * grid.columns + c + dc)]));
    };
    const double z = (h(0, 0) * (1 - (x - c)) + h(1, 0) * (x - c)) * (1 - (y - r)) +
                     (h(0, 1) * (1 - (x - c)) + h(1, 1) * (x - c)) * (y - r);
    return z > -thickness + 1e-3 ? std::optional(z) : std::nullopt;
}
/// What a ray meets first, followed from far above in steps of 0.02 mm; nothing when it goes through or past.
std::optional<double> met(const HeightGrid& grid, const RoundView& view, Vec2 pixel) {
    for (double z = 0; z >= -thickness; z -= 0.02 * std::sin(view.tilt)) {
        const auto top = surface(grid, view.placeAt(pixel, z));
        if (top && *top >= z) return z;
    }
    return std::nullopt;
}
RoundView viewed(double turn, double tilt) {
    RoundView view{.turn = turn, .tilt = tilt, .centre = {}, .width = 150, .height = 110};
    return view.fitted({{0, 0}, {80, 50}}, thickness, 4);
}
std::array<int, 4> at(const proof::RoundPicture& picture, Vec2 pixel) {
    const auto i = (static_cast<std::size_t>(pixel.y) * static_cast<std::size_t>(picture.width) +
                    static_cast<std::size_t>(pixel.x)) *
                   4;
    return {picture.rgba[i], picture.rgba[i + 1], picture.rgba[i + 2], picture.rgba[i + 3]};
}
float heightAt(const proof::RoundPicture& picture, Vec2 pixel) {
    return picture.heights[static_cast<std::size_t>(pixel.y) * static_cast<std::size_t>(picture.width) +
                           static_cast<std::size_t>(pixel.x)];
}
const proof::Look plain{.grain = false};

} // namespace

TEST_CASE("round: every ray meets what following it step by step meets, or goes through where that does") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const auto grid = landscape(seed);
        const Solid body = solid(grid);
        const auto view = viewed(seed * 1.3, 0.25 + 0.2 * seed);
        const auto picture = proof::rounded(body, plain, view, {}, false);
        int pixels = 0, wrong = 0, seen = 0, through = 0;
        for (int y = 0; y < view.height; ++y)
            for (int x = 0; x < view.width; ++x) {
                const Vec2 pixel{x + 0.5, y + 0.5};
                const auto truth = met(grid, view, pixel);
                const auto z = static_cast<double>(heightAt(picture, pixel));
                ++pixels, seen += truth.has_value();
                through += !truth && grid.area.contains(view.placeAt(pixel, -thickness / 2));
                // Where a wall or an edge passes, half a pixel decides.
                wrong += truth.has_value() == std::isnan(z) || (truth && std::abs(*truth - z) > 0.6);
            }
        INFO("seed " << seed << ": " << wrong << " of " << pixels << " wrong, " << seen << " seen, " << through);
        CHECK(seen > pixels / 4);
        CHECK(wrong < pixels / 60);
    }
}

TEST_CASE("round: the top keeps its colour, a slope is as light as it turns to the light, soft shade lies in pits") {
    auto grid = HeightGrid::over({{0, 0}, {80, 50}}, 0.25);
    const auto slope = [&](double fromX, Vec2 rise) { // a ramp over 20 × 20 mm
        for (int r = 0; r < grid.rows; ++r)
            for (int c = 0; c < grid.columns; ++c) {
                const Vec2 p = grid.middle(c, r) - Vec2{fromX, 15};
                if (p.x < 0 || p.x > 20 || p.y < 0 || p.y > 20) continue;
                grid.heights[static_cast<std::size_t>(r * grid.columns + c)] =
                    static_cast<float>(-5 + dot(rise, p - Vec2{10, 10}));
            }
    };
    // The light comes from the left, a little from the front: a slope that falls to the left looks into it.
    slope(5, {0.3, 0.2}), slope(30, {-0.3, -0.2}), slope(55, {0, 0});
    RoundView view{.turn = 0, .tilt = pi / 2, .centre = {40, 25}, .scale = 2, .width = 160, .height = 100};
    const auto picture = proof::rounded(solid(grid), plain, view, {}, false);
    const auto red = [&](Vec2 place) { return at(picture, view.project(place, 0))[0]; };
    CHECK(red({2, 2}) == plain.stock[0]);
    CHECK(red({15, 25}) > red({65, 25}) + 10);
    CHECK(red({40, 25}) < red({65, 25}) - 10);
    CHECK(red({65, 33}) < red({65, 25})); // beside the wall that stands there
    // Gone round to the other side the light goes along: what looked into it looks away.
    view.turn = pi;
    const auto behind = proof::rounded(solid(grid), plain, view, {}, false);
    CHECK(at(behind, view.project({15, 25}, 0))[0] < at(behind, view.project({40, 25}, 0))[0] - 20);
}

TEST_CASE("round: plies show at cut walls, grain and char where they belong") {
    auto grid = HeightGrid::over({{0, 0}, {80, 50}}, 0.1);
    for (int r = 0; r < grid.rows / 2; ++r)
        for (int c = 0; c < grid.columns; ++c) grid.heights[static_cast<std::size_t>(r * grid.columns + c)] = -12;
    const auto body = solid(grid); // the far half stands, with a wall towards one who looks
    RoundView view{.turn = 0, .tilt = 0.5, .centre = {40, 25}, .scale = 6, .width = 200, .height = 200};
    const auto shades = [&](const proof::Look& look) {
        std::vector<int> down;
        const auto picture = proof::rounded(body, look, view, {}, false);
        for (double z = -0.3; z > -11.8; z -= 0.1) down.push_back(at(picture, view.project({40, 25}, z))[0]);
        return down;
    };
    const auto rises = [](const std::vector<int>& down) {
        int count = 0;
        for (std::size_t i = 1; i < down.size(); ++i) count += down[i] > down[i - 1] + 4;
        return count;
    };
    const auto even = shades(plain), plied = shades({.grain = false, .ply = 1.4}),
               charred = shades({.grain = false, .beam = true});
    CHECK(rises(even) == 0); // less light gets down along it
    CHECK(even.front() > even.back() + 10);
    CHECK(rises(plied) >= 4); // every second ply is lighter than the one above
    CHECK(*std::max_element(charred.begin(), charred.end()) < even.front() / 2 + 10);
}

TEST_CASE("round: what hangs on nothing is lifted, what a tab holds is not, nor the sheet") {
    const auto cutRound = [](double tab) {
        auto grid = HeightGrid::over({{0, 0}, {80, 50}}, 0.25);
        for (int r = 0; r < grid.rows; ++r)
            for (int c = 0; c < grid.columns; ++c) {
                const Vec2 p = grid.middle(c, r) - Vec2{40, 25};
                if (std::abs(length(p) - 12) < 1 && !(std::abs(p.y) < tab && p.x > 0))
                    grid.heights[static_cast<std::size_t>(r * grid.columns + c)] = -12.3f;
            }
        return solid(grid);
    };
    auto view = viewed(0.4, 0.9);
    view.lift = 5;
    const auto z = [&](const Solid& body, Vec2 place, double lifted) {
        return heightAt(proof::rounded(body, plain, view, {}, true), view.project(place, lifted));
    };
    const auto free = cutRound(0), held = cutRound(2);
    CHECK(free.isLoose({40, 25}));
    CHECK_FALSE(free.isLoose({60, 25}));
    CHECK(z(free, {40, 25}, 5) == Approx(5));
    CHECK(z(free, {70, 40}, 0) == Approx(0));
    CHECK(held.lifted.empty());
    CHECK(z(held, {40, 25}, 0) == Approx(0));
    // A finer look at a part of it knows from the whole what is loose.
    auto part = HeightGrid::over({{30, 20}, {50, 30}}, 0.1);
    Progress progress;
    const auto near = proof::solidOf(part, thickness, progress, &free);
    REQUIRE(near);
    CHECK(near->isLoose({40, 25}));
    // A beam's kerf is thinner than the cells, and frees the part all the same.
    proof::Strokes strokes;
    strokes.tools.emplace_back().kind = shop::ToolKind::laser;
    strokes.tools.back().diameter = 0.05;
    Vec2 from{52, 25};
    for (int i = 1; i <= 72; ++i) {
        const Vec2 to = Vec2{40 + 12 * std::cos(i * pi / 36), 25 + 12 * std::sin(i * pi / 36)};
        strokes.list.push_back({.from = from, .to = to, .z = -12});
        from = to;
    }
    auto grid = HeightGrid::over({{0, 0}, {80, 50}}, 0.25);
    REQUIRE(proof::sweep(grid, proof::shownOn(grid, strokes), progress));
    CHECK(solid(grid).isLoose({40, 25}));
}

TEST_CASE("round: the cutting plane takes away what lies above it, and hatches what it cuts") {
    auto grid = landscape(3);
    auto view = viewed(0.7, 0.8);
    view.section = 4;
    const Solid body = solid(grid);
    const auto picture = proof::rounded(body, plain, view, {}, false);
    float highest = -99;
    for (const float z : picture.heights)
        if (!std::isnan(z)) highest = std::max(highest, z);
    CHECK(highest == Approx(-4).margin(1e-5));
    std::set<int> shades;
    for (double x = 1; x < 79; x += 0.3) {
        const Vec2 p{x, 1};
        if (surface(grid, p) == 0.0) shades.insert(at(picture, view.project(p, -4))[0]);
    }
    CHECK(shades.size() >= 2);
}

TEST_CASE("round: the tool stands in its shape where it is, before and behind the piece") {
    const auto body = solid(HeightGrid::over({{0, 0}, {80, 50}}, 0.25));
    auto view = viewed(0, 0.6);
    view.scale /= 2; // the tool stands high above the sheet
    shop::Tool mill;
    mill.diameter = 6, mill.fluteLength = 20, mill.shank = 10, mill.stickOut = 30;
    const auto bare = proof::rounded(body, plain, view, {}, false);
    const auto shown = [&](double z, double holder = 0) {
        return proof::rounded(body, plain, view, proof::ShownTool{mill, {40, 25, z}, holder}, false);
    };
    const auto differs = [&](const proof::RoundPicture& picture, Vec2 place, double z) {
        return at(picture, view.project(place, z)) != at(bare, view.project(place, z));
    };
    const auto up = shown(2);
    CHECK(differs(up, {40, 22}, 10));       // its near side
    CHECK_FALSE(differs(up, {36, 25}, 10)); // beside the flutes
    CHECK(differs(up, {36, 25}, 26));       // the shank is wider
    CHECK_FALSE(differs(up, {32, 25}, 36)); // no holder is known of
    CHECK(differs(shown(2, 25), {32, 25}, 36));
    CHECK_FALSE(differs(shown(-11), {40, 22}, -5)); // in the stock it is out of sight
    CHECK(differs(shown(-11), {40, 22}, 3));
}

TEST_CASE("round: a view is turned back by its own places, fits the sheet, and is as sharp as asked") {
    for (const double turn : {-2.0, 0.0, 0.5, 3.0})
        for (const double tilt : {0.2, 0.8, pi / 2}) {
            const auto view = viewed(turn, tilt);
            for (const double z : {0.0, -7.0}) {
                const Vec2 place{13, 41}, back = view.placeAt(view.project(place, z), z);
                CHECK(distance(place, back) < 1e-9);
            }
            for (const Vec2 corner : {Vec2{0, 0}, {80, 0}, {80, 50}, {0, 50}})
                for (const double z : {0.0, -thickness}) {
                    const Vec2 p = view.project(corner, z);
                    CHECK((p.x > 3.9 && p.x < 146.1 && p.y > 3.9 && p.y < 106.1));
                }
            CHECK(view.seen(thickness).contains(Vec2{40, 25}));
        }
    const auto body = solid(landscape(2));
    const auto rough = proof::rounded(body, plain, viewed(0.3, 0.7), {}, false),
               fine = proof::rounded(body, plain, viewed(0.3, 0.7), {}, true);
    std::set<int> alphas;
    for (std::size_t i = 3; i < fine.rgba.size(); i += 4) alphas.insert(fine.rgba[i]);
    CHECK(alphas.size() > 3); // edges are smooth
    CHECK(rough.rgba != fine.rgba);
    CHECK(fine.rgba == proof::rounded(body, plain, viewed(0.3, 0.7), {}, true).rgba);
    const auto file = proof::onGround(fine, {10, 20, 30});
    CHECK((file.rgb[0] == 10 && file.rgb[1] == 20 && file.rgb[2] == 30));
}
