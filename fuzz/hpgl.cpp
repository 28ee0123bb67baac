// Any bytes as a plotter's file; what is drawn has places.
#include "formats/hpgl_in.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 20'000) return 0;
    const auto drawing = ferro::formats::drawingFromHpgl({reinterpret_cast<const char*>(data), size});
    if (!drawing) return drawing.problem().what.empty() ? (__builtin_trap(), 0) : 0;
    for (const auto& item : drawing->items)
        for (const auto& piece : item.pieces) {
            const auto box = ferro::boundsOf(piece.outline);
            if (!std::isfinite(box.width()) || !std::isfinite(box.height())) __builtin_trap();
        }
    return 0;
}
