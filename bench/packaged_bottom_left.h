#pragma once

#include <utility>
#include <vector>

using Outline = std::vector<std::pair<double, double>>; ///< mm, closed

/// What the packaged library's greedy bottom-left placer takes of a strip for these, turned by a right angle or not,
/// and by another where one would not go in. It gives some up although there is room beyond: how many.
struct Strip {
    double length = 0; ///< mm
    int left = 0;
};
Strip bottomLeft(const std::vector<Outline>& outlines, double strip, double room, bool turned);
