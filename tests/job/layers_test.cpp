#include "artwork/copies.h"
#include "artwork/text.h"
#include "job/job_file.h"
#include "job/layers.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE("layers: facts are set whole, names are one's own and plain, steps go on taking what was renamed") {
    auto job = drawn(drawn(fresh(), {{circle({50, 50}, 10), {}}}, "cut"), {{circle({90, 50}, 10), {}}}, "score");
    job = set(stepped(job, "outline"), "layers", "cut");
    const auto cut = job.artwork->layers[0];
    auto facts = cut;
    facts.name = "wings";
    facts.colour = "#a03010";
    facts.notes = true;
    const auto next = with(job, job::withLayerFacts(job, cut.id, facts));
    CHECK(next.artwork->layers[0] == facts);
    CHECK(next.plan.steps[0].rule.layers == std::vector<std::string>{"wings"});
    const auto refused = [&](auto change) {
        auto bad = cut;
        change(bad);
        return !job::withLayerFacts(job, cut.id, bad);
    };
    CHECK(refused([](auto& l) { l.name = "score"; }));
    CHECK(refused([](auto& l) { l.name = ""; }));
    CHECK(refused([](auto& l) { l.name = "w*"; }));
    CHECK(refused([](auto& l) { l.name = "a, b"; }));
    CHECK(refused([](auto& l) { l.colour = "red-ish"; }));
    CHECK_FALSE(refused([](auto& l) { l.locked = true; }));
    CHECK_FALSE(job::withLayerFacts(job, {999}, cut));
    CHECK_FALSE(job::withLayerAdded(job, "score"));
    const auto more = with(job, job::withLayerAdded(job, "spare"));
    CHECK(more.artwork->layers.back().name == "spare");
    CHECK(with(more, job::withoutLayer(more, more.artwork->layers.back().id)).artwork->layers.size() == 2);
    CHECK_FALSE(job::withoutLayer(more, cut.id)); // something lies on it
    CHECK_FALSE(job::withoutLayer(more, {999}));
}

TEST_CASE("edits: the clamp and the opening that are named are meant, a step has the name it was given") {
    auto job = drawn(fresh(), {{rectangle({10, 10}, {90, 60}), {wound(circle({40, 30}, 10), false)}}});
    for (const double x : {100.0, 200.0, 300.0}) job = with(job, job::withClamp(job, {{{x, 10}, {x + 20, 30}}, 9}));
    const auto left = with(job, job::withoutClamp(job, 1)).sheet().clamps;
    REQUIRE(left.size() == 2);
    CHECK(left[0].area.low.x == 100);
    CHECK(left[1].area.low.x == 300);
    CHECK(job::withoutClamp(job, 3).problem().what.find("clamp 4") != std::string::npos);
    job = with(job, job::withStepAdded(job, "outline", "end-6", "Wings"));
    CHECK(job.plan.steps.back().name == "Wings");
    const auto item = job.artwork->items[0].id;
    CHECK(job::withTabs(job, lastStep(job), item, 0, {0.5}));
    CHECK_FALSE(job::withTabs(job, lastStep(job), item, 1, {0.5}));
    CHECK_FALSE(job::withTabs(job, lastStep(job), item, -2, {0.5}));
}

namespace {
/// A small job that has something of everything.
job::Job everything(job::PictureBytes& pictures) {
    auto job = drawn(fresh(), {{rectangle({10, 10}, {90, 60}), {wound(circle({40, 30}, 10), false)}}});
    job = with(job, job::withClamp(job, {{{300, 10}, {320, 30}}, 9}));
    for (const auto process : {shop::Process::beam, shop::Process::blade}) // and so every kind
        job.machine.processes.add(process);
    for (const auto* kind : plan::kinds()) job = stepped(job, std::string(kind->name).c_str());
    for (const auto& step : std::vector(job.plan.steps))
        if (plan::kindOf(step).name == "outline")
            job = with(job, job::withTabs(job, step.id, job.artwork->items[0].id, -1, {0.25}));
    const auto bytes = realDisk().read(std::string(FERRO_DEMO) + "/heron-ink.png");
    REQUIRE(bytes);
    const auto shared = std::make_shared<const std::string>(*bytes);
    auto art = artwork::withPicture(*job.artwork, {"heron.png", shared, *picture::decoded(*bytes), {148, 196}}, {3, 4});
    using Clean = picture::CleanStep;
    Clean crop, pen;
    crop.kind = Clean::Kind::crop;
    pen.kind = Clean::Kind::draw;
    crop.area = {{20, 30}, {100, 150}};
    pen.strokes = {{{{40, 50}, {60, 70}}, 2.5}};
    Progress progress;
    job = with(job, job::withArtwork(job, artwork::withCleanUp(art.artwork, art.ids[0], {crop, pen}, progress)));
    auto artwork = *job.artwork;
    artwork::Recipe recipe;
    recipe.whole.find = artwork::Find::rim;
    recipe.whole.goUnder = true;
    artwork.items.back().recipe = std::make_shared<const artwork::Recipe>(recipe);
    job = with(job, job::withArtwork(job, artwork::withPart(artwork, {artwork.items[0].id}, {.quantity = 2})));
    artwork::Lettering quay;
    quay.text = "QUAY";
    const auto lettered = artwork::withText(*job.artwork, quay, {100, 100}, "text");
    REQUIRE(lettered);
    job = job::withArtwork(job, lettered->artwork);
    pictures["heron.png"] = shared;
    return job;
}
/// The pictures by the names that the file gives them.
void namePictures(const std::string& text, job::PictureBytes& pictures) {
    for (std::size_t at = 0; (at = text.find("\"picture\": \"", at)) != std::string::npos; ++at) {
        const auto begin = at + 12, end = text.find('"', begin);
        pictures[text.substr(begin, end - begin)] = pictures.at("heron.png");
    }
}
} // namespace

TEST_CASE("job file: a cleaned picture comes back with its area, strokes and place") {
    job::PictureBytes none;
    const auto job = everything(none);
    const auto back = job::fromBytes(*job::toBytes(job));
    REQUIRE(back);
    CHECK(*back == job);
    for (const auto& item : back->artwork->items)
        if (const auto* picture = artwork::pictureOf(item)) {
            CHECK(distance(picture->low, {20, 30}) < 0.1); // to the nearest pixel
            REQUIRE(picture->clean.size() == 2);
            CHECK(picture->clean[0].area.high == Vec2{100, 150});
            CHECK(picture->clean[1].strokes[0].width == 2.5);
        }
}

TEST_CASE("job file: words that were called otherwise before are read for what they are") {
    job::PictureBytes pictures;
    const auto job = everything(pictures);
    std::string text = job::jsonOf(job);
    namePictures(text, pictures);
    const std::pair<std::string, std::string> before[] = {{"\"rim\"", "\"outer-edge\""},
                                                          {"\"goUnder\": true", "\"stacked\": true"},
                                                          {"\"scribePower\"", "\"scorePower\""},
                                                          {"\"scribeSpeed\"", "\"scoreSpeed\""}};
    for (const auto& [now, then] : before) {
        const auto at = text.find(now);
        CAPTURE(now);
        REQUIRE(at != std::string::npos);
        text.replace(at, now.size(), then);
    }
    const auto read = job::jobFromJson(text, pictures);
    INFO((read ? "" : read.problem().text()));
    REQUIRE(read);
    CHECK(*read == job);
}

TEST_CASE("job file: a member that nobody knows is refused wherever it stands", "[fuzz]") {
    job::PictureBytes pictures;
    const std::string text = job::jsonOf(everything(pictures));
    namePictures(text, pictures);
    REQUIRE(job::jobFromJson(text, pictures));
    int groups = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '"' && text[i - 1] != '\\') quoted = !quoted;
        if (quoted || text[i] != '{') continue;
        std::string odd = text;
        odd.insert(i + 1,
                   text.find_first_not_of(" \n", i + 1) == text.find('}', i) ? "\"stranger\": 1" : "\"stranger\": 1, ");
        CAPTURE(text.substr(i > 60 ? i - 60 : 0, 120));
        CHECK_FALSE(job::jobFromJson(odd, pictures));
        ++groups;
    }
    CHECK(groups > 25);
}
