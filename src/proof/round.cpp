// The solid as it is seen: columns by floating horizons, tools as bodies of revolution.
#include "proof/round.h"

#include "base/parallel.h"

namespace ferro::proof {

using toolpath::Vec3;

namespace {

constexpr double steep = 1.5;    ///< a slope beyond which it is a wall
constexpr double ambient = 0.36; ///< what is turned away from the light still has
constexpr float hole = 1e-3f;    ///< mm above the underside: as good as nothing
constexpr float nothing = std::numeric_limits<float>::quiet_NaN();

struct Pixel {
    std::uint8_t r = 0, g = 0, b = 0, a = 0;
};
using Colour = std::array<double, 3>;

Pixel pixelOf(const Colour& c) {
    const auto byte = [](double v) { return static_cast<std::uint8_t>(std::clamp(v + 0.5, 0.0, 255.0)); };
    return {byte(c[0]), byte(c[1]), byte(c[2]), 255};
}

/// The directions of a view: `right` and `ahead` along the sheet.
struct Frame {
    Vec2 right, ahead;
    double sine, cosine; ///< of the tilt
    explicit Frame(const RoundView& view)
        : right{std::cos(view.turn), std::sin(view.turn)}, ahead(perpendicular(right)),
          sine(std::sin(std::clamp(view.tilt, 0.05, pi / 2))),
          cosine(view.tilt >= pi / 2 ? 0.0 : std::cos(std::max(view.tilt, 0.05))) {}
};

/// From the upper left of the one who looks: of the way right, ahead and up.
constexpr Vec3 sun{-0.45, -0.35, 0.82};

double lambert(double right, double ahead, double up) {
    return ambient + (1 - ambient) * std::max(0.0, right * sun.x + ahead * sun.y + up * sun.z) / sun.z;
}

/// Heights of one layer: what is loose, or all else. Beyond the grid there is nothing.
class Layer {
public:
    Layer(const Solid& solid, bool loose, double section)
        : solid_(solid), cells_((loose ? solid.lifted : solid.stays).data()), low_(solid.grid.area.low),
          perMm_(1 / solid.grid.cell), lastColumn_(solid.grid.columns - 1), lastRow_(solid.grid.rows - 1),
          under_(-solid.thickness), lid_(-section) {}
    struct At {
        double height = 0; ///< before anything is taken away above the cutting plane
        const Solid::Cell* cell = nullptr;
        std::array<const Solid::Cell*, 3> others{}; ///< between which and that one it lies
    };
    [[nodiscard]] At at(Vec2 p) const {
        const double x = std::min(std::max((p.x - low_.x) * perMm_ - 0.5, 0.0), double(lastColumn_));
        const double y = std::min(std::max((p.y - low_.y) * perMm_ - 0.5, 0.0), double(lastRow_));
        const int c = static_cast<int>(x), r = static_cast<int>(y);
        const double tx = x - c, ty = y - r;
        const std::size_t left = solid_.columnAt(c), right = solid_.columnAt(std::min(c + 1, lastColumn_));
        const Solid::Cell *lower = cells_ + solid_.rowAt(r), *upper = cells_ + solid_.rowAt(std::min(r + 1, lastRow_));
        const auto between = [](double a, double b, double t) { return a + (b - a) * t; };
        return {between(between(lower[left].z, lower[right].z, tx), between(upper[left].z, upper[right].z, tx), ty),
                lower + left,
                {lower + right, upper + left, upper + right}};
    }
    [[nodiscard]] double under() const { return under_; }
    [[nodiscard]] double lid() const { return lid_; }

private:
    const Solid& solid_;
    const Solid::Cell* cells_;
    Vec2 low_;
    double perMm_;
    int lastColumn_, lastRow_;
    double under_, lid_;
};

/// What the material shows at a place.
class Paint {
public:
    /// `plyHeight`: px that a ply is high at a wall; where that is little they would only flicker.
    Paint(const Look& look, double section, double plyHeight)
        : look_(look), lid_(-section), plies_(std::clamp((plyHeight - 1.5) / 2, 0.0, 1.0)) {
        for (std::size_t k = 0; k < 3; ++k) {
            stock_[k] = look.stock[k];
            cut_[k] = stock_[k] * (look.beam ? 0.48 - 0.05 * static_cast<double>(k) : 1); // charred
        }
    }
    /// `wall`: a wall, not a floor, `own`: the sheet's own edge, that nothing has cut; `z` below the top, of the stock
    /// as it lies; in so much light.
    [[nodiscard]] Pixel lit(Vec2 p, double z, double grain, bool wall, bool cutOpen, double light,
                            bool own = false) const {
        if (cutOpen) { // the cutting plane: hatched as on a drawing
            const double across = std::fmod(std::abs(p.x + p.y), 5.0);
            return pixelOf(across < 0.7 ? scaled(stock_, 0.72 * light)
                                        : Colour{0.5 * stock_[0] + 127, 0.5 * stock_[1] + 127, 0.5 * stock_[2] + 127});
        }
        const bool below = wall || z < -1e-4;
        if (below && look_.ply > 0) {
            const double layer = -z / look_.ply;
            const auto number = static_cast<long>(layer);
            const double within = layer - static_cast<double>(number);
            light *= wall         ? 0.905 + (number % 2 ? -0.065 : 0.065) * plies_
                     : number % 2 ? 0.84
                                  : 0.97;                                                // end grain is darker
            if (wall && std::min(within, 1 - within) < 0.06) light *= 1 - 0.14 * plies_; // glue
        } else if (below) {
            light *= 0.93;
        }
        if (look_.grain && !wall) light *= 1 + grain;
        return pixelOf(scaled(below && !own ? cut_ : stock_, light));
    }
    [[nodiscard]] bool isCutOpen(double whole) const { return lid_ < 0 && whole > lid_ + 1e-6; }

private:
    static Colour scaled(const Colour& c, double by) { return {c[0] * by, c[1] * by, c[2] * by}; }
    const Look& look_;
    double lid_, plies_;
    Colour stock_{}, cut_{};
};

/// One column of samples from the bottom up.
struct Column {
    Pixel* pixels;
    float* heights;
    int size;
};

struct Scene {
    const Solid& solid;
    const RoundView& view; ///< in samples
    Frame frame;
    Paint paint;
    Vec2 lightAlong = frame.right * sun.x + frame.ahead * sun.y; ///< the light's direction along the sheet

    /// Follows a line over a layer from near to far.
    void follow(const Layer& layer, double lift, const Box& area, double across, Column& out) const {
        const double s = frame.sine, c = frame.cosine, k = view.scale, middle = view.height / 2.0;
        // Rays meet the solid no nearer and no farther than this.
        double near = (-middle / k - std::max(0.0, lift) * c) / s - 1e-9;
        double far = (middle / k + solid.thickness * c) / s;
        const Vec2 origin = view.centre + frame.right * across;
        const auto clip = [&](double from, double along, double low, double high) {
            if (std::abs(along) < 1e-12) {
                if (from < low || from > high) far = near - 1;
                return;
            }
            const double a = (low - from) / along, b = (high - from) / along;
            near = std::max(near, std::min(a, b)), far = std::min(far, std::max(a, b));
        };
        clip(origin.x, frame.ahead.x, area.low.x, area.high.x);
        clip(origin.y, frame.ahead.y, area.low.y, area.high.y);
        if (far <= near) return;
        const double step = std::max(0.9 * solid.grid.cell, 0.6 / k);
        const auto count = static_cast<std::size_t>(std::ceil((far - near) / step));
        int horizon = 0; // the lowest sample that nothing has reached yet
        bool inside = false;
        double before = 0, beforeAt = 0;
        for (std::size_t i = 0; i <= count; ++i) {
            const double d = i == count ? far : near + static_cast<double>(i) * step;
            const Vec2 p = origin + frame.ahead * d;
            const auto at = layer.at(p);
            const double whole = at.height, h = std::min(whole, layer.lid());
            if (h <= layer.under() + hole) {
                inside = false;
                continue;
            }
            if (!inside) horizon = std::max(horizon, sampleAbove(middle + (d * s + (layer.under() + lift) * c) * k));
            const int top = std::min(out.size, sampleAbove(middle + (d * s + (h + lift) * c) * k));
            if (top > horizon) {
                // The wall or floor lies as it does here: of one sample for all that it shows.
                const auto& lies = *at.cell;
                const double rise = inside ? (h - before) / (d - beforeAt) : 0;
                const bool wall = !inside || rise > steep, open = !wall && paint.isCutOpen(whole);
                const double light = open     ? 1.0
                                     : i == 0 ? edgeShine(p)
                                     : wall   ? wallShine(at)
                                              : shine(lies) * (1 - 0.5 * lies.shade / 255.0);
                // z along the surface goes evenly with the samples.
                const double a = inside ? 1 / (1 + rise * c / s) : 0, b = inside ? rise / s * a : 1 / std::max(c, 1e-9);
                const double base =
                    inside ? (before - rise * beforeAt - rise * lift * c / s) * a : -d * s / std::max(c, 1e-9) - lift;
                const auto floor = paint.lit(p, h, lies.grain / 2000.0, false, open, light);
                for (int v = horizon; v < top; ++v) {
                    const double y = (v + 0.5 - middle) / k, z = std::clamp(base + b * y, layer.under(), h);
                    if (static_cast<double>(out.heights[v]) >= z + lift) continue; // never where nothing is yet
                    const double deep = i == 0 ? 0 : 0.35 * -z / solid.thickness;  // less light gets down along it
                    out.pixels[v] = wall ? paint.lit(p, z, 0, true, false, light * (1 - deep), i == 0) : floor;
                    out.heights[v] = static_cast<float>(z + lift);
                }
                horizon = top;
            }
            if (horizon >= out.size) return;
            inside = true;
            before = h, beforeAt = d;
        }
    }

    /// The first sample whose middle lies at or above a height of the picture.
    [[nodiscard]] static int sampleAbove(double v) {
        const double inside = std::min(std::max(v - 0.5, 0.0), 1e8);
        const int whole = static_cast<int>(inside); // ceil without a call
        return whole + static_cast<int>(whole < inside);
    }
    [[nodiscard]] double shine(const Solid::Cell& lies) const {
        const double x = lies.x / 127.0, y = lies.y / 127.0;
        return ambient + (1 - ambient) *
                             std::max(0.0, x * lightAlong.x + y * lightAlong.y +
                                               std::sqrt(std::max(0.0, 1 - x * x - y * y)) * sun.z) /
                             sun.z;
    }
    /// A cut wall stands upright, turned as the cells around it say, the steep ones most.
    [[nodiscard]] double wallShine(const Layer::At& at) const {
        double x = 0, y = 0;
        const auto take = [&](const Solid::Cell& cell) {
            const double weight = cell.x * cell.x + cell.y * cell.y;
            x += weight * cell.x, y += weight * cell.y;
        };
        take(*at.cell);
        for (const auto* cell : at.others) take(*cell);
        const double size = std::hypot(x, y);
        if (size <= 0) return shine(*at.cell);
        return ambient + (1 - ambient) * std::max(0.0, (x * lightAlong.x + y * lightAlong.y) / size) / sun.z;
    }
    /// The sheet's own edge, of the side that a place lies at.
    [[nodiscard]] double edgeShine(Vec2 p) const {
        const Box& area = solid.grid.area;
        const std::array<std::pair<double, Vec2>, 4> sides{{{std::abs(p.x - area.low.x), {-1, 0}},
                                                            {std::abs(p.x - area.high.x), {1, 0}},
                                                            {std::abs(p.y - area.low.y), {0, -1}},
                                                            {std::abs(p.y - area.high.y), {0, 1}}}};
        const Vec2 out = std::min_element(sides.begin(), sides.end(), [](const auto& a, const auto& b) {
                             return a.first < b.first;
                         })->second;
        return lambert(dot(out, frame.right), dot(out, frame.ahead), 0);
    }

    /// The ground below the sheet is darker where the sheet keeps the light off.
    void shadow(const Layer& layer, double across, Column& out) const {
        const double middle = view.height / 2.0, s = frame.sine, c = frame.cosine;
        const double reach = solid.thickness;
        const Vec2 towards = frame.right * (sun.x / sun.z * reach) + frame.ahead * (sun.y / sun.z * reach);
        for (int v = 0; v < out.size; ++v) {
            if (!std::isnan(out.heights[v])) continue;
            const double y = (v + 0.5 - middle) / view.scale;
            const Vec2 p = view.centre + frame.right * across + frame.ahead * ((y + solid.thickness * c) / s) + towards;
            if (solid.grid.area.contains(p) && layer.at(p).height > layer.under() + hole) out.pixels[v].a = 46;
        }
    }
};

/// A tool's outline: how wide it is at heights above its lowest point.
class Outline {
public:
    Outline(const ShownTool& shown, double leastRadius)
        : tool_(shown.tool), holder_(shown.holder / 2), least_(leastRadius) {
        beam_ = tool_.kind == shop::ToolKind::laser;
        flutes_ = beam_ ? 6 : tool_.fluteLength;
        shank_ = beam_ ? 16 : std::max(flutes_, tool_.stickOut > 0 ? tool_.stickOut : tool_.fluteLength + 12);
        top_ = shank_ + (beam_ || holder_ > 0 ? 16 : 0);
        wide_ = 0;
        for (int i = 0; i <= 64; ++i) wide_ = std::max(wide_, radius(top_ * i / 64));
    }
    [[nodiscard]] double radius(double z) const {
        if (z < 0 || z > top_) return 0;
        if (beam_)
            return z < flutes_ ? std::max(least_, tool_.radius()) : 1.5 + 4.5 * std::min(1.0, (z - flutes_) / 10);
        if (z <= flutes_) return std::max(tool_.radiusAt(z), least_);
        return z <= shank_ ? std::max(tool_.shankRadius(), least_) : holder_;
    }
    [[nodiscard]] double top() const { return top_; }
    [[nodiscard]] double widest() const { return wide_; }
    /// Colour, and how much of it covers.
    [[nodiscard]] std::pair<Colour, double> colour(double z) const {
        if (beam_ && z < flutes_) return {{214, 72, 40}, 0.85};
        if (z <= flutes_) return {{150, 160, 168}, 1};
        if (z <= shank_ && !beam_) return {{118, 128, 136}, 1};
        return {{86, 94, 102}, 0.45}; // one looks through it at the work
    }

private:
    shop::Tool tool_;
    double holder_, least_;
    double flutes_ = 0, shank_ = 0, top_ = 0, wide_ = 0;
    bool beam_ = false;
};

/// Draws a tool into a column where nothing nearer is. At one sample what lies higher is nearer.
void stand(const Scene& scene, const Outline& outline, const ShownTool& shown, double across, Column& out) {
    const auto& view = scene.view;
    const double s = scene.frame.sine, c = scene.frame.cosine, middle = view.height / 2.0;
    const Vec2 from = shown.tip.flat() - view.centre;
    const double a = across - dot(from, scene.frame.right);
    if (std::abs(a) >= outline.widest()) return;
    const double foot = dot(from, scene.frame.ahead) * s + shown.tip.z * c; // where the tip is up the picture, mm
    const double reach = std::sqrt(outline.widest() * outline.widest() - a * a);
    const auto rowOf = [&](double y) {
        return static_cast<int>(std::clamp(middle + y * view.scale, -1.0, out.size + 1.0));
    };
    const int low = std::max(0, rowOf(foot - reach * s)),
              high = std::min(out.size, rowOf(foot + outline.top() * c + reach * s) + 1);
    for (int v = low; v < high; ++v) {
        const double y = (v + 0.5 - middle) / view.scale - foot;
        // z falls along the ray, and with it the way ahead of the axis grows.
        double upper = outline.top(), lower = 0;
        if (c > 1e-9) upper = std::min(upper, (y + reach * s) / c), lower = std::max(lower, (y - reach * s) / c);
        if (upper < lower) continue;
        const auto ahead = [&](double z) { return (y - z * c) / s; };
        const auto isIn = [&](double z) {
            const double r = outline.radius(z), w = ahead(z);
            return a * a + w * w <= r * r;
        };
        constexpr int steps = 56;
        double beyond = upper, in = -1;
        for (int i = 0; i <= steps; ++i) {
            const double z = upper + (lower - upper) * i / steps;
            if (isIn(z)) {
                in = z;
                break;
            }
            beyond = z;
        }
        if (in < 0) continue;
        if (beyond != in)
            for (int i = 0; i < 12; ++i) {
                const double z = (beyond + in) / 2;
                (isIn(z) ? in : beyond) = z;
            }
        const double z = in + shown.tip.z;
        if (!std::isnan(out.heights[v]) && static_cast<double>(out.heights[v]) > z) continue;
        const double r = outline.radius(in), w = ahead(in);
        const bool lid = r * r - a * a - w * w > 0.02 * r * r; // seen from above: an end, not the side
        const double fall = lid ? 0 : (outline.radius(std::max(0.0, in - 0.01)) - r) / 0.01;
        const double norm = lid || r <= 0 ? 1 : std::sqrt(1 + fall * fall);
        const double shine = lid || r <= 0 ? 1 : lambert(a / r / norm, w / r / norm, fall / norm);
        const auto [colour, cover] = outline.colour(in);
        const Pixel lit = pixelOf({colour[0] * shine, colour[1] * shine, colour[2] * shine});
        Pixel& at = out.pixels[v];
        const auto mix = [cover = cover](std::uint8_t over, std::uint8_t under) {
            return static_cast<std::uint8_t>(over * cover + under * (1 - cover) + 0.5);
        };
        at = {mix(lit.r, at.r), mix(lit.g, at.g), mix(lit.b, at.b), mix(255, at.a)};
        out.heights[v] = nothing;
    }
}

} // namespace

Vec2 RoundView::project(Vec2 at, double z) const {
    const Frame frame(*this);
    const Vec2 v = at - centre;
    return {width / 2.0 + dot(v, frame.right) * scale,
            height / 2.0 - (dot(v, frame.ahead) * frame.sine + z * frame.cosine) * scale};
}

Vec2 RoundView::placeAt(Vec2 pixel, double z) const {
    const Frame frame(*this);
    const double across = (pixel.x - width / 2.0) / scale, y = (height / 2.0 - pixel.y) / scale;
    return centre + frame.right * across + frame.ahead * ((y - z * frame.cosine) / frame.sine);
}

Box RoundView::seen(double thickness) const {
    Box box;
    for (const double x : {0.0, static_cast<double>(width)})
        for (const double y : {0.0, static_cast<double>(height)})
            for (const double z : {std::max(0.0, lift), -thickness}) box.take(placeAt({x, y}, z));
    return box;
}

RoundView RoundView::reduced(double most) const {
    RoundView out = *this;
    const double by = std::min(1.0, std::sqrt(most / std::max(1.0, static_cast<double>(width) * height)));
    out.width = std::max(1, static_cast<int>(std::lround(width * by)));
    out.height = std::max(1, static_cast<int>(std::lround(height * by)));
    out.scale = scale * by;
    return out;
}

RoundView RoundView::fitted(const Box& sheet, double thickness, double margin) const {
    RoundView out = *this;
    out.centre = {}, out.scale = 1;
    Box shown;
    for (const Vec2 corner : {sheet.low, Vec2{sheet.high.x, sheet.low.y}, sheet.high, Vec2{sheet.low.x, sheet.high.y}})
        for (const double z : {lift, -thickness}) {
            const Vec2 p = out.project(corner, z);
            shown.take(Vec2{p.x - width / 2.0, height / 2.0 - p.y});
        }
    const double wide = std::max(1.0, width - 2 * margin), high = std::max(1.0, height - 2 * margin);
    const Frame frame(out);
    out.centre = frame.right * shown.centre().x + frame.ahead * (shown.centre().y / frame.sine);
    out.scale = std::min(wide / std::max(1e-6, shown.width()), high / std::max(1e-6, shown.height()));
    return out;
}

RoundPicture rounded(const Solid& solid, const Look& look, const RoundView& view, const std::optional<ShownTool>& tool,
                     bool fine) {
    RoundPicture out{view.width, view.height, {}, {}};
    if (view.width <= 0 || view.height <= 0) return out;
    const int parts = fine ? 2 : 1;
    RoundView sampled = view;
    sampled.width *= parts, sampled.height *= parts, sampled.scale *= parts;
    const Scene scene{solid, sampled, Frame(sampled),
                      Paint(look, view.section, look.ply * sampled.scale * Frame(sampled).cosine)};
    const Layer sheet(solid, false, view.section);
    const std::optional<Layer> loose =
        solid.lifted.empty() ? std::nullopt : std::make_optional<Layer>(solid, true, view.section);
    std::optional<Outline> outline;
    if (tool) outline.emplace(*tool, 0.75 / view.scale);

    const auto pixels = static_cast<std::size_t>(view.width) * static_cast<std::size_t>(view.height);
    out.rgba.assign(4 * pixels, 0);
    out.heights.assign(pixels, nothing);
    // Columns of samples, as the lines run; a few picture columns at a time, so that they stay near at hand.
    parallelSlices(static_cast<std::size_t>(view.width), 16, [&](std::size_t begin, std::size_t end) {
        const auto high = static_cast<std::size_t>(sampled.height);
        std::vector<Pixel> samples(high * static_cast<std::size_t>(parts));
        std::vector<float> heights(samples.size());
        for (std::size_t x = begin; x < end; ++x) {
            std::fill(samples.begin(), samples.end(), Pixel{});
            std::fill(heights.begin(), heights.end(), nothing);
            for (int part = 0; part < parts; ++part) {
                Column column{samples.data() + static_cast<std::size_t>(part) * high,
                              heights.data() + static_cast<std::size_t>(part) * high, sampled.height};
                const double across =
                    (static_cast<double>(x) * parts + part + 0.5 - sampled.width / 2.0) / sampled.scale;
                scene.follow(sheet, 0, solid.grid.area, across, column);
                if (loose) scene.follow(*loose, view.lift, solid.looseArea, across, column);
                scene.shadow(sheet, across, column);
                if (outline) stand(scene, *outline, *tool, across, column);
            }
            for (int row = 0; row < view.height; ++row) {
                int sum[4] = {};
                float z = nothing;
                for (int part = 0; part < parts; ++part)
                    for (int k = 0; k < parts; ++k) {
                        const std::size_t i = static_cast<std::size_t>(part) * high +
                                              static_cast<std::size_t>((view.height - 1 - row) * parts + k);
                        sum[0] += samples[i].r, sum[1] += samples[i].g, sum[2] += samples[i].b, sum[3] += samples[i].a;
                        if (!(z >= heights[i])) z = heights[i];
                    }
                const std::size_t at = static_cast<std::size_t>(row) * static_cast<std::size_t>(view.width) + x;
                for (std::size_t channel = 0; channel < 4; ++channel)
                    out.rgba[4 * at + channel] = static_cast<std::uint8_t>(sum[channel] >> (parts - 1) * 2);
                out.heights[at] = z;
            }
        }
    });
    return out;
}

Lit onGround(const RoundPicture& picture, Look::Colour ground) {
    Lit out{picture.width, picture.height, std::vector<std::uint8_t>(picture.heights.size() * 3)};
    for (std::size_t i = 0; i < picture.heights.size(); ++i)
        for (std::size_t k = 0; k < 3; ++k)
            out.rgb[3 * i + k] =
                static_cast<std::uint8_t>(picture.rgba[4 * i + k] + ground[k] * (255 - picture.rgba[4 * i + 3]) / 255);
    return out;
}

} // namespace ferro::proof
