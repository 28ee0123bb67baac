#include "app/stations/point_section.h"

namespace ferro::app {

PointSection::PointSection(Session& session) : Section(tr("Points")), session_(session) {
    auto& points = session.points();
    words_ = wrappedLabel();
    words_->setObjectName("pointWords");
    add(words_);
    const auto field = [&](const QString& label, const char* name, bool across) {
        auto* made = new QuantityField(label, Measure::length);
        made->edit()->setObjectName(QLatin1String(name));
        made->setRange(-1e6, 1e6);
        add(made);
        const auto to = [this, &points, across](double value, quint64 gesture) {
            const auto at = points.place();
            if (!at) return;
            const Vec2 zero = job::zeroOf(session_.job().sheet().stock).at;
            points.move(across ? Vec2{value + zero.x - at->x, 0} : Vec2{0, value + zero.y - at->y}, gesture);
        };
        connect(made, &QuantityField::edited, this, [to](double value) { to(value, 0); });
        connect(made, &QuantityField::scrubbed, this, to);
        connect(made, &QuantityField::refused, this, &PointSection::refused);
        return made;
    };
    x_ = field(tr("Across"), "pointX", true);
    y_ = field(tr("Upward"), "pointY", false);
    const auto button = [&](const QString& label, const char* name, const QString& hint, auto run) {
        auto* made = plainButton(label, name);
        made->setToolTip(hint);
        connect(made, &QPushButton::clicked, &points, run);
        onSome_.push_back(made);
        return made;
    };
    const auto form = [&](const QString& label, const char* name, const QString& hint, mend::PointForm to) {
        return button(label, name, hint, [&points, to] { points.form(to); });
    };
    using mend::PointForm;
    add(buttonRow(
        {form(tr("Straight"), "pointStraight", tr("Lines between the chosen points, or on both sides of one"),
              PointForm::straight),
         form(tr("Handles"), "pointHandles", tr("The same shape with handles to draw at"), PointForm::handles)}));
    add(buttonRow({form(tr("Smooth"), "pointSmooth", tr("No bend at the chosen points"), PointForm::smooth),
                   form(tr("Corner"), "pointCorner", tr("A corner at each chosen point"), PointForm::corner)}));
    join_ = button(tr("Join ends"), "pointJoin", tr("Two ends: they meet in the middle, or a line joins them"),
                   [&points] { points.join(); });
    add(buttonRow(
        {button(tr("Part here"), "pointSplit", tr("Opens an outline, parts a line"), [&points] { points.split(); }),
         join_}));
    add(buttonRow({button(tr("Take out"), "pointRemove", tr("The shape is kept as well as it can be (Delete)"),
                          [&points] { points.remove(); })}));
    add(captionLabel(tr("Double-click on a line adds a point. Drag a line's middle to bend it. Ctrl moves freely.")));
    connect(&points, &PointEditor::changed, this, &PointSection::refresh);
    hide();
}

void PointSection::refresh() {
    const auto& points = session_.points();
    setVisible(points.isActive());
    if (!points.isActive()) return;
    const auto& chosen = points.chosen();
    words_->setText(points.marks().empty() ? tr("Click a piece to see its points.")
                    : chosen.empty()
                        ? tr("%1 points. Click one, or draw a box round several.").arg(points.marks().size())
                        : tr("%1 of %2 points chosen").arg(chosen.size()).arg(points.marks().size()));
    std::size_t ends = 0;
    for (const auto& mark : points.marks())
        if (mark.end && std::find(chosen.begin(), chosen.end(), mark.ref) != chosen.end()) ++ends;
    const auto at = points.place();
    for (auto* field : {x_, y_}) {
        field->setUnits(session_.job().units);
        field->setEnabled(at.has_value());
    }
    const Vec2 zero = job::zeroOf(session_.job().sheet().stock).at;
    if (at) x_->setQuantity(at->x - zero.x), y_->setQuantity(at->y - zero.y);
    for (auto* made : onSome_) made->setEnabled(!chosen.empty());
    join_->setEnabled(chosen.size() == 2 && ends == 2);
}

} // namespace ferro::app
