#include "app/shopbook/drawer.h"

#include "app/shopbook/entry_painter.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "job/from_book.h"
#include "plan/fields.h"
#include "shop/fields.h"

#include <QFileDialog>
#include <QKeyEvent>

namespace ferro::app {

namespace {

QString wordOf(shop::From from) {
    switch (from) {
    case shop::From::own: return QObject::tr("own");
    case shop::From::changed: return QObject::tr("changed");
    case shop::From::shipped: break;
    }
    return {};
}

} // namespace

ShopDrawer::ShopDrawer(Session& session, ShopKeeper& keeper, QWidget* parent)
    : QFrame(parent), session_(session), keeper_(keeper) {
    setObjectName("shopDrawer");
    setAutoFillBackground(true);
    setFocusPolicy(Qt::StrongFocus);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(1, 0, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(20, 8, 12, 8);
    head->setSpacing(6);
    auto* title = new QLabel(tr("Shop book"));
    title->setFont(theme().text(18, true));
    head->addWidget(title);
    head->addStretch();
    auto* take = plainButton(tr("Take pages in…"), "bookTake");
    auto* give = plainButton(tr("Give it out…"), "bookGive");
    auto* close = plainButton(tr("Close"), "bookClose");
    for (auto* button : {take, give, close}) head->addWidget(button);
    connect(take, &QPushButton::clicked, this, &ShopDrawer::take);
    connect(give, &QPushButton::clicked, this, &ShopDrawer::give);
    connect(close, &QPushButton::clicked, this, &ShopDrawer::closed);
    all->addLayout(head);
    differsBar_ = new QFrame;
    differsBar_->setObjectName("message");
    auto* bar = new QHBoxLayout(differsBar_);
    bar->setContentsMargins(20, 4, 12, 4);
    differs_ = wrappedLabel();
    differs_->setObjectName("bookDiffers");
    takeOver_ = plainButton(tr("Take them over into the job"), "bookIntoJob");
    bar->addWidget(differs_, 1);
    bar->addWidget(takeOver_);
    connect(takeOver_, &QPushButton::clicked, this, &ShopDrawer::fromBookAsked);
    all->addWidget(differsBar_);

    said_ = wrappedLabel();
    said_->setObjectName("bookSaid");
    said_->setContentsMargins(20, 6, 12, 6);
    said_->hide();
    all->addWidget(said_);
    saidTimer_.setSingleShot(true);
    connect(&saidTimer_, &QTimer::timeout, said_, &QWidget::hide);
    connect(&keeper_, &ShopKeeper::told, this, [this](const QString& text, bool isProblem) {
        said_->setText(text);
        said_->setStyleSheet(QStringLiteral("background: %1; border-left: 4px solid %2;")
                                 .arg(theme().color(Token::card).name(),
                                      theme().color(isProblem ? Token::noGo : Token::verdigris).name()));
        said_->show();
        saidTimer_.start(isProblem ? 15'000 : 4'000);
    });
    auto* columns = new QHBoxLayout;
    columns->setSpacing(0);
    auto* shelves = new QVBoxLayout;
    shelves->setContentsMargins(12, 8, 8, 8);
    shelves->setSpacing(2);
    const std::array<QString, shelfCount> names{tr("Machines"), tr("Tools"),       tr("Materials"),
                                                tr("Recipes"),  tr("House rules"), tr("Stock")};
    constexpr const char* objects[] = {"shelfMachines", "shelfTools", "shelfMaterials",
                                       "shelfRecipes",  "shelfRules", "shelfStock"};
    for (int i = 0; i < shelfCount; ++i) {
        auto* button = plainButton(names[static_cast<std::size_t>(i)], objects[i]);
        button->setCheckable(true);
        button->setFixedWidth(132);
        button->setStyleSheet("QPushButton { text-align: left; padding: 6px 10px; }");
        shelves->addWidget(button);
        shelves_[static_cast<std::size_t>(i)] = button;
        connect(button, &QPushButton::clicked, this, [this, i] { showShelf(static_cast<Shelf>(i)); });
    }
    shelves->addStretch();
    columns->addLayout(shelves);
    middle_ = new QWidget;
    middle_->setFixedWidth(268);
    auto* middle = new QVBoxLayout(middle_);
    middle->setContentsMargins(4, 8, 4, 8);
    middle->setSpacing(6);
    list_ = new QListWidget;
    list_->setObjectName("bookList");
    list_->setFrameShape(QFrame::NoFrame);
    list_->setItemDelegate(new EntryPainter(keeper_, list_));
    middle->addWidget(list_, 1);
    add_ = plainButton(tr("Add"), "bookAdd");
    copy_ = plainButton(tr("Copy"), "bookCopy");
    remove_ = plainButton(tr("Remove"), "bookRemove");
    shipped_ = plainButton(tr("As shipped"), "bookShipped");
    middle->addLayout(buttonRow({add_, copy_, remove_}));
    middle->addWidget(shipped_);
    connect(add_, &QPushButton::clicked, this, &ShopDrawer::add);
    connect(copy_, &QPushButton::clicked, this, &ShopDrawer::copy);
    connect(remove_, &QPushButton::clicked, this, &ShopDrawer::remove);
    connect(shipped_, &QPushButton::clicked, this, &ShopDrawer::asShipped);
    connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (!item) return;
        keys_[shelf_] = item->data(EntryPainter::keyRole).toString();
        refresh();
    });
    columns->addWidget(middle_);
    pages_ = new QStackedWidget;
    cards_[machines] = new ThingCard<shop::Machine>(keeper_);
    cards_[tools] = new ThingCard<shop::Tool>(keeper_);
    cards_[materials] = new ThingCard<shop::Material>(keeper_);
    cards_[recipes] = new RecipeCard(keeper_);
    cards_[stock] = new ThingCard<shop::Board>(keeper_);
    for (auto* card : cards_) {
        if (!card) continue;
        pages_->addWidget(card);
        connect(card, &BookCard::renamed, this, [this](const QString& name) {
            keys_[shelf_] = name;
            refresh();
        });
    }
    rulesPage_ = new RulesPage(session_, keeper_);
    pages_->addWidget(rulesPage_);
    connect(rulesPage_, &RulesPage::applyAsked, this, &ShopDrawer::rulesAsked);
    emptyCard_ = captionLabel();
    emptyCard_->setObjectName("bookEmpty");
    emptyCard_->setContentsMargins(24, 20, 24, 0);
    emptyCard_->setAlignment(Qt::AlignTop);
    pages_->addWidget(emptyCard_);
    columns->addWidget(pages_, 1);
    all->addLayout(columns, 1);
    connect(&keeper_, &ShopKeeper::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&session_, &Session::jobChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&theme(), &Theme::changed, list_->viewport(), qOverload<>(&QWidget::update));
    hide();
}

void ShopDrawer::open() {
    keeper_.readAgain();
    show();
    raise();
    refresh();
    setFocus();
}

std::vector<ShopDrawer::Entry> ShopDrawer::entriesOf(Shelf shelf) const {
    std::vector<Entry> out;
    const auto& book = keeper_.book();
    const auto length = [&](double v) {
        return QString::fromStdString(shown(v, Measure::length, session_.job().units));
    };
    const auto add = [&]<class Thing>(const Thing& thing, const QString& more) {
        out.push_back({QString::fromStdString(thing.key), QString::fromStdString(thing.name), more,
                       shop::fromWhere<Thing>(keeper_.shelves(), thing.key)});
    };
    switch (shelf) {
    case machines:
        for (const auto& m : book.machines) {
            QStringList does;
            for (const auto p : m.processes.list()) does << textOf(shop::nameOf(p));
            add(m, tr("%1 · %2 × %3").arg(does.join(", "), length(m.bedX), length(m.bedY)));
        }
        break;
    case tools:
        for (const auto& t : book.tools)
            add(t, tr("T%1 · %2 · %3")
                       .arg(t.number)
                       .arg(textOf(shop::toolKindNames[static_cast<std::size_t>(t.kind)]), length(t.diameter)));
        break;
    case materials:
        for (const auto& m : book.materials)
            add(m, tr("beam %1 % · %2 m/min at the edge").arg(m.cutPower).arg(m.surfaceSpeed));
        break;
    case stock:
        for (const auto& b : book.boards) {
            const auto material = book.material(b.material);
            // How many comes first, sizes without noughts and the unit once: the line is short.
            const auto brief = [&](double v) {
                QString text = length(v).section(QLatin1Char(' '), 0, 0);
                if (text.contains(QLatin1Char('.'))) {
                    while (text.endsWith(QLatin1Char('0'))) text.chop(1);
                    if (text.endsWith(QLatin1Char('.'))) text.chop(1);
                }
                return text;
            };
            add(b,
                tr("%1 · %2 × %3 × %4 %5 · %6")
                    .arg(b.count == 0 ? tr("used up") : tr("%1 on hand").arg(b.count), brief(b.width), brief(b.height),
                         brief(b.thickness), textOf(unitName(Measure::length, session_.job().units)),
                         material ? QString::fromStdString(material->name) : tr("a material that is not here")));
        }
        break;
    case recipes:
        for (const auto& r : keeper_.house().recipes) {
            const auto tool = book.tool(r.step.tool);
            out.push_back(
                {QString::fromStdString(r.name), QString::fromStdString(r.name),
                 tr("%1 · %2").arg(textOf(plan::kindOf(r.step).label),
                                   tool ? QString::fromStdString(tool->name) : tr("a tool that is not here"))});
        }
        break;
    case rules:
    case shelfCount: break;
    }
    return out;
}

void ShopDrawer::showShelf(Shelf shelf) {
    shelf_ = shelf;
    refresh();
}

void ShopDrawer::choose(const QString& key) {
    keys_[shelf_] = key;
    refresh();
}

void ShopDrawer::refreshList() {
    const QSignalBlocker quiet(list_);
    const auto entries = entriesOf(shelf_);
    while (list_->count() > static_cast<int>(entries.size())) delete list_->takeItem(list_->count() - 1);
    while (list_->count() < static_cast<int>(entries.size())) list_->addItem(QString());
    const bool there = std::any_of(entries.begin(), entries.end(), [&](const Entry& e) { return e.key == key(); });
    if (!there) keys_[shelf_] = entries.empty() ? QString() : entries.front().key;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        auto* item = list_->item(static_cast<int>(i));
        item->setText(entries[i].name);
        item->setData(EntryPainter::keyRole, entries[i].key);
        item->setData(EntryPainter::moreRole, entries[i].more);
        item->setData(EntryPainter::fromRole, wordOf(entries[i].from));
        item->setData(EntryPainter::shelfRole, static_cast<int>(shelf_));
        if (entries[i].key == key()) list_->setCurrentItem(item);
    }
    const bool changed = std::any_of(entries.begin(), entries.end(),
                                     [&](const Entry& e) { return e.key == key() && e.from == shop::From::changed; });
    shipped_->setVisible(changed || (holdsThings() && !keeper_.shelves().away.empty()));
    shipped_->setText(changed ? tr("As it is shipped") : tr("Back with what was put away"));
    add_->setVisible(holdsThings());
    copy_->setEnabled(!key().isEmpty());
    remove_->setEnabled(!key().isEmpty());
}

void ShopDrawer::refresh() {
    for (std::size_t i = 0; i < shelfCount; ++i) {
        shelves_[i]->setChecked(i == static_cast<std::size_t>(shelf_));
        const auto count = i == rules ? keeper_.house().rules.size() : entriesOf(static_cast<Shelf>(i)).size();
        const QString name = shelves_[i]->accessibleName();
        shelves_[i]->setText(QStringLiteral("%1  %2").arg(name).arg(count));
    }
    middle_->setVisible(shelf_ != rules);
    if (shelf_ == rules) {
        rulesPage_->refresh();
        pages_->setCurrentWidget(rulesPage_);
    } else {
        refreshList();
        auto* card = cards_[static_cast<std::size_t>(shelf_)];
        const bool shown = card->show(key(), session_.job().units);
        if (!shown)
            emptyCard_->setText(shelf_ == recipes
                                    ? tr("No recipes yet. A recipe is a step as this shop does it: set one up "
                                         "in a job, then keep it by Job › Keep the step as a recipe.")
                                    : tr("Nothing lies here. Add one, or take pages in."));
        pages_->setCurrentWidget(shown ? static_cast<QWidget*>(card) : emptyCard_);
    }
    const auto changes = job::changesFrom(session_.job(), keeper_.book());
    QStringList words;
    for (std::size_t i = 0; i < changes.size() && i < 3; ++i)
        words << QString::fromStdString(job::wordsFor(changes[i]));
    if (changes.size() > 3) words << tr("and %1 more").arg(changes.size() - 3);
    differs_->setText(tr("The open job was made with other values: %1.").arg(words.join("; ")));
    QStringList whole;
    for (const auto& change : changes) whole << QString::fromStdString(job::wordsFor(change));
    differs_->setToolTip(whole.join('\n'));
    differsBar_->setVisible(!changes.empty());
}

template<class Act> void ShopDrawer::onThings(const Act& act) {
    switch (shelf_) {
    case machines: return act(static_cast<const shop::Machine*>(nullptr));
    case tools: return act(static_cast<const shop::Tool*>(nullptr));
    case materials: return act(static_cast<const shop::Material*>(nullptr));
    case stock: return act(static_cast<const shop::Board*>(nullptr));
    case recipes:
    case rules:
    case shelfCount: break;
    }
}

void ShopDrawer::add() {
    const auto put = [&](auto next) {
        const QString label = tr("Add to the shop book");
        if (!next) return void(keeper_.apply(label, Result<shop::Shelves>(next.problem())));
        if (keeper_.apply(label, Result<shop::Shelves>(next->first))) choose(QString::fromStdString(next->second));
    };
    const auto& shelves = keeper_.shelves();
    onThings([&]<class Thing>(const Thing*) {
        put(shop::withFresh<Thing>(shelves, tr("New %1").arg(textOf(shop::nounOf<Thing>())).toStdString()));
    });
}

void ShopDrawer::copy() {
    const auto name = key().toStdString();
    const auto put = [&]<class Kept>(Result<std::pair<Kept, std::string>> next) { // the shelves, or the house
        const QString label = tr("Copy in the shop book");
        if (!next) return void(keeper_.apply(label, Result<Kept>(next.problem())));
        if (keeper_.apply(label, Result<Kept>(next->first))) choose(QString::fromStdString(next->second));
    };
    onThings([&]<class Thing>(const Thing*) { put(shop::withCopy<Thing>(keeper_.shelves(), name)); });
    if (shelf_ == recipes) put(plan::withRecipeCopied(keeper_.house(), name));
}

void ShopDrawer::remove() {
    const auto key = this->key().toStdString();
    const QString label = tr("Remove from the shop book");
    onThings(
        [&]<class Thing>(const Thing*) { keeper_.apply(label, shop::withoutThing<Thing>(keeper_.shelves(), key)); });
    if (shelf_ == recipes) keeper_.apply(label, plan::withoutRecipe(keeper_.house(), key));
}

void ShopDrawer::asShipped() {
    const auto key = this->key().toStdString();
    const auto& shelves = keeper_.shelves();
    onThings([&]<class Thing>(const Thing*) {
        if (shop::fromWhere<Thing>(shelves, key) == shop::From::changed)
            return void(keeper_.apply(tr("As shipped"), shop::withThingAsShipped<Thing>(shelves, key)));
        auto back = shelves;
        back.away.clear();
        keeper_.apply(tr("Back with what was put away"), Result<shop::Shelves>(back));
    });
}

void ShopDrawer::give() {
    const QString file = QFileDialog::getSaveFileName(this, tr("Give the shop book out"),
                                                      QStringLiteral("shop-book.json"), tr("Shop book (*.json)"));
    if (file.isEmpty()) return;
    const auto written =
        writeAtomically(realDisk(), file.toStdString(), plan::toText(plan::Pages{keeper_.book(), keeper_.house()}));
    Q_EMIT keeper_.told(written ? tr("Written: %1").arg(file) : QString::fromStdString(written.problem().text()),
                        !written);
}

void ShopDrawer::take() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Take pages of another shop book in"), {}, tr("Shop book (*.json)"));
    if (file.isEmpty()) return;
    const auto text = realDisk().read(file.toStdString());
    const auto pages = text ? plan::pagesFromText(*text) : Result<plan::Pages>(text.problem());
    if (!pages)
        return void(
            Q_EMIT keeper_.told(QString::fromStdString(pages.problem().within(file.toStdString()).text()), true));
    auto things = shop::withBook(keeper_.shelves(), pages->book, false);
    if (!things) return void(Q_EMIT keeper_.told(QString::fromStdString(things.problem().text()), true));
    auto ways = plan::withHouse(keeper_.house(), pages->house);
    if (!keeper_.apply(tr("Take pages in"), ShopKeeper::Kept(std::move(things->shelves), std::move(ways.house))))
        return;
    QStringList words{
        tr("%1 things, %2 recipes and %3 rules came in.").arg(things->added).arg(ways.recipes).arg(ways.rules)};
    QStringList beside;
    for (const auto* list : {&things->renamed, &ways.renamed})
        for (const auto& name : *list) beside << QString::fromStdString(name);
    if (!beside.isEmpty()) words << tr("Kept beside what was there: %1.").arg(beside.join(", "));
    Q_EMIT keeper_.told(words.join(' '), false);
}

void ShopDrawer::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return void(Q_EMIT closed());
    QFrame::keyPressEvent(event);
}

void ShopDrawer::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().color(Token::paper));
    painter.setPen(theme().pen(Token::rule));
    painter.drawLine(0, 0, 0, height());
}

} // namespace ferro::app
