#include "base/holes.h"
#include "base/quantity.h"

using namespace ferro;

namespace {
double read(const char* text, Units units = Units::mm, Measure measure = Measure::length) {
    const auto value = parseQuantity(text, measure, units);
    INFO(text << ": " << (value ? "" : value.problem().text()));
    REQUIRE(value);
    return *value;
}
} // namespace

TEST_CASE("quantity: arithmetic and suffixes mean what a person means") {
    CHECK(read("12") == 12);
    CHECK(read("3/4in") == Approx(19.05));
    CHECK(read("20-0.15") == Approx(19.85));
    CHECK(read("3 1/2in") == Approx(88.9));
    CHECK(read("12,5") == 12.5);
    CHECK(read("2*(3+4)") == 14);
    CHECK(read("1in-1mm") == Approx(24.4));
    CHECK(read("-5 cm") == -50);
    CHECK(read("1", Units::inch) == Approx(25.4));
    CHECK(read("10mm", Units::inch) == 10);
    CHECK(read("2*3in", Units::inch) == Approx(152.4));
    CHECK(read("20-0.15mm", Units::inch) == Approx(20 * 25.4 - 0.15));
    CHECK(read("1200 mm/min", Units::mm, Measure::feed) == 1200);
    CHECK(read("20 mm/s", Units::mm, Measure::feed) == 1200);
    CHECK(read("16000 rpm", Units::inch, Measure::turns) == 16000);
    CHECK(read("45°", Units::mm, Measure::angle) == 45);
}

TEST_CASE("quantity: what cannot be read says where it stops") {
    for (const char* bad : {"", "mm", "1+", "(2", "1/0", "12x", "1..2", "--", "1e400", "2 3 4"}) {
        INFO(bad);
        CHECK_FALSE(parseQuantity(bad, Measure::length, Units::mm));
    }
    CHECK(parseQuantity("12 apples", Measure::length, Units::mm).problem().what.find("apples") != std::string::npos);
    CHECK_FALSE(parseQuantity(std::string(100'000, '('), Measure::length, Units::mm));
}

TEST_CASE("quantity: shown numbers are what a shop reads") {
    CHECK(shown(12.3, Measure::length) == "12.30 mm");
    CHECK(shown(25.4, Measure::length, Units::inch) == "1.000 in");
    CHECK(shown(-0.001, Measure::length) == "0.00 mm");
    CHECK(shown(1800, Measure::feed) == "1800 mm/min");
    CHECK(shownTime(41 * 60 + 20) == "41 min 20 s");
    CHECK(shownTime(7260) == "2 h 01 min");
}

namespace {
/// A sum as a person might type it, with its value in mm.
struct Typed {
    std::string text;
    double value;
};
Typed typed(std::mt19937& random, Units units, int depth) {
    const auto upTo = [&](unsigned n) { return random() % n; };
    if (depth == 0 || upTo(3) == 0) {
        constexpr std::pair<const char*, double> suffixes[] = {{"", 0},       {"mm", 1},     {" cm", 10},
                                                               {"in", 25.4},  {"\"", 25.4},  {" thou", 0.0254},
                                                               {"um", 0.001}, {" ft", 304.8}};
        const auto& [suffix, mm] = suffixes[upTo(std::size(suffixes))];
        const double number = static_cast<double>(upTo(400)) / 8;
        auto text = fmt::format("{}", number);
        if (upTo(4) == 0) std::replace(text.begin(), text.end(), '.', ',');
        const double each = mm > 0 ? mm : units == Units::inch ? 25.4 : 1;
        return {text + suffix, number * each};
    }
    const auto a = typed(random, units, depth - 1);
    if (upTo(3) == 0) { // times a bare number
        const auto times = 1 + upTo(7);
        return {fmt::format("{}*({})", times, a.text), static_cast<double>(times) * a.value};
    }
    const auto b = typed(random, units, depth - 1);
    return upTo(2) ? Typed{fmt::format("({} + {})", a.text, b.text), a.value + b.value}
                   : Typed{fmt::format("({}-({}))", a.text, b.text), a.value - b.value};
}
} // namespace

TEST_CASE("quantity: any sum of lengths is what it says, in both units", "[property]") {
    std::mt19937 random(12);
    for (int i = 0; i < 2000; ++i) {
        const auto units = i % 2 ? Units::inch : Units::mm;
        const auto sum = typed(random, units, 4);
        const auto value = parseQuantity(sum.text, Measure::length, units);
        CAPTURE(sum.text, static_cast<int>(units));
        REQUIRE(value);
        CHECK(*value == Approx(sum.value).margin(1e-9));
    }
}

TEST_CASE("quantity: what a field shows is read back as the same, to what it shows", "[property]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<> any(-2000, 2000);
    for (const auto measure : {Measure::length, Measure::feed, Measure::area, Measure::angle, Measure::percent,
                               Measure::turns, Measure::count})
        for (const auto units : {Units::mm, Units::inch})
            for (int i = 0; i < 200; ++i) {
                const double value = any(random);
                const auto number = shownNumber(value, measure, units);
                const auto back = parseQuantity(number, measure, units);
                CAPTURE(number, static_cast<int>(measure), static_cast<int>(units));
                REQUIRE(back);
                // Half of the last digit shown: a hundredth of a millimetre is 0.0004 in, a feed is shown whole.
                CHECK(std::abs(*back - value) <= (measure == Measure::area && units == Units::inch ? 7 : 13));
                if (measure == Measure::length)
                    CHECK(std::abs(*back - value) <= (units == Units::mm ? 0.005 : 0.0127) + 1e-9);
                CHECK(shownNumber(*back, measure, units) == number); // and does not wander
            }
}

TEST_CASE("holes: each known word is filled in once, whatever is filled in") {
    const auto filled = [](const char* pattern) {
        return holesFilled(pattern, [](std::string_view word) -> std::optional<std::string> {
            if (word == "name") return "{name} {tool}";
            if (word == "tool") return "7";
            return {};
        });
    };
    CHECK(filled("T{tool} M6 ({name}, {tool})") == "T7 M6 ({name} {tool}, 7)");
    CHECK(filled("{other} {tool") == "{other} {tool");
    CHECK(filled("}{}{tool}") == "}{}7");
}
