#pragma once

#include "plan/step.h"
#include "shop/json_fields_internal.h"

// How a plan looks in JSON: the same in job files and in the shop's house rules. Only for .cpp files that write or read
// JSON.
namespace ferro {

template<class Tag> json_members::json writtenForm(const Id<Tag>& id) { return id.value; }
template<class Tag> void readFrom(const json_members::json& j, Id<Tag>& id) { json_members::read(j, id.value); }

namespace plan {

using json_members::json;

inline constexpr std::array<std::string_view, 2> orderWords = {"automatic", "by hand"};
constexpr const auto& wordsOf(Role) { return roleWords; }
constexpr const auto& wordsOf(Order) { return orderWords; }

template<class Io> void members(Io& io, Match& m) {
    io("layers", m.layers)("role", m.role)("above", m.above)("below", m.below);
}
template<class Io> void members(Io& io, Rule& r) {
    io("layers", r.layers)("role", r.role)("items", r.items)("above", r.above)("below", r.below);
    if (Io::reads || !r.except.empty()) io("except", r.except);
}
template<class Io> void members(Io& io, EdgePlace& t) { io("item", t.item)("opening", t.opening)("along", t.along); }

/// A step's settings lie beside its head, by the names of its kind's table.
[[nodiscard]] json writtenForm(const Step& step);
void readFrom(const json& j, Step& step);

template<class Io> void members(Io& io, Plan& p) {
    io("steps", p.steps)("order", p.order)("clearance", p.clearance)("lastId", p.lastId);
}

} // namespace plan
} // namespace ferro
