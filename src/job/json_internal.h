#pragma once

#include "job/job_file.h"
#include "job/names_internal.h"
#include "plan/json_internal.h"

// What the two halves of the job file's JSON share: the job around the drawing, and the drawing.
namespace ferro {

using json_members::Fault;
using json_members::json;
using json_members::read;
using json_members::written;

inline json writtenForm(const Vec2& v) { return json::array({v.x, v.y}); }
inline void readFrom(const json& j, Vec2& v) {
    std::vector<double> n;
    read(j, n);
    if (n.size() != 2) throw Fault{"two numbers were expected", {}};
    v = {n[0], n[1]};
}
inline json writtenForm(const Transform& t) { return json::array({t.a, t.b, t.c, t.d, t.tx, t.ty}); }
inline void readFrom(const json& j, Transform& t) {
    std::vector<double> n;
    read(j, n);
    if (n.size() != 6) throw Fault{"six numbers were expected", {}};
    t = {n[0], n[1], n[2], n[3], n[4], n[5]};
}

namespace job {

[[nodiscard]] json artworkJson(const artwork::Artwork& art);
/// Throws a Fault with its place.
[[nodiscard]] artwork::Artwork artworkFrom(const json& j, const PictureBytes& bytes);

} // namespace job
} // namespace ferro
