#include "standin/camera.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace ferro::standin {

namespace {

constexpr double bed = 150; ///< grey

double pageAt(const picture::Grey& page, Vec2 px) {
    const double x = px.x - 0.5, y = px.y - 0.5;
    if (x < -0.5 || y < -0.5 || x > page.width - 0.5 || y > page.height - 0.5) return bed;
    const int i = std::clamp(static_cast<int>(std::floor(x)), 0, page.width - 1),
              k = std::clamp(static_cast<int>(std::floor(y)), 0, page.height - 1);
    const int i2 = std::min(i + 1, page.width - 1), k2 = std::min(k + 1, page.height - 1);
    const double a = std::clamp(x - i, 0.0, 1.0), b = std::clamp(y - k, 0.0, 1.0);
    return (1 - b) * ((1 - a) * page.at(i, k) + a * page.at(i2, k)) +
           b * ((1 - a) * page.at(i, k2) + a * page.at(i2, k2));
}

void blurred(std::vector<float>& values, int width, int height, double sigma) {
    if (sigma <= 0) return;
    const int reach = static_cast<int>(std::ceil(3 * sigma));
    std::vector<float> weights;
    float sum = 0;
    for (int k = -reach; k <= reach; ++k)
        sum += weights.emplace_back(static_cast<float>(std::exp(-k * k / (2 * sigma * sigma))));
    std::vector<float> out(values.size());
    for (const bool across : {true, false}) {
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                float all = 0;
                for (int k = -reach; k <= reach; ++k) {
                    const int i = across ? std::clamp(x + k, 0, width - 1) : x,
                              j = across ? y : std::clamp(y + k, 0, height - 1);
                    all +=
                        weights[static_cast<std::size_t>(k + reach)] * values[static_cast<std::size_t>(j * width + i)];
                }
                out[static_cast<std::size_t>(y * width + x)] = all / sum;
            }
        values.swap(out);
    }
}

} // namespace

Transform Lying::map() const {
    const Transform sized{wider, 0, 0, higher, 0, 0}, leaning{1, 0, -std::tan(skew), 1, 0, 0};
    return Transform::moved(shift) * Transform::rotated(turn) * leaning * sized;
}

picture::Grey photographed(const picture::Grey& page, double pxPerMm, const Lying& lying, const Eye& eye) {
    const Transform back = lying.map().inverse().value_or(Transform{});
    const double focal = eye.high * eye.width / eye.wide; // px
    const double reach = std::hypot(eye.width, eye.height) / 2;
    const double co = std::cos(eye.tilt), si = std::sin(eye.tilt), cr = std::cos(eye.roll), sr = std::sin(eye.roll);
    std::vector<float> values;
    values.reserve(static_cast<std::size_t>(eye.width) * static_cast<std::size_t>(eye.height));
    constexpr int fine = 2; // rays a pixel, either way
    for (int y = 0; y < eye.height; ++y)
        for (int x = 0; x < eye.width; ++x) {
            double sum = 0;
            for (int k = 0; k < fine * fine; ++k) {
                // The lens shows what stands at u at u·(1 + bend·|u|²): the way back by trying again from there.
                const Vec2 shown{(x + (k % fine + 0.5) / fine - eye.width / 2.0) / reach,
                                 (eye.height / 2.0 - y - (k / fine + 0.5) / fine) / reach};
                Vec2 u = shown;
                for (int n = 0; n < 8; ++n) u = shown / (1 + eye.bend * dot(u, u));
                const Vec2 ray{(u.x * cr - u.y * sr) * reach / focal, (u.x * sr + u.y * cr) * reach / focal};
                // It hangs above the bed, leaning back by the tilt, and looks along -z.
                const double dy = ray.y * co + si, dz = ray.y * si - co;
                const Vec2 eyeAt{eye.over.x, eye.over.y - eye.high * std::tan(eye.tilt)};
                const double t = -eye.high / dz;
                const Vec2 at = eyeAt + Vec2{ray.x, dy} * t;
                const Vec2 drawn = back(at);
                sum += pageAt(page, {drawn.x * pxPerMm, page.height - drawn.y * pxPerMm});
            }
            const double across = (static_cast<double>(x) / eye.width + 1 - static_cast<double>(y) / eye.height) / 2;
            values.push_back(static_cast<float>(sum / (fine * fine) * (1 - eye.gloom * (1 - across))));
        }
    blurred(values, eye.width, eye.height, eye.blur);
    std::mt19937 random(eye.seed);
    const auto even = [&] { return (static_cast<double>(random()) + 0.5) / 4294967296.0; };
    picture::Grey out{eye.width, eye.height, {}};
    out.values.reserve(values.size());
    for (const float value : values) {
        // Box & Muller 1958; the library's own is not the same everywhere.
        const double far = std::sqrt(-2 * std::log(even()));
        const double grain = eye.noise > 0 ? eye.noise * far * std::cos(2 * pi * even()) : 0;
        out.values.push_back(static_cast<std::uint8_t>(std::clamp(std::round(value + grain), 0.0, 255.0)));
    }
    return out;
}

} // namespace ferro::standin
