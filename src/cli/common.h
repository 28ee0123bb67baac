#pragma once

#include "base/disk.h"
#include "base/progress.h"
#include "proof/proof.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

namespace ferro::cli {

/// What the program answers to the shell.
enum Exit : int { fine = 0, badInput = 1, noGo = 2 };

/// Declares a command and what it runs; the answer is kept for main().
using Command = std::function<void(CLI::App&, int& exit)>;
void addInfo(CLI::App& app, int& exit);
void addTrace(CLI::App& app, int& exit);
void addNew(CLI::App& app, int& exit);
void addEdit(CLI::App& app, int& exit);
void addProof(CLI::App& app, int& exit);
void addWrite(CLI::App& app, int& exit);
void addRun(CLI::App& app, int& exit);
void addMend(CLI::App& app, int& exit);
void addBridge(CLI::App& app, int& exit);
void addText(CLI::App& app, int& exit);
void addClean(CLI::App& app, int& exit);
void addConvert(CLI::App& app, int& exit);
void addDump(CLI::App& app, int& exit);

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
[[nodiscard]] bool isJobFile(const std::string& file);
[[nodiscard]] nlohmann::json jsonOf(const Box& box);
[[nodiscard]] nlohmann::json jsonOf(const std::vector<proof::Finding>& findings, const job::Job& job);
[[nodiscard]] Result<void> writeText(const std::string& file, std::string_view text);

} // namespace ferro::cli
