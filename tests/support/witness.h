#pragma once

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <cstdlib>
#include <map>
#include <optional>
#include <sstream>
#include <string>
#include <vector>

/// An independent witness of written programs: a tiny interpreter that sweeps exact tool shapes over a fine grid and
/// knows what is unsafe. Nothing of the program's own rooms is used here, so that it can be held against them.
namespace ferro::test::witness {

struct Tool {
    double diameter = 6, tip = 0, angle = 0; ///< angle 0: flat end
    bool ball = false;
    [[nodiscard]] double heightAt(double r) const { // of its edge above its lowest point
        const double radius = diameter / 2;
        if (r > radius) return 1e9;
        if (ball) return radius - std::sqrt(std::max(0.0, radius * radius - r * r));
        if (angle > 0) return r <= tip / 2 ? 0 : (r - tip / 2) / std::tan(angle / 2 * 3.14159265358979323846 / 180);
        return 0;
    }
};

/// The stock as it stands, mm; z = 0 is its top.
struct Stock {
    double width = 0, height = 0, thickness = 0, cell = 0.5;
    int columns = 0, rows = 0;
    std::vector<double> z;
    Stock(double w, double h, double t, double c)
        : width(w), height(h), thickness(t), cell(c), columns(static_cast<int>(std::ceil(w / c))),
          rows(static_cast<int>(std::ceil(h / c))),
          z(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), 0) {}
    [[nodiscard]] double at(double x, double y) const {
        const int c = static_cast<int>(x / cell), r = static_cast<int>(y / cell);
        if (x < 0 || y < 0 || c >= columns || r >= rows) return -1e9; // beside the stock
        return z[static_cast<std::size_t>(r * columns + c)];
    }
};

struct Report {
    std::vector<std::string> unsafe; ///< what was done that must not be
    double deepest = 0;
    double seconds = 0; ///< of dwelling
    std::size_t stops = 0, toolChanges = 0;
};

struct Options {
    std::map<int, Tool> tools;              ///< by number
    double zeroX = 0, zeroY = 0, zeroZ = 0; ///< stock = program + zero
    bool beam = false;
    double plunge = 1e9; ///< mm/min: no quicker than this down into stock, whatever the slope
    /// The tool's rim is let off by this much, for cells that are only touched.
    double rim = 0.75;
};

/// Drilling cycles of absolute programs as the moves that RS274/NGC 3.5.16 says they are, each back where it came from;
/// `gone` is how far above what was drilled a rapid ends.
inline std::string unfolded(const std::string& program, double gone = 0.2) {
    std::istringstream lines(program);
    std::ostringstream out;
    double high = 0; // of the last move
    for (std::string text; std::getline(lines, text);) {
        const auto number = [&](char letter) {
            const auto at = text.find(letter);
            return at == std::string::npos ? 0.0 : std::strtod(text.c_str() + at + 1, nullptr);
        };
        const bool plain = text.find("G81") != std::string::npos, deep = text.find("G83") != std::string::npos,
                   breaks = text.find("G73") != std::string::npos;
        if (!plain && !deep && !breaks) {
            if (text.find('Z') != std::string::npos && text.find('(') == std::string::npos) high = number('Z');
            out << text << '\n';
            continue;
        }
        const double bottom = number('Z'), from = number('R'), peck = plain ? from - bottom : number('Q');
        out << "G0 X" << number('X') << " Y" << number('Y') << "\nG0 Z" << from << '\n';
        for (double z = from; z > bottom + 1e-9;) {
            z = std::max(bottom, z - peck);
            out << "G1 Z" << z << " F" << number('F') << '\n';
            if (deep && z > bottom + 1e-9) out << "G0 Z" << from << "\nG0 Z" << z + gone << '\n';
            if (breaks && z > bottom + 1e-9) out << "G0 Z" << z + gone << '\n';
        }
        out << "G0 Z" << high << '\n';
    }
    return out.str();
}

/// Runs a program over the stock and tells what was unsafe: cutting with a spindle that does not turn clockwise, a
/// rapid through stock, a beam on a rapid, going down into stock quicker than the plunge feed, or a tool nobody put in.
inline Report run(const std::string& program, Stock& stock, const Options& options) {
    Report report;
    const auto tell = [&](int line, const std::string& what) {
        const std::string said = what;
        for (const auto& u : report.unsafe)
            if (u.find(said) != std::string::npos) return;
        report.unsafe.push_back("line " + std::to_string(line) + ": " + said);
    };
    std::istringstream lines(program);
    std::string text;
    double x = options.zeroX, y = options.zeroY, z = 1e3, unit = 1, feed = 0, speed = 0;
    bool absolute = true;
    int motion = 0, spindle = 5, tool = 0, called = 0, number = 0;
    while (std::getline(lines, text)) {
        ++number;
        std::map<char, double> words;
        std::vector<int> g, m;
        for (std::size_t i = 0; i < text.size();) {
            const char c = text[i];
            if (c == '(') i = std::min(text.find(')', i), text.size() - 1);
            if (c == ';' || c == '%') break;
            ++i;
            if (!std::isalpha(static_cast<unsigned char>(c))) continue;
            char* end = nullptr;
            const double value = std::strtod(text.c_str() + i, &end);
            i = static_cast<std::size_t>(end - text.c_str());
            if (c == 'G')
                g.push_back(static_cast<int>(std::lround(value * 10)));
            else if (c == 'M')
                m.push_back(static_cast<int>(value));
            else
                words[c] = value;
        }
        bool dwell = false;
        for (const int code : g) {
            if (code % 10 == 0 && code <= 30) motion = code / 10;
            if (code == 40) dwell = true;
            if (code == 200) unit = 25.4;
            if (code == 210) unit = 1;
            if (code == 900) absolute = true;
            if (code == 910) absolute = false;
        }
        if (words.count('F')) feed = words['F'] * unit;
        if (words.count('S')) speed = words['S'];
        if (words.count('T')) called = static_cast<int>(words['T']);
        for (const int code : m) {
            if (code >= 3 && code <= 5) spindle = code;
            if (code == 6) tool = called, ++report.toolChanges;
            if (code == 0 || code == 1) ++report.stops;
        }
        if (dwell) {
            report.seconds += words.count('P') ? words['P'] : 0;
            continue;
        }
        if (!words.count('X') && !words.count('Y') && !words.count('Z')) continue;
        const auto to = [&](char letter, double now, double zero) {
            if (!words.count(letter)) return now;
            return absolute ? words[letter] * unit + zero : now + words[letter] * unit;
        };
        const double ex = to('X', x, options.zeroX), ey = to('Y', y, options.zeroY), ez = to('Z', z, options.zeroZ);
        // The way in small bits.
        std::vector<std::array<double, 3>> way;
        double length = std::hypot(ex - x, ey - y);
        if (motion >= 2) {
            const double cx = x + words['I'] * unit, cy = y + words['J'] * unit, r = std::hypot(x - cx, y - cy);
            const double a = std::atan2(y - cy, x - cx), full = 2 * 3.14159265358979323846;
            double sweep = std::atan2(ey - cy, ex - cx) - a;
            if (motion == 3 && sweep <= 1e-9) sweep += full;
            if (motion == 2 && sweep >= -1e-9) sweep -= full;
            length = std::abs(sweep) * r;
            const int parts = 1 + static_cast<int>(length / (stock.cell / 2));
            for (int i = 1; i <= parts; ++i) {
                const double t = static_cast<double>(i) / parts;
                way.push_back({cx + r * std::cos(a + sweep * t), cy + r * std::sin(a + sweep * t), z + (ez - z) * t});
            }
        } else {
            const int parts =
                1 + static_cast<int>(std::max(length, std::min(60.0, std::abs(ez - z))) / (stock.cell / 2));
            for (int i = 1; i <= parts; ++i) {
                const double t = static_cast<double>(i) / parts;
                way.push_back({x + (ex - x) * t, y + (ey - y) * t, z + (ez - z) * t});
            }
        }
        const auto known = options.tools.find(options.beam ? options.tools.begin()->first : tool);
        const Tool shape = known == options.tools.end() ? Tool{} : known->second;
        const double radius = shape.diameter / 2;
        const bool lit = options.beam && (spindle == 3 || spindle == 4) && speed > 0 && motion != 0;
        if (options.beam && motion == 0 && (spindle == 3 || spindle == 4) && speed > 0 && words.count('S') &&
            words['S'] > 0)
            tell(number, "the beam is on during a rapid");
        double before = z;
        for (const auto& p : way) {
            const double low = options.beam ? (lit ? -stock.thickness - 1 : 1) : p[2];
            bool touches = false, touchesWell = false;
            const int r0 = std::max(0, static_cast<int>((p[1] - radius) / stock.cell)),
                      r1 = std::min(stock.rows - 1, static_cast<int>((p[1] + radius) / stock.cell));
            const int c0 = std::max(0, static_cast<int>((p[0] - radius) / stock.cell)),
                      c1 = std::min(stock.columns - 1, static_cast<int>((p[0] + radius) / stock.cell));
            for (int r = r0; low < 0 && r <= r1; ++r)
                for (int c = c0; c <= c1; ++c) {
                    const double off = std::hypot((c + 0.5) * stock.cell - p[0], (r + 0.5) * stock.cell - p[1]);
                    if (off > radius) continue;
                    const double edge = low + (options.beam ? 0 : shape.heightAt(off));
                    double& here = stock.z[static_cast<std::size_t>(r * stock.columns + c)];
                    if (here <= edge + 1e-6) continue;
                    touches = true;
                    touchesWell = touchesWell || (off < radius - options.rim && here > edge + 0.02);
                    here = edge;
                }
            report.deepest = std::min(report.deepest, options.beam ? 0 : p[2]);
            if (touches && !options.beam) {
                if (motion == 0 && touchesWell) tell(number, "a rapid goes through stock");
                if (motion != 0 && spindle != 3) tell(number, "cuts with a spindle that does not turn as it should");
                if (motion != 0 && !(speed > 0)) tell(number, "cuts at S0");
                if (known == options.tools.end()) tell(number, "cuts with a tool that nobody put in");
                const double down = before - p[2], level = length / static_cast<double>(way.size());
                const double sinking = feed * down / std::max(1e-12, std::hypot(down, level));
                if (motion != 0 && touchesWell && down > 1e-9 && sinking > options.plunge * 1.01 + 0.6)
                    tell(number, "goes down into stock quicker than it may plunge: " + std::to_string(sinking) +
                                     " instead of " + std::to_string(options.plunge));
            }
            before = p[2];
        }
        x = ex, y = ey, z = ez;
    }
    if (spindle != 5) tell(number, "ends with the spindle or the beam on");
    return report;
}

} // namespace ferro::test::witness
