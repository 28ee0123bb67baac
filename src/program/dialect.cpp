#include "program/dialect.h"

#include "base/json_members.h"

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
    io("decimals", d.decimals)("feedDecimals", d.feedDecimals)("modal", d.modal);
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

Result<Dialect> openDialect(Disk& disk, std::string_view key) {
    if (key == "laser-dynamic") key = "beam-by-speed"; // its name in jobs and books of before
    namespace fs = std::filesystem;
    std::error_code ignored;
    const auto inFolder = [&](const fs::path& folder) { return folder / fmt::format("{}.json", key); };
    const bool plain = !key.empty() && !key.starts_with('.') && key.find_first_of("/\\") == std::string_view::npos;
    fs::path file = inFolder(userDataFolder() / "dialects");
    if (plain && !fs::exists(file, ignored)) file = inFolder(shippedFolder("dialects"));
    if (!plain || !fs::exists(file, ignored)) {
        std::string have;
        for (const auto& name : knownDialects()) have += (have.empty() ? "" : ", ") + name;
        return Problem{.what = fmt::format("There is no dialect “{}”.", key),
                       .where = {},
                       .mend = fmt::format("Use one of: {}; your own go into the dialects folder.", have)};
    }
    const auto text = disk.read(file, 1 << 20);
    if (!text) return text.problem();
    auto dialect = dialectFromText(*text);
    if (!dialect) return dialect.problem().within(file.filename().string());
    return dialect;
}

namespace {
std::filesystem::path ownFile(std::string_view key) {
    return userDataFolder() / "dialects" / fmt::format("{}.json", key);
}
} // namespace

std::string toText(const Dialect& dialect) { return json_members::written(dialect).dump(2) + "\n"; }

Result<void> saveOwnDialect(Disk& disk, const Dialect& dialect) {
    const auto& key = dialect.key;
    if (key.empty() || key.size() > 60 || !std::all_of(key.begin(), key.end(), [](char c) {
            return std::isalnum(static_cast<unsigned char>(c)) || c == '-';
        }))
        return Problem{.what = fmt::format("“{}” is no key for a dialect.", key.substr(0, 80)),
                       .where = {},
                       .mend = "Use letters, digits and hyphens."};
    if (auto fine = checked(dialect); !fine) return fine.problem();
    std::error_code error;
    std::filesystem::create_directories(ownFile(key).parent_path(), error);
    return writeAtomically(disk, ownFile(key), toText(dialect));
}

bool isOwnDialect(std::string_view key) {
    std::error_code ignored;
    return std::filesystem::exists(ownFile(key), ignored);
}

Result<void> removeOwnDialect(std::string_view key) {
    std::error_code error;
    if (!isOwnDialect(key) || !std::filesystem::remove(ownFile(key), error))
        return Problem{.what = fmt::format("“{}” is none of your own dialects.", key), .where = {}, .mend = {}};
    return {};
}

std::vector<std::string> knownDialects() {
    std::vector<std::string> names;
    std::error_code ignored;
    for (const auto& folder : {userDataFolder() / "dialects", shippedFolder("dialects")})
        for (const auto& entry : std::filesystem::directory_iterator(folder, ignored))
            if (entry.path().extension() == ".json") names.push_back(entry.path().stem().string());
    std::sort(names.begin(), names.end());
    names.erase(std::unique(names.begin(), names.end()), names.end());
    return names;
}

} // namespace ferro::program
