#include "link/resume.h"

#include <charconv>

namespace ferro::link {

namespace {

std::vector<std::string_view> linesOf(std::string_view text) {
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        if (line.ends_with('\r')) line.remove_suffix(1);
        lines.push_back(line);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

} // namespace

Result<Resumption> resumed(std::string_view text, long doneLine, const program::Dialect& dialect,
                           const program::ReadOptions& options, double plunge) {
    const auto lines = linesOf(text);
    program::Interpreter reader(options.interpreter);
    reader.setPosition({0, 0, options.startHeight - options.frame.z});
    // The state before each line that moves; the one to start with is the last of them that was done.
    struct Before {
        long line = 0;
        program::Interpreter::Modes modes;
        toolpath::Vec3 at;
    };
    std::optional<Before> begin;
    bool anyLeft = false;
    for (long i = 1; i <= static_cast<long>(lines.size()); ++i) {
        const Before before{i, reader.modes(), reader.position()};
        auto line = reader.read(lines[static_cast<std::size_t>(i - 1)]);
        if (!line) return line.problem().within(fmt::format("line {}", i));
        const bool cuts = std::any_of(line->moves.begin(), line->moves.end(),
                                      [](const auto& m) { return m.kind != toolpath::Move::Kind::rapid; });
        if (line->moves.empty()) continue;
        if (i > doneLine) anyLeft = true;
        if (i <= doneLine || !begin) begin = before;
        if (i > doneLine && cuts) break;
    }
    if (!anyLeft || !begin)
        return Problem{.what = "The program was finished; nothing is left to resume.", .where = {}, .mend = {}};
    // Start over from the beginning when nothing but the way in was done.
    auto number = [&](double mmValue, int decimals) {
        std::string out;
        program::appendNumber(out, mmValue / (begin->modes.inch ? mmPerInch : 1), decimals);
        return out;
    };
    Resumption out{.text = {}, .fromLine = begin->line, .entry = begin->at};
    const auto put = [&](const std::string& line) { out.text += line + "\n"; };
    const double travel = options.startHeight - options.frame.z;
    put(begin->modes.inch ? "G20" : "G21");
    put("G90");
    put("G17");
    if (!dialect.beam) put("G0 Z" + number(travel, dialect.decimals));
    if (begin->modes.tool > 0 && !dialect.beam) put(fmt::format("T{} M6", begin->modes.tool));
    if (begin->modes.spindle != 5) {
        put(fmt::format("M{} S{}", begin->modes.spindle, dialect.beam ? 0 : static_cast<long>(begin->modes.speed)));
        if (!dialect.beam) put("G4 P2");
    }
    put(fmt::format("G0 X{} Y{}", number(begin->at.x, dialect.decimals), number(begin->at.y, dialect.decimals)));
    if (!dialect.beam && begin->at.z < travel)
        put(fmt::format("G1 Z{} F{}", number(begin->at.z, dialect.decimals), number(plunge, 1)));
    // The rest is taken word by word from the program; its first line must not lean on modes that are gone.
    if (begin->modes.plane != 17) put(fmt::format("G{}", begin->modes.plane));
    if (!begin->modes.absolute) put("G91");
    std::string first(lines[static_cast<std::size_t>(begin->line - 1)]);
    const auto has = [&](char letter) {
        bool remark = false;
        for (const char c : first) {
            if (c == '(')
                remark = true;
            else if (c == ')')
                remark = false;
            else if (c == ';')
                break;
            else if (!remark && std::toupper(static_cast<unsigned char>(c)) == letter)
                return true;
        }
        return false;
    };
    if (begin->modes.feed > 0 && !has('F')) first = fmt::format("F{} {}", number(begin->modes.feed, 3), first);
    if (dialect.beam && !has('S')) first = fmt::format("S{} {}", static_cast<long>(begin->modes.speed), first);
    bool motionWord = false;
    for (std::size_t i = 0; i + 1 < first.size(); ++i)
        if (std::toupper(static_cast<unsigned char>(first[i])) == 'G' && first[i + 1] >= '0' && first[i + 1] <= '3' &&
            (i + 2 >= first.size() || !std::isdigit(static_cast<unsigned char>(first[i + 2]))))
            motionWord = true;
    if (!motionWord && begin->modes.motion < 73) first = fmt::format("G{} {}", begin->modes.motion, first);
    put(first);
    for (std::size_t i = static_cast<std::size_t>(begin->line); i < lines.size(); ++i) put(std::string(lines[i]));
    return out;
}

long doneLineOf(std::string_view log) {
    long done = 0;
    for (const auto line : linesOf(log)) {
        const auto at = line.rfind("done ");
        if (at == std::string_view::npos) continue;
        long number = 0;
        const auto [stop, error] = std::from_chars(line.data() + at + 5, line.data() + line.size(), number);
        if (error == std::errc{} && number > done) done = number;
    }
    return done;
}

} // namespace ferro::link
