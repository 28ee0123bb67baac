#include "cli/bridge_words.h"
#include "cli/common.h"
#include "cli/words_internal.h"
#include "job/edits.h"
#include "job/job_file.h"

namespace ferro::cli {

namespace {

Json reportOf(const artwork::Artwork& art, const std::vector<mend::DropOut>& outs) {
    Json islands = Json::array(), bridges = Json::array();
    for (const auto& d : outs)
        islands.push_back({{"item", d.item.value}, {"opening", d.opening}, {"at", {d.at.x, d.at.y}}, {"area", d.area}});
    for (const auto& b : mend::bridgesOf(art))
        bridges.push_back({{"group", b.group.value},
                           {"number", b.index},
                           {"from", {b.bridge.from.x, b.bridge.from.y}},
                           {"to", {b.bridge.to.x, b.bridge.to.y}},
                           {"width", b.bridge.width}});
    return {{"dropOuts", std::move(islands)}, {"bridges", std::move(bridges)}};
}

} // namespace

void addBridge(Options& app, int& exit) {
    struct Asked {
        std::string job, out, items = "all";
        std::vector<std::string> settings;
        bool look = false, asJson = false;
    };
    auto command =
        app.command("bridge", "Find what would drop out of a stencil or of cut-through work, and hold it.\n"
                              "Example: ferrograph-cli bridge wave.ferro width=2.5 number=2 --items layer:plate");
    auto o = std::make_shared<Asked>();
    command.option("job", o->job).required();
    command.option("settings", o->settings, "width=2 number=2 areas=fall-out|stay lie=in-line|across");
    command.option("--items", o->items, "only these: all, 3,5, layer:NAME, name:NAME …");
    command.option("-o,--out", o->out, "write here instead of over the job");
    command.flag("--look", o->look, "only find");
    command.flag("--json", o->asJson, "drop-outs that are left and all bridges, as JSON");
    command.run([o, &exit] {
        const auto lock = FileLock::taken(o->job); // nobody else changes it from here to the saving
        if (!lock) return void(exit = complain(lock.problem()));
        auto job = job::load(realDisk(), o->job);
        if (!job) return void(exit = complain(job.problem()));
        const auto items = itemsFrom(*job, o->items);
        if (!items) return void(exit = complain(items.problem()));
        const auto settings = bridgeSettingsFrom(*job, o->settings);
        if (!settings) return void(exit = complain(settings.problem()));
        if (!o->look) {
            ShownProgress shown("bridging");
            auto made = mend::withBridges(*job->artwork, *items, *settings, shown.progress);
            if (!made) return void(exit = complain(made.problem()));
            fmt::print(o->asJson ? stderr : stdout, "{}\n", made->did);
            job = job::withArtwork(*job, std::move(made->artwork));
            if (auto saved = job::save(realDisk(), *job, o->out.empty() ? o->job : o->out); !saved)
                return void(exit = complain(saved.problem()));
        }
        const auto outs = mend::dropOuts(*job->artwork, o->look ? *items : artwork::Ids{}, settings->areas);
        if (o->asJson)
            fmt::print("{}\n", reportOf(*job->artwork, outs).dump(2));
        else if (o->look)
            fmt::print("{} would drop out\n", outs.size());
    });
}

} // namespace ferro::cli
