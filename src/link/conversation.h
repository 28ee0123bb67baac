#pragma once

#include "base/disk.h"
#include "link/port.h"
#include "link/protocol.h"

#include <map>
#include <vector>

namespace ferro::link {

/// How a controller is spoken to: a JSON file like a dialect (docs/link.md). Forms are texts with {words}: writing,
/// they are filled in; reading, each stands for what lies between the texts around it, {} for anything at all.
struct Conversation {
    std::string key, title;

    // What we say.
    std::string line = "{block}";   ///< of a program; {number}, {block}
    std::string loose = "{block}";  ///< outside one: home, jog, zero
    std::string begin;              ///< as line 0 before a program, with its {stream}; empty: nothing is said
    bool check = false;             ///< a CRC at the end of every line and answer
    std::vector<std::string> hello; ///< blocks sent on connecting
    std::vector<std::string> home{"G28"};
    std::string settle = "G4 P0.05";         ///< a block that is answered when all before it is carried out
    bool stopsHere = true;                   ///< a stop or tool change is not sent: we wait for the person ourselves
    std::vector<int> ask, hold, goOn, reset; ///< bytes that act at once; empty: the controller has none

    // What we are told.
    std::string takes = "ok{}"; ///< {number} where answers have one
    std::string refuses = "error{reason}";
    std::string trips;               ///< it has tripped; {reason}
    std::string greets;              ///< it has just started
    std::vector<std::string> status; ///< {state}, {x} … {mx} …, {line}, {done}, {queue}, {room}, {clock}
    std::map<std::string, std::vector<std::string>> states; ///< its words for ours; ours where there is none

    // How much may be on the way.
    long lines = 1;       ///< unanswered
    long bytes = 0;       ///< of these; 0: any number
    long ahead = 64;      ///< lines that it may have taken in and not yet carried out
    double patience = 20; ///< s beyond the longest motion, after which an answer counts as lost
    double wait = 2;      ///< s after the port is opened before anything is said
    Wire wire;            ///< its speed, unless the port's name has one

    /// Whether a lost or spoilt line or answer can be told and mended: lines and answers are numbered and checked, and
    /// a status says what the machine has.
    [[nodiscard]] bool exactlyOnce() const;
    /// Whether a status has this word; whether it says where the machine stands, in machine coordinates.
    [[nodiscard]] bool tells(std::string_view word) const;
    [[nodiscard]] bool tellsPlace() const;

    [[nodiscard]] std::string framed(long number, std::string_view block) const;
    [[nodiscard]] std::string framedLoose(long number, std::string_view block) const;
    /// Takes frame and check off. Only a block without a number, as a person types it, may do without a check.
    struct Unframed {
        long number = -1; ///< of a program's block
        long loose = -1;  ///< of another
        std::string block;
    };
    [[nodiscard]] std::optional<Unframed> unframed(std::string_view text) const;

    struct Answer {
        enum class Kind { takes, refuses, trips, greets, status, other } kind = Kind::other;
        long number = -1;
        bool loose = false;
        std::string reason;
        Status status; ///< what it does not say keeps its first value
    };
    /// None where a check is missing or wrong: it is no answer.
    [[nodiscard]] std::optional<Answer> heard(std::string_view text) const;
    /// What a machine says, as the stand-in does. `name`: "12", "L7".
    [[nodiscard]] std::string taking(std::string_view name) const;
    [[nodiscard]] std::string refusing(std::string_view name, std::string_view reason) const;
    [[nodiscard]] std::string telling(const Status& now) const;
    /// With the line's end, and its check where there is one.
    [[nodiscard]] std::string closed(std::string text) const;

    friend bool operator==(const Conversation&, const Conversation&) = default;
};

[[nodiscard]] Result<Conversation> conversationFromText(std::string_view json);
/// A shipped one by its key, or the user's own from `conversations/` in the data folder, which wins.
[[nodiscard]] Result<Conversation> openConversation(Disk& disk, std::string_view key);
[[nodiscard]] std::vector<std::string> knownConversations();

/// What a controller that is spoken to like this cannot promise or do, a sentence each.
[[nodiscard]] std::vector<std::string> limitsOf(const Conversation& talk);

} // namespace ferro::link
