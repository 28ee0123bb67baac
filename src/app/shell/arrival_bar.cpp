#include "app/shell/arrival_bar.h"

#include "app/widgets/parts.h"
#include "base/quantity.h"

#include <QHBoxLayout>
#include <QInputDialog>

namespace ferro::app {

ArrivalBar::ArrivalBar(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("arrival");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 4, 8, 6);
    column->setSpacing(4);
    words_ = wrappedLabel();
    words_->setObjectName("arrivalWords");
    column->addWidget(words_);
    auto* row = new QHBoxLayout;
    column->addLayout(row);
    const auto button = [&](const QString& text, const char* name, auto&& done) {
        auto* made = plainButton(text, name);
        row->addWidget(made);
        connect(made, &QPushButton::clicked, this, done);
    };
    button(tr("Its own size"), "arrivalOwn", [this] { ownSize(); });
    button(tr("Fit the sheet"), "arrivalFit", [this] { fit(); });
    button(tr("This distance is…"), "arrivalDistance", [this] {
        measuring_ = true;
        words_->setText(tr("Drag from one end of a distance that you know to the other."));
        Q_EMIT measureAsked();
    });
    row->addStretch();
    button(tr("Close"), "arrivalClose", [this] { hide(), measuring_ = false; });
    QFrame::hide();
    // What is gone, or no longer chosen, is not to be sized from here.
    connect(&session, &Session::selectionChanged, this, [this] {
        if (session_.selection() != items_) hide(), measuring_ = false;
    });
}

void ArrivalBar::show(const artwork::Ids& items, Vec2 own, const QString& words) {
    items_ = items;
    own_ = own;
    measuring_ = false;
    words_->setText(words);
    QFrame::show();
}

void ArrivalBar::fit() {
    const ferro::Box sheet = job::sheetOf(session_.job().sheet().stock);
    const double rim = std::min({10.0, sheet.width() / 10, sheet.height() / 10});
    session_.apply(
        tr("Fit the sheet"),
        job::withArtwork(session_.job(), artwork::fittedInto(*session_.job().artwork, items_, sheet.grown(-rim))));
}

void ArrivalBar::ownSize() {
    const Vec2 centre = artwork::boundsOf(*session_.job().artwork, items_).centre();
    session_.apply(tr("Own size"),
                   job::withArtwork(session_.job(), artwork::fittedInto(*session_.job().artwork, items_,
                                                                        {centre - own_ / 2, centre + own_ / 2})));
}

void ArrivalBar::measured(Vec2 from, Vec2 to) {
    const double drawn = distance(from, to);
    if (!std::exchange(measuring_, false) || drawn <= 0) return;
    const auto units = session_.job().units;
    bool given = false;
    const QString text = QInputDialog::getText(this, tr("This distance is"), tr("Length"), QLineEdit::Normal,
                                               QString::fromStdString(shown(drawn, Measure::length, units)), &given);
    if (!given) return;
    const auto length = parseQuantity(text.toStdString(), Measure::length, units);
    if (!length) return session_.tell(length.problem());
    if (!(*length > 0)) return session_.tell({.what = "The distance must be above 0.", .where = {}, .mend = {}});
    const double scale = *length / drawn;
    const Vec2 centre = artwork::boundsOf(*session_.job().artwork, items_).centre();
    session_.apply(tr("This distance is"),
                   job::withArtwork(session_.job(), artwork::withTransformed(*session_.job().artwork, items_,
                                                                             Transform::scaled(scale, scale, centre))));
    const ferro::Box box = artwork::boundsOf(*session_.job().artwork, items_);
    words_->setText(tr("%1 × %2 now.")
                        .arg(QString::fromStdString(shown(box.width(), Measure::length, units)),
                             QString::fromStdString(shown(box.height(), Measure::length, units))));
}

} // namespace ferro::app
