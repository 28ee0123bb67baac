#pragma once

#include "app/shell/session.h"

#include <QFrame>
#include <QLabel>

namespace ferro::app {

/// What has just come in, how large it says it is, and the choice of another size while it is still at hand.
class ArrivalBar : public QFrame {
    Q_OBJECT
public:
    explicit ArrivalBar(Session& session, QWidget* parent = nullptr);
    void show(const artwork::Ids& items, Vec2 own, const QString& words);
    /// What was measured is so long: once, after *This distance is…* was asked for.
    void measured(Vec2 from, Vec2 to);
    [[nodiscard]] bool isMeasuring() const { return measuring_; }

Q_SIGNALS:
    void measureAsked();

private:
    void fit();
    void ownSize();
    Session& session_;
    QLabel* words_;
    artwork::Ids items_;
    Vec2 own_; ///< mm, their own size
    bool measuring_ = false;
};

} // namespace ferro::app
