#include "base/quantity.h"

#include <array>
#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace ferro {

namespace {

struct Suffix {
    std::string_view name;
    double mm;
};
// Longer names first: "mm" must not be read as "m" and a stray "m".
constexpr std::array<Suffix, 10> lengthSuffixes = {{{"inch", 25.4},
                                                    {"thou", 0.0254},
                                                    {"mm", 1},
                                                    {"cm", 10},
                                                    {"um", 0.001},
                                                    {"µm", 0.001},
                                                    {"in", 25.4},
                                                    {"ft", 304.8},
                                                    {"\"", 25.4},
                                                    {"m", 1000}}};

double defaultScale(Measure measure, Units units) {
    if (units == Units::mm) return 1;
    switch (measure) {
    case Measure::length:
    case Measure::feed: return mmPerInch;
    case Measure::area: return mmPerInch * mmPerInch;
    default: return 1;
    }
}

/// A value and whether a unit was named in it, so that "20-0.15mm" and "2*3in" both mean what they say.
struct Term {
    double value = 0;
    bool hasUnit = false;
};

class Reader {
public:
    Reader(std::string_view text, Measure measure, Units units)
        : text_(text), measure_(measure), scale_(defaultScale(measure, units)) {}

    Result<double> all() {
        const Term term = sum();
        skip();
        if (bad_ || at_ != text_.size()) {
            const std::size_t where = std::min(badAt_, at_);
            return Problem{.what = where >= text_.size()
                                       ? "The number is not finished."
                                       : fmt::format("“{}” cannot be read as part of a number.", text_.substr(where)),
                           .where = {},
                           .mend = "Type a number, with a unit if you like: 3/4in, 20-0.15, 12 mm."};
        }
        const double value = term.hasUnit ? term.value : term.value * scale_;
        if (!std::isfinite(value))
            return Problem{
                .what = "This comes to no finite number.", .where = {}, .mend = "Check for a division by zero."};
        return value;
    }

private:
    void skip() {
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
    }
    bool take(char c) {
        skip();
        if (at_ >= text_.size() || text_[at_] != c) return false;
        ++at_;
        return true;
    }
    void fail() {
        bad_ = true;
        badAt_ = std::min(badAt_, at_);
    }
    // A bare number beside one with a unit is a length in the field's own unit.
    void match(Term& a, Term& b) const {
        if (a.hasUnit == b.hasUnit) return;
        Term& bare = a.hasUnit ? b : a;
        bare.value *= scale_;
        bare.hasUnit = true;
    }

    Term sum() {
        Term left = product();
        while (!bad_) {
            const bool plus = take('+');
            if (!plus && !take('-')) break;
            Term right = product();
            match(left, right);
            left.value += plus ? right.value : -right.value;
        }
        return left;
    }
    Term product() {
        Term left = sign();
        while (!bad_) {
            const bool times = take('*');
            if (!times && !take('/')) break;
            const Term right = sign();
            if (times)
                left = {left.value * right.value, left.hasUnit || right.hasUnit};
            else
                left = {left.value / right.value, left.hasUnit != right.hasUnit};
        }
        return left;
    }
    Term sign() {
        if (++depth_ > 100) fail();
        if (bad_) return {};
        Term term;
        if (take('-')) {
            term = sign();
            term.value = -term.value;
        } else if (take('(')) {
            term = sum();
            if (!take(')')) fail();
        } else {
            term = number();
        }
        --depth_;
        return term;
    }
    Result<double> digits() {
        skip();
        std::string plain;
        std::size_t end = at_;
        for (; end < text_.size() &&
               (std::isdigit(static_cast<unsigned char>(text_[end])) || text_[end] == '.' || text_[end] == ',');
             ++end)
            plain += text_[end] == ',' ? '.' : text_[end];
        double value = 0;
        const auto [stop, error] =
            std::from_chars(plain.data(), plain.data() + plain.size(), value, std::chars_format::fixed);
        if (plain.empty() || error != std::errc{} || stop != plain.data() + plain.size())
            return Problem{.what = "no number", .where = {}, .mend = {}};
        at_ = end;
        return value;
    }
    Term number() {
        const auto whole = digits();
        if (!whole) return fail(), Term{};
        Term term{*whole, false};
        // "3 1/2": a whole number and a fraction with only a space between them.
        const std::size_t before = at_;
        if (const auto over = digits(); over && take('/')) {
            if (const auto under = digits())
                term.value += *over / *under;
            else
                at_ = before;
        } else {
            at_ = before;
        }
        // "3/4in" is three quarters of an inch, not three divided by four inches: the unit belongs to the whole
        // fraction.
        const std::size_t slash = at_;
        if (take('/')) {
            if (const auto under = digits()) {
                skip();
                if (const Term whole_ = suffixed({term.value / *under, false}); whole_.hasUnit) return whole_;
            }
            at_ = slash;
        }
        skip();
        return suffixed(term);
    }
    Term suffixed(Term term) {
        const bool lengthLike = measure_ == Measure::length || measure_ == Measure::feed;
        if (!lengthLike) {
            for (const std::string_view name : {"mm²", "mm2", "°", "deg", "%", "rpm", "s"})
                if (text_.substr(at_).starts_with(name)) {
                    at_ += name.size();
                    return {term.value, true};
                }
            return term;
        }
        for (const auto& suffix : lengthSuffixes)
            if (text_.substr(at_).starts_with(suffix.name)) {
                at_ += suffix.name.size();
                if (measure_ == Measure::feed && text_.substr(at_).starts_with("/min"))
                    at_ += 4;
                else if (measure_ == Measure::feed && text_.substr(at_).starts_with("/s"))
                    at_ += 2, term.value *= 60;
                return {term.value * suffix.mm, true};
            }
        return term;
    }

    std::string_view text_;
    Measure measure_;
    double scale_;
    std::size_t at_ = 0, badAt_ = std::string_view::npos;
    int depth_ = 0;
    bool bad_ = false;
};

} // namespace

Result<double> parseQuantity(std::string_view text, Measure measure, Units units) {
    return Reader(text, measure, units).all();
}

std::string shownNumber(double value, Measure measure, Units units) {
    const double own = value / defaultScale(measure, units);
    int decimals = 2;
    if (measure == Measure::turns || measure == Measure::count || measure == Measure::plain)
        decimals = 0;
    else if (measure == Measure::feed || measure == Measure::percent || measure == Measure::angle)
        decimals = units == Units::inch && measure == Measure::feed ? 1 : 0;
    else if (units == Units::inch)
        decimals = 3;
    // Never hide what counts: 0.125° or 2.5 % keep their digits.
    const bool keepsDigits = measure != Measure::length && measure != Measure::area && measure != Measure::feed;
    std::string text = fmt::format("{:.{}f}", own, keepsDigits ? 4 : decimals);
    if (keepsDigits) { // and none that say nothing
        const std::size_t least = text.find('.') + (decimals > 0 ? 1 + static_cast<std::size_t>(decimals) : 0);
        text.resize(std::max(least, text.find_last_not_of('0') + 1));
        if (text.back() == '.') text.pop_back();
    }
    if (text.starts_with('-') && text.find_first_not_of("-0.") == std::string::npos) text.erase(0, 1);
    return text;
}

std::string exactly(double value, Measure measure) {
    // The bare number in the job's units would round; a suffix keeps every digit.
    const bool suffix = measure == Measure::length || measure == Measure::feed;
    return fmt::format("{}{}", value, suffix ? " mm" : "");
}

Problem outOfRange(std::string_view label, double value, Measure measure, double low, double high) {
    return {.what = fmt::format("{} cannot be {}.", label, shown(value, measure)),
            .where = {},
            .mend = fmt::format("Give between {} and {}.", shown(low, measure), shown(high, measure))};
}

std::string unitName(Measure measure, Units units) {
    const bool metric = units == Units::mm;
    switch (measure) {
    case Measure::length: return metric ? "mm" : "in";
    case Measure::feed: return metric ? "mm/min" : "in/min";
    case Measure::area: return metric ? "mm²" : "in²";
    case Measure::angle: return "°";
    case Measure::percent: return "%";
    case Measure::turns: return "rpm";
    case Measure::time: return "s";
    case Measure::count:
    case Measure::plain: return "";
    }
    return {};
}

std::string shown(double value, Measure measure, Units units) {
    const std::string unit = unitName(measure, units);
    return shownNumber(value, measure, units) + (unit.empty() ? "" : measure == Measure::angle ? unit : " " + unit);
}

std::string mm(double value) {
    std::string text = fmt::format("{:.3f}", value);
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
    return (text == "-0" ? "0" : text) + " mm";
}

std::string shownTime(double seconds) {
    const auto whole = static_cast<long long>(std::llround(std::max(0.0, seconds)));
    if (whole < 60) return fmt::format("{} s", whole);
    if (whole < 3600) return fmt::format("{} min {:02} s", whole / 60, whole % 60);
    return fmt::format("{} h {:02} min", whole / 3600, whole / 60 % 60);
}

} // namespace ferro
