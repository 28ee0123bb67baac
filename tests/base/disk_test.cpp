#include "base/disk.h"
#include "support/failing_disk.h"

using namespace ferro;

TEST_CASE("disk: an atomic write leaves the old file whole, whichever call fails") {
    test::TemporaryFolder folder;
    const auto file = folder.path / "lantern.txt";
    for (int n = 0;; ++n) {
        REQUIRE(realDisk().write(file, "old"));
        test::FailingDisk disk(n);
        const auto done = writeAtomically(disk, file, "new");
        const auto now = realDisk().read(file);
        REQUIRE(now);
        if (done) {
            CHECK(*now == "new");
            CHECK(n >= 2);
            break;
        }
        CHECK(*now == "old");
    }
    CHECK(std::distance(std::filesystem::directory_iterator(folder.path), {}) == 1);
}

TEST_CASE("disk: what cannot be read is a problem with its path") {
    CHECK(realDisk().read("/nowhere/heron.ferro").problem().where == "/nowhere/heron.ferro");
    CHECK(realDisk().read("/").problem().what == "This is a folder, not a file.");
}
