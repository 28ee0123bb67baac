// A conversation's file, and whatever a controller may say to one.
#include "link/conversation.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    // Behind a zero byte, if there is one, the lines that are heard by it.
    const auto end = std::min(text.find('\0'), text.size());
    const auto talk = ferro::link::conversationFromText(text.substr(0, end));
    if (!talk || size > 40'000) return 0;
    (void)ferro::link::limitsOf(*talk);
    (void)talk->telling({});
    (void)talk->framed(7, "G1 X1");
    auto rest = text.substr(std::min(end + 1, text.size()));
    while (!rest.empty()) {
        const auto line = std::min(rest.find('\n'), rest.size());
        (void)talk->heard(rest.substr(0, line));
        (void)talk->unframed(rest.substr(0, line));
        rest.remove_prefix(std::min(line + 1, rest.size()));
    }
    return 0;
}
