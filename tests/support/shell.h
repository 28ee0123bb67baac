#pragma once

#include "support/failing_disk.h"

#include <csignal>
#include <fmt/format.h>
#include <sys/wait.h>
#include <thread>

namespace ferro::test {

struct Answer {
    int exit = -1;
    std::string out, errors;
};

/// Runs a program of ours in a folder of its own. Words go through the shell, so quote what has spaces.
class Shell {
public:
    Shell() { std::filesystem::create_directories(folder.path / "data"); }
    Answer run(const std::string& words, const std::string& program = "ferrograph-cli") const {
        const std::string line = fmt::format("cd '{}' && XDG_DATA_HOME=data timeout 300 {}/{} {} >out.txt 2>errors.txt",
                                             folder.path.string(), FERRO_BIN, program, words);
        const int status = std::system(line.c_str());
        return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, text("out.txt"), text("errors.txt")};
    }
    [[nodiscard]] std::string text(const std::string& name) const {
        const auto bytes = realDisk().read(folder.path / name);
        return bytes ? *bytes : "";
    }
    /// Waits at most ten seconds for a file to be there.
    void waitFor(const std::string& name) const {
        for (int i = 0; i < 200 && !std::filesystem::exists(file(name)); ++i)
            std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    [[nodiscard]] std::filesystem::path file(const std::string& name) const { return folder.path / name; }
    test::TemporaryFolder folder;
};

/// A program that runs beside the test and ends with it.
class Beside {
public:
    Beside(const std::string& program, std::vector<std::string> words) : pid_(::fork()) {
        if (pid_ != 0) return;
        std::vector<char*> argv;
        words.insert(words.begin(), program);
        for (auto& word : words) argv.push_back(word.data());
        argv.push_back(nullptr);
        (void)std::freopen("/dev/null", "w", stdout);
        ::execv(program.c_str(), argv.data());
        ::_exit(127);
    }
    ~Beside() {
        ::kill(pid_, SIGTERM);
        ::waitpid(pid_, nullptr, 0);
    }
    Beside(const Beside&) = delete;
    Beside& operator=(const Beside&) = delete;

private:
    pid_t pid_;
};

inline void shouldBe(const Answer& answer, int exit) {
    INFO("out: " << answer.out << "\nerrors: " << answer.errors);
    REQUIRE(answer.exit == exit);
}

/// A plate with a hole on poplar, planned for the bench mill.
inline void makePlate(const Shell& shell) {
    shouldBe(shell.run("new plate.ferro --machine mill-600 --material poplar --stock 200 150 6"), 0);
    shouldBe(shell.run("edit plate.ferro stock spacer=3 + rectangle 30 30 100 60 panel 5 + circle 60 60 8 holes "
                       "+ step drill Holes drill-8 + step outline Edges end-6 + set Edges layers=panel"),
             0);
}

} // namespace ferro::test
