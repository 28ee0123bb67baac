#pragma once

#include "base/result.h"

#include <cmath>
#include <concepts>
#include <cstdint>
#include <initializer_list>
#include <limits>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace ferro {

/// A JSON value (RFC 8259) that is cheap to include: reading and writing it is done by a library, in one unit.
/// Groups are in the order of their names. In braces, a list of pairs that begin with a text is a group:
/// `Json{{"name", "wing"}, {"size", {40, 20}}}`.
class Json {
public:
    using List = std::vector<Json>;
    using Group = std::map<std::string, Json, std::less<>>;

    Json() = default;
    Json(std::nullptr_t) {}
    Json(std::same_as<bool> auto value) : value_(value) {}
    template<std::integral T>
    requires(!std::same_as<T, bool>) Json(T number) {
        if constexpr (std::is_signed_v<T>)
            value_ = static_cast<std::int64_t>(number);
        else
            value_ = static_cast<std::uint64_t>(number);
    }
    Json(double number) : value_(number) {}
    Json(const char* text) : value_(std::string(text)) {}
    Json(std::string_view text) : value_(std::string(text)) {}
    Json(std::string text) : value_(std::move(text)) {}
    Json(List list) : value_(std::move(list)) {}
    Json(std::initializer_list<Json> entries);
    template<class T>
    requires std::constructible_from<Json, const T&> Json(const std::vector<T>& list)
        : value_(List(list.begin(), list.end())) {}
    template<class T>
    requires std::constructible_from<Json, const T&> Json(const std::map<std::string, T>& group)
        : value_(Group(group.begin(), group.end())) {}

    static Json array(List list = {}) { return Json(std::move(list)); }
    static Json object() {
        Json made;
        made.value_ = Group{};
        return made;
    }

    [[nodiscard]] bool isGroup() const { return std::holds_alternative<Group>(value_); }
    [[nodiscard]] bool isList() const { return std::holds_alternative<List>(value_); }
    [[nodiscard]] bool isText() const { return std::holds_alternative<std::string>(value_); }
    [[nodiscard]] bool isBool() const { return std::holds_alternative<bool>(value_); }
    [[nodiscard]] bool isNumber() const { return value_.index() >= 2 && value_.index() <= 4; }

    /// These must be asked first.
    [[nodiscard]] const Group& group() const { return std::get<Group>(value_); }
    [[nodiscard]] const List& list() const { return std::get<List>(value_); }
    [[nodiscard]] const std::string& text() const { return std::get<std::string>(value_); }
    [[nodiscard]] bool truth() const { return std::get<bool>(value_); }
    [[nodiscard]] double number() const;
    /// A whole number exactly, also above 2^53, if it is one that T holds.
    template<std::integral T> [[nodiscard]] std::optional<T> whole() const;

    /// The member of a group; nothing where there is none.
    [[nodiscard]] const Json* find(std::string_view key) const;
    [[nodiscard]] std::size_t size() const;

    /// Makes a group of what is nothing yet, and a member of what is missing.
    Json& operator[](std::string_view key);
    /// Makes a list of what is nothing yet.
    void push_back(Json entry);

    /// `indent` spaces a level; on one line when negative. Bytes that are no UTF-8 become the replacement sign.
    [[nodiscard]] std::string dump(int indent = -1) const;

private:
    std::variant<std::monostate, bool, std::int64_t, std::uint64_t, double, std::string, List, Group> value_;
};

template<std::integral T> std::optional<T> Json::whole() const {
    if (const auto* n = std::get_if<std::int64_t>(&value_))
        return std::in_range<T>(*n) ? std::optional(static_cast<T>(*n)) : std::nullopt;
    if (const auto* n = std::get_if<std::uint64_t>(&value_))
        return std::in_range<T>(*n) ? std::optional(static_cast<T>(*n)) : std::nullopt;
    const double n = number();
    // The bound of the wider types rounds up to a power of two, which does not fit any more.
    const bool fits = n == std::floor(n) && n >= static_cast<double>(std::numeric_limits<T>::lowest()) &&
                      n < std::ldexp(1.0, std::numeric_limits<T>::digits);
    return fits ? std::optional(static_cast<T>(n)) : std::nullopt;
}

/// The text as JSON; a fault in it is said by line and in plain words, as is nesting deeper than anybody means.
[[nodiscard]] Result<Json> jsonFrom(std::string_view text);

} // namespace ferro
