#include "formats/dxf_binary_internal.h"
#include "formats/dxf_pairs_internal.h"
#include "formats/dxf_text_internal.h"

#include <charconv>
#include <set>
#include <vector>

namespace ferro::formats {

namespace {

struct Pair {
    int code;
    std::string_view value;
};

std::string_view trimmed(std::string_view s) {
    while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.remove_prefix(1);
    while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r')) s.remove_suffix(1);
    return s;
}
long wholeNumber(std::string_view s, long otherwise = 0) {
    long value = otherwise;
    s = trimmed(s);
    std::from_chars(s.data(), s.data() + s.size(), value);
    return value;
}

class Pairs {
public:
    explicit Pairs(std::string_view text) : rest_(text) {}
    std::size_t line = 0;
    std::string damage;

    bool next(Pair& pair) {
        if (rest_.empty()) return false;
        const auto code = trimmed(takeLine());
        if (code.empty() && trimmed(rest_).empty()) return false;
        int number = 0;
        const auto [end, error] = std::from_chars(code.data(), code.data() + code.size(), number);
        if (error != std::errc{} || end != code.data() + code.size() || number < -5 || number > 1071) {
            damage = fmt::format("line {}: “{}” is no group code", line, code.substr(0, 40));
            return false;
        }
        if (rest_.empty()) {
            damage = fmt::format("line {}: the file ends in the middle of a pair", line);
            return false;
        }
        pair = {number, takeLine()};
        if (pair.code < 1 || pair.code > 9) pair.value = trimmed(pair.value); // only texts keep their spaces
        return true;
    }

private:
    std::string_view takeLine() {
        ++line;
        const auto end = rest_.find('\n');
        auto here = rest_.substr(0, end);
        rest_ = end == std::string_view::npos ? std::string_view{} : rest_.substr(end + 1);
        if (!here.empty() && here.back() == '\r') here.remove_suffix(1);
        return here;
    }
    std::string_view rest_;
};

/// Codes whose value the library makes room by, with the code that they count; 0: any.
const std::map<int, int>* countCodes(std::string_view kind) {
    static const std::map<std::string_view, std::map<int, int>> codes = {
        {"LWPOLYLINE", {{90, 10}}},
        {"SPLINE", {{72, 40}, {73, 10}, {74, 11}}},
        {"LEADER", {{76, 10}}},
        {"HATCH", {{91, 0}, {93, 0}, {95, 0}, {96, 0}, {97, 0}}}};
    const auto at = codes.find(kind);
    return at == codes.end() ? nullptr : &at->second;
}

class Filter {
public:
    Result<DxfPairs> run(std::string_view text) {
        // The library measures a long text's angle by what it takes for the version of itself that wrote the file,
        // which it leaves to chance where no comment tells it: by a late one, in degrees.
        put(999, "dxflib 3.26.4.0");
        Pairs pairs(text);
        Pair pair{};
        std::vector<Pair> thing; // from one code 0 to the next
        bool embeds = false;     // an object within it, whose codes mean other things: the columns of a text
        while (pairs.next(pair)) {
            if (pair.code == 999) continue;
            if (pair.code == 0) {
                finish(thing);
                thing.clear();
                embeds = false;
            }
            embeds |= pair.code == 101;
            if (!embeds) thing.push_back(pair);
        }
        finish(thing);
        if (!polyline_.empty()) putPolyline(); // the file breaks off in it
        if (!sections_)
            return Problem{.what = "This is no DXF drawing.",
                           .where = pairs.damage.empty() ? "" : pairs.damage,
                           .mend = "Choose a DXF file, or save the drawing as one once more."};
        out_.damage = pairs.damage;
        if (out_.damage.empty() && !ended_)
            out_.damage = fmt::format("line {}: the file ends without its end mark", pairs.line);
        out_.text += "0\nEOF\n";
        return std::move(out_);
    }

private:
    void put(int code, std::string_view value) {
        char number[8];
        const auto end = std::to_chars(number, number + sizeof number, code).ptr;
        out_.text.append(number, end) += '\n';
        // The library reads into lines of 1024; a longer one would be taken for two.
        out_.text.append(value.substr(0, 1000)) += '\n';
    }

    /// What the library would read and nobody asks for: handles, subclasses, owners, line types, weights, and how high
    /// flat things lie.
    static bool saysNothing(std::string_view kind, int code) {
        if (code == 5 || code == 6 || code == 48 || code == 100 || code == 102 || code == 105 || code == 330 ||
            code == 360 || code == 370)
            return true;
        static const std::set<std::string_view> flat = {"LINE", "ARC", "CIRCLE", "POINT", "LWPOLYLINE", "POLYLINE"};
        return (code == 30 || code == 31) && flat.contains(kind);
    }

    /// A polyline of the old kind goes on as one of the new, all its vertices in one: the library takes three times as
    /// long for one by one.
    void takeVertex(const std::vector<Pair>& thing) {
        std::string_view x = "0", y = "0", bulge;
        for (const auto& [code, value] : thing) {
            if (code == 10) x = value;
            if (code == 20) y = value;
            if (code == 42) bulge = value;
        }
        vertices_.push_back({10, x});
        vertices_.push_back({20, y});
        if (!bulge.empty()) vertices_.push_back({42, bulge});
        ++vertexCount_;
    }
    void putPolyline() {
        put(0, "LWPOLYLINE");
        long flags = 0;
        for (const auto& [code, value] : polyline_) {
            if (code == 70) flags = wholeNumber(value) & 1;
            if (code == 8 || code == 62 || code == 210 || code == 220 || code == 230) put(code, value);
        }
        put(90, std::to_string(vertexCount_));
        put(70, std::to_string(flags));
        for (const auto& [code, value] : vertices_) put(code, value);
        polyline_.clear(), vertices_.clear(), vertexCount_ = 0;
    }

    /// What it says of the block before it.
    void takeAttribute(const std::vector<Pair>& thing) {
        std::string_view tag, value;
        for (const auto& [code, text] : thing) {
            if (code == 2) tag = text;
            if (code == 1) value = text;
        }
        if (inserts_ > 0 && !tag.empty() && !value.empty())
            out_.attributes[inserts_ - 1].emplace_back(textFromDxf(trimmed(tag)), textFromDxf(trimmed(value)));
    }
    /// A block's own text is a text like any other; its vertical place has another code.
    void putAttribute(const std::vector<Pair>& thing) {
        put(0, "TEXT");
        for (const auto& [code, value] : thing)
            if (code != 0 && code != 2 && code != 70 && code != 73 && !saysNothing("TEXT", code))
                put(code == 74 ? 73 : code, value);
    }
    /// A dimension is drawn by a block of its own, where it stands.
    void putDimension(const std::vector<Pair>& thing) {
        put(0, "INSERT");
        for (const auto& [code, value] : thing)
            if (code == 2 || code == 8) put(code, value);
    }

    void finish(const std::vector<Pair>& thing) {
        if (thing.empty() || thing.front().code != 0) return;
        const auto kind = thing.front().value;
        if (kind == "EOF") return void(ended_ = true);
        if (kind == "SECTION") {
            section_ = thing.size() > 1 ? thing[1].value : std::string_view{};
            ++sections_;
            if (section_ == "HEADER") header(thing);
        }
        // Objects, classes and pictures of the preview say nothing about outlines.
        if (section_ != "HEADER" && section_ != "TABLES" && section_ != "BLOCKS" && section_ != "ENTITIES") return;
        const bool drawn = section_ == "BLOCKS" || section_ == "ENTITIES";
        if (section_ == "ENTITIES" && kind == "ATTRIB") takeAttribute(thing);                   // seen or not
        if (drawn && kind != "VERTEX" && kind != "SEQEND" && !polyline_.empty()) putPolyline(); // without its end
        if (drawn && !wanted(kind, thing)) return;
        if (drawn && kind == "POLYLINE") return void(polyline_ = thing);
        if (drawn && kind == "VERTEX") return takeVertex(thing);
        if (drawn && kind == "SEQEND") return putPolyline();
        if (section_ == "ENTITIES" && (kind == "INSERT" || kind == "DIMENSION")) ++inserts_;
        if (drawn && kind == "ATTRIB") return putAttribute(thing);
        if (drawn && kind == "DIMENSION") return putDimension(thing);
        const auto* counts = countCodes(kind);
        for (const auto& [code, value] : thing) {
            if (drawn && saysNothing(kind, code)) continue;
            const auto counted = counts ? counts->find(code) : std::map<int, int>::const_iterator{};
            if (!counts || counted == counts->end()) {
                put(code, value);
                continue;
            }
            const auto there = std::count_if(thing.begin(), thing.end(), [&](const Pair& p) {
                return counted->second == 0 || p.code == counted->second;
            });
            put(code, std::to_string(std::clamp(wholeNumber(value), 0L, static_cast<long>(there))));
        }
    }

    bool wanted(std::string_view kind, const std::vector<Pair>& thing) {
        static const std::set<std::string_view> structure = {"SECTION", "ENDSEC", "BLOCK", "ENDBLK", "SEQEND"};
        static const std::set<std::string_view> read = {"LINE",   "ARC",    "CIRCLE", "ELLIPSE", "LWPOLYLINE", "SPLINE",
                                                        "INSERT", "HATCH",  "POINT",  "SOLID",   "TRACE",      "TEXT",
                                                        "MTEXT",  "3DFACE", "ATTRIB", "LEADER"};
        if (structure.contains(kind)) {
            if (kind == "SEQEND") return std::exchange(inPolyline_, false);
            return true;
        }
        if (kind == "VERTEX") {
            // 16: a control point of a smoothed polyline, which is drawn by its other vertices.
            for (const auto& [code, value] : thing)
                if (code == 70 && (wholeNumber(value) & 16)) return false;
            return inPolyline_;
        }
        bool invisible = false, paper = false, named = false;
        long flags = 0;
        for (const auto& [code, value] : thing) {
            if (code == 60) invisible |= wholeNumber(value) == 1;
            if (code == 67) paper |= wholeNumber(value) == 1;
            if (code == 70) flags = wholeNumber(value);
            if (code == 2) named |= !value.empty();
        }
        if (kind == "ATTRIB") invisible |= (flags & 1) != 0;
        const bool mesh = kind == "POLYLINE" && (flags & (16 | 64));
        if (kind == "POLYLINE") inPolyline_ = !(invisible || paper || mesh);
        if (invisible || paper)
            ++out_.leftOut[invisible ? "invisible" : "on the paper sheet"];
        else if (mesh)
            ++out_.leftOut["mesh"];
        else if (kind == "POLYLINE" || read.contains(kind) || (kind == "DIMENSION" && named))
            return true;
        else if (kind != "ATTDEF" && kind != "VIEWPORT")
            ++out_.leftOut[textFromDxf(kind.substr(0, 40))];
        return false;
    }

    void header(const std::vector<Pair>& thing) {
        std::string_view name;
        for (const auto& [code, value] : thing) {
            if (code == 9) name = trimmed(value);
            if (code == 70 && name == "$INSUNITS") out_.unit = static_cast<int>(wholeNumber(value));
            if (code == 70 && name == "$MEASUREMENT") out_.measurement = static_cast<int>(wholeNumber(value, -1));
        }
    }

    DxfPairs out_;
    std::vector<Pair> polyline_, vertices_;     // one of the old kind, as it is being read
    std::size_t vertexCount_ = 0, inserts_ = 0; // blocks put into the drawing itself
    std::string_view section_;
    int sections_ = 0;
    bool ended_ = false, inPolyline_ = false;
};

} // namespace

Result<DxfPairs> dxfPairsFrom(std::string_view text) {
    if (isBinaryDxf(text)) {
        const auto plain = dxfTextFromBinary(text);
        const auto words = utf8FromCodePage(plain.text);
        auto pairs = Filter().run(words ? *words : plain.text);
        if (pairs && !plain.damage.empty()) pairs->damage = plain.damage;
        return pairs;
    }
    if (text.substr(0, 3) == "\xEF\xBB\xBF") text.remove_prefix(3);
    const auto words = utf8FromCodePage(text);
    return Filter().run(words ? std::string_view(*words) : text);
}

} // namespace ferro::formats
