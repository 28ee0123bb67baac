#include "cli/common.h"

#include "job/job_file.h"
#include "job/sheets.h"

#include <unistd.h>

namespace ferro::cli {

namespace {

/// A line for a terminal: no control characters, and a few lines long at most, whatever a file has put into it.
std::string harmless(std::string text) {
    constexpr std::size_t most = 600;
    for (char& c : text)
        if (static_cast<unsigned char>(c) < 0x20 || c == 0x7f) c = ' ';
    // The second set of controls, U+0080 to U+009F, in UTF-8.
    for (auto at = text.find('\xc2'); at != std::string::npos; at = text.find('\xc2', at + 1))
        if (at + 1 < text.size() && static_cast<unsigned char>(text[at + 1]) < 0xa0) text.replace(at, 2, "  ");
    if (text.size() > most) {
        text.resize(most);
        while (!text.empty() && (text.back() & 0x80)) text.pop_back(); // not in the middle of a letter
        text += " …";
    }
    return text;
}

} // namespace

int complain(const Problem& problem) {
    fmt::print(stderr, "ferrograph-cli: {}\n", harmless(problem.text()));
    return badInput;
}

Result<void> checkedName(std::string_view out, std::initializer_list<std::string_view> endings) {
    if (out == "-" || hasEnding(out, endings)) return {};
    std::string known;
    for (const auto ending : endings) known += fmt::format("{}{}", known.empty() ? "" : " or ", ending);
    return Problem{.what = fmt::format("“{}” does not end in {}, which is what is written here.", out, known),
                   .where = "-o",
                   .mend = "Name it by what it will be."};
}

bool hasEnding(std::string_view file, std::initializer_list<std::string_view> endings) {
    return std::any_of(endings.begin(), endings.end(), [&](std::string_view ending) {
        return file.size() > ending.size() &&
               std::equal(ending.begin(), ending.end(), file.end() - static_cast<std::ptrdiff_t>(ending.size()),
                          [](char a, char b) { return a == std::tolower(static_cast<unsigned char>(b)); });
    });
}

void notice(const std::string& text) { fmt::print(stderr, "note: {}\n", harmless(text)); }

ShownProgress::ShownProgress(std::string what)
    : progress([this](double fraction) {
          const int step = static_cast<int>(fraction * (terminal_ ? 100 : 10));
          int before = shown_;
          if (step <= before || !shown_.compare_exchange_strong(before, step)) return;
          if (terminal_)
              fmt::print(stderr, "\r{} {:3.0f} %", what_, fraction * 100);
          else
              fmt::print(stderr, "{} {:.0f} %\n", what_, fraction * 100);
      }),
      what_(std::move(what)), terminal_(::isatty(2)) {}

ShownProgress::~ShownProgress() {
    if (terminal_ && shown_ >= 0) fmt::print(stderr, "\n");
}

bool mayBeWritten(const proof::Proof& proof) {
    for (const auto& f : proof.findings)
        if (f.verdict == Verdict::noGo) fmt::print(stderr, "no-go: {} {}\n", f.what, f.mend);
    return proof.mayRun();
}

Result<job::Job> jobAt(const std::string& file, const std::string& sheet) {
    auto job = job::load(realDisk(), file);
    if (!job || sheet.empty()) return job;
    const auto named = job::sheetNamed(*job, sheet);
    if (!named) return named.problem();
    return job::atSheet(*job, *named);
}
bool isJobFile(const std::string& file) { return hasEnding(file, {".ferro"}); }

Json jsonOf(const Box& box) {
    if (box.empty()) return nullptr;
    return {{"x", box.low.x}, {"y", box.low.y}, {"width", box.width()}, {"height", box.height()}};
}

Json jsonOf(const std::vector<proof::Finding>& findings, const job::Job& job) {
    auto list = Json::array();
    for (const auto& f : findings) {
        Json entry{{"verdict", proof::verdictName(f.verdict)}, {"what", f.what}, {"mend", f.mend}};
        if (f.at) entry["at"] = {f.at->x, f.at->y};
        if (const auto* step = plan::find(job.plan, f.step)) entry["step"] = step->name;
        if (f.item) entry["item"] = f.item.value;
        if (f.fix) entry["fix"] = f.fix->label;
        list.push_back(std::move(entry));
    }
    return list;
}

Result<void> writeText(const std::string& file, std::string_view text) {
    if (file == "-") {
        fmt::print("{}", text);
        return {};
    }
    return writeAtomically(realDisk(), file, text);
}

void addBench(Options& command, BenchAsked& asked) {
    command.option("--machine", asked.machine, "key in the shop book");
    command.option("--material", asked.material, "key in the shop book");
    command.option("--stock", asked.stock, "width height thickness, mm").expected(3);
}

Result<job::Job> benchOf(const BenchAsked& asked, const shop::Book& book) {
    auto job = asked.jobFile.empty() ? job::freshJob(book, asked.machine, asked.material)
                                     : job::load(realDisk(), asked.jobFile);
    if (!job || asked.stock.empty()) return job;
    auto stock = job->sheet().stock;
    stock.width = asked.stock[0], stock.height = asked.stock[1], stock.thickness = asked.stock[2];
    return job::withStock(*job, stock);
}

Result<void> checkedFresh(const std::string& file, bool force) {
    if (!isJobFile(file)) return Problem{.what = "A job file ends in .ferro.", .where = file, .mend = "Name it so."};
    if (!force && std::filesystem::exists(file))
        return Problem{
            .what = "The file is there already.", .where = file, .mend = "Choose another name, or say --force."};
    return {};
}

} // namespace ferro::cli
