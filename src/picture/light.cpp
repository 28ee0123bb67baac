#include "picture/light.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ferro::picture {

namespace {

constexpr int mostBlocks = 480;     // along the longer side
constexpr float leastLight = 0.42f; // of what is next to it: ink is darker than any shadow makes paper

enum class What : std::uint8_t { unknown, paper, ink };

class Estimate {
public:
    Estimate(const Grey& grey, double widest) {
        light_.block = std::max(1, (std::max(grey.width, grey.height) + mostBlocks - 1) / mostBlocks);
        light_.width = (grey.width + light_.block - 1) / light_.block;
        light_.height = (grey.height + light_.block - 1) / light_.block;
        reduce(grey);
        findPaper();
        if (widest > 0) takeWideForShadow(widest / light_.block);
    }
    Light run() {
        light_.values = closed();
        light_.evenness = evenness();
        fillInk();
        return std::move(light_);
    }

private:
    [[nodiscard]] std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(light_.width) + static_cast<std::size_t>(x);
    }
    /// Calls `each(index)` for those of a square about a block that lie in the picture.
    template<class Each> void near(int x, int y, int reach, Each&& each) const {
        for (int v = std::max(0, y - reach); v <= std::min(light_.height - 1, y + reach); ++v)
            for (int u = std::max(0, x - reach); u <= std::min(light_.width - 1, x + reach); ++u) each(index(u, v));
    }

    /// Each block's light fifth: paper, where a line goes through it.
    void reduce(const Grey& grey) {
        seen_.resize(static_cast<std::size_t>(light_.width) * static_cast<std::size_t>(light_.height));
        parallelSlices(static_cast<std::size_t>(light_.height), 8, [&](std::size_t begin, std::size_t end) {
            std::vector<std::uint8_t> values;
            for (auto y = static_cast<int>(begin); y < static_cast<int>(end); ++y)
                for (int x = 0; x < light_.width; ++x) {
                    values.clear();
                    for (int v = y * light_.block; v < std::min(grey.height, (y + 1) * light_.block); ++v)
                        for (int u = x * light_.block; u < std::min(grey.width, (x + 1) * light_.block); ++u)
                            values.push_back(grey.at(u, v));
                    const auto at = values.begin() + static_cast<std::ptrdiff_t>(values.size() * 4 / 5);
                    std::nth_element(values.begin(), at, values.end());
                    seen_[index(x, y)] = std::max(1.0f, static_cast<float>(*at));
                }
        });
    }
    /// From the lightest block on, always the lightest next: so a shadow is come into where it is softest. What is
    /// next to paper and not much darker is paper. The light expected goes down by little from block to block: an edge
    /// that blur spreads over some of them is no way into the ink.
    void findPaper() {
        constexpr float fades = 0.93f;
        what_.assign(seen_.size(), What::unknown);
        std::vector<float> expected(seen_.size(), 0);
        std::array<std::vector<std::size_t>, 256> next; // by grey
        const auto push = [&](std::size_t i) { next[static_cast<std::size_t>(seen_[i])].push_back(i); };
        push(static_cast<std::size_t>(std::max_element(seen_.begin(), seen_.end()) - seen_.begin()));
        for (std::size_t grey = 256; grey-- > 0;)
            while (!next[grey].empty()) {
                const std::size_t at = next[grey].back();
                next[grey].pop_back();
                if (what_[at] != What::unknown) continue;
                const int x = static_cast<int>(at) % light_.width, y = static_cast<int>(at) / light_.width;
                float here = 0;
                near(x, y, 1, [&](std::size_t i) { here = std::max(here, expected[i]); });
                what_[at] = seen_[at] >= leastLight * here ? What::paper : What::ink;
                expected[at] = what_[at] == What::paper ? std::max(seen_[at], fades * here) : here;
                std::size_t lightest = grey;
                near(x, y, 1, [&](std::size_t i) {
                    if (what_[i] != What::unknown) return;
                    push(i);
                    lightest = std::max(lightest, static_cast<std::size_t>(seen_[i]));
                });
                grey = lightest;
            }
    }
    void takeWideForShadow(double blocks) {
        // Ink that a square of that size fits into: by the sums of its indicator.
        const int size = std::max(1, static_cast<int>(std::ceil(blocks)));
        const int w = light_.width, h = light_.height;
        std::vector<int> run(seen_.size(), 0); // the largest square of ink that ends here (Levitin's recurrence)
        std::vector<bool> wide(seen_.size(), false);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x) {
                if (what_[index(x, y)] != What::ink) continue;
                run[index(x, y)] =
                    x == 0 || y == 0
                        ? 1
                        : 1 + std::min({run[index(x - 1, y)], run[index(x, y - 1)], run[index(x - 1, y - 1)]});
                if (run[index(x, y)] > size)
                    for (int v = y - size; v <= y; ++v)
                        for (int u = x - size; u <= x; ++u) wide[index(u, v)] = true;
            }
        for (std::size_t i = 0; i < wide.size(); ++i)
            if (wide[i]) what_[i] = What::paper;
    }
    /// What dark ink has made of the blocks at its edge is no light: paper between paper takes the lightest about it,
    /// and that the darkest again, ink left out.
    [[nodiscard]] std::vector<float> closed() const {
        const auto pass = [&](const std::vector<float>& from, bool lightest) {
            std::vector<float> to = from;
            for (int y = 0; y < light_.height; ++y)
                for (int x = 0; x < light_.width; ++x) {
                    if (what_[index(x, y)] != What::paper) continue;
                    float& value = to[index(x, y)];
                    near(x, y, 1, [&](std::size_t i) {
                        if (what_[i] == What::paper)
                            value = lightest ? std::max(value, from[i]) : std::min(value, from[i]);
                    });
                }
            return to;
        };
        return pass(pass(seen_, true), false);
    }
    [[nodiscard]] double evenness() const {
        std::vector<float> paper;
        for (std::size_t i = 0; i < what_.size(); ++i)
            if (what_[i] == What::paper) paper.push_back(light_.values[i]);
        if (paper.size() < 20) return 1;
        std::sort(paper.begin(), paper.end());
        return paper[paper.size() / 20] / paper[paper.size() - 1 - paper.size() / 20];
    }
    void fillInk() {
        const int w = light_.width, h = light_.height;
        std::vector<float> value(seen_.size());
        std::vector<std::size_t> ink;
        std::vector<std::uint8_t> deep(seen_.size(), 0); // no paper next to it: its shading is its own
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x) {
                const std::size_t i = index(x, y);
                value[i] = std::log(light_.values[i]);
                if (what_[i] != What::ink) continue;
                ink.push_back(i);
                deep[i] = 1;
                near(x, y, 1, [&](std::size_t k) { deep[i] = deep[i] && what_[k] == What::ink; });
            }
        if (ink.empty()) return;
        // A start that is near: the lightest paper there is, everywhere.
        const float start = std::log(*std::max_element(seen_.begin(), seen_.end()));
        for (const std::size_t i : ink) value[i] = start;
        std::vector<float> shade(seen_.size());
        for (std::size_t i = 0; i < seen_.size(); ++i) shade[i] = std::log(seen_[i]);
        const auto step = [&](std::size_t to, std::size_t from) { // of the light, by the ink's shading
            if (!deep[to] || !deep[from]) return 0.0f;
            const float by = shade[to] - shade[from];
            return std::abs(by) < 0.35f ? by : 0.0f; // more is another ink
        };
        constexpr int sweeps = 400;
        constexpr float over = 1.9f;
        for (int sweep = 0; sweep < sweeps; ++sweep) {
            float most = 0;
            for (const std::size_t i : ink) {
                const int x = static_cast<int>(i) % w, y = static_cast<int>(i) / w;
                float sum = 0, count = 0;
                const auto take = [&](std::size_t k) { sum += value[k] + step(i, k), ++count; };
                if (x > 0) take(i - 1);
                if (x + 1 < w) take(i + 1);
                if (y > 0) take(i - static_cast<std::size_t>(w));
                if (y + 1 < h) take(i + static_cast<std::size_t>(w));
                const float by = over * (sum / count - value[i]);
                value[i] += by;
                most = std::max(most, std::abs(by));
            }
            if (most < 1e-3f) break;
        }
        for (const std::size_t i : ink) light_.values[i] = std::exp(std::clamp(value[i], 0.0f, start + 0.1f));
    }

    Light light_;
    std::vector<float> seen_; ///< by block
    std::vector<What> what_;
};

} // namespace

Light lightOf(const Grey& grey, double widest) {
    if (grey.width < 1 || grey.height < 1) return {1, 0, 0, {}, 1};
    return Estimate(grey, widest).run();
}

} // namespace ferro::picture
