// Any text as a job file's middle: what is read is written and read again as the same job.
#include "job/job_file.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    if (const auto job = ferro::job::jobFromJson(text, {})) {
        const auto again = ferro::job::jobFromJson(ferro::job::jsonOf(*job), {});
        if (!again || !(*again == *job)) __builtin_trap();
    }
    (void)ferro::job::fromBytes(text).has_value();
    return 0;
}
