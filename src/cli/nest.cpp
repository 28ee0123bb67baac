#include "cli/common.h"
#include "job/job_file.h"
#include "job/nesting.h"
#include "shop/own.h"

namespace ferro::cli {

namespace {

struct NestAsked {
    std::string file, out, start = "lower-left", along = "width";
    double spacing = -1, margin = -1, effort = 20;
    std::uint64_t seed = 1;
    bool json = false, only = false, like = false;
};

Result<job::LayingOut> wishOf(const NestAsked& o, const job::Job& job) {
    job::LayingOut wish = job::usualLayingOut(job);
    if (o.spacing >= 0) wish.how.spacing = o.spacing;
    if (o.margin >= 0) wish.how.margin = o.margin;
    constexpr std::string_view corners[] = {"lower-left", "lower-right", "upper-right", "upper-left"};
    const auto corner = std::find(std::begin(corners), std::end(corners), o.start);
    if (corner == std::end(corners))
        return Problem{.what = fmt::format("There is no corner “{}”.", o.start),
                       .where = {},
                       .mend = "Use lower-left, lower-right, upper-right or upper-left."};
    wish.how.start = static_cast<nest::Corner>(corner - std::begin(corners));
    if (o.along != "width" && o.along != "height")
        return Problem{.what = "Parts gather along width or height.", .where = {}, .mend = {}};
    wish.how.keeps = o.along == "width" ? nest::Along::width : nest::Along::height;
    wish.how.effort = static_cast<std::uint64_t>(o.effort * 1e6);
    wish.how.seed = o.seed;
    wish.mayAddSheets = !o.only;
    if (!o.like) {
        auto book = shop::openBook(realDisk());
        if (!book) return book.problem();
        wish.book = std::move(*book);
    }
    return wish;
}

int layOut(const NestAsked& o) {
    const auto job = job::load(realDisk(), o.file);
    if (!job) return complain(job.problem());
    const auto wish = wishOf(o, *job);
    if (!wish) return complain(wish.problem());
    ShownProgress shown("laying out");
    const auto laid = job::laidOut(*job, *wish, shown.progress);
    if (!laid) return complain(laid.problem());
    if (auto saved = job::save(realDisk(), laid->job, o.out.empty() ? o.file : o.out); !saved)
        return complain(saved.problem());
    if (o.json) {
        fmt::print("{}\n", Json{{"sheets", laid->sheets},
                                {"share", laid->share},
                                {"used", laid->used},
                                {"rest", laid->rest},
                                {"spacing", wish->how.spacing},
                                {"margin", wish->how.margin},
                                {"stays", laid->stays},
                                {"left", laid->left}}
                               .dump(2));
    } else {
        fmt::print("{} in use, {:.1f} % of that is parts; {:.1f} mm of the last one; {:.1f} mm apart\n",
                   laid->sheets == 1 ? "one sheet" : fmt::format("{} sheets", laid->sheets), laid->share * 100,
                   laid->used, wish->how.spacing);
    }
    if (laid->stays > 0) notice(fmt::format("{} locked parts stay where they are.", laid->stays));
    for (const auto& left : laid->left) notice(left);
    return laid->leftCount > 0 ? noGo : fine;
}

} // namespace

void addNest(Options& app, int& exit) {
    auto command =
        app.command("nest", "Lay the parts of a job out on as few sheets as can be. Exit code 2 when some are "
                            "left.\nExample: ferrograph-cli nest kit.ferro --spacing 7 --effort 60");
    auto o = std::make_shared<NestAsked>();
    command.option("file", o->file, "job; written over unless --out names another").required();
    command.option("--out", o->out, "job to write");
    command.option("--spacing", o->spacing, "mm from part to part (default: the plan's widest tool and a little)")
        .range(0.0, 500.0);
    command.option("--margin", o->margin, "mm to the sheet's edge (default: as the spacing)").range(0.0, 500.0);
    command.option("--start", o->start,
                   "corner that parts gather in: lower-left, lower-right, upper-right, upper-left");
    command.option("--along", o->along, "width or height: the off-cut is a strip across its end");
    command.option("--effort", o->effort, "millions of places to try; about a second each").range(0.0, 100'000.0);
    command.option("--seed", o->seed, "of chance: the same seed gives the same layout");
    command.flag("--like-last", o->like, "add sheets like the last, not from the shelf");
    command.flag("--only-these", o->only, "adds no sheets");
    command.flag("--json", o->json, "the answer as JSON");
    command.run([o, &exit] { exit = layOut(*o); });
}

} // namespace ferro::cli
