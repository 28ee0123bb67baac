// The shop book and the house rules by the command line alone, from a taught step to a drawing that gets its steps.
#include "support/shell.h"

using namespace ferro::test;

TEST_CASE("command line: a step is kept as a recipe, rules are made of it, and a drawing gets its steps by them") {
    const Shell shell;
    shouldBe(shell.run("new teach.ferro --machine mill-600 --material poplar --stock 200 150 6"), 0);
    shouldBe(shell.run("edit teach.ferro rectangle 10 10 30 30 cut + step outline Through end-3 + set Through "
                       "depthPerPass=1.5 hold=skin"),
             0);
    shouldBe(shell.run("book keep teach.ferro Through"), 0);
    shouldBe(shell.run("book copy tool end-3 name=Downcut flutes=1"), 0);
    shouldBe(shell.run("book set recipe Through tool=end-3-2"), 0);
    shouldBe(shell.run("book add rule layers=guide*"), 0);
    shouldBe(shell.run("book add rule layers=cut recipes=Through above=5mm"), 0);
    const auto bad = shell.run("book add rule layers=cut recipes=Around");
    shouldBe(bad, 1);
    CHECK(bad.errors.find("Around") != std::string::npos);
    CHECK(shell.run("book list rules").out ==
          "1\tguide*\tnot cut\n2\tcut, above 5 mm\tThrough\nfor arriving drawings: off\n");

    shouldBe(shell.run("new job.ferro --machine mill-600 --material birch-ply --stock 200 150 6"), 0);
    const auto made = shell.run(
        "edit job.ferro rectangle 10 10 60 60 cut + rectangle 90 10 60 60 guides + circle 40 40 3 cut + rules");
    shouldBe(made, 0);
    CHECK(made.errors.find("1 step by the house rules.") != std::string::npos);
    CHECK(made.errors.find("Row 1 (guide*): 1 outline, not cut.") != std::string::npos);
    CHECK(made.errors.find("No row fits 1 outline on “cut”") != std::string::npos);
    CHECK(shell.run("info job.ferro --json").out.find("\"tool\": \"Downcut\"") != std::string::npos);
    CHECK(shell.run("proof job.ferro").exit == 0);

    // Handed to another shop and taken over: nothing is lost, twice adds nothing.
    shouldBe(shell.run("book give pages.json"), 0);
    CHECK(shell.run("book take pages.json").out.find("0 added, 0 replaced") == 0);
    shouldBe(shell.run("book drop rule 1"), 0);
    CHECK(shell.run("book drop recipe Through").exit == 1); // a rule asks for it
    CHECK(shell.run("book take pages.json").out.find("0 recipes, 1 rules") != std::string::npos);
    shouldBe(shell.run("book set arrival on"), 0);
    shouldBe(shell.run("new next.ferro --machine mill-600 --material birch-ply --stock 200 150 6"), 0);
    shouldBe(shell.run("convert job.ferro -o out.svg"), 0);
    CHECK(shell.run("edit next.ferro drawing out.svg").errors.find("by the house rules") != std::string::npos);
    // What the window does to the book, by words.
    shouldBe(shell.run("book add material Cork slitForce=90"), 0);
    CHECK(shell.run("book show material cork").out.find("slitForce=90") != std::string::npos);
    CHECK(shell.run("book copy recipe Through").out == "Through 2\n");
    shouldBe(shell.run("book set rule 1 above=8mm 'recipes=Through, Through 2'"), 0);
    CHECK(shell.run("book list rules").out.find("cut, above 8 mm\tThrough, Through 2") != std::string::npos);
    shouldBe(shell.run("book set rule 1 recipes=Through"), 0);
    shouldBe(shell.run("book prove job.ferro 1 'no fluff'"), 0);
    CHECK(shell.run("book show material birch-ply").out.find("(no fluff)") != std::string::npos);
    shouldBe(shell.run("book forget birch-ply 1"), 0);
    CHECK(shell.run("book show material birch-ply").out.find("proven") == std::string::npos);
    CHECK(shell.run("book forget birch-ply 1").exit == 1);
    shouldBe(shell.run("swatch card.ferro --machine laser-700 --material poplar --stock 120 90 3 --rows power=8..40x4 "
                       "--columns feed=1000..6000x5 --set spacing=0.2mm"),
             0);
    CHECK(shell.run("proof card.ferro").exit == 0);
    const auto kept = shell.run("swatch again.ferro --machine laser-700 --material poplar --stock 120 90 3 --rows "
                                "power=8..40x4 --columns feed=1000..6000x5 --keep");
    shouldBe(kept, 0);
    const std::string key = kept.out.substr(0, kept.out.find('\n'));
    CHECK(key.find("-hatch-poplar") == 10);
    CHECK(shell.run("book list cards").out.find(key) == 0);
    shouldBe(shell.run("book card " + key + " back.ferro"), 0);
    CHECK(shell.run("proof back.ferro").exit == 0);
    shouldBe(shell.run("book drop card " + key), 0);
    CHECK(shell.run("book list cards").out.empty());
    CHECK(shell.run("book card " + key + " back.ferro").exit == 1);
    for (const char* words :
         {"swatch card.ferro --rows power=8..40x4 --columns feed=1..2x3", "swatch c.nc --rows a --columns b",
          "swatch c.ferro --rows power=8..40 --columns feed=1000..2000x3 --machine laser-700"})
        CHECK(shell.run(words).exit == 1);
    // What a picture of it tells: here none of it was burnt.
    shouldBe(shell.run("print card.ferro -o card.png --cut-lines --px-per-mm 8"), 0);
    CHECK(shell.run("pick card.ferro card.png").errors.find("corner marks") != std::string::npos);
    const auto read = shell.run("pick card.ferro card.png --corners 120,600 840,600 840,120 120,120");
    shouldBe(read, 0);
    CHECK(std::count(read.out.begin(), read.out.end(), '\n') == 20);
    CHECK(read.out.find("cell 1-1\tpower 8, feed 1000\tdark") == 0);
    const std::string picked = "pick card.ferro card.png --corners 120,600 840,600 840,120 120,120 --greys ";
    CHECK(shell.run(picked + "2").errors.find("no cell of the card") != std::string::npos);
    CHECK(shell.run(picked + "'power 8, feed 1000'").errors.find("only 0 % darker") != std::string::npos);
    CHECK(shell.run(picked + "900").exit == 1);
    CHECK(shell.run("pick card.ferro card.png --corners 120 840,600 840,120 120,120").exit == 1);
    CHECK(shell.run("pick card.ferro card.png --corners 1,1 2,2").exit == 1);
    // Gauges, and boards on the shelf.
    shouldBe(shell.run("gauge fit.ferro --machine mill-600 --material poplar --stock 300 80 6"), 0);
    CHECK(shell.run("proof fit.ferro").exit == 0);
    shouldBe(shell.run("gauge comb.ferro --kind kerf --machine laser-700 --material poplar --stock 300 80 3"), 0);
    CHECK(shell.run("gauge --kind kerf --measured 98.2 --tool beam").out == "0.18 mm\n");
    CHECK(shell.run("book show tool beam").out.find("diameter=0.18") != std::string::npos);
    CHECK(shell.run("gauge x.ferro --kind depth").exit == 1);
    shouldBe(shell.run("book add board 'Poplar 800' material=poplar width=800 height=500 thickness=6 count=2"), 0);
    shouldBe(shell.run("edit job.ferro board poplar-800"), 0);
    CHECK(shell.run("book list boards").out == "poplar-800\tPoplar 800\town\t800 × 500 × 6 poplar\t2\n");
    CHECK(shell.run("book rest job.ferro").out.find("off-cut\t") == 0);
    CHECK(shell.run("book list boards").out.find("off-cut") != std::string::npos);
    shouldBe(shell.run("edit job.ferro blank none"), 0);
    shouldBe(shell.run("book set tool end-3-2 flutes=2"), 0);
    CHECK(shell.run("edit job.ferro from-book").errors.find("“Flutes” 1, in the book 2") != std::string::npos);
    for (const char* words :
         {"book", "book set tool", "book set tool none a=1", "book show spoon end-3", "book move rule 9 1",
          "book take job.ferro", "book add rule role=sideways", "edit job.ferro recipe None"})
        CHECK(shell.run(words).exit == 1);
}

TEST_CASE(
    "command line: cut to print, rehearsed from the card of the camera to the job that lies where its print does") {
    const Shell shell;
    shouldBe(shell.run("new moons.ferro --machine roll-610 --material film --stock 300 200 0.15"), 0);
    shouldBe(shell.run("edit moons.ferro circle 70 90 60 cut + circle 70 90 30 ink + layer-set ink notes=on "
                       "+ circle 220 110 60 cut + step slit Moons + set Moons layers=cut"),
             0);
    CHECK(shell.run("marks put moons.ferro").out == "7 marks\n");
    shouldBe(shell.run("print moons.ferro -o moons.pdf"), 0);
    shouldBe(shell.run("print moons.ferro -o page.png --px-per-mm 8"), 0);
    CHECK(shell.run("print moons.ferro -o page.svg").exit == 1);
    CHECK(shell.run("marks find moons.ferro page.png").errors.find("camera of “roll-610”") != std::string::npos);
    // A printed card that lies straight, two of its spots told.
    shouldBe(shell.run("marks card card.ferro --machine roll-610 --material film --stock 320 220 0.2"), 0);
    CHECK(shell.run("marks card card.ferro --machine roll-610").exit == 1); // it is there
    shouldBe(shell.run("print card.ferro -o card.png --px-per-mm 8"), 0);
    const std::string eye = " --stands 4 2 0.03 --over 160 110 --sees 390 --px 1300 975 --noise 2";
    shouldBe(shell.run("--page card.png --photo card-seen.png --lies 2 1 0 100 100 0" + eye, "ferrograph-standin"), 0);
    CHECK(shell.run("marks camera card.ferro card-seen.png").errors.find("has to be told") != std::string::npos);
    CHECK(shell.run("marks camera card.ferro card-seen.png --at 999=1,2").exit == 1);
    shouldBe(shell.run("--page card.png --photo near.png --sees 300", "ferrograph-standin"), 0);
    CHECK(shell.run("marks camera card.ferro near.png --at 1=12.5,11.5 --at 9=311.5,11.5").errors.find("on the card") !=
          std::string::npos);
    const auto camera = shell.run("marks camera card.ferro card-seen.png --at 1=12.5,11.5 --at 9=311.5,11.5");
    INFO(camera.errors);
    shouldBe(camera, 0);
    CHECK(camera.out.find("spots, up to 0.0") != std::string::npos);
    shouldBe(shell.run("--page page.png --photo bed.png --lies 5 -2 1 100.3 100 0" + eye, "ferrograph-standin"), 0);
    const auto looked = shell.run("marks find moons.ferro bed.png --look");
    CHECK(looked.out.find("turned 1.0") != std::string::npos);
    CHECK(looked.out.find("100.30") + 1 + (looked.out.find("100.29") + 1) > 0);
    shouldBe(shell.run("marks find moons.ferro bed.png --at 3=none -o cut.ferro"), 0);
    CHECK(shell.run("proof cut.ferro").exit == 0);
    // By hand, and wrong: told, and the job stays as it was.
    CHECK(shell.run("marks at moons.ferro --at 1=30,50").exit == 1);
    const auto off = shell.run("marks at moons.ferro --at 1=0,0 --at 2=100,0 --at 3=0,100");
    CHECK(off.exit == 1);
    CHECK(shell.run("marks at moons.ferro --at 1=x").exit == 1);
    CHECK(shell.run("marks dance moons.ferro").exit == 1);
}

TEST_CASE("command line: a plate for each colour, and what it says of them") {
    const Shell shell;
    shouldBe(shell.run("new w.ferro --machine laser-700 --material black-card --stock 400 260 0.5"), 0);
    shouldBe(shell.run(
                 "edit w.ferro rectangle 80 80 160 60 sea + circle 200 150 60 moon + path 'M 90 180 H 150 V 220 H 90 Z "
                 "M 105 190 H 135 V 210 H 105 Z' hull + layer-set sea colour=#1d4a5f + layer-set moon colour=#e0b84a "
                 "+ layer-set hull colour=#8c3b2a"),
             0);
    CHECK(shell.run("edit w.ferro plates islands=swim").exit == 1);
    CHECK(shell.run("edit w.ferro plates margin=90").errors.find("It takes a sheet of") != std::string::npos);
    const auto parted = shell.run("edit w.ferro plates islands=parted -o parted.ferro");
    shouldBe(parted, 0);
    CHECK(parted.errors.find("plate 4: “hull” again") != std::string::npos);
    const auto left = shell.run("edit w.ferro plates islands=left jig=off -o left.ferro");
    CHECK(left.errors.find("islands that nothing holds: 1") != std::string::npos);
    shouldBe(shell.run("edit w.ferro plates width=3"), 0);
    for (const char* sheet : {"1", "2", "3", "Jig"})
        CHECK(shell.run(std::string("proof w.ferro --sheet ") + sheet).exit == 0);
}
