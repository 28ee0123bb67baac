#pragma once

#include "app/background/background.h"
#include "app/shell/auditor.h"
#include "app/shell/job_files.h"
#include "app/shell/nester.h"
#include "app/shell/point_editor.h"
#include "app/shell/program_writer.h"
#include "app/shell/prover.h"
#include "app/shell/reacher.h"
#include "app/shell/runner.h"
#include "app/shell/shape_maker.h"
#include "app/shell/station_id.h"
#include "app/shell/tracer.h"
#include "app/shell/turner.h"
#include "app/shopbook/keeper.h"
#include "job/edits.h"
#include "job/history.h"
#include "trace/accept.h"

#ifndef Q_MOC_RUN // it reads no concepts
#include "formats/drawing.h"
#endif

namespace ferro::app {

/// The open job with what is derived from it. The one place where a wish becomes an edit; widgets are told that
/// something has changed and ask for facts.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(ShopKeeper::Kept shop, QObject* parent = nullptr);
    ~Session() override;

    [[nodiscard]] const job::Job& job() const { return history_.current(); }
    [[nodiscard]] const job::History& history() const { return history_; }
    [[nodiscard]] ShopKeeper& shop() { return shop_; }
    [[nodiscard]] const ShopKeeper& shop() const { return shop_; }
    [[nodiscard]] const shop::Book& book() const { return shop_.book(); }
    [[nodiscard]] Background& background() { return background_; }
    [[nodiscard]] Auditor& auditor() { return auditor_; }
    [[nodiscard]] const Auditor& auditor() const { return auditor_; }
    [[nodiscard]] PointEditor& points() { return points_; }
    [[nodiscard]] const PointEditor& points() const { return points_; }
    [[nodiscard]] ShapeMaker& shapes() { return shapes_; }
    [[nodiscard]] const ShapeMaker& shapes() const { return shapes_; }
    [[nodiscard]] Tracer& tracer() { return tracer_; }
    [[nodiscard]] const Tracer& tracer() const { return tracer_; }
    [[nodiscard]] Runner& runner() { return runner_; }
    [[nodiscard]] const Runner& runner() const { return runner_; }
    [[nodiscard]] Prover& prover() { return prover_; }
    [[nodiscard]] const Prover& prover() const { return prover_; }
    [[nodiscard]] Turner& turner() { return turner_; }
    [[nodiscard]] Nester& nester() { return nester_; }
    [[nodiscard]] Reacher& reacher() { return reacher_; }
    [[nodiscard]] const Reacher& reacher() const { return reacher_; }
    [[nodiscard]] ProgramWriter& writer() { return writer_; }
    [[nodiscard]] const ProgramWriter& writer() const { return writer_; }
    [[nodiscard]] const QString& file() const { return files_.file(); }
    [[nodiscard]] bool changed() const { return !history_.isSaved(); }

    /// Takes an edit over, or says why not. Selection is trimmed to what is still there.
    bool apply(const QString& label, Result<job::Job> next, quint64 gesture = 0);
    void undo();
    void redo();
    void tell(const Problem& problem) { Q_EMIT told(QString::fromStdString(problem.text()), true); }

    /// An edit of the artwork that may take a while: worked out off the window's thread, taken over if the artwork is
    /// still the same then. Without an artwork nothing was to be done, and that is said.
    struct Edited {
        std::optional<artwork::Artwork> artwork;
        std::string did;
        artwork::Ids select = {}; ///< chosen afterwards, if any
    };
    void editArtwork(const QString& label, std::function<Result<Edited>(Progress&)> work);

    [[nodiscard]] const artwork::Ids& selection() const { return selection_; }
    void select(artwork::Ids items);
    /// Of several that are chosen, the one that the others are arranged by: as told, else the first.
    [[nodiscard]] artwork::ItemId key() const;
    void setKey(artwork::ItemId item);
    /// How pieces are moved by hand, on this desk.
    struct Hands {
        double nudge = 1;   ///< mm of an arrow key
        double grid = 0;    ///< mm; 0: none
        bool apart = false; ///< at Sheet they stop at others and slide along them
    };
    [[nodiscard]] const Hands& hands() const { return hands_; }
    void setHands(const Hands& hands);
    /// Another sheet at hand, or what lies beside all; no edit.
    void layOut(job::SheetId sheet);
    [[nodiscard]] plan::StepId step() const { return step_; }
    void selectStep(plan::StepId step);
    [[nodiscard]] StationId station() const { return station_; }
    void goTo(StationId station);

    // Files
    [[nodiscard]] JobFiles& files() { return files_; }
    [[nodiscard]] const JobFiles& files() const { return files_; }
    void newJob();
    /// Another job takes the place of the open one, with a history of its own.
    void replace(job::Job job);
    /// A state of the job lies in a file of this name now.
    void nowSaved(std::uint64_t state, const std::string& name);
    /// Pictures and jobs, from a dialog, a drop or the clipboard.
    /// To the middle of the sheet, smaller where it is larger than that.
    void addPicture(const QString& name, const QByteArray& bytes);
    struct DrawingWish {
        QString folder = {};                  ///< where linked pictures may lie
        std::optional<double> mmPerUnit = {}; ///< what the person chose; a drawing that does not tell is asked about
        bool strokesAsOutlines = false;       ///< of SVG, a line as the area that its stroke covers
        bool dropStrays = false;              ///< what lies far from all the rest
    };
    void addDrawing(const QString& name, const QByteArray& bytes, const DrawingWish& wish);
    void addDrawing(const QString& name, const QByteArray& bytes) { addDrawing(name, bytes, DrawingWish{}); }
    /// The parts of a cut list, with sheets of all that they are of and, where there are none yet, the steps that fit;
    /// then they are laid out.
    void addCutList(const QString& file);

Q_SIGNALS:
    void jobChanged();
    /// Another job is open.
    void replaced();
    void selectionChanged();
    void stationChanged();
    void told(const QString& text, bool isProblem);
    void jumpAsked(QPointF at);
    /// Artwork came in and is chosen: how large it is of itself, mm, and how that is known.
    void arrived(const ferro::artwork::Ids& items, ferro::Vec2 own, const QString& words);
    /// A drawing does not tell what its numbers mean: `addDrawing` wants to be told.
    void unitAsked(const QString& name, const QByteArray& bytes, const ferro::app::Session::DrawingWish& wish,
                   const ferro::formats::Drawing::Drawn& drawn);

private:
    void afterChange();
    [[nodiscard]] job::Job firstJob() const;
    void noteShop() const; ///< for the next job
    [[nodiscard]] static Hands handsKept();

    ShopKeeper shop_;
    job::History history_;
    artwork::Ids selection_;
    artwork::ItemId key_;
    Hands hands_ = handsKept();
    plan::StepId step_;
    StationId station_ = StationId::source;

    Runner runner_;
    Background background_;
    JobFiles files_{*this};
    Auditor auditor_{*this};
    PointEditor points_{*this};
    ShapeMaker shapes_{*this};
    Tracer tracer_{*this};
    Prover prover_{*this};
    Reacher reacher_{*this};
    Nester nester_{*this};
    Turner turner_{*this};
    ProgramWriter writer_{*this};
};

} // namespace ferro::app
