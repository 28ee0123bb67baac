#include "toolpath/follow_lie.h"

#include "geometry/measure.h"

namespace ferro::toolpath {

namespace {

constexpr double heightOff = 0.01; ///< mm, of heights between the ends of a move
constexpr int mostHalved = 12;     ///< halvings

/// Puts down one feed move in parts.
class Parter {
public:
    Parter(const job::Lie& lie, Vec3 from, const Move& move, std::vector<Move>& out)
        : lie_(lie), from_(from), move_(move), flat_(move.flat()), out_(out),
          sweep_(move.kind == Move::Kind::arc ? sweepOf(from.flat(), flat_) : 0) {}

    void run() {
        if (lengthOf(from_.flat(), flat_) < 1e-9) return put(1); // straight up or down
        // Where the surface bends: at the rows and columns of its grid.
        std::vector<double> bends{0, 1};
        if (move_.kind != Move::Kind::arc) {
            const Vec2 a = from_.flat(), b = move_.to.flat();
            for (const double x : lie_.xs)
                if ((a.x - x) * (b.x - x) < 0) bends.push_back((x - a.x) / (b.x - a.x));
            for (const double y : lie_.ys)
                if ((a.y - y) * (b.y - y) < 0) bends.push_back((y - a.y) / (b.y - a.y));
            std::sort(bends.begin(), bends.end());
        }
        for (std::size_t i = 0; i + 1 < bends.size(); ++i) part(bends[i], bends[i + 1], 0);
    }

private:
    [[nodiscard]] double heightAt(double t) const { return lie_.at(pointAt(from_.flat(), flat_, t)); }
    void part(double a, double b, int depth) {
        double off = 0;
        const double low = heightAt(a), high = heightAt(b);
        for (const double t : {0.17, 0.34, 0.5, 0.66, 0.83})
            off = std::max(off, std::abs(heightAt(a + (b - a) * t) - (low + (high - low) * t)));
        // An arc longer than a cell may miss a bend of the grid between two of the places.
        const bool coarse = move_.kind == Move::Kind::arc && std::abs(sweep_) * (b - a) > pi / 8;
        if ((off > heightOff * 0.8 || coarse) && depth < mostHalved) {
            part(a, (a + b) / 2, depth + 1);
            part((a + b) / 2, b, depth + 1);
            return;
        }
        put(b);
    }
    void put(double t) {
        Move next = move_;
        const Vec2 p = t < 1 ? pointAt(from_.flat(), flat_, t) : move_.to.flat();
        next.to = {p.x, p.y, from_.z + (move_.to.z - from_.z) * t + lie_.at(p)};
        out_.push_back(next);
    }

    const job::Lie& lie_;
    Vec3 from_;
    const Move& move_;
    Segment flat_;
    std::vector<Move>& out_;
    double sweep_;
};

} // namespace

OnLie onLie(const Toolpath& path, const job::Lie& lie) {
    OnLie out{path, {}};
    Vec3 at = path.start;
    for (std::size_t s = 0; s < path.steps.size(); ++s) {
        const auto& old = path.steps[s];
        auto& step = out.path.steps[s];
        auto& origin = out.origin.emplace_back();
        step.moves.clear();
        std::vector<std::size_t> begins; // of each old move among the new ones
        for (std::size_t i = 0; i < old.moves.size(); ++i) {
            begins.push_back(step.moves.size());
            const Vec3 from = std::exchange(at, old.moves[i].to);
            if (old.moves[i].kind == Move::Kind::rapid || old.onBoard) // the board lies flat
                step.moves.push_back(old.moves[i]);
            else
                Parter(lie, from, old.moves[i], step.moves).run();
            origin.resize(step.moves.size(), static_cast<std::uint32_t>(i));
        }
        begins.push_back(step.moves.size());
        for (auto& wait : step.waits) wait.before = begins[wait.before];
        for (auto& turn : step.turns) turn.before = begins[turn.before];
        for (auto& worn : step.worn) worn.first = begins[worn.first], worn.end = begins[worn.end];
        for (auto& hole : step.drillings) {
            const double height = old.onBoard ? 0 : lie.at(hole.at);
            hole.first = begins[hole.first], hole.end = begins[hole.end];
            hole.from += height, hole.bottom += height;
        }
        for (auto& cut : step.cuts) cut.first = begins[cut.first], cut.end = begins[cut.end];
    }
    return out;
}

} // namespace ferro::toolpath
