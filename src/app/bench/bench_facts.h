#pragma once

#include "app/shell/session.h"

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "geometry/shapes.h"
#include "mend/bridges.h"
#include "mend/snaps.h"
#endif

namespace ferro::app {

enum class BenchTool { select, points, draw, measure, tab, clamp, area, erase, ink, pick };
enum class ProofView { surface, deviation };

/// All that the bench shows. It computes none of it.
struct BenchFacts {
    job::Job job;
    artwork::Ids selection;
    StationId station = StationId::source;
    plan::StepId step;
    std::shared_ptr<const toolpath::Toolpath> moves; ///< maybe of an older revision while new ones are planned
    std::shared_ptr<const proof::Proof> proof;       ///< maybe of older moves while a new one is made
    QImage surface;
    ProofView view = ProofView::surface;
    std::shared_ptr<const trace::Traced> trace;
    double blend = 0.6;                 ///< 0 picture alone, 1 trace alone
    std::optional<toolpath::Vec3> tool; ///< sheet coordinates, while a machine is connected
    double playhead = -1;
    std::shared_ptr<const mend::Audit> audit; ///< while its station is open
    int auditCurrent = -1;                    ///< the finding being looked at
    std::vector<mend::BridgePlace> bridges;   ///< while they can be moved
    std::vector<Path> proposals = {};         ///< what outlines would become
    Ring area = {};                           ///< drawn on a picture
    Box only = {};                            ///< all that is traced of it
    std::vector<Ring> patches = {};           ///< parts of a picture with settings of their own
    int patch = -1;                           ///< the one being set
    double brush = 2;                         ///< mm
    std::vector<mend::PointMark> points = {}; ///< of the chosen pieces, while they are edited
    mend::PointRefs chosenPoints = {};
    ShapeSettings shape = {};    ///< what the Draw tool draws
    bool underlay = true;        ///< whether traced pictures that lie below are seen
    artwork::ItemId traced = {}; ///< the picture at hand at Source
    artwork::ItemId key = {};    ///< the piece that the others are arranged by, of several that are chosen
    double nudge = 1;            ///< mm that an arrow key moves by
    double grid = 0;             ///< mm, what is dragged snaps to it; 0: to none
    struct Apart {               ///< mm that stay between pieces moved by hand, and to the sheet's edge
        double spacing = 0, margin = 0;
    };
    std::optional<Apart> apart = {};                   ///< none: they are moved freely
    std::shared_ptr<const toolpath::Reach> reach = {}; ///< what the tools do not get to, while that is seen
    std::vector<Path> goes = {};                       ///< outlines that would go
    Vec2 stays = {-1, -1}; ///< the handle of what stays when the chosen pieces are sized by number; 0,0: the middle
};

/// What lies under the pointer, in words; empty over nothing.
[[nodiscard]] QString wordsUnder(const BenchFacts& facts, Vec2 at, double reach);
/// The item under the pointer: the topmost edge within `reach` mm, else the smallest shape or picture it lies in.
[[nodiscard]] const artwork::Item* itemUnder(const BenchFacts& facts, Vec2 at, double reach);
[[nodiscard]] artwork::Ids itemsWithin(const BenchFacts& facts, const Box& area);

/// Where a dragged box snaps: the shift that brings an edge or middle of `moving` onto one of the stock's or of another
/// piece, or its lower left corner onto the grid; per axis, nothing beyond `reach`.
struct Snapped {
    Vec2 shift;
    std::optional<double> x, y; ///< the line snapped to, to be drawn
};
[[nodiscard]] Snapped snapped(const Box& moving, const std::vector<Box>& targets, double reach, double grid = 0,
                              Vec2 zero = {});

/// The bridge under a point, an index into the facts'.
[[nodiscard]] std::optional<std::size_t> bridgeUnder(const BenchFacts& facts, Vec2 at, double reach);

/// The tab nearest to a point, if within `reach` mm.
struct TabHit {
    plan::StepId step;
    artwork::ItemId item;
    int opening = -1;
    std::size_t index = 0;     ///< among the tabs of its outline
    std::vector<double> along; ///< all of them, 0 to 1 along the outline on the sheet
};
[[nodiscard]] std::optional<TabHit> tabUnder(const BenchFacts& facts, Vec2 at, double reach);
/// Where an outline of the step at hand is begun, within `reach` mm of a point.
[[nodiscard]] std::optional<TabHit> startUnder(const BenchFacts& facts, Vec2 at, double reach);
/// Whether a person has placed it.
[[nodiscard]] bool isPlacedStart(const BenchFacts& facts, const toolpath::StepMoves& step, const toolpath::Cut& cut);
/// A place along the outline of a hit, 0 to 1, nearest to a point.
[[nodiscard]] std::optional<double> alongOutline(const plan::Pieces& pieces, artwork::ItemId item, int opening,
                                                 Vec2 at);
/// The outline cut by the current step nearest to a point, to add a tab to.
[[nodiscard]] std::optional<TabHit> outlineUnder(const BenchFacts& facts, Vec2 at, double reach);

} // namespace ferro::app
