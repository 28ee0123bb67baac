#include "picture/picture.h"
#include "support/failing_disk.h"

using namespace ferro;

TEST_CASE("picture: the demo drawing, bent and cut short anywhere, is read or refused", "[fuzz]") {
    const auto bytes = *realDisk().read(std::filesystem::path(FERRO_DEMO) / "heron-ink.png");
    REQUIRE(picture::decoded(bytes));
    CHECK(picture::decoded(bytes)->width == 1213);
    std::mt19937 random(2);
    for (int i = 0; i < 60; ++i) {
        std::string bent = bytes.substr(0, i % 3 ? bytes.size() : random() % bytes.size());
        // The first bytes say what is to come; bend those most.
        for (int k = 0; k < 3 && !bent.empty(); ++k)
            bent[random() % std::min<std::size_t>(bent.size(), i % 2 ? 80 : bent.size())] = static_cast<char>(random());
        const auto picture = picture::decoded(bent, {.pixels = 4'000'000});
        if (!picture)
            CHECK_FALSE(picture.problem().what.empty());
        else
            CHECK(picture->pixels->size() == picture->count() * static_cast<std::size_t>(picture->channels));
    }
    CHECK(picture::decoded(bytes, {.pixels = 1000}).problem().what.find("1213") != std::string::npos);
    CHECK_FALSE(picture::decoded(""));
    CHECK_FALSE(picture::decoded("not a picture at all"));
}

TEST_CASE("picture: alpha lies on white, colour becomes grey by its light") {
    const auto grey = [](int channels, std::vector<std::uint8_t> pixel) {
        picture::Picture p;
        p.width = p.height = 1;
        p.channels = channels;
        p.pixels = std::make_shared<const std::vector<std::uint8_t>>(std::move(pixel));
        return static_cast<int>(picture::greyOf(p).values[0]);
    };
    CHECK(grey(1, {77}) == 77);
    CHECK(grey(3, {255, 255, 255}) == 255);
    CHECK(grey(4, {0, 0, 0, 0}) == 255);
    CHECK(grey(4, {0, 0, 0, 255}) == 0);
    CHECK(std::abs(grey(4, {0, 0, 0, 128}) - 127) <= 1);
    CHECK(grey(3, {0, 255, 0}) > grey(3, {255, 0, 0}));
    CHECK(grey(3, {255, 0, 0}) > grey(3, {0, 0, 255}));
}

TEST_CASE("picture: the automatic level parts two heaps wherever they lie", "[property]") {
    std::mt19937 random(6);
    for (int i = 0; i < 200; ++i) {
        std::array<std::size_t, 256> histogram{};
        const int dark = static_cast<int>(random() % 100), light = dark + 60 + static_cast<int>(random() % 90);
        for (int k = -8; k <= 8; ++k) {
            histogram[static_cast<std::size_t>(std::clamp(dark + k, 0, 255))] += 100 * (9 - std::abs(k));
            histogram[static_cast<std::size_t>(std::clamp(light + k, 0, 255))] += 1500 * (9 - std::abs(k));
        }
        const int level = picture::automaticLevel(histogram);
        CAPTURE(dark, light, level);
        CHECK(level > std::min(dark + 7, 255));
        CHECK(level <= light + 1);
    }
}
