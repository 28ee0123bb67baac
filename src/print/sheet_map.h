#pragma once

#include "proof/proof.h"

#include <span>

namespace ferro::print {

/// A sheet at hand with its proof.
struct ProofedSheet {
    job::Job job;
    proof::Proof proof;
};

/// A part as it leaves a sheet: one number for map, label and cutting.
struct SheetPart {
    int number = 0;        ///< in the order in which parts come free, over all sheets
    std::size_t sheet = 0; ///< index among the sheets
    std::string name;
    artwork::Part facts;
    Box bounds;                 ///< on the sheet
    std::vector<Path> outlines; ///< its own and all that lies in it
};
/// Parts are what a step cuts loose: a group, or an outline with what lies in it. Other pieces are none.
[[nodiscard]] std::vector<SheetPart> partsOf(std::span<const ProofedSheet> sheets);

/// A page for each sheet as a PDF (need SH8): its picture with the parts' numbers, and their names, sizes and labels.
[[nodiscard]] Result<std::string> sheetMap(std::span<const ProofedSheet> sheets);

/// Labels on a page of A4, from its upper left corner, mm.
struct LabelStock {
    double width = 70, height = 37;
    int columns = 3, rows = 8;
    double left = 0, top = 0.5, gapX = 0, gapY = 0; ///< to the first one, and between them
};
/// Whether so many go onto a page.
[[nodiscard]] Result<void> checked(const LabelStock& stock);
/// A label for each part as a PDF, in the order of their numbers: number, name, size, sheet, labels, a small picture.
[[nodiscard]] Result<std::string> labelSheet(std::span<const ProofedSheet> sheets, const LabelStock& stock = {});

} // namespace ferro::print
