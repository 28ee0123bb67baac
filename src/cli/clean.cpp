#include "cli/common.h"
#include "cli/trace_words.h"

namespace ferro::cli {

void addClean(Options& app, int& exit) {
    struct Asked {
        std::string picture, out;
        std::vector<std::string> steps;
        double width = 0;
        bool json = false;
    };
    auto command = app.command("clean", "Clean a picture up before it is traced; lengths are mm from its lower left.\n"
                                        "Example: ferrograph-cli clean photo.jpg even-light straighten=1.5 "
                                        "despeckle=0.3 -o photo.png --width 180");
    auto o = std::make_shared<Asked>();
    command.option("picture", o->picture).required();
    command
        .option("steps", o->steps,
                "crop=X,Y,W,H straighten=DEG tone=BRIGHT,CONTRAST even-light[=MM] black-white=LEVEL invert "
                "despeckle=MM2 smooth=MM erase=MM:X,Y;X,Y draw=MM:X,Y;X,Y")
        .required();
    command.option("-o,--out", o->out, "PNG file").required();
    command.option("--width", o->width, "mm; without it the picture's own size").range(0.1, 10000.0);
    command.flag("--json", o->json, "tell size, place and quality on standard output");
    command.run([o, &exit] {
        const auto picture = picture::load(o->picture);
        if (!picture) return void(exit = complain(picture.problem()));
        const double pxPerMm =
            o->width > 0 ? picture->width / o->width : picture->pxPerMm.value_or(picture->width / 200.0);
        std::vector<picture::CleanStep> steps;
        for (const auto& word : o->steps) {
            auto step = cleanStepFrom(word, Units::mm);
            if (!step) return void(exit = complain(step.problem()));
            steps.push_back(std::move(*step));
        }
        ShownProgress shown("cleaning up");
        const auto out = picture::cleaned(*picture, steps, pxPerMm, shown.progress);
        if (!out) return void(exit = complain(out.problem()));
        if (auto done = writeText(o->out, picture::toPng(out->picture, pxPerMm)); !done)
            return void(exit = complain(done.problem()));
        const auto& made = out->picture;
        if (!o->json) return fmt::print("{} × {} px at {:.2f} px/mm\n", made.width, made.height, pxPerMm);
        const Json report{{"width", made.width / pxPerMm},
                          {"height", made.height / pxPerMm},
                          {"pixels", {made.width, made.height}},
                          {"pxPerMm", pxPerMm},
                          {"low", {out->low.x, out->low.y}}, // of the original's lower left, mm
                          {"quality", picture::wordsFor(picture::qualityOf(picture::greyOf(made), pxPerMm))}};
        fmt::print("{}\n", report.dump(2));
    });
}

} // namespace ferro::cli
