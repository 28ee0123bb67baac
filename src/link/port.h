#pragma once

#include "base/result.h"

#include <memory>
#include <string>
#include <string_view>

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

/// "/dev/ttyUSB0" or any terminal path, "/dev/ttyUSB0@57600" with a speed (115200 otherwise), "tcp:4711" for a loopback
/// socket.
[[nodiscard]] Result<std::unique_ptr<Port>> openPort(std::string_view device);

} // namespace ferro::link
