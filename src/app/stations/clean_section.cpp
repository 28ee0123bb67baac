#include "app/stations/clean_section.h"

#include "app/theme/theme.h"

#include <QMenu>

namespace ferro::app {

namespace {

using Clean = picture::CleanStep::Kind;

QString nameOf(Clean kind) {
    switch (kind) {
    case Clean::crop: return QObject::tr("Crop");
    case Clean::straighten: return QObject::tr("Straighten");
    case Clean::tone: return QObject::tr("Brightness and contrast");
    case Clean::evenLight: return QObject::tr("Even light");
    case Clean::blackWhite: return QObject::tr("Black and white");
    case Clean::invert: return QObject::tr("Invert");
    case Clean::despeckle: return QObject::tr("Remove specks");
    case Clean::smooth: return QObject::tr("Smooth");
    case Clean::erase: return QObject::tr("Erased by brush");
    case Clean::draw: return QObject::tr("Drawn by brush");
    }
    return {};
}

} // namespace

CleanSection::CleanSection(Session& session) : Section(tr("Clean up")), session_(session) {
    steps_ = new QListWidget;
    steps_->setObjectName("cleanSteps");
    steps_->setAccessibleName(tr("Clean-up steps"));
    steps_->setFixedHeight(96);
    Section::add(steps_);
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    auto* add = plainButton(tr("Add a step"), "cleanAdd");
    auto* menu = new QMenu(add);
    for (const Clean kind : {Clean::evenLight, Clean::straighten, Clean::tone, Clean::blackWhite, Clean::invert,
                             Clean::despeckle, Clean::smooth}) {
        auto* action = menu->addAction(nameOf(kind), this, [this, kind] { this->add(kind); });
        const auto word = picture::wordOf(kind);
        action->setObjectName("clean-" + QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size())));
    }
    add->setMenu(menu);
    line->addWidget(add);
    line->addStretch();
    const auto tool = [&](Glyph glyph, const QString& what, const char* name) {
        auto* button = new QToolButton;
        button->setObjectName(QLatin1String(name));
        button->setToolTip(what);
        button->setAccessibleName(what);
        button->setIcon(theme().icon(glyph));
        connect(&theme(), &Theme::changed, button, [button, glyph] { button->setIcon(theme().icon(glyph)); });
        line->addWidget(button);
        return button;
    };
    up_ = tool(Glyph::up, tr("Earlier"), "cleanUp");
    down_ = tool(Glyph::down, tr("Later"), "cleanDown");
    remove_ = tool(Glyph::remove, tr("Take the step away"), "cleanRemove");
    Section::add(line);
    const auto field = [&](const QString& label, Measure measure, const char* name, double low, double high,
                           double picture::CleanStep::*member) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(QLatin1String(name));
        made->setRange(low, high);
        Section::add(made);
        const auto take = [this, member](double value, quint64 gesture) {
            ask(
                [&](auto& steps) {
                    if (row() >= 0) steps[static_cast<std::size_t>(row())].*member = value;
                },
                gesture);
        };
        connect(made, &QuantityField::edited, this, [take](double value) { take(value, 0); });
        connect(made, &QuantityField::scrubbed, this, take);
        connect(made, &QuantityField::refused, this, &CleanSection::refused);
        return made;
    };
    using Step = picture::CleanStep;
    amount_ = field(tr("Over"), Measure::length, "cleanAmount", 0, 1000, &Step::amount);
    percent_ = field(tr("Brightness"), Measure::count, "cleanBrightness", -100, 100, &Step::amount);
    second_ = field(tr("Contrast"), Measure::count, "cleanContrast", -100, 100, &Step::second);
    degrees_ = field(tr("Turn"), Measure::angle, "cleanTurn", -90, 90, &Step::amount);
    area_ = field(tr("Specks under"), Measure::area, "cleanSpecks", 0, 1e6, &Step::amount);
    level_ = field(tr("Level, 0 found"), Measure::count, "cleanLevel", 0, 255, &Step::amount);
    brush_ = new QuantityField(tr("Brush"), Measure::length);
    brush_->edit()->setObjectName("brushWidth");
    brush_->setRange(0.05, 200);
    Section::add(brush_);
    connect(brush_, &QuantityField::edited, this,
            [this](double width) { brush_->setQuantity(session_.tracer().brushWidth = width); });
    hint_ = captionLabel(tr("Brush: the Eraser and Pen tools above the bench. Crop: draw with the Area tool."));
    Section::add(hint_);
    connect(steps_, &QListWidget::currentRowChanged, this, [this] { refresh(); });
    connect(steps_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const auto at = static_cast<std::size_t>(steps_->row(item));
        const bool on = item->checkState() == Qt::Checked;
        // Later: the edit makes the list anew, and the row is in the middle of telling us.
        QTimer::singleShot(0, this, [this, at, on] {
            ask([&](auto& steps) {
                if (at < steps.size()) steps[at].on = on;
            });
        });
    });
    connect(remove_, &QToolButton::clicked, this, [this] {
        ask([&](auto& steps) {
            if (row() >= 0) steps.erase(steps.begin() + row());
        });
    });
    const auto move = [this](int by) {
        const int at = row(), to = at + by;
        ask([&](auto& steps) {
            if (at >= 0 && to >= 0 && to < static_cast<int>(steps.size()))
                std::swap(steps[static_cast<std::size_t>(at)], steps[static_cast<std::size_t>(to)]);
        });
        steps_->setCurrentRow(to);
    };
    connect(up_, &QToolButton::clicked, this, [move] { move(-1); });
    connect(down_, &QToolButton::clicked, this, [move] { move(1); });
    setFolded(true);
}

int CleanSection::row() const {
    const int at = steps_->currentRow();
    return at < static_cast<int>(session_.tracer().cleanSteps().size()) ? at : -1;
}

void CleanSection::ask(const std::function<void(std::vector<picture::CleanStep>&)>& change, quint64 gesture) {
    auto steps = session_.tracer().cleanSteps();
    change(steps);
    session_.tracer().cleanUp(std::move(steps), gesture);
}

void CleanSection::add(Clean kind) {
    ask([&](auto& steps) { steps.push_back(picture::freshStep(kind)); });
    steps_->setCurrentRow(steps_->count()); // the new one, once it is there
}

void CleanSection::refresh() {
    const auto& steps = session_.tracer().cleanSteps();
    const QSignalBlocker quiet(steps_);
    const int was = steps_->currentRow(), before = steps_->count();
    steps_->clear();
    for (const auto& step : steps) {
        auto* item = new QListWidgetItem(nameOf(step.kind), steps_);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(step.on ? Qt::Checked : Qt::Unchecked);
    }
    const int count = steps_->count();
    steps_->setCurrentRow(count > before ? count - 1 : std::min(was, count - 1));
    const int at = row();
    const auto* step = at >= 0 ? &steps[static_cast<std::size_t>(at)] : nullptr;
    const auto show = [&](QuantityField* field, std::initializer_list<Clean> kinds,
                          double picture::CleanStep::*member) {
        const bool fits = step && std::find(kinds.begin(), kinds.end(), step->kind) != kinds.end();
        field->setVisible(fits);
        field->setUnits(session_.job().units);
        if (fits) field->setQuantity(step->*member);
    };
    using Step = picture::CleanStep;
    show(amount_, {Clean::evenLight, Clean::smooth}, &Step::amount);
    show(percent_, {Clean::tone}, &Step::amount);
    show(second_, {Clean::tone}, &Step::second);
    show(degrees_, {Clean::straighten}, &Step::amount);
    show(area_, {Clean::despeckle}, &Step::amount);
    show(level_, {Clean::blackWhite}, &Step::amount);
    brush_->setUnits(session_.job().units);
    brush_->setQuantity(session_.tracer().brushWidth);
    remove_->setEnabled(step);
    up_->setEnabled(at > 0);
    down_->setEnabled(step && at + 1 < count);
}

AreaSection::AreaSection(Session& session) : Section(tr("Parts of the picture")), session_(session) {
    auto& tracer = session.tracer();
    words_ = captionLabel();
    Section::add(words_);
    const auto button = [&](const QString& text, const char* name, auto&& done) {
        auto* made = plainButton(text, name);
        connect(made, &QPushButton::clicked, this, done);
        return made;
    };
    only_ = button(tr("Trace only this"), "areaOnly", [&tracer] { tracer.setOnly(tracer.area()); });
    crop_ = button(tr("Crop to it"), "areaCrop", [&tracer] { tracer.cropToArea(); });
    patch_ = button(tr("Patch here"), "areaPatch", [&tracer] {
        if (!tracer.areaOutline().empty()) tracer.addPatch(tracer.areaOutline());
    });
    whole_ = button(tr("Trace all again"), "areaWhole", [&tracer] { tracer.setOnly({}); });
    previous_ = button(tr("‹"), "patchPrevious", [&tracer] { tracer.choosePatch(tracer.patch() - 1); });
    next_ = button(tr("›"), "patchNext", [&tracer] { tracer.choosePatch(tracer.patch() + 1); });
    previous_->setAccessibleName(tr("Settings of the patch before"));
    next_->setAccessibleName(tr("Settings of the next patch"));
    drop_ = button(tr("Drop patch"), "patchDrop", [&tracer] { tracer.dropPatch(); });
    const auto line = [this](std::initializer_list<QPushButton*> buttons) {
        auto* made = new QHBoxLayout;
        made->setSpacing(4);
        for (auto* b : buttons) made->addWidget(b, 1);
        Section::add(made);
    };
    line({only_, crop_});
    line({patch_, drop_});
    Section::add(whole_);
    patches_ = new QLabel;
    patches_->setObjectName("patchWords");
    auto* two = new QHBoxLayout;
    two->setSpacing(4);
    two->addWidget(patches_, 1);
    for (auto* b : {previous_, next_}) two->addWidget(b);
    Section::add(two);
    setFolded(true);
}

void AreaSection::refresh() {
    const auto& tracer = session_.tracer();
    const bool drawn = !tracer.area().empty();
    if (drawn && !drawn_) setFolded(false); // what can be done with it is here
    drawn_ = drawn;
    words_->setText(
        drawn ? tr("An area of %1 × %2 is drawn.")
                    .arg(QString::fromStdString(shown(tracer.area().width(), Measure::length, session_.job().units)),
                         QString::fromStdString(shown(tracer.area().height(), Measure::length, session_.job().units)))
              : tr("Draw an area with the Area tool above the bench, with Shift freely round a part."));
    for (auto* b : {only_, crop_, patch_}) b->setEnabled(drawn);
    whole_->setVisible(!tracer.only().empty());
    const bool any = !tracer.patches().empty();
    patches_->setVisible(any);
    patches_->setText(tracer.patch() < 0 ? tr("Settings: whole picture")
                                         : tr("Settings: patch %1").arg(tracer.patch() + 1));
    for (auto* b : {previous_, next_}) b->setVisible(any);
    previous_->setEnabled(tracer.patch() >= 0);
    next_->setEnabled(tracer.patch() + 1 < static_cast<int>(tracer.patches().size()));
    drop_->setVisible(tracer.patch() >= 0);
}

} // namespace ferro::app
