#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "mend/points.h"
#endif

namespace ferro::app {

class Session;

/// The points of the chosen pieces while they are edited: which are chosen, and what is asked of them.
class PointEditor : public QObject {
    Q_OBJECT
public:
    explicit PointEditor(Session& session);

    /// While the Points tool is in hand.
    void setActive(bool active);
    [[nodiscard]] bool isActive() const { return active_; }
    [[nodiscard]] const std::vector<mend::PointMark>& marks() const { return marks_; }
    [[nodiscard]] const mend::PointRefs& chosen() const { return chosen_; }
    void choose(mend::PointRefs points);
    void chooseAll();
    /// The middle of the chosen points' bounds; of one point its place.
    [[nodiscard]] std::optional<Vec2> place() const;

    void move(Vec2 by, quint64 gesture = 0);
    void moveHandle(const mend::PointRef& point, Side side, Vec2 to, bool alone);
    void bulge(const mend::PointRef& from, Vec2 through);
    void add(const mend::PointRef& from, double t);
    void remove();
    void form(mend::PointForm form);
    void split();
    void join();

Q_SIGNALS:
    void changed();

private:
    void refresh();
    void take(const QString& label, Result<mend::PointEdit> edit, quint64 gesture = 0);
    [[nodiscard]] const artwork::Artwork& art() const;

    Session& session_;
    bool active_ = false;
    std::vector<mend::PointMark> marks_;
    mend::PointRefs chosen_;
};

} // namespace ferro::app
