#pragma once

#include <atomic>
#include <cstddef>
#include <functional>

namespace ferro {

/// How far long work has come, and whether someone wants it to stop. One explicit argument, safe to share by threads.
class Progress {
public:
    Progress() = default;
    /// `told` is called with the fraction done, 0 to 1, from whichever thread does the work.
    explicit Progress(std::function<void(double)> told) : told_(std::move(told)) {}
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;

    void cancel() { cancelled_ = true; }
    [[nodiscard]] bool cancelled() const { return cancelled_; }

    void at(std::size_t done, std::size_t of) {
        at(of == 0 ? 1.0 : static_cast<double>(done) / static_cast<double>(of));
    }
    void at(double fraction) {
        const double whole = from_ + fraction * (to_ - from_);
        fraction_ = whole;
        if (told_) told_(whole);
    }
    [[nodiscard]] double fraction() const { return fraction_; }

    /// The part of the whole that the next stage fills; set by the caller that lines the stages up.
    void stage(double from, double to) {
        from_ = from;
        to_ = to;
    }

private:
    std::function<void(double)> told_;
    std::atomic<bool> cancelled_ = false;
    std::atomic<double> fraction_ = 0;
    double from_ = 0, to_ = 1;
};

} // namespace ferro
