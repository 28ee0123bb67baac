#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ferro {

/// What a command line may hold, declared and taken; the library for it is included in one unit only.
/// Names are as typed: `-o,--out`, or a bare word for what comes by its place. What is declared is written to the
/// variables when the line is taken; they must live until then.
class Options {
public:
    class Entry {
    public:
        Entry required() &&;
        /// As many words as this, no more and no fewer.
        Entry expected(int count) &&;
        Entry range(double low, double high) &&;
        Entry oneOf(std::vector<std::string> words) &&;

    private:
        friend Options;
        explicit Entry(void* option) : option_(option) {}
        void* option_; ///< the library's, which lives as long as the whole
    };

    Options(std::string about, std::string program);
    Options(Options&&) noexcept;
    ~Options();

    /// A command among several; it must be given.
    [[nodiscard]] Options command(std::string name, std::string about);
    Entry option(std::string names, std::string& into, std::string help = {});
    Entry option(std::string names, double& into, std::string help = {});
    Entry option(std::string names, int& into, std::string help = {});
    Entry option(std::string names, std::size_t& into, std::string help = {});
    Entry option(std::string names, std::optional<double>& into, std::string help = {});
    Entry option(std::string names, std::optional<int>& into, std::string help = {});
    Entry option(std::string names, std::vector<std::string>& into, std::string help = {});
    Entry option(std::string names, std::vector<double>& into, std::string help = {});
    void flag(std::string names, bool& into, std::string help = {});
    void version(std::string number);
    /// Said at the end of the help.
    void footer(std::string text);
    /// What comes by its place ends the options: everything after it is words, also what begins with a minus.
    void wordsAtTheEnd();
    /// What is to be done when this command was given.
    void run(std::function<void()> what);

    /// Takes the line and does what was asked. The program's exit code if it ends with that: 0 after help or version
    /// was shown, 1 after a line that cannot be understood, which is said on standard error.
    [[nodiscard]] std::optional<int> take(int argc, const char* const* argv);

private:
    struct Body;
    explicit Options(std::unique_ptr<Body> body);
    template<class T> Entry declared(std::string names, T& into, std::string help);
    std::unique_ptr<Body> body_;
};

} // namespace ferro
