#include "base/parallel.h"
#include "picture/light.h"
#include "picture/pixels/pixels_internal.h"
#include "picture/pixels/specks_internal.h"

#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace ferro::picture::pixels {

namespace {

using Kind = CleanStep::Kind;

cv::Mat matOf(const Picture& p) {
    const int type = p.channels == 1 ? CV_8UC1 : p.channels == 3 ? CV_8UC3 : CV_8UC4;
    // The library does not write to it: every operation makes a new one.
    return {p.height, p.width, type, const_cast<std::uint8_t*>(p.pixels->data())};
}
Picture pictureOf(const cv::Mat& mat, const Picture& like) {
    Picture out = like;
    out.width = mat.cols, out.height = mat.rows, out.channels = mat.channels();
    const cv::Mat whole = mat.isContinuous() ? mat : mat.clone();
    out.pixels =
        std::make_shared<const std::vector<std::uint8_t>>(whole.data, whole.data + whole.total() * whole.elemSize());
    return out;
}
cv::Mat greyMat(const cv::Mat& mat, const Picture& like) {
    if (mat.channels() == 1) return mat;
    const auto grey = greyOf(pictureOf(mat, like));
    return cv::Mat(grey.height, grey.width, CV_8UC1, const_cast<std::uint8_t*>(grey.values.data())).clone();
}

class Cleaner {
public:
    Cleaner(const Picture& original, double pxPerMm)
        : like_(original), mat_(matOf(original)), k_(pxPerMm), ground_(isLightOnClear(original) ? 0 : 255) {}

    std::optional<Problem> apply(const CleanStep& step) {
        try {
            return done(step);
        } catch (const cv::Exception&) {
            return Problem{.what = fmt::format("The clean-up “{}” could not be done.", wordOf(step.kind)),
                           .where = {},
                           .mend = "Change its values, or use a smaller picture."};
        }
    }
    Cleaned finished() const { return {pictureOf(mat_, like_), low_}; }

private:
    std::optional<Problem> done(const CleanStep& step) {
        switch (step.kind) {
        case Kind::crop: return crop(step.area);
        case Kind::straighten: return straighten(step.amount);
        case Kind::tone: return tone(step.amount, step.second);
        case Kind::evenLight: return evenLight(step.amount);
        case Kind::blackWhite: return blackWhite(step.amount);
        case Kind::invert: {
            cv::Mat out;
            cv::bitwise_not(flat(), out);
            mat_ = out;
            return std::nullopt;
        }
        case Kind::despeckle: return despeckle(step.amount);
        case Kind::smooth: return smooth(step.amount);
        case Kind::erase: return brush(step.strokes, true);
        case Kind::draw: return brush(step.strokes, false);
        }
        return std::nullopt;
    }
    static Problem outOf(Kind kind, std::string_view range) {
        return {.what = fmt::format("The clean-up “{}” takes {}.", wordOf(kind), range),
                .where = {},
                .mend = "Change its value."};
    }
    /// Without see-through parts: on white paper, or on black where what lies there is too light for that.
    cv::Mat flat() const {
        if (mat_.channels() != 4) return mat_;
        cv::Mat out(mat_.rows, mat_.cols, CV_8UC3);
        for (int y = 0; y < mat_.rows; ++y)
            for (int x = 0; x < mat_.cols; ++x) {
                const auto& p = mat_.at<cv::Vec4b>(y, x);
                for (int c = 0; c < 3; ++c)
                    out.at<cv::Vec3b>(y, x)[c] =
                        static_cast<std::uint8_t>((p[c] * p[3] + ground_ * (255 - p[3]) + 127) / 255);
            }
        return out;
    }
    /// What most of the picture's edge is like.
    cv::Scalar paper() const {
        std::array<std::vector<std::uint8_t>, 3> edge;
        const cv::Mat m = flat();
        const auto take = [&](int x, int y) {
            for (int c = 0; c < m.channels(); ++c)
                edge[static_cast<std::size_t>(c)].push_back(
                    m.data[static_cast<std::size_t>(y) * m.step + static_cast<std::size_t>(x * m.channels() + c)]);
        };
        for (int x = 0; x < m.cols; ++x) take(x, 0), take(x, m.rows - 1);
        for (int y = 0; y < m.rows; ++y) take(0, y), take(m.cols - 1, y);
        cv::Scalar out;
        for (int c = 0; c < m.channels(); ++c) {
            auto& v = edge[static_cast<std::size_t>(c)];
            std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
            out[c] = v[v.size() / 2];
        }
        return out;
    }
    [[nodiscard]] int px(double mm) const { return static_cast<int>(std::lround(mm * k_)); }

    std::optional<Problem> crop(const Box& area) {
        const double h = mat_.rows / k_;
        const cv::Rect whole(0, 0, mat_.cols, mat_.rows);
        const cv::Rect wanted(cv::Point(px(area.low.x), px(h - area.high.y)),
                              cv::Point(px(area.high.x), px(h - area.low.y)));
        const cv::Rect rect = area.empty() ? cv::Rect() : wanted & whole;
        if (rect.width < 1 || rect.height < 1) return outOf(Kind::crop, "an area that lies on the picture");
        low_ += Vec2{rect.x / k_, (mat_.rows - rect.y - rect.height) / k_};
        mat_ = mat_(rect).clone();
        return std::nullopt;
    }
    std::optional<Problem> straighten(double degrees) {
        if (!(std::abs(degrees) <= 90)) return outOf(Kind::straighten, "-90° to 90°");
        if (degrees == 0) return std::nullopt;
        const cv::Mat from = flat();
        const cv::Point2f middle(static_cast<float>(from.cols - 1) / 2, static_cast<float>(from.rows - 1) / 2);
        cv::Mat turn = cv::getRotationMatrix2D(middle, degrees, 1);
        const double co = std::abs(turn.at<double>(0, 0)), si = std::abs(turn.at<double>(0, 1));
        const int w = static_cast<int>(std::ceil(from.rows * si + from.cols * co - 1e-6)),
                  h = static_cast<int>(std::ceil(from.rows * co + from.cols * si - 1e-6));
        turn.at<double>(0, 2) += (w - from.cols) / 2.0;
        turn.at<double>(1, 2) += (h - from.rows) / 2.0;
        low_ += Vec2{(from.cols - w) / 2.0 / k_, (from.rows - h) / 2.0 / k_};
        cv::Mat out;
        cv::warpAffine(from, out, turn, {w, h}, cv::INTER_CUBIC, cv::BORDER_CONSTANT, paper());
        mat_ = out;
        return std::nullopt;
    }
    std::optional<Problem> tone(double brightness, double contrast) {
        if (!(std::abs(brightness) <= 100 && std::abs(contrast) <= 100)) return outOf(Kind::tone, "-100 to 100");
        const double slope = contrast < 0 ? 1 + contrast / 100 : 1 / std::max(0.02, 1 - contrast / 100);
        cv::Mat each(1, 256, CV_8UC1), out;
        for (int g = 0; g < 256; ++g) each.at<std::uint8_t>(g) = static_cast<std::uint8_t>(g);
        each.convertTo(each, -1, slope, 127.5 - 127.5 * slope + brightness * 1.275);
        cv::LUT(flat(), each, out);
        mat_ = out;
        return std::nullopt;
    }
    /// The picture divided by the light that falls on its paper. A shadow's edge is nearer to a step than the blocks of
    /// that light tell: there each pixel takes the light of the one side or the other, whichever its closest
    /// surroundings are like.
    std::optional<Problem> evenLight(double mm) {
        if (!(mm >= 0 && mm <= 1000)) return outOf(Kind::evenLight, "a length, or 0 for ink of any width");
        const cv::Mat grey = greyMat(flat(), like_);
        Grey plain{grey.cols, grey.rows, std::vector<std::uint8_t>(grey.total())};
        grey.copyTo(cv::Mat(grey.rows, grey.cols, CV_8UC1, plain.values.data()));
        const Light found = lightOf(plain, mm * k_);
        if (found.width < 2 || found.height < 2) return std::nullopt;
        cv::Mat light(found.height, found.width, CV_8UC1);
        for (int y = 0; y < found.height; ++y)
            for (int x = 0; x < found.width; ++x)
                light.at<std::uint8_t>(y, x) =
                    static_cast<std::uint8_t>(std::clamp(found.at(x, y) + 0.5f, 1.0f, 255.0f));
        cv::Mat least, most, paper;
        const cv::Mat near = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
        cv::erode(light, least, near);
        cv::dilate(light, most, near);
        // The last blocks may reach beyond the picture.
        cv::resize(light, paper, {found.width * found.block, found.height * found.block}, 0, 0, cv::INTER_LINEAR);
        constexpr int white = 248; // of the paper: its grain lies to both sides of it
        // What a grey is under each light, looked up: dividing 24 million times is slow.
        std::vector<std::uint8_t> under(256 * 256);
        for (int by = 0; by < 256; ++by)
            for (int g = 0; g < 256; ++g)
                under[static_cast<std::size_t>(by * 256 + g)] =
                    static_cast<std::uint8_t>(std::min(255, (g * white + by / 2) / std::max(24, by)));
        cv::Mat out(grey.size(), CV_8UC1);
        const int thin = std::clamp(2 * found.block + 1, 7, 15);
        constexpr int tile = 192;
        const int across = (grey.cols + tile - 1) / tile, down = (grey.rows + tile - 1) / tile;
        parallelSlices(static_cast<std::size_t>(across * down), 1, [&](std::size_t first, std::size_t last) {
            for (auto n = static_cast<int>(first); n < static_cast<int>(last); ++n) {
                const cv::Rect in =
                    cv::Rect(n % across * tile, n / across * tile, tile, tile) & cv::Rect(0, 0, grey.cols, grey.rows);
                for (int y = in.y; y < in.y + in.height; ++y) {
                    const auto *g = grey.ptr<std::uint8_t>(y), *by = paper.ptr<std::uint8_t>(y);
                    auto* o = out.ptr<std::uint8_t>(y);
                    for (int x = in.x; x < in.x + in.width; ++x)
                        o[x] = under[static_cast<std::size_t>(by[x]) * 256 + g[x]];
                }
                atShadowEdge(grey, {light, least, most, found.block}, in, thin, under, out);
            }
        });
        mat_ = out;
        return std::nullopt;
    }
    struct Lights {
        const cv::Mat &light, &least, &most; ///< smaller than the picture, by as much as
        int block;
    };
    /// The part of a picture again where the light about there differs by more than a quarter.
    static void atShadowEdge(const cv::Mat& grey, const Lights& small, const cv::Rect& in, int thin,
                             const std::vector<std::uint8_t>& under, cv::Mat& out) {
        const double sx = 1.0 / small.block, sy = sx;
        const cv::Rect about = cv::Rect(cv::Point(static_cast<int>(std::floor(in.x * sx)) - 1,
                                                  static_cast<int>(std::floor(in.y * sy)) - 1),
                                        cv::Point(static_cast<int>(std::ceil((in.x + in.width) * sx)) + 2,
                                                  static_cast<int>(std::ceil((in.y + in.height) * sy)) + 2)) &
                               cv::Rect(0, 0, small.light.cols, small.light.rows);
        bool differs = false;
        for (int y = about.y; y < about.y + about.height && !differs; ++y)
            for (int x = about.x; x < about.x + about.width; ++x)
                differs = differs || small.most.at<std::uint8_t>(y, x) * 4 > small.least.at<std::uint8_t>(y, x) * 5;
        if (!differs) return;
        // The closest surroundings, with so much round them that the part's edge does not show.
        const cv::Rect wide = cv::Rect(in.x - 2 * thin, in.y - 2 * thin, in.width + 4 * thin, in.height + 4 * thin) &
                              cv::Rect(0, 0, grey.cols, grey.rows);
        cv::Mat closest;
        cv::morphologyEx(grey(wide), closest, cv::MORPH_CLOSE,
                         cv::getStructuringElement(cv::MORPH_ELLIPSE, {thin, thin}));
        const auto between = [&](const cv::Mat& m, int x, int y) { // as an enlarged copy would have it
            const double u = std::clamp((x + 0.5) * sx - 0.5, 0.0, m.cols - 1.0),
                         v = std::clamp((y + 0.5) * sy - 0.5, 0.0, m.rows - 1.0);
            const int c = std::min(static_cast<int>(u), m.cols - 2), r = std::min(static_cast<int>(v), m.rows - 2);
            const double fu = u - c, fv = v - r;
            const auto at = [&](int row, int column) { return static_cast<double>(m.at<std::uint8_t>(row, column)); };
            return static_cast<int>(
                std::lerp(std::lerp(at(r, c), at(r, c + 1), fu), std::lerp(at(r + 1, c), at(r + 1, c + 1), fu), fv) +
                0.5);
        };
        for (int y = in.y; y < in.y + in.height; ++y)
            for (int x = in.x; x < in.x + in.width; ++x) {
                const int lo = between(small.least, x, y), hi = between(small.most, x, y);
                if (hi * 4 <= lo * 5) continue;
                const int c = closest.at<std::uint8_t>(y - wide.y, x - wide.x);
                if (c * 100 < lo * 42) continue; // solid ink tells nothing of the paper beside it
                const int by = c * c > hi * lo ? hi : lo;
                out.at<std::uint8_t>(y, x) = under[static_cast<std::size_t>(by) * 256 + grey.at<std::uint8_t>(y, x)];
            }
    }
    std::optional<Problem> blackWhite(double level) {
        if (!(level >= 0 && level <= 255)) return outOf(Kind::blackWhite, "a level of 1 to 255, or 0");
        cv::Mat grey = greyMat(flat(), like_);
        if (!grey.isContinuous()) grey = grey.clone();
        const int at =
            level >= 1 ? static_cast<int>(level) : automaticLevel(histogramOf(std::span(grey.data, grey.total())));
        cv::Mat out;
        cv::threshold(grey, out, at - 1, 255, cv::THRESH_BINARY);
        mat_ = out;
        return std::nullopt;
    }
    /// Dark and light patches under a size take the mean of what lies round them.
    std::optional<Problem> despeckle(double mm2) {
        if (!(mm2 >= 0 && mm2 <= 1e6)) return outOf(Kind::despeckle, "an area of 0 mm² or more");
        const double least = mm2 * k_ * k_;
        cv::Mat grey = greyMat(flat(), like_).clone();
        const int level = automaticLevel(histogramOf(std::span(grey.data, grey.total())));
        const auto specks = specksIn({grey.data, grey.total()}, grey.cols, grey.rows, level, least);
        for (const auto& speck : specks) {
            int left = grey.cols, right = 0;
            for (const auto& run : speck.runs) left = std::min(left, run.begin), right = std::max(right, run.end);
            // With two pixels round it: the half-tones of its edge go with it.
            const int top = speck.runs.front().row, bottom = speck.runs.back().row + 1;
            const cv::Rect in =
                cv::Rect(left - 3, top - 3, right - left + 6, bottom - top + 6) & cv::Rect(0, 0, grey.cols, grey.rows);
            cv::Mat own = cv::Mat::zeros(in.size(), CV_8UC1), wide, others;
            for (const auto& run : speck.runs)
                own.row(run.row - in.y).colRange(run.begin - in.x, run.end - in.x).setTo(255);
            cv::threshold(grey(in), others, level - 1, 255, speck.dark ? cv::THRESH_BINARY_INV : cv::THRESH_BINARY);
            others.setTo(0, own);
            cv::dilate(own, wide, cv::Mat(), {-1, -1}, 2);
            const cv::Mat round = ~(wide | others);
            if (cv::countNonZero(round) == 0) continue;
            const auto mean = cv::mean(grey(in), round);
            cv::dilate(others, others, cv::Mat(), {-1, -1}, 2);
            grey(in).setTo(mean, wide & ~others);
        }
        mat_ = grey;
        return std::nullopt;
    }
    std::optional<Problem> smooth(double mm) {
        if (!(mm >= 0 && mm <= 100)) return outOf(Kind::smooth, "0 to 100 mm");
        if (mm * k_ < 0.05) return std::nullopt;
        cv::Mat out;
        cv::GaussianBlur(flat(), out, {}, mm * k_);
        mat_ = out;
        return std::nullopt;
    }
    std::optional<Problem> brush(const std::vector<BrushStroke>& strokes, bool erases) {
        cv::Mat out = flat().clone();
        // Paper is what the picture's edge has; ink as dark as its darkest twentieth.
        cv::Scalar ink = erases ? paper() : cv::Scalar::all(0);
        constexpr int shift = 6; // sub-pixels: 64
        for (const auto& stroke : strokes) {
            if (!(stroke.width > 0)) return outOf(erases ? Kind::erase : Kind::draw, "a brush above 0 mm");
            std::vector<cv::Point> line;
            for (const Vec2 p : stroke.points) {
                if (!isFinite(p) || std::abs(p.x) > 1e5 || std::abs(p.y) > 1e5)
                    return outOf(Kind::erase, "strokes on the picture");
                line.emplace_back(static_cast<int>(std::lround((p.x * k_ - 0.5) * (1 << shift))),
                                  static_cast<int>(std::lround((mat_.rows - p.y * k_ - 0.5) * (1 << shift))));
            }
            const int thick = std::clamp(px(stroke.width), 1, 32000);
            if (line.size() == 1) cv::circle(out, line[0], (thick << shift) / 2, ink, cv::FILLED, cv::LINE_AA, shift);
            for (std::size_t i = 0; i + 1 < line.size(); ++i)
                cv::line(out, line[i], line[i + 1], ink, thick, cv::LINE_AA, shift);
        }
        mat_ = out;
        return std::nullopt;
    }

    Picture like_;
    cv::Mat mat_;
    double k_;
    int ground_; ///< grey
    Vec2 low_;
};

} // namespace

Result<Cleaned> cleaned(const Picture& original, const std::vector<CleanStep>& steps, double pxPerMm,
                        Progress& progress) {
    if (original.width <= 0 || original.height <= 0 || !(pxPerMm > 0))
        return Problem{.what = "The picture has no pixels.", .where = {}, .mend = {}};
    Cleaner cleaner(original, pxPerMm);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (progress.cancelled()) return Problem::cancelled();
        progress.at(static_cast<double>(i) / static_cast<double>(steps.size()));
        if (!steps[i].on) continue;
        if (auto problem = cleaner.apply(steps[i])) return problem->within(fmt::format("clean-up step {}", i + 1));
    }
    return cleaner.finished();
}

Reduced reduced(const Picture& picture, double pxPerMm, std::size_t pixels) {
    if (picture.count() <= pixels) return {picture, pxPerMm};
    const double shrink = std::sqrt(static_cast<double>(pixels) / static_cast<double>(picture.count()));
    cv::Mat out;
    cv::resize(matOf(picture), out, {}, shrink, shrink, cv::INTER_AREA);
    Picture small = pictureOf(out, picture);
    return {small, pxPerMm * small.width / picture.width};
}

} // namespace ferro::picture::pixels
