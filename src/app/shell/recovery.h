#pragma once

#include <QString>

namespace ferro::app {

/// The copy of a changed job that is kept in the user's data folder. Each window has a name of its own there and holds
/// a lock beside it: a copy whose lock nobody holds was left by a window that did not end in order. A lock ends with
/// its process, so it tells across containers and reused process numbers.
class Recovery {
public:
    Recovery();
    ~Recovery();
    Recovery(const Recovery&) = delete;
    Recovery& operator=(const Recovery&) = delete;

    [[nodiscard]] const QString& file() const { return file_; }
    /// Nothing is left to recover of this window.
    void clear() const;
    /// The youngest copy that was left behind; empty: none.
    [[nodiscard]] QString left() const;
    /// Makes a left copy this window's own, so that it is there at every moment.
    void adopt(const QString& left) const;
    static void discard(const QString& left);

private:
    QString file_;
    int lock_ = -1;
};

} // namespace ferro::app
