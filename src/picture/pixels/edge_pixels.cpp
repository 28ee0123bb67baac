#include "picture/pixels/pixels_internal.h"

#include <future>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace ferro::picture::pixels {

std::vector<std::uint8_t> areaMap(int width, int height, const Rings& areas) {
    cv::Mat map = cv::Mat::zeros(height, width, CV_8UC1);
    constexpr int shift = 6; // sub-pixels: 64
    for (std::size_t i = 0; i < areas.size(); ++i) {
        std::vector<cv::Point> corners;
        for (const Vec2 p : areas[i])
            corners.emplace_back(static_cast<int>(std::lround((p.x - 0.5) * (1 << shift))),
                                 static_cast<int>(std::lround((p.y - 0.5) * (1 << shift))));
        if (corners.size() < 3) continue;
        const std::vector<std::vector<cv::Point>> all{corners};
        cv::fillPoly(map, all, cv::Scalar(static_cast<double>(i + 1)), cv::LINE_8, shift);
    }
    return {map.datastart, map.dataend};
}

namespace {
/// Greys with all that is thinner than a disc gone, dark things by closing, light ones by opening.
struct Sieved {
    cv::Mat darkGone, bothGone, lightGone;
};
/// `wider`: by a disc of 4 px more.
Sieved sieved(const cv::Mat& soft, int size, bool wider) {
    // A large disc is made of small ones, one after the other: its work grows with its radius, not with its area.
    const bool inParts = size > 9;
    const int own = inParts ? 5 : size + (wider ? 4 : 0), times = inParts ? (size + 2) / 4 + (wider ? 1 : 0) : 1;
    const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, {own, own});
    Sieved out;
    cv::morphologyEx(soft, out.darkGone, cv::MORPH_CLOSE, disc, {-1, -1}, times);
    cv::morphologyEx(out.darkGone, out.bothGone, cv::MORPH_OPEN, disc, {-1, -1}, times);
    cv::morphologyEx(soft, out.lightGone, cv::MORPH_OPEN, disc, {-1, -1}, times);
    return out;
}

/// As high as greys go along the middle of each line, half way at its edges, however strongly it is drawn: each pixel
/// against the height of the place on the middle that is nearest to it.
cv::Mat levelled(const cv::Mat& residue, const cv::Mat& deep) {
    cv::Mat around, off, distance, nearest;
    cv::dilate(deep, around, cv::Mat());
    off = (deep < around) | (deep <= 0); // 0 on the middles
    cv::Mat lines = cv::Mat::zeros(residue.size(), CV_8UC1);
    cv::distanceTransform(off, distance, nearest, cv::DIST_L2, 5, cv::DIST_LABEL_PIXEL);
    std::vector<std::uint8_t> heights;
    for (int y = 0; y < off.rows; ++y)
        for (int x = 0; x < off.cols; ++x)
            if (!off.at<std::uint8_t>(y, x)) {
                const auto at = static_cast<std::size_t>(nearest.at<int>(y, x));
                if (heights.size() <= at) heights.resize(at + 1);
                heights[at] = residue.at<std::uint8_t>(y, x);
            }
    for (int y = 0; y < off.rows; ++y)
        for (int x = 0; x < off.cols; ++x) {
            const double height = heights[static_cast<std::size_t>(nearest.at<int>(y, x))];
            if (distance.at<float>(y, x) < 64 && height > 0)
                lines.at<std::uint8_t>(y, x) =
                    cv::saturate_cast<std::uint8_t>(255 * residue.at<std::uint8_t>(y, x) / height);
        }
    return lines;
}

/// Drawn lines among what a disc of their width has taken off, `residue`. The sharp corners of areas are too thin as
/// well; but of them a wider disc takes more, as it does of an area hardly wider than the first: `more`. So are crumbs
/// of areas' edges where the disc's own pixels do not fit them: small, and little of the greys that change there,
/// `change`.
cv::Mat onlyLines(const cv::Mat& residue, const cv::Mat& more, const cv::Mat& change, double least, double crumb) {
    cv::Mat strong, labels, stats, middles;
    cv::threshold(residue, strong, least / 2, 255, cv::THRESH_BINARY);
    const int count = cv::connectedComponentsWithStats(strong, labels, stats, middles, 8, CV_32S);
    struct Thing {
        double taken = 0, takenByWider = 0, changing = 0, height = 0, size = 0;
    };
    std::vector<Thing> things(static_cast<std::size_t>(count));
    const auto each = [&](auto&& take) {
        for (int y = 0; y < labels.rows; ++y)
            for (int x = 0; x < labels.cols; ++x)
                if (const int k = labels.at<int>(y, x); k > 0) take(y, x, things[static_cast<std::size_t>(k)]);
    };
    each([&](int y, int x, Thing& thing) {
        const double here = residue.at<std::uint8_t>(y, x);
        thing.taken += here, thing.takenByWider += more.at<std::uint8_t>(y, x);
        thing.changing += change.at<std::uint8_t>(y, x), ++thing.size;
        thing.height = std::max(thing.height, here);
    });
    each([&](int y, int x, const Thing& thing) {
        const bool isCrumb = thing.size < crumb && thing.taken < 0.4 * thing.changing;
        if (thing.height < least || isCrumb || thing.takenByWider > 1.15 * thing.taken)
            strong.at<std::uint8_t>(y, x) = 0;
    });
    if (cv::countNonZero(strong) == 0) return strong;
    cv::Mat deep, own;
    cv::distanceTransform(strong, deep, cv::DIST_L2, cv::DIST_MASK_5);
    // A little beyond, where a faint line's edge is below what counts.
    cv::dilate(strong, strong, cv::Mat());
    residue.copyTo(own, strong);
    return levelled(own, deep);
}
} // namespace

DrawnApart drawnApart(const picture::Grey& grey, double widest, double least) {
    const cv::Mat from(grey.height, grey.width, CV_8UC1, const_cast<std::uint8_t*>(grey.values.data()));
    cv::Mat soft;
    cv::GaussianBlur(from, soft, {}, 0.8);
    const int size = std::max(3, static_cast<int>(std::ceil(widest)) + 2) | 1;
    auto wider = std::async(std::launch::async, [&] { return sieved(soft, size, true); });
    const Sieved fine = sieved(soft, size, false), coarse = wider.get();
    cv::Mat lightest, darkest;
    const cv::Mat around = cv::getStructuringElement(cv::MORPH_ELLIPSE, {7, 7});
    cv::dilate(soft, lightest, around);
    cv::erode(soft, darkest, around);
    const cv::Mat change = lightest - darkest;
    const double crumb = 2.0 * size * size;
    const auto light = [&](const Sieved& by) {
        cv::Mat above = soft - by.lightGone, itself = by.darkGone - by.bothGone, out;
        cv::min(above, itself, out);
        return out;
    };
    auto bright =
        std::async(std::launch::async, [&] { return onlyLines(light(fine), light(coarse), change, least, crumb); });
    cv::Mat lines = onlyLines(fine.darkGone - soft, coarse.darkGone - soft, change, least, crumb);
    cv::max(lines, bright.get(), lines);
    cv::Mat under;
    cv::threshold(lines, under, 63, 255, cv::THRESH_BINARY);
    cv::dilate(under, under, around);
    cv::bitwise_not(lines, lines);
    return {{grey.width, grey.height, {lines.datastart, lines.dataend}}, {under.datastart, under.dataend}};
}

} // namespace ferro::picture::pixels
