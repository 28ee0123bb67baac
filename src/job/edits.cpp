#include "job/edits.h"

#include "geometry/self_crossing.h"

#include "artwork/copies.h"
#include "job/book_values_internal.h"

namespace ferro::job {

Job withArtwork(const Job& job, artwork::Artwork artwork) {
    Job out = job;
    out.artwork = std::make_shared<const artwork::Artwork>(artwork::followed(*job.artwork, std::move(artwork)));
    return out;
}

Result<Job> withArtwork(const Job& job, Result<artwork::Artwork> artwork) {
    if (!artwork) return artwork.problem();
    return withArtwork(job, std::move(*artwork));
}

Result<Job> withTolerances(const Job& job, const artwork::Tolerances& tolerances) {
    for (const double t : {tolerances.gap, tolerances.doubled, tolerances.speck, tolerances.thin})
        if (!(t >= 0 && t < 1e6))
            return Problem{.what = "A tolerance cannot be below 0.", .where = {}, .mend = "Give 0 or more."};
    Job out = job;
    out.tolerances = tolerances;
    return out;
}

Result<Job> withName(const Job& job, std::string_view name) {
    if (name.empty()) return Problem{.what = "A job needs a name.", .where = {}, .mend = {}};
    Job out = job;
    out.name = name;
    return out;
}

Job withUnits(const Job& job, Units units) {
    Job out = job;
    out.units = units;
    return out;
}

Result<Job> withOutput(const Job& job, const Output& output) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what),
                       .where = {},
                       .mend = "Use letters, digits and {job}, {sheet}, {number}, {tool}, {step}."};
    };
    std::string_view rest = output.name;
    if (rest.size() > 120 || rest.starts_with('.') || rest.find_first_of("/\\") != std::string_view::npos ||
        std::any_of(rest.begin(), rest.end(), [](char c) { return static_cast<unsigned char>(c) < 0x20; }))
        return bad(fmt::format("“{}” is no name for a file.", rest.substr(0, 80)));
    bool tells = rest.empty() || output.each == FileOf::job;
    for (auto at = rest.find_first_of("{}"); at != std::string_view::npos; at = rest.find_first_of("{}")) {
        const auto end = rest.find('}', at);
        const auto word = rest.substr(at, end == std::string_view::npos ? end : end - at + 1);
        constexpr std::array<std::string_view, 5> known{"{job}", "{sheet}", "{number}", "{tool}", "{step}"};
        if (std::find(known.begin(), known.end(), word) == known.end())
            return bad(fmt::format("“{}” is not filled in.", word.substr(0, 40)));
        tells = tells || word == "{number}";
        rest.remove_prefix(end + 1);
    }
    if (!tells) return bad("The files would all be called the same: {number} is missing.");
    Job out = job;
    out.output = output;
    return out;
}

Job withOrder(const Job& job, plan::Order order) {
    Job out = job;
    out.plan.order = order;
    return out;
}

Result<Job> withDialect(const Job& job, std::string_view key) {
    if (key.find_first_of("/\\") != std::string_view::npos || key.ends_with(".json") || key.starts_with('.'))
        return Problem{.what = fmt::format("“{}” is a path; a job names its dialect by key.", key.substr(0, 80)),
                       .where = {},
                       .mend = "Put the file into the folder of your dialects and give its name without the ending."};
    Job out = job;
    out.dialect = key;
    return out;
}

Result<Job> withClearance(const Job& job, double clearance) {
    if (!(clearance > 0 && clearance < 500))
        return Problem{.what = fmt::format("A clearance cannot be {}.", mm(clearance)),
                       .where = {},
                       .mend = "Give a height above 0 and below 500 mm."};
    Job out = job;
    out.plan.clearance = clearance;
    return out;
}

Result<Job> withStock(const Job& job, const Stock& stock) {
    for (const double size : {stock.width, stock.height, stock.thickness})
        if (!(size > 0 && size < 10'000))
            return Problem{.what = fmt::format("A sheet cannot measure {}.", mm(size)),
                           .where = "stock",
                           .mend = "Give a size above 0 and below 10 m."};
    if (!(stock.spacer >= 0 && stock.spacer < 500))
        return Problem{.what = "The spacer cannot be thinner than 0 mm.", .where = "stock", .mend = "Give 0 for none."};
    if (!(stock.uneven >= 0 && stock.uneven <= 50))
        return Problem{.what = "A blank is uneven by 0 to 50 mm.", .where = "stock", .mend = "Give 0 for a flat one."};
    if (stock.outline) {
        const Box box = boundsOf(stock.outline->outline);
        if (std::abs(box.low.x) > 1e-6 || std::abs(box.low.y) > 1e-6 || std::abs(box.high.x - stock.width) > 1e-6 ||
            std::abs(box.high.y - stock.height) > 1e-6)
            return Problem{.what = "The blank has an outline of its own, and its size is that of the outline.",
                           .where = "stock",
                           .mend = "Make it a rectangle first, or use another outline."};
    }
    Job out = job;
    const auto& was = job.sheet().stock;
    if (was.width != stock.width || was.height != stock.height || was.outline != stock.outline)
        out.sheet().board.clear(), out.sheet().cost = 0; // it is another
    if (was.width != stock.width || was.height != stock.height || was.corner != stock.corner ||
        was.zeroAt != stock.zeroAt)
        out.sheet().lie.reset(); // its heights were counted from another place
    out.sheet().stock = stock;
    for (auto& step : out.plan.steps) takeBookValues(out, step);
    return out;
}

Result<Job> withTray(const Job& job, const std::optional<Tray>& tray) {
    const auto bad = [](std::string what, std::string mend) {
        return Problem{.what = std::move(what), .where = "tray", .mend = std::move(mend)};
    };
    if (tray) {
        for (const int count : {tray->columns, tray->rows})
            if (count < 1 || count > 100)
                return bad(fmt::format("A tray cannot have {} rows or columns.", count), "Give 1 to 100.");
        if (tray->count() < 2) return bad("A tray holds more than one blank.", "Give more columns or rows, or none.");
        if (tray->count() > 1000) return bad("A tray holds 1000 blanks at most.", "Give fewer columns or rows.");
        for (const double gap : {tray->gapX, tray->gapY})
            if (!(gap >= 0 && gap <= 1000))
                return bad(fmt::format("Blanks cannot lie {} apart.", mm(gap)), "Give 0 to 1000 mm.");
    }
    Job out = job;
    out.sheet().tray = tray;
    return out;
}

Result<Job> withTrayFilled(const Job& job, double gapX, double gapY) {
    const auto& stock = job.sheet().stock;
    const auto most = [](double bed, double size, double gap) {
        return static_cast<int>(std::clamp(std::floor((bed + gap + 1e-6) / (size + std::max(gap, 0.0))), 1.0, 100.0));
    };
    Tray tray = job.sheet().tray.value_or(Tray{});
    tray.gapX = gapX, tray.gapY = gapY;
    tray.columns = most(job.machine.bedX, stock.width, gapX);
    tray.rows = std::min(most(job.machine.bedY, stock.height, gapY), 1000 / tray.columns);
    if (tray.count() < 2)
        return Problem{.what = fmt::format("The bed of “{}” holds one such blank.", job.machine.name),
                       .where = "tray",
                       .mend = "Use smaller blanks, or less between them."};
    return withTray(job, tray);
}

Result<Job> withLie(const Job& job, std::optional<Lie> lie) {
    if (lie)
        if (auto fine = checked(*lie); !fine) return fine.problem();
    Job out = job;
    out.sheet().lie = std::move(lie);
    return out;
}

Result<Job> withBlank(const Job& job, const std::optional<Piece>& outline) {
    auto stock = job.sheet().stock;
    if (!outline) {
        stock.outline.reset();
        return withStock(job, stock);
    }
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = "stock", .mend = "Use a closed outline without crossings."};
    };
    std::vector<const Path*> rings{&outline->outline};
    for (const auto& opening : outline->openings) rings.push_back(&opening);
    for (const auto* ring : rings) {
        if (!ring->closed) return bad("A blank's outline has to be closed.");
        if (std::abs(areaOf(*ring)) < 1) return bad("A blank cannot be so small.");
        if (selfCrossing(*ring, 0.01)) return bad("A blank's outline cannot cross itself.");
    }
    const Box box = boundsOf(outline->outline);
    const auto shift = Transform::moved(-1.0 * box.low);
    stock.outline = transformed(*outline, shift);
    stock.width = box.width();
    stock.height = box.height();
    Job out = job;
    // What lies on the sheet stays where it is on the blank.
    auto art = *job.artwork;
    for (auto& item : art.items)
        if (item.sheet == job.sheet().id) item.place = shift * item.place;
    out = withArtwork(out, std::move(art));
    out.sheet().lie.reset(); // it was measured on what this is cut from
    for (auto& clamp : out.sheet().clamps) clamp.area = {clamp.area.low - box.low, clamp.area.high - box.low};
    return withStock(out, stock);
}

Result<Job> withBlankOf(const Job& job, artwork::ItemId item) {
    const auto* drawn = artwork::find(*job.artwork, item);
    const auto* shape = drawn ? artwork::shapeOf(*drawn) : nullptr;
    if (!shape)
        return Problem{
            .what = "A blank's outline is a closed piece.", .where = {}, .mend = "Choose one that is drawn."};
    const auto piece = artwork::placed(*drawn);
    auto without = artwork::withRemoved(*job.artwork, {item});
    if (!without) return without.problem();
    return withBlank(withArtwork(job, std::move(*without)), piece);
}

Job withMaterial(const Job& job, const shop::Material& material) {
    Job out = job;
    if (job.sheet().id == job.sheets.front().id) out.material = material;
    for (auto& sheet : out.sheets) {
        auto made = sheet.id == job.sheet().id ? material : sheet.material ? *sheet.material : job.material;
        sheet.material = made == out.material ? std::nullopt : std::optional(std::move(made));
    }
    for (auto& step : out.plan.steps) takeBookValues(out, step);
    return out;
}

Job withMachine(const Job& job, const shop::Machine& machine) {
    Job out = job;
    out.machine = machine;
    out.dialect.clear();
    for (auto& step : out.plan.steps) {
        const auto* tool = toolOf(out, step);
        // A beam has no place in a mill, nor a cutter in a laser.
        if (!tool || !machine.does(tool->process())) {
            step.tool = fittingTool(out, plan::kindOf(step));
            tool = toolOf(out, step);
            // What holds parts and how the tool goes in are another process's matter: begun anew, but for what was
            // typed.
            const plan::Step before = step;
            if (tool && plan::kindOf(step).begin) plan::kindOf(step).begin(step, beginningOf(out, *tool));
            for (const auto& field : plan::kindOf(step).fields)
                if (std::find(step.typed.begin(), step.typed.end(), field.name) != step.typed.end())
                    field.number(step) = plan::valueOf(field, before);
        }
        takeBookValues(out, step);
    }
    return out;
}

namespace {

Problem noClamp(std::size_t index) {
    return {.what = fmt::format("There is no clamp {}.", index + 1), .where = {}, .mend = {}};
}
Result<void> checkedHeight(double height) {
    if (height > 0 && height <= 500) return {};
    return Problem{.what = fmt::format("A clamp cannot be {} high.", mm(height)),
                   .where = {},
                   .mend = "Give a height above 0, up to 500 mm."};
}

} // namespace

Result<Job> withClamp(const Job& job, const Clamp& clamp) {
    const auto& area = clamp.area;
    if (!(area.width() > 0 && area.height() > 0 && area.width() < 10'000 && area.height() < 10'000))
        return Problem{.what = "A clamp needs a width and a depth above 0 and below 10 m.", .where = {}, .mend = {}};
    if (!(std::abs(area.low.x) < 20'000 && std::abs(area.low.y) < 20'000))
        return Problem{.what = "A clamp lies more than 20 m off.", .where = {}, .mend = "Put it near the stock."};
    if (auto fine = checkedHeight(clamp.height); !fine) return fine.problem();
    Job out = job;
    out.sheet().clamps.push_back(clamp);
    return out;
}

Result<Job> withClampHeight(const Job& job, std::size_t index, double height) {
    if (index >= job.sheet().clamps.size()) return noClamp(index);
    if (auto fine = checkedHeight(height); !fine) return fine.problem();
    Job out = job;
    out.sheet().clamps[index].height = height;
    return out;
}

Result<Job> withClampAt(const Job& job, std::size_t index, Vec2 low) {
    if (index >= job.sheet().clamps.size()) return noClamp(index);
    Job out = job;
    Box& area = out.sheet().clamps[index].area;
    area = {low, low + (area.high - area.low)};
    return out;
}

Result<Job> withoutClamp(const Job& job, std::size_t index) {
    if (index >= job.sheet().clamps.size()) return noClamp(index);
    Job out = job;
    out.sheet().clamps.erase(out.sheet().clamps.begin() + static_cast<std::ptrdiff_t>(index));
    return out;
}

} // namespace ferro::job
