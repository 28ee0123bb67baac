#include "link/port.h"

#include <algorithm>
#include <arpa/inet.h>
#include <cerrno>
#include <charconv>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <grp.h>
#include <poll.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <termios.h>
#include <unistd.h>

namespace ferro::link {

namespace {

Problem gone() {
    return {
        .what = "The link to the machine is gone.", .where = {}, .mend = "Check cable and power, then connect again."};
}

class Descriptor : public Port {
public:
    explicit Descriptor(int handle) : handle_(handle) {}
    ~Descriptor() override { ::close(handle_); }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;

    Result<void> write(std::string_view bytes) override {
        while (!bytes.empty()) {
            pollfd ready{handle_, POLLOUT, 0};
            if (::poll(&ready, 1, 2000) <= 0 || (ready.revents & (POLLERR | POLLHUP | POLLNVAL))) return gone();
            const ssize_t count = ::write(handle_, bytes.data(), bytes.size());
            if (count < 0 && (errno == EINTR || errno == EAGAIN)) continue;
            if (count <= 0) return gone();
            bytes.remove_prefix(static_cast<std::size_t>(count));
        }
        return {};
    }
    Result<std::string> read(int milliseconds) override {
        pollfd ready{handle_, POLLIN, 0};
        const int got = ::poll(&ready, 1, milliseconds);
        if (got < 0) return errno == EINTR ? Result<std::string>(std::string()) : gone();
        if (got == 0) return std::string();
        char block[4096];
        const ssize_t count = ::read(handle_, block, sizeof block);
        if (count > 0) return std::string(block, static_cast<std::size_t>(count));
        if (count < 0 && (errno == EINTR || errno == EAGAIN)) return std::string();
        return gone();
    }

private:
    int handle_;
};

Result<std::unique_ptr<Port>> openSocket(std::string_view number) {
    int port = 0;
    const auto [stop, error] = std::from_chars(number.data(), number.data() + number.size(), port);
    if (error != std::errc{} || stop != number.data() + number.size() || port < 1 || port > 65535)
        return Problem{
            .what = fmt::format("“{}” is no port number.", number), .where = {}, .mend = "Use tcp:4711, say."};
    const int handle = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    if (handle < 0 || ::connect(handle, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0) {
        if (handle >= 0) ::close(handle);
        return Problem{
            .what = fmt::format("Nothing listens on port {}.", port), .where = {}, .mend = "Start the stand-in first."};
    }
    return std::unique_ptr<Port>(std::make_unique<Descriptor>(handle));
}

constexpr std::pair<int, speed_t> speeds[] = {
    {2400, B2400},     {4800, B4800},     {9600, B9600},     {19200, B19200},   {38400, B38400},   {57600, B57600},
    {115200, B115200}, {230400, B230400}, {460800, B460800}, {500000, B500000}, {921600, B921600}, {1000000, B1000000}};

/// Who may use a port that this user may not: the group that owns it.
std::string ownersOf(const std::string& path) {
    struct stat state {};
    if (::stat(path.c_str(), &state) != 0) return {};
    const auto* group = ::getgrgid(state.st_gid);
    return group ? group->gr_name : fmt::format("{}", state.st_gid);
}

std::string firstLineOf(const std::filesystem::path& file) {
    std::ifstream in(file);
    std::string line;
    std::getline(in, line);
    return line;
}

} // namespace

Result<std::unique_ptr<Port>> openPort(std::string_view device, const Wire& wire) {
    if (device.starts_with("tcp:")) return openSocket(device.substr(4));
    int baud = wire.speed;
    if (const auto at = device.rfind('@'); at != std::string_view::npos) {
        const auto word = device.substr(at + 1);
        const auto [stop, error] = std::from_chars(word.data(), word.data() + word.size(), baud);
        if (error != std::errc{} || stop != word.data() + word.size()) baud = 0;
        device = device.substr(0, at);
    }
    const auto* speed = std::find_if(std::begin(speeds), std::end(speeds), [&](auto s) { return s.first == baud; });
    if (speed == std::end(speeds)) {
        std::string have;
        for (const auto& [known, code] : speeds) have += fmt::format("{}{}", have.empty() ? "" : ", ", known);
        return Problem{.what = fmt::format("{} baud is no speed of a serial port here.", baud),
                       .where = {},
                       .mend = fmt::format("Use one of {}, behind the port's name and an @.", have)};
    }
    const std::string path(device);
    const int handle = ::open(path.c_str(), O_RDWR | O_NOCTTY | O_CLOEXEC | O_NONBLOCK);
    if (handle < 0 && errno == EACCES)
        return Problem{
            .what = fmt::format("You may not use “{}”: it belongs to the group “{}”.", path, ownersOf(path)),
            .where = {},
            .mend = fmt::format("Have yourself added (sudo adduser $USER {}), then log in anew.", ownersOf(path))};
    if (handle < 0)
        return Problem{.what = fmt::format("“{}” could not be opened: {}.", path, std::strerror(errno)),
                       .where = {},
                       .mend = "Check the name of the port and that it is plugged in."};
    termios settings{};
    if (::tcgetattr(handle, &settings) != 0) {
        ::close(handle);
        return Problem{.what = fmt::format("“{}” is no serial port or terminal.", path),
                       .where = {},
                       .mend = "Name a port such as /dev/ttyUSB0."};
    }
    ::cfmakeraw(&settings);
    settings.c_cflag |= CLOCAL | CREAD;
    if (wire.flow == Wire::Flow::hardware) settings.c_cflag |= CRTSCTS;
    if (wire.flow == Wire::Flow::software) settings.c_iflag |= IXON | IXOFF;
    ::cfsetspeed(&settings, speed->second);
    ::tcsetattr(handle, TCSANOW, &settings);
    return std::unique_ptr<Port>(std::make_unique<Descriptor>(handle));
}

std::vector<Plugged> pluggedIn(const std::filesystem::path& root) {
    namespace fs = std::filesystem;
    std::vector<Plugged> out;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(root / "sys/class/tty", error)) {
        // A terminal with a device behind it is a port; of the computer's own, many are wired to nothing.
        if (!fs::exists(entry.path() / "device", error)) continue;
        const auto name = entry.path().filename().string();
        auto place = fs::canonical(entry.path() / "device", error);
        if (error || place.string().find("/serial8250") != std::string::npos) continue;
        Plugged port{"/dev/" + name, {}, true};
        // The thing that is plugged in stands a few folders above its terminal.
        for (int up = 0; up < 4 && port.what.empty(); ++up, place = place.parent_path()) {
            port.what = firstLineOf(place / "product");
            if (const auto maker = firstLineOf(place / "manufacturer"); !port.what.empty() && !maker.empty())
                port.what += ", " + maker;
        }
        port.mayUse = ::access((root / "dev" / name).c_str(), R_OK | W_OK) == 0;
        out.push_back(std::move(port));
    }
    std::sort(out.begin(), out.end(), [](const Plugged& a, const Plugged& b) { return a.device < b.device; });
    return out;
}

} // namespace ferro::link
