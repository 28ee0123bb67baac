#include "cli/common.h"
#include "job/edits.h"
#include "job/job_file.h"
#include "mend/repair.h"

namespace ferro::cli {

namespace {

Json jsonOf(const mend::Audit& audit) {
    Json counts, list = Json::array();
    for (const auto fault : mend::faults) counts[std::string(mend::wordOf(fault))] = audit.count(fault);
    for (const auto& f : audit.flaws) {
        Json entry{{"fault", mend::wordOf(f.fault)},
                   {"item", f.item.value},
                   {"at", {f.at.x, f.at.y}},
                   {"size", f.size},
                   {"what", f.what}};
        if (f.opening >= 0) entry["opening"] = f.opening;
        if (f.other) entry["other"] = f.other.value;
        list.push_back(std::move(entry));
    }
    return {{"counts", std::move(counts)}, {"findings", std::move(list)}};
}

} // namespace

void addMend(Options& app, int& exit) {
    struct Asked {
        std::string job, sheet, out;
        std::vector<std::string> fix;
        bool audit = false, asJson = false;
        std::optional<double> gap, doubled, speck, thin; // for this once; else the job's own
    };
    auto command = app.command("mend", "Find what keeps pieces from being cut as they are meant, and mend it.\n"
                                       "Example: ferrograph-cli mend kit.ferro --fix gap doubled --gap 0.2");
    auto o = std::make_shared<Asked>();
    command.option("job", o->job).required();
    command.flag("--audit", o->audit, "only look; so without --fix too");
    command.option("--fix", o->fix,
                   "speck, stub, doubled, gap, crossing, crowded, beyond, border, or all but the last");
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.option("--gap", o->gap, "mm between ends that are meant to meet");
    command.option("--doubled", o->doubled, "mm between lines that are meant to be one");
    command.option("--speck", o->speck, "mm²; smaller pieces are specks");
    command.option("--thin", o->thin, "mm that fewer points may change an outline");
    command.option("-o,--out", o->out, "write here instead of over the job");
    command.flag("--json", o->asJson, "the audit as JSON, after mending");
    command.run([o, &exit] {
        const auto lock = FileLock::taken(o->job); // nobody else changes it from here to the saving
        if (!lock) return void(exit = complain(lock.problem()));
        auto job = jobAt(o->job, o->sheet);
        if (!job) return void(exit = complain(job.problem()));
        auto tolerances = job->tolerances;
        tolerances.gap = o->gap.value_or(tolerances.gap);
        tolerances.doubled = o->doubled.value_or(tolerances.doubled);
        tolerances.speck = o->speck.value_or(tolerances.speck);
        tolerances.thin = o->thin.value_or(tolerances.thin);
        std::vector<mend::Fault> which;
        for (const auto& word : o->fix) {
            const auto fault = mend::faultFrom(word);
            if (!fault && word != "all")
                return void(exit = complain(
                                {.what = fmt::format("There is no fault “{}”.", word),
                                 .where = "--fix",
                                 .mend = "Use speck, stub, doubled, gap, crossing, crowded, beyond, border or all."}));
            if (fault)
                which.push_back(*fault);
            else
                which.insert(which.end(), mend::surely.begin(), mend::surely.end());
        }
        const auto blank = job::blankOf(job->sheet().stock);
        ShownProgress shown("mending");
        if (!which.empty() && !o->audit) {
            auto mended = mend::withAllMended(*job->artwork, which, tolerances, blank, shown.progress);
            if (!mended) return void(exit = complain(mended.problem()));
            fmt::print(o->asJson ? stderr : stdout, "{}\n", mended->told());
            if (mended->count > 0 || !o->out.empty()) {
                job = job::withArtwork(*job, std::move(mended->artwork));
                if (auto saved = job::save(realDisk(), *job, o->out.empty() ? o->job : o->out); !saved)
                    return void(exit = complain(saved.problem()));
            }
            if (!o->asJson) return;
        }
        const auto audit = mend::audited(*job->artwork, tolerances, blank, shown.progress);
        if (!audit) return void(exit = complain(audit.problem()));
        if (o->asJson) return fmt::print("{}\n", jsonOf(*audit).dump(2));
        for (const auto& f : audit->flaws)
            fmt::print("{:9} {:9.2f} {:9.2f}  {}\n", mend::wordOf(f.fault), f.at.x, f.at.y, f.what);
        if (audit->flaws.empty()) fmt::print("nothing to mend\n");
    });
}

} // namespace ferro::cli
