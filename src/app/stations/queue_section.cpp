#include "app/stations/queue_section.h"

#include "base/quantity.h"

namespace ferro::app {

QueueSection::QueueSection(Session& session) : Section(tr("Queue")), session_(session) {
    setObjectName("queueSection");
    words_ = wrappedLabel();
    words_->setObjectName("queueWords");
    add(words_);
    go_ = plainButton(tr("To the next sheet"), "queueGo");
    anew_ = plainButton(tr("Count anew"), "queueAnew");
    anew_->setToolTip(tr("As if none had been run"));
    add(buttonRow({go_, anew_}));
    connect(go_, &QPushButton::clicked, this, [this] {
        if (const auto* next = queue_.next()) session_.layOut(next->sheet);
    });
    connect(anew_, &QPushButton::clicked, this, [this] {
        auto queue = queue_;
        for (auto& entry : queue.entries) entry.done = 0;
        keep(std::move(queue));
        refresh();
    });
    setFolded(true);
}

void QueueSection::load() {
    const QString file = session_.writer().runLogFile();
    const auto revision = session_.history().revision();
    if (file == file_ && revision == revision_) return;
    if (file != file_) {
        auto kept = link::keptQueue(realDisk(), link::queueFile(file.toStdString()));
        if (!kept) Q_EMIT told(QString::fromStdString(kept.problem().text()), true);
        queue_ = kept ? std::move(*kept) : link::Queue{};
    }
    file_ = file;
    revision_ = revision;
    queue_ = link::queueFor(session_.job(), queue_);
}

void QueueSection::keep(link::Queue queue) {
    queue_ = std::move(queue);
    if (auto kept = link::keepQueue(realDisk(), link::queueFile(file_.toStdString()), queue_); !kept)
        Q_EMIT told(QString::fromStdString(kept.problem().text()), true);
}

QString QueueSection::takeFinished(job::SheetId sheet, double seconds) {
    load();
    keep(link::withDone(queue_, sheet, seconds));
    const bool single = queue_.entries.size() < 2 && queue_.done() + queue_.left() < 2;
    const auto* next = queue_.next();
    if (single) return {};
    if (!next) return tr("The queue is done: %n runs.", nullptr, queue_.done());
    if (next->sheet == sheet)
        return tr("Lay the next “%1” (%2 of %3 done), then press Start.")
            .arg(QString::fromStdString(next->name))
            .arg(next->done)
            .arg(next->copies);
    session_.layOut(next->sheet);
    const auto* now = job::find(session_.job(), next->sheet);
    return tr("Lay “%1”: %2, %3 × %4 × %5 mm; then press Start.")
        .arg(QString::fromStdString(next->name), QString::fromStdString(job::materialOf(session_.job()).name))
        .arg(now->stock.width)
        .arg(now->stock.height)
        .arg(now->stock.thickness);
}

void QueueSection::refresh() {
    load();
    const bool idle = !session_.runner().active();
    if (rows_.size() != queue_.entries.size()) {
        for (auto& row : rows_) row.whole->deleteLater();
        rows_.clear();
        for (std::size_t i = 0; i < queue_.entries.size(); ++i) {
            Row made{new QWidget, new QLabel, captionLabel(), new QSpinBox};
            auto* line = new QHBoxLayout(made.whole);
            line->setContentsMargins(0, 0, 0, 0);
            line->setSpacing(6);
            made.name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
            made.copies->setObjectName(QStringLiteral("queueCopies%1").arg(i));
            made.copies->setRange(0, 999);
            made.copies->setButtonSymbols(QAbstractSpinBox::NoButtons);
            made.copies->setFixedWidth(44);
            made.copies->setKeyboardTracking(false);
            line->addWidget(made.name, 1);
            line->addWidget(made.done);
            line->addWidget(new QLabel(tr("of")));
            line->addWidget(made.copies);
            add(made.whole);
            connect(made.copies, &QSpinBox::valueChanged, this, [this, i](int copies) {
                if (i >= queue_.entries.size() || queue_.entries[i].copies == copies) return;
                auto queue = link::withCopies(queue_, queue_.entries[i].sheet, copies);
                if (!queue) return void(Q_EMIT told(QString::fromStdString(queue.problem().text()), true));
                keep(std::move(*queue));
                refresh();
            });
            rows_.push_back(made);
        }
    }
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const auto& entry = queue_.entries[i];
        const auto name = QString::fromStdString(entry.name);
        rows_[i].name->setText(name);
        rows_[i].name->setToolTip(name);
        rows_[i].copies->setAccessibleName(tr("Runs of %1").arg(name));
        rows_[i].done->setText(tr("%1 done").arg(entry.done));
        rows_[i].copies->setEnabled(idle);
        if (!rows_[i].copies->hasFocus()) rows_[i].copies->setValue(entry.copies);
    }
    session_.runner().noteRounds({queue_.done(), queue_.left()});
    const auto* next = queue_.next();
    const auto seconds = queue_.secondsLeft();
    words_->setText(queue_.entries.empty() ? tr("No sheet has anything to cut.")
                    : !next                ? tr("All is done: %n runs.", nullptr, queue_.done())
                    : seconds && queue_.done() > 0
                        ? tr("Next: %1. %2 left, about %3.")
                              .arg(QString::fromStdString(next->name))
                              .arg(queue_.left())
                              .arg(QString::fromStdString(shownTime(*seconds)))
                        : tr("Next: %1. %2 left.").arg(QString::fromStdString(next->name)).arg(queue_.left()));
    go_->setEnabled(idle && next && session_.job().sheet().id != next->sheet);
    anew_->setEnabled(idle && queue_.done() > 0);
}

} // namespace ferro::app
