#pragma once

#include "artwork/edits.h"

#include <filesystem>
#include <functional>

namespace ferro::formats {

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
        Vec2 units; ///< the drawing's size in its own units
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
    std::function<std::optional<std::string>(std::string_view)> linked = {}; ///< bytes of a linked picture by its name
    FaceFinder face = {}; ///< for the texts of SVG; without it they are set in our own faces
};
/// Looks for linked pictures beside the drawing and below.
[[nodiscard]] std::function<std::optional<std::string>(std::string_view)> linkedIn(const std::filesystem::path& folder);
/// By the file's ending: SVG or DXF.
[[nodiscard]] bool isDrawingFile(std::string_view file);
[[nodiscard]] Result<Drawing> drawingFrom(std::string_view bytes, std::string_view file,
                                          const DrawingOptions& options = {});

/// "cut 12 · engrave 3 (hidden)": how much each layer holds.
[[nodiscard]] std::string layersIn(const Drawing& drawing);
/// What lies far from all the rest, a line each: where and on which layer. A drawing of under 8 items has none.
[[nodiscard]] std::vector<Notice> strays(const Drawing& drawing);
/// Where no unit is told: the size in each that it may be, for a person to choose by.
[[nodiscard]] std::string sizesOf(const Drawing::Drawn& drawn);

} // namespace ferro::formats
