#pragma once

#include "artwork/edits.h"

#include <array>
#include <filesystem>
#include <functional>

namespace ferro::formats {

/// A unit that a DXF drawing may have been drawn in.
struct DrawnUnit {
    std::string_view word; ///< "mm", "inch" …
    double mm;
};
inline constexpr std::array drawnUnits{DrawnUnit{"mm", 1}, DrawnUnit{"inch", 25.4}, DrawnUnit{"cm", 10},
                                       DrawnUnit{"m", 1000}, DrawnUnit{"foot", 304.8}};

/// What a drawing file holds, at its real size: mm, y up.
struct Drawing {
    struct Item {
        std::vector<Piece> pieces; ///< of one element of the file
        std::string layer, name;
    };
    std::vector<Item> items; ///< in the file's order
    struct Picture {
        std::string bytes, name;
        Transform place; ///< from the unit square, y up
    };
    std::vector<Picture> pictures; ///< embedded in the drawing
    Vec2 size;                     ///< mm of the page, 0 where it tells none

    struct Look {
        std::string layer, colour; ///< "#rrggbb"
        bool hidden = false;
        bool notes = false; ///< labels, not to be cut
    };
    std::vector<Look> looks; ///< of the layers, where the file tells

    /// Of a file whose numbers may mean anything.
    struct Drawn {
        enum class By { file, choice, guess } by = By::file;
        double mmPerUnit = 1;
        Vec2 units;             ///< the drawing's size in its own units, without what lies far from all the rest
        std::size_t strays = 0; ///< how many items that is
    };
    Drawn drawn;
    bool loose = false;          ///< made of single lines and arcs that are meant to be outlines
    std::vector<Notice> notices; ///< what could not be taken over, each kind once
};

/// Adds all of a drawing to an artwork; pieces of one element become a group. Layers are made by name. Pictures come
/// first, so that they lie below; one that cannot be read is left out.
[[nodiscard]] artwork::Added withDrawing(const artwork::Artwork& artwork, const Drawing& drawing);

/// The file of a face by its family, bold or not, italic or not.
using FaceFinder = std::function<std::optional<std::string>(std::string_view family, bool bold, bool italic)>;
/// Those of this machine.
[[nodiscard]] FaceFinder installedFaces();

struct DrawingOptions {
    std::optional<double> mmPerUnit = {};                                    ///< for a file that does not say its unit
    bool strokesAsOutlines = false;                                          ///< of SVG
    bool dropStrays = false;                                                 ///< what lies far from all the rest
    std::function<std::optional<std::string>(std::string_view)> linked = {}; ///< bytes of a linked picture by its name
    FaceFinder face = {}; ///< for the texts of SVG; without it they are set in our own faces
};
/// Looks for linked pictures beside the drawing and below.
[[nodiscard]] std::function<std::optional<std::string>(std::string_view)> linkedIn(const std::filesystem::path& folder);
/// By the file's ending: SVG, DXF or HPGL.
[[nodiscard]] bool isDrawingFile(std::string_view file);
[[nodiscard]] Result<Drawing> drawingFrom(std::string_view bytes, std::string_view file,
                                          const DrawingOptions& options = {});

/// "cut 12 · engrave 3 (hidden)": how much each layer holds.
[[nodiscard]] std::string layersIn(const Drawing& drawing);
/// What lies far from all the rest, ascending indices of items. A drawing of under 8 items has none.
[[nodiscard]] std::vector<std::size_t> strays(const Drawing& drawing);
/// A line each: where and on which layer.
[[nodiscard]] std::vector<Notice> strayWords(const Drawing& drawing);

/// A unit that a drawing that tells none may mean, and how likely that is.
struct UnitGuess {
    std::string_view word; ///< "mm", "inch" …
    double mm = 1;
    Vec2 size;       ///< mm, of the drawing
    std::string why; ///< "fits the sheet", "larger than the machine" …
};
/// The likeliest first: what goes well onto the sheet, then what goes onto the machine's bed, then what is small, last
/// what is larger than the bed; without a bed nothing is said of either. Of equals the one that the drawing itself
/// hints at, then by how common a unit is.
[[nodiscard]] std::vector<UnitGuess> guessesOf(const Drawing::Drawn& drawn, Vec2 sheet, Vec2 bed);
/// They in one line, for a person to choose by.
[[nodiscard]] std::string toText(const std::vector<UnitGuess>& guesses);

} // namespace ferro::formats
