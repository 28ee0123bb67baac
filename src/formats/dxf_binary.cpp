#include "formats/dxf_binary_internal.h"

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>
#include <optional>

namespace ferro::formats {

namespace {

constexpr std::string_view mark = "Binary DXF\r\n\x1a"; // a name comes before it, a zero after it

enum class Width { text, real, byte, whole16, whole32, whole64, chunk };

Width widthOf(int code) {
    struct Range {
        int first, last;
        Width width;
    };
    static constexpr Range ranges[] = {
        {10, 59, Width::real},        {60, 79, Width::whole16},   {90, 99, Width::whole32},
        {110, 149, Width::real},      {160, 169, Width::whole64}, {170, 179, Width::whole16},
        {210, 239, Width::real},      {270, 289, Width::whole16}, {290, 299, Width::byte},
        {310, 319, Width::chunk},     {370, 389, Width::whole16}, {400, 409, Width::whole16},
        {420, 429, Width::whole32},   {440, 459, Width::whole32}, {460, 469, Width::real},
        {1004, 1004, Width::chunk},   {1010, 1059, Width::real},  {1060, 1070, Width::whole16},
        {1071, 1071, Width::whole32},
    };
    for (const auto& r : ranges)
        if (code >= r.first && code <= r.last) return r.width;
    return Width::text;
}

class BinaryReader {
public:
    explicit BinaryReader(std::string_view bytes) : bytes_(bytes) {
        at_ = std::min(bytes_.find(mark) + mark.size() + 1, bytes_.size());
        // The first code is 0: one zero before the word that it gives, or two.
        wide_ = at_ + 1 < bytes_.size() && bytes_[at_ + 1] == 0;
    }

    DxfText read() {
        while (at_ < bytes_.size()) {
            const std::size_t from = at_;
            const auto code = takeCode();
            if (!code || !takeValue(*code)) {
                out_.damage = fmt::format("byte {}: the file ends in the middle of a pair", from);
                break;
            }
            if (*code == 0 && out_.text.ends_with("\nEOF\n")) break;
        }
        return std::move(out_);
    }

private:
    template<class T> std::optional<T> take() {
        if (bytes_.size() - at_ < sizeof(T)) return std::nullopt;
        unsigned char raw[sizeof(T)];
        std::memcpy(raw, bytes_.data() + at_, sizeof(T));
        at_ += sizeof(T);
        if constexpr (std::endian::native == std::endian::big) std::reverse(std::begin(raw), std::end(raw));
        return std::bit_cast<T>(raw);
    }
    std::optional<int> takeCode() {
        if (wide_) return take<std::int16_t>();
        const auto narrow = take<std::uint8_t>();
        return narrow && *narrow == 255 ? std::optional<int>(take<std::int16_t>()) : std::optional<int>(narrow);
    }
    template<class T> bool put(int code, std::optional<T> value) {
        if (value) out_.text += fmt::format("{}\n{}\n", code, *value);
        return value.has_value();
    }
    bool takeValue(int code) {
        switch (widthOf(code)) {
        case Width::real: return put(code, take<double>());
        case Width::byte: return put(code, take<std::uint8_t>());
        case Width::whole16: return put(code, take<std::int16_t>());
        case Width::whole32: return put(code, take<std::int32_t>());
        case Width::whole64: return put(code, take<std::int64_t>());
        case Width::chunk: {
            const auto size = take<std::uint8_t>();
            if (!size || bytes_.size() - at_ < *size) return false;
            at_ += *size;
            return put(code, std::optional(std::string_view{}));
        }
        case Width::text: break;
        }
        const auto end = bytes_.find('\0', at_);
        if (end == std::string_view::npos) return false;
        std::string value(bytes_.substr(at_, end - at_));
        std::replace_if(
            value.begin(), value.end(), [](char c) { return c == '\n' || c == '\r'; }, ' ');
        at_ = end + 1;
        return put(code, std::optional(value));
    }

    std::string_view bytes_;
    std::size_t at_ = 0;
    bool wide_ = false;
    DxfText out_;
};

} // namespace

bool isBinaryDxf(std::string_view bytes) { return bytes.substr(0, 64).find(mark) != std::string_view::npos; }

DxfText dxfTextFromBinary(std::string_view bytes) { return BinaryReader(bytes).read(); }

} // namespace ferro::formats
