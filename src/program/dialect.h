#pragma once

#include "base/disk.h"
#include "base/quantity.h"
#include "base/result.h"
#include "shop/shop.h"

#include <string>
#include <vector>

namespace ferro::program {

/// How a machine wants its G-code: a JSON file (docs/dialects.md). Lines are templates; {words} are filled in.
struct Dialect {
    std::string key, title;
    Units units = Units::mm;
    bool arcs = true;      ///< else arcs become short lines within `chord`
    bool byRadius = false; ///< arcs by R, in pieces of at most a third of a turn; else by their centre, I and J
    int lineNumbers = 0;   ///< step of the N words; 0: none
    double chord = 0.002;  ///< mm
    double largestArc =
        10'000;       ///< mm of radius: a controller that counts in 24 bits bends wider ones; they become lines
    int decimals = 3; ///< of coordinates
    int feedDecimals = 0;
    bool cycles = false; ///< holes by G81, G83 and G73 (RS274/NGC 3.5.16), each with all its words; else written out
    bool wear = false;   ///< a controller that shifts the way by its table of wear (G41, G42, G40)
    bool modal = true;   ///< leave out words that do not change
    /// What it is for. A beam: power in S on feed moves, no heights; a blade: heights, and no spindle.
    shop::Process process = shop::Process::rotary;
    double beamScale = 1000; ///< S for full power
    bool plotter = false;    ///< HPGL in place of G-code: pen up and down, force and speed
    double perMm = 40;       ///< a plotter's steps in a millimetre
    std::string ending = "nc";
    std::string comment = "({})"; ///< how a remark is written; empty: none
    std::vector<std::string> header, toolChange, start, stop, pause{"M0"}, footer;
    std::vector<std::string> air, airOff; ///< on and off where a beam burns; empty: it has no words for that
    /// A beam that stands lit for {seconds} at {power}; empty: it cannot.
    std::vector<std::string> pierce;
    /// A, B or C, in degrees, of a machine that turns a knife; empty: it has no words for that, and does it by itself.
    std::string turn;
    bool heights = false; ///< of a beam's: Z is said where the focus goes down from pass to pass
    [[nodiscard]] bool beam() const { return process == shop::Process::beam; }
    friend bool operator==(const Dialect&, const Dialect&) = default;
};

[[nodiscard]] Result<Dialect> dialectFromText(std::string_view json);
/// A shipped dialect by name, or the user's own from `dialects/` in the data folder, which wins. Never a path: what a
/// job names must mean the same wherever it is opened.
[[nodiscard]] Result<Dialect> openDialect(Disk& disk, std::string_view key);
[[nodiscard]] std::vector<std::string> knownDialects();
[[nodiscard]] std::string toText(const Dialect& dialect);
/// One of the user's own, by its key, atomically; it is used from then on, also where a shipped one has that key.
[[nodiscard]] Result<void> saveOwnDialect(Disk& disk, const Dialect& dialect);
[[nodiscard]] bool isOwnDialect(std::string_view key);
/// Takes one of the user's own away; a shipped one of that key is used again.
[[nodiscard]] Result<void> removeOwnDialect(std::string_view key);

} // namespace ferro::program
