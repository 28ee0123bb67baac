#include "toolpath/scan_rows_internal.h"

namespace ferro::toolpath {

void RowWriter::row(Pen& pen, double y, const std::vector<Lit>& lit, bool ahead) const {
    constexpr double wide = 12; // mm
    std::vector<std::pair<std::size_t, std::size_t>> goes;
    for (std::size_t i = 0; i < lit.size(); ++i) {
        if (goes.empty() || lit[i].from - lit[i - 1].to > wide + 2 * runUp_) goes.emplace_back(i, i);
        goes.back().second = i + 1;
    }
    if (!ahead) std::reverse(goes.begin(), goes.end());
    for (const auto& [first, end] : goes) scan(pen, y, lit.data() + first, lit.data() + end, ahead);
}

void RowWriter::scan(Pen& pen, double y, const Lit* first, const Lit* end, bool ahead) const {
    const double from = first->from - runUp_, to = (end - 1)->to + runUp_, whole = to - from;
    std::vector<Run> runs;
    double greatest = 0;
    const auto until = [&](double x, Power power) { // of the way as it is gone
        const double share = (ahead ? x - from : to - x) / whole;
        if (share <= (runs.empty() ? 0.0 : static_cast<double>(runs.back().end)) + 1e-9) return;
        if (!runs.empty() && runs.back().power == power)
            runs.back().end = static_cast<float>(std::min(1.0, share));
        else
            runs.push_back({static_cast<float>(std::min(1.0, share)), power});
        greatest = std::max(greatest, double(power));
    };
    if (ahead)
        for (const auto* one = first; one != end; ++one) until(one->from, Power(0)), until(one->to, one->power);
    else
        for (const auto* one = end; one-- != first;) until(one->to, Power(0)), until(one->from, one->power);
    until(ahead ? to : from, Power(0));
    runs.back().end = 1;
    pen.jumpTo(back_({ahead ? from : to, y}));
    const Vec2 stop = back_({ahead ? to : from, y});
    pen.scan({stop.x, stop.y, 0}, feed_, greatest, runs);
}

} // namespace ferro::toolpath
