#include "app/stations/cuts_sheet.h"

#include "app/theme/theme.h"

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
    empty_ = captionLabel(
        tr("No steps yet. Add an outline step to cut pieces out, a drill step for holes, a scribe step for lines."));
    empty_->setContentsMargins(16, 0, 16, 4);
    list_->addWidget(empty_);
    auto* buttons = new QWidget;
    auto* line = new QHBoxLayout(buttons);
    line->setContentsMargins(16, 4, 16, 4);
    up_ = plainButton(tr("Earlier"), "stepUp");
    down_ = plainButton(tr("Later"), "stepDown");
    remove_ = plainButton(tr("Remove"), "stepRemove");
    for (auto* button : {up_, down_, remove_}) line->addWidget(button);
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
    connect(remove_, &QPushButton::clicked, this,
            [this] { session_.apply(tr("Remove step"), job::withoutStep(session_.job(), session_.step())); });
}

void CutsSheet::set(std::string_view name, const QString& label, const std::string& value, quint64 gesture) {
    session_.apply(tr("%1 of %2").arg(label, current() ? QString::fromStdString(current()->name) : QString()),
                   job::withStepSetting(session_.job(), session_.step(), name, value), gesture);
}

void CutsSheet::buildSettings() {
    delete settings_;
    settings_ = nullptr;
    fields_.clear();
    choices_.clear();
    look_ = nullptr;
    const auto* step = current();
    if (!step) return;
    settings_ = new QWidget;
    auto* stack = new QVBoxLayout(settings_);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(0);
    column_->insertWidget(3, settings_);
    const auto machine = session_.job().machine.kind;
    const auto part = [&](const QString& title) {
        auto* made = new Section(title);
        stack->addWidget(made);
        return made;
    };
    const auto addField = [&](Section* into, std::string_view name) {
        const auto* field = plan::fieldNamed(name);
        if (!field || !plan::uses(*field, step->kind, machine)) return;
        auto* widget = quantity(into, QString::fromUtf8(field->label.data(), static_cast<int>(field->label.size())),
                                field->measure, std::string(name).c_str());
        widget->setRange(field->low, field->high);
        fields_[field] = widget;
        const QString label = QString::fromUtf8(field->label.data(), static_cast<int>(field->label.size()));
        // The bare number in the job's units would round; a suffix keeps every digit.
        const auto words = [field](double v) {
            return field->measure == Measure::length || field->measure == Measure::feed ? fmt::format("{} mm", v)
                                                                                        : fmt::format("{}", v);
        };
        connect(widget, &QuantityField::edited, this, [=, this](double v) { set(field->name, label, words(v)); });
        connect(widget, &QuantityField::scrubbed, this,
                [=, this](double v, quint64 gesture) { set(field->name, label, words(v), gesture); });
        connect(widget, &QuantityField::resetAsked, this, [=, this] {
            session_.apply(tr("Reset %1").arg(label), job::withStepReset(session_.job(), session_.step(), field->name));
        });
    };
    const auto addChoice = [&](Section* into, std::string_view name) {
        const auto* choice = plan::choiceNamed(name);
        const bool used = choice && (choice->kinds & 1u << static_cast<unsigned>(step->kind)) &&
                          (machine == shop::MachineKind::laser ? choice->laser : choice->mill);
        if (!used) return;
        QStringList words;
        for (const auto word : choice->words) words << QString::fromUtf8(word.data(), static_cast<int>(word.size()));
        const QString label = QString::fromUtf8(choice->label.data(), static_cast<int>(choice->label.size()));
        auto* widget = new WordChoice(words.join(' ').size() > 22 ? QString() : label, words);
        widget->setObjectName(QString::fromUtf8(name.data(), static_cast<int>(name.size())));
        if (words.join(' ').size() > 22) into->add(new QLabel(label));
        into->add(widget);
        choices_[choice] = widget;
        connect(widget, &WordChoice::asked, this, [=, this](int index) {
            set(choice->name, label, std::string(choice->words[static_cast<std::size_t>(index)]));
        });
    };

    auto* how =
        part(tr("%1: %2").arg(QString::fromStdString(std::string(plan::kindName(step->kind))).left(1).toUpper() +
                                  QString::fromStdString(std::string(plan::kindName(step->kind))).mid(1),
                              QString::fromStdString(step->name)));
    tool_ = new QComboBox;
    tool_->setObjectName("stepTool");
    tool_->setFixedWidth(136);
    for (const auto& tool : session_.job().tools)
        if ((tool.kind == shop::ToolKind::laser) == (machine == shop::MachineKind::laser))
            tool_->addItem(tr("T%1 %2").arg(tool.number).arg(QString::fromStdString(tool.name)),
                           QString::fromStdString(tool.key));
    how->add(row(tr("Tool"), tool_));
    connect(tool_, &QComboBox::activated, this,
            [this](int index) { set("tool", tr("Tool"), tool_->itemData(index).toString().toStdString()); });
    addChoice(how, "side");
    addChoice(how, "through");
    for (const auto* name : {"depth", "extra", "depthPerPass", "peck", "power", "feed", "plunge", "spindle", "passes"})
        addField(how, name);

    auto* takes = part(tr("Takes"));
    takes_ = captionLabel();
    takes->add(takes_);
    addChoice(takes, "role");
    layers_ = new QLineEdit;
    layers_->setObjectName("stepLayers");
    layers_->setFixedWidth(136);
    layers_->setPlaceholderText(tr("every layer"));
    layers_->setToolTip(tr("Names of layers, with commas between; * stands for any letters"));
    takes->add(row(tr("Layers"), layers_));
    connect(layers_, &QLineEdit::editingFinished, this, [this] {
        if (layers_->isModified()) set("layers", tr("Layers"), layers_->text().toStdString());
        layers_->setModified(false);
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

    if (step->kind == plan::StepKind::outline) {
        auto* hold = part(tr("Hold"));
        addChoice(hold, "hold");
        for (const auto* name : {"tabWidth", "tabHeight", "tabSpacing"}) addField(hold, name);
        hold->add(captionLabel(tr("Drag tabs on the bench. The Tab tool adds one, Ctrl+click takes one away.")));
    }
    auto* entry = part(tr("Entry and finish"));
    name_ = new QLineEdit;
    name_->setObjectName("stepName");
    name_->setFixedWidth(136);
    entry->add(row(tr("Name"), name_));
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (name_->isModified()) set("name", tr("Name"), name_->text().toStdString());
        name_->setModified(false);
    });
    addChoice(entry, "enabled");
    addChoice(entry, "direction");
    addChoice(entry, "entry");
    for (const auto* name : {"rampAngle", "lead", "startDepth", "allowance"}) addField(entry, name);
    entry->setFolded(true);
    look_ = part(tr("Look at"));
    builtFor_ = {step->id, step->kind};
    builtMachine_ = machine;
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
    for (auto* button : {up_, down_, remove_}) button->setVisible(!facts.empty());
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
    if (session_.proofIsFresh()) {
        const auto& findings = session_.proof()->findings;
        for (std::size_t i = 0; i < findings.size(); ++i) {
            if (findings[i].step != session_.step() || ++shown > 8) continue;
            look_->add(captionLabel(QString::fromUtf8(proof::verdictName(findings[i].verdict).data()) + ": " +
                                    QString::fromStdString(findings[i].what)));
            if (!findings[i].fix) continue;
            auto* fix = plainButton(QString::fromStdString(findings[i].fix->label), "stepFix");
            look_->add(fix);
            connect(
                fix, &QPushButton::clicked, this, [this, i] { session_.applyFix(i); }, Qt::QueuedConnection);
        }
    }
    look_->setVisible(shown > 0);
}

void CutsSheet::refresh() {
    refreshList();
    const auto* step = current();
    const auto machine = session_.job().machine.kind;
    if (!step || builtFor_ != std::pair(step->id, step->kind) || builtMachine_ != machine || !settings_)
        buildSettings();
    if (!step) {
        builtFor_ = {};
        return;
    }
    const auto& job = session_.job();
    for (const auto& [field, widget] : fields_) {
        widget->setUnits(job.units);
        widget->setQuantity(plan::valueOf(*field, *step));
        const bool typed = std::find(step->typed.begin(), step->typed.end(), field->name) != step->typed.end();
        widget->setOrigin(typed ? Origin::typed : field->fromBook ? Origin::book : Origin::none);
        if (field->name == "depth") widget->setVisible(!step->through || step->kind == plan::StepKind::scribe);
        if (field->name == "extra") widget->setVisible(step->through);
        if (field->name == "rampAngle") widget->setVisible(step->entry == plan::Entry::ramp);
        if (field->name == "tabWidth" || field->name == "tabHeight" || field->name == "tabSpacing")
            widget->setVisible(step->hold == plan::Hold::tabs);
        if (field->name == "depthPerPass") {
            const auto passes = plan::passDepths(*step, job.stock.thickness);
            widget->setHint(passes.empty()
                                ? QString()
                                : tr("%1 equal passes of %2")
                                      .arg(passes.size())
                                      .arg(QString::fromStdString(
                                          shown((passes.back() - step->startDepth) / static_cast<double>(passes.size()),
                                                Measure::length, job.units))));
        }
    }
    for (const auto& [choice, widget] : choices_) widget->setChosen(choice->get(*step));
    if (tool_) tool_->setCurrentIndex(tool_->findData(QString::fromStdString(step->tool)));
    const auto show = [](QLineEdit* edit, const QString& text) {
        if (edit && !(edit->hasFocus() && edit->isModified())) edit->setText(text), edit->setModified(false);
    };
    show(name_, QString::fromStdString(step->name));
    QStringList layers;
    for (const auto& layer : step->rule.layers) layers << QString::fromStdString(layer);
    show(layers_, layers.join(", "));
    takes_->setText(step->rule.items.empty() ? tr("Pieces by rule")
                                             : tr("%1 chosen pieces only").arg(step->rule.items.size()));
    refreshFindings();
}

} // namespace ferro::app
