#include "cli/common.h"
#include "cli/words_internal.h"
#include "proof/advice.h"

namespace ferro::cli {

namespace {

struct ReachAsked {
    std::string file, sheet, step;
    bool json = false, tools = false;
};

int tellReach(const ReachAsked& o, const job::Job& job) {
    std::vector<plan::StepId> steps;
    if (o.step.empty()) {
        for (const auto& step : job.plan.steps)
            if (step.enabled) steps.push_back(step.id);
    } else {
        const auto id = stepFrom(job, o.step);
        if (!id) return complain(id.problem());
        steps.push_back(*id);
    }
    ShownProgress shown("reach");
    const auto reach = toolpath::reachOf(job, steps, shown.progress);
    if (!reach) return complain(reach.problem());
    if (o.json) {
        Json places = Json::array();
        for (const auto& place : reach->places) {
            Json of = Json::array();
            for (const auto id : place.of) of.push_back(id.value);
            places.push_back(
                {{"at", {place.at.x, place.at.y}}, {"area", place.square}, {"thickest", place.thickest}, {"of", of}});
        }
        fmt::print("{}\n", Json{{"area", reach->square}, {"thickest", reach->thickest}, {"places", places}}.dump(2));
        return fine;
    }
    for (const auto& place : reach->places)
        fmt::print("{:10.3f} {:10.3f}  {:8.3f} mm2, {:.3f} mm thick\n", place.at.x, place.at.y, place.square,
                   place.thickest);
    fmt::print("not reached: {:.3f} mm2 in {} places, {:.3f} mm thick at most\n", reach->square, reach->places.size(),
               reach->thickest);
    return fine;
}

int tellTools(const ReachAsked& o, const job::Job& job) {
    const auto id = stepFrom(job, o.step);
    if (!id) return complain(id.problem());
    ShownProgress shown("tools");
    const auto choices = proof::choicesFor(job, *id, shown.progress);
    if (!choices) return complain(choices.problem());
    Json all = Json::array();
    for (const auto& c : *choices) {
        Json one{{"tools", c.tools}, {"seconds", c.seconds}, {"area", c.left}, {"thickest", c.thickest}};
        if (!c.cannot.empty()) one["cannot"] = c.cannot;
        all.push_back(std::move(one));
        if (o.json) continue;
        fmt::print("{:28} {}\n", fmt::join(c.tools, " "),
                   c.cannot.empty()
                       ? fmt::format("{}, leaves {:.3f} mm2, {:.3f} mm thick", shownTime(c.seconds), c.left, c.thickest)
                       : c.cannot);
    }
    if (o.json) fmt::print("{}\n", all.dump(2));
    return fine;
}

} // namespace

void addReach(Options& app, int& exit) {
    auto command = app.command("reach", "What the tools of a job do not get to, and which tools would.\n"
                                        "Example: ferrograph-cli reach sign.ferro --step Areas --tools");
    auto o = std::make_shared<ReachAsked>();
    command.option("file", o->file, "job").required();
    command.option("--sheet", o->sheet, "by name or number; else the one at hand");
    command.option("--step", o->step, "by name or number; else all together");
    command.flag("--tools", o->tools, "time and what is left for each tool on hand, and for several in a row");
    command.flag("--json", o->json, "the answer as JSON");
    command.run([o, &exit] {
        if (o->tools && o->step.empty()) {
            exit = complain({.what = "--tools needs a step.", .where = {}, .mend = "Name one by --step."});
            return;
        }
        const auto job = jobAt(o->file, o->sheet);
        exit = !job ? complain(job.problem()) : o->tools ? tellTools(*o, *job) : tellReach(*o, *job);
    });
}

} // namespace ferro::cli
