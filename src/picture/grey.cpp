#include "picture/picture.h"

#include "base/parallel.h"
#include "picture/light.h"

#include <array>
#include <mutex>

namespace ferro::picture {

bool isLightOnClear(const Picture& picture) {
    if (picture.channels != 4) return false;
    // By the lightness of what is not see-through.
    double clear = 0, light = 0, dark = 0;
    const std::uint8_t* p = picture.pixels->data();
    for (std::size_t i = 0; i < picture.count(); ++i, p += 4) {
        const unsigned value = (13933u * p[0] + 46871u * p[1] + 4732u * p[2]) >> 16;
        clear += p[3] < 128;
        (value >= 160 ? light : dark) += p[3] / 255.0;
    }
    return clear > 0.02 * static_cast<double>(picture.count()) && light > 20 * dark;
}

Grey greyOf(const Picture& picture) {
    Grey grey{picture.width, picture.height, {}};
    if (picture.channels == 1) {
        grey.values = *picture.pixels;
        return grey;
    }
    grey.values.resize(picture.count());
    const auto n = static_cast<std::size_t>(picture.channels);
    const std::uint8_t* in = picture.pixels->data();
    const bool negative = isLightOnClear(picture);
    parallelSlices(grey.values.size(), 1 << 18, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const std::uint8_t* p = in + i * n;
            unsigned value = (13933u * p[0] + 46871u * p[1] + 4732u * p[2] + 32768u) >> 16;
            if (negative)
                value = 255u - (value * p[3] + 127u) / 255u;
            else if (n == 4)
                value = (value * p[3] + 255u * (255u - p[3]) + 127u) / 255u;
            grey.values[i] = static_cast<std::uint8_t>(std::min(value, 255u));
        }
    });
    return grey;
}

Histogram histogramOf(std::span<const std::uint8_t> values) {
    Histogram all{};
    std::mutex writing;
    parallelSlices(values.size(), 1 << 20, [&](std::size_t begin, std::size_t end) {
        // Four counts side by side: even areas would have each pixel wait for the one before it.
        std::array<std::array<std::uint32_t, 256>, 4> counts{};
        std::size_t i = begin;
        for (; i + 4 <= end; i += 4)
            for (std::size_t k = 0; k < 4; ++k) ++counts[k][values[i + k]];
        for (; i < end; ++i) ++counts[0][values[i]];
        const std::lock_guard lock(writing);
        for (std::size_t g = 0; g < 256; ++g) all[g] += counts[0][g] + counts[1][g] + counts[2][g] + counts[3][g];
    });
    return all;
}

namespace {
/// Greys of a few about one, each.
double densityAt(const Histogram& histogram, int grey) {
    double sum = 0;
    int count = 0;
    for (int i = std::max(0, grey - 3); i <= std::min(255, grey + 3); ++i, ++count)
        sum += static_cast<double>(histogram[static_cast<std::size_t>(i)]);
    return sum / count;
}

/// The grey that most of `first` to `last` heap up at; none where they do not.
std::optional<double> heapIn(const Histogram& histogram, int first, int last) {
    constexpr int wide = 8; // to either side: what paper and a sensor's grain spread over
    double total = 0, most = 0, at = 0;
    for (int i = first; i <= last; ++i) total += static_cast<double>(histogram[static_cast<std::size_t>(i)]);
    for (int peak = first; peak <= last; ++peak) {
        double sum = 0, weighted = 0;
        for (int i = std::max(first, peak - wide); i <= std::min(last, peak + wide); ++i) {
            const auto n = static_cast<double>(histogram[static_cast<std::size_t>(i)]);
            sum += n, weighted += n * i;
        }
        if (sum > most) most = sum, at = weighted / sum;
    }
    if (most < 0.25 * total || total == 0) return std::nullopt;
    return at;
}
} // namespace

int automaticLevel(const Histogram& histogram) {
    double total = 0, sum = 0;
    for (std::size_t i = 0; i < 256; ++i) {
        total += static_cast<double>(histogram[i]);
        sum += static_cast<double>(i) * static_cast<double>(histogram[i]);
    }
    double dark = 0, darkSum = 0, best = -1;
    int otsu = 128;
    std::array<double, 257> between{};
    double middle = 128; // of the two sides' means at the best level
    for (int i = 0; i < 255; ++i) {
        const auto here = static_cast<double>(histogram[static_cast<std::size_t>(i)]);
        dark += here;
        darkSum += i * here;
        if (dark == 0 || dark == total) continue;
        const double low = darkSum / dark, high = (sum - darkSum) / (total - dark);
        const double measure = between[static_cast<std::size_t>(i) + 1] =
            dark * (total - dark) * (high - low) * (high - low);
        if (measure > best) best = measure, otsu = i + 1, middle = (low + high) / 2;
    }
    // An edge lies where its grey is half way from one side to the other. Of thin lines few pixels are all ink, and the
    // means of the two sides lie nearer to each other than ink and paper do: what counts is where greys heap up, unless
    // more lies at their middle than at the best level, as under a shadow.
    const auto ink = heapIn(histogram, 0, otsu - 1), paper = heapIn(histogram, otsu, 255);
    if (ink && paper && otsu - *ink > 8 && *paper - otsu > 8) {
        const int half = std::clamp(static_cast<int>(std::lround((*ink + *paper) / 2 + 0.5)), 1, 255);
        if (densityAt(histogram, half) <= 1.5 * densityAt(histogram, otsu) + 2e-4 * total) return half;
    }
    // Between two clean peaks the measure is all but flat: half way between the means is taken wherever that is as good
    // (Ridler & Calvard 1978).
    const int half = std::clamp(static_cast<int>(std::lround(middle + 0.5)), 1, 255);
    return between[static_cast<std::size_t>(half)] >= 0.98 * best ? half : otsu;
}

namespace {
/// The means of what lies below the automatic level and above it.
std::pair<double, double> sidesOf(const Histogram& histogram) {
    const int level = automaticLevel(histogram);
    double sum[2] = {0, 0}, count[2] = {0, 0};
    for (int i = 0; i < 256; ++i) {
        const auto n = static_cast<double>(histogram[static_cast<std::size_t>(i)]);
        sum[i >= level] += i * n;
        count[i >= level] += n;
    }
    const double dark = count[0] > 0 ? sum[0] / count[0] : 0;
    return {dark, count[1] > 0 ? sum[1] / count[1] : dark};
}

double edgeWidthIn(const Grey& grey, double dark, double light) {
    // Across a crisp edge one pixel takes the whole step; the steepest slopes that are not noise tell how many it
    // takes.
    std::array<std::size_t, 512> slopes{};
    std::size_t edges = 0;
    const int stride = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(grey.values.size()) / 4e6)));
    for (int y = 1; y + 1 < grey.height; y += stride)
        for (int x = 1; x + 1 < grey.width; ++x) {
            const int dx = grey.at(x + 1, y) - grey.at(x - 1, y), dy = grey.at(x, y + 1) - grey.at(x, y - 1);
            const auto slope = static_cast<std::size_t>(std::min(511.0, std::hypot(dx, dy)));
            if (static_cast<double>(slope) > (light - dark) / 8) ++slopes[slope], ++edges;
        }
    std::size_t seen = 0, slope = 511;
    while (slope > 0 && seen < std::max<std::size_t>(edges / 5, 1)) seen += slopes[slope--];
    return edges == 0 ? 0 : std::max(1.0, 2 * (light - dark) / std::max<double>(1, static_cast<double>(slope + 1)) - 1);
}
} // namespace

double edgeWidthOf(const Grey& grey) {
    const auto [dark, light] = sidesOf(histogramOf(grey));
    return edgeWidthIn(grey, dark, light);
}

Quality qualityOf(const Grey& grey, double pxPerMm) {
    Quality quality{.pxPerMm = pxPerMm};
    const auto histogram = histogramOf(grey);
    const auto [dark, light] = sidesOf(histogram);
    quality.contrast = (light - dark) / 255;
    quality.edgeWidth = edgeWidthIn(grey, dark, light);
    // Where one grey is that of a fifth of all, areas were drawn and not photographed.
    const auto most = *std::max_element(histogram.begin(), histogram.end());
    if (static_cast<double>(most) < 0.2 * static_cast<double>(grey.values.size()))
        quality.evenness = lightOf(grey).evenness;
    quality.detail = pxPerMm > 0 ? std::max(1.2, quality.edgeWidth) / pxPerMm : 0;
    if (quality.contrast < 0.2)
        quality.verdict = Quality::Verdict::faint;
    else if (quality.evenness < 0.75)
        quality.verdict = Quality::Verdict::uneven;
    else if (pxPerMm < 3)
        quality.verdict = Quality::Verdict::coarse;
    else if (quality.edgeWidth > 4)
        quality.verdict = Quality::Verdict::soft;
    return quality;
}

std::string wordsFor(const Quality& quality) {
    switch (quality.verdict) {
    case Quality::Verdict::good: return fmt::format("sharp enough for {:.2f} mm detail", quality.detail);
    case Quality::Verdict::soft:
        return fmt::format("blurred: edges are {:.1f} px wide, detail under {:.1f} mm is lost", quality.edgeWidth,
                           quality.detail);
    case Quality::Verdict::uneven:
        return fmt::format(
            "uneven light: in the dark the paper is {:.0f} % as light as in the light; even it out first",
            quality.evenness * 100);
    case Quality::Verdict::faint:
        return fmt::format("faint: dark and light differ by only {:.0f} %", quality.contrast * 100);
    case Quality::Verdict::coarse:
        return fmt::format("too coarse for this size: {:.1f} px/mm, detail under {:.1f} mm is lost", quality.pxPerMm,
                           quality.detail);
    }
    return {};
}

} // namespace ferro::picture
