#pragma once

#include "job/job.h"

namespace ferro::job {

/// Of the words on test pieces, mm.
inline constexpr double labelCap = 2.2, labelLine = 1.6 * labelCap;
/// How wide a label of so many letters is at most, mm.
[[nodiscard]] inline double labelWidth(std::size_t letters) { return 0.95 * labelCap * static_cast<double>(letters); }
/// Words as single lines to be scribed, on the layer “labels”.
[[nodiscard]] Result<artwork::Artwork> labelled(const artwork::Artwork& art, const std::string& text, Vec2 at,
                                                artwork::Lettering::Align align);
/// The first kind of step that makes areas on the job's machine, as clearing or shading does; empty: none does.
[[nodiscard]] std::string_view areaKindFor(const Job& job);
/// An empty job of one sheet, with machine, material, tools and sheet at hand of another.
[[nodiscard]] Job emptyLike(const Job& bench, std::string name);
/// The job with a step more that scribes the labels (a blade slits them, and not through); before all that may let go.
[[nodiscard]] Result<Job> withLabelsScribed(const Job& job, shop::Process process, std::string_view layers);

} // namespace ferro::job
