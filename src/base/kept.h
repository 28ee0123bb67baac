#pragma once

#include <cstring>
#include <memory>
#include <mutex>
#include <string>
#include <type_traits>
#include <typeinfo>
#include <unordered_map>

namespace ferro {

/// What a piece of pure work is made of, to the last bit; other rooms add their own values with `operator<<`.
class KeptKey {
public:
    template<class... Parts> explicit KeptKey(const Parts&... parts) { ((*this << parts), ...); }
    template<class T>
    requires std::is_arithmetic_v<T> || std::is_enum_v<T> KeptKey& operator<<(T value) {
        const auto at = bytes_.size();
        bytes_.resize(at + sizeof(T));
        std::memcpy(bytes_.data() + at, &value, sizeof(T));
        return *this;
    }
    [[nodiscard]] const std::string& bytes() const { return bytes_; }

private:
    std::string bytes_;
};

/// Results of pure work by what they were made of, for work that is done again when little has changed: it gives what
/// the work itself would give, since all of what it is made of is compared. May be asked from several threads at once.
class Kept {
public:
    /// The result for `key`, made by `make` unless it is here. Without anything kept (null) it is made.
    template<class Make> [[nodiscard]] static auto of(Kept* kept, const KeptKey& key, Make&& make) {
        using Value = std::decay_t<decltype(make())>;
        if (!kept) return std::make_shared<const Value>(make());
        const auto whole = typeid(Value).name() + ('\0' + key.bytes());
        {
            const std::lock_guard lock(kept->mutex_);
            if (const auto at = kept->entries_.find(whole); at != kept->entries_.end()) {
                at->second.turn = kept->turn_;
                return std::static_pointer_cast<const Value>(at->second.value);
            }
        }
        auto made = std::make_shared<const Value>(make());
        const std::lock_guard lock(kept->mutex_);
        kept->entries_[whole] = {made, kept->turn_};
        return made;
    }
    /// One reckoning is done: what none of the last `turns` has asked for is forgotten.
    void turn(std::size_t turns = 3) {
        const std::lock_guard lock(mutex_);
        std::erase_if(entries_, [&](const auto& entry) { return entry.second.turn + turns <= turn_; });
        ++turn_;
    }
    [[nodiscard]] std::size_t size() const {
        const std::lock_guard lock(mutex_);
        return entries_.size();
    }

private:
    struct Entry {
        std::shared_ptr<const void> value;
        std::size_t turn;
    };
    mutable std::mutex mutex_;
    std::unordered_map<std::string, Entry> entries_;
    std::size_t turn_ = 0;
};

} // namespace ferro
