#pragma once

#include "geometry/path.h"

#include <cstdint>
#include <functional>

namespace ferro::trace {

/// The borders between the patches of a map of labels, px, y up.
class Borders {
public:
    static constexpr std::uint8_t outside = 255;

    /// Where between the middles of two neighbouring pixels their border lies: 0 at the first, 1 at the second; not
    /// sure if there is more in them than these two colours.
    struct Place {
        double at;
        bool sure;
    };
    using Share = std::function<Place(std::size_t, std::size_t)>; ///< by the pixels' indices
    Borders(const std::vector<std::uint8_t>& labels, int width, int height, const Share& share);

    /// One stretch of border, from node to node, or a ring without a node.
    struct Arc {
        Ring points;            ///< both nodes included; a ring's first point is not repeated
        std::vector<bool> sure; ///< point by point, until the nodes are settled
        bool ring = false;
        std::uint8_t left = outside, right = outside;
        std::uint32_t first = 0, last = 0; ///< half edges, to know what follows
    };
    [[nodiscard]] const std::vector<Arc>& arcs() const { return arcs_; }

    /// An arc and the way it is run through.
    struct Step {
        std::size_t arc;
        bool forward;
    };
    /// The closed borders of all pixels whose label is in, these to the left.
    [[nodiscard]] std::vector<std::vector<Step>> loopsOf(const std::function<bool(std::uint8_t)>& in) const;

    /// A pixel to the left of a step.
    [[nodiscard]] std::size_t pixelLeftOf(const Step& step) const;

private:
    // A half edge is a crack between two pixels run through one way: its corner of the grid times four plus which way
    // (0 right, 1 down, 2 left, 3 up, y down).
    using Half = std::uint32_t;
    [[nodiscard]] std::uint8_t label(int x, int y) const;
    [[nodiscard]] std::uint8_t leftOf(Half h) const;
    [[nodiscard]] std::uint8_t rightOf(Half h) const;
    [[nodiscard]] bool isBorder(Half h) const;
    [[nodiscard]] std::uint32_t target(Half h) const;
    [[nodiscard]] int degree(std::uint32_t corner) const;
    [[nodiscard]] bool isNode(std::uint32_t corner) const;
    [[nodiscard]] std::pair<Vec2, bool> middle(Half h, const Share& share) const;
    [[nodiscard]] Half reverse(Half h) const { return target(h) * 4 + (h % 4 + 2) % 4; }
    void walk(Half from, bool ring, const Share& share);
    void settleNodes();

    const std::vector<std::uint8_t>& labels_;
    int width_, height_;
    std::uint32_t across_; // corners in a row
    std::vector<Arc> arcs_;
    std::vector<std::uint32_t> arcOf_; // by half edge: the arc that begins there, plus one; backwards ones too
    std::vector<bool> walked_;
};

} // namespace ferro::trace
