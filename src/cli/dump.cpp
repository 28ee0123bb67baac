#include "cli/common.h"
#include "job/job_file.h"

namespace ferro::cli {

void addDump(Options& app, int& exit) {
    struct Asked {
        std::string file, sheet;
        int step = 0;
    };
    auto command = app.command("dump", "A job's moves as text, one a line, to compare two runs.\nExample: "
                                       "ferrograph-cli dump proscenium.ferro --step 1");
    auto o = std::make_shared<Asked>();
    command.option("job", o->file).required();
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.option("--step", o->step, "only the n-th step in the order of work");
    command.run([o, &exit] {
        const auto job = jobAt(o->file, o->sheet);
        if (!job) return void(exit = complain(job.problem()));
        Progress progress;
        const auto path = toolpath::toolpathOf(*job, progress);
        if (!path) return void(exit = complain(path.problem()));
        for (std::size_t s = 0; s < path->steps.size(); ++s) {
            if (o->step > 0 && static_cast<int>(s) + 1 != o->step) continue;
            fmt::print("step {} {} {}\n", s + 1, path->steps[s].name, path->steps[s].tool.name);
            for (const auto& m : path->steps[s].moves) {
                constexpr std::string_view kinds[] = {"rapid", "line", "arc"};
                fmt::print("{} {:.6f} {:.6f} {:.6f}", kinds[static_cast<std::size_t>(m.kind)], m.to.x, m.to.y, m.to.z);
                if (m.kind == toolpath::Move::Kind::arc)
                    fmt::print(" centre {:.6f} {:.6f} {}", m.centre.x, m.centre.y, m.ccw ? "ccw" : "cw");
                fmt::print(" feed {:.3f} power {:.4f}\n", m.feed, m.power);
            }
        }
    });
}

} // namespace ferro::cli
