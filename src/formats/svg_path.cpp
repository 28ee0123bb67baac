#include "formats/svg.h"

#include <charconv>

namespace ferro::formats {

namespace {

class Reader {
public:
    explicit Reader(std::string_view data) : data_(data) {}

    Result<std::vector<Path>> all() {
        skip();
        while (at_ < data_.size()) {
            const char c = data_[at_];
            if (std::isalpha(static_cast<unsigned char>(c))) {
                command_ = c;
                ++at_;
            } else if (command_ == 0) {
                return bad("The path does not begin with M.");
            } else if (command_ == 'M') {
                command_ = 'L'; // further pairs after a move are lines
            } else if (command_ == 'm') {
                command_ = 'l';
            } else if (command_ == 'Z' || command_ == 'z') {
                return bad("A number follows Z.");
            }
            if (!one()) return bad(problem_.empty() ? "A number is missing." : problem_);
            skip();
        }
        return std::move(paths_);
    }

    /// What was read before the fault.
    std::vector<Path> before() { return std::move(paths_); }

private:
    Problem bad(std::string what) const {
        return {.what = std::move(what),
                .where = fmt::format("path data, character {}", at_ + 1),
                .mend = "Check the path data."};
    }
    void skip() {
        while (at_ < data_.size() && (std::isspace(static_cast<unsigned char>(data_[at_])) || data_[at_] == ',')) ++at_;
    }
    bool number(double& value) {
        skip();
        const char* begin = data_.data() + at_;
        const char* end = data_.data() + data_.size();
        if (begin < end && *begin == '+') ++begin;
        const auto [stop, error] = std::from_chars(begin, end, value);
        if (error != std::errc{} || !std::isfinite(value) || std::abs(value) > 1e9) return false;
        at_ = static_cast<std::size_t>(stop - data_.data());
        return true;
    }
    /// Arc flags may be written without space: "0 01" is flag 0, flag 1.
    bool flag(bool& value) {
        skip();
        if (at_ >= data_.size() || (data_[at_] != '0' && data_[at_] != '1')) return false;
        value = data_[at_++] == '1';
        return true;
    }
    bool point(Vec2& p, bool relative) {
        if (!number(p.x) || !number(p.y)) return false;
        if (relative) p += now_;
        return true;
    }
    Path& path() {
        if (paths_.empty() || paths_.back().closed) paths_.push_back({now_, {}, false}); // drawing on after Z
        return paths_.back();
    }
    void add(Segment s) {
        path().segments.push_back(s);
        now_ = s.end;
    }

    bool one() {
        const bool relative = std::islower(static_cast<unsigned char>(command_));
        const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command_)));
        if (paths_.empty() && kind != 'M') return problem_ = "The path does not begin with M.", false;
        Vec2 a, b, p;
        switch (kind) {
        case 'M':
            if (!point(p, relative)) return false;
            now_ = p;
            paths_.push_back({p, {}, false});
            break;
        case 'L':
            if (!point(p, relative)) return false;
            add(Segment::line(p));
            break;
        case 'H':
        case 'V': {
            double value = 0;
            if (!number(value)) return false;
            p = now_;
            (kind == 'H' ? p.x : p.y) = value + (relative ? (kind == 'H' ? now_.x : now_.y) : 0);
            add(Segment::line(p));
            break;
        }
        case 'C':
        case 'S':
            a = last_ == 'C' ? 2 * now_ - handle_ : now_;
            if (kind == 'C' && !point(a, relative)) return false;
            if (!point(b, relative) || !point(p, relative)) return false;
            add(Segment::cubic(a, b, p));
            handle_ = b;
            break;
        case 'Q':
        case 'T': {
            const Vec2 from = now_;
            a = last_ == 'Q' ? 2 * now_ - handle_ : now_;
            if (kind == 'Q' && !point(a, relative)) return false;
            if (!point(p, relative)) return false;
            add(Segment::cubic(lerp(from, a, 2.0 / 3), lerp(p, a, 2.0 / 3), p));
            handle_ = a;
            break;
        }
        case 'A': {
            double rx = 0, ry = 0, turn = 0;
            bool large = false, sweep = false;
            if (!number(rx) || !number(ry) || !number(turn) || !flag(large) || !flag(sweep) || !point(p, relative))
                return false;
            arc(std::abs(rx), std::abs(ry), turn * pi / 180, large, sweep, p);
            break;
        }
        case 'Z':
            if (!paths_.back().closed && !paths_.back().segments.empty())
                paths_.back().close(1e-6);
            else if (!paths_.back().closed) // nowhere and back: a dot, where its ends are drawn round or square
                paths_.back().segments.push_back(Segment::line(now_));
            now_ = paths_.back().start; // path() would begin the next one
            break;
        default: return problem_ = fmt::format("“{}” is no path command.", command_), false;
        }
        last_ = kind == 'S' ? 'C' : kind == 'T' ? 'Q' : kind;
        return true;
    }

    /// From ends to centre as in SVG 1.1, F.6.5.
    void arc(double rx, double ry, double turn, bool large, bool sweep, Vec2 to) {
        if (to == now_) return;
        if (rx < 1e-12 || ry < 1e-12) return add(Segment::line(to));
        const Transform back = Transform::rotated(-turn), out = Transform::rotated(turn);
        const Vec2 half = back.direction((now_ - to) / 2);
        const double grow = half.x * half.x / (rx * rx) + half.y * half.y / (ry * ry);
        if (grow > 1) rx *= std::sqrt(grow), ry *= std::sqrt(grow);
        const double denominator = rx * rx * half.y * half.y + ry * ry * half.x * half.x;
        double k = std::sqrt(std::max(0.0, rx * rx * ry * ry / denominator - 1));
        if (large == sweep) k = -k;
        const Vec2 c{k * rx * half.y / ry, -k * ry * half.x / rx};
        const Vec2 centre = out.direction(c) + (now_ + to) / 2;
        if (std::abs(rx - ry) <= 1e-9 * rx) return add(Segment::arc(centre, to, sweep));
        // An ellipse is a circle under an affine map.
        const Transform map = Transform::moved(centre) * out * Transform::scaled(rx, ry);
        const auto inverse = map.inverse();
        if (!inverse) return add(Segment::line(to));
        const Path round{(*inverse)(now_), {Segment::arc({0, 0}, (*inverse)(to), sweep)}, false};
        const Path bent = transformed(round, map);
        for (auto s : bent.segments) add(s);
        path().segments.back().end = now_ = to;
    }

    std::string_view data_;
    std::size_t at_ = 0;
    char command_ = 0, last_ = 0;
    Vec2 now_, handle_;
    std::vector<Path> paths_;
    std::string problem_;
};

} // namespace

Result<std::vector<Path>> pathsFromSvgData(std::string_view data, std::optional<Problem>* broken) {
    Reader reader(data);
    auto read = reader.all();
    if (read || !broken) return read;
    *broken = read.problem();
    return reader.before();
}

} // namespace ferro::formats
