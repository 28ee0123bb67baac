#include "toolpath/work_internal.h"

namespace ferro::toolpath {

void Pen::along(const std::vector<Segment>& segments, double z, double rate, double power) {
    std::vector<double> lengths;
    double whole = 0;
    Vec2 from = at_.flat();
    for (const auto& s : segments) whole += lengths.emplace_back(lengthOf(from, s)), from = s.end;
    const double begin = at_.z;
    double done = 0;
    for (std::size_t i = 0; i < segments.size(); ++i) {
        const auto& s = segments[i];
        done += lengths[i];
        if (lengths[i] < 1e-7) continue;
        const double here = i + 1 == segments.size() || whole <= 0 ? z : begin + (z - begin) * done / whole;
        const Vec3 to{s.end.x, s.end.y, here};
        put(s.kind == Segment::Kind::arc ? Move::arc(to, s.a, s.ccw, rate, power) : Move::line(to, rate, power));
    }
}

void Pen::turn(Vec2 into) {
    const double by = std::remainder(std::atan2(into.y, into.x) * 180 / pi - turned, 360);
    if (std::abs(by) < 1e-6) return;
    turned += by;
    out_.turns.push_back({out_.moves.size(), turned, by, std::abs(by) / work_.job.machine.turnSpeed});
}

void Pen::scan(Vec3 to, double rate, double greatest, const std::vector<Run>& runs) {
    const auto first = static_cast<std::uint32_t>(out_.runs.size());
    out_.runs.insert(out_.runs.end(), runs.begin(), runs.end());
    put(Move::scan(to, rate, greatest, {first, static_cast<std::uint32_t>(runs.size())}));
}

void Pen::goOver(Vec2 p) {
    // The first move of a program finds the tool anywhere: up first, then over.
    const Vec3 now = out_.moves.empty() ? Vec3{p.x, p.y, work_.travel} : out_.moves.back().to;
    at_ = now;
    if (now.z < work_.travel) rapid({now.x, now.y, work_.travel});
    rapid({p.x, p.y, work_.travel});
}

void Pen::sinkTo(double z, double surface) {
    const double air = surface + 0.5;
    if (air < work_.travel) feed({at_.x, at_.y, std::max(air, z)}, work_.job.machine.maxFeedZ);
    feed({at_.x, at_.y, z}, plan::ratesIn(work_.step)->plunge);
}

} // namespace ferro::toolpath
