#include "base/options.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

namespace ferro {

struct Options::Body {
    std::unique_ptr<CLI::App> own; ///< of the whole line
    CLI::App* app;
};

namespace {

CLI::Option* own(void* option) { return static_cast<CLI::Option*>(option); }

} // namespace

Options::Entry Options::Entry::required() && {
    own(option_)->required();
    return *this;
}
Options::Entry Options::Entry::expected(int count) && {
    own(option_)->expected(count);
    return *this;
}
Options::Entry Options::Entry::range(double low, double high) && {
    own(option_)->check(CLI::Range(low, high));
    return *this;
}
Options::Entry Options::Entry::oneOf(std::vector<std::string> words) && {
    own(option_)->check(CLI::IsMember(std::move(words)));
    return *this;
}

Options::Options(std::string about, std::string program)
    : body_(std::make_unique<Body>(Body{std::make_unique<CLI::App>(std::move(about), std::move(program)), nullptr})) {
    body_->app = body_->own.get();
}
Options::Options(std::unique_ptr<Body> body) : body_(std::move(body)) {}
Options::Options(Options&&) noexcept = default;
Options::~Options() = default;

Options Options::command(std::string name, std::string about) {
    body_->app->require_subcommand(1);
    return Options(
        std::make_unique<Body>(Body{nullptr, body_->app->add_subcommand(std::move(name), std::move(about))}));
}

template<class T> Options::Entry Options::declared(std::string names, T& into, std::string help) {
    return Entry(body_->app->add_option(std::move(names), into, std::move(help)));
}
Options::Entry Options::option(std::string names, std::string& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, double& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, int& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, std::size_t& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, std::optional<double>& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, std::optional<int>& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, std::vector<std::string>& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}
Options::Entry Options::option(std::string names, std::vector<double>& into, std::string help) {
    return declared(std::move(names), into, std::move(help));
}

void Options::flag(std::string names, bool& into, std::string help) {
    body_->app->add_flag(std::move(names), into, std::move(help));
}
void Options::version(std::string number) { body_->app->set_version_flag("--version", std::move(number)); }
void Options::footer(std::string text) { body_->app->footer(std::move(text)); }
void Options::wordsAtTheEnd() {
    body_->app->positionals_at_end();
    body_->app->prefix_command(false);
}
void Options::run(std::function<void()> what) { body_->app->callback(std::move(what)); }

std::optional<int> Options::take(int argc, const char* const* argv) {
    try {
        body_->app->parse(argc, argv);
        return std::nullopt;
    } catch (const CLI::CallForHelp& help) { return body_->app->exit(help); } catch (const CLI::CallForAllHelp& help) {
        return body_->app->exit(help);
    } catch (const CLI::CallForVersion& version) {
        return body_->app->exit(version);
    } catch (const CLI::ParseError& error) {
        fmt::print(stderr, "{}: {}\nTry --help.\n", body_->app->get_name(), error.what());
        return 1;
    }
}

} // namespace ferro
