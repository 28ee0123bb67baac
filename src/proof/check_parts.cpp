// What is known of parts and sheets, against what lies where.
#include "artwork/copies.h"
#include "job/sheets.h"
#include "proof/checks_internal.h"

#include <set>

#include <unordered_map>

namespace ferro::proof {

namespace {

std::string lieOn(int count) { return fmt::format("{} {}", count, count == 1 ? "lies" : "lie"); }

} // namespace

void Checker::parts() {
    const auto& art = *job.artwork;
    const auto& sheet = job.sheet();
    const auto& material = job::materialOf(job);
    if (material.key != job.material.key && !path.steps.empty())
        add(Verdict::look,
            fmt::format("{} is {}; the feeds of the steps were made for {}.", sheet.name, material.name,
                        job.material.name),
            "Check the feeds, depths and powers, or cut it as a job of its own.");

    if (material.fromBack && !sheet.mirrored && !path.steps.empty()) {
        auto& f = add(Verdict::look,
                      fmt::format("{} is cut from its back, and {} is not mirrored: it will show the wrong way round.",
                                  material.name, sheet.name),
                      "Mirror what lies on it.");
        f.fix = Finding::Fix{"Mirror the sheet", [](const job::Job& j) { return job::withSheetMirrored(j, true); }};
    } else if (!material.fromBack && sheet.mirrored && !path.steps.empty()) {
        auto& f = add(Verdict::look,
                      fmt::format("{} lies mirrored, and {} is cut from its front.", sheet.name, material.name),
                      "Mirror it back, unless that is meant.");
        f.fix = Finding::Fix{"Mirror it back", [](const job::Job& j) { return job::withSheetMirrored(j, false); }};
    }

    const auto blanksOf = [&](job::SheetId id) { // each is cut so often
        const auto* on = job::find(job, id);
        return on && on->tray ? static_cast<int>(on->tray->count()) : 1;
    };
    std::unordered_map<std::uint32_t, int> laid; // of an original with its copies, on any sheet
    int beside = 0;
    for (const auto& item : art.items) {
        if (!artwork::shapeOf(item) || artwork::isNote(art, item)) continue;
        if (item.sheet)
            laid[item.of ? item.of.value : item.id.value] += blanksOf(item.sheet);
        else
            ++beside;
    }
    for (const auto& item : art.items) {
        const auto& part = artwork::partOf(art, item);
        if (item.sheet == sheet.id && !artwork::isHidden(art, item)) {
            const bool thickness = part.thickness > 0 && std::abs(part.thickness - sheet.stock.thickness) > 0.05;
            const bool other = !part.material.empty() && part.material != material.key;
            if (thickness || other) {
                auto& f = add(Verdict::look,
                              thickness ? fmt::format("“{}” is to be {:.4g} mm thick; {} is {:.4g} mm.", item.name,
                                                      part.thickness, sheet.name, sheet.stock.thickness)
                                        : fmt::format("“{}” is not meant for {}.", item.name, material.name),
                              "Lay it on another sheet, or change what is said of the part.");
                f.item = item.id, f.at = artwork::boundsOf(item).centre();
            }
        }
        if (!item.of && part.quantity > 1 && item.part && laid[item.id.value] != part.quantity) {
            auto& f = add(Verdict::note,
                          fmt::format("“{}” is wanted {} times; {} on the sheets.", item.name, part.quantity,
                                      lieOn(laid[item.id.value])),
                          "Copy it, lay copies on a sheet, or change how many are wanted.");
            f.item = item.id;
        }
    }
    if (path.pieces) {
        std::map<std::string, std::set<artwork::ItemId>> stencils; // by layer
        for (const auto& contour : path.pieces->contours)
            if (contour.inSheet) stencils[contour.layer].insert(contour.item);
        for (const auto& [layer, items] : stencils) {
            auto& f =
                add(Verdict::note,
                    fmt::format(
                        "What is drawn on “{}” falls out of the sheet: the cut runs inside of it, as its bridges mean.",
                        layer),
                    "Use the space around to cut a plate out too, or bridge it as areas that stay.");
            f.offer = Finding::Offer::spaceAround;
            f.items.assign(items.begin(), items.end());
            f.at = artwork::boundsOf(art, f.items).centre();
        }
    }
    if (beside > 0)
        add(Verdict::note,
            fmt::format("{} not cut.", beside == 1 ? "1 piece lies beside the sheets and is"
                                                   : fmt::format("{} pieces lie beside the sheets and are", beside)),
            "Lay them on a sheet if they should be cut.");
}

} // namespace ferro::proof
