#pragma once

#include "app/bench/bench_facts.h"
#include "app/bench/crowd_layer.h"
#include "job/by_hand.h"

#include <QPainterPath>
#include <QPixmap>
#include <QWidget>
#include <unordered_map>

namespace ferro::app {

/// The drawing area. Shows facts, turns gestures into wishes. y is up; 1 scene unit is 1 mm of the sheet.
class BenchView : public QWidget {
    Q_OBJECT
public:
    explicit BenchView(QWidget* parent = nullptr);

    void setFacts(BenchFacts facts);
    /// Asked about chosen pieces that are dragged out of the view to a place on the screen, and let go there: whether
    /// it takes them. Else they are moved.
    void setTaker(std::function<bool(const QPoint& at, bool dropped)> taker) { taker_ = std::move(taker); }
    [[nodiscard]] const BenchFacts& facts() const { return facts_; }
    void setTool(BenchTool tool);
    [[nodiscard]] BenchTool tool() const { return tool_; }

    void fitStock();
    void fitSelection();
    void fitAll(); ///< the sheet and what is chosen
    void zoomBy(double factor, QPointF about);
    void centreOn(Vec2 at);
    [[nodiscard]] double zoom() const { return scale_; } ///< px per mm
    [[nodiscard]] QPointF toScreen(Vec2 p) const;
    [[nodiscard]] Vec2 toSheet(QPointF p) const;
    /// Bounds of the selection as shown now, in the middle of a drag too.
    [[nodiscard]] Box shownBounds() const;
    /// Whether a crowd of pieces is still being drawn.
    [[nodiscard]] bool isBehind() const { return crowd_.isBehind() || lifted_.isBehind(); }
    /// How long the last paint took, ms.
    [[nodiscard]] double frameTime() const { return frameTime_; }

Q_SIGNALS:
    void selectAsked(const ferro::artwork::Ids& items);
    /// What is asked with the same gesture, but 0, is one edit.
    void transformAsked(const QString& label, const ferro::Transform& by, quint64 gesture);
    /// What is chosen would lie elsewhere, or a shape be drawn, if the drag ended now.
    void movePreviewed(const ferro::Transform& by);
    void shapePreviewed(ferro::Vec2 from, ferro::Vec2 to);
    /// A handle was clicked: its corner or side stays; clicked once more, the middle does.
    void staysAsked(ferro::Vec2 of);
    /// One of several that are chosen was clicked once more: the others are arranged by it.
    void keyAsked(ferro::artwork::ItemId item);
    void tabsAsked(ferro::plan::StepId step, ferro::artwork::ItemId item, int opening,
                   const std::vector<double>& along);
    /// Where an outline is to begin, 0 to 1 along it; below 0: where it suits.
    void startAsked(ferro::plan::StepId step, ferro::artwork::ItemId item, int opening, double along);
    void areaAsked(const ferro::Ring& corners);
    void colourAsked(ferro::Vec2 at);
    void brushAsked(bool erases, const ferro::Ring& points);
    void shapeAsked(ferro::Vec2 from, ferro::Vec2 to);
    void pointsChosen(const ferro::mend::PointRefs& points);
    void pointsMoveAsked(ferro::Vec2 by);
    void handleMoveAsked(const ferro::mend::PointRef& point, ferro::Side side, ferro::Vec2 to, bool alone);
    void bulgeAsked(const ferro::mend::PointRef& from, ferro::Vec2 through);
    void pointAddAsked(const ferro::mend::PointRef& from, double t);
    void bridgeMoveAsked(const ferro::mend::BridgePlace& bridge, ferro::Vec2 to);
    void bridgeAwayAsked(const ferro::mend::BridgePlace& bridge);
    void clampMoveAsked(std::size_t index, ferro::Vec2 low);
    void clampAsked(const ferro::Box& area);
    void filesDropped(const QList<QUrl>& files);
    void imageDropped(const QImage& image);
    /// What can be done with the piece under the pointer, or where none is; the piece is chosen.
    void menuAsked(QPoint at, bool onPiece);
    void measured(ferro::Vec2 from, ferro::Vec2 to);
    void textAsked(); ///< a text was double-clicked and is chosen
    void pointerMoved(ferro::Vec2 at);
    void shownChanged(); ///< zoom or the bounds in a drag

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void fit(const Box& box);
    bool openText(Vec2 at);
    friend class BenchPainter;
    enum class Drag {
        none,
        pan,
        band,
        move,
        scale,
        turn,
        tab,
        start,
        bridge,
        clamp,
        newClamp,
        area,
        brush,
        measure,
        shape,
        points,
        handle,
        bulge,
        pointBand
    };
    struct Handle {
        QPointF at;
        int x = 0, y = 0; ///< -1, 0, 1: which side of the box; both 0: the turn handle
        bool turns = false;
    };
    [[nodiscard]] std::vector<Handle> handles() const;
    void hoverShape(QPointF at, Qt::KeyboardModifiers modifiers);
    void pressShape(QMouseEvent* event);
    void pressSelect(QMouseEvent* event);
    void dragTo(QPointF screen, Qt::KeyboardModifiers modifiers);
    void dragMove(Vec2 now, Qt::KeyboardModifiers modifiers);
    [[nodiscard]] bool takenHoldOf();
    void dragScale(Vec2 now, Qt::KeyboardModifiers modifiers);
    [[nodiscard]] Vec2 snappedPlace(Vec2 at);
    void dragShape(Vec2 now, Qt::KeyboardModifiers modifiers);
    void pressPoints(QMouseEvent* event);
    void dragPoints(Vec2 now, Qt::KeyboardModifiers modifiers);
    void releasePoints(Drag done, Qt::KeyboardModifiers modifiers);
    struct Grip { ///< the middle of a line or an arc that can be drawn into a bend
        mend::PointRef from;
        Vec2 at;
    };
    [[nodiscard]] std::vector<Grip> grips() const;
    [[nodiscard]] Box selectionBox() const { return selectionBox_; }
    void nudge(Vec2 by);
    [[nodiscard]] const job::ByHand* amongOthers();
    void updateCursor(QPointF at);
    [[nodiscard]] double reach() const { return 6 / scale_; }

    quint64 nudge_ = 0; ///< the gesture of arrow keys that is under way
    BenchFacts facts_;
    std::function<bool(const QPoint&, bool)> taker_;
    std::vector<artwork::ItemId> chosen_; // the selection, ascending
    Box selectionBox_;
    BenchTool tool_ = BenchTool::select;
    double scale_ = 1;
    QPointF origin_; // screen place of 0,0
    bool fitted_ = false;

    Drag drag_ = Drag::none;
    bool beyondThreshold_ = false;
    bool wasChosen_ = false; // what was pressed on, before
    QPointF pressedAt_, lastAt_;
    Vec2 from_, to_;
    Transform preview_;
    Snapped snap_;
    Handle grabbed_;
    struct {
        std::shared_ptr<const job::ByHand> others; // of the drag
        Vec2 at;                                   // how far it has got
        job::ByHand::Hit hit;
    } hand_;
    std::optional<TabHit> tab_;
    Ring brushed_; // of the stroke being drawn
    struct {
        mend::PointRef ref; // what is dragged
        Side side = Side::before;
        Vec2 at;            // where it was
        bool holds = false; // of pieces: by a point or a centre
        std::shared_ptr<const mend::Snaps> snaps;
        std::vector<Vec2> neighbours;
        std::optional<mend::Snap> snap;
        std::optional<artwork::Artwork> shown; // the pieces touched, as they would be
    } pointDrag_;
    std::shared_ptr<const mend::Snaps> drawSnaps_; // of all pieces, as long as they are these
    std::shared_ptr<const artwork::Artwork> drawSnapsOf_;
    std::size_t clamp_ = 0, bridge_ = 0;
    QString hover_;
    QPointF hoverAt_;
    double frameTime_ = 0;

    // Kept with their leaves, so that a leaf's address stands for it as long as the entry lives.
    struct DrawnShape {
        artwork::Leaf leaf;
        QPainterPath path;
    };
    struct DrawnPicture {
        artwork::Leaf leaf;
        QPixmap pixmap;
    };
    std::unordered_map<const void*, DrawnShape> outlines_;
    std::unordered_map<const void*, DrawnPicture> pictures_;
    /// The surface as it was last drawn smaller than it is.
    struct SmallSurface {
        qint64 of = 0; ///< its key
        QImage image;
    } smallSurface_;
    CrowdLayer crowd_, lifted_; ///< all of a crowd, and the many of it that are being moved
};

} // namespace ferro::app
