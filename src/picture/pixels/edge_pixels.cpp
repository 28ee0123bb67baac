#include "picture/pixels/pixels_internal.h"

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
/// Where the line near a place runs the way of the area's edge there: by the structure tensor of the lines (Förstner &
/// Gülch 1987), whose first axis is square to the line.
cv::Mat alike(const cv::Mat& lines, const cv::Mat& dx, const cv::Mat& dy) {
    cv::Mat lx, ly;
    cv::Sobel(lines, lx, CV_32F, 1, 0, 3);
    cv::Sobel(lines, ly, CV_32F, 0, 1, 3);
    cv::Mat xx = lx.mul(lx), xy = lx.mul(ly), yy = ly.mul(ly);
    for (cv::Mat* m : {&xx, &xy, &yy}) cv::GaussianBlur(*m, *m, {}, 2.5);
    cv::Mat out(lines.size(), CV_8UC1);
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const double turn = std::atan2(2 * xy.at<float>(y, x), xx.at<float>(y, x) - yy.at<float>(y, x)) / 2;
            const Vec2 edge = unit(Vec2{dx.at<float>(y, x), dy.at<float>(y, x)});
            out.at<std::uint8_t>(y, x) = std::abs(dot(edge, {std::cos(turn), std::sin(turn)})) > 0.8 ? 255 : 0;
        }
    return out;
}
} // namespace

Grey edgesAsInk(const picture::Grey& grey, double widest, double least) {
    const cv::Mat from(grey.height, grey.width, CV_8UC1, const_cast<std::uint8_t*>(grey.values.data()));
    cv::Mat soft;
    cv::GaussianBlur(from, soft, {}, 0.8);
    // What is thinner than the widest line goes, dark lines by closing, light ones by opening: areas are left.
    const int size = std::max(3, static_cast<int>(std::ceil(widest)) + 2) | 1;
    const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, {size, size});
    cv::Mat closed, opened, areas, dark, light, lines;
    cv::morphologyEx(soft, closed, cv::MORPH_CLOSE, disc);
    cv::morphologyEx(closed, areas, cv::MORPH_OPEN, disc);
    cv::morphologyEx(soft, opened, cv::MORPH_OPEN, disc);
    dark = closed - soft;
    cv::subtract(soft, opened, light);
    cv::min(light, closed - areas, light);
    cv::max(dark, light, lines);
    // The areas' edges: how steep they are, so that the middle of the slope is the line.
    cv::Mat dx, dy, steep, ink;
    cv::GaussianBlur(areas, areas, {}, 1.0);
    cv::Sobel(areas, dx, CV_32F, 1, 0, 3, 1 / 8.0);
    cv::Sobel(areas, dy, CV_32F, 0, 1, 3, 1 / 8.0);
    cv::magnitude(dx, dy, steep);
    // A step of this height, blurred as it is here, is about a quarter as steep per pixel.
    cv::Mat edges;
    steep.convertTo(edges, CV_8UC1, 4 * 64 / least);
    cv::Mat strong;
    lines.convertTo(strong, CV_8UC1, 128 / least);
    // Beside a drawn line an area's edge of the same way says the same once more.
    cv::Mat near;
    cv::threshold(strong, near, 127, 255, cv::THRESH_BINARY);
    cv::dilate(near, near, cv::getStructuringElement(cv::MORPH_ELLIPSE, {size, size}));
    edges.setTo(0, near & alike(strong, dx, dy));
    cv::max(strong, edges, ink);
    cv::bitwise_not(ink, ink);
    return {grey.width, grey.height, {ink.datastart, ink.dataend}};
}

} // namespace ferro::picture::pixels
