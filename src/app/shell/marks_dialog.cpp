#include "app/shell/marks_dialog.h"

#include "app/theme/theme.h"

namespace ferro::app {

MarksDialog::MarksDialog(const job::Job& job, const QString& picture, Of of, Background& background, QWidget* parent)
    : QDialog(parent), job_(job), of_(of) {
    setObjectName("marksDialog");
    setWindowTitle(of == Of::sheet ? tr("Where the print lies") : tr("Where the camera stands"));
    if (of == Of::sheet) {
        for (const auto& mark : job::marksOf(job)) drawn_.push_back(mark.at), radius_ = mark.radius;
        if (auto view = job::cameraOf(realDisk(), job.machine.key)) view_ = *view;
    } else {
        drawn_ = job::spotsOf(job);
    }
    places_.resize(drawn_.size());
    picture_ = new RingedPicture;
    auto* column = besidePicture(this, picture_);
    column->addWidget(captionLabel(of == Of::sheet
                                       ? tr("Choose a mark and click where it is, or type its place on the sheet.")
                                       : tr("Of a printed card two spots or more have to be told: go there with the "
                                            "tool and type where it stands.")));
    list_ = new QListWidget;
    list_->setObjectName("marksList");
    list_->setAccessibleName(tr("Marks"));
    column->addWidget(list_, 1);
    const auto field = [&](const QString& label, const char* name) {
        auto* made = new QuantityField(label, Measure::length);
        made->setObjectName(QLatin1String(name));
        made->edit()->setObjectName(QLatin1String(name) + "Edit");
        made->setUnits(job.units);
        made->setRange(-10000, 10000);
        column->addWidget(made);
        connect(made, &QuantityField::edited, this, [this, made](double value) {
            made->setQuantity(value);
            typed();
        });
        return made;
    };
    x_ = field(tr("It is at x"), "markX");
    y_ = field(tr("and y"), "markY");
    leave_ = plainButton(tr("Do not use it"), "markLeave");
    column->addWidget(leave_);
    words_ = wrappedLabel();
    words_->setObjectName("marksWords");
    words_->setMinimumHeight(96);
    column->addWidget(words_);
    take_ =
        addAnswers(this, column, of == Of::sheet ? tr("Move the job to fit") : tr("Keep it"), "marksTake", tr("Leave"));
    take_->setEnabled(false);
    // Return ends a number here, and presses nothing.
    for (auto* button : findChildren<QPushButton*>()) button->setAutoDefault(false), button->setDefault(false);
    connect(picture_, &RingedPicture::clicked, this, &MarksDialog::clicked);
    connect(list_, &QListWidget::currentRowChanged, this, &MarksDialog::choose);
    connect(leave_, &QPushButton::clicked, this, [this] {
        if (const int row = list_->currentRow(); row >= 0) places_[static_cast<std::size_t>(row)].reset();
        look();
    });
    words_->setText(tr("Looking for the marks…"));
    background.run(
        "marks", tr("Looking for the marks"), [file = picture.toStdString()](Progress&) { return LookedAt::of(file); },
        this, [this](Result<LookedAt> seen) { take(std::move(seen)); });
}

void MarksDialog::take(Result<LookedAt> seen) {
    const auto say = [&](const QString& text) {
        words_->setText(text);
        words_->setStyleSheet(QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
    };
    if (!seen) return say(QString::fromStdString(seen.problem().text()));
    seen_ = std::move(*seen);
    picture_->setImage(seen_.image);
    if (of_ == Of::sheet && view_) {
        auto found = job::marksSeen(job_, *view_, seen_.round, seen_.grey.width, seen_.grey.height);
        if (!found) {
            view_.reset();
            return say(QString::fromStdString(found.problem().text()));
        }
        places_ = std::move(*found);
    }
    look();
    for (std::size_t i = 0; i < places_.size(); ++i)
        if (!places_[i]) return list_->setCurrentRow(static_cast<int>(i));
    if (list_->count() > 0) list_->setCurrentRow(0);
}

/// Where a mark is taken to be drawn, on the sheet; after the correction as far as that is known.
Vec2 MarksDialog::drawnAt(std::size_t mark) const {
    return correction_ ? correction_->map(drawn_[mark]) : drawn_[mark];
}

void MarksDialog::clicked(Vec2 px) {
    const int row = list_->currentRow();
    if (of_ == Of::camera || !view_ || row < 0) return;
    places_[static_cast<std::size_t>(row)] = job::onSheet(job_, *view_, seen_.snapped(px));
    look();
    for (std::size_t i = 0; i < places_.size(); ++i)
        if (!places_[i]) return list_->setCurrentRow(static_cast<int>(i));
}

void MarksDialog::typed() {
    const int row = list_->currentRow();
    if (row < 0) return;
    places_[static_cast<std::size_t>(row)] = Vec2{x_->quantity(), y_->quantity()};
    look();
}

void MarksDialog::choose(int mark) {
    if (mark >= 0) look();
}

/// The chosen one's place, and whether it counts.
void MarksDialog::showChosen() {
    const int row = list_->currentRow();
    leave_->setEnabled(row >= 0 && places_[static_cast<std::size_t>(row)].has_value());
    if (row < 0) return;
    const Vec2 at = places_[static_cast<std::size_t>(row)].value_or(drawnAt(static_cast<std::size_t>(row)));
    x_->setQuantity(at.x);
    y_->setQuantity(at.y);
}

void MarksDialog::look() {
    if (of_ == Of::camera) return lookForCamera();
    const auto length = [&](double v) { return QString::fromStdString(shown(v, Measure::length, job_.units)); };
    const auto made = job::correctionBy(job_, places_);
    correction_ = made ? std::optional(*made) : std::nullopt;
    take_->setEnabled(correction_.has_value());
    std::vector<RingedPicture::Ring> rings;
    const QSignalBlocker quiet(list_);
    while (list_->count() < static_cast<int>(drawn_.size())) list_->addItem(QString());
    std::size_t found = 0;
    for (std::size_t i = 0; i < drawn_.size(); ++i) {
        const QString number = QString::number(i + 1);
        QString words = tr("%1   not found").arg(number);
        if (places_[i])
            words = correction_ ? tr("%1   off by %2").arg(number, length(correction_->off[found]))
                                : tr("%1   found").arg(number);
        found += places_[i].has_value();
        list_->item(static_cast<int>(i))->setText(words);
        if (!view_) continue;
        const Vec2 at = job::inPicture(job_, *view_, places_[i].value_or(drawnAt(i)));
        const Vec2 beside = job::inPicture(job_, *view_, places_[i].value_or(drawnAt(i)) + Vec2{radius_, 0});
        using As = RingedPicture::Ring::As;
        rings.push_back({at, distance(at, beside), number,
                         static_cast<int>(i) == list_->currentRow() ? As::chosen
                         : places_[i]                               ? As::found
                                                                    : As::missing});
    }
    picture_->setRings(std::move(rings));
    showChosen();
    QString words;
    if (correction_)
        words = tr("%1 of %2 marks, at most %3 off.\nShifted %4, %5 and turned %6°; %7 % wide, %8 % high, "
                   "skewed %9°.")
                    .arg(found)
                    .arg(drawn_.size())
                    .arg(length(correction_->worst), length(correction_->shift.x), length(correction_->shift.y))
                    .arg(correction_->turn * 180 / pi, 0, 'f', 2)
                    .arg(100 * correction_->wider, 0, 'f', 2)
                    .arg(100 * correction_->higher, 0, 'f', 2)
                    .arg(correction_->skew * 180 / pi, 0, 'f', 2);
    else
        words = QString::fromStdString(made.problem().text());
    if (!view_)
        words += "\n" + tr("How this machine's camera stands is not known: type where two marks or more are, or take "
                           "Shop › Where the camera stands first.");
    words_->setText(words);
    words_->setStyleSheet(correction_ ? QString() : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
}

void MarksDialog::lookForCamera() {
    if (seen_.image.isNull()) return;
    std::vector<Vec2> from, to;
    for (std::size_t i = 0; i < places_.size(); ++i)
        if (places_[i]) from.push_back(drawn_[i]), to.push_back(*places_[i]);
    const auto lies = from.size() > 1 ? fittedMap(from, to).map : Transform{};
    const bool told = from.size() > 1 || !job_.plan.steps.empty();
    const auto made = job::cameraFrom(job_, seen_.round, seen_.grey.width, seen_.grey.height, lies);
    found_ = made && told ? std::optional(*made) : std::nullopt;
    take_->setEnabled(found_.has_value());
    const QSignalBlocker quiet(list_);
    while (list_->count() < static_cast<int>(drawn_.size())) list_->addItem(QString());
    std::vector<RingedPicture::Ring> rings;
    for (std::size_t i = 0; i < drawn_.size(); ++i) {
        const QString number = QString::number(i + 1);
        list_->item(static_cast<int>(i))->setText(places_[i] ? tr("%1   told").arg(number) : number);
        if (!made) continue;
        const Vec2 at = job::inPicture(job_, made->view, lies(drawn_[i]));
        const Vec2 beside = job::inPicture(job_, made->view, lies(drawn_[i] + Vec2{radius_, 0}));
        using As = RingedPicture::Ring::As;
        rings.push_back(
            {at, distance(at, beside), number, static_cast<int>(i) == list_->currentRow() ? As::chosen : As::found});
    }
    picture_->setRings(std::move(rings));
    showChosen();
    QString words;
    if (!made)
        words = QString::fromStdString(made.problem().text());
    else {
        words = tr("%1 of %2 spots, at most %3 off.")
                    .arg(made->found)
                    .arg(made->of)
                    .arg(QString::fromStdString(shown(made->worst, Measure::length, job_.units)));
        if (!told) words += " " + tr("Tell where two of them are.");
    }
    words_->setText(words);
    words_->setStyleSheet(found_ ? QString() : QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()));
}

} // namespace ferro::app
