// Any bytes as an SVG drawing; what is read has finite bounds and can be measured.
#include "formats/svg_in.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 20'000) return 0;
    const auto drawing = ferro::formats::drawingFromSvg({reinterpret_cast<const char*>(data), size});
    if (!drawing) return 0;
    for (const auto& item : drawing->items)
        for (const auto& piece : item.pieces)
            if (!ferro::isFinite(ferro::boundsOf(piece).low)) __builtin_trap();
    return 0;
}
