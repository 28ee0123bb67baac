#include "artwork/installed_faces.h"

#include <algorithm>
#include <cstdlib>
#include <fontconfig/fontconfig.h>
#include <memory>
#include <tuple>

namespace ferro::artwork {

namespace {

std::vector<std::string> namesIn(FcPattern* pattern, const char* what) {
    std::vector<std::string> names;
    FcChar8* name = nullptr;
    for (int i = 0; FcPatternGetString(pattern, what, i, &name) == FcResultMatch; ++i)
        names.emplace_back(reinterpret_cast<const char*>(name));
    return names;
}
int numberIn(FcPattern* pattern, const char* what, int otherwise) {
    double value = otherwise; // whole numbers are told as doubles too
    return FcPatternGetDouble(pattern, what, 0, &value) == FcResultMatch ? static_cast<int>(value) : otherwise;
}

/// "DejaVu Sans" and "dejavusans" are one.
std::string plain(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const auto byte = static_cast<unsigned char>(c);
        if (std::isalnum(byte) || byte > 127) out += static_cast<char>(std::tolower(byte));
    }
    return out;
}

std::vector<InstalledFace> lookedUp() {
    const std::unique_ptr<FcPattern, decltype(&FcPatternDestroy)> all(FcPatternCreate(), FcPatternDestroy);
    const std::unique_ptr<FcObjectSet, decltype(&FcObjectSetDestroy)> wanted(
        FcObjectSetBuild(FC_FAMILY, FC_STYLE, FC_FILE, FC_WEIGHT, FC_WIDTH, FC_SLANT, FC_INDEX, FC_OUTLINE, nullptr),
        FcObjectSetDestroy);
    const std::unique_ptr<FcFontSet, decltype(&FcFontSetDestroy)> set(FcFontList(nullptr, all.get(), wanted.get()),
                                                                      FcFontSetDestroy);
    std::vector<InstalledFace> faces;
    for (int i = 0; set && i < set->nfont; ++i) {
        FcPattern* pattern = set->fonts[i];
        FcBool outline = FcFalse;
        const auto files = namesIn(pattern, FC_FILE), styles = namesIn(pattern, FC_STYLE);
        auto families = namesIn(pattern, FC_FAMILY);
        // A collection's later faces and a variable face's instances are not in reach by a file's name.
        if (FcPatternGetBool(pattern, FC_OUTLINE, 0, &outline) != FcResultMatch || !outline || families.empty() ||
            files.empty() || !files.front().starts_with('/') || numberIn(pattern, FC_INDEX, 0) != 0)
            continue;
        faces.push_back({std::move(families), styles.empty() ? std::string() : styles.front(), files.front(),
                         FcWeightToOpenType(numberIn(pattern, FC_WEIGHT, FC_WEIGHT_REGULAR)),
                         numberIn(pattern, FC_WIDTH, FC_WIDTH_NORMAL), numberIn(pattern, FC_SLANT, 0) != 0});
    }
    std::sort(faces.begin(), faces.end(), [](const InstalledFace& a, const InstalledFace& b) {
        return std::tie(a.families.front(), b.width, a.weight, a.italic, a.file) <
               std::tie(b.families.front(), a.width, b.weight, b.italic, b.file);
    });
    return faces;
}

} // namespace

const std::vector<InstalledFace>& installedFaces() {
    static const auto faces = lookedUp();
    return faces;
}

const InstalledFace* faceOf(const std::vector<InstalledFace>& faces, std::string_view family, bool bold, bool italic) {
    const auto name = plain(family);
    const InstalledFace* best = nullptr;
    const auto off = [&](const InstalledFace& f) {
        return std::pair(std::abs(f.width - 100), std::abs(f.weight - (bold ? 700 : 400)));
    };
    for (const auto& face : faces) {
        if (face.italic != italic || name.empty() ||
            std::none_of(face.families.begin(), face.families.end(), [&](const auto& f) { return plain(f) == name; }))
            continue;
        if (!best || off(face) < off(*best)) best = &face;
    }
    return best;
}

} // namespace ferro::artwork
