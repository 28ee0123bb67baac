#include "job/camera.h"

#include "artwork/edits.h"
#include "base/json_members.h"
#include "base/keyed_files.h"
#include "job/edits.h"
#include "job/labels_internal.h"
#include "shop/shop.h"

namespace ferro::job {

namespace {

constexpr std::string_view fieldLayer = "field";
constexpr KeyedFiles cameras("cameras", "camera");
constexpr double clearly = 0.2; ///< mm: a camera that is told worse is not told

/// The words of a camera's file.
struct CameraFile {
    int width = 0, height = 0;
    double reach = 1;
    std::vector<double> plane, bend, middle;
};
template<class Io> void members(Io& io, CameraFile& f) {
    io.need("width", f.width).need("height", f.height).need("reach", f.reach);
    io.need("plane", f.plane).need("bend", f.bend).need("middle", f.middle);
}

} // namespace

std::vector<Vec2> spotsOf(const Job& card) {
    std::vector<Vec2> spots;
    for (const auto& item : card.artwork->items) {
        const auto* layer = artwork::find(*card.artwork, item.layer);
        const auto* shape = artwork::shapeOf(item);
        if (shape && layer && layer->name == fieldLayer && item.sheet == card.sheet().id)
            spots.push_back(boundsOf(transformed(shape->piece.outline, item.place)).centre());
    }
    return spots;
}

Result<Job> cameraCard(const Job& bench) {
    const auto& stock = bench.sheet().stock;
    if (std::min(stock.width, stock.height) < 60)
        return Problem{
            .what = fmt::format("A sheet of {} × {} is too small for the card.", mm(stock.width), mm(stock.height)),
            .where = bench.sheet().name,
            .mend = "Use one as large as what the camera sees, 60 mm or more."};
    Job job = emptyLike(bench, fmt::format("Camera card, {}", bench.machine.name));
    const auto kind = areaKindFor(job);
    // Five to nine either way.
    const double size = std::clamp(std::round(std::min(stock.width, stock.height) / 30), 4.0, 12.0), edge = 1.5 * size;
    const auto countOf = [&](double length) { return std::clamp(static_cast<int>(std::round(length / 40)) + 1, 5, 9); };
    const int columns = countOf(stock.width), rows = countOf(stock.height);
    const double stepX = (stock.width - 2 * edge) / (columns - 1), stepY = (stock.height - 2 * edge) / (rows - 1);
    std::vector<Piece> spots;
    for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c) spots.push_back({circle({edge + c * stepX, edge + r * stepY}, size / 2), {}});
    // One more, so that the way round is told.
    spots.push_back({circle({edge + stepX / 2, edge + stepY / 2}, size / 2), {}});
    auto art = artwork::withPieces(*job.artwork, std::move(spots), fieldLayer, "spot").artwork;
    if (kind.empty()) {
        for (auto& layer : art.layers) layer.notes = layer.name == fieldLayer;
        return withArtwork(job, std::move(art));
    }
    auto with = withStepAdded(withArtwork(job, std::move(art)), kind, "");
    if (!with) return with.problem();
    const auto step = with->plan.steps.back().id;
    if (const auto shallow = withStepSetting(*with, step, "depth", "0.5"); shallow) return *shallow;
    return with;
}

Result<CameraFound> cameraFrom(const Job& card, std::span<const picture::RoundMark> round, int width, int height,
                               const Transform& lies) {
    const auto spots = spotsOf(card);
    if (spots.size() < 5)
        return Problem{.what = "This job is no camera card.",
                       .where = card.name,
                       .mend = "Make one by “marks card”, cut it, and take a picture of it."};
    std::vector<Vec2> seen, from, to;
    for (const auto& mark : round) seen.push_back(mark.at);
    const auto pairs = matchedField(spots, seen, width, height);
    if (!pairs)
        return pairs.problem().within(fmt::format("{} round spots seen, {} on the card", seen.size(), spots.size()));
    const Vec2 zero = zeroOf(card.sheet().stock).at;
    for (std::size_t i = 0; i < spots.size(); ++i)
        if ((*pairs)[i]) from.push_back(seen[*(*pairs)[i]]), to.push_back(lies(spots[i]) - zero);
    const auto fit = fittedView(from, to, width, height);
    if (!fit) return fit.problem();
    if (fit->worst() > clearly) {
        const bool hidden = seen.size() < spots.size();
        return Problem{
            .what = hidden
                        ? fmt::format("{} of {} spots are seen.", seen.size(), spots.size())
                        : fmt::format("The spots are up to {} off what a camera would see of them.", mm(fit->worst())),
            .where = {},
            .mend = hidden ? "Let the camera see all of the card, or make a smaller one."
                           : "Let the card lie flat, focus, light it evenly, and check the places that were told."};
    }
    return CameraFound{fit->view, from.size(), spots.size(), fit->worst()};
}

Result<void> keepCamera(Disk& disk, std::string_view machine, const Viewed& view) {
    CameraFile file{view.width,
                    view.height,
                    view.reach,
                    {view.plane.begin(), view.plane.end()},
                    {view.bend.begin(), view.bend.end()},
                    {view.middle.x, view.middle.y}};
    json_members::json all;
    json_members::Writing io(all);
    members(io, file);
    return cameras.keep(disk, machine, all.dump(1) + "\n");
}

Result<Viewed> cameraOf(Disk& disk, std::string_view machine) {
    if (!cameras.isOwn(machine))
        return Problem{.what = fmt::format("It is not known how the camera of “{}” stands.", machine),
                       .where = {},
                       .mend = "Cut a camera card on it and take a picture of that: “marks card”, “marks camera”."};
    const auto text = cameras.text(disk, machine);
    if (!text) return text.problem();
    return json_members::readJson<Result<Viewed>>(
        *text, "Take a picture of the camera card again.", [](const json_members::json& all) -> Result<Viewed> {
            CameraFile file;
            json_members::read(all, file);
            if (!(file.width > 0 && file.height > 0 && file.reach > 0 && file.plane.size() == 9 &&
                  file.bend.size() == 3 && file.middle.size() == 2))
                return Problem{.what = "The file does not say how the camera stands.",
                               .where = {},
                               .mend = "Take a picture of the camera card again."};
            Viewed view;
            view.width = file.width, view.height = file.height, view.reach = file.reach;
            std::copy(file.plane.begin(), file.plane.end(), view.plane.begin());
            std::copy(file.bend.begin(), file.bend.end(), view.bend.begin());
            view.middle = {file.middle[0], file.middle[1]};
            return view;
        });
}

Vec2 onSheet(const Job& job, const Viewed& camera, Vec2 px) { return camera(px) + zeroOf(job.sheet().stock).at; }
Vec2 inPicture(const Job& job, const Viewed& camera, Vec2 place) {
    return camera.seen(place - zeroOf(job.sheet().stock).at);
}

Result<std::vector<std::optional<Vec2>>> marksSeen(const Job& job, const Viewed& camera,
                                                   std::span<const picture::RoundMark> round, int width, int height) {
    const auto marks = marksOf(job);
    if (marks.empty())
        return Problem{.what = "There are no printed marks on this sheet.",
                       .where = job.sheet().name,
                       .mend = "Put marks round the artwork before it is printed; they are the round pieces on the "
                               "layer “marks”."};
    if (width != camera.width || height != camera.height)
        return Problem{.what = fmt::format("The picture has {} × {} px, the camera makes {} × {}.", width, height,
                                           camera.width, camera.height),
                       .where = {},
                       .mend = "Use the picture as the camera made it, or take one of the camera card again."};
    std::vector<Vec2> wanted, there;
    double least = 1e9, most = 0;
    for (const auto& mark : marks)
        wanted.push_back(mark.at), least = std::min(least, mark.radius), most = std::max(most, mark.radius);
    for (const auto& mark : round) {
        const Vec2 at = onSheet(job, camera, mark.at);
        const double radius = distance(at, onSheet(job, camera, mark.at + Vec2{mark.radius, 0}));
        // What is far off in size is none of them; it takes part under a number that nothing matches.
        const bool asLarge = radius > 0.7 * least && radius < 1.4 * most;
        there.push_back(asLarge ? at : Vec2{-1e6 * static_cast<double>(there.size() + 1), -1e6});
    }
    const auto pairs = matchedPlaces(wanted, there, 1);
    // A few dots that happen to stand as far apart are no print: it takes half of the marks.
    const auto count = std::count_if(pairs.begin(), pairs.end(), [](const auto& pair) { return pair.has_value(); });
    const bool known = 2 * static_cast<std::size_t>(count) >= pairs.size();
    std::vector<std::optional<Vec2>> found;
    for (const auto& pair : pairs) found.push_back(pair && known ? std::optional(there[*pair]) : std::nullopt);
    return found;
}

} // namespace ferro::job
