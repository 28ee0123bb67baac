#include "cli/common.h"

#include <csignal>
#include <system_error>

int main(int argc, char** argv) {
    using namespace ferro::cli;
    ferro::Options app("Ferrograph on the command line: everything the window does to a job, with the same results.\n"
                       "Exit codes: 0 fine, 1 bad input, 2 no-go.",
                       "ferrograph-cli");
    std::signal(SIGPIPE, SIG_IGN); // a reader that has gone is an answer that could not be given, not our end
    app.version(FERRO_VERSION);
    int exit = fine;
    for (const auto& add :
         {addInfo,   addClean, addTrace, addMend, addBridge, addText, addConvert, addNew,  addEdit,  addBook,
          addSwatch, addGauge, addKit,   addMap,  addMarks,  addNest, addParts,   addPick, addPrint, addReach,
          addSetup,  addProof, addWrite, addRun,  addDump,   addLie,  addFeel,    addEdge})
        add(app, exit);
    try {
        if (const auto ended = app.take(argc, argv)) return *ended;
    } catch (const std::system_error&) { // of printing: a full disk, a closed pipe
        return complain({.what = "The answer could not be written.", .where = {}, .mend = "Make room for it."});
    } catch (const std::bad_alloc&) {
        return complain({.what = "The memory does not suffice for this.", .where = {}, .mend = "Use a smaller file."});
    }
    if (std::fflush(stdout) != 0 || std::ferror(stdout))
        return complain({.what = "The answer could not be written.", .where = {}, .mend = "Make room for it."});
    return exit;
}
