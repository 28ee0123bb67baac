#include "picture/pixels/specks_internal.h"

#include "base/parallel.h"

#include <algorithm>

namespace ferro::picture::pixels {

namespace {

/// All runs, row by row; dark and light ones take turns.
struct Runs {
    std::vector<Run> all;
    std::vector<std::uint8_t> dark;
    std::vector<std::size_t> firstOf; ///< of each row, and the end
};

Runs runsOf(std::span<const std::uint8_t> pixels, int width, int height, int level) {
    constexpr std::size_t band = 64;
    const auto rows = static_cast<std::size_t>(height), w = static_cast<std::size_t>(width);
    std::vector<Runs> parts((rows + band - 1) / band);
    parallelSlices(parts.size(), 1, [&](std::size_t first, std::size_t last) {
        for (std::size_t part = first; part < last; ++part)
            for (std::size_t y = part * band; y < std::min(rows, (part + 1) * band); ++y) {
                auto& out = parts[part];
                out.firstOf.push_back(out.all.size());
                const std::uint8_t* row = pixels.data() + y * w;
                for (int x = 0; x < width;) {
                    const bool dark = row[x] < level;
                    const int begin = x;
                    while (x < width && (row[x] < level) == dark) ++x;
                    out.all.push_back({static_cast<int>(y), begin, x});
                    out.dark.push_back(dark);
                }
            }
    });
    Runs out;
    for (auto& part : parts) {
        for (const auto first : part.firstOf) out.firstOf.push_back(out.all.size() + first);
        out.all.insert(out.all.end(), part.all.begin(), part.all.end());
        out.dark.insert(out.dark.end(), part.dark.begin(), part.dark.end());
        part = {};
    }
    out.firstOf.push_back(out.all.size());
    return out;
}

/// Sets that are joined: each thing knows one before it, the first of a set itself.
class Sets {
public:
    explicit Sets(std::size_t count) : before_(count) {
        for (std::size_t i = 0; i < count; ++i) before_[i] = static_cast<std::uint32_t>(i);
    }
    std::uint32_t first(std::uint32_t i) {
        while (before_[i] != i) i = before_[i] = before_[before_[i]];
        return i;
    }
    void join(std::uint32_t a, std::uint32_t b) {
        a = first(a), b = first(b);
        before_[std::max(a, b)] = std::min(a, b);
    }

private:
    std::vector<std::uint32_t> before_;
};

} // namespace

std::vector<Speck> specksIn(std::span<const std::uint8_t> pixels, int width, int height, int level, double least) {
    const Runs runs = runsOf(pixels, width, height, level);
    Sets sets(runs.all.size());
    for (std::size_t y = 1; y < static_cast<std::size_t>(height); ++y) {
        std::size_t up = runs.firstOf[y - 1];
        for (std::size_t i = runs.firstOf[y]; i < runs.firstOf[y + 1]; ++i) {
            const auto& run = runs.all[i];
            while (up < runs.firstOf[y] && runs.all[up].end < run.begin) ++up;
            for (std::size_t k = up; k < runs.firstOf[y] && runs.all[k].begin <= run.end; ++k)
                if (runs.dark[k] == runs.dark[i])
                    sets.join(static_cast<std::uint32_t>(k), static_cast<std::uint32_t>(i));
        }
    }
    std::vector<std::uint32_t> size(runs.all.size(), 0);
    for (std::uint32_t i = 0; i < runs.all.size(); ++i)
        size[sets.first(i)] += static_cast<std::uint32_t>(runs.all[i].end - runs.all[i].begin);
    std::vector<Speck> specks;
    std::vector<std::int32_t> numberOf(runs.all.size(), -1);
    for (std::uint32_t i = 0; i < runs.all.size(); ++i) {
        const auto root = sets.first(i);
        if (!(size[root] < least)) continue;
        if (numberOf[root] < 0) {
            numberOf[root] = static_cast<std::int32_t>(specks.size());
            specks.push_back({runs.dark[i] != 0, {}});
        }
        specks[static_cast<std::size_t>(numberOf[root])].runs.push_back(runs.all[i]);
    }
    std::stable_partition(specks.begin(), specks.end(), [](const Speck& s) { return s.dark; });
    return specks;
}

} // namespace ferro::picture::pixels
