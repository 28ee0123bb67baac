// Any text as a program.
#include "program/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    for (const bool laser : {false, true}) {
        ferro::program::ReadOptions options;
        options.interpreter = {laser, 1000};
        (void)ferro::program::readProgram(text, options).has_value();
    }
    return 0;
}
