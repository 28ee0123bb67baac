#include "app/bench/bench_view.h"

#include "app/theme/theme.h"
#include "app/widgets/quantity_field.h"
#include "geometry/flatten.h"

namespace ferro::app {

namespace {
constexpr int dragThreshold = 4; // px: no accidental nudges
}

BenchView::BenchView(QWidget* parent) : QWidget(parent) {
    setObjectName("bench");
    setAccessibleName(tr("Bench"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAcceptDrops(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(&theme(), &Theme::changed, this, [this] { update(); });
    for (auto* layer : {&crowd_, &lifted_}) connect(layer, &CrowdLayer::made, this, [this] { update(); });
}

void BenchView::setFacts(BenchFacts facts) {
    const bool otherSheet = !(facts.job.sheet().stock.width == facts_.job.sheet().stock.width &&
                              facts.job.sheet().stock.height == facts_.job.sheet().stock.height);
    if (facts.job.artwork != facts_.job.artwork) { // forget what is no longer drawn, but not at every edit
        if (outlines_.size() > 2 * facts.job.artwork->items.size() + 1000) outlines_.clear();
        if (pictures_.size() > 8) pictures_.clear();
    }
    if (facts.selection != facts_.selection) nudge_ = 0;
    facts_ = std::move(facts);
    chosen_ = facts_.selection;
    std::sort(chosen_.begin(), chosen_.end());
    selectionBox_ = {};
    for (const auto id : chosen_)
        if (const auto* item = artwork::find(*facts_.job.artwork, id)) selectionBox_.take(artwork::boundsOf(*item));
    if (otherSheet || !fitted_) fitStock();
    update();
    Q_EMIT shownChanged();
}

void BenchView::setTool(BenchTool tool) {
    tool_ = tool;
    drag_ = Drag::none;
    pointDrag_ = {};
    if (tool != BenchTool::draw) drawSnaps_.reset(), drawSnapsOf_.reset();
    update();
}

QPointF BenchView::toScreen(Vec2 p) const { return {origin_.x() + p.x * scale_, origin_.y() - p.y * scale_}; }
Vec2 BenchView::toSheet(QPointF p) const { return {(p.x() - origin_.x()) / scale_, (origin_.y() - p.y()) / scale_}; }

void BenchView::fitStock() {
    const Box box = job::trayOf(facts_.job.sheet());
    const double room = 44, w = width() - Theme::ruler - 2 * room, h = height() - Theme::ruler - 2 * room;
    if (w < 40 || h < 40) return;
    scale_ = std::min(w / box.width(), h / box.height());
    origin_ = {Theme::ruler + room + (w - box.width() * scale_) / 2,
               Theme::ruler + room + h - (h - box.height() * scale_) / 2};
    fitted_ = true;
    update();
    Q_EMIT shownChanged();
}

void BenchView::fitSelection() {
    const Box box = selectionBox();
    if (box.empty()) return fitStock();
    fit(box);
}

void BenchView::fitAll() {
    Box box = job::trayOf(facts_.job.sheet());
    if (box.contains(selectionBox()) || selectionBox().empty()) return fitStock();
    box.take(selectionBox());
    fit(box);
}

void BenchView::fit(const Box& box) {
    scale_ = std::clamp(
        std::min((width() - 120) / std::max(box.width(), 0.1), (height() - 120) / std::max(box.height(), 0.1)), 0.02,
        2000.0);
    centreOn(box.centre());
    Q_EMIT shownChanged();
}

void BenchView::centreOn(Vec2 at) {
    origin_ = {(width() + Theme::ruler) / 2.0 - at.x * scale_, (height() + Theme::ruler) / 2.0 + at.y * scale_};
    update();
}

void BenchView::zoomBy(double factor, QPointF about) {
    const Vec2 fixed = toSheet(about);
    scale_ = std::clamp(scale_ * factor, 0.02, 2000.0);
    origin_ += about - toScreen(fixed);
    update();
    Q_EMIT shownChanged();
}

void BenchView::wheelEvent(QWheelEvent* event) {
    if (event->modifiers() & Qt::ShiftModifier)
        origin_ += QPointF(event->angleDelta().y() / 2.0, 0), update();
    else
        zoomBy(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void BenchView::resizeEvent(QResizeEvent* event) {
    if (!fitted_ || event->oldSize().isEmpty()) return fitStock();
    origin_ += QPointF((event->size().width() - event->oldSize().width()) / 2.0,
                       (event->size().height() - event->oldSize().height()) / 2.0);
}

void BenchView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    nudge_ = 0;
    pressedAt_ = lastAt_ = event->position();
    from_ = to_ = toSheet(event->position());
    beyondThreshold_ = false;
    preview_ = {};
    snap_ = {};
    pointDrag_ = {};
    hand_ = {};
    if (event->button() == Qt::MiddleButton ||
        (event->button() == Qt::LeftButton && event->modifiers() & Qt::AltModifier)) {
        drag_ = Drag::pan;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (tool_ == BenchTool::points) {
        pressPoints(event);
    } else if (tool_ == BenchTool::draw) {
        pressShape(event);
    } else if (tool_ == BenchTool::measure) {
        drag_ = Drag::measure;
    } else if (tool_ == BenchTool::area) {
        drag_ = Drag::area;
        brushed_.clear();
        if (event->modifiers() & Qt::ShiftModifier) brushed_ = {from_}; // freely round a part
    } else if (tool_ == BenchTool::pick) {
        Q_EMIT colourAsked(from_);
    } else if (tool_ == BenchTool::erase || tool_ == BenchTool::ink) {
        drag_ = Drag::brush;
        brushed_ = {from_};
    } else if (tool_ == BenchTool::clamp || facts_.station == StationId::sheet) {
        for (std::size_t i = 0; i < facts_.job.sheet().clamps.size(); ++i)
            if (facts_.job.sheet().clamps[i].area.contains(from_)) {
                drag_ = Drag::clamp;
                clamp_ = i;
                return;
            }
        if (tool_ == BenchTool::clamp)
            drag_ = Drag::newClamp;
        else
            pressSelect(event);
    } else if (facts_.station == StationId::cuts) {
        tab_ = tabUnder(facts_, from_, reach());
        if (tab_ && event->modifiers() & Qt::ControlModifier) { // takes a tab away
            auto along = tab_->along;
            along.erase(along.begin() + static_cast<std::ptrdiff_t>(tab_->index));
            if (!along.empty()) Q_EMIT tabsAsked(tab_->step, tab_->item, tab_->opening, along);
            return;
        }
        const auto start = tab_ || tool_ == BenchTool::tab ? std::nullopt : startUnder(facts_, from_, reach());
        if (start) {
            tab_ = start;
            if (event->modifiers() & Qt::ControlModifier)
                Q_EMIT startAsked(tab_->step, tab_->item, tab_->opening, -1);
            else
                drag_ = Drag::start;
        } else if (tab_) {
            drag_ = Drag::tab;
        } else if (tool_ == BenchTool::tab) {
            if (auto hit = outlineUnder(facts_, from_, reach()))
                if (const auto at = alongOutline(*facts_.moves->pieces, hit->item, hit->opening, from_)) {
                    hit->along.push_back(*at);
                    Q_EMIT tabsAsked(hit->step, hit->item, hit->opening, hit->along);
                }
        } else {
            pressSelect(event);
        }
    } else if (const auto bridge = tool_ == BenchTool::select ? bridgeUnder(facts_, from_, reach()) : std::nullopt) {
        bridge_ = *bridge;
        if (event->modifiers() & Qt::ControlModifier)
            Q_EMIT bridgeAwayAsked(facts_.bridges[bridge_]);
        else
            drag_ = Drag::bridge;
    } else {
        pressSelect(event);
    }
    update();
}

void BenchView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    Q_EMIT pointerMoved(toSheet(at));
    if (drag_ == Drag::none) {
        const QString words = wordsUnder(facts_, toSheet(at), reach());
        if (words != hover_ || !words.isEmpty()) update();
        hover_ = words;
        hoverAt_ = at;
        updateCursor(at);
        if (tool_ == BenchTool::draw) hoverShape(at, event->modifiers());
        return;
    }
    if (drag_ == Drag::pan) {
        origin_ += at - lastAt_;
        lastAt_ = at;
        update();
        return;
    }
    if (!beyondThreshold_ && (at - pressedAt_).manhattanLength() < dragThreshold) return;
    beyondThreshold_ = true;
    if (drag_ == Drag::move && taker_)
        setCursor(taker_(event->globalPosition().toPoint(), false) ? Qt::DragMoveCursor : Qt::SizeAllCursor);
    dragTo(at, event->modifiers());
}

void BenchView::dragTo(QPointF screen, Qt::KeyboardModifiers modifiers) {
    const Vec2 now = toSheet(screen);
    to_ = now;
    if (drag_ >= Drag::points) {
        dragPoints(now, modifiers);
    } else if (drag_ == Drag::shape) {
        dragShape(now, modifiers);
    } else if (drag_ == Drag::brush || (drag_ == Drag::area && !brushed_.empty())) {
        if (distance(brushed_.back(), now) > 1 / scale_) brushed_.push_back(now);
    } else if (drag_ == Drag::move) {
        dragMove(now, modifiers);
    } else if (drag_ == Drag::scale) {
        dragScale(now, modifiers);
    } else if (drag_ == Drag::turn) {
        const Vec2 centre = selectionBox().centre(), v = now - centre;
        double angle = std::atan2(v.y, v.x) - pi / 2;
        if (!(modifiers & Qt::ControlModifier)) angle = std::round(angle / (pi / 12)) * (pi / 12); // 15° unless Ctrl
        preview_ = Transform::rotated(angle, centre);
    }
    if (drag_ == Drag::move || drag_ == Drag::scale || drag_ == Drag::turn)
        hand_.hit = amongOthers() ? amongOthers()->hit(preview_) : job::ByHand::Hit{};
    update();
    if (drag_ == Drag::move || drag_ == Drag::scale || drag_ == Drag::turn) Q_EMIT movePreviewed(preview_);
    if (drag_ == Drag::shape) Q_EMIT shapePreviewed(from_, to_);
    Q_EMIT shownChanged();
}

void BenchView::mouseReleaseEvent(QMouseEvent* event) {
    const Drag done = std::exchange(drag_, Drag::none);
    updateCursor(event->position());
    const Vec2 now = toSheet(event->position());
    if (done == Drag::shape) {
        pointDrag_ = {};
        if (beyondThreshold_) Q_EMIT shapeAsked(from_, to_);
    } else if (done >= Drag::points) {
        releasePoints(done, event->modifiers());
    } else if (done == Drag::band && beyondThreshold_) {
        Box box;
        box.take(from_);
        box.take(now);
        auto ids = artwork::withGroupMates(*facts_.job.artwork, itemsWithin(facts_, box));
        if (event->modifiers() & Qt::ShiftModifier)
            for (const auto id : facts_.selection)
                if (std::find(ids.begin(), ids.end(), id) == ids.end()) ids.push_back(id);
        Q_EMIT selectAsked(ids);
    } else if (!beyondThreshold_ && done == Drag::move && wasChosen_ && facts_.selection.size() > 1) {
        if (const auto* item = itemUnder(facts_, from_, reach())) Q_EMIT keyAsked(item->id);
    } else if (!beyondThreshold_ && done == Drag::scale) {
        const Vec2 of{double(grabbed_.x), double(grabbed_.y)};
        Q_EMIT staysAsked(of == facts_.stays ? Vec2{} : of);
    } else if (beyondThreshold_ && (done == Drag::move || done == Drag::scale || done == Drag::turn)) {
        const Transform by = preview_;
        preview_ = {};
        pointDrag_ = {};
        hand_ = {};
        if (done == Drag::move && taker_ && taker_(event->globalPosition().toPoint(), true))
            Q_EMIT shownChanged();
        else
            Q_EMIT transformAsked(done == Drag::move    ? tr("Move")
                                  : done == Drag::scale ? tr("Scale")
                                                        : tr("Turn"),
                                  by, 0);
    } else if (done == Drag::tab && tab_ && beyondThreshold_ && facts_.moves && facts_.moves->pieces) {
        if (const auto at = alongOutline(*facts_.moves->pieces, tab_->item, tab_->opening, now)) {
            tab_->along[tab_->index] = *at;
            Q_EMIT tabsAsked(tab_->step, tab_->item, tab_->opening, tab_->along);
        }
    } else if (done == Drag::start && tab_ && beyondThreshold_ && facts_.moves && facts_.moves->pieces) {
        if (const auto at = alongOutline(*facts_.moves->pieces, tab_->item, tab_->opening, now))
            Q_EMIT startAsked(tab_->step, tab_->item, tab_->opening, *at);
    } else if (done == Drag::area) {
        Ring corners;
        if (beyondThreshold_ && !brushed_.empty())
            corners = thinned(brushed_, 1 / scale_, true);
        else if (beyondThreshold_)
            corners = {from_, {now.x, from_.y}, now, {from_.x, now.y}};
        if (corners.size() < 3) corners.clear();
        brushed_.clear();
        Q_EMIT areaAsked(corners);
    } else if (done == Drag::brush) {
        Q_EMIT brushAsked(tool_ == BenchTool::erase, brushed_);
        brushed_.clear();
    } else if (done == Drag::bridge && beyondThreshold_ && bridge_ < facts_.bridges.size()) {
        Q_EMIT bridgeMoveAsked(facts_.bridges[bridge_], now);
    } else if (done == Drag::clamp && beyondThreshold_) {
        Q_EMIT clampMoveAsked(clamp_, facts_.job.sheet().clamps[clamp_].area.low + now - from_);
    } else if (done == Drag::newClamp) {
        Box box;
        box.take(from_);
        box.take(beyondThreshold_ ? now : from_ + Vec2{30, 20});
        Q_EMIT clampAsked(box);
    }
    if (done != Drag::measure)
        to_ = from_;
    else
        Q_EMIT measured(from_, to_);
    update();
}

bool BenchView::openText(Vec2 at) {
    const auto* item = itemUnder(facts_, at, reach());
    const auto& groups = facts_.job.artwork->groups;
    if (!item || std::none_of(groups.begin(), groups.end(),
                              [&](const artwork::Group& group) { return group.id == item->group && group.lettering; }))
        return false;
    Q_EMIT selectAsked(artwork::withGroupMates(*facts_.job.artwork, {item->id}));
    Q_EMIT textAsked();
    return true;
}

void BenchView::contextMenuEvent(QContextMenuEvent* event) {
    if (drag_ != Drag::none) return; // in the middle of something
    const bool byKey = event->reason() == QContextMenuEvent::Keyboard;
    if (byKey) {
        const Box box = selectionBox();
        const QPointF at = box.empty() ? QPointF(width() / 2.0, height() / 2.0) : toScreen(box.centre());
        return Q_EMIT menuAsked(mapToGlobal(at.toPoint()), !box.empty());
    }
    const auto* item = itemUnder(facts_, toSheet(event->pos()), reach());
    const bool chosen = item && std::binary_search(chosen_.begin(), chosen_.end(), item->id);
    if (item && !chosen) Q_EMIT selectAsked(artwork::withGroupMates(*facts_.job.artwork, {item->id}));
    Q_EMIT menuAsked(event->globalPos(), item != nullptr);
}

void BenchView::nudge(Vec2 by) {
    if (tool_ == BenchTool::points && !facts_.chosenPoints.empty()) return void(Q_EMIT pointsMoveAsked(by));
    if (facts_.selection.empty()) return;
    // Arrow keys that follow on one another with nothing between are one edit.
    if (!nudge_) nudge_ = freshGesture();
    if (facts_.apart && facts_.station == StationId::sheet) {
        hand_ = {};
        if (const auto* others = amongOthers()) by = others->pushed({}, by);
        hand_ = {};
    }
    Q_EMIT transformAsked(tr("Nudge"), Transform::moved(by), nudge_);
}

void BenchView::keyPressEvent(QKeyEvent* event) {
    const double step = facts_.nudge * (event->modifiers() & Qt::ShiftModifier     ? 10
                                        : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                                   : 1);
    switch (event->key()) {
    case Qt::Key_Left: return nudge({-step, 0});
    case Qt::Key_Right: return nudge({step, 0});
    case Qt::Key_Up: return nudge({0, step});
    case Qt::Key_Down: return nudge({0, -step});
    case Qt::Key_Escape:
        drag_ = Drag::none;
        preview_ = {};
        pointDrag_ = {};
        hand_ = {};
        if (facts_.chosenPoints.empty())
            Q_EMIT selectAsked({});
        else
            Q_EMIT pointsChosen({});
        return update();
    case Qt::Key_Shift:
    case Qt::Key_Control: return QWidget::keyPressEvent(event); // part of what follows
    default: nudge_ = 0; QWidget::keyPressEvent(event);
    }
}

void BenchView::focusOutEvent(QFocusEvent* event) {
    nudge_ = 0;
    QWidget::focusOutEvent(event);
}

void BenchView::leaveEvent(QEvent*) {
    hover_.clear();
    if (drag_ == Drag::none) pointDrag_ = {};
    update();
}

void BenchView::updateCursor(QPointF at) {
    if (tool_ != BenchTool::select) return setCursor(Qt::CrossCursor);
    for (const auto& handle : handles())
        if ((at - handle.at).manhattanLength() <= 9) {
            if (handle.turns) return setCursor(Qt::PointingHandCursor);
            if (handle.x == 0) return setCursor(Qt::SizeVerCursor);
            if (handle.y == 0) return setCursor(Qt::SizeHorCursor);
            return setCursor(handle.x * handle.y > 0 ? Qt::SizeBDiagCursor : Qt::SizeFDiagCursor);
        }
    setCursor(Qt::ArrowCursor);
}

void BenchView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() || event->mimeData()->hasImage()) event->acceptProposedAction();
}

void BenchView::dropEvent(QDropEvent* event) {
    event->acceptProposedAction();
    if (event->mimeData()->hasUrls())
        Q_EMIT filesDropped(event->mimeData()->urls());
    else if (event->mimeData()->hasImage())
        Q_EMIT imageDropped(qvariant_cast<QImage>(event->mimeData()->imageData()));
}

} // namespace ferro::app
