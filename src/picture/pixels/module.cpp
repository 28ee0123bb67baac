#include "picture/pixels/pixels_internal.h"

extern "C" [[gnu::visibility("default")]] const ferro::picture::PixelWork* ferroPixelWork() {
    using namespace ferro::picture;
    static constexpr PixelWork work{pixels::cleaned, pixels::reduced, pixels::areaMap, pixels::drawnApart};
    return &work;
}
