#include "job/kit.h"

#include "artwork/copies.h"
#include "base/quantity.h"
#include "job/sheets.h"

#include <set>

namespace ferro::job {

Result<Job> withSheetsForParts(const Job& job, const shop::Book& book) {
    struct Class {
        std::string material;
        double thickness = 0;
        auto operator<=>(const Class&) const = default;
    };
    std::vector<Class> wanted; // in the order that parts ask for them
    for (const auto& item : job.artwork->items) {
        const auto& part = artwork::partOf(*job.artwork, item);
        if (!artwork::shapeOf(item) || (part.material.empty() && part.thickness == 0)) continue;
        if (const Class asked{part.material, part.thickness};
            std::find(wanted.begin(), wanted.end(), asked) == wanted.end())
            wanted.push_back(asked);
    }
    const auto serves = [](const Job& j, const Sheet& sheet, const Class& asked) {
        const auto& material = sheet.material ? *sheet.material : j.material;
        return (asked.material.empty() || asked.material == material.key) &&
               (asked.thickness == 0 || std::abs(asked.thickness - sheet.stock.thickness) < 1e-6);
    };
    Job out = job;
    const SheetId home = out.sheet().id;
    bool changesHome = out.sheets.size() == 1 && std::none_of(wanted.begin(), wanted.end(), [&](const Class& c) {
                           return serves(out, out.sheets[0], c);
                       });
    for (const auto& asked : wanted) {
        if (std::any_of(out.sheets.begin(), out.sheets.end(), [&](const Sheet& s) { return serves(out, s, asked); }))
            continue;
        if (!std::exchange(changesHome, false)) {
            auto added = withSheetAdded(*atSheet(out, home));
            if (!added) return added;
            out = std::move(*added);
        }
        if (!asked.material.empty()) {
            auto material = book.material(asked.material);
            if (!material) return material.problem();
            out = withMaterial(out, *material);
        }
        if (asked.thickness > 0) {
            auto stock = out.sheet().stock;
            stock.thickness = asked.thickness;
            auto sized = withStock(out, stock);
            if (!sized) return sized;
            out = std::move(*sized);
        }
        std::string name = fmt::format("{} {}", materialOf(out).name, mm(out.sheet().stock.thickness));
        for (int n = 2;
             std::any_of(out.sheets.begin(), out.sheets.end(), [&](const Sheet& s) { return s.name == name; }); ++n)
            name = fmt::format("{} {} · {}", materialOf(out).name, mm(out.sheet().stock.thickness), n);
        auto named = withSheetNamed(out, out.sheet().id, name);
        if (!named) return named;
        out = std::move(*named);
    }
    return atSheet(out, home);
}

} // namespace ferro::job
