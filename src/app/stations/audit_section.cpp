#include "app/stations/audit_section.h"

#include "app/theme/theme.h"

namespace ferro::app {

namespace {

QString countedFault(mend::Fault fault, std::size_t n) {
    const auto words = [&](const QString& one, const QString& many) {
        return QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
    };
    switch (fault) {
    case mend::Fault::speck: return words(QObject::tr("speck"), QObject::tr("specks"));
    case mend::Fault::stub: return words(QObject::tr("with stubs"), QObject::tr("with stubs"));
    case mend::Fault::doubled: return words(QObject::tr("doubled line"), QObject::tr("doubled lines"));
    case mend::Fault::gap: return words(QObject::tr("gap"), QObject::tr("gaps"));
    case mend::Fault::crossing: return words(QObject::tr("crosses itself"), QObject::tr("cross themselves"));
    case mend::Fault::crowded: return words(QObject::tr("too many points"), QObject::tr("too many points"));
    case mend::Fault::beyond: return words(QObject::tr("over the stock"), QObject::tr("over the stock"));
    case mend::Fault::border: return words(QObject::tr("border round all"), QObject::tr("borders round all"));
    }
    return {};
}

} // namespace

AuditSection::AuditSection(Session& session) : Section(tr("Audit")), session_(session) {
    auto& auditor = session.auditor();
    auto* head = new QHBoxLayout;
    verdict_ = wrappedLabel();
    verdict_->setObjectName("auditVerdict");
    all_ = primaryButton(tr("Mend all"), "mendAll");
    head->addWidget(verdict_, 1);
    head->addWidget(all_);
    add(head);
    connect(all_, &QPushButton::clicked, &auditor, &Auditor::mendAll);
    for (const auto fault : mend::faults) {
        const auto name = QString::fromStdString(std::string(mend::wordOf(fault)));
        auto* widget = new QWidget;
        auto* line = new QHBoxLayout(widget);
        line->setContentsMargins(0, 0, 0, 0);
        line->setSpacing(6);
        auto* words = new QLabel;
        words->setObjectName("audit-" + name);
        auto* show = plainButton(tr("Show"), "");
        show->setObjectName("show-" + name);
        show->setAccessibleName(tr("Show the next: %1").arg(name));
        auto* mend = plainButton(fault == mend::Fault::border ? tr("Take out") : tr("Mend"), "");
        mend->setObjectName("mend-" + name);
        mend->setAccessibleName(tr("Mend: %1").arg(name));
        line->addWidget(words, 1);
        line->addWidget(show);
        line->addWidget(mend);
        add(widget);
        rows_[static_cast<std::size_t>(fault)] = {widget, words};
        connect(show, &QPushButton::clicked, &auditor, [&auditor, fault] { auditor.walk(fault); });
        connect(mend, &QPushButton::clicked, &auditor, [&auditor, fault] { auditor.mend(fault); });
    }
    current_ = wrappedLabel();
    current_->setObjectName("auditCurrent");
    add(current_);
    one_ = plainButton(tr("Mend this one"), "mendOne");
    auto* oneLine = new QHBoxLayout;
    oneLine->addWidget(one_);
    oneLine->addStretch();
    add(oneLine);
    connect(one_, &QPushButton::clicked, &auditor, &Auditor::mendCurrent);
    const auto field = [&](const QString& label, const char* name, Measure measure, double mend::Tolerances::*member) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(QLatin1String(name));
        made->setRange(0, 1000);
        add(made);
        fields_.emplace_back(made, member);
        const auto take = [&auditor, member](double value, quint64 gesture) {
            auto next = auditor.tolerances();
            next.*member = value;
            auditor.setTolerances(next, gesture);
        };
        connect(made, &QuantityField::edited, this, [take](double value) { take(value, 0); });
        connect(made, &QuantityField::scrubbed, this, take);
        connect(made, &QuantityField::refused, this, &AuditSection::refused);
    };
    field(tr("Gaps within"), "auditGap", Measure::length, &mend::Tolerances::gap);
    field(tr("Doubled within"), "auditDoubled", Measure::length, &mend::Tolerances::doubled);
    field(tr("Specks under"), "auditSpeck", Measure::area, &mend::Tolerances::speck);
    field(tr("Thin within"), "auditThin", Measure::length, &mend::Tolerances::thin);
    connect(&auditor, &Auditor::changed, this, &AuditSection::refresh);
}

void AuditSection::refresh() {
    const auto& auditor = session_.auditor();
    const auto audit = auditor.audit();
    const bool fresh = auditor.isFresh();
    const std::size_t count = audit ? audit->flaws.size() : 0;
    verdict_->setText(!fresh ? tr("Looking…") : count ? tr("%1 to mend").arg(count) : tr("Nothing to mend."));
    // Whether a border is one, a person has to say.
    all_->setVisible(count > (audit ? audit->count(mend::Fault::border) : 0));
    all_->setEnabled(fresh);
    for (const auto fault : mend::faults) {
        const auto& row = rows_[static_cast<std::size_t>(fault)];
        const std::size_t of = audit ? audit->count(fault) : 0;
        row.widget->setVisible(of > 0);
        row.widget->setEnabled(fresh);
        row.words->setText(countedFault(fault, of));
    }
    const int now = auditor.current();
    const bool some = fresh && now >= 0;
    current_->setVisible(some);
    one_->setVisible(some);
    if (some) {
        const auto& flaw = audit->flaws[static_cast<std::size_t>(now)];
        const auto* item = artwork::find(*session_.job().artwork, flaw.item);
        current_->setText(tr("%1: %2.").arg(item ? QString::fromStdString(item->name) : tr("Drawing"),
                                            QString::fromStdString(flaw.what)));
        if (!auditor.wouldDo().isEmpty())
            current_->setText(current_->text() + QLatin1Char(' ') + tr("Mended: %1.").arg(auditor.wouldDo()));
    }
    for (const auto& [field, member] : fields_) {
        field->setUnits(session_.job().units);
        field->setQuantity(auditor.tolerances().*member);
    }
}

} // namespace ferro::app
