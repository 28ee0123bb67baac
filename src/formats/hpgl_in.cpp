#include "formats/hpgl_in.h"

#include "base/hpgl.h"

#include <set>

namespace ferro::formats {

namespace {

constexpr double step = 0.025; // mm

class Reading {
public:
    Result<Drawing> all(const std::vector<HpglWord>& words) {
        for (const auto& word : words)
            if (auto fine = one(word); !fine) return fine.problem();
        finish();
        drawing_.drawn.by = Drawing::Drawn::By::file;
        for (const auto& [code, count] : left_)
            drawing_.notices.push_back({fmt::format("{} ({}) was left out: {}.", code, count, whyNot(code))});
        return std::move(drawing_);
    }

private:
    static std::string whyNot(const std::string& code) {
        if (code == "LB") return "labels are no lines";
        if (code == "SC" || code == "IP" || code == "IR" || code == "RO") return "sizes are taken as the steps say";
        if (code == "RA" || code == "RR" || code == "WG" || code == "FP" || code == "EW" || code == "PM")
            return "fills and wedges are not taken";
        return "it draws nothing that is known here";
    }
    static bool isQuiet(const std::string& code) { // sets up, draws nothing
        static const std::set<std::string> quiet{"IN", "DF", "VS", "FS", "AS", "VN", "NR", "WU",
                                                 "PW", "LT", "PS", "TR", "BP", "PG", "UL", "IW",
                                                 "DT", "SI", "DI", "SR", "SS", "LO", "NP", "PC"};
        return quiet.contains(code);
    }

    Result<void> one(const HpglWord& word) {
        const auto& n = word.numbers;
        const auto bad = [&](std::string what) -> Result<void> {
            return Problem{.what = std::move(what),
                           .where = fmt::format("line {}", word.line),
                           .mend = "Check that it is a plotter's file (HPGL)."};
        };
        if (word.code == "PA" || word.code == "PR" || word.code == "PU" || word.code == "PD") {
            if (word.code == "PA") relative_ = false;
            if (word.code == "PR") relative_ = true;
            if (word.code == "PU") lift();
            if (word.code == "PD") down_ = true;
            if (n.size() % 2) return bad(fmt::format("A coordinate is missing behind {}.", word.code));
            for (std::size_t i = 0; i + 1 < n.size(); i += 2) go(Vec2{n[i], n[i + 1]} * step, relative_);
        } else if (word.code == "SP") {
            lift();
            pen_ = n.empty() ? 0 : static_cast<int>(std::clamp(n[0], 0.0, 255.0));
        } else if (word.code == "AA" || word.code == "AR") {
            if (n.size() < 3) return bad("An arc needs a centre and an angle.");
            const Vec2 centre = word.code == "AR" ? at_ + Vec2{n[0], n[1]} * step : Vec2{n[0], n[1]} * step;
            arc(centre, std::clamp(n[2], -360.0, 360.0) * pi / 180);
        } else if (word.code == "CI") {
            if (n.empty()) return bad("A circle needs a radius.");
            const double r = std::abs(n[0]) * step;
            finish();
            if (r > 1e-6) {
                const Vec2 a = at_ + Vec2{r, 0}, b = at_ - Vec2{r, 0};
                put({a, {Segment::arc(at_, b, true), Segment::arc(at_, a, true)}, true});
            }
        } else if (word.code == "EA" || word.code == "ER") {
            if (n.size() < 2) return bad("A rectangle needs its other corner.");
            const Vec2 to = word.code == "ER" ? at_ + Vec2{n[0], n[1]} * step : Vec2{n[0], n[1]} * step;
            finish();
            if (std::abs(to.x - at_.x) > 1e-9 && std::abs(to.y - at_.y) > 1e-9)
                put({at_,
                     {Segment::line({to.x, at_.y}), Segment::line(to), Segment::line({at_.x, to.y}),
                      Segment::line(at_)},
                     true});
        } else if (word.code == "PE") {
            return encoded(word);
        } else if (!isQuiet(word.code)) {
            ++left_[word.code];
        }
        return {};
    }
    /// PE: pairs of steps in digits of 64 (or 32, after 7), the lowest first, the last of a number told by its range;
    /// the lowest bit is the sign. Steps go on from the pen, or are places after =; < lifts the pen for the next pair,
    /// : chooses another pen, > says how many bits lie behind the point.
    Result<void> encoded(const HpglWord& word) {
        bool seven = false, up = false, absolute = false;
        int bits = 0;
        std::vector<double> pair;
        down_ = true;
        const auto bad = [&](std::string what) -> Result<void> {
            return Problem{.what = std::move(what),
                           .where = fmt::format("line {}", word.line),
                           .mend = "Have it written without PE."};
        };
        enum class Next { place, pen, fraction } next = Next::place;
        double value = 0, weight = 1;
        bool begun = false;
        for (const char c : word.label) {
            const int code = static_cast<unsigned char>(c) & (seven ? 0x7f : 0xff);
            if (!begun) {
                if (code <= 32 || code == 127) continue;
                if (c == '7') seven = true;
                if (c == ':') next = Next::pen;
                if (c == '<') up = true;
                if (c == '>') next = Next::fraction;
                if (c == '=') absolute = true;
                if (code < 63) continue;
            }
            const int base = seven ? 32 : 64, last = seven ? 95 : 191;
            const bool ends = code >= last;
            const int digit = code - (ends ? last : 63);
            if (digit < 0 || digit >= base) return bad("PE holds a character that is no digit.");
            value += digit * weight;
            weight *= base;
            begun = true;
            if (!ends) {
                if (weight > 1e12) return bad("PE holds a number beyond all measure.");
                continue;
            }
            const double half = std::floor(value / 2), number = std::fmod(value, 2) > 0.5 ? -half : half;
            value = 0, weight = 1, begun = false;
            if (next == Next::pen) {
                finish();
                pen_ = static_cast<int>(std::clamp(number, 0.0, 255.0));
            } else if (next == Next::fraction) {
                bits = static_cast<int>(std::clamp(number, -26.0, 26.0));
            } else {
                pair.push_back(number * std::pow(2.0, -bits));
            }
            next = Next::place;
            if (pair.size() < 2) continue;
            if (up) finish();
            down_ = !up;
            go(Vec2{pair[0], pair[1]} * step, !absolute);
            pair.clear();
            up = absolute = false;
        }
        if (begun || !pair.empty()) return bad("PE ends in the middle of a place.");
        return {};
    }
    void lift() {
        finish();
        down_ = false;
    }
    void go(Vec2 to, bool relative) {
        if (relative) to += at_;
        if (down_) draw(Segment::line(to));
        at_ = to;
    }
    void arc(Vec2 centre, double angle) {
        const double r = distance(at_, centre);
        const int parts = std::max(1, static_cast<int>(std::ceil(std::abs(angle) / (pi * 0.999))));
        const double begin = std::atan2(at_.y - centre.y, at_.x - centre.x);
        for (int i = 1; i <= parts; ++i) {
            const double a = begin + angle * i / parts;
            const Vec2 to = centre + Vec2{std::cos(a), std::sin(a)} * r;
            if (down_ && r > 1e-9) draw(Segment::arc(centre, to, angle > 0));
            at_ = to;
        }
    }
    void draw(const Segment& segment) {
        if (path_.segments.empty()) path_.start = at_;
        if (segment.kind == Segment::Kind::line && distance(path_.end(), segment.end) < 1e-9) return;
        path_.segments.push_back(segment);
    }
    void finish() {
        if (path_.segments.empty()) return;
        if (path_.segments.size() > 1 && distance(path_.start, path_.end()) < 2 * step + 1e-9) {
            path_.segments.back().end = path_.start;
            path_.closed = true;
        }
        put(std::exchange(path_, {}));
    }
    void put(Path path) {
        const std::string layer = fmt::format("pen {}", pen_);
        drawing_.items.push_back({{{std::move(path), {}}}, layer, fmt::format("line {}", drawing_.items.size() + 1)});
    }

    Drawing drawing_;
    Path path_;
    Vec2 at_;
    bool down_ = false, relative_ = false;
    int pen_ = 1;
    std::map<std::string, int> left_;
};

} // namespace

Result<Drawing> drawingFromHpgl(std::string_view bytes) {
    const auto words = hpglFrom(bytes);
    if (!words) return words.problem();
    if (words->empty())
        return Problem{
            .what = "The file holds no instruction.", .where = {}, .mend = "Check that it is a plotter's file (HPGL)."};
    return Reading().all(*words);
}

} // namespace ferro::formats
