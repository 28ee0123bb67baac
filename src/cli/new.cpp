#include "cli/common.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "shop/own.h"

namespace ferro::cli {

void addNew(Options& app, int& exit) {
    struct Asked {
        std::string file, machine, material, name;
        double width = 0, height = 0, thickness = 0;
        bool force = false;
    };
    auto command = app.command("new", "Make a job.\nExample: ferrograph-cli new proscenium.ferro --machine "
                                      "mill-600 --material birch-ply --stock 600 400 12");
    auto o = std::make_shared<Asked>();
    auto stock = std::make_shared<std::vector<double>>();
    command.option("file", o->file).required();
    command.option("--machine", o->machine, "key in the shop book");
    command.option("--material", o->material, "key in the shop book");
    command.option("--stock", *stock, "width height thickness, mm").expected(3);
    command.option("--name", o->name);
    command.flag("--force", o->force, "write over a file that is there");
    command.run([o, stock, &exit] {
        if (!isJobFile(o->file))
            return void(exit =
                            complain({.what = "A job file ends in .ferro.", .where = o->file, .mend = "Name it so."}));
        if (!o->force && std::filesystem::exists(o->file))
            return void(exit = complain({.what = "The file is there already.",
                                         .where = o->file,
                                         .mend = "Choose another name, or say --force."}));
        const auto book = shop::openBook(realDisk());
        if (!book) return void(exit = complain(book.problem()));
        auto job = job::freshJob(*book, o->machine, o->material);
        if (job && !stock->empty()) {
            job::Stock sheet = job->sheet().stock;
            sheet.width = (*stock)[0], sheet.height = (*stock)[1], sheet.thickness = (*stock)[2];
            job = job::withStock(*job, sheet);
        }
        if (!job) return void(exit = complain(job.problem()));
        job->name = o->name.empty() ? std::filesystem::path(o->file).stem().string() : o->name;
        if (auto saved = job::save(realDisk(), *job, o->file); !saved) exit = complain(saved.problem());
    });
}

} // namespace ferro::cli
