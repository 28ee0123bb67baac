#pragma once

#include "base/disk.h"
#include "base/json.h"
#include "base/options.h"
#include "base/progress.h"
#include "proof/proof.h"

namespace ferro::cli {

/// What the program answers to the shell.
enum Exit : int { fine = 0, badInput = 1, noGo = 2 };

/// Declares a command and what it runs; the answer is kept for main().
using Command = std::function<void(Options&, int& exit)>;
void addInfo(Options& app, int& exit);
void addTrace(Options& app, int& exit);
void addNew(Options& app, int& exit);
void addEdit(Options& app, int& exit);
void addBook(Options& app, int& exit);
void addGauge(Options& app, int& exit);
void addSwatch(Options& app, int& exit);
void addProof(Options& app, int& exit);
void addFeel(Options& app, int& exit);
void addEdge(Options& app, int& exit);
void addKit(Options& app, int& exit);
void addLie(Options& app, int& exit);
void addMap(Options& app, int& exit);
void addMarks(Options& app, int& exit);
void addNest(Options& app, int& exit);
void addParts(Options& app, int& exit);
void addPick(Options& app, int& exit);
void addPrint(Options& app, int& exit);
void addReach(Options& app, int& exit);
void addSetup(Options& app, int& exit);
void addWrite(Options& app, int& exit);
void addRun(Options& app, int& exit);
void addMend(Options& app, int& exit);
void addBridge(Options& app, int& exit);
void addText(Options& app, int& exit);
void addClean(Options& app, int& exit);
void addConvert(Options& app, int& exit);
void addDump(Options& app, int& exit);

/// Says a problem on standard error, without what a file may have put into it for the terminal, and answers badInput.
int complain(const Problem& problem);
void notice(const std::string& text);

/// A progress that shows itself on standard error: a line that is rewritten on a terminal, a line each tenth elsewhere.
class ShownProgress {
public:
    explicit ShownProgress(std::string what);
    ~ShownProgress();
    Progress progress;

private:
    std::string what_;
    bool terminal_;
    std::atomic<int> shown_ = -1;
};

/// Whether no no-go stands; says those that do on standard error.
[[nodiscard]] bool mayBeWritten(const proof::Proof& proof);
/// Endings in any case; given in small letters.
[[nodiscard]] bool hasEnding(std::string_view file, std::initializer_list<std::string_view> endings);
/// Whether a name says the format that will be written; “-” does.
[[nodiscard]] Result<void> checkedName(std::string_view out, std::initializer_list<std::string_view> endings);
/// The job of a file with a sheet of it laid out, by name or number; empty: the one that was at hand.
[[nodiscard]] Result<job::Job> jobAt(const std::string& file, const std::string& sheet);
/// What is worked on: a job's machine, tools and sheets where one is named, else fresh on these of the book; with the
/// sheet of this width, height and thickness, if those are given.
struct BenchAsked {
    std::string jobFile, machine, material;
    std::vector<double> stock;
};
/// Declares --machine, --material and --stock.
void addBench(Options& command, BenchAsked& asked);
[[nodiscard]] Result<job::Job> benchOf(const BenchAsked& asked, const shop::Book& book);
/// Whether a job may be written to a file of this name: the name ends so, and none is there, unless it may be replaced.
[[nodiscard]] Result<void> checkedFresh(const std::string& file, bool force);
[[nodiscard]] bool isJobFile(const std::string& file);
[[nodiscard]] Json jsonOf(const Box& box);
[[nodiscard]] Json jsonOf(const std::vector<proof::Finding>& findings, const job::Job& job);
[[nodiscard]] Result<void> writeText(const std::string& file, std::string_view text);

} // namespace ferro::cli
