#include "print/setup_sheet.h"

#include "base/hash.h"
#include "print/page_internal.h"
#include "proof/cost.h"

namespace ferro::print {

namespace {

constexpr double left = Pages::margin, right = Pages::width - Pages::margin, foot = Pages::height - 18;

class Sheet {
public:
    Sheet(const job::Job& job, const proof::Proof& proof, const std::optional<ProgramFacts>& program)
        : job_(job), proof_(proof), program_(program), pages_(job.name) {}

    Result<std::string> run() {
        head();
        picture();
        stock();
        tools();
        steps();
        findings();
        footer();
        return pages_.finished();
    }

private:
    [[nodiscard]] std::string length(double v) const { return shown(v, Measure::length, job_.units); }

    void head() {
        y_ = 22;
        pages_.text(left, y_, job_.name, 7, true, {}, 130);
        pages_.textTo(right, y_ - 2.6, job_.machine.name, 3.2, true);
        pages_.textTo(right, y_ + 2, job_.sheets.size() > 1 ? job_.sheet().name : std::string("Setup sheet"), 3.2,
                      false, faded);
        y_ += 5;
        pages_.rule(y_);
    }

    /// The sheet as it lies on the machine, as large as there is room.
    void picture() {
        const auto& stock = job_.sheet().stock;
        const double scale = std::min((right - left - 26) / stock.width, 92 / stock.height);
        const Vec2 low{(Pages::width - stock.width * scale) / 2, y_ + 8 + stock.height * scale};
        const Transform map{scale, 0, 0, -scale, low.x, low.y};
        const auto boxOf = [&](const Box& box) {
            Box out;
            out.take(map(box.low));
            out.take(map(box.high));
            return out;
        };
        const auto blank = job::blankOf(stock);
        if (!stock.outline) pages_.fill(boxOf(job::sheetOf(stock)), inkOf(job::materialOf(job_).colour));
        pages_.outline(blank.outline, map, 0.25, faded);
        for (const auto& opening : blank.openings) pages_.outline(opening, map, 0.25, faded);
        if (proof_.path.pieces)
            for (const auto& contour : proof_.path.pieces->contours) pages_.outline(contour.path, map, 0.25, iron);
        int number = 0;
        for (const auto& clamp : job_.sheet().clamps) {
            pages_.fill(boxOf(clamp.area), {0.55, 0.53, 0.48});
            const Vec2 at = map(clamp.area.centre());
            pages_.text(at.x - 1, at.y + 1, fmt::format("{}", ++number), 3, true, {1, 1, 1});
        }
        const Vec2 zero = map(job::zeroOf(stock).at);
        const double r = 2;
        pages_.outline(circle(zero, r), {}, 0.4, oxide);
        for (const Vec2 by : {Vec2{r + 1.5, 0}, Vec2{0, r + 1.5}})
            pages_.outline(pathOf({zero - by, zero + by}, false), {}, 0.4, oxide);
        pages_.text(Pages::width / 2 - 7, low.y + 5, length(stock.width), 3, false, faded);
        pages_.textTo(low.x - 2, low.y - stock.height * scale / 2, length(stock.height), 3, false, faded);
        y_ = low.y + 12;
    }

    void title(std::string_view words) {
        room(16);
        y_ += 3;
        pages_.text(left, y_, words, 3.8, true, oxide);
        y_ += 5;
    }
    void fact(std::string_view name, const std::string& value) {
        room(5);
        pages_.text(left, y_, name, 3.2, false, faded);
        pages_.text(left + 42, y_, value, 3.2, false, {}, right - left - 42);
        y_ += 4.8;
    }
    /// Goes on to the next page where so much does not fit.
    void room(double needed) {
        if (y_ + needed < foot) return;
        footer();
        pages_.next();
        y_ = 22;
    }

    void stock() {
        title("Stock");
        const auto& sheet = job_.sheet();
        fact("Material", job::materialOf(job_).name);
        fact("Size", fmt::format("{} × {} × {}", length(sheet.stock.width), length(sheet.stock.height),
                                 length(sheet.stock.thickness)));
        fact("Zero", fmt::format("{}, {} of the stock", job::cornerWords[static_cast<std::size_t>(sheet.stock.corner)],
                                 job::heightWords[static_cast<std::size_t>(sheet.stock.zeroAt)]));
        if (sheet.stock.spacer > 0) fact("Scrap board below", length(sheet.stock.spacer));
        int number = 0;
        const Vec2 zero = job::zeroOf(sheet.stock).at;
        for (const auto& clamp : sheet.clamps)
            fact(fmt::format("Clamp {}", ++number),
                 fmt::format("{} × {} at {}, {} from the zero, {} high", length(clamp.area.width()),
                             length(clamp.area.height()), length(clamp.area.low.x - zero.x),
                             length(clamp.area.low.y - zero.y), length(clamp.height)));
    }

    void row(const std::vector<std::pair<double, std::string>>& cells, bool bold = false) {
        room(5);
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const double next = i + 1 < cells.size() ? cells[i + 1].first - 2 : right;
            pages_.text(cells[i].first, y_, cells[i].second, bold ? 3 : 3.2, bold, bold ? faded : Ink{},
                        next - cells[i].first);
        }
        y_ += 1.6;
        pages_.rule(y_);
        y_ += 3.6;
    }

    /// In the order of work, each once. What of a tool goes below the stock's top has to stick out of its holder.
    void tools() {
        title("Tools");
        row({{left, "No"},
             {left + 12, "Tool"},
             {left + 70, "Diameter"},
             {left + 96, "Flutes long"},
             {left + 124, "Sticks out at least"}},
            true);
        std::vector<std::pair<const shop::Tool*, double>> used;
        for (const auto& step : proof_.path.steps) {
            auto known =
                std::find_if(used.begin(), used.end(), [&](const auto& u) { return u.first->key == step.tool.key; });
            if (known == used.end()) known = used.insert(used.end(), {&step.tool, 0});
            for (const auto& move : step.moves) known->second = std::max(known->second, -move.to.z);
        }
        for (const auto& [tool, deep] : used)
            row({{left, fmt::format("T{}", tool->number)},
                 {left + 12, tool->name},
                 {left + 70, length(tool->diameter)},
                 {left + 96, tool->process() == shop::Process::rotary ? length(tool->fluteLength) : "–"},
                 {left + 124, tool->process() == shop::Process::rotary ? length(deep) : "–"}});
    }

    void steps() {
        title("Steps");
        row({{left, "No"},
             {left + 10, "Step"},
             {left + 66, "Tool"},
             {left + 78, "Depth"},
             {left + 99, "Feed"},
             {left + 128, "Spindle"},
             {left + 153, "Time"}},
            true);
        const auto sums = proof::sumsOf(proof_.path, proof_.timing);
        const bool alone = proof_.path.blanks.empty();
        if (!alone) {
            const auto& tray = *job_.sheet().tray;
            room(10);
            y_ = pages_.lines(left + 10, y_,
                              fmt::format("{} blanks on a tray, {} × {}, {} and {} between them, cut {}{}. Depths and "
                                          "feeds are of one, times of all.",
                                          tray.count(), tray.columns, tray.rows, length(tray.gapX), length(tray.gapY),
                                          job::trayOrderWords[static_cast<std::size_t>(tray.order)],
                                          tray.stops ? " with a stop before each further one" : ""),
                              right - left - 10, 3.2, oxide);
        }
        std::size_t i = 0;
        for (const auto& step : proof_.path.steps) {
            if (step.blank > 1) continue;
            double deep = 0, feed = 0, power = 0;
            for (const auto& move : step.moves) {
                deep = std::max(deep, -move.to.z);
                if (move.kind != toolpath::Move::Kind::rapid) feed = std::max(feed, static_cast<double>(move.feed));
                power = std::max(power, static_cast<double>(move.power));
            }
            if (step.stopBefore || !step.note.empty()) {
                room(10);
                y_ = pages_.lines(left + 10, y_, (step.stopBefore ? "Stop. " : "") + step.note, right - left - 10, 3.2,
                                  oxide);
            }
            const auto& sum = sums[i];
            row({{left, fmt::format("{}", ++i)},
                 {left + 10, step.name},
                 {left + 66, fmt::format("T{}", step.tool.number)},
                 {left + 78, proof_.path.byBeam() ? "–" : length(deep)},
                 {left + 99, shown(feed, Measure::feed, job_.units)},
                 {left + 128, proof_.path.byBeam() ? fmt::format("{:.0f} %", power * 100)
                                                   : fmt::format("{:.0f} rpm", step.spindle)},
                 {left + 153, shownTime(sum.change + sum.motion)}});
        }
        room(6);
        pages_.textTo(right, y_, fmt::format("in all {}", shownTime(proof_.timing.total)), 3.2, true);
        if (const auto cost = proof::costOf(job_, proof_.path, proof_.timing).words(); !cost.empty())
            pages_.text(left, y_, "Costs " + cost, 3.2, false, faded, right - left - 40);
        y_ += 4;
    }

    void findings() {
        title("Proof");
        if (proof_.findings.empty()) {
            pages_.text(left, y_, "Nothing to look at.");
            y_ += 4.8;
        }
        for (const auto& f : proof_.findings) {
            room(10);
            const bool bad = f.verdict == Verdict::noGo;
            pages_.text(left, y_, verdictName(f.verdict), 3.2, true, bad ? noGo : Ink{});
            y_ = pages_.lines(left + 16, y_, f.what + (f.mend.empty() ? "" : " " + f.mend), right - left - 16, 3.2,
                              bad ? noGo : Ink{});
        }
    }

    void footer() {
        pages_.rule(foot + 2);
        const std::string words =
            !proof_.mayRun() ? "No program: a no-go stands."
            : program_ ? fmt::format("Program {} · {} lines · {}", program_->file, program_->lines, program_->hash)
                       : "No program was written with this sheet.";
        pages_.text(left, foot + 7, words, 3, false, proof_.mayRun() ? faded : noGo);
        pages_.textTo(right, foot + 7, fmt::format("page {}", pages_.count()), 3, false, faded);
    }

    const job::Job& job_;
    const proof::Proof& proof_;
    const std::optional<ProgramFacts>& program_;
    Pages pages_;
    double y_ = 0;
};

} // namespace

ProgramFacts ProgramFacts::of(std::string file, std::string_view text, std::size_t lines) {
    return {std::move(file), fmt::format("{:016x}", Hash()(text).value()), lines};
}

Result<std::string> setupSheet(const job::Job& job, const proof::Proof& proof,
                               const std::optional<ProgramFacts>& program) {
    return Sheet(job, proof, program).run();
}

} // namespace ferro::print
