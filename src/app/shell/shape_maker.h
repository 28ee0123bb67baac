#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "artwork/edits.h"
#include "geometry/shapes.h"
#endif

namespace ferro::app {

class Session;

/// Basic shapes by drag and by numbers: which one, its settings, and the edit that adds it.
class ShapeMaker : public QObject {
    Q_OBJECT
public:
    explicit ShapeMaker(Session& session) : session_(session) {}

    /// While the Draw tool is in hand.
    void setActive(bool active);
    [[nodiscard]] bool isActive() const { return active_; }
    [[nodiscard]] const ShapeSettings& settings() const { return settings_; }
    void setSettings(const ShapeSettings& settings);
    /// The artwork with the shape, on the layer of what is chosen or on "drawing".
    [[nodiscard]] Result<artwork::Added> drawn(Vec2 from, Vec2 to) const;
    /// Adds it and chooses it.
    void make(Vec2 from, Vec2 to);

Q_SIGNALS:
    void changed();

private:
    Session& session_;
    ShapeSettings settings_;
    bool active_ = false;
};

} // namespace ferro::app
