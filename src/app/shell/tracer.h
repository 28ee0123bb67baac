#pragma once

#include <QObject>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/job.h"
#include "trace/accept.h"
#endif

namespace ferro::app {

class Session;

/// The picture at the Source station: its clean-up, and its trace, made anew in the background when either changes.
class Tracer : public QObject {
    Q_OBJECT
public:
    explicit Tracer(Session& session);

    /// The picture being traced: the selected one, else the last that is no underlay.
    [[nodiscard]] const artwork::Item* picture() const;
    [[nodiscard]] std::shared_ptr<const trace::Traced> result() const { return result_; }
    [[nodiscard]] const picture::Quality& quality() const { return quality_; }
    [[nodiscard]] const std::array<std::size_t, 256>& histogram() const { return histogram_; }
    /// Makes pieces of the trace: at once, or as soon as one under way is done.
    void accept();

    /// Of the whole picture, or of the patch that is being set.
    [[nodiscard]] trace::Settings settings() const;
    void setSettings(const trace::Settings& settings, quint64 gesture = 0);
    /// Areas lie on the sheet.
    [[nodiscard]] std::vector<trace::Patch> patches() const { return recipe().patches; }
    [[nodiscard]] int patch() const { return patch_; } ///< -1: the whole
    /// Those that the last trace found in what `settings` are for.
    [[nodiscard]] std::vector<trace::Colour> coloursFound() const;
    /// The colours that a picture is split into: those picked, else those found.
    [[nodiscard]] std::vector<trace::Colour> colours() const;
    /// Takes the colour at a place on the sheet along with the others.
    void pickColour(Vec2 at);
    void choosePatch(int index);
    void addPatch(const Ring& area);
    void dropPatch();
    /// Only this is traced; empty: all.
    void setOnly(const Box& area);
    [[nodiscard]] Box only() const { return recipe().whole.only; }
    /// What was drawn on the picture with the Area tool: corners on the sheet, and its bounds; empty: nothing.
    [[nodiscard]] const Ring& areaOutline() const { return area_; }
    [[nodiscard]] Box area() const;
    void setArea(const Ring& corners);

    [[nodiscard]] const std::vector<picture::CleanStep>& cleanSteps() const;
    /// Shown at once on a smaller copy, then done on the whole picture and kept.
    void cleanUp(std::vector<picture::CleanStep> steps, quint64 gesture = 0);
    /// Cuts the picture to the area drawn.
    void cropToArea();
    /// A stroke of the brush, on the sheet; goes to the last step of its kind if that is the last of all.
    void brush(picture::CleanStep::Kind kind, const Ring& points);
    double brushWidth = 2; ///< mm
    /// The artwork with the smaller copy in it while the whole is being cleaned up; else none.
    [[nodiscard]] std::shared_ptr<const artwork::Artwork> look() const;

    void refresh();
    void reset();

Q_SIGNALS:
    void changed();

private:
    /// What is kept with the picture, its areas on the sheet.
    [[nodiscard]] trace::Recipe recipe() const;
    bool keep(const QString& label, const trace::Recipe& recipe, quint64 gesture = 0);
    Session& session_;
    int patch_ = -1;
    Ring area_;
    std::shared_ptr<const trace::Traced> result_;
    bool isCurrent_ = false; ///< the result is of the picture and settings as they are
    bool acceptDue_ = false;
    artwork::ItemId item_;
    Transform place_;
    trace::Recipe traced_; ///< what the result was made by
    const picture::Picture* measured_ = nullptr;
    picture::Quality quality_;
    std::array<std::size_t, 256> histogram_{};
    std::shared_ptr<const artwork::Artwork> look_;
};

} // namespace ferro::app
