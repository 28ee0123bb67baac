#pragma once

#include "artwork/part.h"
#include "artwork/recipe.h"
#include "base/id.h"
#include "geometry/path.h"
#include "picture/clean.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace ferro::artwork {

using ItemId = Id<struct ItemTag>;
using LayerId = Id<struct LayerTag>;
using GroupId = Id<struct GroupTag>;
using SheetId = Id<struct SheetTag>;
inline constexpr SheetId firstSheet{1};
inline constexpr double usualFade = 0.78;

/// A shape as drawn or traced, in its own coordinates; its bounds are kept because everything asks for them.
struct Shape {
    Piece piece;
    Box bounds;
    std::vector<double> widths = {}; ///< of a traced stroke, at its start and at each segment's end; empty: not told
};
/// A picture with the bytes it came from. Its own coordinates run from 0,0 at the lower left to its size in mm.
struct PictureLeaf {
    std::string file; ///< name only
    std::shared_ptr<const std::string> bytes;
    picture::Picture picture; ///< as it is worked with: cleaned up
    Vec2 size;                ///< mm of that
    // The clean-up; without it the two pictures are one.
    picture::Picture original = {};
    std::vector<picture::CleanStep> clean = {};
    Vec2 low = {}; ///< mm: where the cleaned picture's lower left corner lies on the original
};
using Leaf = std::variant<std::shared_ptr<const Shape>, std::shared_ptr<const PictureLeaf>>;

/// What a piece was when a trace of a picture made it, so that it is known whether it has been touched since.
struct Origin {
    ItemId picture;
    Box was;                 ///< its bounds, in the picture's own coordinates
    std::uint64_t print = 0; ///< `printOf` the piece
    friend bool operator==(const Origin&, const Origin&) = default;
};

struct Item {
    ItemId id;
    LayerId layer;
    GroupId group;              ///< 0: in none
    SheetId sheet = firstSheet; ///< that it lies on; 0: beside all sheets
    ItemId of = {};             ///< the original whose shape it has; 0: its own
    std::string name;
    Transform place;    ///< own coordinates to its sheet
    Transform original; ///< `place` as it came in: the size that can always be had back
    bool locked = false, hidden = false;
    bool underlay = false;                     ///< a traced picture that stays below as a faded guide
    double fade = usualFade;                   ///< of an underlay: 0 as strong as it is, 1 not seen
    std::optional<Origin> origin = {};         ///< of a traced piece
    std::shared_ptr<const Recipe> recipe = {}; ///< of a picture: how it is traced; none: as any is at first
    std::shared_ptr<const Part> part = {};     ///< what is to be known of it as a part; none: the plain facts
    Leaf leaf;
};
struct Layer {
    LayerId id;
    std::string name;
    bool locked = false, hidden = false;
    bool notes = false; ///< labels that stay with their part and are never cut
    std::string colour; ///< "#rrggbb" as a drawing brought it and takes it away again, or empty
    friend bool operator==(const Layer&, const Layer&) = default;
};
/// A link left standing across what is cut away, from one side to the other.
struct Bridge {
    Vec2 from, to;
    double width = 0; ///< mm
    friend bool operator==(const Bridge&, const Bridge&) = default;
};
/// What a bridged group was made of, in the own coordinates of its items: moving a bridge begins here again.
struct Bridged {
    std::vector<Piece> whole;
    /// Of each whole piece, so that it goes back to where it was; missing ones are like the group.
    struct Was {
        LayerId layer;
        std::string name;
        friend bool operator==(const Was&, const Was&) = default;
    };
    std::vector<Was> was;
    std::vector<Bridge> bridges;
    enum class Areas : std::uint8_t {
        fallOut, ///< stencils: what is drawn is cut out of the plate
        stay     ///< cut-through work: what is drawn is left of the plate
    } areas = Areas::fallOut;
    friend bool operator==(const Bridged&, const Bridged&) = default;
};
/// A text that can still be edited; the pieces of its group are what it came to.
struct Lettering {
    std::string text; ///< UTF-8; lines parted by \n
    std::string face = "sign bold";
    double capHeight = 10;    ///< mm, of a capital letter
    double tracking = 0;      ///< mm more between letters
    double lineSpacing = 1.6; ///< cap heights from line to line
    enum class Align : std::uint8_t { left, centre, right } align = Align::left;
    std::optional<Path> along = {}; ///< the line that the letters stand on, in the group's own coordinates
    friend bool operator==(const Lettering&, const Lettering&) = default;
};
/// Groups hold items and other groups; they have no place of their own.
struct Group {
    GroupId id, parent;
    std::string name;
    std::shared_ptr<const Bridged> bridged = {};     ///< none: an ordinary group
    std::shared_ptr<const Lettering> lettering = {}; ///< of a text
};

/// All that is drawn, on all sheets. A value; items share their leaves. Items lie in drawing order.
struct Artwork {
    std::vector<Layer> layers;
    std::vector<Group> groups;
    std::vector<Item> items;
    std::uint32_t lastId = 0;   ///< ids are never used twice within a job
    SheetId sheet = firstSheet; ///< at hand: what lies elsewhere is out of sight; 0: what lies beside all sheets
};

/// Content counts, not identity: two artworks are equal when they would be saved as the same file.
[[nodiscard]] bool operator==(const Item& a, const Item& b);
[[nodiscard]] bool operator==(const Group& a, const Group& b);
[[nodiscard]] bool operator==(const Artwork& a, const Artwork& b);

[[nodiscard]] Leaf leafOf(Piece piece, std::vector<double> widths = {});
[[nodiscard]] const Shape* shapeOf(const Item& item);
[[nodiscard]] const PictureLeaf* pictureOf(const Item& item);
[[nodiscard]] const Item* find(const Artwork& artwork, ItemId id);
[[nodiscard]] const Layer* find(const Artwork& artwork, LayerId id);
[[nodiscard]] const Layer* layerNamed(const Artwork& artwork, std::string_view name);

/// A content hash of the item's shape and of where it lies, for `Origin`: not of its layer, name or group.
[[nodiscard]] std::uint64_t printOf(const Item& item);

/// The piece where it lies on the sheet.
[[nodiscard]] Piece placed(const Item& item);
/// Bounds on the sheet; exact for upright places, for turned ones exact too (the piece is measured).
[[nodiscard]] Box boundsOf(const Item& item);
[[nodiscard]] Box boundsOf(const Artwork& artwork, const std::vector<ItemId>& items);
/// Out of sight by itself, by its layer or by lying elsewhere than on the sheet at hand; locked by itself or its layer.
[[nodiscard]] bool isHidden(const Artwork& artwork, const Item& item);
[[nodiscard]] bool isLocked(const Artwork& artwork, const Item& item);
/// On a layer of notes: no step takes it, no export either unless its layer is asked for by name.
[[nodiscard]] bool isNote(const Artwork& artwork, const Item& item);
/// `items` and all that is grouped with them, in drawing order.
[[nodiscard]] std::vector<ItemId> withGroupMates(const Artwork& artwork, const std::vector<ItemId>& items);

struct Counts {
    std::size_t pictures = 0, pieces = 0, points = 0, open = 0;
};
[[nodiscard]] Counts countsOf(const Artwork& artwork);

} // namespace ferro::artwork
