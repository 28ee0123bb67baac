#include "formats/hairlines.h"
#include "formats/svg.h"
#include "geometry/nesting.h"
#include "support/shapes.h"

using namespace ferro;

TEST_CASE("svg path data: any text is a drawing or a reason with its character", "[fuzz]") {
    std::mt19937 random(21);
    for (int i = 0; i < 6000; ++i) {
        std::string data = i % 2 ? "M10 10" : "";
        for (unsigned k = 0; k < 1 + random() % 30; ++k)
            data += "MmLlHhVvCcSsQqTtAaZz0123456789.-+eE, \n"[random() % 39];
        const auto paths = formats::pathsFromSvgData(data);
        if (!paths) {
            CHECK_FALSE(paths.problem().what.empty());
            continue;
        }
        for (const auto& path : *paths) {
            CHECK(isFinite(path.end()));
            CHECK_FALSE((path.closed && path.segments.empty()));
        }
    }
    CHECK(formats::pathsFromSvgData("")->empty());
    CHECK_FALSE(formats::pathsFromSvgData("M" + std::string(100'000, '9') + " 1"));
}

TEST_CASE("svg: what is written is what is read, arcs and cubics kept", "[property]") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        const Path blob = wound(test::curvedBlob(seed, {80, 60}, 50), true);
        const Path hole = wound(circle({80, 60}, 6), false);
        const auto text = formats::svgOf(
            {{"cut", "#111111", {{blob, {hole}}}}, {"score", "#222222", {{pathOf(test::ring("1,2 30,4"), false), {}}}}},
            {{0, 0}, {160, 120}});
        std::vector<Path> back;
        for (auto at = text.find(" d=\""); at != std::string::npos; at = text.find(" d=\"", at + 1)) {
            auto paths = formats::pathsFromSvgData(text.substr(at + 4, text.find('"', at + 4) - at - 4));
            REQUIRE(paths);
            for (auto& path : *paths) back.push_back(transformed(path, {1, 0, 0, -1, 0, 120}));
        }
        CAPTURE(seed);
        REQUIRE(back.size() == 3);
        CHECK(std::abs(areaOf(back[0])) == Approx(areaOf(blob)).epsilon(1e-6));
        CHECK(std::abs(areaOf(back[1])) == Approx(pi * 36).epsilon(1e-6));
        CHECK(back[1].segments[0].kind == Segment::Kind::arc);
        CHECK(distance(back[2].end(), {30, 4}) < 0.001);
        CHECK(nested({back[0], back[1]}).size() == 1);
    }
}
