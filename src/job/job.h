#pragma once

#include "artwork/edits.h"
#include "artwork/tolerances.h"
#include "base/quantity.h"
#include "job/lie.h"
#include "plan/step.h"
#include "shop/shop.h"

namespace ferro::job {

enum class ZeroCorner { lowerLeft, lowerRight, upperRight, upperLeft, centre };
enum class ZeroHeight { top, bottom };

inline constexpr std::array<std::string_view, 5> cornerWords = {"lower left", "lower right", "upper right",
                                                                "upper left", "centre"};
inline constexpr std::array<std::string_view, 2> heightWords = {"top", "bottom"};
constexpr const auto& wordsOf(ZeroCorner) { return cornerWords; }
constexpr const auto& wordsOf(ZeroHeight) { return heightWords; }

/// The sheet on the machine. Inside the program its lower left corner is x = y = 0 and its top z = 0.
struct Stock {
    double width = 600, height = 400, thickness = 12; ///< mm, above 0
    ZeroCorner corner = ZeroCorner::lowerLeft;
    ZeroHeight zeroAt = ZeroHeight::top;
    double spacer = 0; ///< mm of tape or scrap board below the sheet that may be cut into
    double uneven = 0; ///< mm that its top may lie higher or lower than at the zero, where that was not measured
    /// Of a blank that is no rectangle, with its holes: it just fills width and height from 0, 0.
    std::optional<Piece> outline = {};
    friend bool operator==(const Stock&, const Stock&) = default;
};

/// A block the tool must not meet.
struct Clamp {
    Box area;
    double height = 15; ///< mm above the top of the stock
    friend bool operator==(const Clamp&, const Clamp&) = default;
};

/// In which order the blanks of a tray are cut: all steps on one and then the next, or each step on all of them.
enum class TrayOrder : std::uint8_t { blankByBlank, stepByStep };
inline constexpr std::array<std::string_view, 2> trayOrderWords = {"blank by blank", "step by step"};
constexpr const auto& wordsOf(TrayOrder) { return trayOrderWords; }

/// Blanks like the sheet's stock in rows on the machine, all cut by one program. What is drawn is the one at the lower
/// left, and lies on all of them.
struct Tray {
    int columns = 2, rows = 2;   ///< 1 to 100 each, of more than one blank
    double gapX = 10, gapY = 10; ///< mm between them, 0 to 1000
    TrayOrder order = TrayOrder::blankByBlank;
    bool stops = true; ///< the machine waits for the person before it goes on to another
    [[nodiscard]] std::size_t count() const { return static_cast<std::size_t>(columns * rows); }
    friend bool operator==(const Tray&, const Tray&) = default;
};

using artwork::SheetId;

/// A sheet of material with what holds it.
struct Sheet {
    SheetId id = artwork::firstSheet;
    std::string name = "Sheet 1";
    Stock stock;
    std::vector<Clamp> clamps;
    std::optional<shop::Material> material = {}; ///< where it is not what the plan was made for
    bool mirrored = false;                       ///< what lies on it was mirrored, to be cut from its back
    std::string board = {};                      ///< key of the board on the shelf that it is cut from; empty: of none
    std::optional<Lie> lie = {};                 ///< measured: depths follow it
    std::optional<Tray> tray = {};               ///< it is one of several blanks
    double cost = 0;                             ///< of that board, in the shop's own money; 0: by the material
    friend bool operator==(const Sheet&, const Sheet&) = default;
};

/// What one file of a program holds. A machine that no tool can be changed on in the middle wants a file for each.
enum class FileOf : std::uint8_t { job, tool, step };
inline constexpr std::array<std::string_view, 3> fileOfNames = {"job", "tool", "step"};
/// How programs become files.
struct Output {
    FileOf each = FileOf::job;
    /// Of the files, without the ending: {job}, {sheet}, {number}, {tool} and {step} are filled in; empty: as is usual.
    std::string name;
    friend bool operator==(const Output&, const Output&) = default;
};

/// One piece of work. An immutable value: copy it, change the copy by the functions of edits.h. Carries the machine,
/// tools and material it was made with, so that it opens the same elsewhere.
struct Job {
    std::string name = "untitled";
    Units units = Units::mm;
    std::shared_ptr<const artwork::Artwork> artwork = std::make_shared<const artwork::Artwork>();
    artwork::Tolerances tolerances;                    ///< of the drawing's audit
    std::vector<Sheet> sheets = std::vector<Sheet>(1); ///< one at least; the artwork says which is at hand
    shop::Machine machine;
    shop::Material material;       ///< that the plan was made for
    std::vector<shop::Tool> tools; ///< all that the steps use
    plan::Plan plan;
    std::string dialect; ///< empty: the machine's own
    Output output;

    /// The sheet at hand, on which all is planned, proofed and run; the first while what lies beside is at hand.
    [[nodiscard]] const Sheet& sheet() const;
    [[nodiscard]] Sheet& sheet();
};
[[nodiscard]] const Sheet* find(const Job& job, SheetId sheet);
/// What the sheet at hand is made of.
[[nodiscard]] const shop::Material& materialOf(const Job& job);
/// Which sheet is looked at does not count: the same work is the same job.
[[nodiscard]] bool operator==(const Job& a, const Job& b);

/// Where the program's zero lies in sheet coordinates; z is the height of program zero above the stock's top, 0 or
/// below.
struct Zero {
    Vec2 at;
    double z = 0;
};
[[nodiscard]] Zero zeroOf(const Stock& stock);
/// What there is of the sheet, in its own coordinates, and the box about it.
[[nodiscard]] Piece blankOf(const Stock& stock);
/// How far each blank lies from the one that is drawn, that first, in the order of cutting: along one row and back
/// along the next.
[[nodiscard]] std::vector<Vec2> placesOf(const Sheet& sheet);
/// The box about all of them.
[[nodiscard]] Box trayOf(const Sheet& sheet);
[[nodiscard]] inline Box sheetOf(const Stock& stock) { return {{0, 0}, {stock.width, stock.height}}; }
[[nodiscard]] const shop::Tool* toolOf(const Job& job, const plan::Step& step);
/// The height above the stock's top at which rapids travel: over the clearance and over every clamp, where
/// the blank lies highest.
[[nodiscard]] double travelHeight(const Job& job);

/// A fresh job on the book's first machine and material, or the named ones.
[[nodiscard]] Result<Job> freshJob(const shop::Book& book, std::string_view machine = {},
                                   std::string_view material = {});

} // namespace ferro::job
