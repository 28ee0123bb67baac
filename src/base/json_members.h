#pragma once

#include "base/json.h"

#include <array>
#include <cmath>
#include <map>
#include <set>
#include <span>
#include <string>
#include <vector>

/// JSON of our own files, read strictly. A type says its members once, for both directions:
///
///     template<class Io> void members(Io& io, Clamp& c) { io("low", c.low), io("height", c.height); }
///     constexpr auto& wordsOf(ZeroHeight) { return zeroHeightWords; }      // an enumeration's words, by its value
///
/// Reading, a member that is missing keeps its value, unless `io.need()` asks for it; a member that no one knows, a
/// word that is none of an enumeration's and a number that is none are faults with their place.
namespace ferro::json_members {

using json = Json;

/// What is wrong and where. Thrown while reading, and caught by `readJson`.
struct Fault {
    std::string what;
    std::vector<std::string> path; ///< innermost first
};

class Reading {
public:
    explicit Reading(const json& from) : from_(from) {
        if (!from.isGroup()) throw Fault{"a group of members in { } was expected", {}};
    }
    template<class T> Reading& operator()(const char* key, T& into);
    template<class T> Reading& need(const char* key, T& into) {
        if (!from_.find(key)) throw Fault{fmt::format("“{}” is missing", key), {}};
        return (*this)(key, into);
    }
    /// For what is read by hand; nothing when it is not there.
    [[nodiscard]] const json* member(const char* key) {
        seen_.insert(key);
        return from_.find(key);
    }
    /// Members of an earlier form that mean nothing any more.
    void forget(std::initializer_list<const char*> keys) {
        for (const char* key : keys) seen_.insert(key);
    }
    void done() const {
        for (const auto& [key, value] : from_.group())
            if (!seen_.contains(key)) throw Fault{fmt::format("“{}” is not known here", key), {}};
    }
    static constexpr bool reads = true;

private:
    const json& from_;
    std::set<std::string, std::less<>> seen_;
};

class Writing {
public:
    explicit Writing(json& to) : to_(to) { to_ = json::object(); }
    template<class T> Writing& operator()(const char* key, const T& value);
    template<class T> Writing& need(const char* key, const T& value) { return (*this)(key, value); }
    static constexpr bool reads = false;

private:
    json& to_;
};

template<class T>
concept HasWords = std::is_enum_v<T> && requires(T value) {
    wordsOf(value);
};
template<class T>
concept HasMembers = requires(Reading& io, T& value) {
    members(io, value);
};
template<class T>
concept HasOwnForm = requires(const json& j, T& value) {
    readFrom(j, value);
};

/// The place of an entry in a list, as a person counts: by its name, else by its number.
[[nodiscard]] std::string placeOf(const json& entry, std::size_t index);

[[nodiscard]] bool truthIn(const json& j);
[[nodiscard]] const std::string& textIn(const json& j);
[[nodiscard]] double numberIn(const json& j);
[[nodiscard]] const json::List& listIn(const json& j);
[[nodiscard]] const json::Group& groupIn(const json& j);
/// The word's place among those that are known.
[[nodiscard]] std::size_t wordIn(const json& j, std::span<const std::string_view> known);

template<class T> void read(const json& j, T& into) {
    if constexpr (HasOwnForm<T>) {
        readFrom(j, into);
    } else if constexpr (std::is_same_v<T, bool>) {
        into = truthIn(j);
    } else if constexpr (std::is_same_v<T, std::string>) {
        into = textIn(j);
    } else if constexpr (std::is_floating_point_v<T>) {
        into = static_cast<T>(numberIn(j));
    } else if constexpr (std::is_integral_v<T>) {
        const auto whole = j.isNumber() ? j.whole<T>() : std::nullopt;
        if (!whole) throw Fault{"a whole number was expected", {}};
        into = *whole;
    } else if constexpr (HasWords<T>) {
        const auto& words = wordsOf(into);
        const std::vector<std::string_view> known(std::begin(words), std::end(words));
        if constexpr (requires { wordBefore(into, std::string_view()); }) // one that files of earlier versions have
            if (j.isText() && !wordBefore(into, j.text()).empty()) return read(json(wordBefore(into, j.text())), into);
        into = static_cast<T>(wordIn(j, known));
    } else {
        static_assert(HasMembers<T>, "say its members");
        Reading reading(j);
        members(reading, into);
        reading.done();
    }
}
template<class T> void read(const json& j, std::vector<T>& into) {
    const auto& list = listIn(j);
    into.clear();
    into.reserve(list.size());
    for (std::size_t i = 0; i < list.size(); ++i) try {
            read(list[i], into.emplace_back());
        } catch (Fault& fault) {
            fault.path.push_back(placeOf(list[i], i));
            throw;
        }
}
template<class T> void read(const json& j, std::map<std::string, T>& into) {
    for (const auto& [key, value] : groupIn(j)) read(value, into[key]);
}

template<class T> json written(const T& value) {
    if constexpr (requires { writtenForm(value); }) {
        return writtenForm(value);
    } else if constexpr (HasWords<T>) {
        return json(wordsOf(value)[static_cast<std::size_t>(value)]);
    } else if constexpr (HasMembers<T>) {
        json out;
        Writing writing(out);
        members(writing, const_cast<T&>(value)); // one list of members for both ways; writing changes nothing
        return out;
    } else {
        return json(value);
    }
}
template<class T> json written(const std::vector<T>& list) {
    json out = json::array();
    for (const auto& value : list) out.push_back(written<T>(value));
    return out;
}

template<class T> Reading& Reading::operator()(const char* key, T& into) {
    const json* j = member(key);
    if (j) try {
            read(*j, into);
        } catch (Fault& fault) {
            fault.path.emplace_back(key);
            throw;
        }
    return *this;
}
template<class T> Writing& Writing::operator()(const char* key, const T& value) {
    to_[key] = written(value);
    return *this;
}

/// What a fault says as a problem.
[[nodiscard]] Problem problemOf(const Fault& fault, std::string mend);

/// Runs `take(json)` on the text; what it throws becomes a problem that says the place. `mend` ends it.
template<class Answer, class Take> Answer readJson(std::string_view text, std::string mend, Take&& take) {
    auto all = jsonFrom(text);
    if (!all) {
        Problem problem = all.problem();
        problem.mend = std::move(mend);
        return problem;
    }
    try {
        return take(*all);
    } catch (const Fault& fault) { return problemOf(fault, std::move(mend)); }
}

} // namespace ferro::json_members
