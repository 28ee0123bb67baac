#pragma once

#include "plan/kind.h"

// Fields and choices that several kinds have, said once. `K` is the kind's settings.
namespace ferro::plan {

using enum Measure;
inline constexpr shop::Processes byRotary{shop::Process::rotary}, byBeam{shop::Process::beam},
    byBlade{shop::Process::blade}, byCutting{shop::Process::rotary, shop::Process::beam};

template<class K> K& in(Step& step) { return std::get<K>(step.settings); }
template<class K> const K& in(const Step& step) { return std::get<K>(step.settings); }
template<class K, auto Member> double& numberIn(Step& step) { return in<K>(step).*Member; }
template<class K, auto Part, auto Member> double& numberIn(Step& step) { return in<K>(step).*Part.*Member; }

/// What a choice reads and sets: an enumeration or a switch, by the number of its word.
template<class K, auto Member> int wordIn(const Step& step) { return static_cast<int>(in<K>(step).*Member); }
template<class K, auto Part, auto Member> int wordIn(const Step& step) {
    return static_cast<int>(in<K>(step).*Part.*Member);
}
template<class K, auto Member> void putWord(Step& step, int value) {
    auto& into = in<K>(step).*Member;
    into = static_cast<std::remove_reference_t<decltype(into)>>(value);
}
template<class K, auto Part, auto Member> void putWord(Step& step, int value) {
    auto& into = in<K>(step).*Part.*Member;
    into = static_cast<std::remove_reference_t<decltype(into)>>(value);
}

template<class K> constexpr Field startDepthField() {
    return {"startDepth",
            "Start depth",
            length,
            0,
            500,
            Place::entry,
            byRotary,
            false,
            numberIn<K, &K::depth, &Depth::start>};
}
template<class K> constexpr Field depthField() {
    return {"depth",
            "Depth",
            length,
            0.01,
            500,
            Place::how,
            byRotary,
            false,
            numberIn<K, &K::depth, &Depth::depth>,
            [](const Step& s) { return !in<K>(s).depth.through; }};
}
template<class K> constexpr Field extraField() {
    return {"extra",
            "Extra below",
            length,
            0,
            20,
            Place::how,
            byRotary,
            false,
            numberIn<K, &K::depth, &Depth::extra>,
            [](const Step& s) { return in<K>(s).depth.through; }};
}
template<class K> constexpr Field perPassField() {
    return {"depthPerPass",
            "Depth per pass",
            length,
            0.01,
            100,
            Place::how,
            byRotary,
            true,
            numberIn<K, &K::depth, &Depth::perPass>};
}
template<class K> constexpr Field feedField() {
    return {"feed", "Feed", feed, 1, 100000, Place::how, byCutting, true, numberIn<K, &K::rates, &Rates::feed>};
}
template<class K> constexpr Field plungeField() {
    return {"plunge", "Plunge", feed, 1, 100000, Place::how, byRotary, true, numberIn<K, &K::rates, &Rates::plunge>};
}
template<class K> constexpr Field spindleField() {
    return {
        "spindle", "Spindle", turns, 0, 100000, Place::how, byRotary, true, numberIn<K, &K::rates, &Rates::spindle>};
}
template<class K> constexpr Field powerField() {
    return {"power", "Power", percent, 0, 100, Place::how, byBeam, true, numberIn<K, &K::beam, &Beam::power>};
}
template<class K> constexpr Field passesField() {
    return {"passes", "Passes", count, 1, 50, Place::how, byBeam, true, numberIn<K, &K::beam, &Beam::passes>};
}
template<class K> constexpr Field focusStepField() {
    return {"focusStep",
            "Down each pass",
            length,
            0,
            10,
            Place::how,
            byBeam,
            false,
            numberIn<K, &K::beam, &Beam::focusStep>,
            [](const Step& s) { return in<K>(s).beam.passes > 1; }};
}
template<class K> constexpr Field stillField() {
    return {
        "still", "Of that in corners", percent, 0, 100, Place::how, byBeam, false, numberIn<K, &K::beam, &Beam::still>};
}
template<class K> constexpr Field rampAngleField() {
    return {"rampAngle",
            "Ramp angle",
            angle,
            0.5,
            45,
            Place::entry,
            byRotary,
            false,
            numberIn<K, &K::rampAngle>,
            [](const Step& s) { return in<K>(s).entry == Entry::ramp; }};
}

inline constexpr std::array<std::string_view, 2> throughWords = {"to depth", "through"};
inline constexpr std::array<std::string_view, 2> directionWords = {"climb", "conventional"};
inline constexpr std::array<std::string_view, 2> airWords = {"off", "on"};
inline constexpr std::array<std::string_view, 2> entryWords = {"ramp", "plunge"};

template<class K> constexpr Choice airChoice() {
    return {
        "air", "Air", airWords, Place::how, byBeam, wordIn<K, &K::beam, &Beam::air>, putWord<K, &K::beam, &Beam::air>};
}
template<class K> constexpr Choice throughChoice() {
    return {"through",
            "Goes",
            throughWords,
            Place::how,
            byRotary,
            wordIn<K, &K::depth, &Depth::through>,
            putWord<K, &K::depth, &Depth::through>};
}
template<class K> constexpr Choice directionChoice() {
    return {"direction",
            "Direction",
            directionWords,
            Place::entry,
            byRotary,
            wordIn<K, &K::direction>,
            putWord<K, &K::direction>};
}
template<class K> constexpr Choice entryChoice() {
    return {"entry", "Entry", entryWords, Place::entry, byRotary, wordIn<K, &K::entry>, putWord<K, &K::entry>};
}

} // namespace ferro::plan
