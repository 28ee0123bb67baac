#include "proof/look.h"
#include "base/parallel.h"

#include <array>
#include <png.h>

namespace ferro::proof {

Look lookOf(const shop::Material& material, bool byBeam) {
    Look look{.grain = material.grain, .beam = byBeam, .ply = material.ply};
    if (material.colour.size() == 7) {
        const auto rgb = std::strtoul(material.colour.c_str() + 1, nullptr, 16);
        look.stock = {static_cast<std::uint8_t>(rgb >> 16), static_cast<std::uint8_t>(rgb >> 8),
                      static_cast<std::uint8_t>(rgb)};
    }
    return look;
}

double grainAt(Vec2 p) {
    return 0.035 * std::sin(p.y * 1.9 + 1.7 * std::sin(p.x * 0.021 + p.y * 0.13)) *
           std::sin(p.y * 0.37 + 2 * std::sin(p.x * 0.008));
}

Lit lit(const HeightGrid& grid, double thickness, const Look& look, const HeightGrid* dark) {
    Lit out{grid.columns, grid.rows, std::vector<std::uint8_t>(grid.heights.size() * 3)};
    const auto height = [&](int c, int r) {
        return static_cast<double>(grid.heights[static_cast<std::size_t>(std::clamp(r, 0, grid.rows - 1)) *
                                                    static_cast<std::size_t>(grid.columns) +
                                                static_cast<std::size_t>(std::clamp(c, 0, grid.columns - 1))]);
    };
    const double light[3] = {-0.5, 0.6, 0.62}; // from the upper left, as the eye expects on a drawing
    parallelSlices(static_cast<std::size_t>(grid.rows), 32, [&](std::size_t begin, std::size_t end) {
        for (std::size_t line = begin; line < end; ++line) {
            const int r = grid.rows - 1 - static_cast<int>(line);
            for (int c = 0; c < grid.columns; ++c) {
                double z = height(c, r);
                std::uint8_t* pixel =
                    out.rgb.data() + (line * static_cast<std::size_t>(grid.columns) + static_cast<std::size_t>(c)) * 3;
                const bool gone = z <= -thickness + 1e-4;
                const double burnt =
                    dark && !gone
                        ? static_cast<double>(
                              dark->heights[static_cast<std::size_t>(r) * static_cast<std::size_t>(dark->columns) +
                                            static_cast<std::size_t>(c)])
                        : 0;
                if (dark && !gone) z = 0; // a beam's marks are told by their darkness
                // Slopes are softened so that walls shade instead of turning black.
                const double sx = std::clamp((height(c + 1, r) - height(c - 1, r)) / (2 * grid.cell), -2.5, 2.5);
                const double sy = std::clamp((height(c, r + 1) - height(c, r - 1)) / (2 * grid.cell), -2.5, 2.5);
                const double norm = std::sqrt(sx * sx + sy * sy + 1);
                const double shade =
                    dark && !gone
                        ? 1
                        : std::clamp((-sx * light[0] - sy * light[1] + light[2]) / norm / light[2], 0.35, 1.25);
                double base[3];
                for (int k = 0; k < 3; ++k)
                    base[k] =
                        gone ? look.through[static_cast<std::size_t>(k)] : look.stock[static_cast<std::size_t>(k)];
                if (!gone && look.grain) {
                    const double grain = grainAt(grid.middle(c, r));
                    for (double& k : base) k *= 1 + grain;
                }
                if (!gone && z < 0) {
                    const double deep = 0.9 - 0.22 * std::clamp(-z / thickness, 0.0, 1.0);
                    for (int k = 0; k < 3; ++k) base[k] *= deep - (look.beam ? 0.35 : 0) - 0.02 * k;
                }
                const bool isDark = look.stock[0] + look.stock[1] + look.stock[2] < 330; // there burnt is lighter
                for (int k = 0; k < 3; ++k)
                    base[k] = isDark ? base[k] + (168 - 10.0 * k - base[k]) * 0.8 * burnt
                                     : base[k] * (1 - burnt * (0.74 + 0.04 * k));
                for (int k = 0; k < 3; ++k)
                    pixel[k] = static_cast<std::uint8_t>(
                        std::clamp(base[k] * (gone ? 0.6 + 0.4 * std::min(1.0, shade) : shade), 0.0, 255.0));
            }
        }
    });
    return out;
}

std::string pngOf(const Lit& picture) {
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = static_cast<png_uint_32>(picture.width);
    image.height = static_cast<png_uint_32>(picture.height);
    image.format = PNG_FORMAT_RGB;
    png_alloc_size_t size = 0;
    if (!png_image_write_to_memory(&image, nullptr, &size, 0, picture.rgb.data(), 0, nullptr)) return {};
    std::string bytes(size, '\0');
    if (!png_image_write_to_memory(&image, bytes.data(), &size, 0, picture.rgb.data(), 0, nullptr)) return {};
    bytes.resize(size);
    return bytes;
}

} // namespace ferro::proof
