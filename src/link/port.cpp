#include "link/port.h"

#include <arpa/inet.h>
#include <cerrno>
#include <charconv>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <sys/socket.h>
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

speed_t speedOf(int baud) {
    switch (baud) {
    case 9600: return B9600;
    case 19200: return B19200;
    case 38400: return B38400;
    case 57600: return B57600;
    case 230400: return B230400;
    case 460800: return B460800;
    case 921600: return B921600;
    default: return B115200;
    }
}

} // namespace

Result<std::unique_ptr<Port>> openPort(std::string_view device) {
    if (device.starts_with("tcp:")) return openSocket(device.substr(4));
    int baud = 115200;
    if (const auto at = device.rfind('@'); at != std::string_view::npos) {
        std::from_chars(device.data() + at + 1, device.data() + device.size(), baud);
        device = device.substr(0, at);
    }
    const std::string path(device);
    const int handle = ::open(path.c_str(), O_RDWR | O_NOCTTY | O_CLOEXEC | O_NONBLOCK);
    if (handle < 0)
        return Problem{.what = fmt::format("“{}” could not be opened: {}.", path, std::strerror(errno)),
                       .where = {},
                       .mend = "Check the name of the port and that you may use it."};
    termios settings{};
    if (::tcgetattr(handle, &settings) != 0) {
        ::close(handle);
        return Problem{.what = fmt::format("“{}” is no serial port or terminal.", path),
                       .where = {},
                       .mend = "Name a port such as /dev/ttyUSB0."};
    }
    ::cfmakeraw(&settings);
    settings.c_cflag |= CLOCAL | CREAD;
    ::cfsetspeed(&settings, speedOf(baud));
    ::tcsetattr(handle, TCSANOW, &settings);
    return std::unique_ptr<Port>(std::make_unique<Descriptor>(handle));
}

} // namespace ferro::link
