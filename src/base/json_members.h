#pragma once

#include "base/result.h"

#include <array>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <set>
#include <string>
#include <vector>

/// JSON of our own files, read strictly. A type says its members once, for both directions:
///
///     template<class Io> void members(Io& io, Clamp& c) { io("low", c.low), io("height", c.height); }
///     constexpr auto& wordsOf(ZeroHeight) { return zeroHeightWords; }      // an enumeration's words, by its value
///
/// Reading, a member that is missing keeps its value, unless `io.need()` asks for it; a member that no one knows, a
/// word that is none of an enumeration's and a number that is none are faults with their place. Only for .cpp files.
namespace ferro::json_members {

using nlohmann::json;

/// What is wrong and where. Thrown while reading, and caught by `readJson`.
struct Fault {
    std::string what;
    std::vector<std::string> path; ///< innermost first
};

class Reading {
public:
    explicit Reading(const json& from) : from_(from) {
        if (!from.is_object()) throw Fault{"a group of members in { } was expected", {}};
    }
    template<class T> Reading& operator()(const char* key, T& into);
    template<class T> Reading& need(const char* key, T& into) {
        if (!from_.contains(key)) throw Fault{fmt::format("“{}” is missing", key), {}};
        return (*this)(key, into);
    }
    /// For what is read by hand; nothing when it is not there.
    [[nodiscard]] const json* member(const char* key) {
        seen_.insert(key);
        const auto at = from_.find(key);
        return at == from_.end() ? nullptr : &*at;
    }
    /// Members of an earlier form that mean nothing any more.
    void forget(std::initializer_list<const char*> keys) {
        for (const char* key : keys) seen_.insert(key);
    }
    void done() const {
        for (const auto& [key, value] : from_.items())
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
inline std::string placeOf(const json& entry, std::size_t index) {
    if (entry.is_object())
        if (const auto name = entry.find("name"); name != entry.end() && name->is_string())
            return fmt::format("“{}”", name->get_ref<const std::string&>());
    return fmt::format("{}", index + 1);
}

template<class T> void read(const json& j, T& into) {
    if constexpr (HasOwnForm<T>) {
        readFrom(j, into);
    } else if constexpr (std::is_same_v<T, bool>) {
        if (!j.is_boolean()) throw Fault{"true or false was expected", {}};
        into = j.get<bool>();
    } else if constexpr (std::is_same_v<T, std::string>) {
        if (!j.is_string()) throw Fault{"a text was expected", {}};
        into = j.get<std::string>();
    } else if constexpr (std::is_floating_point_v<T>) {
        if (!j.is_number()) throw Fault{"a number was expected", {}};
        into = j.get<T>();
        if (!std::isfinite(into)) throw Fault{"the number is absurd", {}};
    } else if constexpr (std::is_integral_v<T>) {
        if (!j.is_number()) throw Fault{"a whole number was expected", {}};
        const auto number = j.get<double>();
        if (number != std::floor(number) || number < static_cast<double>(std::numeric_limits<T>::lowest()) ||
            number > static_cast<double>(std::numeric_limits<T>::max()))
            throw Fault{"a whole number was expected", {}};
        into = j.get<T>();
    } else if constexpr (HasWords<T>) {
        std::string word, known;
        read(j, word);
        const auto& words = wordsOf(into);
        for (std::size_t i = 0; i < std::size(words); ++i) {
            if (word == words[i]) return void(into = static_cast<T>(i));
            known += fmt::format("{}“{}”", i ? ", " : "", words[i]);
        }
        throw Fault{fmt::format("“{}” is not known here; it may be {}", word.substr(0, 60), known), {}};
    } else {
        static_assert(HasMembers<T>, "say its members");
        Reading reading(j);
        members(reading, into);
        reading.done();
    }
}
template<class T> void read(const json& j, std::vector<T>& into) {
    if (!j.is_array()) throw Fault{"a list in [ ] was expected", {}};
    into.clear();
    into.reserve(j.size());
    for (std::size_t i = 0; i < j.size(); ++i) try {
            read(j[i], into.emplace_back());
        } catch (Fault& fault) {
            fault.path.push_back(placeOf(j[i], i));
            throw;
        }
}
template<class T> void read(const json& j, std::map<std::string, T>& into) {
    if (!j.is_object()) throw Fault{"a group of members in { } was expected", {}};
    for (const auto& [key, value] : j.items()) read(value, into[key]);
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

/// The text as JSON; a fault in it is said by line and in plain words.
[[nodiscard]] Result<json> parsed(std::string_view text);

/// Runs `take(json)` on the text; what it throws becomes a problem that says the place. `mend` ends it.
template<class Answer, class Take> Answer readJson(std::string_view text, std::string mend, Take&& take) {
    auto all = parsed(text);
    if (!all) {
        Problem problem = all.problem();
        problem.mend = std::move(mend);
        return problem;
    }
    try {
        return take(*all);
    } catch (const Fault& fault) {
        std::string where;
        for (auto name = fault.path.rbegin(); name != fault.path.rend(); ++name)
            where += (where.empty() ? "" : ", ") + *name;
        std::string what = fault.what + (fault.what.ends_with('.') ? "" : ".");
        if (!what.empty() && what.front() >= 'a' && what.front() <= 'z')
            what.front() = static_cast<char>(what.front() - 32);
        return Problem{.what = std::move(what), .where = std::move(where), .mend = std::move(mend)};
    }
}

} // namespace ferro::json_members
