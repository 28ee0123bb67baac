#include "app/stations/bridge_section.h"

#include <set>

namespace ferro::app {

BridgeSection::BridgeSection(Session& session) : Section(tr("Drop-outs")), session_(session) {
    areas_ = new WordChoice(tr("Areas"), {tr("fall out"), tr("stay")});
    areas_->setToolTip(tr("Stencils: what is drawn falls out. Cut-through work: what is drawn stays."));
    lie_ = new WordChoice(tr("Bridges lie"), {tr("in line"), tr("across")});
    lie_->setToolTip(tr("In one line through the middle, or square to the stroke where it is narrowest."));
    islands_ = wrappedLabel();
    islands_->setObjectName("dropOuts");
    add(areas_);
    add(islands_);
    const auto field = [&](const QString& label, Measure measure, const char* name, double low, double high) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(QLatin1String(name));
        made->setRange(low, high);
        add(made);
        connect(made, &QuantityField::refused, this, &BridgeSection::refused);
        return made;
    };
    width_ = field(tr("Bridge width"), Measure::length, "bridgeWidth", 0.05, 100);
    number_ = field(tr("For each island"), Measure::count, "bridgeNumber", 1, 12);
    add(lie_);
    auto* line = new QHBoxLayout;
    make_ = plainButton(tr("Bridge them"), "bridgeMake");
    undo_ = plainButton(tr("Take away"), "bridgeTakeAway");
    line->addWidget(make_);
    line->addWidget(undo_);
    line->addStretch();
    add(line);
    bridges_ = captionLabel(tr("Drag a bridge to move it, Ctrl+click takes it away."));
    add(bridges_);
    connect(width_, &QuantityField::edited, this, [this](double v) { width_->setQuantity(settings_.width = v); });
    connect(number_, &QuantityField::edited, this,
            [this](double v) { number_->setQuantity(settings_.number = static_cast<int>(v)); });
    connect(areas_, &WordChoice::asked, this, [this](int index) {
        settings_.areas = index ? artwork::Bridged::Areas::stay : artwork::Bridged::Areas::fallOut;
        refresh();
    });
    connect(lie_, &WordChoice::asked, this, [this](int index) {
        settings_.lie = index ? mend::BridgeSettings::Lie::across : mend::BridgeSettings::Lie::inLine;
    });
    connect(this, &Section::opened, this, &BridgeSection::refresh);
    setFolded(true);
    connect(make_, &QPushButton::clicked, this, &BridgeSection::bridge);
    connect(undo_, &QPushButton::clicked, this, &BridgeSection::unbridge);
}

artwork::Ids BridgeSection::items() const { return session_.selection(); } // none: all

void BridgeSection::bridge() {
    session_.editArtwork(tr("Bridge drop-outs"),
                         [art = session_.job().artwork, ids = items(),
                          settings = settings_](Progress& progress) -> Result<Session::Edited> {
                             auto made = mend::withBridges(*art, ids, settings, progress);
                             if (!made) return made.problem();
                             return Session::Edited{std::move(made->artwork), made->did};
                         });
}

void BridgeSection::unbridge() {
    const auto& art = *session_.job().artwork;
    const std::set<artwork::ItemId> chosen(session_.selection().begin(), session_.selection().end());
    Result<artwork::Artwork> out = art;
    for (const auto& group : art.groups) {
        const bool asked = std::any_of(art.items.begin(), art.items.end(), [&](const artwork::Item& item) {
            return item.group == group.id && (chosen.empty() || chosen.contains(item.id));
        });
        if (group.bridged && asked && out) out = mend::withoutBridges(*out, group.id);
    }
    session_.apply(tr("Take bridges away"), job::withArtwork(session_.job(), std::move(out)));
}

void BridgeSection::refresh() {
    if (isFolded()) return; // finding them needs a look at every piece
    const auto& art = *session_.job().artwork;
    const auto outs = mend::dropOuts(art, items(), settings_.areas);
    const auto bridges = mend::bridgesOf(art);
    islands_->setText(outs.empty() ? tr("Nothing would drop out.") : tr("%1 would drop out").arg(outs.size()));
    make_->setEnabled(!outs.empty());
    undo_->setVisible(!bridges.empty());
    bridges_->setVisible(!bridges.empty());
    areas_->setChosen(settings_.areas == artwork::Bridged::Areas::stay ? 1 : 0);
    lie_->setChosen(settings_.lie == mend::BridgeSettings::Lie::across ? 1 : 0);
    width_->setUnits(session_.job().units);
    width_->setQuantity(settings_.width);
    number_->setQuantity(settings_.number);
}

} // namespace ferro::app
