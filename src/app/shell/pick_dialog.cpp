#include "app/shell/pick_dialog.h"

#include "app/shell/facts.h"
#include "app/theme/theme.h"
#include "geometry/flatten.h"
#include "geometry/measure.h"

namespace ferro::app {

PickDialog::PickDialog(const job::Job& card, const QString& picture, Background& background, QWidget* parent)
    : QDialog(parent), card_(card) {
    setObjectName("pickDialog");
    setWindowTitle(tr("How the swatches came out"));
    picture_ = new RingedPicture;
    auto* column = besidePicture(this, picture_);
    column->addWidget(
        captionLabel(tr("Click the cell that came out best, in the picture or in the list. Darkest first.")));
    list_ = new QListWidget;
    list_->setObjectName("pickList");
    list_->setAccessibleName(tr("Cells"));
    column->addWidget(list_, 1);
    again_ = plainButton(tr("Click the corner marks"), "pickCorners");
    column->addWidget(again_);
    words_ = wrappedLabel();
    words_->setObjectName("pickWords");
    words_->setMinimumHeight(80);
    column->addWidget(words_);
    take_ = addAnswers(this, column, tr("It is proven…"), "pickTake", tr("Leave"));
    take_->setEnabled(false);
    takeGreys_ = plainButton(tr("Its greys are proven…"), "pickGreys");
    takeGreys_->setToolTip(tr("Power and middle greys for pictures, from the cells like this one but for their power"));
    column->insertWidget(column->indexOf(words_), takeGreys_);
    connect(takeGreys_, &QPushButton::clicked, this, [this] {
        wantsGreys_ = true;
        accept();
    });
    connect(picture_, &RingedPicture::clicked, this, &PickDialog::clicked);
    connect(list_, &QListWidget::currentRowChanged, this, [this] { look(); });
    connect(again_, &QPushButton::clicked, this, [this] {
        corners_.clear();
        reading_.reset();
        look();
    });
    say(tr("Looking for the corner marks…"), false);
    background.run(
        "pick", tr("Reading the card"), [file = picture.toStdString()](Progress&) { return LookedAt::of(file); }, this,
        [this](Result<LookedAt> seen) { take(std::move(seen)); });
}

plan::StepId PickDialog::chosen() const {
    const int row = list_->currentRow();
    if (!reading_ || row < 0) return {};
    return reading_->cells[static_cast<std::size_t>(list_->item(row)->data(Qt::UserRole).toInt())].step;
}

void PickDialog::say(const QString& text, bool isProblem) {
    words_->setText(text);
    words_->setStyleSheet(isProblem ? QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()) : QString());
}

void PickDialog::take(Result<LookedAt> seen) {
    if (!seen) return say(QString::fromStdString(seen.problem().text()), true);
    seen_ = std::move(*seen);
    picture_->setImage(seen_.image);
    corners_ = job::cornerMarksIn(seen_.round).value_or(std::vector<Vec2>{});
    read();
}

void PickDialog::read() {
    reading_.reset();
    list_->clear();
    if (corners_.size() < 4) return look();
    auto made = job::swatchRead(card_, seen_.grey, corners_);
    if (!made) {
        corners_.clear();
        look();
        return say(QString::fromStdString(made.problem().text()) + "\n" + tr("Click the corner marks yourself."), true);
    }
    reading_ = std::move(*made);
    std::vector<std::size_t> order(reading_->cells.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::stable_sort(order.begin(), order.end(),
                     [&](auto a, auto b) { return reading_->cells[a].dark > reading_->cells[b].dark; });
    const QSignalBlocker quiet(list_);
    for (const auto i : order) {
        const auto& cell = reading_->cells[i];
        const auto* step = plan::find(card_.plan, cell.step);
        auto* item = new QListWidgetItem(tr("%1 % dark, %2 % uneven\n%3")
                                             .arg(100 * cell.dark, 0, 'f', 1)
                                             .arg(100 * cell.uneven, 0, 'f', 1)
                                             .arg(QString::fromStdString(step->name)),
                                         list_);
        item->setData(Qt::UserRole, static_cast<int>(i));
        if (reading_->best == i) list_->setCurrentItem(item);
    }
    look();
}

void PickDialog::clicked(Vec2 px) {
    if (!reading_) {
        if (seen_.image.isNull()) return;
        corners_.push_back(seen_.snapped(px, 2));
        return corners_.size() == 4 ? read() : look();
    }
    const Vec2 at = reading_->view(px);
    for (int row = 0; row < list_->count(); ++row) {
        const auto& cell = reading_->cells[static_cast<std::size_t>(list_->item(row)->data(Qt::UserRole).toInt())];
        if (boundsOf(cell.outline).contains(at)) list_->setCurrentRow(row);
    }
}

void PickDialog::look() {
    std::vector<RingedPicture::Ring> rings;
    using As = RingedPicture::Ring::As;
    for (std::size_t i = 0; i < corners_.size(); ++i)
        rings.push_back({corners_[i], 0, QString::number(i + 1), As::found});
    take_->setEnabled(chosen() != plan::StepId{});
    greys_.reset();
    if (reading_)
        if (auto made = job::greysFrom(card_, *reading_, chosen())) greys_ = std::move(*made);
    takeGreys_->setVisible(greys_.has_value());
    const char* const names[] = {QT_TR_NOOP("lower left"), QT_TR_NOOP("lower right"), QT_TR_NOOP("upper right"),
                                 QT_TR_NOOP("upper left")};
    if (!reading_) {
        picture_->setRings(std::move(rings));
        if (!seen_.image.isNull() && corners_.size() < 4)
            say(tr("Click the middle of the card's %1 mark.").arg(tr(names[corners_.size()])), false);
        return;
    }
    for (auto& ring : rings) ring.words.clear();
    const int row = list_->currentRow();
    const int chosenCell = row < 0 ? -1 : list_->item(row)->data(Qt::UserRole).toInt();
    for (std::size_t i = 0; i < reading_->cells.size(); ++i) {
        const auto& cell = reading_->cells[i];
        RingedPicture::Ring ring{reading_->view.seen(boundsOf(cell.outline).centre()), 0,
                                 tr("%1 %").arg(std::lround(100 * cell.dark)),
                                 static_cast<int>(i) == chosenCell ? As::chosen : As::found};
        for (const Vec2 p : flattened(cell.outline, 0.2)) ring.outline.push_back(reading_->view.seen(p));
        rings.push_back(std::move(ring));
    }
    picture_->setRings(std::move(rings));
    QStringList words;
    if (reading_->best)
        words << tr("The darkest of those that are even is %1.")
                     .arg(QString::fromStdString(plan::find(card_.plan, reading_->cells[*reading_->best].step)->name));
    if (greys_)
        words << tr("Greys by %1 cells: %2 % power, middle greys %3; off by %4 % at most, %5 % without.")
                     .arg(greys_->measured.size())
                     .arg(greys_->power)
                     .arg(greys_->gamma)
                     .arg(std::lround(100 * greys_->off))
                     .arg(std::lround(100 * greys_->offPlain));
    say(words.join('\n'), false);
}

} // namespace ferro::app
