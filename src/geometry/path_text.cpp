#include "geometry/path.h"

#include <charconv>

namespace ferro {

namespace {

void put(std::string& out, double value) {
    char digits[32];
    const auto end = std::to_chars(digits, digits + sizeof digits, value).ptr;
    if (!out.empty() && !std::isalpha(static_cast<unsigned char>(out.back()))) out += ' ';
    out.append(digits, end);
}
void put(std::string& out, Vec2 p) {
    put(out, p.x);
    put(out, p.y);
}

class Reader {
public:
    explicit Reader(std::string_view text) : text_(text) {}
    Result<std::vector<Path>> all() {
        std::vector<Path> paths;
        while (const char word = next()) {
            if (word == 'M') {
                paths.push_back({point(), {}, false});
            } else if (paths.empty() || paths.back().closed) {
                return bad("A path must begin with M.");
            } else if (word == 'L') {
                paths.back().segments.push_back(Segment::line(point()));
            } else if (word == 'A') {
                const Vec2 centre = point();
                if (failed_) return farOff();
                const char way = next();
                if (way != '+' && way != '-') return bad("An arc needs + or - for its direction.");
                paths.back().segments.push_back(Segment::arc(centre, point(), way == '+'));
            } else if (word == 'C') {
                const Vec2 a = point(), b = point();
                paths.back().segments.push_back(Segment::cubic(a, b, point()));
            } else if (word == 'Z') {
                paths.back().close();
            } else {
                return bad(fmt::format("“{}” is no path word.", word));
            }
            if (failed_) return farOff();
        }
        return paths;
    }

private:
    Problem farOff() const { return bad("A number is missing, or lies beyond 100 km."); }
    Problem bad(std::string what) const {
        return {.what = std::move(what), .where = fmt::format("path text, character {}", at_ + 1), .mend = {}};
    }
    void skip() {
        while (at_ < text_.size() && (std::isspace(static_cast<unsigned char>(text_[at_])) || text_[at_] == ',')) ++at_;
    }
    char next() { return skip(), at_ < text_.size() ? text_[at_++] : '\0'; }
    double number() {
        skip();
        double value = 0;
        const auto [stop, error] = std::from_chars(text_.data() + at_, text_.data() + text_.size(), value);
        // 100 km: nothing that is cut lies farther off, and what does would take for ever to follow.
        if (error != std::errc{} || !(std::abs(value) <= 1e8))
            failed_ = true;
        else
            at_ = static_cast<std::size_t>(stop - text_.data());
        return value;
    }
    Vec2 point() {
        const double x = number();
        return {x, number()};
    }
    std::string_view text_;
    std::size_t at_ = 0;
    bool failed_ = false;
};

} // namespace

std::string toText(const Path& path) {
    std::string out = "M";
    put(out, path.start);
    for (const auto& s : path.segments) {
        out += s.kind == Segment::Kind::line ? 'L' : s.kind == Segment::Kind::arc ? 'A' : 'C';
        if (s.kind == Segment::Kind::arc) {
            put(out, s.a);
            out += s.ccw ? " +" : " -";
        } else if (s.kind == Segment::Kind::cubic) {
            put(out, s.a);
            put(out, s.b);
        }
        put(out, s.end);
    }
    if (path.closed) out += 'Z';
    return out;
}

Result<std::vector<Path>> pathsFromText(std::string_view text) { return Reader(text).all(); }

} // namespace ferro
