#include "app/stations/station_sheet.h"

#include "app/theme/theme.h"

namespace ferro::app {

StationSheet::StationSheet(Session& session, const QString& title, const char* name) : session_(session) {
    setObjectName(QLatin1String(name));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* page = new QWidget;
    column_ = new QVBoxLayout(page);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(0);
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(16, 6, 16, 4);
    auto* words = new QLabel(title);
    words->setProperty("title", true);
    note_ = new QLabel;
    note_->setProperty("faded", true);
    row->addWidget(words);
    row->addStretch();
    row->addWidget(note_);
    column_->addWidget(head);
    column_->addStretch(1);
    setWidget(page);
}

void StationSheet::setNote(const QString& text) {
    note_->setText(QFontMetrics(note_->font()).elidedText(text, Qt::ElideMiddle, 190));
}

Section* StationSheet::section(const QString& title) {
    auto* made = new Section(title);
    column_->insertWidget(column_->count() - 1, made);
    return made;
}

QuantityField* StationSheet::quantity(Section* into, const QString& label, Measure measure, const char* name) {
    auto* field = new QuantityField(label, measure);
    field->edit()->setObjectName(QLatin1String(name));
    into->add(field);
    connect(field, &QuantityField::refused, this, [this](const QString& why) { Q_EMIT told(why, true); });
    return field;
}

} // namespace ferro::app
