// Any text as SVG path data; what is read can be measured and flattened.
#include "formats/svg.h"
#include "geometry/flatten.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 20'000) return 0;
    const auto paths = ferro::formats::pathsFromSvgData({reinterpret_cast<const char*>(data), size});
    if (!paths) return 0;
    for (const auto& path : *paths) {
        const auto box = ferro::boundsOf(path);
        if (box.width() < 1e4 && box.height() < 1e4) (void)ferro::flattened(path, 0.1).size();
    }
    return 0;
}
