#include "cli/common.h"
#include "formats/svg.h"
#include "formats/svg_in.h"
#include "job/job_file.h"

namespace ferro::cli {

void addConvert(CLI::App& app, int& exit) {
    struct Options {
        std::string in, out;
        std::vector<std::string> layers;
    };
    auto* command = app.add_subcommand("convert", "Write a drawing, or a job's artwork, as SVG at its exact size.\n"
                                                  "Example: ferrograph-cli convert kit.ferro -o kit.svg --layer cut");
    auto o = std::make_shared<Options>();
    command->add_option("file", o->in, "SVG drawing or job")->required();
    command->add_option("-o,--out", o->out, "SVG file, - for standard output")->required();
    command->add_option("--layer", o->layers, "only these");
    command->callback([o, &exit] {
        artwork::Artwork art;
        Box page;
        if (isJobFile(o->in)) {
            const auto job = job::load(realDisk(), o->in);
            if (!job) return void(exit = complain(job.problem()));
            art = *job->artwork;
            page = {{0, 0}, {job->stock.width, job->stock.height}};
        } else {
            const auto text = realDisk().read(o->in);
            if (!text) return void(exit = complain(text.problem()));
            const auto drawing = formats::drawingFromSvg(*text);
            if (!drawing) return void(exit = complain(drawing.problem().within(o->in)));
            for (const auto& n : drawing->notices) notice(n.text);
            art = formats::withDrawing({}, *drawing).artwork;
            page = {{0, 0}, drawing->size};
        }
        auto layers = formats::hairlinesOf(art);
        for (const auto& name : o->layers)
            if (std::none_of(layers.begin(), layers.end(), [&](const auto& layer) { return layer.layer == name; }))
                return void(exit = complain({.what = fmt::format("There is no layer “{}” with pieces.", name),
                                             .where = o->in,
                                             .mend = "ferrograph-cli info lists the layers of a job."}));
        if (!o->layers.empty())
            std::erase_if(layers, [&](const auto& layer) {
                return std::find(o->layers.begin(), o->layers.end(), layer.layer) == o->layers.end();
            });
        if (auto done = writeText(o->out, formats::svgOf(layers, page)); !done) exit = complain(done.problem());
    });
}

} // namespace ferro::cli
