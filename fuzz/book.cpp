// Any bytes as pages of a shop book; what is read can be worked with, and comes back as it was.
#include "plan/house.h"
#include "shop/fields.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 40'000) return 0;
    const auto pages = ferro::plan::pagesFromText({reinterpret_cast<const char*>(data), size});
    if (!pages) return 0;
    if (!ferro::shop::checked(pages->book)) __builtin_trap();
    const auto again = ferro::plan::pagesFromText(ferro::plan::toText(*pages));
    if (!again || !(again->book == pages->book) || !(again->house == pages->house)) __builtin_trap();
    return 0;
}
