#include "artwork/single_line_internal.h"

#include <charconv>

namespace ferro::artwork {

std::vector<SingleLineGlyph> singleLineGlyphs(std::string_view file) {
    constexpr double capHeight = 21, baseline = 9; // of the face's grid, y down from its middle
    std::vector<SingleLineGlyph> glyphs;
    while (file.size() > 8) {
        int pairs = 0;
        auto digits = file.substr(5, 3);
        while (!digits.empty() && digits.front() == ' ') digits.remove_prefix(1);
        std::from_chars(digits.data(), digits.data() + digits.size(), pairs);
        file.remove_prefix(8);
        std::string data; // may go on over lines
        while (static_cast<int>(data.size()) < 2 * pairs && !file.empty()) {
            if (file.front() != '\n' && file.front() != '\r') data += file.front();
            file.remove_prefix(1);
        }
        while (!file.empty() && (file.front() == '\n' || file.front() == '\r')) file.remove_prefix(1);
        if (pairs < 1 || data.size() < 2) break;
        const auto number = [&](std::size_t i) { return static_cast<double>(data[i] - 'R'); };
        const double left = number(0);
        SingleLineGlyph glyph{{}, (number(1) - left) / capHeight};
        bool down = false;
        for (std::size_t i = 2; i + 1 < data.size(); i += 2) {
            if (data[i] == ' ' && data[i + 1] == 'R') {
                down = false;
                continue;
            }
            const Vec2 p{(number(i) - left) / capHeight, (baseline - number(i + 1)) / capHeight};
            if (down)
                glyph.paths.back().segments.push_back(Segment::line(p));
            else
                glyph.paths.push_back({p, {}, false});
            down = true;
        }
        for (auto& path : glyph.paths)
            if (path.segments.size() > 2 && path.end() == path.start) path.closed = true;
        std::erase_if(glyph.paths, [](const Path& p) { return p.segments.empty(); });
        glyphs.push_back(std::move(glyph));
    }
    return glyphs;
}

} // namespace ferro::artwork
