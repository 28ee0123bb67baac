#include "program/dialect.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace ferro::program {

NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(Dialect, key, title, arcs, chord, largestArc, decimals, feedDecimals,
                                                modal, beam, beamScale, ending, comment, header, toolChange, start,
                                                stop, footer)

Result<Dialect> dialectFromText(std::string_view text) {
    using nlohmann::json;
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what),
                       .where = {},
                       .mend = "Correct the dialect file; docs/dialects.md lists its members."};
    };
    try {
        const json all = json::parse(text);
        auto dialect = all.get<Dialect>();
        const auto units = all.value("units", "mm");
        if (units != "mm" && units != "inch") return bad("units must be “mm” or “inch”.");
        dialect.units = units == "mm" ? Units::mm : Units::inch;
        if (dialect.decimals < 2 || dialect.decimals > 6 || dialect.feedDecimals < 0 || dialect.feedDecimals > 6)
            return bad("decimals must be 2 to 6 for coordinates and 0 to 6 for feeds.");
        // A step of the last digit has to stay far below the promised 0.01 mm.
        if (dialect.units == Units::inch && dialect.decimals < 4) return bad("inch programs need at least 4 decimals.");
        if (!(dialect.chord >= 0.0005 && dialect.chord <= 0.5) || !(dialect.beamScale > 0))
            return bad("chord or beamScale is out of range.");
        if (!(dialect.largestArc >= 10 && dialect.largestArc <= 20'000))
            return bad("largestArc must be 10 to 20000 mm."); // beyond, a rounded centre bends the arc
        if (dialect.ending.empty() || dialect.ending.find('/') != std::string::npos)
            return bad("ending must be a plain file ending.");
        if (!dialect.comment.empty() && dialect.comment.find("{}") == std::string::npos)
            return bad("comment needs a {} for the remark.");
        return dialect;
    } catch (const json::exception& error) { return bad(fmt::format("The dialect cannot be read: {}.", error.what())); }
}

Result<Dialect> openDialect(Disk& disk, std::string_view key) {
    namespace fs = std::filesystem;
    std::error_code ignored;
    const auto inFolder = [&](const fs::path& folder) { return folder / fmt::format("{}.json", key); };
    fs::path file = key.find('/') != std::string_view::npos || key.ends_with(".json")
                        ? fs::path(key)
                        : inFolder(userDataFolder() / "dialects");
    if (!fs::exists(file, ignored) && !key.ends_with(".json")) file = inFolder(shippedFolder("dialects"));
    if (!fs::exists(file, ignored)) {
        std::string have;
        for (const auto& name : knownDialects()) have += (have.empty() ? "" : ", ") + name;
        return Problem{.what = fmt::format("There is no dialect “{}”.", key),
                       .where = {},
                       .mend = fmt::format("Use one of: {}; or name a file.", have)};
    }
    const auto text = disk.read(file, 1 << 20);
    if (!text) return text.problem();
    auto dialect = dialectFromText(*text);
    if (!dialect) return dialect.problem().within(file.filename().string());
    return dialect;
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
