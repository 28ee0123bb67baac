#pragma once

#include "toolpath/moves.h"

#include <map>
#include <sstream>

namespace ferro::test {

/// A second reader of G-code, written for the tests alone and sharing nothing with the program's own: absolute blocks,
/// G0 to G3 with I and J, G20, G21, S. Answers the way as points, arcs finely divided, in mm.
struct PlainPoint {
    double x = 0, y = 0, z = 0;
    bool rapid = true;
    double speed = 0; ///< S while spindle or beam is on
};
inline std::vector<PlainPoint> plainWay(const std::string& program) {
    std::vector<PlainPoint> way{{}};
    std::istringstream lines(program);
    std::string line;
    int motion = 0;
    double unit = 1, speed = 0;
    bool on = false;
    while (std::getline(lines, line)) {
        std::map<char, double> words;
        std::vector<int> gs, ms;
        for (std::size_t i = 0; i < line.size(); ++i) {
            if (line[i] == '(') i = std::min(line.find(')', i), line.size());
            if (i >= line.size() || line[i] == ';') break;
            if (!std::isupper(static_cast<unsigned char>(line[i]))) continue;
            char* end = nullptr;
            const double value = std::strtod(line.c_str() + i + 1, &end);
            if (line[i] == 'G')
                gs.push_back(static_cast<int>(value));
            else if (line[i] == 'M')
                ms.push_back(static_cast<int>(value));
            else
                words[line[i]] = value;
            i = static_cast<std::size_t>(end - line.c_str()) - 1;
        }
        for (const int g : gs) {
            if (g <= 3) motion = g;
            if (g == 20) unit = 25.4;
            if (g == 21) unit = 1;
        }
        for (const int m : ms) on = m == 3 || m == 4 ? true : m == 5 ? false : on;
        if (words.contains('S')) speed = words['S'];
        if (!words.contains('X') && !words.contains('Y') && !words.contains('Z')) continue;
        const PlainPoint from = way.back();
        PlainPoint to{words.contains('X') ? words['X'] * unit : from.x,
                      words.contains('Y') ? words['Y'] * unit : from.y,
                      words.contains('Z') ? words['Z'] * unit : from.z, motion == 0, on && motion != 0 ? speed : 0};
        if (motion >= 2) {
            const double cx = from.x + words['I'] * unit, cy = from.y + words['J'] * unit;
            const double a = std::atan2(from.y - cy, from.x - cx), r = std::hypot(from.x - cx, from.y - cy);
            double sweep = std::atan2(to.y - cy, to.x - cx) - a;
            if (motion == 3 && sweep <= 1e-9) sweep += 2 * pi;
            if (motion == 2 && sweep >= -1e-9) sweep -= 2 * pi;
            const int parts = 1 + static_cast<int>(std::abs(sweep) * std::sqrt(r) * 40);
            for (int i = 1; i < parts; ++i) {
                const double t = static_cast<double>(i) / parts;
                way.push_back({cx + r * std::cos(a + sweep * t), cy + r * std::sin(a + sweep * t),
                               from.z + (to.z - from.z) * t, false, to.speed});
            }
        }
        way.push_back(to);
    }
    return way;
}

} // namespace ferro::test
