#pragma once

#include "program/for_job.h"

namespace ferro::link {

/// What is streamed, as a value: the program with all that is needed to go on with it on another day, whatever has
/// become of the job it was written from.
struct Run {
    std::string job;      ///< its name
    std::string machine;  ///< its key
    std::string revision; ///< of the job's content, as a fingerprint
    std::string program;
    std::string dialect;                  ///< its key
    int boards = 1;                       ///< how many of it, one for each blank of a tray
    std::string board;                    ///< key of the board on the shelf that is cut up; empty: of none
    std::string conversation = "checked"; ///< key of how the machine is spoken to
    bool beam = false;
    double beamScale = 1000;
    int decimals = 3;
    bool wear = false; ///< G41 and G42 are the machine's
    std::string turn;  ///< letter of the axis that turns a knife; empty: none
    Vec2 zero;         ///< program zero on the sheet
    double zeroZ = 0;  ///< and its height above the stock's top
    double travel = 5; ///< mm above the stock's top
    double spinUp = 2; ///< s
    /// The line map: which lines belong to which step, with what it is cut.
    struct Step {
        std::string name, toolName;
        int tool = 0;
        long firstLine = 0, lastLine = 0;
        double plunge = 300; ///< mm/min
        friend bool operator==(const Step&, const Step&) = default;
    };
    std::vector<Step> steps;
    friend bool operator==(const Run&, const Run&) = default;

    [[nodiscard]] std::string fingerprint() const; ///< of the program
    /// The step that a line belongs to or leads to; the last for what comes after all of them.
    [[nodiscard]] const Step* stepOf(long line) const;
};

[[nodiscard]] Run runOf(const job::Job& job, const toolpath::Toolpath& path, const program::Program& program,
                        const program::Dialect& dialect);

/// What keeps `now` from going on where `then` was broken off, in words; empty: they are the same program.
[[nodiscard]] std::string differenceOf(const Run& then, const Run& now);

} // namespace ferro::link
