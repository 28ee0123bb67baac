// The stand-in as a program: a pseudo-terminal or a loopback socket, and a clock.
#include "shop/own.h"
#include "standin/camera.h"
#include "standin/standin.h"

#include "base/options.h"
#include <arpa/inet.h>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <poll.h>
#include <sys/socket.h>
#include <termios.h>
#include <thread>
#include <unistd.h>

namespace {

using namespace ferro;
volatile std::sig_atomic_t ended = 0;

/// Where bytes come from and go to. A dropped link closes and opens again, as a pulled plug does.
class Line {
public:
    virtual ~Line() = default;
    virtual std::string read(int milliseconds) = 0;
    virtual void write(std::string_view bytes) = 0;
    virtual void drop() = 0;
};

void writeAll(int handle, std::string_view bytes) {
    while (!bytes.empty() && !ended) {
        const ssize_t count = ::write(handle, bytes.data(), bytes.size());
        if (count <= 0) {
            pollfd ready{handle, POLLOUT, 0};
            if (::poll(&ready, 1, 100) <= 0 || (ready.revents & (POLLHUP | POLLERR))) return; // nobody listens
            continue;
        }
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
}
std::string readSome(int handle, int milliseconds, bool& gone) {
    pollfd ready{handle, POLLIN, 0};
    gone = false;
    if (::poll(&ready, 1, milliseconds) <= 0) return {};
    char block[4096];
    const ssize_t count = ::read(handle, block, sizeof block);
    gone = count <= 0;
    return count > 0 ? std::string(block, static_cast<std::size_t>(count)) : std::string();
}

class Terminal : public Line {
public:
    explicit Terminal(std::string linkPath) : path_(std::move(linkPath)) { open(); }
    ~Terminal() override { close(); }
    std::string read(int milliseconds) override {
        bool gone = false;
        auto bytes = readSome(master_, milliseconds, gone);
        // No one has the other end open: that is how it starts, and how it is between two clients.
        if (gone) std::this_thread::sleep_for(std::chrono::milliseconds(milliseconds));
        return bytes;
    }
    void write(std::string_view bytes) override { writeAll(master_, bytes); }
    void drop() override {
        close();
        std::this_thread::sleep_for(std::chrono::milliseconds(100));
        open();
    }
    [[nodiscard]] std::string name() const { return path_.empty() ? slave_ : path_; }

private:
    void open() {
        master_ = ::posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK);
        if (master_ < 0 || ::grantpt(master_) != 0 || ::unlockpt(master_) != 0)
            throw std::runtime_error("no pseudo-terminal can be had");
        slave_ = ::ptsname(master_);
        termios settings{};
        ::tcgetattr(master_, &settings);
        ::cfmakeraw(&settings);
        ::tcsetattr(master_, TCSANOW, &settings);
        if (!path_.empty()) {
            // Only a link of a stand-in's own is put away: nothing else that has this name.
            std::error_code error;
            if (isOurs()) std::filesystem::remove(path_, error);
            std::filesystem::create_symlink(slave_, path_, error);
            if (error)
                throw std::runtime_error(
                    fmt::format("“{}” is there already and is no link of a stand-in; it is left alone", path_));
        }
    }
    void close() {
        std::error_code ignored;
        if (!path_.empty() && std::filesystem::read_symlink(path_, ignored) == slave_)
            std::filesystem::remove(path_, ignored);
        ::close(master_);
    }
    /// A link to a pseudo-terminal: what a stand-in that was killed has left.
    [[nodiscard]] bool isOurs() const {
        std::error_code error;
        return std::filesystem::is_symlink(path_, error) &&
               std::filesystem::read_symlink(path_, error).string().starts_with("/dev/pts/");
    }
    std::string path_, slave_;
    int master_ = -1;
};

class Socket : public Line {
public:
    explicit Socket(int port) {
        listener_ = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
        const int yes = 1;
        ::setsockopt(listener_, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
        sockaddr_in address{};
        address.sin_family = AF_INET;
        address.sin_port = htons(static_cast<std::uint16_t>(port));
        address.sin_addr.s_addr = htonl(INADDR_LOOPBACK); // never beyond this machine
        if (::bind(listener_, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0 ||
            ::listen(listener_, 1) != 0)
            throw std::runtime_error(fmt::format("port {} cannot be listened on", port));
    }
    ~Socket() override {
        drop();
        ::close(listener_);
    }
    std::string read(int milliseconds) override {
        if (client_ < 0) {
            pollfd ready{listener_, POLLIN, 0};
            if (::poll(&ready, 1, milliseconds) > 0)
                client_ = ::accept4(listener_, nullptr, nullptr, SOCK_NONBLOCK | SOCK_CLOEXEC);
            return {};
        }
        bool gone = false;
        auto bytes = readSome(client_, milliseconds, gone);
        if (gone) drop();
        return bytes;
    }
    void write(std::string_view bytes) override {
        if (client_ >= 0) writeAll(client_, bytes);
    }
    void drop() override {
        if (client_ >= 0) ::close(client_);
        client_ = -1;
    }

private:
    int listener_ = -1, client_ = -1;
};

standin::Faults faultsFrom(const std::vector<std::string>& words, double rate, unsigned seed) {
    standin::Faults faults{{}, rate, seed};
    using Kind = standin::Faults::Kind;
    const std::map<std::string, Kind> kinds = {{"drop", Kind::drop},
                                               {"swallow", Kind::swallow},
                                               {"garble", Kind::garble},
                                               {"trip", Kind::trip},
                                               {"reset", Kind::reset}};
    for (const auto& word : words) {
        const auto at = word.find('@');
        const auto kind = kinds.find(word.substr(0, at));
        if (at == std::string::npos || kind == kinds.end())
            throw std::runtime_error(
                fmt::format("“{}” is no fault; say drop@120, swallow@7, garble@9, trip@30 or reset@200", word));
        faults.once.push_back({kind->second, std::stol(word.substr(at + 1))});
    }
    return faults;
}

/// What the camera over the bed would see of a printed page.
struct PhotoAsked {
    std::string page, out;
    std::vector<double> lies{0, 0, 0, 100, 100, 0}, stands{0, 0, 0}, over{150, 100}, px{2400, 1800};
    standin::Eye eye;

    void declare(Options& app) {
        app.option("--page", page, "picture of a printed page, with its resolution");
        app.option("--photo", out, "write what the camera over the bed sees of it here (PNG), and end");
        app.option("--lies", lies, "shift in x and y mm, turn °, % wide, % high, skew °").expected(6);
        app.option("--stands", stands, "the camera: tilt °, roll °, bend of its lens").expected(3);
        app.option("--over", over, "mm on the bed that it looks at").expected(2);
        app.option("--sees", eye.wide, "mm of the bed across its picture").range(10, 10000);
        app.option("--px", px, "of its picture").expected(2);
        app.option("--blur", eye.blur, "px").range(0, 20);
        app.option("--noise", eye.noise, "greys").range(0, 60);
        app.option("--gloom", eye.gloom, "how much darker one corner is, 0 to 1").range(0, 1);
    }
    [[nodiscard]] bool take() {
        const auto say = [](const Problem& problem) {
            fmt::print(stderr, "{} {}\n", problem.what, problem.mend);
            return false;
        };
        const auto loaded = picture::load(page);
        if (!loaded) return say(loaded.problem());
        if (!loaded->pxPerMm)
            return say({.what = "The page does not say its resolution.", .where = page, .mend = "Use “print”."});
        if (!(px[0] >= 16 && px[1] >= 16 && px[0] * px[1] <= 50e6))
            return say({.what = "Pictures have 16 px a side to 50 megapixels.", .where = {}, .mend = {}});
        eye.width = static_cast<int>(px[0]), eye.height = static_cast<int>(px[1]);
        eye.over = {over[0], over[1]};
        eye.high = eye.wide * 1.5;
        eye.tilt = stands[0] * pi / 180, eye.roll = stands[1] * pi / 180, eye.bend = stands[2];
        const standin::Lying lying{
            {lies[0], lies[1]}, lies[2] * pi / 180, lies[3] / 100, lies[4] / 100, lies[5] * pi / 180};
        const auto seen = standin::photographed(picture::greyOf(*loaded), *loaded->pxPerMm, lying, eye);
        picture::Picture as;
        as.width = seen.width, as.height = seen.height;
        as.pixels = std::make_shared<const std::vector<std::uint8_t>>(seen.values);
        const auto written = writeAtomically(realDisk(), out, picture::toPng(as, eye.width / eye.wide));
        return written ? true : say(written.problem());
    }
};

void run(Line& line, standin::StandIn& machine, double faster) {
    using Clock = std::chrono::steady_clock;
    auto last = Clock::now(), lastLine = last;
    while (!ended) {
        const auto bytes = line.read(2);
        const auto now = Clock::now();
        if (!bytes.empty()) {
            const auto before = machine.taken();
            machine.receive(bytes);
            if (machine.taken() != before) lastLine = now;
        }
        machine.advance(std::chrono::duration<double>(now - last).count() * faster,
                        now - lastLine < std::chrono::milliseconds(250));
        last = now;
        if (const auto replies = machine.replies(); !replies.empty()) line.write(replies);
        if (machine.wantsDrop()) line.drop();
    }
}

} // namespace

int main(int argc, char** argv) {
    ferro::Options app("The stand-in machine: takes G-code as a machine would and moves in simulated time.\n"
                       "Example: ferrograph-standin --link /tmp/mill --machine mill-600 --faster 20 --fault drop@120",
                       "ferrograph-standin");
    std::string linkPath, machineKey, table, burnt, top, talkKey = "checked";
    int port = 0;
    double faster = 1, rate = 0, plate = -1;
    std::size_t seed = 1;
    std::vector<std::string> faults;
    std::vector<double> board;
    double pin = 6;
    app.option("--link", linkPath, "make this path lead to the pseudo-terminal");
    app.option("--port", port, "listen on this loopback port instead of a pseudo-terminal").range(1, 65535);
    app.option("--machine", machineKey, "machine of the shop book (default: the first)");
    app.option("--speaks", talkKey, "the conversation to speak (default: checked)");
    app.option("--table", table, "write a picture of the table here when it ends (SVG)");
    app.option("--burnt", burnt, "write a picture of what its beam has burnt here when it ends (PGM, 0.1 mm a pixel)");
    app.option("--plate", plate, "mm above the bed: the top of a touch-off plate that G38.2 meets").range(0, 10000);
    app.option("--top", top, "a file of x, y, z in mm of the bed: how what lies on it goes up and down, for G38.2");
    app.option("--board", board, "a board that G38.2 meets sideways: X, Y, width, height and top in mm of the bed")
        .expected(5);
    app.option("--pin", pin, "mm: how thick what is in its head is, for that").range(0.1, 50.0);
    app.option("--faster", faster, "how many times faster than real time").range(0.1, 100000.0);
    app.option("--fault", faults, "drop, swallow, garble, trip or reset at a line: drop@120");
    app.option("--fault-rate", rate, "chance for each answer to be lost or spoilt").range(0.0, 0.9);
    app.option("--seed", seed, "of the chance");
    PhotoAsked photo;
    photo.declare(app);
    if (const auto ended = app.take(argc, argv)) return *ended;
    if (!photo.out.empty()) return photo.take() ? 0 : 1;
    std::signal(SIGPIPE, SIG_IGN);
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) std::signal(signal, [](int) { ended = 1; });
    try {
        const auto book = shop::openBook(realDisk());
        if (!book) throw std::runtime_error(book.problem().text());
        const auto machine =
            machineKey.empty() ? Result<shop::Machine>(book->machines.front()) : book->machine(machineKey);
        if (!machine) throw std::runtime_error(machine.problem().text());
        const auto talk = link::openConversation(realDisk(), talkKey);
        if (!talk) throw std::runtime_error(talk.problem().text());
        standin::StandIn standIn(*machine, faultsFrom(faults, rate, static_cast<unsigned>(seed)), *talk);
        if (plate >= 0) standIn.setPlate(plate - machine->travelZ);
        if (board.size() == 5)
            standIn.setBoard(
                {{{board[0], board[1]}, {board[0] + board[2], board[1] + board[3]}}, board[4] - machine->travelZ, pin});
        if (!top.empty()) {
            const auto text = realDisk().read(top, 1 << 22);
            const auto lie = text ? job::lieFrom(*text, {}) : Result<job::Lie>(text.problem());
            if (!lie) throw std::runtime_error(lie.problem().within(top).text());
            standIn.setTop([lie = *lie, bed = -machine->travelZ](Vec2 p) { return bed + lie.at(p); });
        }
        if (port) {
            Socket socket(port);
            fmt::print("listening on tcp:{}\n", port);
            std::fflush(stdout);
            run(socket, standIn, faster);
        } else {
            Terminal terminal(linkPath);
            fmt::print("listening on {}\n", terminal.name());
            std::fflush(stdout);
            run(terminal, standIn, faster);
        }
        if (const auto picture = standIn.burnt().picture(); !burnt.empty() && !picture.empty())
            if (auto done = writeAtomically(realDisk(), burnt, picture); !done)
                throw std::runtime_error(done.problem().text());
        if (!table.empty())
            if (auto done = writeAtomically(realDisk(), table, standIn.table()); !done)
                throw std::runtime_error(done.problem().text());
    } catch (const std::exception& error) {
        fmt::print(stderr, "ferrograph-standin: {}\n", error.what());
        return 1;
    }
    return 0;
}
