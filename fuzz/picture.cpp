// Any bytes as a picture: refused with a reason or read, in bounded memory.
#include "picture/picture.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    const auto picture = ferro::picture::decoded(bytes, {.pixels = 4'000'000, .side = 20'000});
    if (picture) (void)ferro::picture::histogramOf(ferro::picture::greyOf(*picture));
    return 0;
}
