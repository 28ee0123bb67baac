// Any bytes as a DXF drawing; what is read has finite bounds, and is written and read again.
#include "formats/dxf_in.h"
#include "formats/hairlines.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 20'000) return 0;
    const auto drawing = ferro::formats::drawingFromDxf({reinterpret_cast<const char*>(data), size});
    if (!drawing || drawing->items.size() > 2000) return 0;
    const auto art = ferro::formats::withDrawing({}, *drawing).artwork;
    for (const auto& item : art.items)
        if (!ferro::isFinite(ferro::artwork::boundsOf(item).low)) __builtin_trap();
    const auto layers = ferro::formats::hairlinesOf(art);
    if (layers && !ferro::formats::drawingFromDxf(ferro::formats::dxfOf(*layers))) __builtin_trap();
    return 0;
}
