#include "cli/common.h"
#include "cli/drawings.h"
#include "formats/hairlines.h"
#include "job/job_file.h"

namespace ferro::cli {

void addConvert(Options& app, int& exit) {
    struct Asked {
        std::string in, out, unit;
        std::vector<std::string> layers, colours;
        double join = 0.01;
        bool lines = false, json = false, strokes = false;
    };
    auto command = app.command("convert", "Write a drawing, or a job's artwork, as SVG or DXF at its exact size.\n"
                                          "Example: ferrograph-cli convert kit.dxf -o kit.svg --layer cut --unit inch");
    auto o = std::make_shared<Asked>();
    command.option("file", o->in, "SVG or DXF drawing, or job").required();
    command.option("-o,--out", o->out, "SVG or DXF file by its ending, - for SVG on standard output").required();
    command.option("--layer", o->layers, "only these; notes only when named");
    command.option("--colour", o->colours, "a layer's colour, as cut=#ff0000");
    command.option("--unit", o->unit, "mm, inch, cm, m or foot, for a drawing that does not say");
    command.option("--join", o->join, "mm between ends of loose lines that belong together (0.01)").range(0.0, 10.0);
    command.flag("--strokes-as-outlines", o->strokes, "of SVG: what is stroked as the area that the stroke covers");
    command.flag("--lines", o->lines, "straight lines in place of curves, within 0.005 mm");
    command.flag("--json", o->json, "tell the layers on standard output");
    command.run([o, &exit] {
        artwork::Artwork art;
        Box page;
        if (isJobFile(o->in)) {
            const auto job = job::load(realDisk(), o->in);
            if (!job) return void(exit = complain(job.problem()));
            art = *job->artwork;
            page = job::sheetOf(job->sheet().stock);
        } else {
            const auto read = readDrawing(o->in, {.unit = o->unit, .strokesAsOutlines = o->strokes});
            if (!read) return void(exit = complain(read.problem()));
            auto added = addedTo({}, *read, o->join);
            page = {{0, 0}, read->size};
            if (!(page.width() > 0 && page.height() > 0)) page = artwork::boundsOf(added.artwork, added.ids);
            art = std::move(added.artwork);
        }
        auto layers = formats::hairlinesOf(art, o->layers);
        if (!layers) return void(exit = complain(layers.problem().within(o->in)));
        for (const auto& colour : o->colours)
            if (auto done = formats::recolour(*layers, colour); !done) return void(exit = complain(done.problem()));
        if (o->lines) formats::straighten(*layers, 0.005);
        if (auto named = checkedName(o->out, {".svg", ".dxf"}); !named) return void(exit = complain(named.problem()));
        const bool dxf = hasEnding(o->out, {".dxf"});
        if (auto done = writeText(o->out, dxf ? formats::dxfOf(*layers) : formats::svgOf(*layers, page)); !done)
            return void(exit = complain(done.problem()));
        if (!o->json) return;
        Json report = Json::array();
        for (const auto& layer : *layers) {
            std::size_t points = 0;
            Box box;
            for (const auto& piece : layer.pieces) points += pointsOf(piece), box.take(boundsOf(piece));
            report.push_back({{"layer", layer.layer},
                              {"colour", layer.colour},
                              {"pieces", layer.pieces.size()},
                              {"points", points},
                              {"bounds", jsonOf(box)}});
        }
        fmt::print(o->out == "-" ? stderr : stdout, "{}\n", report.dump(2));
    });
}

} // namespace ferro::cli
