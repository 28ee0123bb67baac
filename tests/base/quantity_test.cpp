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
