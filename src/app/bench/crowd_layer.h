#pragma once

#include "app/background/background.h"

#include <QColor>
#include <QImage>
#include <QPainter>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "artwork/artwork.h"
#endif

namespace ferro::app {

/// Pieces by the thousand, drawn on an image off the window's thread: the bench shows the newest one where it belongs,
/// stretched or shifted while it moves, and the next is made as soon as the last is done.
class CrowdLayer : public QObject {
    Q_OBJECT
public:
    /// Where the sheet lies on the screen: px per mm, and the place of 0,0.
    struct View {
        double scale = 1;
        QPointF origin;
        QSize size;
        double ratio = 1; ///< device px per px
        friend bool operator==(const View&, const View&) = default;
    };
    struct What {
        std::shared_ptr<const artwork::Artwork> artwork;
        std::vector<artwork::ItemId> chosen; ///< ascending
        QColor line, chosenLine;
        bool filled = false, onlyChosen = false;
        friend bool operator==(const What&, const What&) = default;
    };
    explicit CrowdLayer(QObject* parent = nullptr);

    /// `by`: where what is shown has been moved to on the sheet, a mere change of the image.
    void paint(QPainter& painter, const View& view, const What& what, const Transform& by = {});
    /// Whether what was painted last is not yet what was asked for.
    [[nodiscard]] bool isBehind() const { return background_.busy(); }

Q_SIGNALS:
    void made();

private:
    struct Drawn {
        View view;
        What what;
        QImage image;
    };
    void begin();
    [[nodiscard]] bool isCurrent() const { return drawn_ && drawn_->view == view_ && drawn_->what == what_; }
    [[nodiscard]] static QImage imageOf(const View& view, const What& what, Progress& progress);
    Background background_;
    View view_;
    What what_;
    std::optional<Drawn> drawn_;
};

} // namespace ferro::app
