// How dense layouts get over time, on sets that can be laid without a gap and on strips of leaves and gears.
#include "bench.h"
#include "nest/check.h"
#include "support/jigsaw.h"

using namespace ferro;
using namespace ferro::test;

namespace {

void set(const std::string& name, const std::vector<nest::Part>& parts, double length, double height, double seconds) {
    double area = 0;
    for (const auto& part : parts) area += part.quantity * nest::areaOf(part);
    const std::vector<nest::Sheet> sheets{sheetOf(length, height)};
    Progress progress;
    const auto begin = std::chrono::steady_clock::now();
    const auto now = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count(); };
    const double marks[] = {2, 10, 30, seconds};
    double density = 0, atMark[4] = {}, first = 0;
    std::size_t next = 0;
    const auto note = [&] {
        while (next < 4 && now() > marks[next]) atMark[next++] = density;
    };
    nest::Watch watch;
    watch.better = [&](const nest::Layout& l) {
        note();
        density = l.left.empty() ? area / (l.used * height) : l.share;
        if (first == 0) first = density;
    };
    watch.isEnough = [&] { return now() > seconds; };
    const auto result = nest::laidOut(parts, sheets, {.effort = 4'000'000'000}, progress, watch);
    if (!result) return fmt::print("{}: {}\n", name, result.problem().text());
    while (next < 4) atMark[next++] = density;
    const auto faults = nest::faultsOf(parts, sheets, {}, *result);
    for (const auto& fault : faults) fmt::print("  {}\n", fault.what);
    fmt::print("{:24} first {:.3f}  2 s {:.3f}  10 s {:.3f}  30 s {:.3f}  {:.0f} s {:.3f}  left {}  faults {}\n", name,
               first, atMark[0], atMark[1], atMark[2], seconds, atMark[3], result->left.size(), faults.size());
    std::fflush(stdout);
}

} // namespace

void benchNest(double seconds) {
    for (const std::size_t count : {8, 16, 30, 60})
        for (unsigned seed = 1; seed <= 1; ++seed)
            set(fmt::format("jigsaw of {}, {}", count, seed),
                partsOf(jigsaw(seed * 10 + static_cast<unsigned>(count), count, 600, 400), seed), 1200, 400, seconds);
    for (unsigned seed = 1; seed <= 2; ++seed) {
        std::vector<nest::Part> parts;
        for (int i = 0; i < 6; ++i) {
            parts.push_back({{leaf(90 + 12 * i, 34 + 4 * ((i + static_cast<int>(seed)) % 3), 5 + i)}, 3});
            parts.push_back({{gear(18 + 3 * ((i * 2 + static_cast<int>(seed)) % 5), 7 + i)}, 2});
        }
        set(fmt::format("leaves and gears, {}", seed), parts, 2000, 300, seconds);
    }
}
