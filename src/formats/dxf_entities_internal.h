#pragma once

#include "formats/drawing.h"

#include <map>
#include <variant>

namespace ferro::formats {

/// What a DXF file holds, in its own units, blocks not put in yet.
struct DxfEntities {
    struct Drawn {
        Path path;
        std::string layer;
        const char* kind;
    };
    struct Insert {
        std::string block, layer;
        Transform place; ///< of the first copy, without the block's base
        int columns = 1, rows = 1;
        Vec2 column, row;       ///< from copy to copy
        bool dimension = false; ///< the block is a measure as it is drawn: a label
        std::size_t number = 0; ///< among those of the drawing itself
        std::string name = {};  ///< what its attributes call it; empty: as the block
    };
    struct Label { ///< what tells about the drawing and is no part of it
        std::vector<Path> paths;
        std::string layer;
        const char* kind;
    };
    using Entity = std::variant<Drawn, Insert, Label>;
    struct Block {
        Vec2 base;
        std::vector<Entity> entities;
    };
    std::map<std::string, Block> blocks;
    std::vector<Entity> entities;
    std::vector<Drawing::Look> looks;
    std::map<std::string, std::size_t> leftOut; ///< by kind, how many
};
/// `text` as `dxfPairsFrom` gives it.
[[nodiscard]] DxfEntities dxfEntitiesFrom(std::string text);

/// The entities with their blocks put in, `mmPerUnit` applied.
struct DxfUnfolded {
    std::vector<Drawing::Item> items;
    Vec2 origin;            ///< mm: what all was moved back by, because it was drawn far from its own origin
    std::size_t absurd = 0; ///< left out: farther off than 10 km from that
    std::map<std::string, std::map<std::string, std::size_t>> labels; ///< by the layer that they are put on and kind
    std::map<std::string, std::size_t> missing;                       ///< blocks that are not there
    std::size_t undrawn = 0;                                          ///< dimensions without their lines
};
[[nodiscard]] Result<DxfUnfolded> unfolded(const DxfEntities& entities, double mmPerUnit);

} // namespace ferro::formats
