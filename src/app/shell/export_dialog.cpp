#include "app/shell/export_dialog.h"

#include "app/theme/theme.h"

#include <QGridLayout>
#include <QScrollArea>

namespace ferro::app {

ExportDialog::ExportDialog(const artwork::Artwork& artwork, QWidget* parent) : QDialog(parent), artwork_(artwork) {
    setObjectName("exportDialog");
    setWindowTitle(tr("Export outlines"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(12);
    auto* list = new QWidget;
    list->setObjectName("exportLayers");
    auto* grid = new QGridLayout(list);
    grid->setContentsMargins(0, 0, 8, 0);
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(6);
    grid->setColumnStretch(0, 1);
    for (const auto& layer : artwork.layers) {
        const auto lines = formats::hairlinesOf(artwork, {&layer.name, 1});
        if (!lines) continue; // nothing on it that shows
        const int row = static_cast<int>(rows_.size());
        const auto name = QString::fromStdString(layer.name);
        auto* taken = new QCheckBox(name.size() > 40 ? name.left(38) + QStringLiteral("…") : name);
        taken->setToolTip(name);
        taken->setObjectName("export_" + name);
        taken->setChecked(!layer.notes);
        auto* colour = new QLineEdit(QString::fromStdString(lines->front().colour));
        colour->setObjectName("exportColour_" + name);
        colour->setAccessibleName(tr("Colour of %1").arg(name));
        colour->setFixedWidth(84);
        colour->setMaxLength(7);
        const auto pieces = lines->front().pieces.size();
        auto* count = captionLabel((pieces == 1 ? tr("1 piece") : tr("%1 pieces").arg(pieces)) +
                                   (layer.notes ? tr(", notes") : QString()));
        auto* shown = new QLabel;
        shown->setFixedSize(16, 16);
        count->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        grid->addWidget(taken, row, 0);
        grid->addWidget(count, row, 1);
        grid->addWidget(shown, row, 2);
        grid->addWidget(colour, row, 3);
        rows_.push_back({layer.name, taken, colour, shown});
        connect(taken, &QCheckBox::toggled, this, &ExportDialog::refresh);
        connect(colour, &QLineEdit::textChanged, this, &ExportDialog::refresh);
    }
    auto* scroll = new QScrollArea; // a drawing may have a hundred layers
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(list);
    scroll->setMinimumSize(400, std::min(list->sizeHint().height() + 4, 320));
    column->addWidget(scroll, 1);
    kind_ = new WordChoice(tr("Drawing"), {tr("SVG"), tr("DXF")});
    kind_->setObjectName("exportKind");
    curves_ = new WordChoice(tr("Curves"), {tr("as they are"), tr("short lines")});
    curves_->setObjectName("exportCurves");
    for (auto* choice : {kind_, curves_}) choice->setChosen(0), column->addWidget(choice);
    words_ = wrappedLabel();
    words_->setObjectName("exportWords");
    column->addWidget(words_);
    take_ = addAnswers(this, column, tr("Choose the file…"), "exportTake", tr("Leave it"));
    refresh();
}

Result<std::vector<formats::Hairlines>> ExportDialog::hairlines() const {
    std::vector<std::string> chosen;
    for (const auto& row : rows_)
        if (row.taken->isChecked()) chosen.push_back(row.layer);
    if (chosen.empty()) return Problem{.what = "No layer is chosen.", .where = {}, .mend = "Choose one at least."};
    auto lines = formats::hairlinesOf(artwork_, chosen);
    if (!lines) return lines;
    for (const auto& row : rows_)
        if (row.taken->isChecked())
            if (auto done = formats::recolour(*lines, row.layer + "=" + row.colour->text().toStdString()); !done)
                return done.problem();
    if (curves_->chosen() == 1) formats::straighten(*lines, 0.005);
    return lines;
}

/// What would leave, or why nothing can; each colour is shown beside its name.
void ExportDialog::refresh() {
    std::size_t pieces = 0, layers = 0;
    for (const auto& row : rows_) {
        const QColor colour(row.colour->text());
        row.colour->setEnabled(row.taken->isChecked());
        QPixmap shown(16, 16);
        shown.fill(colour.isValid() ? colour : theme().color(Token::card));
        row.shown->setPixmap(shown);
    }
    const auto lines = hairlines();
    take_->setEnabled(static_cast<bool>(lines));
    if (!lines) return words_->setText(QString::fromStdString(lines.problem().text()));
    for (const auto& l : *lines) pieces += l.pieces.size(), ++layers;
    words_->setText(tr("%1 pieces on %2 layers, hairlines at exact size.").arg(pieces).arg(layers));
}

} // namespace ferro::app
