#include "program/dialect.h"

#include "base/json_members.h"
#include "base/keyed_files.h"

#include <algorithm>

namespace ferro::program {

namespace {

constexpr std::array<std::string_view, 2> unitsWords = {"mm", "inch"};
enum class UnitsWord { mm, inch };
constexpr const auto& wordsOf(UnitsWord) { return unitsWords; }
enum class ProcessWord { rotary, beam, blade };
constexpr const auto& wordsOf(ProcessWord) { return shop::processNames; }

} // namespace

template<class Io> void members(Io& io, Dialect& d) {
    UnitsWord units = d.units == Units::mm ? UnitsWord::mm : UnitsWord::inch;
    io("key", d.key)("title", d.title)("units", units)("arcs", d.arcs)("byRadius", d.byRadius);
    io("chord", d.chord)("largestArc", d.largestArc)("lineNumbers", d.lineNumbers);
    io("decimals", d.decimals)("feedDecimals", d.feedDecimals)("cycles", d.cycles)("modal", d.modal);
    auto process = static_cast<ProcessWord>(d.process);
    io("process", process);
    d.process = static_cast<shop::Process>(process);
    if constexpr (Io::reads) { // before there were blades
        bool beam = d.beam();
        io("beam", beam);
        if (beam) d.process = shop::Process::beam;
    }
    io("plotter", d.plotter)("perMm", d.perMm);
    io("beamScale", d.beamScale)("ending", d.ending)("comment", d.comment)("header", d.header);
    io("toolChange", d.toolChange)("start", d.start)("stop", d.stop)("pause", d.pause)("footer", d.footer);
    io("air", d.air)("airOff", d.airOff)("pierce", d.pierce)("heights", d.heights);
    io("turn", d.turn)("wear", d.wear);
    d.units = units == UnitsWord::mm ? Units::mm : Units::inch;
}

namespace {

constexpr std::string_view mendDialect = "Correct the dialect file; docs/dialects.md lists its members.";

Result<void> checked(const Dialect& dialect) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::string(mendDialect)};
    };
    if (dialect.decimals < 2 || dialect.decimals > 6 || dialect.feedDecimals < 0 || dialect.feedDecimals > 6)
        return bad("decimals must be 2 to 6 for coordinates and 0 to 6 for feeds.");
    // A step of the last digit has to stay far below the promised 0.01 mm.
    if (dialect.units == Units::inch && dialect.decimals < 4) return bad("inch programs need at least 4 decimals.");
    if (!(dialect.chord >= 0.0005 && dialect.chord <= 0.5) || !(dialect.beamScale > 0 && dialect.beamScale < 1e6))
        return bad("chord or beamScale is out of range.");
    if (!(dialect.largestArc >= 10 && dialect.largestArc <= 20'000))
        return bad("largestArc must be 10 to 20000 mm."); // beyond, a rounded centre bends the arc
    if (dialect.plotter && dialect.process != shop::Process::blade)
        return bad("only a blade's dialect can be for a plotter.");
    if (!(dialect.perMm >= 10 && dialect.perMm <= 10'000)) return bad("perMm must be 10 to 10000 steps a millimetre.");
    if (dialect.air.empty() != dialect.airOff.empty()) return bad("air and airOff go together.");
    if (!dialect.beam() && (dialect.heights || !dialect.air.empty() || !dialect.pierce.empty()))
        return bad("heights, air and pierce are a beam's.");
    const bool turns = dialect.turn == "A" || dialect.turn == "B" || dialect.turn == "C";
    if (!dialect.turn.empty() && (!turns || dialect.process != shop::Process::blade || dialect.plotter))
        return bad("turn is A, B or C, and a blade's.");
    if (dialect.wear && dialect.process != shop::Process::rotary) return bad("wear is a cutter's.");
    if (dialect.lineNumbers < 0 || dialect.lineNumbers > 1000) return bad("lineNumbers must be 0 to 1000.");
    if (dialect.ending.empty() || dialect.ending.find('/') != std::string::npos)
        return bad("ending must be a plain file ending.");
    if (!dialect.comment.empty() && dialect.comment.find("{}") == std::string::npos)
        return bad("comment needs a {} for the remark.");
    return {};
}

} // namespace

Result<Dialect> dialectFromText(std::string_view text) {
    return json_members::readJson<Result<Dialect>>(text, std::string(mendDialect),
                                                   [](const json_members::json& all) -> Result<Dialect> {
                                                       Dialect dialect;
                                                       json_members::read(all, dialect);
                                                       if (auto fine = checked(dialect); !fine) return fine.problem();
                                                       return dialect;
                                                   });
}

namespace {
constexpr KeyedFiles files("dialects", "dialect");
} // namespace

Result<Dialect> openDialect(Disk& disk, std::string_view key) {
    if (key == "laser-dynamic") key = "beam-by-speed"; // its name in jobs and books of before
    const auto text = files.text(disk, key);
    if (!text) return text.problem();
    auto dialect = dialectFromText(*text);
    if (!dialect) return dialect.problem().within(fmt::format("{}.json", key));
    return dialect;
}

std::string toText(const Dialect& dialect) { return json_members::written(dialect).dump(2) + "\n"; }

Result<void> saveOwnDialect(Disk& disk, const Dialect& dialect) {
    if (auto fine = checked(dialect); !fine) return fine.problem();
    return files.keep(disk, dialect.key, toText(dialect));
}

bool isOwnDialect(std::string_view key) { return files.isOwn(key); }
Result<void> removeOwnDialect(std::string_view key) { return files.remove(key); }
std::vector<std::string> knownDialects() { return files.keys(); }

} // namespace ferro::program
