#include "app/shopbook/card.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "link/conversation.h"
#include "plan/fields.h"
#include "program/dialect.h"
#include "shop/fields.h"

#include <QColorDialog>

namespace ferro::app {

BookCard::BookCard(ShopKeeper& keeper) : keeper_(keeper) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
}

void BookCard::clear() {
    key_.clear();
    if (body_) body_->deleteLater();
    body_ = nullptr;
}

void BookCard::begin(const QString& key, const QString& name) {
    clear();
    key_ = key;
    body_ = new QWidget;
    grid_ = new QGridLayout(body_);
    grid_->setContentsMargins(20, 12, 20, 16);
    grid_->setHorizontalSpacing(28);
    grid_->setVerticalSpacing(6);
    grid_->setColumnStretch(0, 1);
    grid_->setRowStretch(1000, 1);
    widgets_.clear();
    setWidget(body_);
    setAccessibleName(name);
}

void BookCard::add(QWidget* widget) {
    widgets_.emplace_back(widget, true);
    flow();
}

void BookCard::addBeside(QWidget* widget) {
    widgets_.emplace_back(widget, false);
    flow();
}

void BookCard::flow() {
    int row = 0, column = 0;
    for (const auto& [widget, whole] : widgets_) {
        if (whole && column) ++row, column = 0;
        grid_->addWidget(widget, row, column, 1, whole ? columns_ : 1, whole ? Qt::Alignment() : Qt::AlignTop);
        if (!whole) column = (column + 1) % columns_;
        if (column == 0) ++row;
    }
    grid_->setColumnStretch(1, columns_ > 1 ? 1 : 0);
}

void BookCard::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    const int columns = width() < 590 ? 1 : 2;
    if (columns != std::exchange(columns_, columns) && body_) flow();
}

QLineEdit* BookCard::addName() {
    auto* line = new QLineEdit;
    line->setObjectName("bookName");
    line->setFont(theme().text(16, true));
    line->setAccessibleName(tr("Name"));
    add(line);
    return line;
}

QuantityField* BookCard::number(const QString& label, Measure measure, const char* name) {
    auto* field = new QuantityField(label, measure);
    field->setObjectName(QLatin1String(name));
    connect(field, &QuantityField::refused, &keeper_, [this](const QString& why) { Q_EMIT keeper_.told(why, true); });
    return field;
}

void BookCard::addBeside(const QString& label, QWidget* widget) {
    auto* holder = new QWidget;
    auto* line = row(label, widget);
    line->setContentsMargins(0, 0, 0, 0);
    holder->setLayout(line);
    addBeside(holder);
}

template<class Thing> std::optional<Thing> ThingCard<Thing>::current() const {
    for (const auto& thing : shop::listIn<Thing>(keeper_.book()))
        if (thing.key == key_.toStdString()) return thing;
    return std::nullopt;
}

template<class Thing>
void ThingCard<Thing>::set(std::string_view name, const QString& label, const std::string& value, quint64 gesture) {
    const auto thing = current();
    if (!thing) return;
    auto next = shop::withSetting(*thing, name, value, units_);
    if (!next) return void(keeper_.apply(label, Result<shop::Shelves>(next.problem())));
    keeper_.apply(QObject::tr("%1 of %2").arg(label, QString::fromStdString(thing->name)),
                  shop::withThing(keeper_.shelves(), *next), gesture);
}

template<class Thing> void ThingCard<Thing>::build(const Thing& thing) {
    numbers_.clear(), words_.clear(), texts_.clear();
    drawing_ = nullptr;
    begin(QString::fromStdString(thing.key), QString::fromStdString(thing.name));
    name_ = addName();
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (takesTyped(name_)) set("name", tr("Name"), name_->text().toStdString());
    });
    if constexpr (std::is_same_v<Thing, shop::Tool>) add(drawing_ = new ToolDrawing);
    for (const auto& word : shop::wordsOf<Thing>()) {
        auto* box = new QComboBox;
        box->setObjectName(textOf(word.name));
        box->setFixedWidth(136);
        for (const auto w : word.words) box->addItem(textOf(w));
        const QString label = textOf(word.label);
        addBeside(label, box);
        words_.push_back(box);
        connect(box, &QComboBox::activated, this,
                [this, box, label, name = word.name] { set(name, label, box->currentText().toStdString()); });
    }
    [[maybe_unused]] const auto addKeys = [&](const char* text, const QString& label, const char* object,
                                              const std::vector<std::string>& keys) {
        auto* box = new QComboBox;
        box->setObjectName(object);
        box->setFixedWidth(160);
        for (const auto& key : keys) box->addItem(QString::fromStdString(key), QString::fromStdString(key));
        addBeside(label, box);
        texts_.emplace_back(text, box);
        connect(box, &QComboBox::activated, this,
                [this, text, label, box] { set(text, label, box->currentData().toString().toStdString()); });
        return box;
    };
    if constexpr (std::is_same_v<Thing, shop::Board>) {
        std::vector<std::string> keys;
        for (const auto& material : keeper_.book().materials) keys.push_back(material.key);
        auto* materials = addKeys("material", tr("Material"), "bookBoardMaterial", keys);
        for (int i = 0; i < materials->count(); ++i)
            materials->setItemText(i,
                                   QString::fromStdString(keeper_.book().materials[static_cast<std::size_t>(i)].name));
        if (!thing.outline.empty()) addBeside(captionLabel(tr("An off-cut: it has an outline of its own.")));
    }
    if constexpr (std::is_same_v<Thing, shop::Machine>) {
        auto* processes = new QWidget;
        auto* line = new QHBoxLayout(processes);
        line->setContentsMargins(0, 0, 0, 0);
        line->setSpacing(0);
        for (const auto name : shop::processNames) {
            auto* box = new QPushButton(textOf(name));
            box->setCheckable(true);
            box->setObjectName(QStringLiteral("process ") + textOf(name));
            box->setStyleSheet("QPushButton { padding: 3px 8px; border-radius: 0; }");
            line->addWidget(box);
            connect(box, &QPushButton::clicked, this, [this, processes] {
                QStringList on;
                for (auto* one : processes->findChildren<QPushButton*>())
                    if (one->isChecked()) on << one->text();
                set("processes", tr("Works with"), on.join(", ").toStdString());
            });
        }
        addBeside(tr("Works with"), processes);
        texts_.emplace_back("processes", processes);
        addKeys("dialect", tr("Its dialect"), "bookDialect", program::knownDialects());
        auto* talks = addKeys("conversation", tr("Is spoken to"), "bookConversation", link::knownConversations());
        for (int i = 0; i < talks->count(); ++i)
            if (const auto talk = link::openConversation(realDisk(), talks->itemData(i).toString().toStdString()))
                talks->setItemData(i, QString::fromStdString(talk->title), Qt::ToolTipRole);
    }
    if constexpr (std::is_same_v<Thing, shop::Material>) {
        auto* colour = plainButton(tr("Change…"), "bookColour");
        colour->setFixedWidth(136);
        addBeside(tr("Colour"), colour);
        texts_.emplace_back("colour", colour);
        connect(colour, &QPushButton::clicked, this, [this] {
            const auto now = current();
            if (!now) return;
            const QColor chosen =
                QColorDialog::getColor(QColor(QString::fromStdString(now->colour)), this, tr("Colour"));
            if (chosen.isValid()) set("colour", tr("Colour"), chosen.name().toStdString());
        });
    }
    const auto fields = shop::numbersOf<Thing>();
    for (std::size_t i = 0; i < fields.size(); ++i) {
        const auto& field = fields[i];
        if (field.counts && !field.counts(thing)) continue;
        const QString label = textOf(field.label);
        auto* widget = number(label, field.measure, std::string(field.name).c_str());
        widget->setRange(field.low, field.high);
        if (!field.unless.empty()) widget->setHint(tr("0: %1").arg(textOf(field.unless)));
        addBeside(widget);
        numbers_.emplace_back(i, widget);
        connect(widget, &QuantityField::edited, this,
                [this, &field, label](double v) { set(field.name, label, exactly(v, field.measure)); });
        connect(widget, &QuantityField::scrubbed, this, [this, &field, label](double v, quint64 gesture) {
            set(field.name, label, exactly(v, field.measure), gesture);
        });
    }
    if constexpr (std::is_same_v<Thing, shop::Material>) {
        proven_ = thing.proven;
        if (proven_.empty())
            add(captionLabel(
                tr("Nothing is proven on it yet. Make a swatch card (Shop menu), cut it, choose the best cell and "
                   "say so.")));
        for (const auto& one : proven_) {
            QStringList words;
            for (const auto& [name, value] : one.settings) {
                const auto* kind = plan::kindNamed(one.kind);
                const auto* field = kind ? plan::fieldNamed(*kind, name) : nullptr;
                words << tr("%1 %2").arg(
                    field ? textOf(field->label).toLower() : QString::fromStdString(name),
                    QString::fromStdString(field ? shown(value, field->measure, units_) : fmt::format("{:g}", value)));
            }
            const auto machine = keeper_.book().machine(one.machine);
            const auto tool = keeper_.book().tool(one.tool);
            auto* line = new QWidget;
            auto* row = new QHBoxLayout(line);
            row->setContentsMargins(0, 4, 0, 0);
            auto* stamp = new QLabel;
            stamp->setPixmap(theme().icon(Glyph::stamp).pixmap(20, 20));
            row->addWidget(stamp, 0, Qt::AlignTop);
            row->addWidget(wrappedLabel(tr("<b>%1</b> on %2 by %3, %4, %5%6<br>%7")
                                            .arg(QString::fromStdString(one.kind),
                                                 QString::fromStdString(machine ? machine->name : one.machine),
                                                 QString::fromStdString(tool ? tool->name : one.tool),
                                                 QString::fromStdString(shown(one.thickness, Measure::length, units_)),
                                                 QString::fromStdString(one.date),
                                                 one.note.empty()
                                                     ? QString()
                                                     : tr(": %1").arg(QString::fromStdString(one.note).toHtmlEscaped()),
                                                 words.join(QStringLiteral(" · ")))),
                           1);
            auto* away = plainButton(tr("Forget"), "bookForget");
            row->addWidget(away, 0, Qt::AlignTop);
            add(line);
            connect(away, &QPushButton::clicked, this, [this, one] {
                if (const auto now = current())
                    keeper_.apply(tr("Forget proven settings"),
                                  shop::withThing(keeper_.shelves(), shop::withoutProven(*now, one)));
            });
        }
    }
}

template<class Thing> bool ThingCard<Thing>::show(const QString& key, Units units) {
    const bool held = holds(key) && units_ == units;
    key_ = key, units_ = units;
    const auto thing = current();
    if (!thing) {
        clear();
        return false;
    }
    const auto fields = shop::numbersOf<Thing>();
    const bool fits = held && std::all_of(numbers_.begin(), numbers_.end(), [&](const auto& pair) {
                          return !fields[pair.first].counts || fields[pair.first].counts(*thing);
                      });
    std::size_t counted = 0;
    for (const auto& field : fields) counted += !field.counts || field.counts(*thing);
    bool same = fits && counted == numbers_.size();
    if constexpr (std::is_same_v<Thing, shop::Material>) same = same && proven_ == thing->proven;
    if (!same) build(*thing);
    showUnlessTyped(name_, QString::fromStdString(thing->name));
    for (const auto& [index, widget] : numbers_) {
        widget->setUnits(units);
        widget->setQuantity(fields[index].get(*thing));
    }
    for (std::size_t i = 0; i < words_.size(); ++i) words_[i]->setCurrentIndex(shop::wordsOf<Thing>()[i].get(*thing));
    if constexpr (std::is_same_v<Thing, shop::Board>)
        for (const auto& [name, widget] : texts_) {
            auto* box = static_cast<QComboBox*>(widget);
            box->setCurrentIndex(box->findData(QString::fromStdString(thing->material)));
        }
    if constexpr (std::is_same_v<Thing, shop::Machine>) {
        for (const auto& [name, widget] : texts_)
            if (auto* box = qobject_cast<QComboBox*>(widget))
                box->setCurrentIndex(
                    box->findData(QString::fromStdString(name == "dialect" ? thing->dialect : thing->conversation)));
            else
                for (std::size_t i = 0; i < shop::processNames.size(); ++i)
                    widget->template findChildren<QPushButton*>()[static_cast<int>(i)]->setChecked(
                        thing->does(static_cast<shop::Process>(i)));
    }
    if constexpr (std::is_same_v<Thing, shop::Material>)
        for (const auto& [name, widget] : texts_) {
            QPixmap swatch(24, 12);
            swatch.fill(QColor(QString::fromStdString(thing->colour)));
            static_cast<QPushButton*>(widget)->setIcon(swatch);
        }
    if constexpr (std::is_same_v<Thing, shop::Tool>) drawing_->setTool(*thing, units);
    return true;
}

template class ThingCard<shop::Machine>;
template class ThingCard<shop::Tool>;
template class ThingCard<shop::Material>;
template class ThingCard<shop::Board>;

} // namespace ferro::app
