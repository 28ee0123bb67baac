#include "base/json.h"

#include <nlohmann/json.hpp>

namespace ferro {

namespace {

using Library = nlohmann::json;

constexpr std::size_t deepest = 500; // every level costs stack where values are walked

/// The library's fault in words for who has typed the file.
std::string_view plainly(std::string_view said) {
    const auto has = [&](std::string_view words) { return said.find(words) != std::string_view::npos; };
    if (has("unexpected end of input")) return "the file ends too early: a bracket or a quotation mark is not closed";
    if (has("invalid string") || has("ill-formed UTF-8")) return "a text in quotation marks is not sound";
    if (has("expected ':'") || has("object separator")) return "a colon is missing";
    if (has("; expected string literal") || has("object key")) return "a name in quotation marks was expected";
    if (has("expected '}'") || has("expected ']'")) return "a comma is missing";
    if (has("number overflow")) return "the number is absurd";
    return "this cannot be read";
}

/// Takes what the library reads, piece by piece.
class Builder : public nlohmann::json_sax<Library> {
public:
    Json root;
    bool tooDeep = false;
    std::size_t faultAt = 0;
    std::string fault;

    bool null() override { return take(Json()); }
    bool boolean(bool value) override { return take(Json(value)); }
    bool number_integer(std::int64_t value) override { return take(Json(value)); }
    bool number_unsigned(std::uint64_t value) override { return take(Json(value)); }
    bool number_float(double value, const std::string&) override { return take(Json(value)); }
    bool string(std::string& value) override { return take(Json(std::move(value))); }
    bool binary(Library::binary_t&) override { return false; }
    bool start_object(std::size_t) override { return open(Json::object()); }
    bool start_array(std::size_t) override { return open(Json::array()); }
    bool key(std::string& name) override { return keys_.back() = std::move(name), true; }
    bool end_object() override { return close(); }
    bool end_array() override { return close(); }
    bool parse_error(std::size_t at, const std::string&, const nlohmann::detail::exception& error) override {
        faultAt = at, fault = error.what();
        return false;
    }

private:
    bool take(Json value) {
        if (open_.empty())
            root = std::move(value);
        else if (open_.back().isList())
            open_.back().push_back(std::move(value));
        else
            open_.back()[keys_.back()] = std::move(value);
        return true;
    }
    bool open(Json value) {
        if (open_.size() >= deepest) return !(tooDeep = true);
        open_.push_back(std::move(value));
        keys_.emplace_back();
        return true;
    }
    bool close() {
        Json whole = std::move(open_.back());
        open_.pop_back(), keys_.pop_back();
        return take(std::move(whole));
    }
    std::vector<Json> open_;
    std::vector<std::string> keys_; ///< of the member that comes next, a level
};

} // namespace

Json::Json(std::initializer_list<Json> entries) {
    const bool pairs = std::all_of(entries.begin(), entries.end(), [](const Json& entry) {
        return entry.isList() && entry.size() == 2 && entry.list().front().isText();
    });
    if (!pairs || entries.size() == 0) {
        value_ = List(entries);
        return;
    }
    Group group;
    for (const auto& entry : entries) group.insert_or_assign(entry.list()[0].text(), entry.list()[1]);
    value_ = std::move(group);
}

double Json::number() const {
    if (const auto* n = std::get_if<std::int64_t>(&value_)) return static_cast<double>(*n);
    if (const auto* n = std::get_if<std::uint64_t>(&value_)) return static_cast<double>(*n);
    return std::get<double>(value_);
}

const Json* Json::find(std::string_view key) const {
    const auto* group = std::get_if<Group>(&value_);
    if (!group) return nullptr;
    const auto at = group->find(key);
    return at == group->end() ? nullptr : &at->second;
}

std::size_t Json::size() const {
    if (const auto* list = std::get_if<List>(&value_)) return list->size();
    if (const auto* group = std::get_if<Group>(&value_)) return group->size();
    return 0;
}

Json& Json::operator[](std::string_view key) {
    if (std::holds_alternative<std::monostate>(value_)) value_ = Group{};
    auto& group = std::get<Group>(value_);
    const auto at = group.find(key);
    return at != group.end() ? at->second : group[std::string(key)];
}

void Json::push_back(Json entry) {
    if (std::holds_alternative<std::monostate>(value_)) value_ = List{};
    std::get<List>(value_).push_back(std::move(entry));
}

std::string Json::dump(int indent) const {
    const auto copied = [](const auto& self, const Json& from) -> Library {
        return std::visit(
            [&]<class T>(const T& value) -> Library {
                if constexpr (std::is_same_v<T, std::monostate>) {
                    return nullptr;
                } else if constexpr (std::is_same_v<T, List>) {
                    Library list = Library::array();
                    for (const auto& entry : value) list.push_back(self(self, entry));
                    return list;
                } else if constexpr (std::is_same_v<T, Group>) {
                    Library group = Library::object();
                    for (const auto& [key, entry] : value) group[key] = self(self, entry);
                    return group;
                } else {
                    return value;
                }
            },
            from.value_);
    };
    return copied(copied, *this).dump(indent, ' ', false, Library::error_handler_t::replace);
}

Result<Json> jsonFrom(std::string_view text) {
    Builder builder;
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what), .where = {}, .mend = "Correct the file."};
    };
    if (Library::sax_parse(text, &builder)) return std::move(builder.root);
    if (builder.tooDeep) return bad("The brackets in it are nested deeper than anything means.");
    // The fault lies at the last character that was read.
    const auto upTo = text.substr(0, std::min(builder.faultAt ? builder.faultAt - 1 : 0, text.size()));
    const auto line = 1 + std::count(upTo.begin(), upTo.end(), '\n');
    return bad(fmt::format("Line {}: {}.", line, plainly(builder.fault)));
}

} // namespace ferro
