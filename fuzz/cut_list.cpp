// Any bytes as a cut list; what is read is within its ranges, and its names come back when they are written.
#include "formats/cut_list.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    if (size > 20'000) return 0;
    const auto list = ferro::formats::cutListFrom({reinterpret_cast<const char*>(data), size});
    if (!list) return 0;
    std::vector<std::vector<std::string>> rows{{"file", "part"}};
    for (const auto& row : list->rows) {
        if (row.part.quantity < 1 || row.part.thickness < 0 || row.file.empty()) __builtin_trap();
        rows.push_back({row.file, row.name});
    }
    const auto again = ferro::formats::cutListFrom(ferro::formats::csvOf(rows));
    if (!again || again->rows.size() != list->rows.size()) __builtin_trap();
    for (std::size_t i = 0; i < list->rows.size(); ++i)
        if (again->rows[i].file != list->rows[i].file || again->rows[i].name != list->rows[i].name) __builtin_trap();
    return 0;
}
