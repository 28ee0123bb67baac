#pragma once

#include "base/verdict.h"
#include "proof/deviation.h"
#include "toolpath/toolpath.h"

namespace ferro::proof {

using ferro::Verdict;
using ferro::verdictName;

/// One line of the go/no-go list: what, where on the bench, and what one click would do about it.
struct Finding {
    Verdict verdict = Verdict::note;
    std::string what, mend;
    std::optional<Vec2> at;
    plan::StepId step;
    artwork::ItemId item;
    /// Which move it is about, where it is about one.
    struct Place {
        std::size_t step = 0, move = 0; ///< indices into the toolpath
    };
    std::optional<Place> move;
    struct Fix {
        std::string label;
        std::function<Result<job::Job>(const job::Job&)> apply;
    };
    std::optional<Fix> fix;
    /// What a room that comes before this one and is not known here could do: named, for whoever knows both.
    enum class Offer {
        none,
        spaceAround, ///< of `items`: a plate with them cut out of it
        fitJoints,   ///< make them as wide as the sheet is thick
    } offer = Offer::none;
    std::vector<artwork::ItemId> items = {};
};

/// Everything that is known about a job before it is cut, but for the surface (which is made for a moment in time).
struct Proof {
    toolpath::Toolpath path;
    Timing timing;
    Deviation deviation;
    std::vector<Finding> findings; ///< worst first, then in the order of work

    [[nodiscard]] std::size_t count(Verdict verdict) const {
        return static_cast<std::size_t>(
            std::count_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.verdict == verdict; }));
    }
    [[nodiscard]] bool mayRun() const { return count(Verdict::noGo) == 0; }
};

/// What keeps the program from being written although the cuts are sound, such as a dialect that is not there, as a
/// no-go.
void refuse(Proof& proof, const Problem& problem, std::optional<Finding::Fix> fix = {});
/// What is to be known of the program, and keeps nobody from anything, as a note.
void remark(Proof& proof, const Problem& problem);

/// `kept`: what earlier proofs came to, of a job that has changed a little; the answer is the same without.
[[nodiscard]] Result<Proof> proofOf(const job::Job& job, Progress& progress, Kept* kept = nullptr);
/// The rest of it, of the moves in `proof.path`, which may be looked at meanwhile.
Result<void> prove(Proof& proof, const job::Job& job, Progress& progress, Kept* kept = nullptr);

/// The checks alone (need PR4).
[[nodiscard]] std::vector<Finding> findingsOf(const job::Job& job, const toolpath::Toolpath& path,
                                              const Deviation& deviation, Kept* kept = nullptr);
/// Those that ask for moves and nothing of a plan: rapids, bed, travel, depth, clamps. For programs from anywhere, on
/// the stock, clamps and machine of `job`.
[[nodiscard]] std::vector<Finding> findingsOfMoves(const job::Job& job, const toolpath::Toolpath& path);

/// Everything that is known of a program from anywhere, on the stock, clamps and machine of a job.
struct MovesProof {
    Timing timing;
    std::vector<Finding> findings; ///< worst first; what is about a move begins with its line
    Box bounds;                    ///< of all that is no rapid, on the sheet
    double lowest = 0;             ///< mm below the stock's top, 0 or less

    [[nodiscard]] bool mayRun() const {
        return std::none_of(findings.begin(), findings.end(),
                            [](const Finding& f) { return f.verdict == Verdict::noGo; });
    }
};
/// `lineOf`: of the program, by step and move. A program that moves nothing is a problem.
[[nodiscard]] Result<MovesProof> proofOfMoves(const job::Job& job, toolpath::Toolpath& path,
                                              const std::vector<std::vector<std::uint32_t>>& lineOf,
                                              Progress& progress);
/// Where the moves go that are no rapids, and how low; for stock to put below a program that brings none.
[[nodiscard]] std::pair<Box, double> reachOf(const toolpath::Toolpath& path);

} // namespace ferro::proof
