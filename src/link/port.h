#pragma once

#include "base/result.h"

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace ferro::link {

/// A byte stream to a machine: a serial port, a pseudo-terminal or a loopback socket. Reads never block longer than
/// asked. Tests put a stand-in or a faulty line behind it.
class Port {
public:
    virtual ~Port() = default;
    /// All bytes, or a problem: the link is gone.
    [[nodiscard]] virtual Result<void> write(std::string_view bytes) = 0;
    /// What has come within `milliseconds`, maybe nothing. A problem: the link is gone.
    [[nodiscard]] virtual Result<std::string> read(int milliseconds) = 0;
};

/// How bits go over a serial port.
struct Wire {
    enum class Flow { none, software, hardware } flow = Flow::none;
    int speed = 115200; ///< baud
    friend bool operator==(const Wire&, const Wire&) = default;
};
/// "/dev/ttyUSB0" or any terminal path, "/dev/ttyUSB0@57600" with a speed of its own, "tcp:4711" for a loopback socket.
[[nodiscard]] Result<std::unique_ptr<Port>> openPort(std::string_view device, const Wire& wire = {});

/// A serial port of this computer with what is plugged into it.
struct Plugged {
    std::string device; ///< "/dev/ttyUSB0"
    std::string what;   ///< as the thing calls itself; empty: a port of the computer's own
    bool mayUse = true; ///< by this user
};
/// In order of their names. `root`: "/" but in tests.
[[nodiscard]] std::vector<Plugged> pluggedIn(const std::filesystem::path& root = "/");

} // namespace ferro::link
