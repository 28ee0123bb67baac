#pragma once

#include "cli/verbs.h"
#include "job/edits.h"

namespace ferro::cli {

/// How the words of an edit are read. Each answers what the word means in this job, or what is wrong with it.
using job::Job;
using Words = std::vector<std::string>;

[[nodiscard]] Result<double> lengthOf(const Job& job, const std::string& text);
/// Several lengths at once; the first that cannot be read is the problem.
[[nodiscard]] Result<std::vector<double>> lengths(const Job& job, const Words& words, std::size_t from,
                                                  std::size_t count);
[[nodiscard]] Result<std::uint32_t> idFrom(std::string_view word);
/// Of the sheet at hand, by number of any: "all", "3,5,9", "layer:openings", "name:heron*", "upto:5 mm" (longer side),
/// "form:openLines" (outlines, points, circles), "like:12", "in:12" (inside its outline); "not:" before any of them for
/// all the others.
[[nodiscard]] Result<artwork::Ids> itemsFrom(const Job& job, const std::string& word);
/// By name or number.
[[nodiscard]] Result<plan::StepId> stepFrom(const Job& job, const std::string& word);
[[nodiscard]] Result<bool> onOff(const std::string& word);
/// An edit of the artwork whose first word names the items.
template<class Edit> auto onItems(Edit edit) {
    return [edit](const Job& job, const Words& w, const shop::Book&) -> Result<Job> {
        auto ids = itemsFrom(job, w[0]);
        if (!ids) return ids.problem();
        return job::withArtwork(job, Result<artwork::Artwork>(edit(job, *ids, w)));
    };
}

/// "name=value".
struct Assignment {
    std::string name, value;
};
[[nodiscard]] Result<Assignment> assignmentFrom(const std::string& word);

/// The parts of the list in verbs.cpp.
[[nodiscard]] std::vector<Verb> drawingVerbs();
[[nodiscard]] std::vector<Verb> itemVerbs();
[[nodiscard]] std::vector<Verb> shapeVerbs();
[[nodiscard]] std::vector<Verb> pointVerbs();
[[nodiscard]] std::vector<Verb> jobVerbs();
[[nodiscard]] std::vector<Verb> sheetVerbs();

} // namespace ferro::cli
