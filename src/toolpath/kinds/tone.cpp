#include "plan/kinds/tone.h"

#include "base/parallel.h"
#include "toolpath/scan_rows_internal.h"

namespace ferro::toolpath {

namespace {

/// A picture as dark places on its sheet, 0 white to 1 black; beyond its border white.
class Darkness {
public:
    Darkness(const artwork::PictureLeaf& leaf, const Transform& place, bool inverted)
        : grey_(picture::greyOf(leaf.picture)), onPicture_(place.inverse().value_or(Transform{})),
          scaleX_(grey_.width / leaf.size.x), scaleY_(grey_.height / leaf.size.y), inverted_(inverted) {}

    /// What is asked of each of many alike cells of the sheet: the mean over it, by as many samples as it has pixels,
    /// 16 at most; off the picture 0.
    class Mean {
    public:
        /// `across` and `up`: its sides.
        Mean(const Darkness& of, Vec2 across, Vec2 up) : of_(of) {
            const Vec2 a = of.pixel(across) - of.pixel({}), b = of.pixel(up) - of.pixel({});
            const int n = std::clamp(static_cast<int>(std::ceil(std::max(length(a), length(b)) - 0.25)), 1, 4);
            for (int i = 0; i < n; ++i)
                for (int j = 0; j < n; ++j) samples_[count_++] = a * ((i + 0.5) / n - 0.5) + b * ((j + 0.5) / n - 0.5);
        }
        [[nodiscard]] double at(Vec2 middle) const {
            const Vec2 centre = of_.pixel(middle);
            double sum = 0;
            for (std::size_t k = 0; k < count_; ++k) sum += of_.at(centre + samples_[k]);
            return sum / static_cast<double>(count_);
        }

    private:
        const Darkness& of_;
        std::array<Vec2, 16> samples_;
        std::size_t count_ = 0;
    };

private:
    [[nodiscard]] Vec2 pixel(Vec2 sheet) const {
        const Vec2 p = onPicture_(sheet);
        return {p.x * scaleX_, grey_.height - p.y * scaleY_};
    }
    /// Between the middles of four pixels.
    [[nodiscard]] double at(Vec2 p) const {
        if (!(p.x >= 0 && p.y >= 0 && p.x <= grey_.width && p.y <= grey_.height)) return 0;
        const double x = std::clamp(p.x - 0.5, 0.0, grey_.width - 1.0),
                     y = std::clamp(p.y - 0.5, 0.0, grey_.height - 1.0);
        const int x0 = static_cast<int>(x), y0 = static_cast<int>(y), x1 = std::min(x0 + 1, grey_.width - 1),
                  y1 = std::min(y0 + 1, grey_.height - 1);
        const double u = x - x0, v = y - y0;
        const double light = (grey_.at(x0, y0) * (1 - u) + grey_.at(x1, y0) * u) * (1 - v) +
                             (grey_.at(x0, y1) * (1 - u) + grey_.at(x1, y1) * u) * v;
        return inverted_ ? light / 255 : 1 - light / 255;
    }

    picture::Grey grey_;
    Transform onPicture_;
    double scaleX_, scaleY_;
    bool inverted_;
};

/// Cells of a lattice that lies on the sheet's corner, turned with the lines; a level of 0 to 255 each.
struct Cells {
    long column = 0, row = 0; ///< of the first
    int columns = 0, rows = 0;
    double size = 0.1; ///< mm
    std::vector<std::uint8_t> levels;
    [[nodiscard]] const std::uint8_t* line(int r) const {
        return levels.data() + static_cast<std::size_t>(r) * static_cast<std::size_t>(columns);
    }
    [[nodiscard]] std::uint8_t* line(int r) {
        return levels.data() + static_cast<std::size_t>(r) * static_cast<std::size_t>(columns);
    }
};

/// The ordered matrix of 8 by 8 (Bayer 1973), 0 to 63.
int orderedAt(long x, long y) {
    int value = 0;
    for (int bit = 0; bit < 3; ++bit) {
        const int a = static_cast<int>(x >> bit & 1), b = static_cast<int>(y >> bit & 1);
        value |= (a ^ b) << (2 * (2 - bit) + 1) | b << (2 * (2 - bit));
    }
    return value;
}

/// Dots in place of levels: 255 burnt, 0 not.
void setDots(Cells& cells, const plan::Tone& tone) {
    if (tone.by == plan::ToneBy::dots) { // Floyd & Steinberg 1976, to and fro
        std::vector<float> here(static_cast<std::size_t>(cells.columns) + 2), next(here.size());
        for (int r = 0; r < cells.rows; ++r) {
            std::fill(next.begin(), next.end(), 0.0f);
            const bool ahead = r % 2 == 0;
            auto* line = cells.line(r);
            for (int k = 0; k < cells.columns; ++k) {
                const int c = ahead ? k : cells.columns - 1 - k;
                const auto i = static_cast<std::size_t>(c) + 1;
                const float wanted = static_cast<float>(line[c]) + here[i];
                // What is white stays white: no dots strayed there by errors of what lies beside.
                const bool lit = line[c] > 0 && wanted >= 127.5f;
                const float error = line[c] > 0 ? wanted - (lit ? 255.0f : 0.0f) : 0.0f;
                const std::size_t on = ahead ? i + 1 : i - 1, back = ahead ? i - 1 : i + 1;
                here[on] += error * 7 / 16;
                next[back] += error * 3 / 16;
                next[i] += error * 5 / 16;
                next[on] += error * 1 / 16;
                line[c] = lit ? 255 : 0;
            }
            std::swap(here, next);
        }
        return;
    }
    const double turn = tone.tilt * pi / 180, wave = 2 * pi / tone.cell;
    const Vec2 u = Vec2{std::cos(turn), std::sin(turn)} * wave, v = perpendicular(u);
    for (int r = 0; r < cells.rows; ++r) {
        auto* line = cells.line(r);
        for (int c = 0; c < cells.columns; ++c) {
            const long x = cells.column + c, y = cells.row + r;
            double threshold = 0; // share of darkness from which on it is lit
            if (tone.by == plan::ToneBy::ordered) {
                threshold = (orderedAt(x & 7, y & 7) + 0.5) / 64;
            } else { // round dots that grow, and meet as round holes: the share of the plane under cos a + cos b
                const Vec2 p = Vec2{static_cast<double>(x) + 0.5, static_cast<double>(y) + 0.5} * cells.size;
                const double height = (std::cos(dot(p, u)) + std::cos(dot(p, v))) / 2; // -1 to 1
                // Near a top it is round: a share s lies above 1 - height = π s, and alike from below.
                const double top = 1 - std::abs(height);
                const double share = std::min(0.5, top * (1 + 0.57 * top * top) / pi);
                threshold = height >= 0 ? share : 1 - share;
            }
            line[c] = line[c] > 0 && line[c] / 255.0 >= threshold ? 255 : 0;
        }
    }
}

Cells cellsOf(const Darkness& picture, const Box& turned, const plan::Tone& tone, double angle,
              const Progress& progress) {
    Cells cells;
    cells.size = tone.spacing;
    const auto first = [&](double low) { return static_cast<long>(std::floor(low / cells.size + 1e-9)); };
    const auto behind = [&](double high) { return static_cast<long>(std::ceil(high / cells.size - 1e-9)); };
    cells.column = first(turned.low.x), cells.row = first(turned.low.y);
    cells.columns = static_cast<int>(behind(turned.high.x) - cells.column);
    cells.rows = static_cast<int>(behind(turned.high.y) - cells.row);
    cells.levels.resize(static_cast<std::size_t>(cells.columns) * static_cast<std::size_t>(cells.rows));
    const auto back = Transform::rotated(angle, {});
    const Darkness::Mean darkness(picture, back({cells.size, 0}), back({0, cells.size}));
    parallelFor(static_cast<std::size_t>(cells.rows), progress, [&](std::size_t r) {
        auto* line = cells.line(static_cast<int>(r));
        for (int c = 0; c < cells.columns; ++c) {
            const Vec2 middle{(static_cast<double>(cells.column + c) + 0.5) * cells.size,
                              (static_cast<double>(cells.row + static_cast<long>(r)) + 0.5) * cells.size};
            const double dark = darkness.at(back(middle));
            if (dark <= tone.white / 100) continue;
            const double share = tone.gamma == 1 ? dark : std::pow(dark, tone.gamma);
            line[c] = static_cast<std::uint8_t>(std::clamp(share * 255 + 0.5, 1.0, 255.0));
        }
    });
    if (tone.by != plan::ToneBy::power) setDots(cells, tone);
    return cells;
}

} // namespace

template<> Planned planned(const StepWork& work, const plan::Tone& tone, Progress& progress) {
    Planned planned;
    const auto& art = *work.job.artwork;
    const auto pictures = plan::picturesOf(work.step, art);
    const Box sheet = job::sheetOf(work.job.sheet().stock);
    const double angle = tone.angle * pi / 180;
    std::array<Power, 256> powers;
    for (std::size_t level = 0; level < powers.size(); ++level) {
        const double least = std::min(tone.least, tone.beam.power); // which is told
        const double share = tone.by == plan::ToneBy::power
                                 ? least + (tone.beam.power - least) * static_cast<double>(level) / 255
                                 : tone.beam.power;
        powers[level] = level ? share / 100 : 0;
    }
    if (tone.by == plan::ToneBy::power && tone.least > tone.beam.power && !pictures.empty())
        planned.snags.push_back(
            {Verdict::look,
             work.step.id,
             {},
             {},
             fmt::format("The faintest power of “{}”, {:g} %, is above its power: all of it is burnt with {:g} %.",
                         work.step.name, tone.least, tone.beam.power),
             "Lower the faintest power."});
    for (const auto id : pictures) {
        if (progress.cancelled()) return planned;
        const auto& item = *artwork::find(art, id);
        const auto& leaf = *artwork::pictureOf(item);
        const Box box = artwork::boundsOf(item);
        const auto snag = [&](Verdict verdict, std::string what, std::string mend) {
            planned.snags.push_back({verdict, work.step.id, id, box.centre(), std::move(what), std::move(mend)});
        };
        if (!sheet.grown(1e-6).contains(box))
            snag(Verdict::noGo, fmt::format("“{}” reaches beyond the stock.", item.name), "Move or scale the picture.");
        Box turned;
        const auto level = Transform::rotated(-angle, {});
        for (const Vec2 corner : {Vec2{0, 0}, {leaf.size.x, 0}, leaf.size, {0, leaf.size.y}})
            turned.take(level(item.place(corner)));
        if (turned.width() / tone.spacing * (turned.height() / tone.spacing) > 4e8) {
            snag(Verdict::noGo, fmt::format("“{}” would be more than 400 million dots.", item.name),
                 "Set the lines farther apart, or make the picture smaller.");
            continue;
        }
        auto cells =
            std::make_shared<const Cells>(cellsOf({leaf, item.place, tone.inverted}, turned, tone, angle, progress));
        if (progress.cancelled()) return planned;
        if (std::none_of(cells->levels.begin(), cells->levels.end(), [](auto l) { return l > 0; })) {
            snag(Verdict::look, fmt::format("“{}” is all white; nothing of it is burnt.", item.name),
                 "Lower what counts as white, or take it as a negative.");
            continue;
        }
        const double pixel = std::max(leaf.size.x / leaf.picture.width, leaf.size.y / leaf.picture.height);
        if (pixel > 3 * tone.spacing)
            snag(Verdict::note,
                 fmt::format("“{}” has a pixel every {}, the lines are {} apart.", item.name, mm(pixel),
                             mm(tone.spacing)),
                 "Finer lines than its pixels burn longer and show no more.");
        const RowWriter writer(angle, runUpOf(tone.rates.feed, work.job.machine), tone.rates.feed);
        Task task;
        task.intent.item = id;
        task.intent.side = plan::Side::on;
        task.intent.bottom = work.thickness();
        task.size = std::max(box.width(), box.height());
        task.entry = task.exit = writer.begins(static_cast<double>(cells->column) * cells->size,
                                               (static_cast<double>(cells->row) + 0.5) * cells->size);
        task.centre = {task.entry, {}, false};
        task.write = [cells, powers, writer, tone](Pen& pen) {
            std::vector<Lit> lit;
            for (int pass = 0; pass < static_cast<int>(tone.beam.passes); ++pass) {
                bool ahead = true;
                for (int r = 0; r < cells->rows; ++r) {
                    lit.clear();
                    const auto* line = cells->line(r);
                    for (int c = 0; c < cells->columns;) {
                        int end = c + 1;
                        while (end < cells->columns && line[end] == line[c]) ++end;
                        if (line[c] > 0)
                            lit.push_back({static_cast<double>(cells->column + c) * cells->size,
                                           static_cast<double>(cells->column + end) * cells->size, powers[line[c]]});
                        c = end;
                    }
                    if (lit.empty()) continue;
                    writer.row(pen, (static_cast<double>(cells->row + r) + 0.5) * cells->size, lit, ahead);
                    if (tone.bothWays) ahead = !ahead;
                }
            }
        };
        planned.tasks.push_back(std::move(task));
    }
    return planned;
}

template<> std::vector<Aim> aimsOf(const StepWork&, const plan::Tone&) { return {}; }

} // namespace ferro::toolpath
