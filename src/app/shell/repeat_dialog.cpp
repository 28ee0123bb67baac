#include "app/shell/repeat_dialog.h"

#include "app/theme/theme.h"

namespace ferro::app {

using artwork::Repeat;

RepeatDialog::RepeatDialog(const Repeat& usual, Units units, const QString& line, QWidget* parent) : QDialog(parent) {
    setObjectName("repeatDialog");
    setWindowTitle(tr("Repeat"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    way_ = new WordChoice({}, line.isEmpty() ? QStringList{tr("grid"), tr("ring")}
                                             : QStringList{tr("grid"), tr("ring"), tr("line")});
    way_->setObjectName("repeatWay");
    way_->setChosen(line.isEmpty() ? static_cast<int>(usual.way) % 2 : 2);
    column->addLayout(row(tr("As a"), way_));
    connect(way_, &WordChoice::asked, this, [this](int index) {
        way_->setChosen(index);
        show_();
        Q_EMIT changed();
    });
    const auto number = [&](const QString& label, Measure measure, const char* name, double value, double low,
                            double high, std::initializer_list<Repeat::Way> ways) {
        auto* field = new QuantityField(label, measure);
        field->setObjectName(QLatin1String(name));
        field->setUnits(units);
        field->setRange(low, high);
        field->setQuantity(value);
        const auto take = [this, field, measure](double now) {
            field->setQuantity(measure == Measure::count ? std::round(now) : now);
            Q_EMIT changed();
        };
        connect(field, &QuantityField::edited, this, take);
        connect(field, &QuantityField::scrubbed, this, take);
        column->addWidget(field);
        for (const auto way : ways) shown_[static_cast<std::size_t>(way)].push_back(field);
        return field;
    };
    constexpr auto grid = Repeat::Way::grid, ring = Repeat::Way::ring;
    columns_ =
        number(tr("Columns, 0 to fill the sheet"), Measure::count, "repeatColumns", usual.columns, 0, 10'000, {grid});
    rows_ = number(tr("Rows, 0 to fill the sheet"), Measure::count, "repeatRows", usual.rows, 0, 10'000, {grid});
    gapX_ = number(tr("Gap across"), Measure::length, "repeatGapX", usual.gap.x, -10'000, 10'000, {grid});
    gapY_ = number(tr("Gap up"), Measure::length, "repeatGapY", usual.gap.y, -10'000, 10'000, {grid});
    count_ = number(tr("Pieces in the ring"), Measure::count, "repeatCount", usual.count, 2, 10'000, {ring});
    centreX_ = number(tr("Centre x"), Measure::length, "repeatCentreX", usual.centre.x, -100'000, 100'000, {ring});
    centreY_ = number(tr("Centre y"), Measure::length, "repeatCentreY", usual.centre.y, -100'000, 100'000, {ring});
    span_ = number(tr("Over an angle of"), Measure::angle, "repeatSpan", usual.span * 180 / pi, -360, 360, {ring});
    along_ = number(tr("Copies"), Measure::count, "repeatAlong", usual.count, 1, 10'000, {Repeat::Way::line});
    pitch_ = number(tr("Or one every (0: that many)"), Measure::length, "repeatPitch", usual.pitch, 0, 100'000,
                    {Repeat::Way::line});
    const auto tick = [&](const QString& text, const char* name, bool on, std::initializer_list<Repeat::Way> ways) {
        auto* box = new QCheckBox(text);
        box->setObjectName(QLatin1String(name));
        box->setChecked(on);
        column->addWidget(box);
        connect(box, &QCheckBox::toggled, this, &RepeatDialog::changed);
        for (const auto way : ways) shown_[static_cast<std::size_t>(way)].push_back(box);
        return box;
    };
    staggered_ = tick(tr("Every second row half a step on"), "repeatStaggered", usual.staggered, {grid});
    turns_ = tick(tr("Turned with their way"), "repeatTurns", usual.turns, {ring, Repeat::Way::line});
    words_ = wrappedLabel();
    words_->setObjectName("repeatWords");
    words_->setMinimumHeight(36);
    words_->setMinimumWidth(330);
    if (!line.isEmpty()) words_->setToolTip(tr("Along “%1”, which was chosen last").arg(line));
    column->addWidget(words_);
    take_ = addAnswers(this, column, tr("Repeat"), "repeatTake", tr("Leave"));
    show_();
}

void RepeatDialog::show_() {
    const auto way = static_cast<std::size_t>(way_->chosen());
    for (const auto& widgets : shown_)
        for (auto* widget : widgets) widget->hide();
    for (auto* widget : shown_[way]) widget->show();
    adjustSize();
}

Repeat RepeatDialog::repeat() const {
    Repeat r;
    const auto whole = [](const QuantityField* field) { return static_cast<int>(std::lround(field->quantity())); };
    r.way = static_cast<Repeat::Way>(way_->chosen());
    r.columns = whole(columns_), r.rows = whole(rows_);
    r.gap = {gapX_->quantity(), gapY_->quantity()};
    r.staggered = staggered_->isChecked();
    r.count = r.way == Repeat::Way::line ? whole(along_) : whole(count_);
    r.centre = {centreX_->quantity(), centreY_->quantity()};
    r.span = span_->quantity() * pi / 180;
    r.turns = turns_->isChecked();
    r.pitch = pitch_->quantity();
    return r;
}

void RepeatDialog::say(const QString& text, bool isProblem) {
    words_->setText(isProblem ? QStringLiteral("<span style='color:%1'>%2</span>")
                                    .arg(theme().color(Token::noGo).name(), text.toHtmlEscaped())
                              : text.toHtmlEscaped());
    take_->setEnabled(!isProblem);
}

} // namespace ferro::app
