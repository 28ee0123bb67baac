#pragma once

#include "trace/trace.h"

namespace ferro::trace {

/// Settings in px.
struct PixelSettings : Settings {
    double grainy = 0;      ///< what grainy edges are followed within
    double mostSpeck = 0.5; ///< what is larger is none, unless `speck` says so
    /// Where specks are not looked at one by one.
    [[nodiscard]] double speckArea(double least) const { return std::max(speck < 0 ? mostSpeck : speck, least); }
};
[[nodiscard]] PixelSettings inPixels(const Settings& settings, double pxPerMm);

/// Areas, outer edges or strokes of a whole grey picture, px in and out. Of areas `largestMiss` is not measured.
[[nodiscard]] Result<Traced> tracedGrey(const picture::Grey& grey, int level, const PixelSettings& settings,
                                        Progress& progress);
/// The farthest that pieces lie from the level line, px; pieces in px.
[[nodiscard]] double largestMiss(const std::vector<Piece>& pieces, const picture::Grey& grey, int level, bool invert,
                                 const Progress& progress);
/// From px to mm, counted.
[[nodiscard]] Result<Traced> finished(Traced traced, double pxPerMm, Progress& progress);

/// Pieces behind those that are there, with their widths; layers are the caller's.
void append(Traced& to, Traced from);

/// By level, in parts: what each of the settings finds in what is left to it; those that look for colours nothing.
[[nodiscard]] Result<Traced> tracedInParts(const picture::Grey& grey, double pxPerMm, const Settings& settings,
                                           const std::vector<Patch>& patches, Progress& progress);
/// By colours, in parts: the areas that each of the settings that look for colours finds, cut along the patches.
[[nodiscard]] Result<Traced> coloursInParts(const picture::Picture& picture, double pxPerMm, const Settings& settings,
                                            const std::vector<Patch>& patches, Progress& progress);

} // namespace ferro::trace
