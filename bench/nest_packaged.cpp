// Strips of leaves and gears by a packaged library's bottom-left placer, and by ours from the same parts. Built where
// the library is installed (`./dev bench packaged`).
#include "nest/check.h"
#include "packaged_bottom_left.h"
#include "support/jigsaw.h"

#include <chrono>
#include <fmt/format.h>

using namespace ferro;
using namespace ferro::test;

namespace {

constexpr double strip = 300, room = 2000; ///< mm

std::vector<nest::Part> partsBy(unsigned seed) {
    std::vector<nest::Part> parts;
    for (int i = 0; i < 6; ++i) {
        parts.push_back({{leaf(90 + 12 * i, 34 + 4 * ((i + static_cast<int>(seed)) % 3), 5 + i)}, 3});
        parts.push_back({{gear(18 + 3 * ((i * 2 + static_cast<int>(seed)) % 5), 7 + i)}, 2});
    }
    return parts;
}

Strip byLibrary(const std::vector<nest::Part>& parts, bool turned) {
    std::vector<Outline> outlines;
    for (const auto& part : parts)
        for (int k = 0; k < part.quantity; ++k) {
            auto& outline = outlines.emplace_back();
            for (const Vec2 p : flattened(part.pieces.front().outline, 0.05)) outline.emplace_back(p.x, p.y);
        }
    return bottomLeft(outlines, strip, room, turned);
}

} // namespace

int main(int argc, char** argv) {
    const double seconds = argc > 1 ? std::strtod(argv[1], nullptr) : 60;
    for (unsigned seed = 1; seed <= 3; ++seed) {
        const auto parts = partsBy(seed);
        const Strip upright = byLibrary(parts, false), turned = byLibrary(parts, true);
        const Strip& library = turned.length < upright.length ? turned : upright; // what it left does not count
        Progress progress;
        const auto begin = std::chrono::steady_clock::now();
        const auto now = [&] {
            return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
        };
        double soon = 0;
        nest::Watch watch;
        watch.better = [&](const nest::Layout& layout) {
            if (now() < 2) soon = layout.used;
        };
        watch.isEnough = [&] { return now() > seconds; };
        const std::vector<nest::Sheet> sheets{sheetOf(room, strip)};
        const auto ours = nest::laidOut(parts, sheets, {.effort = 4'000'000'000}, progress, watch);
        if (!ours) return fmt::print("{}\n", ours.problem().text()), 1;
        fmt::print(
            "strip {}: the library's bottom-left {:.0f} mm, without {} parts that it leaves; ours {:.0f} mm in 2 s, "
            "{:.0f} mm in {:.0f} s, {:.1f} % shorter, without {}, faults {}\n",
            seed, library.length, library.left, soon, ours->used, seconds, 100 * (1 - ours->used / library.length),
            ours->left.size(), nest::faultsOf(parts, sheets, {}, *ours).size());
        std::fflush(stdout);
    }
    return 0;
}
