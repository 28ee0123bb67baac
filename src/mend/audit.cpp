#include "mend/audit.h"

#include "base/hash.h"
#include "base/parallel.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"
#include "geometry/nesting.h"
#include "geometry/self_crossing.h"
#include "geometry/spatial.h"
#include "geometry/thin.h"
#include "geometry/within.h"
#include "mend/chain.h"
#include "mend/overlaps_internal.h"

#include <atomic>
#include <set>
#include <unordered_map>

namespace ferro::mend {

namespace {

constexpr double hair = 1e-6; // mm: less is rounding
constexpr std::array<std::string_view, 8> words{"speck",    "stub",    "doubled", "gap",
                                                "crossing", "crowded", "beyond",  "border"};

/// One outline, opening or open line, where it lies on the sheet.
struct Contour {
    const artwork::Item* item;
    int opening;
    Path path;
    Box bounds;
    double length = 0;
    bool bare = true;     ///< has no openings of its own
    bool written = false; ///< of a text or a note: its dots are meant
};

std::vector<Contour> contoursOf(const Artwork& art) {
    std::vector<Contour> contours;
    std::set<artwork::GroupId> texts;
    for (const auto& group : art.groups)
        if (group.lettering) texts.insert(group.id);
    for (const auto& item : art.items) {
        if (!artwork::shapeOf(item) || artwork::isHidden(art, item) || artwork::isLocked(art, item)) continue;
        Piece piece = artwork::placed(item);
        const bool bare = piece.openings.empty(), written = texts.contains(item.group) || artwork::isNote(art, item);
        const auto take = [&](Path path, int opening, bool isBare) {
            Contour c{&item, opening, std::move(path), {}, 0, isBare, written};
            c.bounds = boundsOf(c.path);
            c.length = lengthOf(c.path);
            contours.push_back(std::move(c));
        };
        take(std::move(piece.outline), -1, bare);
        for (std::size_t i = 0; i < piece.openings.size(); ++i)
            take(std::move(piece.openings[i]), static_cast<int>(i), true);
    }
    return contours;
}

std::string named(const Contour& c) {
    const std::string name = c.item->name.empty() ? fmt::format("piece {}", c.item->id.value) : c.item->name;
    return c.opening < 0 ? fmt::format("“{}”", name) : fmt::format("an opening of “{}”", name);
}

Flaw about(Fault fault, const Contour& c, Vec2 at, double size, std::string what) {
    return {fault, c.item->id, c.opening, {}, at, size, std::move(what), {}};
}

std::optional<Flaw> speck(const Contour& c, double least) {
    if (c.written) return std::nullopt;
    if (c.path.closed) {
        const double area = std::abs(areaOf(c.path));
        if (area >= least) return std::nullopt;
        // The two halves of a bow cancel out: that is no speck.
        if (c.bounds.width() * c.bounds.height() > least && selfCrossing(flattened(c.path, 0.01), true))
            return std::nullopt;
        return about(Fault::speck, c, c.bounds.centre(), area,
                     fmt::format("{} is a speck of {:.2f} mm²", named(c), area));
    }
    if (c.length >= std::sqrt(least) || c.path.segments.empty()) return std::nullopt; // a point is drilled
    return about(Fault::speck, c, c.bounds.centre(), c.length,
                 fmt::format("{} is a line of {:.2f} mm", named(c), c.length));
}

std::optional<Flaw> stub(const Contour& c) {
    std::size_t count = 0;
    Vec2 at;
    for (std::size_t i = 0; i < c.path.segments.size(); ++i)
        if (lengthOf(c.path.from(i), c.path.segments[i]) < 1e-6) ++count, at = c.path.from(i);
    if (count == 0) return std::nullopt;
    return about(Fault::stub, c, at, static_cast<double>(count),
                 fmt::format("{} has {} segment{} of no length", named(c), count, count == 1 ? "" : "s"));
}

/// Whether all of `a` lies on `b`.
bool liesOn(const Contour& a, const Contour& b, double tolerance) {
    const Ruler mine(a.path), theirs(b.path);
    const int steps = static_cast<int>(std::clamp(a.length / std::max(tolerance, 0.05), 16.0, 400.0));
    for (int i = 0; i <= steps; ++i) {
        const Vec2 p = mine.at(a.length * i / steps).point;
        if (distance(p, theirs.at(theirs.nearest(p)).point) > tolerance) return false;
    }
    return true;
}

Flaw doubled(const Contour& a, const Contour& b) {
    auto finding = about(Fault::doubled, a, a.path.start, a.length, fmt::format("{} lies on {}", named(a), named(b)));
    finding.other = b.item->id;
    return finding;
}

/// Which contour each is the very same as, bit by bit: the first of them; itself when it is the first. Thousands of
/// lines in one place, as a copy that was pasted too often leaves them, are told apart by this, and never compared each
/// with each.
std::vector<std::size_t> twins(const std::vector<Contour>& contours) {
    std::unordered_map<std::uint64_t, std::vector<std::size_t>> byHash;
    std::vector<std::size_t> first(contours.size());
    for (std::size_t i = 0; i < contours.size(); ++i) {
        const auto& c = contours[i];
        first[i] = i;
        if (c.path.segments.empty() || !c.bare) continue;
        Hash hash;
        hash(c.path.start.x)(c.path.start.y)(c.path.closed);
        for (const auto& s : c.path.segments) hash(s.end.x)(s.end.y);
        auto& alike = byHash[hash.value()];
        const auto same =
            std::find_if(alike.begin(), alike.end(), [&](std::size_t k) { return contours[k].path == c.path; });
        if (same != alike.end())
            first[i] = *same;
        else
            alike.push_back(i);
    }
    return first;
}

void findDoubles(const std::vector<Contour>& contours, const std::vector<std::size_t>& first, double tolerance,
                 const Progress& progress, std::vector<Flaw>& out) {
    std::vector<Box> boxes;
    std::vector<std::size_t> whose;
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (first[i] == i) boxes.push_back(contours[i].bounds.grown(tolerance)), whose.push_back(i);
    const SpatialIndex index(boxes);
    std::vector<std::optional<Flaw>> found(contours.size());
    parallelFor(contours.size(), progress, [&](std::size_t i) {
        const auto& a = contours[i];
        if (a.path.segments.empty() || !a.bare) return;
        if (first[i] != i) return void(found[i] = doubled(a, contours[first[i]]));
        index.askCovering(a.bounds, [&](std::size_t at) { // what lies on another lies within its bounds
            const std::size_t j = whose[at];
            const auto& b = contours[j];
            if (i == j || b.path.segments.empty()) return false;
            // Of two alike the first stays; a shorter open one on a longer one goes whatever the order.
            const bool alike = std::abs(a.length - b.length) <= 4 * tolerance && a.path.closed == b.path.closed;
            if (alike ? j > i : (a.path.closed || a.length >= b.length)) return false;
            if (!liesOn(a, b, tolerance) || (alike && !liesOn(b, a, tolerance))) return false;
            found[i] = doubled(a, b);
            return true;
        });
    });
    for (auto& f : found)
        if (f) out.push_back(std::move(*f));
}

/// Stretches of open lines that lie on another, or that a line draws again.
void findSharedStretches(const std::vector<Contour>& contours, double tolerance, const Progress& progress,
                         std::vector<Flaw>& out) {
    std::set<std::pair<artwork::ItemId, int>> whole; // doubled as a whole: told already
    for (const auto& f : out)
        if (f.fault == Fault::doubled) whole.insert({f.item, f.opening});
    std::vector<Path> lines;
    std::vector<bool> left;
    for (const auto& c : contours) {
        lines.push_back(c.path);
        left.push_back(whole.contains({c.item->id, c.opening}));
    }
    for (const auto& o : overlapsOf(lines, left, tolerance, progress)) {
        const auto &a = contours[o.line], &b = contours[o.on];
        const double shared = o.to - o.from;
        auto finding = about(Fault::doubled, a, Ruler(a.path).at((o.from + o.to) / 2).point, shared,
                             o.line == o.on ? fmt::format("{} runs {:.2f} mm over itself", named(a), shared)
                                            : fmt::format("{:.2f} mm of {} lie on {}", shared, named(a), named(b)));
        finding.other = b.item->id;
        finding.stretch = {o.from, o.to};
        out.push_back(std::move(finding));
    }
}

/// A rectangle round everything: the line round a scanned page, as a band with one opening, or a bare outline round
/// pieces that have openings of their own, which it would turn inside out.
void findBorder(const std::vector<Contour>& contours, std::vector<Flaw>& out) {
    Box all;
    std::size_t items = 0;
    for (const auto& c : contours) all.take(c.bounds), items += c.opening < 0;
    if (items < 3) return;
    const auto isBox = [](const Contour& c) { // nearly upright, its corners maybe round
        return c.path.closed && std::abs(areaOf(c.path)) > 0.93 * c.bounds.width() * c.bounds.height() &&
               c.bounds.width() > 0;
    };
    const auto holds = [](const Box& box, const Box& what) {
        return box.grown(hair).contains(what.low) && box.grown(hair).contains(what.high);
    };
    for (std::size_t i = 0; i < contours.size(); ++i) {
        const auto& c = contours[i];
        if (c.opening >= 0 || !holds(c.bounds, all) || !isBox(c)) continue;
        std::size_t openings = 0;
        while (i + openings + 1 < contours.size() && contours[i + openings + 1].opening >= 0) ++openings;
        bool isBorder = false;
        if (openings == 1) {
            const auto& inner = contours[i + 1];
            isBorder = isBox(inner) && std::abs(areaOf(inner.path)) > 0.8 * std::abs(areaOf(c.path));
            for (std::size_t k = 0; k < contours.size() && isBorder; ++k)
                isBorder = k == i || holds(inner.bounds, contours[k].bounds);
        } else if (openings == 0) {
            std::vector<Path> others;
            for (std::size_t k = 0; k < contours.size(); ++k) {
                isBorder = isBorder || contours[k].opening >= 0;
                if (k != i) others.push_back(contours[k].path);
            }
            if (!isBorder) {
                const auto parents = parentsOf(others);
                isBorder = std::any_of(parents.begin(), parents.end(), [](int parent) { return parent >= 0; });
            }
        }
        if (isBorder)
            out.push_back(about(Fault::border, c, c.bounds.low, c.bounds.width(),
                                fmt::format("{} runs round all else, as the border of a page does", named(c))));
        return;
    }
}

void findGaps(const std::vector<Contour>& contours, const std::vector<std::size_t>& first, double reach,
              std::vector<Flaw>& out) {
    std::vector<Path> open;
    std::vector<const Contour*> whose;
    for (std::size_t i = 0; i < contours.size(); ++i) {
        const auto& c = contours[i];
        if (first[i] == i && c.opening < 0 && !c.path.closed && !c.path.segments.empty())
            open.push_back(c.path), whose.push_back(&c);
    }
    auto gaps = gapsBetween(open, reach);
    std::stable_sort(gaps.begin(), gaps.end(), [](const Gap& a, const Gap& b) { return a.first < b.first; });
    for (const auto& gap : gaps) {
        const auto &a = *whose[gap.first], &b = *whose[gap.second];
        auto finding =
            about(Fault::gap, a, gap.at, gap.size,
                  gap.first == gap.second ? fmt::format("{} is open by {:.3f} mm", named(a), gap.size)
                  : gap.size < 1e-6       ? fmt::format("{} and {} meet and are not joined", named(a), named(b))
                                          : fmt::format("{:.3f} mm between {} and {}", gap.size, named(a), named(b)));
        finding.other = b.item->id;
        out.push_back(std::move(finding));
    }
}

} // namespace

bool isFarFrom(const Box& stock, const Box& piece) {
    const double reach = std::max(stock.width(), stock.height()) / 2;
    return !stock.empty() && !stock.grown(reach).meets(piece);
}

std::string_view wordOf(Fault fault) { return words[static_cast<std::size_t>(fault)]; }
std::optional<Fault> faultFrom(std::string_view word) {
    for (const Fault fault : faults)
        if (wordOf(fault) == word) return fault;
    return std::nullopt;
}

std::size_t Audit::count(Fault fault) const {
    return static_cast<std::size_t>(
        std::count_if(flaws.begin(), flaws.end(), [&](const Flaw& f) { return f.fault == fault; }));
}

Result<Audit> audited(const Artwork& art, const Tolerances& tolerances, const Piece& blank, Progress& progress) {
    const Box stock = boundsOf(blank.outline);
    if (!(tolerances.gap >= 0 && tolerances.doubled >= 0 && tolerances.speck >= 0 && tolerances.thin >= 0))
        return Problem{.what = "A tolerance cannot be below 0.", .where = "audit", .mend = "Give a length in mm."};
    const auto contours = contoursOf(art);
    struct Own { // what one contour shows by itself
        std::optional<Flaw> speck, stub, crossing, crowded, beyond;
    };
    std::vector<Own> own(contours.size());
    std::atomic<std::size_t> done = 0;
    parallelFor(contours.size(), progress, [&](std::size_t i) {
        const auto& c = contours[i];
        own[i].speck = speck(c, tolerances.speck);
        own[i].stub = stub(c);
        if (const auto at = c.path.closed ? selfCrossing(flattened(c.path, 0.01), true) : std::nullopt)
            own[i].crossing = about(Fault::crossing, c, *at, 0, fmt::format("{} crosses itself", named(c)));
        constexpr std::size_t fewEnough = 12;
        if (const std::size_t points = pointsOf(c.path); tolerances.thin > 0 && points > fewEnough) {
            const std::size_t needed = pointsOf(thinnedPath(c.path, tolerances.thin).path);
            if (2 * needed <= points)
                own[i].crowded = about(Fault::crowded, c, c.path.start, static_cast<double>(points - needed),
                                       fmt::format("{} has {} points, {} would do", named(c), points, needed));
        }
        if (c.opening < 0 && !blank.outline.segments.empty() && !liesWithin(c.path, blank))
            own[i].beyond = about(
                Fault::beyond, c, c.bounds.centre(), 0,
                fmt::format("{} {} the stock", named(c), isFarFrom(stock, c.bounds) ? "lies far off" : "reaches over"));
        progress.at(0.8 * static_cast<double>(++done) / static_cast<double>(contours.size()));
    });
    Audit audit;
    const auto takeAll = [&](auto member) {
        for (auto& o : own)
            if (auto& finding = o.*member) audit.flaws.push_back(std::move(*finding));
    };
    takeAll(&Own::speck);
    takeAll(&Own::stub);
    const auto first = twins(contours);
    findDoubles(contours, first, tolerances.doubled, progress, audit.flaws);
    findSharedStretches(contours, tolerances.doubled, progress, audit.flaws);
    findGaps(contours, first, tolerances.gap, audit.flaws);
    takeAll(&Own::crossing);
    takeAll(&Own::crowded);
    takeAll(&Own::beyond);
    findBorder(contours, audit.flaws);
    if (progress.cancelled()) return Problem::cancelled();
    progress.at(1);
    return audit;
}

} // namespace ferro::mend
