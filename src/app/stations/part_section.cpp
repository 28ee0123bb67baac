#include "app/stations/part_section.h"

#include "artwork/copies.h"
#include "job/part_words.h"

namespace ferro::app {

PartSection::PartSection(Session& session) : Section(tr("Part")), session_(session) {
    words_ = captionLabel();
    words_->setObjectName("partWords");
    add(words_);
    const auto field = [&](const QString& label, Measure measure, const char* name) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(QLatin1String(name));
        connect(made, &QuantityField::refused, this, &PartSection::refused);
        add(made);
        return made;
    };
    quantity_ = field(tr("Wanted"), Measure::count, "partQuantity");
    quantity_->setRange(1, 100'000);
    connect(quantity_, &QuantityField::edited, this, [this](double v) {
        ask(tr("Part: how many"), [=](artwork::Part& p) { p.quantity = static_cast<int>(std::lround(v)); });
    });
    thickness_ = field(tr("Thickness"), Measure::length, "partThickness");
    thickness_->setRange(0, 9999);
    thickness_->setHint(tr("0: any"));
    connect(thickness_, &QuantityField::edited, this,
            [this](double v) { ask(tr("Part: thickness"), [=](artwork::Part& p) { p.thickness = v; }); });
    material_ = new QComboBox;
    material_->setObjectName("partMaterial");
    material_->setFixedWidth(150);
    material_->addItem(tr("any"), QString());
    add(row(tr("Material"), material_));
    connect(material_, &QComboBox::activated, this, [this](int index) {
        const auto key = material_->itemData(index).toString().toStdString();
        ask(tr("Part: material"), [=](artwork::Part& p) { p.material = key; });
    });
    turns_ = new WordChoice(tr("Turns"), {tr("any"), tr("none"), tr("half"), tr("quarter")});
    turns_->setObjectName("partTurns");
    add(turns_);
    connect(turns_, &WordChoice::asked, this, [this](int index) {
        ask(tr("Part: turns"), [=](artwork::Part& p) { p.turns = static_cast<artwork::Turns>(index); });
    });
    priority_ = new WordChoice(tr("Priority"), {tr("must"), tr("filler")});
    priority_->setObjectName("partPriority");
    add(priority_);
    connect(priority_, &WordChoice::asked, this, [this](int index) {
        ask(tr("Part: priority"), [=](artwork::Part& p) { p.priority = static_cast<artwork::Priority>(index); });
    });
    mirror_ = new QCheckBox(tr("May lie face down"));
    mirror_->setObjectName("partMirror");
    add(mirror_);
    connect(mirror_, &QCheckBox::clicked, this,
            [this](bool on) { ask(tr("Part: face down"), [=](artwork::Part& p) { p.mirror = on; }); });
    auto* read = plainButton(tr("Read from names and layers"), "partsRead");
    read->setToolTip(tr("What is written there: “birch 6 mm, 2 off”"));
    connect(read, &QPushButton::clicked, this, [this] {
        auto facts = job::withPartWords(session_.job(), session_.selection(), session_.book());
        if (!facts) return session_.tell(facts.problem());
        QStringList told;
        for (const auto& line : facts->told) told << QString::fromStdString(line);
        if (facts->parts == 0)
            return void(
                Q_EMIT refused(told.isEmpty() ? tr("No name or layer says anything new of a part.") : told.join("; ")));
        if (session_.apply(tr("Read part facts"), std::move(facts->job))) Q_EMIT session_.told(told.join("; "), false);
    });
    labels_ = new QLineEdit;
    labels_->setObjectName("partLabels");
    labels_->setPlaceholderText(tr("parted by commas"));
    add(row(tr("Labels"), labels_));
    add(buttonRow({read}));
    connect(labels_, &QLineEdit::editingFinished, this, [this] {
        std::vector<std::string> labels;
        for (const auto& word : labels_->text().split(',', Qt::SkipEmptyParts))
            if (!word.trimmed().isEmpty()) labels.push_back(word.trimmed().toStdString());
        if (labels != part().labels) ask(tr("Part: labels"), [=](artwork::Part& p) { p.labels = labels; });
    });
}

artwork::Part PartSection::part() const {
    const auto& art = *session_.job().artwork;
    // That of the first which has facts of its own: they stand on the outermost piece only.
    for (const auto id : session_.selection())
        if (const auto* item = artwork::find(art, id); item && !(artwork::partOf(art, *item) == artwork::Part{}))
            return artwork::partOf(art, *item);
    return {};
}

void PartSection::ask(const QString& label, const std::function<void(artwork::Part&)>& change) {
    artwork::Part next = part();
    change(next);
    session_.apply(label, job::withArtwork(session_.job(),
                                           artwork::withPart(*session_.job().artwork, session_.selection(), next)));
}

void PartSection::refresh() {
    const auto& art = *session_.job().artwork;
    artwork::Ids pieces;
    for (const auto id : session_.selection())
        if (const auto* item = artwork::find(art, id); item && artwork::shapeOf(*item)) pieces.push_back(id);
    setVisible(!pieces.empty());
    if (pieces.empty()) return;
    const auto& first = *artwork::find(art, pieces.front());
    const auto kin = artwork::kinOf(art, pieces.front());
    const auto on =
        std::count_if(kin.begin(), kin.end(), [&](artwork::ItemId id) { return bool(artwork::find(art, id)->sheet); });
    words_->setText((first.of ? tr("A copy of “%1”. ").arg(QString::fromStdString(artwork::find(art, first.of)->name))
                              : QString()) +
                    tr("%1 on the sheets, the original counted.").arg(on));
    const auto now = part();
    thickness_->setUnits(session_.job().units);
    quantity_->setQuantity(now.quantity);
    thickness_->setQuantity(now.thickness);
    offer(material_, session_.book().materials, 1);
    material_->setCurrentIndex(std::max(0, material_->findData(QString::fromStdString(now.material))));
    turns_->setChosen(static_cast<int>(now.turns));
    priority_->setChosen(static_cast<int>(now.priority));
    mirror_->setChecked(now.mirror);
    QStringList labels;
    for (const auto& label : now.labels) labels << QString::fromStdString(label);
    if (!labels_->hasFocus()) labels_->setText(labels.join(QStringLiteral(", ")));
}

} // namespace ferro::app
