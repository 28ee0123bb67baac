#include "standin/standin.h"

#include "base/holes.h"
#include "base/quantity.h"
#include "geometry/flatten.h"

namespace ferro::standin {

using link::MachineState;
using toolpath::Move;
using toolpath::Vec3;

namespace {
constexpr std::size_t mostKept = 2'000'000; // motions in the table's picture
constexpr std::size_t mostQueued = 200;     // entries taken in before lines have to wait
Vec3 plus(Vec3 a, Vec3 b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
Vec3 minus(Vec3 a, Vec3 b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
} // namespace

StandIn::StandIn(const shop::Machine& machine, Faults faults, link::Conversation talk)
    : machine_(machine), talk_(std::move(talk)), faults_(std::move(faults)), random_(faults_.seed),
      reader_({.beam = machine.mainProcess() == shop::Process::beam, .touches = true, .wear = true, .turn = "ABC"}),
      travel_(machine) {
    // Machine zero is the bed's lower left corner with the head fully up; the first work zero is there too.
    greet();
}

/// An answer to a line. Faults spoil these only: the status is what settles them.
void StandIn::reply(std::string answer) {
    if (faults_.rate > 0 && std::uniform_real_distribution<>(0, 1)(random_) < faults_.rate) {
        if (random_() % 2) return;
        answer[random_() % (answer.size() - 1)] = static_cast<char>('!' + random_() % 90);
    }
    outgoing_ += answer;
}
void StandIn::say(const std::string& text) { outgoing_ += talk_.closed(text); }
void StandIn::greet() {
    const auto text =
        fmt::format("ferrograph-standin ready, bed {} {} {}", machine_.bedX, machine_.bedY, machine_.travelZ);
    say(talk_.greets.empty() ? text : holesFilled(talk_.greets, [&](std::string_view) { return std::optional(text); }));
}

void StandIn::receive(std::string_view bytes) {
    for (const char c : bytes) {
        lately_ = (lately_ + c).substr(lately_.size() >= 8 ? 1 : 0);
        if (immediate()) {
            lately_.clear();
        } else if (c == '\n') {
            line(std::exchange(incoming_, {}));
        } else if (talk_.bytes > 0 && waitingBytes_ + incoming_.size() >= static_cast<std::size_t>(talk_.bytes)) {
            ++spilt_;
        } else if (incoming_.size() < 256) {
            incoming_ += c;
        }
    }
}

bool StandIn::actsOn(const std::vector<int>& bytes) const {
    if (bytes.empty() || lately_.size() < bytes.size()) return false;
    return std::equal(bytes.rbegin(), bytes.rend(), lately_.rbegin(),
                      [](int byte, char c) { return static_cast<char>(byte) == c; });
}

bool StandIn::immediate() {
    using enum MachineState;
    const std::vector<int>* acted = nullptr;
    for (const auto* bytes : {&talk_.ask, &talk_.hold, &talk_.goOn, &talk_.reset})
        if (actsOn(*bytes)) acted = bytes;
    if (!acted) return false;
    incoming_.resize(incoming_.size() - std::min(incoming_.size(), acted->size() - 1));
    if (acted == &talk_.ask) outgoing_ += talk_.telling(status());
    if (acted == &talk_.hold && state_ == moving) state_ = waiting;
    if (acted == &talk_.goOn && (state_ == waiting || state_ == pausing || state_ == changing)) state_ = moving;
    if (acted == &talk_.reset) enterReset(reset);
    return true;
}

void StandIn::enterReset(MachineState state) {
    // What was queued is forgotten, and that is said; what was done stays known; the head stays where it stopped. An
    // trip stays one until the machine has been homed.
    const auto forgotten = entries_.size() + underWay_.size();
    if (forgotten > 0 || !incoming_.empty())
        say(fmt::format("reset forgot {} motions{}", forgotten, incoming_.empty() ? "" : " and half a line"));
    entries_.clear();
    underWay_.clear();
    travel_.halt();
    missing_ = false;
    dwelling_ = false;
    planned_ = travel_.at();
    reader_.setPosition(minus(planned_, offset_));
    if (state_ != MachineState::tripped) state_ = state;
    incoming_.clear();
    waiting_.clear();
    waitingBytes_ = 0;
    settling_ = false;
    if (!talk_.greets.empty() && state == MachineState::reset) greet();
    if (!talk_.trips.empty() && state == MachineState::tripped)
        say(holesFilled(talk_.trips, [](std::string_view) { return std::optional<std::string>("tripped"); }));
}

bool StandIn::fire(long number) {
    bool silent = false;
    for (auto& fault : faults_.once) {
        if (fault.kind == Faults::Kind::none || fault.at != number) continue;
        const auto kind = std::exchange(fault.kind, Faults::Kind::none);
        if (kind == Faults::Kind::drop)
            drop_ = silent = true;
        else if (kind == Faults::Kind::swallow)
            silent = true;
        else if (kind == Faults::Kind::garble)
            outgoing_ += fmt::format("o~ {}\n", number * 7), silent = true;
        else if (kind == Faults::Kind::trip)
            enterReset(MachineState::tripped), silent = true;
        else if (kind == Faults::Kind::reset)
            enterReset(MachineState::reset), silent = true;
    }
    return silent;
}

void StandIn::line(const std::string& text) {
    const auto frame = talk_.unframed(text);
    if (!frame) return reply(talk_.refusing("0", "check"));
    if (frame->number < 0 && frame->block.empty()) return; // an empty line ends whatever was half sent
    if (!talk_.exactlyOnce()) {
        waiting_.push_back(frame->block);
        waitingBytes_ += text.size() + 1;
        return takeWaiting();
    }
    const bool numbered = frame->number >= 0;
    const std::string name = numbered            ? fmt::format("{}", frame->number)
                             : frame->loose >= 0 ? fmt::format("L{}", frame->loose)
                                                 : "0";
    const auto refuse = [&](const std::string& why) { reply(talk_.refusing(name, why)); };
    if (frame->number == 0) {
        // A new stream: counts from here and clears a reset. Heard twice it is the same stream, its answer was lost.
        if (state_ == MachineState::tripped) return refuse("tripped: home first");
        if (frame->block == stream_ && state_ != MachineState::reset) return reply(talk_.taking("0"));
        if (!entries_.empty() || !underWay_.empty()) return refuse("busy"); // still moving
        stream_ = frame->block;
        accepted_ = done_ = 0;
        clock_ = 0;
        executed_.clear();
        state_ = MachineState::resting;
        return reply(talk_.taking("0"));
    }
    const bool hadIt = numbered ? frame->number <= accepted_ : frame->loose >= 0 && frame->loose == lastLoose_;
    if (hadIt) return reply(talk_.taking(name));
    if (numbered && (state_ == MachineState::tripped || state_ == MachineState::reset))
        return refuse(state_ == MachineState::tripped ? "tripped" : "reset");
    if (numbered && frame->number != accepted_ + 1) return refuse(fmt::format("expected {}", accepted_ + 1));
    if (entries_.size() >= mostQueued || missing_) return refuse("busy");
    if (state_ == MachineState::tripped && frame->block.find("G28") == std::string::npos)
        return refuse("tripped: home first (G28)");
    if (!numbered && state_ == MachineState::reset) state_ = MachineState::resting;
    auto before = reader_;
    auto read = reader_.read(frame->block);
    if (!read) {
        reader_ = before;
        return refuse(read.problem().what);
    }
    if (auto fine = queueUp(*read, numbered ? frame->number : -1); !fine) {
        reader_ = before;
        return refuse(fine.problem().what);
    }
    ++taken_;
    if (numbered) accepted_ = frame->number;
    if (frame->loose >= 0) lastLoose_ = frame->loose;
    if (numbered && fire(frame->number)) return;
    reply(talk_.taking(name));
}

/// Lines as they come, as far as there is room.
void StandIn::takeWaiting() {
    const auto room = static_cast<std::size_t>(std::clamp(talk_.ahead, 1L, 200L));
    while (!waiting_.empty() && !settling_ && !missing_ && entries_.size() + underWay_.size() < room) {
        const auto block = std::move(waiting_.front());
        waiting_.pop_front();
        waitingBytes_ = 0;
        for (const auto& line : waiting_) waitingBytes_ += line.size() + 1;
        counted(block);
    }
}

void StandIn::counted(const std::string& block) {
    const long number = ++counted_;
    const auto refuse = [&](const std::string& why) { reply(talk_.refusing("", why)); };
    if (state_ == MachineState::tripped && block.find("G28") == std::string::npos) return refuse("tripped: home first");
    if (state_ == MachineState::reset) state_ = MachineState::resting;
    auto before = reader_;
    auto read = reader_.read(block);
    const auto fine = read ? queueUp(*read, number) : Result<void>(read.problem());
    if (!fine) {
        reader_ = before;
        return refuse(fine.problem().what);
    }
    ++taken_;
    accepted_ = number;
    if (fire(number)) return;
    settling_ = !entries_.empty() && entries_.back().kind == Entry::Kind::dwell;
    if (settling_)
        entries_.back().answers = true;
    else
        reply(talk_.taking(""));
}

/// In machine coordinates: on the plate, and under it by what the axis needs to stop, for a plate gives way.
Result<StandIn::Touched> StandIn::touched(Vec3 from, Vec3 to, double feed) const {
    const int axes = (to.x != from.x) + (to.y != from.y) + (to.z != from.z);
    if (axes != 1 || to.z > from.z)
        return Problem{.what = "touch: straight down or along one axis", .where = {}, .mend = {}};
    if (to.z == from.z) return touchedSideways(from, to, feed);
    if (!top_) return Touched{to};
    const double top = top_(from.flat());
    if (from.z <= top) return Problem{.what = "touch: it is met before it is begun", .where = {}, .mend = {}};
    if (to.z > top) return Touched{to};
    const double speed = std::min(feed, machine_.maxFeedZ) / 60; // mm/s
    return Touched{{to.x, to.y, std::max(to.z, top - speed * speed / (2 * machine_.accelerationZ))}, true};
}

/// A round pin against the sides and corners of the board.
Result<StandIn::Touched> StandIn::touchedSideways(Vec3 from, Vec3 to, double feed) const {
    if (!board_ || from.z >= board_->top) return Touched{to};
    const auto& area = board_->area;
    const double radius = board_->pin / 2;
    const bool inX = to.y == from.y;
    const double begin = inX ? from.x : from.y, end = inX ? to.x : to.y, on = end > begin ? 1 : -1;
    const double across = inX ? from.y : from.x, low = inX ? area.low.y : area.low.x,
                 high = inX ? area.high.y : area.high.x;
    const double beside = std::max({low - across, across - high, 0.0}); // of the side it comes to
    if (beside >= radius) return Touched{to};
    const double reach = std::sqrt(radius * radius - beside * beside);
    const double side = on > 0 ? (inX ? area.low.x : area.low.y) : (inX ? area.high.x : area.high.y);
    const double far = on > 0 ? (inX ? area.high.x : area.high.y) : (inX ? area.low.x : area.low.y);
    const double meets = side - on * reach;
    if (on * (far + on * reach - begin) <= 0) return Touched{to}; // it lies behind
    if (on * (meets - begin) <= 0)
        return Problem{.what = "touch: it is met before it is begun", .where = {}, .mend = {}};
    if (on * (end - meets) < 0) return Touched{to};
    const double speed = feed / 60,
                 rests = on * std::min(on * end, on * meets + speed * speed / (2 * machine_.acceleration));
    return Touched{inX ? Vec3{rests, to.y, to.z} : Vec3{to.x, rests, to.z}, true};
}

Result<void> StandIn::queueUp(const program::Interpreter::Line& line, long number) {
    std::vector<Entry> fresh;
    Vec3 at = planned_;
    Vec3 offset = offset_;
    bool missing = false;
    for (const auto& event : line.events) {
        using Kind = program::Event::Kind;
        if (event.kind == Kind::dwell) {
            Entry dwell{Entry::Kind::dwell, {}, std::clamp(event.value, 0.0, 3600.0), number};
            dwell.move.power = event.lit;
            fresh.push_back(std::move(dwell));
        } else if (event.kind == Kind::turn)
            fresh.push_back({Entry::Kind::dwell, {}, event.value / machine_.turnSpeed, number});
        else if (event.kind == Kind::pause)
            fresh.push_back({Entry::Kind::pause, {}, 0, number});
        else if (event.kind == Kind::toolChange)
            fresh.push_back({Entry::Kind::tool, {}, 0, number});
        else if (event.kind == Kind::home) {
            fresh.push_back({Entry::Kind::home, {}, 0, number});
            for (const Vec3 to : {Vec3{at.x, at.y, 0}, Vec3{0, 0, 0}})
                fresh.push_back({Entry::Kind::move, {Move::Kind::rapid, true, to, {}, 0, 0}, 0, number});
            at = {};
        } else if (event.kind == Kind::touch) {
            const auto touch = touched(at, plus(event.touch, offset), event.value);
            if (!touch) return touch.problem();
            missing = !touch->met;
            const Vec3& end = touch->at;
            for (const auto& [axis, place, least, most] : {std::tuple('X', end.x, 0.0, machine_.bedX),
                                                           {'Y', end.y, 0.0, machine_.bedY},
                                                           {'Z', end.z, -machine_.travelZ, 0.0}})
                if (place < least - 0.01 || place > most + 0.01)
                    return Problem{
                        .what = fmt::format("limit: {} would go to {:.2f}", axis, place), .where = {}, .mend = {}};
            fresh.push_back({Entry::Kind::move, Move::line(end, event.value), 0, number});
            if (missing) fresh.push_back({Entry::Kind::missed, {}, 0, number});
            at = end;
        } else if (event.kind == Kind::zeroSet) {
            // The reader has taken the new coordinates for where it stands.
            offset = minus(at, reader_.position());
        }
    }
    for (Move move : line.moves) {
        move.to = plus(move.to, offset);
        move.centre += offset.flat();
        Box box = boundsOf(Path{at.flat(), {move.flat()}, false});
        const auto limit = [&](char axis, double low, double high, double least,
                               double most) -> std::optional<Problem> {
            if (low < least - 0.01 || high > most + 0.01)
                return Problem{.what =
                                   fmt::format("limit: {} would go to {:.2f}", axis, low < least - 0.01 ? low : high),
                               .where = {},
                               .mend = {}};
            return std::nullopt;
        };
        if (auto p = limit('X', box.low.x, box.high.x, 0, machine_.bedX)) return *p;
        if (auto p = limit('Y', box.low.y, box.high.y, 0, machine_.bedY)) return *p;
        if (auto p = limit('Z', move.to.z, move.to.z, -machine_.travelZ, 0)) return *p;
        at = move.to;
        fresh.push_back({Entry::Kind::move, move, 0, number});
        fresh.back().bySpeed = reader_.modes().spindle == 4;
    }
    if (fresh.empty()) fresh.push_back({Entry::Kind::mark, {}, 0, number});
    fresh.back().last = true;
    for (auto& entry : fresh) entries_.push_back(std::move(entry));
    planned_ = at;
    missing_ = missing;
    offset_ = offset;
    reader_.setPosition(minus(at, offset));
    if (state_ == MachineState::resting || state_ == MachineState::tripped) state_ = MachineState::moving;
    return {};
}

void StandIn::finish(const Entry& entry) {
    if (!entry.last || entry.line < 0) return;
    done_ = entry.line;
    executed_.push_back(entry.line);
    if (entry.answers) {
        settling_ = false;
        reply(talk_.taking(""));
    }
}

/// Hands motions over; takes care of what is no motion once all motion before it is over. False: nothing to do now.
bool StandIn::nextEntry() {
    while (!entries_.empty() && entries_.front().kind == Entry::Kind::move && !travel_.full()) {
        Entry entry = std::move(entries_.front());
        entries_.pop_front();
        if (underWay_.empty()) began_ = travel_.at();
        if (travel_.add(entry.move))
            underWay_.push_back(std::move(entry));
        else if (underWay_.empty())
            finish(entry);
        else {
            // Done when the one before it is: hand its line's end on.
            Entry& before = underWay_.back();
            if (entry.last && before.last && before.line != entry.line) executed_.push_back(before.line);
            before.last = before.last || entry.last;
            before.line = entry.line;
        }
    }
    if (!travel_.empty() || entries_.empty()) return false;
    Entry entry = std::move(entries_.front());
    entries_.pop_front();
    if (entry.kind == Entry::Kind::dwell) {
        dwelling_ = true;
        dwellLeft_ = entry.seconds;
        dwellPower_ = entry.move.power;
    } else if (entry.kind == Entry::Kind::pause) {
        state_ = MachineState::pausing;
    } else if (entry.kind == Entry::Kind::tool) {
        state_ = MachineState::changing;
    } else if (entry.kind == Entry::Kind::missed) {
        enterReset(MachineState::tripped);
        return false;
    }
    finish(entry);
    return true;
}

/// A motion has come to its end.
void StandIn::ended(const Entry& entry) {
    if (trail_.size() < mostKept) trail_.push_back({began_, entry.move, entry.move.kind != Move::Kind::rapid});
    began_ = entry.move.to;
    finish(entry);
}

void StandIn::advance(double seconds, bool starved) {
    move(seconds, starved);
    takeWaiting();
}

void StandIn::move(double seconds, bool starved) {
    while (seconds > 0 &&
           (state_ == MachineState::moving || (state_ == MachineState::waiting && !travel_.standsStill()))) {
        const bool holding = state_ == MachineState::waiting;
        if (dwelling_ && !holding) {
            const double pass = std::min(seconds, dwellLeft_);
            if (dwellPower_ > 0) burnt_.burn(travel_.at().flat(), travel_.at().flat(), pass, dwellPower_);
            dwellLeft_ -= pass;
            seconds -= pass;
            clock_ += pass;
            if (dwellLeft_ > 1e-12) return;
            dwelling_ = false;
        }
        while (state_ == MachineState::moving && !dwelling_ && nextEntry()) {}
        if (dwelling_) continue;
        if (state_ != MachineState::moving && !holding) return;
        if (travel_.empty()) {
            if (entries_.empty() && !starved && !holding) state_ = MachineState::resting;
            return;
        }
        // A short queue waits for what is about to come instead of braking.
        if (starved && !travel_.full() && entries_.empty()) return;
        // A beam is followed by the millisecond, for how long it stays is what it burns.
        const bool burns = !underWay_.empty() && underWay_.front().move.power > 0;
        const Vec2 before = travel_.at().flat();
        const auto passed = travel_.advance(burns ? std::min(seconds, 0.001) : seconds, holding, 1);
        if (burns) {
            const auto& now = underWay_.front();
            const double asked = static_cast<double>(now.move.feed) / 60, far = distance(before, travel_.at().flat());
            const double share = !now.bySpeed || passed.seconds <= 0 ? 1 : std::min(1.0, far / passed.seconds / asked);
            burnt_.burn(before, travel_.at().flat(), passed.seconds, share * now.move.power);
        }
        seconds -= passed.seconds;
        clock_ += passed.seconds;
        for (std::size_t i = 0; i < passed.ended; ++i) {
            const Entry entry = std::move(underWay_.front());
            underWay_.pop_front();
            ended(entry);
        }
        if (passed.seconds <= 0 && passed.ended == 0) return;
    }
}

std::string StandIn::table() const {
    // y down, the bed to scale, rapids faint, feeds dark.
    std::string svg = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" "
                                  "viewBox=\"0 0 {0} {1}\">\n<rect width=\"{0}\" height=\"{1}\" fill=\"#F3EEE3\"/>\n",
                                  machine_.bedX, machine_.bedY);
    for (const bool cuts : {false, true}) {
        svg += fmt::format("<path fill=\"none\" stroke=\"{}\" stroke-width=\"{}\" d=\"", cuts ? "#9E3F22" : "#BFB5A0",
                           cuts ? 0.6 : 0.3);
        for (const auto& bit : trail_) {
            if (bit.cutting != cuts) continue;
            svg += fmt::format("M{:.3f} {:.3f}", bit.from.x, machine_.bedY - bit.from.y);
            flattenSegment(bit.from.flat(), bit.move.flat(), 0.05,
                           [&](Vec2 p) { svg += fmt::format("L{:.3f} {:.3f}", p.x, machine_.bedY - p.y); });
        }
        svg += "\"/>\n";
    }
    return svg + "</svg>\n";
}

std::string StandIn::replies() { return std::exchange(outgoing_, {}); }
bool StandIn::wantsDrop() { return std::exchange(drop_, false); }

link::Status StandIn::status() const {
    return {.state = state_,
            .at = minus(travel_.at(), offset_),
            .machine = travel_.at(),
            .accepted = accepted_,
            .done = done_,
            .queue = static_cast<long>(entries_.size() + underWay_.size()),
            .room = static_cast<long>(mostQueued - std::min(mostQueued, entries_.size())),
            .clock = clock_};
}

} // namespace ferro::standin
