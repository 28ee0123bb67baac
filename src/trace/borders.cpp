#include "trace/borders_internal.h"

namespace ferro::trace {

namespace {
constexpr int stepX[] = {1, 0, -1, 0}, stepY[] = {0, 1, 0, -1};
}

std::uint8_t Borders::label(int x, int y) const {
    if (x < 0 || y < 0 || x >= width_ || y >= height_) return outside;
    return labels_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x)];
}

// To the left as seen with y up: going right it is the pixel above.
std::uint8_t Borders::leftOf(Half h) const {
    const int x = static_cast<int>(h / 4 % across_), y = static_cast<int>(h / 4 / across_);
    switch (h % 4) {
    case 0: return label(x, y - 1);
    case 1: return label(x, y);
    case 2: return label(x - 1, y);
    default: return label(x - 1, y - 1);
    }
}
std::uint8_t Borders::rightOf(Half h) const {
    const int x = static_cast<int>(h / 4 % across_), y = static_cast<int>(h / 4 / across_);
    switch (h % 4) {
    case 0: return label(x, y);
    case 1: return label(x - 1, y);
    case 2: return label(x - 1, y - 1);
    default: return label(x, y - 1);
    }
}
bool Borders::isBorder(Half h) const {
    const int x = static_cast<int>(h / 4 % across_) + stepX[h % 4],
              y = static_cast<int>(h / 4 / across_) + stepY[h % 4];
    return x >= 0 && y >= 0 && x <= width_ && y <= height_ && leftOf(h) != rightOf(h);
}
std::uint32_t Borders::target(Half h) const {
    const int x = static_cast<int>(h / 4 % across_) + stepX[h % 4],
              y = static_cast<int>(h / 4 / across_) + stepY[h % 4];
    return static_cast<std::uint32_t>(y) * across_ + static_cast<std::uint32_t>(x);
}
int Borders::degree(std::uint32_t corner) const {
    int n = 0;
    for (std::uint32_t d = 0; d < 4; ++d) n += isBorder(corner * 4 + d);
    return n;
}
bool Borders::isNode(std::uint32_t corner) const {
    const auto x = static_cast<int>(corner % across_), y = static_cast<int>(corner / across_);
    const bool pictureCorner = (x == 0 || x == width_) && (y == 0 || y == height_);
    return pictureCorner || degree(corner) > 2;
}

std::pair<Vec2, bool> Borders::middle(Half h, const Share& share) const {
    const int x = static_cast<int>(h / 4 % across_), y = static_cast<int>(h / 4 / across_);
    const int x2 = x + stepX[h % 4], y2 = y + stepY[h % 4];
    const double up = height_;
    if (leftOf(h) == outside || rightOf(h) == outside) return {{(x + x2) / 2.0, up - (y + y2) / 2.0}, true};
    // The two pixels to either side: for a level crack one above the other.
    const bool level = y == y2;
    const int px = level ? std::min(x, x2) : x - 1, py = level ? y - 1 : std::min(y, y2);
    const int qx = level ? px : x, qy = level ? y : py;
    const auto index = [&](int i, int k) {
        return static_cast<std::size_t>(k) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(i);
    };
    const auto [t, sure] = share(index(px, py), index(qx, qy));
    return {{px + 0.5 + t * (qx - px), up - (py + 0.5 + t * (qy - py))}, sure};
}

Borders::Borders(const std::vector<std::uint8_t>& labels, int width, int height, const Share& share)
    : labels_(labels), width_(width), height_(height), across_(static_cast<std::uint32_t>(width) + 1) {
    const std::uint32_t corners = across_ * (static_cast<std::uint32_t>(height) + 1);
    arcOf_.assign(static_cast<std::size_t>(corners) * 4, 0);
    walked_.assign(static_cast<std::size_t>(corners) * 4, false);
    for (std::uint32_t c = 0; c < corners; ++c) {
        const int n = degree(c);
        if (n == 0 || !isNode(c)) continue;
        for (std::uint32_t d = 0; d < 4; ++d)
            if (isBorder(c * 4 + d) && !walked_[c * 4 + d]) walk(c * 4 + d, false, share);
    }
    for (std::uint32_t c = 0; c < corners; ++c)
        for (std::uint32_t d = 0; d < 4; ++d)
            if (isBorder(c * 4 + d) && !walked_[c * 4 + d]) walk(c * 4 + d, true, share);
    settleNodes();
}

void Borders::walk(Half from, bool ring, const Share& share) {
    Arc arc;
    arc.ring = ring;
    arc.left = leftOf(from), arc.right = rightOf(from);
    arc.first = from;
    const auto corner = [&](std::uint32_t c) {
        return Vec2{static_cast<double>(c % across_), height_ - static_cast<double>(c / across_)};
    };
    const auto take = [&](Vec2 p, bool sure) { arc.points.push_back(p), arc.sure.push_back(sure); };
    if (!ring) take(corner(from / 4), false);
    for (Half h = from;;) {
        walked_[h] = walked_[reverse(h)] = true;
        const auto [p, sure] = middle(h, share);
        take(p, sure);
        arc.last = h;
        const auto at = target(h);
        if (ring ? at == from / 4 : isNode(at)) break;
        for (const std::uint32_t turn : {0u, 1u, 3u}) // a passing place has one way on
            if (const Half next = at * 4 + (h % 4 + turn) % 4; isBorder(next)) {
                h = next;
                break;
            }
    }
    if (!ring) take(corner(target(arc.last)), false);
    arcs_.push_back(std::move(arc));
    const auto number = static_cast<std::uint32_t>(arcs_.size());
    arcOf_[from] = number;
    arcOf_[reverse(arcs_.back().last)] = number;
}

std::size_t Borders::pixelLeftOf(const Step& step) const {
    const Half h = step.forward ? arcs_[step.arc].first : reverse(arcs_[step.arc].first);
    const int x = static_cast<int>(h / 4 % across_) - (h % 4 >= 2 ? 1 : 0),
              y = static_cast<int>(h / 4 / across_) - (h % 4 == 0 || h % 4 == 3 ? 1 : 0);
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x);
}

std::vector<std::vector<Borders::Step>> Borders::loopsOf(const std::function<bool(std::uint8_t)>& in) const {
    const auto isIn = [&](std::uint8_t l) { return l != outside && in(l); };
    std::vector<std::array<bool, 2>> used(arcs_.size(), {false, false});
    std::vector<std::vector<Step>> loops;
    for (std::size_t i = 0; i < arcs_.size(); ++i)
        for (const bool forward : {true, false}) {
            const auto& arc = arcs_[i];
            const auto left = forward ? arc.left : arc.right, right = forward ? arc.right : arc.left;
            if (!isIn(left) || isIn(right) || used[i][forward]) continue;
            std::vector<Step> loop;
            Step at{i, forward};
            while (!used[at.arc][at.forward]) {
                used[at.arc][at.forward] = true;
                loop.push_back(at);
                const auto& here = arcs_[at.arc];
                if (here.ring) break;
                const Half in_ = at.forward ? here.last : reverse(here.first);
                const auto corner = target(in_);
                // As far to the left as may be: patches that touch by a corner only stay apart. y is down here, so left
                // is one back.
                for (const std::uint32_t turn : {3u, 0u, 1u}) {
                    const Half out = corner * 4 + (in_ % 4 + turn) % 4;
                    if (!isBorder(out) || !isIn(leftOf(out)) || isIn(rightOf(out)) || arcOf_[out] == 0) continue;
                    const std::size_t next = arcOf_[out] - 1;
                    at = {next, arcs_[next].first == out};
                    break;
                }
            }
            loops.push_back(std::move(loop));
        }
    return loops;
}

} // namespace ferro::trace
