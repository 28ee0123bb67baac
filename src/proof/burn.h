#pragma once

#include "proof/removal.h"

namespace ferro::proof {

/// How deep a beam burns, as a share of the stock: 1 where the cut is meant to go through, else by its energy for each
/// millimetre (power over feed) against the least that a cut goes through with here; three quarters at most, so that
/// what is scored never looks like a gap. A program from elsewhere tells no intent: all of it goes through.
class Burn {
public:
    explicit Burn(const toolpath::Toolpath& path);
    /// `power` of the move, 0 to 1, above 0.
    [[nodiscard]] double share(std::size_t step, std::size_t move, double power) const;

private:
    const toolpath::Toolpath& path_;
    std::vector<std::vector<bool>> scores_; ///< by step and move: it is not meant to go through
    double least_ = 0;                      ///< power over feed
};

/// How dark a beam leaves each cell of a grid, 0 as it was to 1 charred: by the light that fell on it (power over feed,
/// spread over the beam's width, summed over all lines and passes), against what a scribed line of the material gets,
/// which comes out at three quarters. Up to `until` seconds when timing is given. Nothing where there is no beam.
[[nodiscard]] Result<HeightGrid> darknessOf(const HeightGrid& like, const toolpath::Toolpath& path,
                                            const shop::Material& material, Progress& progress,
                                            const Timing* timing = nullptr, double until = 1e300);

} // namespace ferro::proof
