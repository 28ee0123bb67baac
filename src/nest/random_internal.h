#pragma once

#include <cstdint>

namespace ferro::nest {

/// Numbers by chance, the same everywhere: splitmix64 (Steele, Lea & Flood 2014).
class Chance {
public:
    explicit Chance(std::uint64_t seed) : state_(seed) {}
    std::uint64_t next() {
        std::uint64_t z = state_ += 0x9e3779b97f4a7c15u;
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
        return z ^ (z >> 31);
    }
    /// 0 to below 1.
    double share() { return static_cast<double>(next() >> 11) * 0x1p-53; }
    double between(double low, double high) { return low + (high - low) * share(); }
    std::size_t below(std::size_t count) { return static_cast<std::size_t>(share() * static_cast<double>(count)); }

private:
    std::uint64_t state_;
};

} // namespace ferro::nest
