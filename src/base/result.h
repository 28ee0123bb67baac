#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace ferro {

/// The one error type. Worded for the person at the machine: what is wrong, where, and how to mend it.
struct Problem {
    std::string what;  ///< a sentence
    std::string where; ///< "ferry.svg, line 12"; empty when there is no place to name
    std::string mend;  ///< a sentence, empty when nothing can be done
    bool isCancelled = false;

    [[nodiscard]] static Problem cancelled() {
        return {.what = "Cancelled.", .where = {}, .mend = {}, .isCancelled = true};
    }

    /// The same problem, seen from the next layer out: `place` goes before what is known so far.
    [[nodiscard]] Problem within(const std::string& place) const {
        Problem outer = *this;
        outer.where = where.empty() ? place : place + ", " + where;
        return outer;
    }

    /// "ferry.svg, line 12: the path stops. Mend the file." as one line of text.
    [[nodiscard]] std::string text() const {
        return (where.empty() ? "" : where + ": ") + what + (mend.empty() ? "" : " " + mend);
    }

    friend bool operator==(const Problem&, const Problem&) = default;
};

/// Something a person should know although the work went on: an entity that was skipped, a size that was guessed.
struct Notice {
    std::string text;
    friend bool operator==(const Notice&, const Notice&) = default;
};

/// A value, or the problem that kept us from it. Both convert implicitly, so `return Problem{...}` reads well.
template<class T> class [[nodiscard]] Result : public tl::expected<T, Problem> {
    using Base = tl::expected<T, Problem>;

public:
    Result(T value) : Base(std::move(value)) {}
    Result(Problem problem) : Base(tl::unexpect, std::move(problem)) {}
    [[nodiscard]] const Problem& problem() const { return Base::error(); }
};

template<> class [[nodiscard]] Result<void> : public tl::expected<void, Problem> {
    using Base = tl::expected<void, Problem>;

public:
    Result() = default;
    Result(Problem problem) : Base(tl::unexpect, std::move(problem)) {}
    [[nodiscard]] const Problem& problem() const { return Base::error(); }
};

} // namespace ferro
