#include "app/stations/draw_section.h"

namespace ferro::app {

namespace {

enum class By { box, centre, ends };
By waysOf(ShapeKind kind) {
    if (kind == ShapeKind::rectangle || kind == ShapeKind::ellipse) return By::box;
    if (kind == ShapeKind::slot || kind == ShapeKind::line || kind == ShapeKind::arc) return By::ends;
    return By::centre;
}

} // namespace

DrawSection::DrawSection(Session& session) : Section(tr("Draw")), session_(session) {
    auto& shapes = session.shapes();
    kind_ = new QComboBox;
    kind_->setObjectName("drawKind");
    kind_->setAccessibleName(tr("Shape"));
    for (const auto kind : shapeKinds) {
        const auto word = wordOf(kind);
        kind_->addItem(QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size())), static_cast<int>(kind));
    }
    add(row(tr("Shape"), kind_));
    connect(kind_, &QComboBox::activated, this, [&shapes](int index) {
        auto next = shapes.settings();
        next.kind = shapeKinds[static_cast<std::size_t>(index)];
        shapes.setSettings(next);
    });
    corner_ = field(tr("Corner radius"), "drawCorner", Measure::length, 0, 10'000);
    setting(corner_, [](ShapeSettings& s, double v) { s.corner = v; });
    corners_ = field(tr("Corners"), "drawCorners", Measure::count, 3, 360);
    setting(corners_, [](ShapeSettings& s, double v) { s.corners = static_cast<int>(std::lround(v)); });
    inner_ = field(tr("Inner corners at"), "drawInner", Measure::percent, 1, 100);
    setting(inner_, [](ShapeSettings& s, double v) { s.inner = v / 100; });
    width_ = field(tr("Width"), "drawWidth", Measure::length, 0.01, 10'000);
    setting(width_, [](ShapeSettings& s, double v) { s.width = v; });
    rise_ = field(tr("Height"), "drawRise", Measure::length, -10'000, 10'000);
    setting(rise_, [](ShapeSettings& s, double v) { s.rise = v; });
    add(captionLabel(tr("Drag on the bench, or type where it goes:")));
    across_ = field(tr("Left"), "drawAcross", Measure::length, -1e5, 1e5);
    upward_ = field(tr("Bottom"), "drawUpward", Measure::length, -1e5, 1e5);
    size_ = field(tr("Width"), "drawSize", Measure::length, 0.001, 1e5);
    height_ = field(tr("Height"), "drawHeight", Measure::length, 0.001, 1e5);
    angle_ = field(tr("Angle"), "drawAngle", Measure::angle, -360, 360);
    for (auto* made : {across_, upward_, size_, height_, angle_}) {
        connect(made, &QuantityField::edited, made, &QuantityField::setQuantity);
        connect(made, &QuantityField::scrubbed, made, [made](double v) { made->setQuantity(v); });
    }
    size_->setQuantity(40), height_->setQuantity(25);
    auto* make = plainButton(tr("Draw it"), "drawIt");
    add(buttonRow({make}));
    connect(make, &QPushButton::clicked, this, &DrawSection::draw);
    connect(&shapes, &ShapeMaker::changed, this, &DrawSection::refresh);
    hide();
}

QuantityField* DrawSection::field(const QString& label, const char* name, Measure measure, double low, double high) {
    auto* made = new QuantityField(label, measure);
    made->edit()->setObjectName(QLatin1String(name));
    made->setRange(low, high);
    connect(made, &QuantityField::refused, this, &DrawSection::refused);
    add(made);
    return made;
}

void DrawSection::setting(QuantityField* field, const std::function<void(ShapeSettings&, double)>& take) {
    const auto set = [this, take](double value) {
        auto next = session_.shapes().settings();
        take(next, value);
        session_.shapes().setSettings(next);
        refresh(); // shows it in full, also where it is the same
    };
    connect(field, &QuantityField::edited, this, set);
    connect(field, &QuantityField::scrubbed, this, set);
}

void DrawSection::draw() {
    const Vec2 from = Vec2{across_->quantity(), upward_->quantity()} + job::zeroOf(session_.job().sheet().stock).at;
    const double size = size_->quantity(), angle = angle_->quantity() * pi / 180;
    const Vec2 way{std::cos(angle), std::sin(angle)};
    switch (waysOf(session_.shapes().settings().kind)) {
    case By::box: return session_.shapes().make(from, from + Vec2{size, height_->quantity()});
    case By::centre: return session_.shapes().make(from, from + way * (size / 2));
    case By::ends: return session_.shapes().make(from, from + way * size);
    }
}

void DrawSection::refresh() {
    const auto& shapes = session_.shapes();
    setVisible(shapes.isActive());
    if (!shapes.isActive()) return;
    const auto& s = shapes.settings();
    kind_->setCurrentIndex(static_cast<int>(s.kind));
    corner_->setQuantity(s.corner), corners_->setQuantity(s.corners), inner_->setQuantity(s.inner * 100);
    width_->setQuantity(s.width), rise_->setQuantity(s.rise);
    const bool star = s.kind == ShapeKind::star;
    corner_->setVisible(s.kind == ShapeKind::rectangle);
    corners_->setVisible(star || s.kind == ShapeKind::polygon);
    corners_->setLabel(star ? tr("Tips") : tr("Corners"));
    inner_->setVisible(star);
    width_->setVisible(s.kind == ShapeKind::slot);
    rise_->setVisible(s.kind == ShapeKind::arc);
    const By by = waysOf(s.kind);
    across_->setLabel(by == By::box ? tr("Left") : by == By::centre ? tr("Centre across") : tr("From across"));
    upward_->setLabel(by == By::box ? tr("Bottom") : by == By::centre ? tr("Centre upward") : tr("From upward"));
    size_->setLabel(by == By::box ? tr("Width") : by == By::centre ? tr("Diameter") : tr("Length"));
    height_->setVisible(by == By::box);
    angle_->setVisible(by == By::ends || (by == By::centre && s.kind != ShapeKind::circle));
    for (auto* made : {corner_, width_, rise_, across_, upward_, size_, height_}) made->setUnits(session_.job().units);
}

} // namespace ferro::app
