#pragma once

#include <cstdint>
#include <cstring>
#include <span>
#include <string_view>
#include <type_traits>

namespace ferro {

/// A content hash to cache derived results by: FNV-1a over eight bytes at a time with a final mix. Not for security.
class Hash {
public:
    Hash& bytes(const void* data, std::size_t size) {
        const auto* at = static_cast<const unsigned char*>(data);
        for (; size >= 8; at += 8, size -= 8) {
            std::uint64_t word = 0;
            std::memcpy(&word, at, 8);
            mix(word);
        }
        std::uint64_t rest = size;
        for (std::size_t i = 0; i < size; ++i) rest = rest << 8 | at[i];
        mix(rest);
        return *this;
    }
    template<class T>
    requires std::is_arithmetic_v<T> || std::is_enum_v<T> Hash& operator()(T value) {
        std::uint64_t word = 0;
        std::memcpy(&word, &value, sizeof(T));
        mix(word);
        return *this;
    }
    Hash& operator()(std::string_view text) { return bytes(text.data(), text.size()); }
    [[nodiscard]] std::uint64_t value() const { return state_ ^ state_ >> 29; }

private:
    void mix(std::uint64_t word) {
        state_ = (state_ ^ word) * 0x9E3779B97F4A7C15ull;
        state_ ^= state_ >> 32;
    }
    std::uint64_t state_ = 0xCBF29CE484222325ull;
};

} // namespace ferro
