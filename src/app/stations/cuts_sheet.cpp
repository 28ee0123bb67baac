#include "app/stations/cuts_sheet.h"

#include "app/theme/theme.h"
#include "job/reasons.h"

namespace ferro::app {

StepRow::StepRow(const StepFacts& facts, bool current) : facts_(facts), current_(current) {
    setFixedHeight(40);
    setCheckable(false);
    setCursor(Qt::PointingHandCursor);
    setFacts(facts, current);
}

void StepRow::setFacts(const StepFacts& facts, bool current) {
    facts_ = facts;
    current_ = current;
    setObjectName(QStringLiteral("step%1").arg(facts.id.value));
    setAccessibleName(tr("Step %1: %2, %3").arg(facts.title, facts.summary, wordOf(facts.state)));
    update();
}

void StepRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (current_) {
        painter.fillRect(rect(), theme().color(Token::card));
        painter.fillRect(0, 0, 3, height(), theme().color(Token::oxide));
    }
    painter.setOpacity(facts_.enabled ? 1 : 0.5);
    painter.setBrush(theme().pattern(facts_.kind));
    painter.setPen(Qt::NoPen);
    painter.drawRect(16, 10, 20, 20);
    const double room = width() - 46 - 34;
    painter.setPen(theme().color(Token::ink));
    painter.setFont(theme().text(13, current_));
    painter.drawText(QRectF(46, 3, room, 18), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(facts_.title, Qt::ElideRight, static_cast<int>(room)));
    painter.setFont(theme().text(12));
    painter.setPen(theme().color(Token::faded));
    painter.drawText(QRectF(46, 20, room, 17), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(facts_.summary, Qt::ElideRight, static_cast<int>(room)));
    painter.setOpacity(1);
    paintState(painter, facts_.state, QRectF(width() - 30, 14, 13, 12));
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(theme().pen(Token::oxide));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

CutsSheet::CutsSheet(Session& session) : StationSheet(session, tr("Steps"), "cutsSheet") {
    auto* holder = new QWidget;
    list_ = new QVBoxLayout(holder);
    list_->setContentsMargins(0, 0, 0, 6);
    list_->setSpacing(0);
    column_->insertWidget(1, holder);
    QStringList purposes;
    for (const auto* kind : plan::kinds())
        purposes << tr("%1 step %2").arg(textOf(kind->label).toLower(), textOf(kind->purpose));
    empty_ = captionLabel(tr("No steps yet. Add one: %1.").arg(purposes.join(", ")));
    empty_->setContentsMargins(16, 0, 16, 4);
    list_->addWidget(empty_);
    auto* buttons = new QWidget;
    auto* line = new QHBoxLayout(buttons);
    line->setContentsMargins(16, 4, 16, 4);
    up_ = plainButton(tr("Earlier"), "stepUp");
    down_ = plainButton(tr("Later"), "stepDown");
    remove_ = plainButton(tr("Remove"), "stepRemove");
    again_ = plainButton(tr("Again"), "stepAgain");
    again_->setToolTip(tr("One step more that does the same; it changes with this one until it is itself changed"));
    for (auto* button : {up_, down_, again_, remove_}) {
        button->setStyleSheet("QPushButton { padding: 4px 8px; }");
        line->addWidget(button);
    }
    line->addStretch();
    column_->insertWidget(2, buttons);
    const auto shift = [this](int by) {
        const auto& steps = session_.job().plan.steps;
        const auto at =
            std::find_if(steps.begin(), steps.end(), [&](const plan::Step& s) { return s.id == session_.step(); }) -
            steps.begin();
        const auto to = at + by;
        if (to >= 0 && to < static_cast<std::ptrdiff_t>(steps.size()))
            session_.apply(tr("Move step"),
                           job::withStepMoved(session_.job(), session_.step(), static_cast<std::size_t>(to)));
    };
    connect(up_, &QPushButton::clicked, this, [shift] { shift(-1); });
    connect(down_, &QPushButton::clicked, this, [shift] { shift(1); });
    connect(again_, &QPushButton::clicked, this,
            [this] { session_.apply(tr("Step again"), job::withStepAgain(session_.job(), session_.step())); });
    connect(remove_, &QPushButton::clicked, this,
            [this] { session_.apply(tr("Remove step"), job::withoutStep(session_.job(), session_.step())); });
}

void CutsSheet::set(std::string_view name, const QString& label, const std::string& value, quint64 gesture) {
    session_.apply(tr("%1 of %2").arg(label, current() ? QString::fromStdString(current()->name) : QString()),
                   job::withStepSetting(session_.job(), session_.step(), name, value), gesture);
}

shop::Process CutsSheet::processOfCurrent() const {
    const auto* tool = current() ? job::toolOf(session_.job(), *current()) : nullptr;
    return tool ? tool->process() : session_.job().machine.mainProcess();
}

void CutsSheet::addField(Section* into, const plan::Field& field) {
    const QString label = textOf(field.label);
    auto* widget = quantity(into, label, field.measure, std::string(field.name).c_str());
    widget->setRange(field.low, field.high);
    fields_[&field] = widget;
    connect(widget, &QuantityField::edited, this,
            [this, &field, label](double v) { set(field.name, label, plan::exactly(field, v)); });
    connect(widget, &QuantityField::scrubbed, this, [this, &field, label](double v, quint64 gesture) {
        set(field.name, label, plan::exactly(field, v), gesture);
    });
    connect(widget, &QuantityField::resetAsked, this, [this, &field, label] {
        session_.apply(tr("Reset %1").arg(label), job::withStepReset(session_.job(), session_.step(), field.name));
    });
}

void CutsSheet::addChoice(Section* into, const plan::Choice& choice) {
    QStringList words;
    for (const auto word : choice.words) words << textOf(word);
    const QString label = textOf(choice.label);
    const bool wide = words.join(' ').size() > 22;
    auto* widget = new WordChoice(wide ? QString() : label, words);
    widget->setObjectName(textOf(choice.name));
    if (wide) into->add(new QLabel(label));
    into->add(widget);
    choices_[&choice] = widget;
    connect(widget, &WordChoice::asked, this, [this, &choice, label](int index) {
        set(choice.name, label, std::string(choice.words[static_cast<std::size_t>(index)]));
    });
}

void CutsSheet::buildSettings() {
    delete settings_;
    settings_ = nullptr;
    fields_.clear();
    choices_.clear();
    look_ = nullptr;
    reach_ = nullptr;
    const auto* step = current();
    if (!step) return;
    settings_ = new QWidget;
    auto* stack = new QVBoxLayout(settings_);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(0);
    column_->insertWidget(3, settings_);
    const auto& kind = plan::kindOf(*step);
    const auto process = processOfCurrent();
    const auto part = [&](const QString& title) {
        auto* made = new Section(title);
        stack->addWidget(made);
        return made;
    };
    // All of the kind's table that lies in one place of the sheet: its choices, then its numbers.
    const auto addAll = [&](Section* into, plan::Place place) {
        for (const auto* choice : plan::choicesOf(kind))
            if (choice->place == place && choice->processes.has(process)) addChoice(into, *choice);
        for (const auto& field : kind.fields)
            if (field.place == place && field.processes.has(process)) addField(into, field);
    };
    const auto has = [&](plan::Place place) {
        return std::any_of(kind.fields.begin(), kind.fields.end(), [&](const auto& f) { return f.place == place; });
    };

    if (kind.walls && process == shop::Process::rotary) stack->addWidget(reach_ = new ReachSection(session_));
    auto* how = part(tr("%1: %2").arg(textOf(kind.label), QString::fromStdString(step->name)));
    tool_ = new QComboBox;
    tool_->setObjectName("stepTool");
    tool_->setFixedWidth(136);
    for (const auto& tool : session_.job().tools)
        if (session_.job().machine.does(tool.process()) && kind.processes.has(tool.process()))
            tool_->addItem(tr("T%1 %2").arg(tool.number).arg(QString::fromStdString(tool.name)),
                           QString::fromStdString(tool.key));
    how->add(row(tr("Tool"), tool_));
    connect(tool_, &QComboBox::activated, this,
            [this](int index) { set("tool", tr("Tool"), tool_->itemData(index).toString().toStdString()); });
    addAll(how, plan::Place::how);

    auto* takes = part(tr("Takes"));
    takes_ = captionLabel();
    takes->add(takes_);
    addAll(takes, plan::Place::takes);
    layers_ = new QLineEdit;
    layers_->setObjectName("stepLayers");
    layers_->setFixedWidth(136);
    layers_->setPlaceholderText(tr("every layer"));
    layers_->setToolTip(tr("Names of layers, with commas between; * stands for any letters"));
    takes->add(row(tr("Layers"), layers_));
    connect(layers_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(layers_)) set("layers", tr("Layers"), layers_->text().toStdString());
    });
    auto* pick = new QHBoxLayout;
    auto* only = plainButton(tr("Only the chosen"), "takeSelection");
    auto* rule = plainButton(tr("By rule"), "takeRule");
    pick->addWidget(only);
    pick->addWidget(rule);
    pick->addStretch();
    takes->add(pick);
    connect(only, &QPushButton::clicked, this, [this] {
        if (session_.selection().empty()) return void(Q_EMIT told(tr("Choose pieces on the bench first."), true));
        session_.apply(tr("Pieces of step"), job::withStepItems(session_.job(), session_.step(), session_.selection()));
    });
    connect(rule, &QPushButton::clicked, this, [this] {
        session_.apply(tr("Pieces of step by rule"), job::withStepItems(session_.job(), session_.step(), {}));
    });

    if (has(plan::Place::hold)) {
        auto* hold = part(tr("Hold"));
        addAll(hold, plan::Place::hold);
        hold->add(captionLabel(tr("Drag tabs on the bench. The Tab tool adds one, Ctrl+click takes one away.")));
    }
    auto* entry = part(tr("Entry and finish"));
    name_ = new QLineEdit;
    name_->setObjectName("stepName");
    name_->setFixedWidth(136);
    entry->add(row(tr("Name"), name_));
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(name_)) set("name", tr("Name"), name_->text().toStdString());
    });
    addAll(entry, plan::Place::entry);
    if (plan::startsIn(*step))
        entry->add(captionLabel(
            tr("Drag the mark where an outline begins on the bench; Ctrl+click lets it begin where it suits.")));
    note_ = new QLineEdit;
    note_->setObjectName("stepNote");
    note_->setFixedWidth(136);
    note_->setToolTip(tr("Shown at the machine before the step begins"));
    entry->add(row(tr("Note"), note_));
    connect(note_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(note_)) set("note", tr("Note"), note_->text().toStdString());
    });
    entry->setFolded(true);
    look_ = part(tr("Look at"));
    builtFor_ = {step->id, &kind};
    builtProcess_ = process;
}

void CutsSheet::refreshList() {
    const auto facts = stepsOf(session_);
    // Rows are kept while the steps are the same, so that a click survives the refresh it causes.
    if (rows_.size() != facts.size()) {
        for (auto* old : rows_) old->deleteLater();
        rows_.clear();
        for (const auto& step : facts) {
            auto* row = new StepRow(step, false);
            list_->addWidget(row);
            rows_.push_back(row);
            connect(row, &QAbstractButton::clicked, this, [this, row] { session_.selectStep(row->id()); });
        }
    }
    for (std::size_t i = 0; i < facts.size(); ++i) rows_[i]->setFacts(facts[i], facts[i].id == session_.step());
    empty_->setVisible(facts.empty());
    for (auto* button : {up_, down_, again_, remove_}) button->setVisible(!facts.empty());
    setNote(facts.empty()                                         ? QString()
            : session_.job().plan.order == plan::Order::automatic ? tr("order: openings before edges")
                                                                  : tr("order: by hand"));
}

void CutsSheet::refreshFindings() {
    if (!look_) return;
    while (auto* item = look_->body()->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    std::size_t shown = 0;
    if (session_.prover().isFresh()) {
        const auto& findings = session_.prover().proof()->findings;
        for (std::size_t i = 0; i < findings.size(); ++i) {
            if (findings[i].step != session_.step() || ++shown > 8) continue;
            look_->add(captionLabel(QString::fromUtf8(proof::verdictName(findings[i].verdict).data()) + ": " +
                                    QString::fromStdString(findings[i].what)));
            if (!findings[i].fix) continue;
            auto* fix = plainButton(QString::fromStdString(findings[i].fix->label), "stepFix");
            look_->add(fix);
            connect(
                fix, &QPushButton::clicked, this, [this, i] { session_.prover().applyFix(i); }, Qt::QueuedConnection);
        }
    }
    look_->setVisible(shown > 0);
}

void CutsSheet::refresh() {
    refreshList();
    const auto* step = current();
    if (!step || builtFor_ != std::pair(step->id, &plan::kindOf(*step)) || builtProcess_ != processOfCurrent() ||
        !settings_)
        buildSettings();
    if (!step) {
        builtFor_ = {};
        return;
    }
    const auto& job = session_.job();
    for (const auto& [field, widget] : fields_) {
        widget->setUnits(job.units);
        widget->setQuantity(plan::valueOf(*field, *step));
        const auto from = job::sourceOf(job, *step, *field);
        widget->setOrigin(static_cast<Origin>(from.source), QString::fromStdString(job::reasonOf(job, *step, *field)));
        if (field->counts) widget->setVisible(field->counts(*step));
        const auto* tool = job::toolOf(job, *step);
        if (const auto width = plan::kindOf(*step).lineWidth; field->name == "depth" && width && tool)
            widget->setHint(tr("makes %1 of width")
                                .arg(QString::fromStdString(shown(width(*step, *tool, job.sheet().stock.thickness),
                                                                  Measure::length, job.units))));
        const auto* depth = plan::depthIn(*step);
        if (field->name == "depthPerPass" && depth) {
            const auto passes = plan::passDepths(*depth, job.sheet().stock.thickness);
            widget->setHint(passes.empty()
                                ? QString()
                                : tr("%1 equal passes of %2")
                                      .arg(passes.size())
                                      .arg(QString::fromStdString(
                                          shown((passes.back() - depth->start) / static_cast<double>(passes.size()),
                                                Measure::length, job.units))));
        }
    }
    for (const auto& [choice, widget] : choices_) widget->setChosen(choice->get(*step));
    if (tool_) tool_->setCurrentIndex(tool_->findData(QString::fromStdString(step->tool)));
    showUnlessTyped(name_, QString::fromStdString(step->name));
    showUnlessTyped(note_, QString::fromStdString(step->note));
    QStringList layers;
    for (const auto& layer : step->rule.layers) layers << QString::fromStdString(layer);
    showUnlessTyped(layers_, layers.join(", "));
    takes_->setText(step->rule.items.empty() ? tr("Pieces by rule")
                                             : tr("%1 chosen pieces only").arg(step->rule.items.size()));
    if (reach_) reach_->refresh();
    refreshFindings();
}

} // namespace ferro::app
