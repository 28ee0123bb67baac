#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <atomic>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "job/nesting.h"
#endif

namespace ferro::app {

class Session;

/// Lays the job's parts out in the background; the best so far is there to be looked at, and becomes one edit.
class Nester : public QObject {
    Q_OBJECT
public:
    explicit Nester(Session& session);

    /// As the plan has it, but for what was typed.
    [[nodiscard]] job::LayingOut wish() const;
    [[nodiscard]] job::LayingOut wishFromShelf() const; ///< sheets are added from the shop book's boards
    void setSpacing(std::optional<double> mm);
    void setMargin(std::optional<double> mm);
    void setStart(nest::Corner corner);
    void setAlong(nest::Along along);
    void setMayAddSheets(bool may);
    [[nodiscard]] bool isTyped(bool spacing) const { return spacing ? spacing_.has_value() : margin_.has_value(); }

    void start();
    void takeBest(); ///< it is good enough
    void stop();     ///< nothing of it is taken
    [[nodiscard]] bool isRunning() const;
    /// While it runs, and of the last run until the job changes otherwise; looking at another sheet is no change.
    [[nodiscard]] std::shared_ptr<const job::LaidOut> best() const { return best_; }
    /// The job that it makes, with the sheet at hand that is looked at now.
    [[nodiscard]] job::Job seen() const;
    /// The shares of the layouts told, with the seconds since the start.
    [[nodiscard]] const std::vector<std::pair<double, double>>& curve() const { return curve_; }

    /// Layouts that were kept to be chosen from, in the order they were kept; gone with the job.
    struct Kept {
        job::Job job;
        QString words; ///< what is to be known of it
    };
    [[nodiscard]] const std::vector<Kept>& kept() const { return kept_; }
    void keep();
    void takeKept(std::size_t index);
    void dropKept(std::size_t index);

Q_SIGNALS:
    void changed();

private:
    Session& session_;
    std::optional<double> spacing_, margin_;
    nest::Corner start_ = nest::Corner::lowerLeft;
    nest::Along along_ = nest::Along::width;
    bool mayAdd_ = true;
    std::shared_ptr<std::atomic<bool>> enough_;
    job::Job of_; ///< what is being laid out
    std::shared_ptr<const job::LaidOut> best_;
    std::vector<std::pair<double, double>> curve_;
    std::vector<Kept> kept_;
    QElapsedTimer clock_;
    quint64 run_ = 0;
    bool taking_ = false;
};

} // namespace ferro::app
