#include "job/lie.h"

#include "base/quantity.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace ferro::job {

namespace {

constexpr std::size_t mostPlaces = 10'000;
constexpr double most = 50;     ///< mm up or down
constexpr double alike = 0.005; ///< mm: places nearer than this are in one row

/// The cell that a value falls into, and how far into it, 0 to 1.
std::pair<std::size_t, double> cellOf(const std::vector<double>& line, double value) {
    const auto above = std::upper_bound(line.begin(), line.end(), value);
    const auto cell = std::clamp<std::ptrdiff_t>(above - line.begin() - 1, 0, std::ssize(line) - 2);
    const auto k = static_cast<std::size_t>(cell);
    return {k, std::clamp((value - line[k]) / (line[k + 1] - line[k]), 0.0, 1.0)};
}

bool ascends(const std::vector<double>& line) {
    return line.size() >= 2 && std::adjacent_find(line.begin(), line.end(),
                                                  [](double a, double b) { return !(b - a >= alike); }) == line.end();
}

/// Each once, those that are alike as one.
std::vector<double> rowsOf(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    std::vector<double> rows;
    for (const double value : values)
        if (rows.empty() || value - rows.back() >= alike) rows.push_back(value);
    return rows;
}

std::size_t rowOf(const std::vector<double>& rows, double value) {
    const auto after = std::upper_bound(rows.begin(), rows.end(), value);
    return static_cast<std::size_t>(std::max<std::ptrdiff_t>(after - rows.begin() - 1, 0));
}

struct Place {
    double x, y, z;
    std::size_t line;
};

/// The numbers of a line, or a problem with the first word that is none.
Result<std::vector<double>> numbersIn(std::string_view line) {
    constexpr std::string_view between = ",;\t \r";
    std::vector<double> out;
    for (auto at = line.find_first_not_of(between); at != std::string_view::npos;
         at = line.find_first_not_of(between, at)) {
        const auto word = line.substr(at, line.find_first_of(between, at) - at);
        const char* begin = word.data() + (word.front() == '+');
        double value = 0;
        const auto [stop, error] = std::from_chars(begin, word.data() + word.size(), value);
        if (error != std::errc{} || stop != word.data() + word.size() || !std::isfinite(value))
            return Problem{.what = fmt::format("“{}” is no number.", word.substr(0, 40)), .where = {}, .mend = {}};
        out.push_back(value);
        at += word.size();
    }
    return out;
}

Problem inLine(std::size_t line, std::string what) {
    return {.what = std::move(what),
            .where = fmt::format("line {}", line),
            .mend = "Write a place a line: x, y and z in mm from the zero."};
}

Result<std::vector<Place>> placesIn(std::string_view text) {
    std::vector<Place> places;
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    for (std::size_t number = 1; !text.empty(); ++number) {
        const auto end = std::min(text.find('\n'), text.size());
        const std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        const auto numbers = numbersIn(line);
        if (!numbers && number == 1) continue; // the columns' names
        if (!numbers) return inLine(number, numbers.problem().what);
        if (numbers->empty()) continue;
        if (numbers->size() != 3)
            return inLine(number, fmt::format("Three numbers were expected, {} are there.", numbers->size()));
        const auto& n = *numbers;
        if (std::abs(n[0]) > 20'000 || std::abs(n[1]) > 20'000)
            return inLine(number, "This place is further off than any machine is wide.");
        if (std::abs(n[2]) > most) return inLine(number, fmt::format("A height of {} is no blank's.", mm(n[2])));
        if (places.size() == mostPlaces)
            return inLine(number, fmt::format("There are more than {} places.", mostPlaces));
        places.push_back({n[0], n[1], n[2], number});
    }
    return places;
}

} // namespace

double Lie::at(Vec2 p) const {
    if (heights.empty()) return 0;
    const auto [column, u] = cellOf(xs, p.x);
    const auto [row, v] = cellOf(ys, p.y);
    const auto height = [&](std::size_t r, std::size_t c) { return heights[r * xs.size() + c]; };
    return (height(row, column) * (1 - u) + height(row, column + 1) * u) * (1 - v) +
           (height(row + 1, column) * (1 - u) + height(row + 1, column + 1) * u) * v;
}
double Lie::lowest() const { return heights.empty() ? 0 : *std::min_element(heights.begin(), heights.end()); }
double Lie::highest() const { return heights.empty() ? 0 : *std::max_element(heights.begin(), heights.end()); }
double Lie::beyond(Vec2 p) const {
    if (heights.empty()) return 0;
    return std::hypot(std::max({xs.front() - p.x, p.x - xs.back(), 0.0}),
                      std::max({ys.front() - p.y, p.y - ys.back(), 0.0}));
}

Result<void> checked(const Lie& lie) {
    const auto no = [](std::string what) {
        return Problem{.what = std::move(what), .where = "lie", .mend = "Measure the blank again."};
    };
    if (!ascends(lie.xs) || !ascends(lie.ys)) return no("A lie has two rows and two columns at least, in order.");
    if (lie.xs.size() > mostPlaces || lie.ys.size() > mostPlaces || lie.xs.size() * lie.ys.size() > mostPlaces)
        return no(fmt::format("A lie has at most {} places.", mostPlaces));
    if (lie.heights.size() != lie.xs.size() * lie.ys.size()) return no("A lie has one height for each place.");
    for (const double h : lie.heights)
        if (!(std::abs(h) <= most)) return no("A height of the lie is no blank's.");
    for (const auto* line : {&lie.xs, &lie.ys})
        for (const double value : *line)
            if (!(std::abs(value) <= 40'000)) return no("A place of the lie is further off than any machine is wide.");
    return {};
}

Result<Lie> lieFrom(std::string_view text, Vec2 zero) {
    auto places = placesIn(text);
    if (!places) return places.problem();
    std::vector<double> xs, ys;
    for (const auto& place : *places) xs.push_back(place.x), ys.push_back(place.y);
    Lie lie{rowsOf(std::move(xs)), rowsOf(std::move(ys)), {}};
    if (lie.xs.size() < 2 || lie.ys.size() < 2)
        return Problem{.what = "These are no places over an area: two rows and two columns are needed.",
                       .where = {},
                       .mend = "Measure at the four corners at least."};
    if (lie.xs.size() * lie.ys.size() > mostPlaces)
        return Problem{.what = "The places lie in no grid: hardly two have the same x or y.",
                       .where = {},
                       .mend = "Measure in rows and columns."};
    std::vector<std::size_t> lineOf(lie.xs.size() * lie.ys.size(), 0);
    lie.heights.resize(lineOf.size());
    for (const auto& place : *places) {
        const std::size_t k = rowOf(lie.ys, place.y) * lie.xs.size() + rowOf(lie.xs, place.x);
        if (lineOf[k]) return inLine(place.line, fmt::format("This place was measured in line {} already.", lineOf[k]));
        lineOf[k] = place.line;
        lie.heights[k] = place.z;
    }
    for (std::size_t k = 0; k < lineOf.size(); ++k)
        if (!lineOf[k])
            return Problem{.what = fmt::format("The grid has no height at x {}, y {}.", mm(lie.xs[k % lie.xs.size()]),
                                               mm(lie.ys[k / lie.xs.size()])),
                           .where = {},
                           .mend = "Measure in whole rows and columns."};
    for (double& x : lie.xs) x += zero.x;
    for (double& y : lie.ys) y += zero.y;
    if (auto fine = checked(lie); !fine) return fine.problem();
    return lie;
}

std::string lieText(const Lie& lie, Vec2 zero) {
    std::string out = "x,y,z\n";
    for (std::size_t k = 0; k < lie.heights.size(); ++k)
        out += fmt::format("{:.3f},{:.3f},{:.4f}\n", lie.xs[k % lie.xs.size()] - zero.x,
                           lie.ys[k / lie.xs.size()] - zero.y, lie.heights[k]);
    return out;
}

} // namespace ferro::job
