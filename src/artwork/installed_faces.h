#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::artwork {

/// A face of this machine that letters can be set in.
struct InstalledFace {
    std::vector<std::string> families; ///< its family's names, the first is the one to show
    std::string style;                 ///< "Bold Oblique"
    std::string file;                  ///< as `Lettering::face` takes it
    int weight = 400;                  ///< 100 … 1000, 400 is regular, 700 is bold
    int width = 100;                   ///< in a hundred, 100 is normal
    bool italic = false;               ///< or oblique
};

/// Those that fontconfig knows of, with outlines, by family, width, weight and style; looked up once.
[[nodiscard]] const std::vector<InstalledFace>& installedFaces();

/// The one of a family (whatever its case and spaces) that is nearest in width and weight, of `faces`; italic ones only
/// where asked for. None where the family, or its italic, is not there.
[[nodiscard]] const InstalledFace* faceOf(const std::vector<InstalledFace>& faces, std::string_view family, bool bold,
                                          bool italic);

} // namespace ferro::artwork
