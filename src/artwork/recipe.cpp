#include "artwork/recipe.h"

#include <charconv>

namespace ferro::artwork {

std::string toText(Colour c) { return fmt::format("#{:02x}{:02x}{:02x}", c.r, c.g, c.b); }

Result<Colour> colourFrom(std::string_view text) {
    unsigned value = 0;
    if (text.size() == 7 && text[0] == '#' &&
        std::from_chars(text.data() + 1, text.data() + 7, value, 16).ptr == text.data() + 7)
        return Colour{static_cast<std::uint8_t>(value >> 16), static_cast<std::uint8_t>(value >> 8),
                      static_cast<std::uint8_t>(value)};
    return Problem{.what = fmt::format("“{}” is no colour.", text), .where = {}, .mend = "Write it as #9e3f22."};
}

namespace {

bool sound(const TraceSettings& s) {
    const auto within = [](double value, double low, double high) { return value >= low && value <= high; };
    return (s.level == -1 || within(s.level, 1, 255)) && within(s.above, 0, 255) &&
           (s.speck == -1 || within(s.speck, 0, 1e6)) && within(s.cornersUnder, 0, 180) &&
           within(s.followWithin, 0, 1000) && within(s.lineWidth, 0.001, 1000) && within(s.leastStep, 1, 255) &&
           within(s.colours, 0, 64) && s.palette.size() <= 256;
}

} // namespace

Result<void> checked(const Recipe& recipe) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = "trace", .mend = "Set it anew at Source."};
    };
    if (!sound(recipe.whole)) return bad("A setting of the trace is out of its range.");
    for (std::size_t i = 0; i < recipe.patches.size(); ++i) {
        const auto& patch = recipe.patches[i];
        if (!sound(patch.settings)) return bad(fmt::format("A setting of patch {} is out of its range.", i + 1));
        if (patch.area.size() < 3) return bad(fmt::format("Patch {} is no area.", i + 1));
        for (const Vec2 p : patch.area)
            if (!(std::abs(p.x) < 1e6 && std::abs(p.y) < 1e6))
                return bad(fmt::format("Patch {} lies beyond reason.", i + 1));
    }
    return {};
}

} // namespace ferro::artwork
