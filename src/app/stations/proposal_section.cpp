#include "app/stations/proposal_section.h"

namespace ferro::app {

ProposalSection::ProposalSection(Session& session, const QString& title, Auditor::Asked asked, const QByteArray& name,
                                 const QString& take)
    : Section(title), session_(session), asked_(asked), name_(name), words_(captionLabel()), list_(new QListWidget),
      look_(plainButton(tr("Look"), name + "Look")), take_(plainButton(take, name + "Take")) {}

void ProposalSection::finish() {
    auto& auditor = session_.auditor();
    words_->setObjectName(QString::fromLatin1(name_ + "Words"));
    words_->setWordWrap(true);
    list_->setObjectName(QString::fromLatin1(name_ + "List"));
    list_->setAccessibleName(tr("Proposals"));
    list_->setFixedHeight(110);
    list_->setWordWrap(true);
    auto* line = new QHBoxLayout;
    line->addWidget(look_);
    line->addWidget(take_);
    line->addStretch();
    add(line);
    add(words_);
    add(list_);
    connect(look_, &QPushButton::clicked, this, &ProposalSection::look);
    connect(take_, &QPushButton::clicked, this, [this, &auditor] {
        std::vector<std::size_t> taken;
        for (int i = 0; i < list_->count(); ++i)
            if (list_->item(i)->checkState() == Qt::Checked) taken.push_back(static_cast<std::size_t>(i));
        auditor.takeProposed(taken);
    });
    connect(list_, &QListWidget::currentRowChanged, this, [this, &auditor](int row) {
        if (row < 0 || row >= static_cast<int>(auditor.proposed().changes.size())) return;
        const auto& p = auditor.proposed().changes[static_cast<std::size_t>(row)];
        const Vec2 at = boundsOf(p.becomes).centre();
        session_.select({p.item});
        Q_EMIT session_.jumpAsked({at.x, at.y});
    });
    connect(&auditor, &Auditor::proposedChanged, this, &ProposalSection::refresh);
    setFolded(true);
}

void ProposalSection::refresh() {
    showFields();
    const auto& proposed = session_.auditor().proposed();
    const bool ours = proposed.asked == asked_;
    if (list_->property("of").toInt() != (ours ? proposed.number : -1)) {
        const QSignalBlocker quiet(list_);
        list_->clear();
        for (const auto& p : proposed.changes) {
            if (!ours) break;
            auto* item = new QListWidgetItem(QString::fromStdString(p.what), list_);
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(Qt::Checked);
        }
        list_->setProperty("of", ours ? proposed.number : -1);
    }
    const bool some = ours && !proposed.changes.empty();
    list_->setVisible(some);
    take_->setEnabled(some);
    QStringList words;
    words << (!ours  ? wordsBefore()
              : some ? tr("Green on the bench: what it becomes. Untick what is meant as it is.")
                     : wordsOfNone());
    if (ours) words << wordsOfSome();
    for (const auto& left : proposed.left)
        if (ours) words << QString::fromStdString(left);
    words.removeAll(QString());
    words_->setText(words.join('\n'));
}

} // namespace ferro::app
