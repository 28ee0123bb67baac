#pragma once

#include "program/dialect.h"
#include "program/writer.h"

#include <map>

namespace ferro::program {

/// What one line of G-code asks for besides motion.
struct Event {
    enum class Kind {
        none,
        toolChange,
        pause,
        end,
        dwell,
        home,
        zeroSet,
        spindle,
        unread,
        touch,
        turn
    } kind = Kind::none;
    double value = 0; ///< tool number, seconds, rpm; touch: mm/min; turn: ° that a knife is turned on the spot
    Vec2 zero;
    bool bare = true;          ///< home: without axis words, so straight to it
    std::string what = {};     ///< unread: what is passed over although it means something
    toolpath::Vec3 touch = {}; ///< how far it may go until it meets something
    double lit = 0;            ///< dwell: power of a beam that burns while it stands, 0 to 1
};

/// Reads RS-274 line by line (NIST RS274/NGC version 3): G0–G4, G10 no, G17–G19, G20/21, G28/30, G40, G43, G49,
/// G53–G59, G61, G64, G73, G80–G83, G90/91, G90.1/91.1, G92, G93 no, G94, G98/99; M0–M9, M30; F S T N; remarks. Modal
/// state is kept between lines. What it does not know, O-words and subprograms among it, is a problem, not a guess: a
/// program half understood is no proof. What it passes over although it means something is an event.
class Interpreter {
public:
    struct Options {
        bool beam = false;       ///< S is beam power while M3/M4 is on
        double beamScale = 1000; ///< S for full power
        bool touches = false;    ///< G38.2 is read, as a controller does; a program that touches is refused
        bool wear = false; ///< G41 and G42 are taken for what makes up for wear, of which there is none; else refused
        std::string turn = {}; ///< letters of axes that turn a knife, each taken for the one there is; else refused
    };
    Interpreter() = default;
    explicit Interpreter(const Options& options) : options_(options) {}

    struct Line {
        std::vector<toolpath::Move> moves; ///< in program coordinates, mm
        std::vector<Event> events;         ///< happen before the moves
        std::optional<long> number;        ///< N word
    };
    [[nodiscard]] Result<Line> read(std::string_view text);

    /// Where the tool is, in program coordinates, mm.
    void setPosition(toolpath::Vec3 at) { at_ = at; }
    [[nodiscard]] toolpath::Vec3 position() const { return at_; }

    struct Modes {
        int motion = 0; ///< 0 to 3, 73, 80 to 83
        bool inch = false, absolute = true;
        bool absoluteCentres = false, returnToInitial = true;
        double feed = 0;                   ///< mm/min
        double speed = 0;                  ///< S
        int spindle = 5;                   ///< 3, 4 or 5
        int tool = 0;                      ///< in the spindle, by M6
        int nextTool = 0;                  ///< by T
        int plane = 17;                    ///< 17, 18 or 19
        int offset = 54;                   ///< work offset, 54 to 59
        int toolOffset = 49;               ///< 43 or 49
        bool mist = false, flood = false;  ///< M7, M8: air or coolant
        int wear = 40;                     ///< 40, 41 or 42
        double turned = 0, turnedFrom = 0; ///< ° that a knife points to, behind the line and before it
        struct Cycle {
            double z = 0, r = 0, q = 0, initial = 0;
            friend bool operator==(const Cycle&, const Cycle&) = default;
        } cycle; ///< of drilling, mm
        friend bool operator==(const Modes&, const Modes&) = default;
    };
    [[nodiscard]] const Modes& modes() const { return modes_; }
    [[nodiscard]] const std::vector<Notice>& notices() const { return notices_; }

private:
    struct Words;
    Result<void> mWords(const Words& words, Line& line);
    Result<void> gWords(const Words& words, Line& line);
    Result<void> motion(const Words& words, Line& line);
    Result<void> arc(const Words& words, toolpath::Vec3 to, Line& line);
    Result<void> cycle(const Words& words, Line& line);
    [[nodiscard]] toolpath::Vec3 target(const Words& words) const;
    void turn(const Words& words, Line& line);
    void go(toolpath::Move move, Line& line);
    void note(std::string text);

    Options options_;
    Modes modes_;
    toolpath::Vec3 at_;
    std::vector<Notice> notices_;
    std::string tight_; ///< a line without its white space
};

/// A whole program as moves, for a proof of any file (need RU3).
struct ReadProgram {
    toolpath::Toolpath path;
    std::vector<std::vector<std::uint32_t>> lineOf;  ///< per step, per move
    std::vector<std::vector<std::uint32_t>> stateOf; ///< per step, per move: index into `states`
    std::vector<Interpreter::Modes> states;
    /// Everything that is no motion, with the line it stands on and how many moves came before it.
    struct Happening {
        Event event;
        std::uint32_t line = 0;
        std::size_t moves = 0;
    };
    std::vector<Happening> happenings;
    Interpreter::Modes atEnd;
    std::vector<Notice> notices;
    std::size_t lines = 0;
};
struct ReadOptions {
    Interpreter::Options interpreter;
    Frame frame;                   ///< sheet = program + zero
    std::vector<shop::Tool> tools; ///< by number; others become an end mill of `fallbackDiameter`
    double fallbackDiameter = 3;
    double startHeight = 5; ///< mm above the stock where the tool waits before the first move
    bool blade = false;     ///< it is cut by a blade, and no spindle turns

    [[nodiscard]] shop::Process process() const {
        return interpreter.beam ? shop::Process::beam : blade ? shop::Process::blade : shop::Process::rotary;
    }
};
/// Problems say the line. `text` may have any line ending.
[[nodiscard]] Result<ReadProgram> readProgram(std::string_view text, const ReadOptions& options);

} // namespace ferro::program
