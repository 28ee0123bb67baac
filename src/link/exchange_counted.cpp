#include "link/exchange_internal.h"

#include "program/code.h"

#include <numeric>

namespace ferro::link {

using namespace std::chrono_literals;

namespace {

constexpr double slowestRapid = 500; ///< mm/min, to reckon by: no machine is slower

/// s that the motion of a line takes at most.
double longestOf(const program::Interpreter::Line& line, toolpath::Vec3 at) {
    double seconds = 0;
    for (const auto& move : line.moves) {
        const double feed = move.kind == toolpath::Move::Kind::rapid ? slowestRapid : static_cast<double>(move.feed);
        const double turn = move.kind == toolpath::Move::Kind::arc ? distance(at.flat(), move.centre) * 2 * pi : 0;
        seconds += std::max(distance(at, move.to), turn) / std::max(1.0, feed) * 60;
        at = move.to;
    }
    for (const auto& event : line.events)
        if (event.kind == program::Event::Kind::dwell) seconds += event.value;
    return seconds;
}

} // namespace

void Streamer::Counted::opened() {
    s_.loose_.insert(s_.loose_.begin(), s_.talk_.hello.begin(), s_.talk_.hello.end());
    waiting_.clear();
    onTheWay_ = 0;
    if (std::exchange(doubtful_, false))
        s_.readyAt_ = std::max(s_.readyAt_, Clock::now() + std::min<Clock::duration>(1s, s_.options_.patience));
    s_.status_ = {};
    reader_ = {};
}

Result<void> Streamer::Counted::begun() {
    code_.clear();
    stops_.clear();
    seconds_.clear();
    longest_ = 0;
    auto reader = program::Interpreter({.touches = true, .wear = true, .turn = "ABC"});
    long number = 0;
    for (const auto& line : s_.lines_) {
        ++number;
        // What stands in remarks is no controller's business, and not all can read them; nor tape marks.
        code_.push_back(program::codeOf(line));
        if (code_.back() == "%") code_.back().clear();
        auto& stop = stops_.emplace_back();
        const auto at = reader.position();
        const auto read = reader.read(line);
        const auto bad = [&](std::string_view what) {
            return Problem{.what = fmt::format("Line {} {}.", s_.numbering_.of(number), what),
                           .where = {},
                           .mend = "Choose another dialect or conversation for this machine."};
        };
        if (const auto bytes = static_cast<long>(s_.talk_.framed(number, code_.back()).size());
            s_.talk_.bytes > 0 && bytes > s_.talk_.bytes)
            return bad(fmt::format("has {} bytes, the controller has room for {}", bytes, s_.talk_.bytes));
        seconds_.push_back(read ? longestOf(*read, at) : 0);
        longest_ = std::max(longest_, seconds_.back());
        if (!read) continue; // the controller may know what it is; if not, it refuses
        if (!s_.talk_.stopsHere) continue;
        bool more = !read->moves.empty();
        for (const auto& event : read->events) {
            if (event.kind == program::Event::Kind::pause)
                stop = "pause";
            else if (event.kind == program::Event::Kind::toolChange)
                stop = "tool";
            else
                more = true;
        }
        // It is held back here, so nothing else may be on it: a speed, an offset would be lost.
        if (!stop.empty() && (more || code_.back().find_first_of("GSFXYZ") != std::string::npos))
            return bad("stops for a person and does more");
    }
    s_.status_.accepted = s_.status_.done = 0;
    s_.status_.clock = 0;
    s_.sent_ = s_.acknowledged_ = 0;
    settled_ = heldBack_ = false;
    begun_ = Clock::now();
    return {};
}

bool Streamer::Counted::maySpeak() const { return s_.port_ && Clock::now() >= std::max(s_.readyAt_, deafUntil_); }

/// What was on the way is given up by a reset. Its answers may be in the line still, and are no one's.
void Streamer::Counted::stopped() {
    waiting_.clear();
    onTheWay_ = 0;
    deafUntil_ = Clock::now() + std::min<Clock::duration>(500ms, s_.options_.patience);
}

/// An answer is missing. If it comes after all it would be taken for the next one's, and a machine for at rest that
/// moves: nothing more is said on this link.
void Streamer::Counted::giveUp() {
    waiting_.clear();
    onTheWay_ = 0;
    doubtful_ = true;
    s_.port_.reset();
    s_.incoming_.clear();
}

void Streamer::Counted::say(Waiting::Kind kind, const std::string& text, long upTo) {
    if (waiting_.empty()) since_ = Clock::now();
    waiting_.push_back({kind, upTo, text.size()});
    onTheWay_ += text.size();
    settled_ = kind == Waiting::Kind::settle;
    s_.write(text);
}

void Streamer::Counted::sendMore() {
    if (!s_.active() || heldBack_ || s_.state_ == State::asking || !maySpeak()) return;
    const auto settle = [&] {
        // Before it is answered all that was taken in has to be carried out.
        const auto end = seconds_.begin() + s_.sent_;
        untilSettled_ = std::accumulate(end - std::min(s_.sent_, std::max(1L, s_.talk_.ahead)), end, 0.0);
        say(Waiting::Kind::settle, s_.talk_.framedLoose(0, s_.talk_.settle), s_.sent_);
    };
    while (s_.port_ && s_.sent_ < s_.lines()) {
        const auto index = static_cast<std::size_t>(s_.sent_);
        if (code_[index].empty()) { // nothing for the controller; done with what stands before it
            ++s_.sent_;
            if (waiting_.empty())
                s_.acknowledge(s_.sent_), reckon();
            else
                waiting_.back().upTo = s_.sent_;
            continue;
        }
        if (!stops_[index].empty()) {
            if (!waiting_.empty()) return;
            if (!settled_ && s_.sent_ > 0) return settle();
            s_.state_ = State::asking;
            s_.question_ = stops_[index];
            s_.status_.state = s_.question_ == "tool" ? MachineState::changing : MachineState::pausing;
            return;
        }
        const auto text = s_.talk_.framed(s_.sent_ + 1, code_[index]);
        const auto lines = static_cast<long>(waiting_.size());
        const auto bytes = static_cast<long>(onTheWay_ + text.size());
        if (lines >= s_.talk_.lines || (s_.talk_.bytes > 0 && bytes > s_.talk_.bytes)) return;
        ++s_.sent_;
        say(Waiting::Kind::line, text, s_.sent_);
    }
    if (!s_.port_ || !waiting_.empty() || s_.acknowledged_ < s_.lines()) return;
    if (!settled_) return settle();
    const long before = std::exchange(s_.status_.done, s_.lines());
    s_.status_.state = MachineState::resting;
    s_.noteDone(before);
    s_.finish();
}

void Streamer::Counted::sendLoose() {
    if (s_.loose_.empty() || !waiting_.empty() || !maySpeak()) return;
    say(Waiting::Kind::loose, s_.talk_.framedLoose(0, s_.loose_.front()), 0);
    s_.status_.state = MachineState::moving;
}

/// A block has been taken in: where it leads, as far as one can tell from here.
void Streamer::Counted::take(std::string_view block) {
    auto reader = reader_;
    if (!reader.read(block)) return;
    reader_ = std::move(reader);
    if (!s_.talk_.tells("x")) s_.status_.at = reader_.position();
}

void Streamer::Counted::answered(const Conversation::Answer& answer) {
    if (waiting_.empty() || Clock::now() < deafUntil_) return; // none was asked for
    const auto first = waiting_.front();
    waiting_.pop_front();
    onTheWay_ -= first.bytes;
    since_ = Clock::now();
    const bool fine = answer.kind == Conversation::Answer::Kind::takes;
    switch (first.kind) {
    case Waiting::Kind::loose:
        if (!fine) return s_.refusedLoose(answer.reason);
        if (!s_.loose_.empty()) take(s_.loose_.front());
        if (s_.talk_.ask.empty()) s_.status_.state = MachineState::resting;
        return s_.looseAnswered();
    case Waiting::Kind::settle:
        if (s_.active() && !fine)
            return s_.fail({.what = fmt::format("The machine refuses “{}”, which asks whether all is carried out.",
                                                s_.talk_.settle),
                            .where = fmt::format("after line {}", s_.programLine()),
                            .mend = "It may still move. Put another “settle” into its conversation."});
        return settled();
    case Waiting::Kind::line: break;
    }
    if (!s_.active()) return;
    if (!fine) return s_.refusedLine(s_.acknowledged_ + 1, answer.reason);
    while (s_.acknowledged_ < first.upTo) {
        const auto index = static_cast<std::size_t>(s_.acknowledged_);
        if (!code_[index].empty()) take(code_[index]);
        s_.acknowledge(s_.acknowledged_ + 1);
    }
    if (s_.state_ == State::running && s_.talk_.ask.empty()) s_.status_.state = MachineState::moving;
    reckon();
}

void Streamer::Counted::reckon() {
    const long before = s_.status_.done;
    s_.status_.accepted = s_.acknowledged_;
    s_.status_.done = std::max(before, s_.acknowledged_ - s_.talk_.ahead);
    s_.status_.clock = std::chrono::duration<double>(Clock::now() - begun_).count();
    s_.noteDone(before);
}

void Streamer::Counted::settled() {
    if (!s_.active()) return;
    const long before = s_.status_.done;
    s_.status_.done = s_.acknowledged_;
    s_.noteDone(before);
    reckon();
}

void Streamer::Counted::told(const Status& now) {
    using enum MachineState;
    heardLately_ = Clock::now();
    // The lines are ours to count: a number that it may tell counts something else.
    auto& own = s_.status_;
    own.machine = now.machine;
    own.at = s_.talk_.tells("x") ? now.at : reader_.position();
    if (s_.state_ != State::asking) own.state = now.state;
    if (s_.sending() && now.state == tripped && !s_.isHoming())
        s_.dropLoose({.what = "The machine has tripped.", .where = {}, .mend = "Home it first."});
    if (!s_.active()) return;
    if (now.state == tripped || now.state == reset) return stopped(), s_.failBy(now.state);
    if (heldBack_ || s_.talk_.stopsHere) return;
    s_.state_ = now.state == waiting                            ? State::holding
                : now.state == changing || now.state == pausing ? State::asking
                                                                : State::running;
    s_.question_ = now.state == changing ? "tool" : now.state == pausing ? "pause" : "";
}

void Streamer::Counted::held() {
    if (!s_.active() || s_.state_ == State::asking) return;
    heldBack_ = true;
    s_.state_ = State::holding;
    s_.status_.state = MachineState::waiting;
}

void Streamer::Counted::wentOn() {
    if (!s_.active()) return;
    since_ = Clock::now();
    heldBack_ = false;
    if (s_.state_ == State::asking && s_.talk_.stopsHere) {
        ++s_.sent_; // the stop itself, that is not sent
        s_.acknowledge(s_.sent_);
        settled_ = true;
        reckon();
    }
    s_.state_ = State::running;
    s_.question_.clear();
    s_.status_.state = MachineState::moving;
}

void Streamer::Counted::idle(Clock::time_point now) {
    if (!s_.talk_.ask.empty() && now - s_.lastAsk_ > 200ms) s_.askForStatus();
    if (waiting_.empty() || heldBack_ || s_.state_ == State::asking) return;
    // One that says it moves, or is held at its own panel, is alive, and its answer may well be yet to come.
    if (s_.status_.state != MachineState::resting && now - heardLately_ < 2s) since_ = now;
    const auto kind = waiting_.front().kind;
    const double seconds = kind == Waiting::Kind::line ? longest_ : kind == Waiting::Kind::settle ? untilSettled_ : 120;
    const auto longest = std::chrono::milliseconds(std::lround(seconds * 1000));
    if (now - since_ < s_.options_.patience + longest) return;
    giveUp();
    if (!s_.active())
        return s_.dropLoose({.what = "The machine does not answer.",
                             .where = {},
                             .mend = "See whether it still moves; check that it is on, then connect again."});
    s_.fail({.what = fmt::format("The answer to line {} has not come: whether it was taken is not known.",
                                 s_.numbering_.of(s_.acknowledged_ + 1)),
             .where = fmt::format("after line {}", s_.programLine()),
             .mend =
                 "Nothing more is sent. See whether the machine still moves; when it rests, connect again, check its "
                 "place, then resume: it goes back to the last line that is surely done."},
            State::stopped);
}

void Streamer::Counted::lost() {
    giveUp();
    if (!s_.active()) return;
    s_.fail({.what = "The link to the machine is gone, and what it has taken in is not known.",
             .where = fmt::format("after line {}", s_.programLine()),
             .mend = "Check cable and power and where the machine stands, connect, then resume."},
            State::stopped);
}

} // namespace ferro::link
