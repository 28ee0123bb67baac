#pragma once

#include "geometry/vec.h"

#include <cstdint>
#include <string>
#include <unordered_map>

namespace ferro::standin {

/// What a beam has left on the table: its light on each spot of a tenth of a millimetre, as share of full power times
/// seconds. Knows nothing of plans: it is filled by where the head was and how long, a millisecond at a time.
class Scorch {
public:
    static constexpr double cell = 0.1; ///< mm

    /// The head went from here to there in so many seconds, its beam at this share of full power all along.
    void burn(Vec2 from, Vec2 to, double seconds, double power);
    /// Light for each mm² within a square about a place, share · s / mm².
    [[nodiscard]] double dose(Vec2 middle, double side) const;
    [[nodiscard]] double total() const { return total_; } ///< share · s
    [[nodiscard]] Box bounds() const { return bounds_; }
    /// A grey picture of it (PGM), a pixel for each spot, black where most light fell; empty where nothing was burnt.
    [[nodiscard]] std::string picture() const;

private:
    [[nodiscard]] static std::uint64_t key(std::int32_t x, std::int32_t y);
    std::unordered_map<std::uint64_t, float> spots_;
    Box bounds_;
    double total_ = 0;
};

} // namespace ferro::standin
