#include "app/shopbook/rules_page.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "plan/fields.h"

#include <QMenu>

namespace ferro::app {

namespace {
constexpr int numberWidth = 22, layersWidth = 150, roleWidth = 124, sizeWidth = 84, recipesWidth = 176;

QString sizeText(double mm, Units units) {
    if (mm <= 0) return {};
    const double there = units == Units::mm ? mm : mm / mmPerInch;
    return QStringLiteral("%1 %2").arg(QString::number(there, 'g', 5), units == Units::mm ? "mm" : "in");
}
QLabel* heading(const QString& text, int width) {
    auto* label = captionLabel(text);
    label->setWordWrap(false);
    label->setFixedWidth(width);
    return label;
}
} // namespace

RulesPage::RulesPage(Session& session, ShopKeeper& keeper) : session_(session), keeper_(keeper) {
    setObjectName("rulesPage");
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    auto* body = new QWidget;
    column_ = new QVBoxLayout(body);
    column_->setContentsMargins(20, 12, 20, 16);
    column_->setSpacing(8);
    setWidget(body);
    auto* title = new QLabel(tr("House rules"));
    title->setFont(theme().text(16, true));
    column_->addWidget(title);
    column_->addWidget(captionLabel(
        tr("Which outlines get which steps: by their layer (* stands for any letters), by what they are and by their "
           "longer side. The first row that an outline fits has it. A row without a recipe is not cut.")));
    empty_ = captionLabel(tr("No rows yet. Keep a step of a job as a recipe first (Job menu), then add a row that asks "
                             "for it."));
    column_->addWidget(empty_);
    auto* heads = new QHBoxLayout;
    heads->setSpacing(6);
    for (const auto& [text, width] : {std::pair(QString(), numberWidth),
                                      {tr("Layers"), layersWidth},
                                      {tr("Takes"), roleWidth},
                                      {tr("Above"), sizeWidth},
                                      {tr("Up to"), sizeWidth},
                                      {tr("Recipes"), recipesWidth}})
        heads->addWidget(heading(text, width));
    heads->addWidget(heading(tr("In this job"), 90));
    heads->addStretch();
    column_->addLayout(heads);
    left_ = captionLabel();
    left_->setObjectName("rulesLeft");
    column_->addWidget(left_);
    arrival_ = new QCheckBox(tr("A drawing that comes into a job without steps gets them by these rules"));
    arrival_->setObjectName("rulesOnArrival");
    column_->addWidget(arrival_);
    connect(arrival_, &QCheckBox::clicked, this, [this](bool on) {
        auto house = keeper_.house();
        house.onArrival = on;
        keeper_.apply(tr("Rules for arriving drawings"), Result<plan::House>(house));
    });
    add_ = plainButton(tr("Add a row"), "ruleAdd");
    apply_ = primaryButton(tr("Make this job's steps by them"), "rulesApply");
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(add_);
    buttons->addWidget(apply_);
    buttons->addStretch();
    column_->addLayout(buttons);
    column_->addStretch();
    connect(add_, &QPushButton::clicked, this, [this] {
        plan::HouseRule rule; // for the first recipe that no row asks for yet
        for (const auto& recipe : keeper_.house().recipes)
            if (std::none_of(keeper_.house().rules.begin(), keeper_.house().rules.end(), [&](const auto& r) {
                    return std::find(r.recipes.begin(), r.recipes.end(), recipe.name) != r.recipes.end();
                })) {
                rule.recipes = {recipe.name};
                break;
            }
        keeper_.apply(tr("Add a row"), plan::withRule(keeper_.house(), keeper_.house().rules.size(), rule));
    });
    connect(apply_, &QPushButton::clicked, this, &RulesPage::applyAsked);
}

void RulesPage::change(std::size_t row, const QString& label, const std::function<void(plan::HouseRule&)>& by) {
    if (row >= keeper_.house().rules.size()) return;
    auto rule = keeper_.house().rules[row];
    by(rule);
    keeper_.apply(tr("%1 of row %2").arg(label).arg(row + 1), plan::withRuleChanged(keeper_.house(), row, rule));
}

void RulesPage::chooseRecipes(std::size_t row, QPushButton* button) {
    auto* menu = new QMenu(button);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto& asked = keeper_.house().rules[row].recipes;
    for (const auto& recipe : keeper_.house().recipes) {
        auto* action = menu->addAction(QString::fromStdString(recipe.name));
        action->setCheckable(true);
        action->setChecked(std::find(asked.begin(), asked.end(), recipe.name) != asked.end());
        connect(action, &QAction::toggled, this, [this, row, name = recipe.name](bool on) {
            change(row, tr("Recipes"), [&](plan::HouseRule& rule) {
                std::erase(rule.recipes, name);
                if (on) rule.recipes.push_back(name);
            });
        });
    }
    if (keeper_.house().recipes.empty()) menu->addAction(tr("There are no recipes yet"))->setEnabled(false);
    menu->popup(button->mapToGlobal(QPoint(0, button->height())));
}

RulesPage::Row RulesPage::made(std::size_t row) {
    Row made{};
    made.line = new QWidget;
    auto* line = new QHBoxLayout(made.line);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    const auto named = [&](QWidget* widget, const char* name, const QString& words, int width) {
        widget->setObjectName(QStringLiteral("%1 %2").arg(QLatin1String(name)).arg(row + 1));
        widget->setAccessibleName(tr("%1 of row %2").arg(words).arg(row + 1));
        widget->setFixedWidth(width);
        line->addWidget(widget);
    };
    auto* number = new QLabel(QString::number(row + 1));
    number->setFixedWidth(numberWidth);
    line->addWidget(number);
    named(made.layers = new QLineEdit, "ruleLayers", tr("Layers"), layersWidth);
    made.layers->setPlaceholderText(tr("every layer"));
    connect(made.layers, &QLineEdit::editingFinished, this, [this, row, edit = made.layers] {
        if (!takesTyped(edit)) return;
        change(row, tr("Layers"),
               [&](plan::HouseRule& rule) { rule.match.layers = plan::namesIn(edit->text().toStdString()); });
    });
    named(made.role = new QComboBox, "ruleRole", tr("What they are"), roleWidth);
    for (const auto word : plan::roleWords) made.role->addItem(textOf(word));
    connect(made.role, &QComboBox::activated, this, [this, row](int index) {
        change(row, tr("What it takes"),
               [&](plan::HouseRule& rule) { rule.match.role = static_cast<plan::Role>(index); });
    });
    const auto size = [&](QLineEdit*& edit, const char* name, const QString& words, double plan::Match::*member) {
        named(edit = new QLineEdit, name, words, sizeWidth);
        edit->setPlaceholderText(tr("any"));
        connect(edit, &QLineEdit::editingFinished, this, [this, row, edit, words, member] {
            if (!takesTyped(edit)) return;
            const auto text = edit->text().trimmed().toStdString();
            const auto value =
                text.empty() ? Result<double>(0.0) : parseQuantity(text, Measure::length, session_.job().units);
            if (!value) return void(keeper_.apply(words, Result<plan::House>(value.problem())));
            change(row, words, [&](plan::HouseRule& rule) { rule.match.*member = *value; });
        });
    };
    size(made.above, "ruleAbove", tr("Above"), &plan::Match::above);
    size(made.below, "ruleBelow", tr("Up to"), &plan::Match::below);
    named(made.recipes = new QPushButton, "ruleRecipes", tr("Recipes"), recipesWidth);
    made.recipes->setStyleSheet("QPushButton { text-align: left; }");
    connect(made.recipes, &QPushButton::clicked, this,
            [this, row, button = made.recipes] { chooseRecipes(row, button); });
    made.fits = captionLabel();
    made.fits->setObjectName(QStringLiteral("ruleFits %1").arg(row + 1));
    line->addWidget(made.fits, 1);
    const auto button = [&](QPushButton*& out, Glyph glyph, const char* name, const QString& words, auto run) {
        named(out = new QPushButton, name, words, 26);
        out->setIcon(theme().icon(glyph));
        out->setStyleSheet("QPushButton { padding: 3px; }");
        out->setToolTip(words);
        connect(out, &QPushButton::clicked, this, run);
    };
    button(made.up, Glyph::up, "ruleUp", tr("Before the row above"), [this, row] {
        if (row > 0) keeper_.apply(tr("Move a row"), plan::withRuleMoved(keeper_.house(), row, row - 1));
    });
    button(made.down, Glyph::down, "ruleDown", tr("Behind the row below"),
           [this, row] { keeper_.apply(tr("Move a row"), plan::withRuleMoved(keeper_.house(), row, row + 1)); });
    button(made.remove, Glyph::remove, "ruleRemove", tr("Take the row away"),
           [this, row] { keeper_.apply(tr("Take a row away"), plan::withoutRule(keeper_.house(), row)); });
    return made;
}

void RulesPage::build() {
    if (table_) table_->deleteLater();
    rows_.clear();
    table_ = new QWidget;
    auto* lines = new QVBoxLayout(table_);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(4);
    for (std::size_t row = 0; row < keeper_.house().rules.size(); ++row) {
        rows_.push_back(made(row));
        lines->addWidget(rows_.back().line);
    }
    column_->insertWidget(4, table_);
}

void RulesPage::refresh() {
    const auto& house = keeper_.house();
    if (!table_ || rows_.size() != house.rules.size()) build();
    empty_->setVisible(house.rules.empty());
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        const auto& rule = house.rules[r];
        QStringList layers, recipes;
        for (const auto& layer : rule.match.layers) layers << QString::fromStdString(layer);
        for (const auto& recipe : rule.recipes) recipes << QString::fromStdString(recipe);
        showUnlessTyped(rows_[r].layers, layers.join(", "));
        showUnlessTyped(rows_[r].above, sizeText(rule.match.above, session_.job().units));
        showUnlessTyped(rows_[r].below, sizeText(rule.match.below, session_.job().units));
        rows_[r].role->setCurrentIndex(static_cast<int>(rule.match.role));
        const QString words = recipes.isEmpty() ? tr("not cut") : recipes.join(", ");
        rows_[r].recipes->setText(fontMetrics().elidedText(words, Qt::ElideRight, recipesWidth - 18));
        rows_[r].recipes->setToolTip(words);
        rows_[r].up->setEnabled(r > 0);
        rows_[r].down->setEnabled(r + 1 < rows_.size());
    }
    arrival_->setChecked(house.onArrival);
    apply_->setEnabled(!house.rules.empty());
    count();
}

/// What each row has in the open job, off the window's thread: the drawing may be large.
void RulesPage::count() {
    if (keeper_.house().rules.empty()) return left_->setText({});
    session_.background().run(
        "rules", tr("Going through the house rules"),
        [job = session_.job(), house = keeper_.house(), book = keeper_.book()](Progress&) {
            return job::withHouseRules(job, house, book);
        },
        this,
        [this](Result<job::Housed> housed) {
            QStringList left;
            for (std::size_t r = 0; r < rows_.size(); ++r) {
                if (!housed || r >= housed->report.rows.size()) {
                    rows_[r].fits->setText({});
                    continue;
                }
                const auto& row = housed->report.rows[r];
                rows_[r].fits->setText(!row.trouble.empty() ? QString::fromStdString(row.trouble)
                                       : row.outlines == 0  ? tr("nothing")
                                       : row.outlines == 1  ? tr("one outline")
                                                            : tr("%1 outlines").arg(row.outlines));
                rows_[r].fits->setStyleSheet(row.trouble.empty()
                                                 ? QString()
                                                 : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
            }
            if (!housed) {
                left << QString::fromStdString(housed.problem().text());
            } else {
                const auto lines = job::linesOf(housed->report, keeper_.house());
                for (std::size_t i = 1 + housed->report.rows.size(); i < lines.size(); ++i)
                    left << QString::fromStdString(lines[i]) + QLatin1Char('.');
            }
            left_->setText(left.join('\n'));
        });
}

} // namespace ferro::app
