#include "app/stations/shape_section.h"

#include "artwork/arrange.h"
#include "artwork/choose.h"

namespace ferro::app {

namespace {

/// Buttons beside each other, as wide as one another.

} // namespace

ShapeSection::ShapeSection(Session& session) : Section(tr("Shape")), session_(session) {
    const auto together = [&](const QString& label, const char* name, const QString& hint, mend::Together how) {
        auto* button = plainButton(label, name);
        button->setToolTip(hint);
        onTwo_.push_back(button);
        connect(button, &QPushButton::clicked, this, [this, label, how] { combine(label, how); });
        return button;
    };
    add(buttonRow({together(tr("Join"), "shapeJoin", tr("One area of all"), mend::Together::join),
                   together(tr("Take away"), "shapeTakeAway", tr("The first chosen without the others"),
                            mend::Together::takeAway)}));
    add(buttonRow({together(tr("Overlap"), "shapeOverlap", tr("What all have in common"), mend::Together::overlap),
                   together(tr("Split"), "shapeSplit", tr("Cut apart where they cross"), mend::Together::split)}));
    const auto one =
        [&](QuantityField* field, const QString& label, const char* name, const QString& hint,
            std::function<Result<Session::Edited>(const artwork::Artwork&, const artwork::Ids&, double)> work) {
            auto* button = plainButton(label, name);
            button->setToolTip(hint);
            auto* line = new QHBoxLayout;
            line->addStretch();
            line->addWidget(button);
            add(line);
            onOne_.push_back(button);
            connect(button, &QPushButton::clicked, this, [this, field, label, work = std::move(work)] {
                session_.editArtwork(label,
                                     [art = session_.job().artwork, ids = session_.selection(),
                                      value = field->quantity(), work](Progress&) { return work(*art, ids, value); });
            });
        };
    offset_ = field(tr("Offset"), "shapeOffset", 3);
    offset_->setRange(-1000, 1000);
    corners_ = new WordChoice(tr("Corners"), {tr("round"), tr("sharp"), tr("flat")});
    corners_->setChosen(0);
    add(corners_);
    connect(corners_, &WordChoice::asked, this, [this](int index) { corner_ = static_cast<Corner>(index); });
    auto* make = plainButton(tr("Add the offset"), "shapeOffsetMake");
    make->setToolTip(tr("Outside above 0, inside below 0"));
    auto* line = new QHBoxLayout;
    line->addStretch();
    line->addWidget(make);
    add(line);
    onOne_.push_back(make);
    connect(make, &QPushButton::clicked, this, [this] {
        session_.editArtwork(tr("Offset"),
                             [art = session_.job().artwork, ids = session_.selection(), by = offset_->quantity(),
                              corner = corner_](Progress&) -> Result<Session::Edited> {
                                 auto added = mend::withOffset(*art, ids, by, corner);
                                 if (!added) return added.problem();
                                 return Session::Edited{std::move(added->artwork), {}, added->ids};
                             });
    });
    width_ = field(tr("Line width"), "shapeWidth", 2);
    width_->setRange(0.01, 1000);
    one(width_, tr("Make lines areas"), "shapeWiden", tr("Each line becomes the area of a pen of this width"),
        [](const artwork::Artwork& art, const artwork::Ids& ids, double width) -> Result<Session::Edited> {
            auto made = mend::withLinesWidened(art, ids, width, Cap::round);
            if (!made) return made.problem();
            return Session::Edited{std::move(*made), {}};
        });
    border_ = field(tr("Border"), "shapeBorder", 10);
    border_->setRange(0, 1000);
    one(border_, tr("Use the space around"), "shapeNegative", tr("A border round the chosen areas, less the areas"),
        [](const artwork::Artwork& art, const artwork::Ids& ids, double border) -> Result<Session::Edited> {
            auto made = mend::withNegative(art, ids, border);
            if (!made) return made.problem();
            return Session::Edited{std::move(*made), {}};
        });
    setFolded(true);
}

QuantityField* ShapeSection::field(const QString& label, const char* name, double value) {
    auto* made = new QuantityField(label, Measure::length);
    made->edit()->setObjectName(QLatin1String(name));
    made->setQuantity(value);
    connect(made, &QuantityField::edited, made, &QuantityField::setQuantity);
    connect(made, &QuantityField::scrubbed, made, [made](double v) { made->setQuantity(v); });
    connect(made, &QuantityField::refused, this, &ShapeSection::refused);
    add(made);
    return made;
}

void ShapeSection::combine(const QString& label, mend::Together how) {
    session_.editArtwork(
        label, [art = session_.job().artwork, ids = session_.selection(), how](Progress&) -> Result<Session::Edited> {
            auto made = mend::withCombined(*art, ids, how);
            if (!made) return made.problem();
            return Session::Edited{std::move(*made), {}};
        });
}

void ShapeSection::refresh() {
    for (auto* field : {offset_, width_, border_}) field->setUnits(session_.job().units);
    for (auto* button : onTwo_) button->setEnabled(session_.selection().size() > 1);
    for (auto* button : onOne_) button->setEnabled(!session_.selection().empty());
}

ChooseSection::ChooseSection(Session& session) : Section(tr("Choose")), session_(session) {
    const auto button = [&](const QString& label, const char* name,
                            artwork::Ids (*which)(const artwork::Artwork&, const artwork::Ids&)) {
        auto* made = plainButton(label, name);
        connect(made, &QPushButton::clicked, this,
                [this, which] { session_.select(which(*session_.job().artwork, session_.selection())); });
        onSome_.push_back(made);
        return made;
    };
    add(buttonRow({button(tr("Like these"), "chooseLike", artwork::likeThese),
                   button(tr("Inside these"), "chooseInside", artwork::inside)}));
    add(buttonRow({button(tr("Same layer"), "chooseLayer", artwork::onSameLayers),
                   button(tr("The others"), "chooseOthers", artwork::inverted)}));
    const auto form = [&](const QString& label, const char* name, artwork::Form which) {
        auto* made = plainButton(label, name);
        connect(made, &QPushButton::clicked, this,
                [this, which] { session_.select(artwork::ofForm(*session_.job().artwork, which)); });
        return made;
    };
    add(buttonRow({form(tr("Open lines"), "chooseOpen", artwork::Form::openLines),
                   form(tr("Circles"), "chooseCircles", artwork::Form::circles)}));
    const auto flag = [&](const QString& label, const char* name, artwork::Flag which) {
        auto* made = plainButton(label, name);
        connect(made, &QPushButton::clicked, this, [this, label, which] {
            const auto next = artwork::withFlag(*session_.job().artwork, session_.selection(), which, true);
            if (session_.apply(label, job::withArtwork(session_.job(), next))) session_.select({});
        });
        onSome_.push_back(made);
        return made;
    };
    add(buttonRow({flag(tr("Hide these"), "chooseHide", artwork::Flag::hidden),
                   flag(tr("Lock these"), "chooseLock", artwork::Flag::locked)}));
    size_ = new QuantityField(tr("All up to"), Measure::length);
    size_->edit()->setObjectName("chooseUpTo");
    size_->setRange(0, 10'000);
    size_->setHint(tr("drag the words: what is smaller lights up"));
    add(size_);
    const auto upTo = [this](double size) {
        size_->setQuantity(size);
        session_.select(artwork::upToSize(*session_.job().artwork, size));
    };
    connect(size_, &QuantityField::edited, this, upTo);
    connect(size_, &QuantityField::scrubbed, this, upTo);
    setFolded(true);
}

void ChooseSection::refresh() {
    size_->setUnits(session_.job().units);
    for (auto* button : onSome_) button->setEnabled(!session_.selection().empty());
}

ArrangeSection::ArrangeSection(Session& session) : Section(tr("Arrange")), session_(session) {
    to_ = new WordChoice(tr("To"), {tr("each other"), tr("key piece"), tr("stock")});
    to_->setToolTip(tr("The bounds of all chosen, of the key piece (click one of the chosen once more), or the stock"));
    to_->setChosen(0);
    add(to_);
    connect(to_, &WordChoice::asked, this, [this](int index) { toStock_ = index; });
    const auto align = [&](const QString& label, const char* name, artwork::Edge edge) {
        auto* made = plainButton(label, name);
        connect(made, &QPushButton::clicked, this, [this, edge] {
            const auto& art = *session_.job().artwork;
            const auto& ids = session_.selection();
            const ferro::Box to = toStock_ == 2 ? job::sheetOf(session_.job().sheet().stock)
                                  : toStock_ == 1 && !ids.empty()
                                      ? artwork::boundsOf(art, artwork::withGroupMates(art, {session_.key()}))
                                      : artwork::boundsOf(art, ids);
            session_.apply(tr("Align"), job::withArtwork(session_.job(), artwork::withAligned(art, ids, edge, to)));
        });
        onSome_.push_back(made);
        return made;
    };
    add(buttonRow({align(tr("Left"), "alignLeft", artwork::Edge::left),
                   align(tr("Centre"), "alignCentre", artwork::Edge::centre),
                   align(tr("Right"), "alignRight", artwork::Edge::right)}));
    add(buttonRow({align(tr("Bottom"), "alignBottom", artwork::Edge::bottom),
                   align(tr("Middle"), "alignMiddle", artwork::Edge::middle),
                   align(tr("Top"), "alignTop", artwork::Edge::top)}));
    const auto space = [&](const QString& label, const char* name, artwork::Along along) {
        auto* made = plainButton(label, name);
        connect(made, &QPushButton::clicked, this, [this, along] {
            session_.apply(tr("Space"),
                           job::withArtwork(session_.job(),
                                            artwork::withSpaced(*session_.job().artwork, session_.selection(), along)));
        });
        onSome_.push_back(made);
        return made;
    };
    add(buttonRow({space(tr("Space across"), "spaceAcross", artwork::Along::across),
                   space(tr("Space upward"), "spaceUpward", artwork::Along::upward)}));
    const auto hand = [&](const QString& label, const char* name, double low, double Session::Hands::*member,
                          const QString& hint) {
        auto* field = new QuantityField(label, Measure::length);
        field->edit()->setObjectName(QLatin1String(name));
        field->setRange(low, 1000);
        field->setHint(hint);
        add(field);
        hands_.emplace_back(field, member);
        const auto take = [this, member](double value) {
            auto hands = session_.hands();
            hands.*member = value;
            session_.setHands(hands);
        };
        connect(field, &QuantityField::edited, this, take);
        connect(field, &QuantityField::scrubbed, this, take);
    };
    hand(tr("Arrow keys move by"), "handNudge", 0.001, &Session::Hands::nudge,
         tr("ten times that with Shift, a tenth with Ctrl"));
    hand(tr("Dragging snaps to"), "handGrid", 0, &Session::Hands::grid, tr("a grid from the zero; 0: to no grid"));
}

void ArrangeSection::refresh() {
    for (const auto& [field, member] : hands_) {
        field->setUnits(session_.job().units);
        field->setQuantity(session_.hands().*member);
    }
    for (auto* button : onSome_) button->setEnabled(!session_.selection().empty());
}

} // namespace ferro::app
