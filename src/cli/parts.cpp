// The parts of a job: what is wanted, what lies where.
#include "cli/common.h"
#include "formats/cut_list.h"
#include "job/job_file.h"
#include "job/part_list.h"

namespace ferro::cli {

namespace {

struct PartsAsked {
    std::string file;
    bool asJson = false;
};

std::string sheetsOf(const job::Job& job, const job::ListedPart& part) {
    std::string out;
    for (const auto id : part.sheets) out += (out.empty() ? "" : ", ") + job::find(job, id)->name;
    return out;
}

int list(const PartsAsked& o) {
    const auto job = job::load(realDisk(), o.file);
    if (!job) return complain(job.problem());
    Json all = Json::array();
    std::vector<std::vector<std::string>> rows{
        {"part", "width", "height", "qty", "laid", "material", "thickness", "turn", "sheets", "layer"}};
    for (const auto& part : job::partListOf(*job)) {
        const auto& facts = part.part;
        if (o.asJson)
            all.push_back({{"item", part.item.value},
                           {"name", part.name},
                           {"layer", part.layer},
                           {"width", part.box.width()},
                           {"height", part.box.height()},
                           {"wanted", facts.quantity},
                           {"laid", part.laid},
                           {"material", facts.material},
                           {"thickness", facts.thickness},
                           {"turns", artwork::turnsWords[static_cast<std::size_t>(facts.turns)]},
                           {"priority", artwork::priorityWords[static_cast<std::size_t>(facts.priority)]},
                           {"labels", facts.labels},
                           {"sheets", sheetsOf(*job, part)}});
        else
            rows.push_back({part.name, fmt::format("{:.2f}", part.box.width()),
                            fmt::format("{:.2f}", part.box.height()), fmt::format("{}", facts.quantity),
                            fmt::format("{}", part.laid), facts.material,
                            facts.thickness > 0 ? fmt::format("{:g}", facts.thickness) : "",
                            std::string(artwork::turnsWords[static_cast<std::size_t>(facts.turns)]),
                            sheetsOf(*job, part), part.layer});
    }
    fmt::print("{}", o.asJson ? all.dump(2) + "\n" : formats::csvOf(rows));
    return fine;
}

} // namespace

void addParts(Options& app, int& exit) {
    auto command = app.command("parts", "The parts of a job as a list (CSV): sizes, how many are wanted and lie on the "
                                        "sheets, and where.\nExample: ferrograph-cli parts kit.ferro");
    auto o = std::make_shared<PartsAsked>();
    command.option("file", o->file, "a job").required();
    command.flag("--json", o->asJson, "as JSON");
    command.run([o, &exit] { exit = list(*o); });
}

} // namespace ferro::cli
