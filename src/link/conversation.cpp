#include "link/conversation.h"

#include "base/holes.h"
#include "base/json_members.h"
#include "base/keyed_files.h"

#include <algorithm>
#include <charconv>
#include <functional>

namespace ferro::link {

constexpr std::array<std::string_view, 3> flowWords = {"none", "software", "hardware"};
constexpr const auto& wordsOf(Wire::Flow) { return flowWords; }

namespace {

constexpr KeyedFiles conversations("conversations", "conversation");
constexpr std::string_view mendTalk = "Correct the conversation file; docs/link.md lists its members.";

using Found = std::vector<std::pair<std::string_view, std::string_view>>;

/// What stands for each word of a form in a text; none where the text has not this form. A word reaches to the first
/// place where the text behind it stands, the last one to the end.
std::optional<Found> matched(std::string_view form, std::string_view text) {
    Found words;
    std::optional<std::string_view> open; // the word that reaches to the next text
    while (true) {
        const auto brace = std::min(form.find('{'), form.size());
        const auto between = form.substr(0, brace);
        if (open) {
            const auto at = brace == form.size() && between.empty() ? text.size() : text.find(between);
            if (at == std::string_view::npos) return std::nullopt;
            words.emplace_back(*open, text.substr(0, at));
            text.remove_prefix(at + between.size());
        } else {
            if (!text.starts_with(between)) return std::nullopt;
            text.remove_prefix(between.size());
        }
        form.remove_prefix(brace);
        if (form.empty()) return text.empty() ? std::optional(words) : std::nullopt;
        const auto end = std::min(form.find('}'), form.size() - 1);
        open = form.substr(1, end - 1);
        form.remove_prefix(end + 1);
    }
}

std::string_view wordIn(const Found& words, std::string_view name) {
    for (const auto& [word, value] : words)
        if (word == name) return value;
    return {};
}

template<class Number> bool read(std::string_view text, Number& into) {
    while (text.starts_with(' ')) text.remove_prefix(1);
    const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), into);
    return error == std::errc{} && stop == text.data() + text.size();
}

/// The members of a status by their words; a list of one's own for reals and whole numbers.
template<class S, class Do> bool withMember(S& s, std::string_view word, const Do& act) {
    if (word == "x") return act(s.at.x);
    if (word == "y") return act(s.at.y);
    if (word == "z") return act(s.at.z);
    if (word == "mx") return act(s.machine.x);
    if (word == "my") return act(s.machine.y);
    if (word == "mz") return act(s.machine.z);
    if (word == "line") return act(s.accepted);
    if (word == "done") return act(s.done);
    if (word == "queue") return act(s.queue);
    if (word == "room") return act(s.room);
    if (word == "clock") return act(s.clock);
    return false;
}

bool isStatusWord(std::string_view word) {
    Status none;
    return word.empty() || word == "state" || withMember(none, word, [](auto&) { return true; });
}

std::vector<std::string_view> wordsOfForm(std::string_view form) {
    std::vector<std::string_view> words;
    while (true) {
        const auto open = form.find('{');
        const auto close = form.find('}', std::min(open, form.size()));
        if (open == std::string_view::npos || close == std::string_view::npos) return words;
        words.push_back(form.substr(open + 1, close - open - 1));
        form.remove_prefix(close + 1);
    }
}
bool has(std::string_view form, std::string_view word) {
    const auto words = wordsOfForm(form);
    return std::find(words.begin(), words.end(), word) != words.end();
}

/// Our state for a machine's word.
std::optional<MachineState> stateFrom(const Conversation& talk, std::string_view word) {
    for (int i = 0; i < stateCount; ++i) {
        const auto state = static_cast<MachineState>(i);
        const auto own = talk.states.find(std::string(stateName(state)));
        if (own == talk.states.end() ? word == stateName(state)
                                     : std::find(own->second.begin(), own->second.end(), word) != own->second.end())
            return state;
    }
    return std::nullopt;
}

std::optional<Status> statusFrom(const Conversation& talk, std::string_view text) {
    for (const auto& form : talk.status) {
        const auto words = matched(form, text);
        if (!words) continue;
        Status status;
        const bool fine = std::all_of(words->begin(), words->end(), [&](const auto& entry) {
            const auto& [word, value] = entry;
            if (word.empty()) return true;
            if (word != "state") return withMember(status, word, [&](auto& into) { return read(value, into); });
            const auto state = stateFrom(talk, value);
            if (state) status.state = *state;
            return state.has_value();
        });
        if (fine) return status; // garbled: better no status than a wrong one
    }
    return std::nullopt;
}

} // namespace

template<class Io> void members(Io& io, Conversation& c) {
    io("key", c.key)("title", c.title)("line", c.line)("loose", c.loose)("begin", c.begin)("check", c.check);
    io("hello", c.hello)("home", c.home)("settle", c.settle)("stopsHere", c.stopsHere);
    io("ask", c.ask)("hold", c.hold)("goOn", c.goOn)("reset", c.reset);
    io("takes", c.takes)("refuses", c.refuses)("trips", c.trips)("greets", c.greets);
    io("status", c.status)("states", c.states);
    io("lines", c.lines)("bytes", c.bytes)("ahead", c.ahead)("patience", c.patience)("wait", c.wait);
    io("speed", c.wire.speed)("flow", c.wire.flow);
}

namespace {

Result<void> checkedTalk(const Conversation& c) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = {}, .mend = std::string(mendTalk)};
    };
    if (!has(c.line, "block") || !has(c.loose, "block")) return bad("“line” and “loose” need a {block}.");
    if (c.takes.empty() || c.refuses.empty()) return bad("“takes” and “refuses” must say something.");
    for (const auto& form : {c.line, c.loose, c.begin, c.takes, c.refuses, c.trips, c.greets})
        for (const auto word : wordsOfForm(form))
            if (word != "number" && word != "block" && word != "stream" && word != "reason" && !word.empty())
                return bad(fmt::format("{{{}}} is not known in “{}”.", word, form));
    for (const auto& form : c.status)
        for (const auto word : wordsOfForm(form))
            if (!isStatusWord(word)) return bad(fmt::format("{{{}}} is not known in a status.", word));
    for (const auto& [word, theirs] : c.states) {
        Conversation plain;
        if (!stateFrom(plain, word)) return bad(fmt::format("“{}” is none of the states.", word));
    }
    for (const auto* text : {&c.line, &c.loose, &c.begin, &c.settle})
        if (text->find('\n') != std::string::npos) return bad("What is said is one line.");
    for (const auto* bytes : {&c.ask, &c.hold, &c.goOn, &c.reset})
        for (const int byte : *bytes)
            if (byte < 1 || byte > 255) return bad("Bytes that act at once are 1 to 255.");
    if (!c.exactlyOnce() && c.settle.empty()) return bad("“settle” must be a block.");
    if (c.lines < 1 || c.lines > 1000 || c.ahead < 0 || c.ahead > 100'000)
        return bad("lines must be 1 to 1000, ahead 0 to 100000.");
    if (c.bytes != 0 && (c.bytes < 32 || c.bytes > 1'000'000)) return bad("bytes must be 0 or 32 to 1000000.");
    if (!(c.patience >= 0.01 && c.patience <= 3600) || !(c.wait >= 0 && c.wait <= 60))
        return bad("patience must be 0.01 to 3600 s, wait 0 to 60 s.");
    return {};
}

} // namespace

Result<Conversation> conversationFromText(std::string_view text) {
    return json_members::readJson<Result<Conversation>>(text, std::string(mendTalk),
                                                        [](const json_members::json& all) -> Result<Conversation> {
                                                            Conversation talk;
                                                            json_members::read(all, talk);
                                                            if (auto fine = checkedTalk(talk); !fine)
                                                                return fine.problem();
                                                            return talk;
                                                        });
}

Result<Conversation> openConversation(Disk& disk, std::string_view key) {
    const auto text = conversations.text(disk, key);
    if (!text) return text.problem();
    auto talk = conversationFromText(*text);
    if (!talk) return talk.problem().within(fmt::format("{}.json", key));
    return talk;
}

std::vector<std::string> knownConversations() { return conversations.keys(); }

bool Conversation::exactlyOnce() const {
    return check && has(line, "number") && has(loose, "number") && has(takes, "number") && has(refuses, "number") &&
           has(begin, "stream") && !ask.empty() && !reset.empty() && !status.empty() &&
           std::all_of(status.begin(), status.end(), [](const std::string& form) {
               return has(form, "state") && has(form, "line") && has(form, "done") && has(form, "room");
           });
}

bool Conversation::tells(std::string_view word) const {
    return std::any_of(status.begin(), status.end(), [&](const std::string& form) { return has(form, word); });
}
bool Conversation::tellsPlace() const { return !ask.empty() && tells("mx") && tells("my") && tells("mz"); }

std::string Conversation::closed(std::string text) const {
    if (check) return checked(text);
    text += '\n';
    return text;
}

namespace {
std::string filledFrame(std::string_view form, long number, std::string_view block) {
    return holesFilled(form, [&](std::string_view word) -> std::optional<std::string> {
        if (word == "number") return fmt::format("{}", number);
        if (word == "block") return std::string(block);
        return {};
    });
}
} // namespace

std::string Conversation::framed(long number, std::string_view block) const {
    return closed(filledFrame(line, number, block));
}
std::string Conversation::framedLoose(long number, std::string_view block) const {
    return closed(filledFrame(loose, number, block));
}

std::optional<Conversation::Unframed> Conversation::unframed(std::string_view text) const {
    while (text.ends_with('\r') || text.ends_with('\n')) text.remove_suffix(1);
    const auto sound = check ? unchecked(text) : std::nullopt;
    if (check && !sound && text.find("(k") != std::string_view::npos) return std::nullopt; // a check was meant
    if (sound) text = *sound;
    const auto trimmed = [](std::string_view block) {
        while (block.starts_with(' ')) block.remove_prefix(1);
        while (block.ends_with(' ')) block.remove_suffix(1);
        return std::string(block);
    };
    // Numbers are told by the letters before them.
    for (const bool program : {true, false}) {
        const std::string& form = program ? line : loose;
        if (!has(form, "number")) continue;
        const auto before = std::string_view(form).substr(0, form.find('{'));
        if (before.empty() || !text.starts_with(before)) continue;
        if (check && !sound) return std::nullopt;
        Unframed out;
        const auto words = matched(form, text);
        long& number = program ? out.number : out.loose;
        if (!words || !read(wordIn(*words, "number"), number) || number < 0) return std::nullopt;
        out.block = trimmed(wordIn(*words, "block"));
        return out;
    }
    const auto words = matched(line, text);
    return Unframed{-1, -1, trimmed(words && !has(line, "number") ? wordIn(*words, "block") : text)};
}

std::optional<Conversation::Answer> Conversation::heard(std::string_view text) const {
    while (text.ends_with('\r') || text.ends_with('\n')) text.remove_suffix(1);
    if (check) {
        const auto sound = unchecked(text);
        if (!sound) return std::nullopt;
        text = *sound;
    }
    Answer out;
    using Kind = Answer::Kind;
    if (auto now = statusFrom(*this, text)) {
        out.kind = Kind::status;
        out.status = *now;
        return out;
    }
    for (const auto& [kind, form] : {std::pair(Kind::takes, &takes), std::pair(Kind::refuses, &refuses),
                                     std::pair(Kind::trips, &trips), std::pair(Kind::greets, &greets)}) {
        const auto words = form->empty() ? std::nullopt : matched(*form, text);
        if (!words) continue;
        if (has(*form, "number")) {
            auto number = wordIn(*words, "number");
            out.loose = number.starts_with('L');
            if (out.loose) number.remove_prefix(1);
            if (!read(number, out.number) || out.number < 0) return std::nullopt;
        }
        auto reason = wordIn(*words, "reason");
        while (reason.starts_with(' ') || reason.starts_with(':')) reason.remove_prefix(1);
        out.reason = reason;
        out.kind = kind;
        return out;
    }
    return out;
}

std::string Conversation::taking(std::string_view name) const {
    return closed(holesFilled(takes, [&](std::string_view word) -> std::optional<std::string> {
        return word == "number" ? std::string(name) : std::string();
    }));
}
std::string Conversation::refusing(std::string_view name, std::string_view reason) const {
    return closed(holesFilled(refuses, [&](std::string_view word) -> std::optional<std::string> {
        if (word == "number") return std::string(name);
        return word == "reason" ? (has(refuses, "number") ? std::string(reason) : fmt::format(" {}", reason))
                                : std::string();
    }));
}

std::string Conversation::telling(const Status& now) const {
    if (status.empty()) return {};
    return closed(holesFilled(status.front(), [&](std::string_view word) -> std::optional<std::string> {
        if (word == "state") {
            const auto own = states.find(std::string(stateName(now.state)));
            return std::string(own == states.end() || own->second.empty() ? stateName(now.state) : own->second.front());
        }
        std::string text;
        withMember(now, word, [&](const auto& value) {
            if constexpr (std::is_integral_v<std::remove_cvref_t<decltype(value)>>)
                text = fmt::format("{}", value);
            else
                text = fmt::format("{:.4f}", value);
            return true;
        });
        return text;
    }));
}

std::vector<std::string> limitsOf(const Conversation& talk) {
    std::vector<std::string> out;
    const bool stops = !talk.reset.empty(), holds = !talk.hold.empty() && !talk.goOn.empty();
    if (!stops && !holds)
        out.emplace_back("What it has taken in it carries out: it can be held or stopped only at the machine itself.");
    else if (!stops)
        out.emplace_back("It can be stopped only at the machine itself; a hold is heard.");
    else if (!holds)
        out.emplace_back("A hold lets it carry out what it has taken in.");
    if (!talk.exactlyOnce())
        out.emplace_back(talk.check ? "A lost answer stops the run."
                                    : "A line that is spoilt on the way is not noticed; a lost answer stops the run.");
    if (!talk.tellsPlace())
        out.emplace_back("It does not say where it stands: the place shown is that of the lines done.");
    return out;
}

} // namespace ferro::link
