#include "job/job_file.h"

#include "job/edits.h"
#include "job/json_internal.h"
#include "job/sheets.h"
#include "plan/fields.h"

#include <set>

namespace ferro {

inline constexpr std::array<std::string_view, 2> unitsWords = {"mm", "inch"};
static constexpr const auto& wordsOf(Units) { return unitsWords; }

namespace artwork {
template<class Io> void members(Io& io, Tolerances& t) {
    io("gap", t.gap)("doubled", t.doubled)("speck", t.speck)("thin", t.thin);
}
} // namespace artwork

namespace job {
constexpr const auto& wordsOf(FileOf) { return fileOfNames; }
template<class Io> void members(Io& io, Output& o) { io("each", o.each)("name", o.name); }
template<class Io> void members(Io& io, Stock& s) {
    io("width", s.width)("height", s.height)("thickness", s.thickness)("corner", s.corner)("zeroAt", s.zeroAt);
    io("spacer", s.spacer);
    if constexpr (Io::reads) {
        const auto* text = io.member("outline");
        if (text) {
            const auto paths = pathsFromText(json_members::textIn(*text));
            if (!paths || paths->empty()) throw json_members::Fault{"an outline was expected", {"outline"}};
            for (const auto& path : *paths) {
                if (!path.closed) throw json_members::Fault{"the blank's outline is open", {"outline"}};
                if (!s.outline)
                    s.outline = Piece{wound(path, true), {}};
                else
                    s.outline->openings.push_back(wound(path, false));
            }
        }
    } else if (s.outline) {
        std::string text = toText(s.outline->outline);
        for (const auto& opening : s.outline->openings) text += " " + toText(opening);
        io("outline", text);
    }
    if (Io::reads || s.uneven != 0) io("uneven", s.uneven);
}
template<class Io> void members(Io& io, Clamp& c) {
    io.need("low", c.area.low).need("high", c.area.high).need("height", c.height);
}

template<class Io> void members(Io& io, Lie& l) { io.need("xs", l.xs).need("ys", l.ys).need("heights", l.heights); }

template<class Io> void members(Io& io, Tray& t) {
    io.need("columns", t.columns).need("rows", t.rows).need("gapX", t.gapX).need("gapY", t.gapY);
    io("order", t.order)("stops", t.stops);
}

template<class Io> void members(Io& io, Sheet& s) {
    io.need("id", s.id).need("name", s.name).need("stock", s.stock)("clamps", s.clamps);
    if (Io::reads || s.mirrored) io("mirrored", s.mirrored);
    if (Io::reads || !s.board.empty()) io("board", s.board)("cost", s.cost);
    if constexpr (Io::reads) {
        if (io.member("material")) io("material", s.material.emplace());
        if (io.member("lie")) io("lie", s.lie.emplace());
        if (io.member("tray")) io("tray", s.tray.emplace());
    } else {
        if (s.material) io("material", *s.material);
        if (s.lie) io("lie", *s.lie);
        if (s.tray) io("tray", *s.tray);
    }
}

namespace {

/// Every number of a loaded job must be one that the edits would have let through: they are asked.
Result<void> checked(const Job& job) {
    const auto passes = [](const auto& edited) -> Result<void> {
        if (edited) return {};
        return edited.problem();
    };
    if (auto fine = passes(withTolerances(job, job.tolerances)); !fine) return fine;
    if (auto fine = passes(withClearance(job, job.plan.clearance)); !fine) return fine;
    if (auto fine = passes(withOutput(job, job.output)); !fine) return fine;
    Job bare = job;
    bare.artwork = std::make_shared<const artwork::Artwork>();
    for (const auto& sheet : job.sheets) {
        bare.sheets = {sheet};
        bare.sheets[0].clamps.clear();
        const auto within = [&](const Problem& problem) { return problem.within(fmt::format("“{}”", sheet.name)); };
        if (auto fine = passes(withStock(bare, sheet.stock)); !fine) return within(fine.problem());
        for (const auto& clamp : sheet.clamps)
            if (auto fine = passes(withClamp(bare, clamp)); !fine) return within(fine.problem().within("clamps"));
        if (sheet.lie)
            if (auto fine = checked(*sheet.lie); !fine) return within(fine.problem());
        if (auto fine = passes(withTray(bare, sheet.tray)); !fine) return within(fine.problem());
        if (auto fine = passes(withSheetNamed(bare, sheet.id, sheet.name)); !fine) return fine;
        if (sheet.material)
            if (auto fine = shop::checked(*sheet.material); !fine) return within(fine.problem());
    }
    for (const auto& step : job.plan.steps)
        if (auto fine = plan::checked(step); !fine) return fine;
    for (const auto& tool : job.tools)
        if (auto fine = shop::checked(tool); !fine) return fine;
    if (auto fine = shop::checked(job.material); !fine) return fine;
    return shop::checked(job.machine);
}

} // namespace

namespace {

/// Every sheet has a number and a name of its own, every item a sheet that is there, or none, and what a step does
/// again another does.
void refuseLost(const Job& job) {
    if (job.sheets.empty() || job.sheets.size() > 1000) throw Fault{"a job has 1 to 1000 sheets", {"sheets"}};
    std::set<SheetId> known;
    std::set<std::string> names;
    for (const auto& sheet : job.sheets)
        if (!sheet.id || !known.insert(sheet.id).second || !names.insert(sheet.name).second)
            throw Fault{fmt::format("the sheet “{}” is there twice, or has no number", sheet.name), {"sheets"}};
    for (const auto& item : job.artwork->items)
        if (item.sheet && !known.contains(item.sheet))
            throw Fault{fmt::format("“{}” lies on a sheet that is not there", item.name), {"artwork", "items"}};
    if (job.artwork->sheet && !known.contains(job.artwork->sheet))
        throw Fault{"the sheet at hand is not there", {"artwork", "sheet"}};
    for (const auto& step : job.plan.steps)
        if (const auto* source = find(job.plan, step.again); step.again && (!source || source->again))
            throw Fault{fmt::format("“{}” does again what no step does", step.name), {"plan", "steps"}};
}

} // namespace

std::string jsonOf(const Job& job) {
    const json all{{"ferrograph", schemaVersion},       {"name", job.name},
                   {"units", written(job.units)},       {"tolerances", written(job.tolerances)},
                   {"sheets", written(job.sheets)},     {"machine", written(job.machine)},
                   {"material", written(job.material)}, {"tools", written(job.tools)},
                   {"plan", written(job.plan)},         {"dialect", job.dialect},
                   {"output", written(job.output)},     {"artwork", artworkJson(*job.artwork)}};
    return all.dump(1);
}

Result<Job> jobFromJson(std::string_view text, const PictureBytes& pictures) {
    auto job =
        json_members::readJson<Result<Job>>(text, "Take the file from a backup.", [&](const json& all) -> Result<Job> {
            json_members::Reading io(all);
            int version = 0;
            io.need("ferrograph", version);
            if (version > schemaVersion)
                return Problem{
                    .what = fmt::format("The job was saved by a newer Ferrograph (schema {}, this one knows {}).",
                                        version, schemaVersion),
                    .where = {},
                    .mend = "Open it with that version."};
            Job read;
            io.need("name", read.name).need("units", read.units)("tolerances", read.tolerances);
            if (version < 3) { // a job was one sheet
                io.need("stock", read.sheets[0].stock)("clamps", read.sheets[0].clamps);
            } else {
                io.need("sheets", read.sheets);
            }
            io.need("machine", read.machine).need("material", read.material);
            io.need("tools", read.tools).need("plan", read.plan)("dialect", read.dialect)("output", read.output);
            const auto* artwork = io.member("artwork");
            if (!artwork) throw Fault{"“artwork” is missing", {}};
            try {
                read.artwork = std::make_shared<const artwork::Artwork>(artworkFrom(*artwork, pictures));
            } catch (Fault& fault) {
                fault.path.emplace_back("artwork");
                throw;
            }
            io.done();
            refuseLost(read);
            if (auto fine = checked(read); !fine) return fine.problem();
            return read;
        });
    if (!job) return job.problem().within("job.json");
    return job;
}

} // namespace job
} // namespace ferro
