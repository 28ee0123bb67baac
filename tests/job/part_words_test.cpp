#include "artwork/copies.h"
#include "job/part_words.h"
#include "support/jobs.h"

using namespace ferro;
using namespace ferro::test;

TEST_CASE("part words: material, thickness and number are read however they are written, and nothing is guessed") {
    const auto shelf = book();
    const auto said = [&](const char* text) { return job::partWordsIn(text, shelf); };
    using W = job::PartWords;
    CHECK(said("birch 6 mm, 2 off") == W{2, "birch-ply", 6.0});
    CHECK(said("Poplar 3mm x4") == W{4, "poplar", 3.0});
    CHECK(said("wing (qty 3)") == W{3, {}, {}});
    CHECK(said("feet_12x_acrylic_4,5mm") == W{12, "acrylic", 4.5});
    CHECK(said("BIRCH-PLY 1/4in ×2") == W{2, "birch-ply", 6.35});
    CHECK(said("Black card") == W{{}, "black-card", {}});
    CHECK(said("2 pcs") == W{2, {}, {}});
    CHECK(said("0.25 inch").thickness == 6.35);
    // No units, no words, two of a kind, too much.
    for (const char* none :
         {"", "wing", "6", "wing 12", "x", "mm", "0 off", "-3 off", "999999999 off", "900mm", "12.5 off"})
        CHECK(said(none).empty());
    CHECK((said("birch or poplar").empty() && said("birch or poplar").unclear));
    CHECK(said("3mm 6mm 2 off") == W{2, {}, {}, true});
    CHECK(said("2 off 3 off poplar") == W{{}, "poplar", {}, true});
    CHECK(said("6mm 6mm").thickness == 6.0);
}

TEST_CASE("part words: names win over layers, what is not said stays, and copies follow their original") {
    auto job = drawn(fresh(), {{rectangle({0, 0}, {50, 30}), {}}}, "birch 6 mm, 2 off", "wing");
    job = drawn(job, {{rectangle({60, 0}, {90, 30}), {}}}, "birch 6 mm, 2 off", "foot x5");
    job = drawn(job, {{rectangle({100, 0}, {130, 30}), {}}}, "cut", "lamp");
    job = drawn(job, {{circle({20, 15}, 4), {}}}, "birch 6 mm, 2 off", "hole"); // within the wing: it is no part
    artwork::Part facts;
    facts.quantity = 7;
    facts.turns = artwork::Turns::half;
    job = with(job, job::withArtwork(job, artwork::withPart(*job.artwork, {job.artwork->items[0].id}, facts)));
    const auto read = job::withPartWords(job, {}, book());
    REQUIRE(read);
    CHECK(read->parts == 2);
    const auto part = [&](std::size_t i) { return artwork::partOf(*read->job.artwork, read->job.artwork->items[i]); };
    CHECK((part(0).quantity == 2 && part(0).material == "birch-ply" && part(0).thickness == 6));
    CHECK(part(0).turns == artwork::Turns::half);
    CHECK((part(1).quantity == 5 && part(1).thickness == 6));
    CHECK((part(2) == artwork::Part{} && part(3) == artwork::Part{}));
    CHECK(read->told ==
          std::vector<std::string>{"1 part: Birch ply, 6 mm, 2 of each", "1 part: Birch ply, 6 mm, 5 of each"});
    CHECK(job::withPartWords(read->job, {}, book())->parts == 0); // it says nothing new
    const auto torn = drawn(job, {{rectangle({0, 60}, {9, 69}), {}}}, "3mm 6mm", "odd");
    CHECK(job::withPartWords(torn, {}, book())->told.back().find("“3mm 6mm” says two things") == 0);
    CHECK(job::withPartWords(job, {job.artwork->items[2].id}, book())->parts == 0);
}
