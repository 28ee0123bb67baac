#pragma once

#include <QImage>
#include <QObject>
#include <QTimer>
#include <QVariantAnimation>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "proof/proof.h"
#include "proof/round.h"
#endif

namespace ferro::app {

class Session;

/// The piece in the round, at the moment that the proof looks at: drawn in the background, quickly while it turns, in
/// full sharpness when it stands still.
class Turner : public QObject {
    Q_OBJECT
public:
    explicit Turner(Session& session);

    [[nodiscard]] bool isOn() const { return on_; }
    /// From the plan as it is seen now: its middle and px per mm.
    void setOn(bool on, Vec2 centre, double scale);
    [[nodiscard]] const proof::RoundView& view() const { return view_; }
    void setView(const proof::RoundView& view);
    void setSize(QSize pixels);
    /// Seen as at the beginning, the whole sheet.
    void home();
    void zoomBy(double factor, Vec2 about); ///< px from the upper left
    void lookAt(Vec2 place);

    [[nodiscard]] const QImage& image() const { return image_; }
    /// From where that picture is seen.
    [[nodiscard]] const proof::RoundView& imageView() const { return imageView_; }
    [[nodiscard]] bool isSharp() const { return sharp_; }
    /// What is seen at a pixel of the picture, if that is a place of the piece.
    [[nodiscard]] std::optional<toolpath::Vec3> placeAt(Vec2 pixel) const;

Q_SIGNALS:
    void changed();

private:
    struct Drawn;
    [[nodiscard]] bool isSeen() const;
    void put(const proof::RoundView& view);
    void arrive();
    void draw();
    void begin(bool fine);
    [[nodiscard]] std::optional<proof::ShownTool> tool() const;

    Session& session_;
    bool on_ = false, wanted_ = false, sharp_ = false;
    proof::RoundView view_, imageView_;
    QImage image_;
    std::vector<float> heights_;
    std::shared_ptr<const proof::Solid> solid_; ///< of the whole sheet
    std::shared_ptr<const proof::Solid> near_;  ///< finer, of what was seen when it last stood still
    QTimer still_;
    QVariantAnimation way_; ///< from plan to round
    proof::RoundView end_;  ///< of that way
};

} // namespace ferro::app
