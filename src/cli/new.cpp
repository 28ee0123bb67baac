#include "cli/common.h"
#include "job/job_file.h"
#include "shop/own.h"

namespace ferro::cli {

void addNew(Options& app, int& exit) {
    struct Asked {
        std::string file, name;
        BenchAsked bench;
        bool force = false;
    };
    auto command = app.command("new", "Make a job.\nExample: ferrograph-cli new proscenium.ferro --machine "
                                      "mill-600 --material birch-ply --stock 600 400 12");
    auto o = std::make_shared<Asked>();
    command.option("file", o->file).required();
    addBench(command, o->bench);
    command.option("--name", o->name);
    command.flag("--force", o->force, "write over a file that is there");
    command.run([o, &exit] {
        if (auto may = checkedFresh(o->file, o->force); !may) return void(exit = complain(may.problem()));
        const auto book = shop::openBook(realDisk());
        if (!book) return void(exit = complain(book.problem()));
        auto job = benchOf(o->bench, *book);
        if (!job) return void(exit = complain(job.problem()));
        job->name = o->name.empty() ? std::filesystem::path(o->file).stem().string() : o->name;
        if (auto saved = job::save(realDisk(), *job, o->file); !saved) exit = complain(saved.problem());
    });
}

} // namespace ferro::cli
