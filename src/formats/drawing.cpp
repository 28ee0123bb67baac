#include "formats/drawing.h"

#include "artwork/installed_faces.h"
#include "base/disk.h"
#include "base/quantity.h"
#include "formats/dxf_in.h"
#include "formats/hpgl_in.h"
#include "formats/svg_in.h"

#include <map>
#include <set>

namespace ferro::formats {

artwork::Added withDrawing(const artwork::Artwork& artwork, const Drawing& drawing) {
    std::vector<artwork::NamedPieces> sets;
    sets.reserve(drawing.items.size());
    for (const auto& item : drawing.items) sets.push_back({item.pieces, item.layer, item.name, true, {}});
    const auto known = artwork.layers;
    artwork::Added pictured{artwork, {}};
    for (const auto& of : drawing.pictures) {
        auto picture = picture::decoded(of.bytes);
        if (!picture) continue;
        const Vec2 size{length({of.place.a, of.place.b}), length({of.place.c, of.place.d})};
        artwork::PictureLeaf leaf{of.name, std::make_shared<const std::string>(of.bytes), std::move(*picture), size};
        auto next = artwork::withPicture(pictured.artwork, std::move(leaf), {0, 0});
        auto& item = next.artwork.items.back();
        item.place = item.original = of.place * Transform::scaled(1 / size.x, 1 / size.y);
        pictured.artwork = std::move(next.artwork);
        pictured.ids.push_back(next.ids.front());
    }
    auto added = artwork::withAllPieces(pictured.artwork, std::move(sets));
    added.ids.insert(added.ids.begin(), pictured.ids.begin(), pictured.ids.end());
    for (const auto& look : drawing.looks)
        for (auto& layer : added.artwork.layers) {
            // A layer of that name that was here before keeps its own look.
            const bool isNew = std::find(known.begin(), known.end(), layer) == known.end();
            if (isNew && layer.name == look.layer)
                layer.colour = look.colour, layer.hidden = look.hidden, layer.notes = look.notes;
        }
    return added;
}

namespace {
bool endsWith(std::string_view file, std::string_view ending) {
    if (file.size() < ending.size()) return false;
    return std::equal(ending.begin(), ending.end(), file.end() - static_cast<std::ptrdiff_t>(ending.size()),
                      [](char a, char b) { return a == std::tolower(static_cast<unsigned char>(b)); });
}
} // namespace

static bool isPlotterFile(std::string_view file) {
    return endsWith(file, ".plt") || endsWith(file, ".hpgl") || endsWith(file, ".hpg");
}
bool isDrawingFile(std::string_view file) {
    return endsWith(file, ".svg") || endsWith(file, ".dxf") || isPlotterFile(file);
}

Result<Drawing> drawingFrom(std::string_view bytes, std::string_view file, const DrawingOptions& options) {
    auto drawing = isPlotterFile(file) ? drawingFromHpgl(bytes)
                   : endsWith(file, ".dxf")
                       ? drawingFromDxf(bytes, options.mmPerUnit)
                       : drawingFromSvg(bytes, {options.strokesAsOutlines, options.linked, options.face});
    if (!drawing) return drawing;
    auto far = strayWords(*drawing);
    if (options.dropStrays && !far.empty()) {
        const auto which = strays(*drawing);
        for (auto i = which.rbegin(); i != which.rend(); ++i)
            drawing->items.erase(drawing->items.begin() + static_cast<std::ptrdiff_t>(*i));
        far = {{fmt::format("Left out: {} that lay far from all the rest.", which.size())}};
    }
    drawing->notices.insert(drawing->notices.end(), far.begin(), far.end());
    return drawing;
}

std::string layersIn(const Drawing& drawing) {
    std::vector<std::pair<std::string_view, std::size_t>> counts;
    for (const auto& item : drawing.items) {
        auto at = std::find_if(counts.begin(), counts.end(), [&](const auto& c) { return c.first == item.layer; });
        if (at == counts.end()) at = counts.insert(counts.end(), {item.layer, 0});
        at->second += item.pieces.size();
    }
    std::string out;
    for (const auto& [layer, count] : counts) {
        const bool hidden = std::any_of(drawing.looks.begin(), drawing.looks.end(),
                                        [&, name = layer](const auto& l) { return l.layer == name && l.hidden; });
        out += fmt::format("{}{} {}{}", out.empty() ? "" : " · ", layer, count, hidden ? " (hidden)" : "");
    }
    return out;
}

namespace {
Box boundsOfAll(const std::vector<Piece>& pieces) {
    Box box;
    for (const auto& piece : pieces) box.take(boundsOf(piece));
    return box;
}
} // namespace

std::vector<std::size_t> strays(const Drawing& drawing) {
    std::vector<std::pair<std::size_t, Vec2>> centres;
    for (std::size_t i = 0; i < drawing.items.size(); ++i)
        if (const Box box = boundsOfAll(drawing.items[i].pieces); !box.empty()) centres.emplace_back(i, box.centre());
    if (centres.size() < 8) return {};
    // The bulk: from the tenth to the ninetieth of a hundred, either way; far is five times that beyond it.
    const auto range = [&](auto member) {
        std::vector<double> v;
        for (const auto& [i, at] : centres) v.push_back(at.*member);
        std::sort(v.begin(), v.end());
        return std::pair{v[v.size() / 10], v[v.size() - 1 - v.size() / 10]};
    };
    const auto [x0, x1] = range(&Vec2::x);
    const auto [y0, y1] = range(&Vec2::y);
    const double reach = 5 * std::max({x1 - x0, y1 - y0, 1.0});
    std::vector<std::size_t> far;
    for (const auto& [i, at] : centres)
        if (!Box{{x0, y0}, {x1, y1}}.grown(reach).contains(at)) far.push_back(i);
    return far;
}

std::vector<Notice> strayWords(const Drawing& drawing) {
    constexpr std::size_t most = 5;
    const auto far = strays(drawing);
    std::vector<Notice> words;
    for (std::size_t k = 0; k < std::min(most, far.size()); ++k) {
        const auto& item = drawing.items[far[k]];
        const Vec2 at = boundsOfAll(item.pieces).centre();
        words.push_back({fmt::format("Far from all the rest: {} on layer “{}” at {:.0f}, {:.0f} mm.", item.name,
                                     item.layer, at.x, at.y)});
    }
    if (far.size() > most) words.push_back({fmt::format("{} more lie far from the rest.", far.size() - most)});
    return words;
}

std::vector<UnitGuess> guessesOf(const Drawing::Drawn& drawn, Vec2 sheet, Vec2 bed) {
    struct Ranked {
        int rank;
        bool hinted;
        UnitGuess guess;
    };
    std::vector<Ranked> all;
    // Either way round: a sheet can be turned.
    const auto fits = [](Vec2 size, Vec2 into) {
        return std::max(size.x, size.y) <= std::max(into.x, into.y) * 1.0001 &&
               std::min(size.x, size.y) <= std::min(into.x, into.y) * 1.0001;
    };
    for (const auto& unit : drawnUnits) {
        const Vec2 size = drawn.units * unit.mm;
        const double longest = std::max(size.x, size.y);
        const auto [rank, why] = bed == Vec2{}        ? std::pair{0, ""}
                                 : !fits(size, bed)   ? std::pair{3, "larger than the machine"}
                                 : !fits(size, sheet) ? std::pair{1, "fits the machine, not the sheet"}
                                 : longest < 0.05 * std::max(sheet.x, sheet.y) ? std::pair{2, "tiny on the sheet"}
                                                                               : std::pair{0, "fits the sheet"};
        all.push_back({rank, unit.mm == drawn.mmPerUnit, {unit.word, unit.mm, size, why}});
    }
    std::stable_sort(all.begin(), all.end(), [](const Ranked& a, const Ranked& b) {
        return std::pair(a.rank, !a.hinted) < std::pair(b.rank, !b.hinted);
    });
    std::vector<UnitGuess> guesses;
    for (auto& one : all) guesses.push_back(std::move(one.guess));
    return guesses;
}

std::string toText(const std::vector<UnitGuess>& guesses) {
    std::string out;
    for (const auto& g : guesses)
        out += fmt::format("{}{}: {:.1f} × {:.1f} mm ({:.2f} × {:.2f} inch){}{}", out.empty() ? "" : "; ", g.word,
                           g.size.x, g.size.y, g.size.x / mmPerInch, g.size.y / mmPerInch, g.why.empty() ? "" : ", ",
                           g.why);
    return out;
}

FaceFinder installedFaces() {
    return [](std::string_view family, bool bold, bool italic) -> std::optional<std::string> {
        const auto* face = artwork::faceOf(artwork::installedFaces(), family, bold, italic);
        return face ? std::optional(face->file) : std::nullopt;
    };
}

std::function<std::optional<std::string>(std::string_view)> linkedIn(const std::filesystem::path& folder) {
    return [folder](std::string_view link) -> std::optional<std::string> {
        // Only what lies beside the drawing or below it: a drawing may not reach for anything else.
        const std::filesystem::path name(link);
        if (name.empty() || name.is_absolute() || link.find(':') != std::string_view::npos ||
            std::find(name.begin(), name.end(), "..") != name.end())
            return std::nullopt;
        auto bytes = realDisk().read(folder / name);
        return bytes ? std::optional(std::move(*bytes)) : std::nullopt;
    };
}

} // namespace ferro::formats
