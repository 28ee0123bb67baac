#include "app/shell/turner.h"

#include "app/shell/session.h"

namespace ferro::app {

namespace {
constexpr double homeTurn = 0.42, homeTilt = 0.72; // rad: from the lower right, as one stands at a bench
constexpr std::size_t turnedCells = 1'500'000;     // of the whole sheet, and again of what is seen of it
constexpr double turnedPixels = 480'000;           // of a picture while it turns
constexpr double nearest = 400, farthest = 0.05;   // px per mm
} // namespace

Turner::Turner(Session& session) : session_(session) {
    view_.turn = homeTurn, view_.tilt = homeTilt;
    still_.setSingleShot(true);
    still_.setInterval(90);
    connect(&still_, &QTimer::timeout, this, [this] { begin(true); });
    connect(&session.prover(), &Prover::surfaceChanged, this, [this] {
        solid_.reset(), near_.reset();
        draw();
    });
    connect(&session, &Session::stationChanged, this, &Turner::draw);
    connect(&session, &Session::replaced, this, [this] {
        solid_.reset(), near_.reset(), image_ = {};
        home();
    });
    way_.setDuration(260);
    way_.setEasingCurve(QEasingCurve::InOutQuad);
}

bool Turner::isSeen() const {
    return on_ && session_.station() >= StationId::proof && session_.job().artwork->sheet && view_.width > 0;
}

void Turner::setOn(bool on, Vec2 centre, double scale) {
    if (on == std::exchange(on_, on)) return;
    way_.stop();
    if (on) {
        const auto from = proof::RoundView{0, pi / 2, centre, scale, view_.width, view_.height, 0, 0};
        home();
        const auto to = end_ = view_;
        if (view_.width > 0) put(from);
        way_.disconnect(this);
        connect(&way_, &QVariantAnimation::valueChanged, this, [this, from, to](const QVariant& value) {
            const double t = value.toDouble(), stay = 1 - t;
            auto view = to;
            view.turn = from.turn * stay + to.turn * t;
            view.tilt = from.tilt * stay + to.tilt * t;
            view.centre = lerp(from.centre, to.centre, t);
            view.scale = from.scale * std::pow(to.scale / from.scale, t);
            put(view);
        });
        way_.setStartValue(0.0);
        way_.setEndValue(1.0);
        way_.start();
    }
    draw();
    Q_EMIT changed();
}

/// Whatever is asked for on the way from plan to round begins at its end.
void Turner::arrive() {
    if (way_.state() != QAbstractAnimation::Running) return;
    way_.stop();
    put(end_);
}

void Turner::setView(const proof::RoundView& view) {
    way_.stop();
    put(view);
}

void Turner::put(const proof::RoundView& view) {
    const int width = view_.width, height = view_.height; // the bench's, whatever was meant
    view_ = view;
    view_.width = width, view_.height = height;
    view_.tilt = std::clamp(view.tilt, 0.12, pi / 2);
    view_.turn = std::remainder(view.turn, 2 * pi);
    view_.scale = std::clamp(view.scale, farthest, nearest);
    const auto& stock = session_.job().sheet().stock;
    view_.centre = {std::clamp(view.centre.x, 0.0, stock.width), std::clamp(view.centre.y, 0.0, stock.height)};
    view_.section = std::clamp(view.section, 0.0, stock.thickness);
    draw();
    Q_EMIT changed();
}

void Turner::setSize(QSize pixels) {
    if (view_.width == pixels.width() && view_.height == pixels.height()) return;
    const bool first = view_.width == 0;
    view_.width = pixels.width(), view_.height = pixels.height();
    if (first) return home();
    draw();
}

void Turner::home() {
    const auto& stock = session_.job().sheet().stock;
    proof::RoundView view = view_;
    view.turn = homeTurn, view.tilt = homeTilt, view.section = 0;
    view.lift = proof::liftFor(stock.thickness);
    if (view.width > 0) view = view.fitted(job::sheetOf(stock), stock.thickness, 36);
    setView(view);
}

void Turner::zoomBy(double factor, Vec2 about) {
    arrive();
    const Vec2 held = view_.placeAt(about, 0);
    auto view = view_;
    view.scale = std::clamp(view.scale * factor, farthest, nearest);
    view.centre = view.centre + held - view.placeAt(about, 0);
    setView(view);
}

void Turner::lookAt(Vec2 place) {
    arrive();
    auto view = view_;
    view.centre = place;
    view.scale = std::max(view.scale, 6.0);
    setView(view);
}

std::optional<proof::ShownTool> Turner::tool() const {
    const auto& prover = session_.prover();
    if (!prover.proof() || prover.playhead() < 0) return std::nullopt;
    const auto work = proof::atWork(prover.proof()->path, prover.proof()->timing, prover.playhead());
    if (!work) return std::nullopt;
    return proof::ShownTool{prover.proof()->path.steps[work->step].tool, work->at, session_.job().machine.holder};
}

void Turner::draw() {
    if (!isSeen()) {
        wanted_ = false;
        still_.stop();
        return session_.background().cancel("round");
    }
    still_.stop();
    if (session_.background().busy("round")) {
        wanted_ = true; // as soon as that is done: a picture that is a little old is better than none
        return;
    }
    begin(false);
}

struct Turner::Drawn {
    std::shared_ptr<const proof::Solid> solid, near;
    proof::RoundPicture picture;
};

void Turner::begin(bool fine) {
    const auto strokes = session_.prover().strokes();
    if (!isSeen() || !strokes) return;
    wanted_ = false;
    session_.background().run(
        "round", tr("Turning the piece"),
        [strokes, fine, solid = solid_, near = near_, view = view_, tool = tool(), stock = session_.job().sheet().stock,
         look = proof::lookOf(job::materialOf(session_.job()), session_.prover().proof()->path.byBeam()),
         until = session_.prover().playhead() < 0 ? 1e300
                                                  : session_.prover().playhead()](Progress& progress) mutable -> Drawn {
            const auto cut = [&](const Box& area, const proof::Solid* whole) -> std::shared_ptr<const proof::Solid> {
                auto grid = proof::HeightGrid::sized(area, turnedCells);
                if (!proof::sweep(grid, proof::shownOn(grid, *strokes), progress, until)) return nullptr;
                auto made = proof::solidOf(std::move(grid), stock.thickness, progress, whole);
                return made ? std::make_shared<const proof::Solid>(std::move(*made)) : nullptr;
            };
            const Box sheet = job::sheetOf(stock);
            if (!solid) solid = cut(sheet, nullptr);
            if (!solid) return {};
            if (fine && solid->grid.cell * view.scale > 0.8) { // the cells would be seen
                Box seen = view.seen(stock.thickness);
                seen = {{std::max(seen.low.x, sheet.low.x), std::max(seen.low.y, sheet.low.y)},
                        {std::min(seen.high.x, sheet.high.x), std::min(seen.high.y, sheet.high.y)}};
                const bool serves =
                    near && near->grid.area.contains(seen.low) && near->grid.area.contains(seen.high) &&
                    near->grid.area.width() * near->grid.area.height() < 2 * seen.width() * seen.height();
                if (!seen.empty() && !serves) near = cut(seen, solid.get());
                if (progress.cancelled()) return {};
            }
            const bool nearby = fine && near && solid->grid.cell * view.scale > 0.8;
            return {
                solid, near,
                proof::rounded(nearby ? *near : *solid, look, fine ? view : view.reduced(turnedPixels), tool, fine)};
        },
        this,
        [this, fine, view = view_, strokes](Drawn drawn) {
            if (!drawn.solid || strokes != session_.prover().strokes()) return draw();
            solid_ = drawn.solid, near_ = drawn.near;
            const auto& picture = drawn.picture;
            image_ = QImage(picture.rgba.data(), picture.width, picture.height, picture.width * 4,
                            QImage::Format_RGBA8888_Premultiplied)
                         .copy();
            heights_ = std::move(drawn.picture.heights);
            imageView_ = view;
            sharp_ = fine;
            Q_EMIT changed();
            if (wanted_) return begin(false);
            if (!fine) still_.start();
        });
}

std::optional<toolpath::Vec3> Turner::placeAt(Vec2 pixel) const {
    if (image_.isNull()) return std::nullopt;
    const int x = static_cast<int>(std::floor(pixel.x * image_.width() / imageView_.width)),
              y = static_cast<int>(std::floor(pixel.y * image_.height() / imageView_.height));
    if (x < 0 || y < 0 || x >= image_.width() || y >= image_.height()) return std::nullopt;
    const auto z = static_cast<double>(
        heights_[static_cast<std::size_t>(y) * static_cast<std::size_t>(image_.width()) + static_cast<std::size_t>(x)]);
    if (std::isnan(z)) return std::nullopt;
    const Vec2 at = imageView_.placeAt(pixel, z);
    return toolpath::Vec3{at.x, at.y, solid_ && solid_->isLoose(at) ? z - imageView_.lift : z};
}

} // namespace ferro::app
