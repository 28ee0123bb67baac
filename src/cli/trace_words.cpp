#include "cli/trace_words.h"

#include "base/json.h"

#include "base/quantity.h"
#include "cli/words_internal.h"

namespace ferro::cli {

namespace {

std::vector<std::string> parted(const std::string& text, char by) {
    std::vector<std::string> out(1);
    for (const char c : text)
        if (c == by)
            out.emplace_back();
        else
            out.back() += c;
    return out;
}

Result<std::vector<double>> numbers(const std::string& text, Measure measure, Units units, std::size_t count) {
    std::vector<double> out;
    for (const auto& part : parted(text, ',')) {
        const auto value = parseQuantity(part, measure, units);
        if (!value) return value.problem().within(text);
        out.push_back(*value);
    }
    if (out.size() != count)
        return Problem{.what = fmt::format("“{}” should be {} numbers.", text, count),
                       .where = {},
                       .mend = "Part them by commas."};
    return out;
}

Result<Box> boxFrom(const std::string& text, Units units) {
    const auto n = numbers(text, Measure::length, units, 4);
    if (!n) return n.problem();
    return Box{{(*n)[0], (*n)[1]}, {(*n)[0] + (*n)[2], (*n)[1] + (*n)[3]}};
}

Result<Ring> pointsFrom(const std::string& text, Units units) {
    Ring ring;
    for (const auto& part : parted(text, ';')) {
        const auto p = numbers(part, Measure::length, units, 2);
        if (!p) return p.problem();
        ring.push_back({(*p)[0], (*p)[1]});
    }
    return ring;
}

} // namespace

Result<bool> takeTraceSetting(const std::string& name, const std::string& value, Units units, trace::Settings& s) {
    if (name == "find") {
        const auto find = trace::findFrom(value);
        if (!find)
            return Problem{.what = "A trace finds areas, rim, strokes, colours or edges; a patch nothing, too.",
                           .where = value,
                           .mend = {}};
        s.find = *find;
        return true;
    }
    if (name == "colours") {
        if (auto taken = trace::takeColours(value, s); !taken) return taken.problem();
        return true;
    }
    if (name == "only") {
        const auto box = boxFrom(value, units);
        if (!box) return box.problem();
        s.only = *box;
        return true;
    }
    for (const auto& [word, member] : {std::pair{"invert", &trace::Settings::invert},
                                       {"under", &trace::Settings::goUnder},
                                       {"paper", &trace::Settings::paper}})
        if (name == word) {
            const auto on = onOff(value);
            if (!on) return on.problem();
            s.*member = *on;
            return true;
        }
    struct Number {
        std::string_view name;
        Measure measure;
        double trace::Settings::*member;
    };
    constexpr Number known[] = {{"speck", Measure::area, &trace::Settings::speck},
                                {"corners", Measure::angle, &trace::Settings::cornersUnder},
                                {"follow", Measure::length, &trace::Settings::followWithin},
                                {"line", Measure::length, &trace::Settings::lineWidth},
                                {"step", Measure::count, &trace::Settings::leastStep}};
    if (name == "speck" && value == "found") {
        s.speck = -1;
        return true;
    }
    for (const auto& number : known)
        if (number.name == name) {
            const auto got = parseQuantity(value, number.measure, units);
            if (!got) return got.problem().within(name);
            s.*(number.member) = *got;
            return true;
        }
    for (const auto& [word, member] : {std::pair{"level", &trace::Settings::level}, {"above", &trace::Settings::above}})
        if (name == word) {
            const auto got = parseQuantity(value, Measure::count, units);
            if (!got) return got.problem().within(name);
            if (!(*got >= -1 && *got <= 255))
                return Problem{.what = "The level must be between 1 and 255.", .where = name, .mend = {}};
            s.*member = static_cast<int>(*got);
            return true;
        }
    return false;
}

Result<std::vector<trace::Patch>> patchesFrom(std::string_view json, const trace::Settings& base) {
    const auto bad = [](std::string what) {
        return Problem{.what = std::move(what),
                       .where = "patches",
                       .mend = R"(Write [{"area": "10,10,40,30", "find": "strokes"}].)"};
    };
    const auto all = jsonFrom(json);
    if (!all || !all->isList()) return bad("The patches are no list.");
    std::vector<trace::Patch> patches;
    for (const auto& entry : all->list()) {
        const auto* where = entry.find("area");
        if (!where || !where->isText()) return bad("A patch has no area.");
        trace::Patch patch{{}, base};
        patch.settings.only = {};
        const auto& area = where->text();
        if (area.find(';') == std::string::npos) {
            const auto box = boxFrom(area, Units::mm);
            if (!box) return box.problem();
            patch.area = {box->low, {box->high.x, box->low.y}, box->high, {box->low.x, box->high.y}};
        } else {
            auto ring = pointsFrom(area, Units::mm);
            if (!ring) return ring.problem();
            patch.area = std::move(*ring);
        }
        if (patch.area.size() < 3) return bad("A patch needs three points at least.");
        for (const auto& [name, value] : entry.group()) {
            if (name == "area") continue;
            const auto text = value.isText()   ? value.text()
                              : value.isBool() ? std::string(value.truth() ? "on" : "off")
                                               : value.dump();
            const auto known = takeTraceSetting(name, text, Units::mm, patch.settings);
            if (!known) return known.problem();
            if (!*known) return bad(fmt::format("A patch has no setting “{}”.", name));
        }
        patches.push_back(std::move(patch));
    }
    return patches;
}

Result<picture::CleanStep> cleanStepFrom(const std::string& word, Units units) {
    using Kind = picture::CleanStep::Kind;
    const auto equals = std::min(word.find('='), word.size());
    const auto kind = picture::cleanKindFrom(word.substr(0, equals));
    const auto value = equals < word.size() ? word.substr(equals + 1) : std::string{};
    if (!kind)
        return Problem{.what = fmt::format("There is no clean-up “{}”.", word.substr(0, equals)),
                       .where = {},
                       .mend =
                           "Use crop, straighten, tone, even-light, black-white, invert, despeckle, smooth, erase or "
                           "draw."};
    auto step = picture::freshStep(*kind);
    if (*kind == Kind::crop) {
        const auto box = boxFrom(value, units);
        if (!box) return box.problem();
        step.area = *box;
    } else if (*kind == Kind::erase || *kind == Kind::draw) {
        // "2:10,10;20,15": a brush of 2 mm from 10, 10 to 20, 15.
        const auto colon = std::min(value.find(':'), value.size());
        const auto width = parseQuantity(value.substr(0, colon), Measure::length, units);
        if (!width) return width.problem().within(word);
        auto points = pointsFrom(colon < value.size() ? value.substr(colon + 1) : "", units);
        if (!points) return points.problem();
        step.strokes.push_back({std::move(*points), *width});
    } else if (*kind == Kind::tone) {
        const auto two = numbers(value.find(',') == std::string::npos ? value + ",0" : value, Measure::count, units, 2);
        if (!two) return two.problem();
        step.amount = (*two)[0], step.second = (*two)[1];
    } else if (!value.empty()) {
        const auto measure = *kind == Kind::straighten   ? Measure::angle
                             : *kind == Kind::despeckle  ? Measure::area
                             : *kind == Kind::blackWhite ? Measure::count
                                                         : Measure::length;
        const auto amount = parseQuantity(value, measure, units);
        if (!amount) return amount.problem().within(word);
        step.amount = *amount;
    }
    return step;
}

} // namespace ferro::cli
