#include "link/port.h"

#include <catch2/catch.hpp>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

using namespace ferro;

namespace {
/// What comes within a second.
std::string heardBy(link::Port& port, std::size_t bytes) {
    std::string all;
    for (int i = 0; i < 100 && all.size() < bytes; ++i) {
        const auto some = port.read(10);
        if (!some) break;
        all += *some;
    }
    return all;
}
std::string readFrom(int handle, std::size_t bytes) {
    std::string all(bytes, '\0');
    std::size_t at = 0;
    for (int i = 0; i < 100 && at < bytes; ++i) {
        const auto got = ::read(handle, all.data() + at, bytes - at);
        if (got <= 0) break;
        at += static_cast<std::size_t>(got);
    }
    return all.substr(0, at);
}
} // namespace

TEST_CASE("port: a terminal passes every byte both ways as it is") {
    const int master = ::posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC);
    REQUIRE(master >= 0);
    REQUIRE(::grantpt(master) == 0);
    REQUIRE(::unlockpt(master) == 0);
    auto port = link::openPort(std::string(::ptsname(master)) + "@57600");
    REQUIRE(port);
    const std::string bytes = "G1 X1\r\n\x03\x11\x13\x7f~!?\n"; // nothing of it is a sign to the line itself
    REQUIRE((*port)->write(bytes));
    CHECK(readFrom(master, bytes.size()) == bytes);
    REQUIRE(::write(master, bytes.data(), bytes.size()) == static_cast<long>(bytes.size()));
    CHECK(heardBy(**port, bytes.size()) == bytes);
    ::close(master);
    CHECK_FALSE(link::openPort("/dev/null"));
    CHECK_FALSE(link::openPort("/dev/no-such-port"));
    for (const char* odd : {"@12345", "@", "@57600x"})
        CHECK(link::openPort(std::string("/dev/ttyS0") + odd).problem().mend.find("57600") != std::string::npos);
}

TEST_CASE("port: a loopback socket by its number, and what is none is refused") {
    const int server = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    REQUIRE(::bind(server, reinterpret_cast<sockaddr*>(&address), sizeof address) == 0);
    REQUIRE(::listen(server, 1) == 0);
    socklen_t size = sizeof address;
    REQUIRE(::getsockname(server, reinterpret_cast<sockaddr*>(&address), &size) == 0);
    const auto name = "tcp:" + std::to_string(ntohs(address.sin_port));
    auto port = link::openPort(name);
    REQUIRE(port);
    const int peer = ::accept(server, nullptr, nullptr);
    REQUIRE(peer >= 0);
    REQUIRE((*port)->write("hello\n"));
    CHECK(readFrom(peer, 6) == "hello\n");
    ::close(peer);
    bool gone = false; // the other side hung up: the link is gone, not silent
    for (int i = 0; i < 50 && !gone; ++i) gone = !(*port)->read(10);
    CHECK(gone);
    ::close(server);
    CHECK_FALSE(link::openPort(name)); // nobody listens now
    const auto handles = [] {
        const auto all = std::filesystem::directory_iterator("/proc/self/fd");
        return std::distance(begin(all), end(all));
    };
    const auto before = handles();
    for (int i = 0; i < 20; ++i) CHECK_FALSE(link::openPort(name));
    CHECK(handles() == before); // a port that is tried again and again all day leaves nothing open
    for (const char* bad : {"tcp:", "tcp:0", "tcp:99999", "tcp:12x"}) CHECK_FALSE(link::openPort(bad));
}

TEST_CASE("port: what is plugged in is told with the name it gives itself, and a port wired to nothing is none") {
    namespace fs = std::filesystem;
    const fs::path root = fs::temp_directory_path() / fmt::format("ferro-ports-{}", ::getpid());
    const auto thing = root / "sys/devices/usb1/1-2";
    const auto say = [](const fs::path& file, const char* text) {
        fs::create_directories(file.parent_path());
        std::ofstream(file) << text << "\n";
    };
    say(thing / "product", "Motion board");
    say(thing / "manufacturer", "Lantern Works");
    say(thing / "1-2:1.0/ttyUSB0/uevent", "");
    say(root / "sys/devices/serial8250/tty/uevent", "");
    say(root / "sys/devices/platform/port/uevent", "");
    say(root / "dev/ttyUSB0", "");
    const auto tty = [&](const char* name, const fs::path& device) {
        fs::create_directories(root / "sys/class/tty" / name);
        if (!device.empty()) fs::create_directory_symlink(device, root / "sys/class/tty" / name / "device");
    };
    tty("ttyUSB0", thing / "1-2:1.0/ttyUSB0");
    tty("ttyS4", root / "sys/devices/platform/port");
    tty("ttyS0", root / "sys/devices/serial8250/tty");
    tty("tty1", {});
    const auto ports = link::pluggedIn(root);
    REQUIRE(ports.size() == 2);
    CHECK((ports[0].device == "/dev/ttyS4" && ports[0].what.empty() && !ports[0].mayUse));
    CHECK((ports[1].device == "/dev/ttyUSB0" && ports[1].what == "Motion board, Lantern Works" && ports[1].mayUse));
    fs::remove_all(root);
    CHECK(link::pluggedIn(root).empty());
}
