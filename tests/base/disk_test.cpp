#include "base/disk.h"
#include "support/failing_disk.h"

#include <sys/stat.h>
#include <thread>

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

TEST_CASE("disk: a link stays a link, modes are kept, planted names are not followed, left parts are cleared away") {
    namespace fs = std::filesystem;
    test::TemporaryFolder folder;
    const auto real = folder.path / "shelf" / "lantern.ferro", link = folder.path / "lantern.ferro";
    fs::create_directories(folder.path / "shelf");
    REQUIRE(realDisk().write(real, "old"));
    fs::permissions(real, fs::perms(0640));
    fs::create_symlink("shelf/lantern.ferro", link);
    // What a killed process left an hour ago goes, what somebody writes just now stays, and so does another file's.
    const auto left = folder.path / "shelf" / ".lantern.ferro.0123.part",
               fresh = folder.path / "shelf" / ".lantern.ferro.4567.part",
               other = folder.path / "shelf" / ".moon.ferro.0123.part";
    for (const auto& part : {left, fresh, other}) REQUIRE(realDisk().write(part, "half"));
    for (const auto& part : {left, other})
        fs::last_write_time(part, fs::file_time_type::clock::now() - std::chrono::hours(1));
    REQUIRE(writeAtomically(realDisk(), link, "new"));
    CHECK(fs::is_symlink(link));
    CHECK(*realDisk().read(real) == "new");
    CHECK((fs::status(real).permissions() & fs::perms(0777)) == fs::perms(0640));
    CHECK_FALSE(fs::exists(left));
    CHECK(fs::exists(fresh));
    CHECK(fs::exists(other));
    // A part is never written through what lies there already.
    const auto victim = folder.path / "victim";
    REQUIRE(realDisk().write(victim, "mine"));
    const auto planted = folder.path / ".moon.ferro.1.part";
    fs::create_symlink(victim, planted);
    CHECK_FALSE(realDisk().write(planted, "theirs"));
    CHECK(*realDisk().read(victim) == "mine");
}

TEST_CASE("disk: pipes and devices are refused at once instead of waited for") {
    test::TemporaryFolder folder;
    const auto pipe = folder.path / "pipe";
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    CHECK(realDisk().read(pipe).problem().what.find("pipe") != std::string::npos);
    CHECK(realDisk().read("/dev/zero").problem().what.find("device") != std::string::npos);
    REQUIRE(realDisk().write(folder.path / "long", std::string(5000, 'x')));
    CHECK_FALSE(realDisk().read(folder.path / "long", 4999));
    CHECK(realDisk().read(folder.path / "long", 5000)->size() == 5000);
}

TEST_CASE("disk: of many that read, change and write a file under its lock none is lost") {
    test::TemporaryFolder folder;
    const auto file = folder.path / "count";
    REQUIRE(realDisk().write(file, "0"));
    std::vector<std::thread> many;
    for (int i = 0; i < 8; ++i)
        many.emplace_back([&] {
            for (int k = 0; k < 5; ++k) {
                const auto lock = FileLock::taken(file);
                if (!lock) return;
                const int now = std::stoi(*realDisk().read(file));
                (void)writeAtomically(realDisk(), file, std::to_string(now + 1)).has_value();
            }
        });
    for (auto& one : many) one.join();
    CHECK(*realDisk().read(file) == "40");
    const auto held = FileLock::taken(file);
    REQUIRE(held);
    CHECK_FALSE(FileLock::taken(file, std::chrono::milliseconds(30)));
}
