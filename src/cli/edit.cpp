#include "cli/common.h"
#include "cli/verbs.h"
#include "job/job_file.h"

namespace ferro::cli {

void addEdit(Options& app, int& exit) {
    struct Asked {
        std::string file, out;
        std::vector<std::string> words;
    };
    auto command = app.command("edit", "Change a job; several edits are parted by +.\nExample: ferrograph-cli "
                                       "edit proscenium.ferro circle 60 60 8 holes + step drill Holes drill-8");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("-o,--out", o->out, "write here instead of over the job");
    command.option("verb", o->words, "the edit and its arguments").required();
    command.wordsAtTheEnd();
    std::string help = "Edits:\n";
    for (const auto& verb : verbs()) help += fmt::format("  {} {}\n      {}\n", verb.name, verb.usage, verb.help);
    command.footer(help);
    command.run([o, &exit] {
        // Words may begin with a minus, as -5 does, so everything after the verb comes here, -o too.
        for (auto word = o->words.begin(); word + 1 < o->words.end(); ++word)
            if (*word == "-o" || *word == "--out") {
                o->out = word[1];
                o->words.erase(word, word + 2);
                break;
            }
        auto shop = theShop();
        if (!shop) return void(exit = complain(shop.problem()));
        shop->tell = notice;
        // From reading to writing nobody else changes it: of edits side by side none is lost.
        const auto lock = FileLock::taken(o->file);
        if (!lock) return void(exit = complain(lock.problem()));
        const auto job = job::load(realDisk(), o->file);
        if (!job) return void(exit = complain(job.problem()));
        const auto edited = applied(*job, o->words, *shop);
        if (!edited) return void(exit = complain(edited.problem()));
        if (auto saved = job::save(realDisk(), *edited, o->out.empty() ? o->file : o->out); !saved)
            exit = complain(saved.problem());
    });
}

} // namespace ferro::cli
