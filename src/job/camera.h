#pragma once

#include "base/disk.h"
#include "geometry/place_fit.h"
#include "job/marks.h"
#include "picture/round_marks.h"

namespace ferro::job {

/// A card for telling how a machine's camera stands: a field of dark spots over the sheet of `bench`, made by the
/// machine itself, so that it is known where each lies. On a machine that makes no dark spots they are notes without a
/// step: printed, put on the bed, and two of them or more told by going there. A problem when the sheet is under 60 mm
/// either way.
[[nodiscard]] Result<Job> cameraCard(const Job& bench);
/// Its spots, as numbered from 1 in its rows from below.
[[nodiscard]] std::vector<Vec2> spotsOf(const Job& card);

struct CameraFound {
    Viewed view; ///< to mm from the program's zero
    std::size_t found = 0, of = 0;
    double worst = 0; ///< mm
};
/// From the round marks in a picture of the card; `lies`: where it lies by how it is drawn, no other place when the
/// machine has made it from this zero. A problem when the spots are not found, or do not tell it to 0.2 mm.
[[nodiscard]] Result<CameraFound> cameraFrom(const Job& card, std::span<const picture::RoundMark> round, int width,
                                             int height, const Transform& lies = {});

/// Kept by machine in the folder `cameras` of the data folder, one file each; a problem when there is none.
[[nodiscard]] Result<void> keepCamera(Disk& disk, std::string_view machine, const Viewed& view);
[[nodiscard]] Result<Viewed> cameraOf(Disk& disk, std::string_view machine);

/// Where on the sheet each of `marksOf` is, by the round marks in a picture; half of them, or none. A problem when the
/// picture is of another size than the camera's, or the job has no marks.
[[nodiscard]] Result<std::vector<std::optional<Vec2>>>
marksSeen(const Job& job, const Viewed& camera, std::span<const picture::RoundMark> round, int width, int height);
/// Where on the sheet at hand a place of the picture is, px, and back.
[[nodiscard]] Vec2 onSheet(const Job& job, const Viewed& camera, Vec2 px);
[[nodiscard]] Vec2 inPicture(const Job& job, const Viewed& camera, Vec2 place);

} // namespace ferro::job
