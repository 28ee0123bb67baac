#pragma once

#include "app/bench/bench_view.h"

#include <QPainter>
#include <QPainterPath>

namespace ferro::app {

/// Paints one frame of the bench, from the ground up.
class BenchPainter {
public:
    BenchPainter(BenchView& view, QPainter& painter) : view_(view), facts_(view.facts_), painter_(painter) {}
    void paint();

private:
    void stock();
    void otherBlanks();
    [[nodiscard]] QRectF sheetBox() const;
    [[nodiscard]] QPainterPath blankPath() const;
    void stockLook(const QRectF& sheet);
    void pictures();
    void pieces();
    void ribbons();
    [[nodiscard]] QPainterPath carved(const toolpath::StepMoves& step, const toolpath::Cut& cut) const;
    void tabs();
    void starts();
    void reach();
    void trace();
    void surface();
    void narrowCuts(double below);
    void deviation();
    void playheadTool();
    void clamps();
    void zero();
    void selection();
    void flaws();
    void bridges();
    void collision();
    void points();
    void shape();
    void snapMark();
    void areas();
    void measure();
    void rulers();
    void hover();
    void emptyWords();
    [[nodiscard]] QTransform toDevice(const Transform& place = {}) const;
    [[nodiscard]] bool isChosen(artwork::ItemId id) const {
        return std::binary_search(view_.chosen_.begin(), view_.chosen_.end(), id);
    }
    const QPainterPath& outlineOf(const artwork::Item& item);
    void strokePath(const Path& path, const QPen& pen);

    BenchView& view_;
    const BenchFacts& facts_;
    QPainter& painter_;
};

[[nodiscard]] QPainterPath painterPathOf(const Path& path);

} // namespace ferro::app
