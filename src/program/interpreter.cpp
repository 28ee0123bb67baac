// RS-274 line by line.
#include "program/reader.h"

#include "base/quantity.h"

#include <array>
#include <charconv>

namespace ferro::program {

using toolpath::Move;
using toolpath::Vec3;

/// The letters of one line. A letter may come once, but for G and M.
struct Interpreter::Words {
    std::array<std::optional<double>, 26> letters;
    /// As many as a line can do with; millions of lines are read, and none is to ask for memory.
    struct Codes {
        std::array<int, 12> codes;
        std::size_t count = 0;
        [[nodiscard]] bool full() const { return count == codes.size(); }
        void put(int code) { codes[count++] = code; }
        [[nodiscard]] const int* begin() const { return codes.data(); }
        [[nodiscard]] const int* end() const { return codes.data() + count; }
    };
    Codes g; // in tenths: 900 is G90, 901 G90.1
    Codes m;

    [[nodiscard]] std::optional<double> operator[](char letter) const {
        return letters[static_cast<std::size_t>(letter - 'A')];
    }
    [[nodiscard]] bool hasAxis() const { return (*this)['X'] || (*this)['Y'] || (*this)['Z']; }
    [[nodiscard]] bool has(int code) const { return std::find(g.begin(), g.end(), code) != g.end(); }
};

namespace {

Problem bad(std::string what) { return {.what = std::move(what), .where = {}, .mend = {}}; }

} // namespace

Result<Interpreter::Line> Interpreter::read(std::string_view text) {
    Line line;
    Words words;
    std::size_t at = 0;
    if (text.starts_with('%')) return line; // tape mark
    if (text.starts_with('O') || text.starts_with('o')) {
        // A number alone names the program; with a word behind it, it branches or repeats.
        std::string_view rest = text.substr(1);
        while (!rest.empty() && std::isspace(static_cast<unsigned char>(rest.front()))) rest.remove_prefix(1);
        while (!rest.empty() && std::isdigit(static_cast<unsigned char>(rest.front()))) rest.remove_prefix(1);
        while (!rest.empty() && std::isspace(static_cast<unsigned char>(rest.front()))) rest.remove_prefix(1);
        if (rest.empty() || rest.front() == '(' || rest.front() == ';') return line;
        return bad("O-words (sub, call, repeat, while, if) are not read here: write the program out without them.");
    }
    if (text.starts_with('/')) at = 1;
    // White space may stand anywhere, in a number too (RS274/NGC 3.3.1).
    tight_.clear();
    bool remark = false;
    for (const char c : text) {
        remark = (remark || c == '(') && c != ')';
        if (remark || !std::isspace(static_cast<unsigned char>(c))) tight_ += c;
    }
    text = tight_;
    while (at < text.size()) {
        const char c = text[at];
        if (std::isspace(static_cast<unsigned char>(c))) {
            ++at;
        } else if (c == ';') {
            break;
        } else if (c == '(') {
            const auto end = text.find(')', at);
            if (end == std::string_view::npos) return bad("A remark is not closed.");
            at = end + 1;
        } else if (std::isalpha(static_cast<unsigned char>(c))) {
            const char letter = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
            ++at;
            const char* begin = text.data() + at;
            if (at < text.size() && *begin == '+') ++begin;
            double value = 0;
            const auto [stop, error] =
                std::from_chars(begin, text.data() + text.size(), value, std::chars_format::fixed);
            if (error != std::errc{}) return bad(fmt::format("No number after {}.", letter));
            if (!(std::abs(value) < 1e7)) return bad(fmt::format("The number after {} is absurd.", letter));
            at = static_cast<std::size_t>(stop - text.data());
            if (letter == 'G' || letter == 'M') {
                auto& codes = letter == 'G' ? words.g : words.m;
                if (codes.full()) return bad(fmt::format("More {} words than a line can have.", letter));
                codes.put(static_cast<int>(std::lround(letter == 'G' ? value * 10 : value)));
            } else {
                auto& slot = words.letters[static_cast<std::size_t>(letter - 'A')];
                if (slot) return bad(fmt::format("{} stands twice.", letter));
                slot = value;
            }
        } else {
            return bad(fmt::format("“{}” is not read here; variables and expressions are not supported.", c));
        }
    }
    for (const char letter : {'A', 'B', 'C', 'U', 'V', 'W', 'D', 'E'})
        if (words[letter] && !(letter == 'D' && options_.wear) && options_.turn.find(letter) == std::string::npos)
            return bad(fmt::format("{} words are not supported: this is a three-axis machine.", letter));
    if (words['N']) line.number = std::lround(*words['N']);
    // Order of execution as in RS274/NGC 3.8: feed, speed, tool, spindle, dwell, modes, motion, stop.
    if (words.has(200)) modes_.inch = true;
    if (words.has(210)) modes_.inch = false;
    const double unit = modes_.inch ? mmPerInch : 1;
    if (words['F']) modes_.feed = *words['F'] * unit;
    if (words['S']) modes_.speed = *words['S'];
    if (words['T']) modes_.nextTool = static_cast<int>(std::lround(*words['T']));
    if (auto fine = mWords(words, line); !fine) return fine.problem();
    if (auto fine = gWords(words, line); !fine) return fine.problem();
    turn(words, line);
    return line;
}

Result<void> Interpreter::mWords(const Words& words, Line& line) {
    for (const int m : words.m) {
        if (m == 3 || m == 4 || m == 5) {
            modes_.spindle = m;
            line.events.push_back({Event::Kind::spindle, m == 5 ? 0 : modes_.speed, {}});
        } else if (m == 6) {
            modes_.tool = modes_.nextTool;
            line.events.push_back({Event::Kind::toolChange, static_cast<double>(modes_.tool), {}});
        } else if (m == 0 || m == 1) {
            line.events.push_back({Event::Kind::pause, 0, {}});
        } else if (m == 2 || m == 30) {
            line.events.push_back({Event::Kind::end, 0, {}});
        } else if (m == 7 || m == 8 || m == 9) {
            if (m == 7) modes_.mist = true;
            if (m == 8) modes_.flood = true;
            if (m == 9) modes_.mist = modes_.flood = false;
        } else {
            return bad(fmt::format("M{} is not known.", m));
        }
    }
    return {};
}

Result<void> Interpreter::gWords(const Words& words, Line& line) {
    int motionCode = -1;
    const auto unread = [&](std::string what) {
        note(what);
        line.events.push_back({Event::Kind::unread, 0, {}, true, std::move(what)});
    };
    bool homes = false, sets = false, machine = false, touches = false;
    for (const int g : words.g) {
        switch (g) {
        case 0:
        case 10:
        case 20:
        case 30:
        case 730:
        case 810:
        case 820:
        case 830:
            if (motionCode >= 0 && motionCode != g / 10)
                return bad(fmt::format("G{} and G{} stand on one line.", motionCode, g / 10));
            motionCode = g / 10;
            break;
        case 40: {
            Event dwell{Event::Kind::dwell, words['P'].value_or(0), {}};
            // By M4 the power follows the speed, and a beam that stands is dark.
            if (options_.beam && modes_.spindle == 3) dwell.lit = modes_.speed / options_.beamScale;
            line.events.push_back(std::move(dwell));
            break;
        }
        case 170:
        case 180:
        case 190: modes_.plane = g / 10; break;
        case 200:
        case 210: break; // done before
        case 280:
        case 300: homes = true; break;
        case 382:
            if (!options_.touches)
                return bad("G38.2 touches until it meets something; where that is a program cannot know.");
            touches = true;
            break;
        case 530: machine = true; break;
        case 800: modes_.motion = 80; break;
        case 900: modes_.absolute = true; break;
        case 910: modes_.absolute = false; break;
        case 901: modes_.absoluteCentres = true; break;
        case 911: modes_.absoluteCentres = false; break;
        case 920: sets = true; break;
        case 980: modes_.returnToInitial = true; break;
        case 990: modes_.returnToInitial = false; break;
        case 430:
            modes_.toolOffset = 43;
            unread("The program corrects for the tool's length (G43); the length is the machine's and not known here.");
            break;
        case 490: modes_.toolOffset = 49; break;
        case 540:
        case 550:
        case 560:
        case 570:
        case 580:
        case 590:
            modes_.offset = g / 10;
            if (g != 540)
                unread(fmt::format("The program uses the work offset G{}; it is taken for the zero.", modes_.offset));
            break;
        case 400: modes_.wear = 40; break;
        case 610:
        case 640:
        case 940: break;
        case 410:
        case 420:
            if (!options_.wear) return bad("Cutter compensation in the controller (G41, G42) is not supported.");
            if (!words['D']) return bad(fmt::format("G{} needs the number of the tool's wear (D).", g / 10));
            modes_.wear = g / 10;
            break;
        case 930:
        case 950: return bad("Only feed per minute (G94) is supported.");
        default:
            return bad(g % 10 ? fmt::format("G{}.{} is not known.", g / 10, g % 10)
                              : fmt::format("G{} is not known.", g / 10));
        }
    }
    if (words.has(40)) return {};
    if (touches) {
        if (!words.hasAxis() || !(modes_.feed > 0)) return bad("G38.2 needs an axis and a feed.");
        line.events.push_back({Event::Kind::touch, modes_.feed, {}, true, {}, target(words)});
        return {};
    }
    if (homes) {
        note("The program sends the machine home (G28, G30); where that is only the machine knows.");
        line.events.push_back({Event::Kind::home, 0, {}, !words.hasAxis()});
        return {};
    }
    if (machine && words.hasAxis()) {
        unread("Moves in machine coordinates (G53) are left out: where they lead only the machine knows.");
        return {};
    }
    if (sets) {
        note("The program moves its own zero (G92).");
        line.events.push_back(
            {Event::Kind::zeroSet, words['Z'].value_or(0), {words['X'].value_or(0), words['Y'].value_or(0)}});
        const double unit = modes_.inch ? mmPerInch : 1;
        if (words['X']) at_.x = *words['X'] * unit;
        if (words['Y']) at_.y = *words['Y'] * unit;
        if (words['Z']) at_.z = *words['Z'] * unit;
        return {};
    }
    const bool newCycle = motionCode >= 73;
    if (motionCode >= 0) {
        if (newCycle && modes_.motion < 73) modes_.cycle = {.initial = at_.z};
        if (newCycle && modes_.motion < 73 && !(words['Z'] && words['R']))
            return bad(fmt::format("The drilling cycle G{} begins without {}.", motionCode, words['Z'] ? "R" : "Z"));
        modes_.motion = motionCode;
    }
    if (!words.hasAxis() && !(motionCode >= 2 && motionCode <= 3 && (words['I'] || words['J'] || words['K'])))
        return {};
    if (modes_.motion == 80) return bad("Coordinates without a motion word.");
    return motion(words, line);
}

void Interpreter::turn(const Words& words, Line& line) {
    modes_.turnedFrom = modes_.turned;
    for (const char letter : options_.turn)
        if (words[letter]) modes_.turned = modes_.absolute ? *words[letter] : modes_.turned + *words[letter];
    if (const double by = std::abs(modes_.turned - modes_.turnedFrom); by > 0 && line.moves.empty())
        line.events.push_back({Event::Kind::turn, by, {}});
}

Vec3 Interpreter::target(const Words& words) const {
    const double unit = modes_.inch ? mmPerInch : 1;
    Vec3 to = at_;
    const auto axis = [&](char letter, double& value) {
        if (words[letter]) value = modes_.absolute ? *words[letter] * unit : value + *words[letter] * unit;
    };
    axis('X', to.x);
    axis('Y', to.y);
    axis('Z', to.z);
    return to;
}

void Interpreter::go(Move move, Line& line) {
    const bool rapid = move.kind == Move::Kind::rapid;
    move.feed = rapid ? 0 : static_cast<float>(modes_.feed);
    move.power =
        !rapid && options_.beam && modes_.spindle != 5 ? std::clamp(modes_.speed / options_.beamScale, 0.0, 1.0) : 0;
    at_ = move.to;
    line.moves.push_back(move);
}

Result<void> Interpreter::motion(const Words& words, Line& line) {
    if (modes_.motion >= 73) return cycle(words, line);
    if (modes_.motion != 0 && !(modes_.feed > 0)) return bad("A feed move before any feed (F) was given.");
    const Vec3 to = target(words);
    if (modes_.motion >= 2) return arc(words, to, line);
    go({modes_.motion == 0 ? Move::Kind::rapid : Move::Kind::line, true, to, {}, 0, 0}, line);
    return {};
}

Result<void> Interpreter::arc(const Words& words, Vec3 to, Line& line) {
    const double unit = modes_.inch ? mmPerInch : 1;
    const bool ccw = modes_.motion == 3;
    // The plane's two axes and the one along which a helix climbs (G17: XY Z, G18: ZX Y, G19: YZ X).
    const auto split = [&](Vec3 p) {
        return modes_.plane == 17   ? Vec3{p.x, p.y, p.z}
               : modes_.plane == 18 ? Vec3{p.z, p.x, p.y}
                                    : Vec3{p.y, p.z, p.x};
    };
    const auto join = [&](Vec3 p) {
        return modes_.plane == 17 ? p : modes_.plane == 18 ? Vec3{p.y, p.z, p.x} : Vec3{p.z, p.x, p.y};
    };
    const Vec3 from = split(at_), end = split(to);
    Vec2 centre;
    if (words['R'] && (words['I'] || words['J'] || words['K']))
        return bad("The arc has a radius (R) and a centre (I, J, K): which of them counts is not sure.");
    if (words['R']) {
        const double r = *words['R'] * unit;
        const Vec2 chord = end.flat() - from.flat();
        const double half = length(chord) / 2;
        if (half < 1e-9) return bad("An arc by radius needs different ends.");
        if (half > std::abs(r) * (1 + 1e-4) + 0.002) return bad("The radius is too small for the arc's ends.");
        const double h = std::sqrt(std::max(0.0, r * r - half * half));
        const bool left = ccw == (r > 0);
        centre = (from.flat() + end.flat()) / 2 + ferro::unit(perpendicular(chord)) * (left ? h : -h);
    } else {
        const char first = modes_.plane == 17   ? 'I'
                           : modes_.plane == 18 ? 'K'
                                                : 'J',
                   second = modes_.plane == 17   ? 'J'
                            : modes_.plane == 18 ? 'I'
                                                 : 'K';
        if (!words[first] && !words[second]) return bad("An arc needs its centre or radius.");
        const Vec2 given{words[first].value_or(0) * unit, words[second].value_or(0) * unit};
        centre = modes_.absoluteCentres ? given : from.flat() + given;
    }
    const double r0 = ferro::distance(from.flat(), centre), r1 = ferro::distance(end.flat(), centre);
    // RS274/NGC 3.5.3: ends may differ by a little from rounding, not by more.
    if (std::abs(r0 - r1) > std::max(0.02, 0.001 * std::max(r0, r1)))
        return bad(fmt::format("The arc's ends lie {} and {} from its centre.", mm(r0), mm(r1)));
    const bool full = ferro::distance(from.flat(), end.flat()) < 1e-9;
    if (modes_.plane == 17) {
        if (full) {
            const Vec2 across = 2 * centre - from.flat();
            go({Move::Kind::arc, ccw, {across.x, across.y, (from.z + end.z) / 2}, centre, 0, 0}, line);
        }
        go({Move::Kind::arc, ccw, to, centre, 0, 0}, line);
        return {};
    }
    // Upright arcs become chords within a micron or so; the tool paths of this program lie in the plane.
    double sweep = full ? (ccw ? 2 * pi : -2 * pi) : sweepOf(from.flat(), Segment::arc(centre, end.flat(), ccw));
    const int parts = std::clamp(
        static_cast<int>(std::ceil(std::abs(sweep) / std::acos(std::max(0.0, 1 - 0.001 / std::max(r0, 0.01))) / 2)), 2,
        20'000);
    for (int i = 1; i <= parts; ++i) {
        const double t = static_cast<double>(i) / parts;
        const Vec2 p = i == parts ? end.flat() : centre + Transform::rotated(sweep * t).direction(from.flat() - centre);
        go({Move::Kind::line, true, join({p.x, p.y, from.z + (end.z - from.z) * t}), {}, 0, 0}, line);
    }
    return {};
}

Result<void> Interpreter::cycle(const Words& words, Line& line) {
    const double unit = modes_.inch ? mmPerInch : 1;
    if (!(modes_.feed > 0)) return bad("A drilling cycle before any feed (F) was given.");
    if (words['R']) modes_.cycle.r = modes_.absolute ? *words['R'] * unit : at_.z + *words['R'] * unit;
    if (words['Z']) modes_.cycle.z = modes_.absolute ? *words['Z'] * unit : modes_.cycle.r + *words['Z'] * unit;
    if (words['Q']) modes_.cycle.q = *words['Q'] * unit;
    if (modes_.cycle.r < modes_.cycle.z) return bad("The drilling cycle's R lies below its bottom.");
    const bool pecks = modes_.motion == 83 || modes_.motion == 73;
    if (pecks && !(modes_.cycle.q > 0)) return bad("A pecking cycle needs Q above 0.");
    if (pecks && (modes_.cycle.r - modes_.cycle.z) / modes_.cycle.q > 100'000)
        return bad("The pecking cycle has an absurd number of pecks.");
    const auto repeats = std::lround(words['L'].value_or(1));
    if (repeats < 1 || repeats > 10'000) return bad("The number of repeats (L) is absurd.");
    for (long i = 0; i < repeats; ++i) {
        Vec3 over = at_;
        if (words['X']) over.x = modes_.absolute ? *words['X'] * unit : over.x + *words['X'] * unit;
        if (words['Y']) over.y = modes_.absolute ? *words['Y'] * unit : over.y + *words['Y'] * unit;
        const auto rapid = [&](double z) { go({Move::Kind::rapid, true, {over.x, over.y, z}, {}, 0, 0}, line); };
        if (at_.z < modes_.cycle.r) go({Move::Kind::rapid, true, {at_.x, at_.y, modes_.cycle.r}, {}, 0, 0}, line);
        rapid(at_.z);
        rapid(modes_.cycle.r);
        double z = modes_.cycle.r;
        while (z > modes_.cycle.z + 1e-9) {
            z = pecks ? std::max(modes_.cycle.z, z - modes_.cycle.q) : modes_.cycle.z;
            go({Move::Kind::line, true, {over.x, over.y, z}, {}, 0, 0}, line);
            if (modes_.motion == 83 && z > modes_.cycle.z + 1e-9) {
                rapid(modes_.cycle.r);
                rapid(z + std::min(0.25, modes_.cycle.q / 2));
            }
        }
        if (modes_.motion == 82 && words['P']) line.events.push_back({Event::Kind::dwell, *words['P'], {}});
        rapid(modes_.returnToInitial ? std::max(modes_.cycle.initial, modes_.cycle.r) : modes_.cycle.r);
    }
    return {};
}

void Interpreter::note(std::string text) {
    const Notice notice{std::move(text)};
    if (std::find(notices_.begin(), notices_.end(), notice) == notices_.end()) notices_.push_back(notice);
}

} // namespace ferro::program
