#include "cli/common.h"
#include "job/job_file.h"
#include "job/reasons.h"
#include "picture/picture.h"
#include "plan/fields.h"
#include "program/for_job.h"

namespace ferro::cli {

namespace {

Json factsOf(const artwork::Part& part) {
    return {{"quantity", part.quantity},
            {"material", part.material},
            {"thickness", part.thickness},
            {"turns", artwork::wordsOf(part.turns)[static_cast<std::size_t>(part.turns)]},
            {"mirror", part.mirror},
            {"priority", artwork::wordsOf(part.priority)[static_cast<std::size_t>(part.priority)]},
            {"labels", part.labels}};
}

Result<Json> ofJob(const std::string& file) {
    const auto job = job::load(realDisk(), file);
    if (!job) return job.problem();
    const auto counts = artwork::countsOf(*job->artwork);
    Json steps = Json::array(), items = Json::array(), layers = Json::array(), sheets = Json::array();
    for (const auto& step : job->plan.steps) {
        const auto* tool = job::toolOf(*job, step);
        Json entry{{"id", step.id.value},
                   {"name", step.name},
                   {"kind", plan::kindOf(step).name},
                   {"tool", tool ? tool->name : ""},
                   {"enabled", step.enabled}};
        const auto& kind = plan::kindOf(step);
        for (const auto& field : kind.fields)
            if (!tool || field.processes.has(tool->process()))
                entry[std::string(field.name)] = plan::valueOf(field, step);
        for (const auto* choice : plan::choicesOf(kind))
            entry[std::string(choice->name)] = choice->words[static_cast<std::size_t>(choice->get(step))];
        if (tool && kind.lineWidth && tool->process() == shop::Process::rotary)
            entry["lineWidth"] = kind.lineWidth(step, *tool, job->sheet().stock.thickness);
        entry["layers"] = step.rule.layers;
        for (const auto& field : kind.fields)
            if (const auto why = job::reasonOf(*job, step, field); !why.empty())
                entry["why"][std::string(field.name)] = why;
        steps.push_back(std::move(entry));
    }
    for (const auto& item : job->artwork->items) {
        const auto* layer = artwork::find(*job->artwork, item.layer);
        Json entry{{"id", item.id.value},
                   {"name", item.name},
                   {"layer", layer ? layer->name : ""},
                   {"bounds", jsonOf(artwork::boundsOf(item))},
                   {"locked", item.locked},
                   {"hidden", item.hidden}};
        if (const auto* shape = artwork::shapeOf(item))
            entry["points"] = pointsOf(shape->piece), entry["openings"] = shape->piece.openings.size(),
            entry["closed"] = shape->piece.outline.closed;
        else
            entry["picture"] = artwork::pictureOf(item)->file;
        if (item.group) entry["group"] = item.group.value;
        if (job->sheets.size() > 1 || !item.sheet) {
            const auto* sheet = job::find(*job, item.sheet);
            entry["sheet"] = sheet ? sheet->name : "beside";
        }
        if (item.of) entry["copyOf"] = item.of.value;
        if (item.part) entry["part"] = factsOf(*item.part);
        items.push_back(std::move(entry));
    }
    for (const auto& layer : job->artwork->layers)
        layers.push_back({{"name", layer.name}, {"locked", layer.locked}, {"hidden", layer.hidden}});
    for (const auto& sheet : job->sheets)
        sheets.push_back({{"name", sheet.name},
                          {"atHand", sheet.id == job->artwork->sheet},
                          {"material", (sheet.material ? *sheet.material : job->material).name},
                          {"width", sheet.stock.width},
                          {"height", sheet.stock.height},
                          {"thickness", sheet.stock.thickness},
                          {"spacer", sheet.stock.spacer},
                          {"mirrored", sheet.mirrored},
                          {"clamps", sheet.clamps.size()}});
    return Json{{"kind", "job"},
                {"name", job->name},
                {"machine", job->machine.name},
                {"material", job->material.name},
                {"sheets", sheets},
                {"pictures", counts.pictures},
                {"pieces", counts.pieces},
                {"points", counts.points},
                {"layers", layers},
                {"items", items},
                {"steps", steps}};
}

Result<Json> ofPicture(const std::string& file) {
    const auto picture = picture::load(file);
    if (!picture) return picture.problem();
    const auto quality = picture::qualityOf(picture::greyOf(*picture), picture->pxPerMm.value_or(10));
    Json out{{"kind", "picture"},
             {"width", picture->width},
             {"height", picture->height},
             {"channels", picture->channels},
             {"contrast", quality.contrast},
             {"edgeWidth", quality.edgeWidth},
             {"verdict", wordsFor(quality)}};
    if (picture->pxPerMm) {
        out["pxPerMm"] = *picture->pxPerMm;
        out["widthMm"] = picture->width / *picture->pxPerMm;
        out["heightMm"] = picture->height / *picture->pxPerMm;
    }
    for (const auto& n : picture->notices) out["notices"].push_back(n.text);
    return out;
}

Result<Json> ofProgram(const std::string& file) {
    const auto text = realDisk().read(file);
    if (!text) return text.problem();
    const auto program = program::readProgram(*text, {.interpreter = {}, .frame = {}, .tools = {}});
    if (!program) return program.problem().within(file);
    Json out{{"kind", "program"}, {"lines", program->lines}, {"moves", program->path.count()}};
    for (const auto& n : program->notices) out["notices"].push_back(n.text);
    return out;
}

} // namespace

void addInfo(Options& app, int& exit) {
    struct Asked {
        std::string file;
        bool json = false;
    };
    auto command = app.command(
        "info", "What is in a job, a picture or a program.\nExample: ferrograph-cli info proscenium.ferro --json");
    auto options = std::make_shared<Asked>();
    command.option("file", options->file).required();
    command.flag("--json", options->json, "the answer as JSON");
    command.run([options, &exit] {
        const auto& file = options->file;
        const bool program = hasEnding(file, {".nc", ".gcode", ".ngc", ".tap", ".cnc"});
        const auto out = isJobFile(file) ? ofJob(file) : program ? ofProgram(file) : ofPicture(file);
        if (!out) return void(exit = complain(out.problem()));
        if (options->json) return fmt::print("{}\n", out->dump(2));
        for (const auto& [key, value] : out->group())
            fmt::print("{}: {}\n", key,
                       value.isText()   ? value.text()
                       : value.isList() ? std::to_string(value.size())
                                        : value.dump());
    });
}

} // namespace ferro::cli
