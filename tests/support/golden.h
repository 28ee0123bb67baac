#pragma once

#include "base/disk.h"

#include <catch2/catch.hpp>

namespace ferro::test {

/// Compares with tests/golden/NAME. A mismatch shows the first differing line and writes the new text beside the build.
inline void checkGolden(const std::string& name, const std::string& text) {
    const auto file = std::filesystem::path(FERRO_TESTS) / "golden" / name;
    const auto wanted = realDisk().read(file);
    if (wanted && *wanted == text) return;
    const auto fresh = std::filesystem::temp_directory_path() / "ferrograph-golden" / name;
    std::filesystem::create_directories(fresh.parent_path());
    (void)realDisk().write(fresh, text);
    std::istringstream a(wanted ? *wanted : ""), b(text);
    std::string left, right;
    for (int line = 1; std::getline(b, right) && std::getline(a, left); ++line)
        if (left != right)
            FAIL_CHECK(name << " line " << line << "\n  wanted: " << left << "\n  now:    " << right
                            << "\n  all of it: " << fresh.string());
    FAIL_CHECK(name << " is missing or of another length; the text now: " << fresh.string());
}

} // namespace ferro::test
