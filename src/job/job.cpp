#include "job/job.h"

namespace ferro::job {

bool operator==(const Job& a, const Job& b) {
    return a.name == b.name && a.units == b.units && a.sheets == b.sheets && a.machine == b.machine &&
           a.material == b.material && a.tools == b.tools && a.plan == b.plan && a.dialect == b.dialect &&
           a.output == b.output && a.tolerances == b.tolerances && (a.artwork == b.artwork || *a.artwork == *b.artwork);
}

const Sheet* find(const Job& job, SheetId id) {
    const auto at = std::find_if(job.sheets.begin(), job.sheets.end(), [&](const Sheet& s) { return s.id == id; });
    return at == job.sheets.end() ? nullptr : &*at;
}
const Sheet& Job::sheet() const {
    const auto* at = find(*this, artwork->sheet);
    return at ? *at : sheets.front();
}
Sheet& Job::sheet() { return const_cast<Sheet&>(std::as_const(*this).sheet()); }

const shop::Material& materialOf(const Job& job) { return job.sheet().material ? *job.sheet().material : job.material; }

Piece blankOf(const Stock& stock) {
    return stock.outline ? *stock.outline : Piece{rectangle({0, 0}, {stock.width, stock.height}), {}};
}

std::vector<Vec2> placesOf(const Sheet& sheet) {
    if (!sheet.tray) return {{0, 0}};
    const auto& tray = *sheet.tray;
    std::vector<Vec2> places;
    for (int row = 0; row < tray.rows; ++row)
        for (int k = 0; k < tray.columns; ++k) {
            const int column = row % 2 ? tray.columns - 1 - k : k;
            places.push_back({column * (sheet.stock.width + tray.gapX), row * (sheet.stock.height + tray.gapY)});
        }
    return places;
}

Box trayOf(const Sheet& sheet) {
    Box box;
    for (const Vec2 place : placesOf(sheet)) {
        box.take(place);
        box.take(place + Vec2{sheet.stock.width, sheet.stock.height});
    }
    return box;
}

Zero zeroOf(const Stock& stock) {
    Zero zero;
    switch (stock.corner) {
    case ZeroCorner::lowerLeft: break;
    case ZeroCorner::lowerRight: zero.at = {stock.width, 0}; break;
    case ZeroCorner::upperRight: zero.at = {stock.width, stock.height}; break;
    case ZeroCorner::upperLeft: zero.at = {0, stock.height}; break;
    case ZeroCorner::centre: zero.at = {stock.width / 2, stock.height / 2}; break;
    }
    zero.z = stock.zeroAt == ZeroHeight::top ? 0 : -stock.thickness;
    return zero;
}

const shop::Tool* toolOf(const Job& job, const plan::Step& step) {
    const auto at =
        std::find_if(job.tools.begin(), job.tools.end(), [&](const shop::Tool& tool) { return tool.key == step.tool; });
    return at == job.tools.end() ? nullptr : &*at;
}

double travelHeight(const Job& job) {
    double height = job.plan.clearance;
    if (job.machine.processes == shop::Processes{shop::Process::beam}) return height; // its head stays where it is
    for (const auto& clamp : job.sheet().clamps) height = std::max(height, clamp.height + 2);
    if (const auto& lie = job.sheet().lie) height += std::max(0.0, lie->highest());
    return height;
}

Result<Job> freshJob(const shop::Book& book, std::string_view machine, std::string_view material) {
    Job job;
    if (book.machines.empty() || book.materials.empty() || book.tools.empty())
        return Problem{.what = "The shop book is empty.", .where = {}, .mend = "Put back the starter set."};
    auto m = machine.empty() ? Result<shop::Machine>(book.machines.front()) : book.machine(machine);
    if (!m) return m.problem();
    auto stuff = material.empty() ? Result<shop::Material>(book.materials.front()) : book.material(material);
    if (!stuff) return stuff.problem();
    job.machine = *m;
    job.material = *stuff;
    job.tools = book.tools;
    if (job.machine.mainProcess() == shop::Process::rotary)
        job.sheet().stock.spacer = 6; // a scrap board under the sheet
    if (job.machine.mainProcess() == shop::Process::beam)
        job.sheet().stock.thickness = std::min(3.0, stuff->laserDepth), job.plan.clearance = 2;
    if (job.machine.mainProcess() == shop::Process::blade)
        job.sheet().stock.thickness = std::min(0.5, job.sheet().stock.thickness), job.sheet().stock.spacer = 1,
        job.plan.clearance = 3; // on a mat
    job.sheet().stock.width = std::min(600.0, job.machine.bedX);
    job.sheet().stock.height = std::min(400.0, job.machine.bedY);
    return job;
}

} // namespace ferro::job
