#include "app/shopbook/recipe_card.h"

#include "app/shell/facts.h"
#include "plan/fields.h"

#include <QComboBox>

namespace ferro::app {

void RecipeCard::set(std::string_view name, const QString& label, const std::string& value, quint64 gesture) {
    const auto* recipe = plan::recipeNamed(keeper_.house(), key_.toStdString());
    if (!recipe) return;
    auto next = plan::withSetting(recipe->step, name, value, units_);
    if (!next) return void(keeper_.apply(label, Result<plan::House>(next.problem())));
    keeper_.apply(tr("%1 of %2").arg(label, key_), plan::withRecipe(keeper_.house(), {recipe->name, *next}), gesture);
}

void RecipeCard::free(std::string_view name, const QString& label) {
    const auto* recipe = plan::recipeNamed(keeper_.house(), key_.toStdString());
    if (!recipe) return;
    auto changed = *recipe;
    std::erase(changed.step.typed, name);
    keeper_.apply(tr("%1 of %2 by the book").arg(label, key_), plan::withRecipe(keeper_.house(), changed));
}

void RecipeCard::build(const plan::Recipe& recipe) {
    fields_.clear(), choices_.clear();
    const auto& kind = plan::kindOf(recipe.step);
    begin(QString::fromStdString(recipe.name), QString::fromStdString(recipe.name));
    name_ = addName();
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (!takesTyped(name_)) return;
        const QString before = key_, after = name_->text().trimmed();
        key_ = after; // the drawer asks for it under its new name
        if (keeper_.apply(tr("Name of a recipe"),
                          plan::withRecipeNamed(keeper_.house(), before.toStdString(), after.toStdString())))
            Q_EMIT renamed(after);
        else
            key_ = before;
    });
    add(captionLabel(
        tr("%1. A pen marks what was typed: that is the recipe's. A book marks what the shop book says, for "
           "the tool and the material at hand.")
            .arg(textOf(kind.label))));
    tool_ = new QComboBox;
    tool_->setObjectName("bookTool");
    tool_->setFixedWidth(160);
    addBeside(tr("Tool"), tool_);
    connect(tool_, &QComboBox::activated, this,
            [this] { set("tool", tr("Tool"), tool_->currentData().toString().toStdString()); });
    note_ = new QLineEdit;
    note_->setObjectName("bookNote");
    note_->setFixedWidth(160);
    addBeside(tr("Note"), note_);
    connect(note_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(note_)) set("note", tr("Note"), note_->text().toStdString());
    });
    const auto tool = keeper_.book().tool(recipe.step.tool);
    const auto process = tool ? tool->process() : kind.processes.list().front();
    for (const auto* choice : plan::choicesOf(kind)) {
        if (!choice->processes.has(process) || choice->name == "role" || choice->name == "enabled") continue;
        auto* box = new QComboBox;
        box->setObjectName(textOf(choice->name));
        box->setFixedWidth(160);
        for (const auto word : choice->words) box->addItem(textOf(word));
        const QString label = textOf(choice->label);
        addBeside(label, box);
        choices_[choice] = box;
        connect(box, &QComboBox::activated, this, [this, choice, label](int index) {
            set(choice->name, label, std::string(choice->words[static_cast<std::size_t>(index)]));
        });
    }
    for (const auto& field : kind.fields) {
        if (!field.processes.has(process) || (field.counts && !field.counts(recipe.step))) continue;
        const QString label = textOf(field.label);
        auto* widget = number(label, field.measure, std::string(field.name).c_str());
        widget->setRange(field.low, field.high);
        addBeside(widget);
        fields_[&field] = widget;
        connect(widget, &QuantityField::edited, this,
                [this, &field, label](double v) { set(field.name, label, plan::exactly(field, v)); });
        connect(widget, &QuantityField::scrubbed, this, [this, &field, label](double v, quint64 gesture) {
            set(field.name, label, plan::exactly(field, v), gesture);
        });
        connect(widget, &QuantityField::resetAsked, this, [this, &field, label] { free(field.name, label); });
    }
}

bool RecipeCard::show(const QString& key, Units units) {
    const auto* recipe = plan::recipeNamed(keeper_.house(), key.toStdString());
    if (!recipe) {
        clear();
        return false;
    }
    std::vector<std::string_view> meant; // what has a meaning may change with every choice
    for (const auto& field : plan::kindOf(recipe->step).fields)
        if (!field.counts || field.counts(recipe->step)) meant.push_back(field.name);
    if (!holds(key) || units != units_ || tool_->currentData().toString().toStdString() != recipe->step.tool ||
        std::exchange(meant_, meant) != meant) {
        units_ = units;
        build(*recipe);
    }
    const auto& kind = plan::kindOf(recipe->step);
    std::vector<shop::Tool> fitting;
    for (const auto& tool : keeper_.book().tools)
        if (std::find(kind.tools.begin(), kind.tools.end(), tool.kind) != kind.tools.end()) fitting.push_back(tool);
    offer(tool_, fitting);
    tool_->setCurrentIndex(tool_->findData(QString::fromStdString(recipe->step.tool)));
    showUnlessTyped(name_, key);
    showUnlessTyped(note_, QString::fromStdString(recipe->step.note));
    for (const auto& [choice, box] : choices_) box->setCurrentIndex(choice->get(recipe->step));
    for (const auto& [field, widget] : fields_) {
        widget->setUnits(units);
        widget->setQuantity(plan::valueOf(*field, recipe->step));
        const auto& typed = recipe->step.typed;
        const bool own = std::find(typed.begin(), typed.end(), field->name) != typed.end();
        widget->setOrigin(own ? Origin::typed : field->fromBook ? Origin::book : Origin::none);
    }
    return true;
}

} // namespace ferro::app
