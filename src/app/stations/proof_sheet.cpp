#include "app/stations/proof_sheet.h"

#include "app/theme/theme.h"
#include "mend/reshape.h"
#include "proof/cost.h"

namespace ferro::app {

namespace {
/// A state mark beside words, as one widget.
class Mark : public QWidget {
public:
    explicit Mark(State state) : state_(state) { setFixedSize(14, 14); }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        paintState(painter, state_, QRectF(0, 1, 13, 12));
    }

private:
    State state_;
};
State stateOf(proof::Verdict verdict) {
    return verdict == proof::Verdict::noGo ? State::noGo : verdict == proof::Verdict::look ? State::look : State::empty;
}
} // namespace

ProofSheet::ProofSheet(Session& session) : StationSheet(session, tr("Go/no-go"), "proofSheet") {
    auto* list = section(tr("Findings"));
    verdict_ = wrappedLabel();
    verdict_->setObjectName("verdict");
    list->add(verdict_);
    auto* holder = new QWidget;
    list_ = new QVBoxLayout(holder);
    list_->setContentsMargins(0, 0, 0, 0);
    list_->setSpacing(10);
    list->add(holder);

    auto* look = section(tr("Show"));
    show_ = new WordChoice({}, {tr("surface"), tr("deviation")});
    show_->setObjectName("proofView");
    show_->setChosen(0);
    look->add(show_);
    deviation_ = wrappedLabel();
    deviation_->setObjectName("deviation");
    look->add(deviation_);
    legend_ = captionLabel();
    look->add(legend_);
    connect(show_, &WordChoice::asked, this, [this](int index) {
        view_ = static_cast<ProofView>(index);
        refresh();
        Q_EMIT viewAsked();
    });

    auto* time = section(tr("Time"));
    play_ = plainButton(tr("Play"), "playProof");
    play_->setCheckable(true);
    auto* buttons = new QHBoxLayout;
    auto* end = plainButton(tr("To the end"), "proofToEnd");
    buttons->addWidget(play_);
    buttons->addWidget(end);
    buttons->addStretch();
    time->add(buttons);
    times_ = wrappedLabel();
    times_->setTextFormat(Qt::RichText);
    time->add(times_);
    cost_ = wrappedLabel();
    cost_->setObjectName("cost");
    time->add(cost_);
    playing_.setInterval(100);
    connect(play_, &QPushButton::toggled, this, [this](bool on) {
        play_->setText(on ? tr("Pause") : tr("Play"));
        if (on && session_.prover().proof() &&
            (session_.prover().playhead() < 0 ||
             session_.prover().playhead() >= session_.prover().proof()->timing.total))
            session_.prover().setPlayhead(0);
        if (on)
            playing_.start();
        else
            playing_.stop();
    });
    connect(&playing_, &QTimer::timeout, this, [this] {
        if (!session_.prover().proof()) return;
        const double total = session_.prover().proof()->timing.total,
                     next = session_.prover().playhead() + total / 200; // the whole job in twenty seconds
        if (next >= total) play_->setChecked(false);
        session_.prover().setPlayhead(next >= total ? -1 : next);
    });
    connect(end, &QPushButton::clicked, this, [this] {
        play_->setChecked(false);
        session_.prover().setPlayhead(-1);
    });
}

void ProofSheet::rebuild() {
    while (auto* item = list_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    built_ = session_.prover().proof();
    builtFresh_ = session_.prover().isFresh();
    if (!built_) return;
    const auto& findings = built_->findings;
    constexpr std::size_t most = 60; // beyond that a list is no help
    for (std::size_t i = 0; i < std::min(findings.size(), most); ++i) {
        const auto& f = findings[i];
        auto* row = new QWidget;
        row->setObjectName(QStringLiteral("finding%1").arg(i));
        auto* grid = new QGridLayout(row);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setHorizontalSpacing(8);
        grid->setVerticalSpacing(3);
        grid->addWidget(new Mark(stateOf(f.verdict)), 0, 0, Qt::AlignTop);
        auto* what = wrappedLabel(QString::fromStdString(f.what));
        grid->addWidget(what, 0, 1);
        if (!f.mend.empty()) grid->addWidget(captionLabel(QString::fromStdString(f.mend)), 1, 1);
        auto* actions = new QHBoxLayout;
        if (f.at) {
            auto* jump = plainButton(tr("Show"), "jump");
            actions->addWidget(jump);
            connect(jump, &QPushButton::clicked, this, [this, at = *f.at] { Q_EMIT session_.jumpAsked({at.x, at.y}); });
        }
        if (f.fix) {
            auto* fix = plainButton(QString::fromStdString(f.fix->label), "fix");
            fix->setEnabled(builtFresh_);
            actions->addWidget(fix);
            connect(
                fix, &QPushButton::clicked, this, [this, i] { session_.prover().applyFix(i); }, Qt::QueuedConnection);
        }
        if (f.offer == proof::Finding::Offer::spaceAround) {
            constexpr double border = 10; // mm, as a plate round a stencil is handled by; sized in Mend
            auto* use = plainButton(tr("Use the space around"), "useSpaceAround");
            use->setEnabled(builtFresh_);
            actions->addWidget(use);
            connect(use, &QPushButton::clicked, this, [this, items = f.items] {
                session_.editArtwork(tr("Use the space around"),
                                     [art = session_.job().artwork, items](Progress&) -> Result<Session::Edited> {
                                         auto made = mend::withNegative(*art, items, border);
                                         if (!made) return made.problem();
                                         return Session::Edited{std::move(*made), {}};
                                     });
            });
        }
        if (f.offer == proof::Finding::Offer::fitJoints) {
            auto* fit = plainButton(tr("To the joints"), "toJoints");
            actions->addWidget(fit);
            connect(fit, &QPushButton::clicked, this, [this] { Q_EMIT jointsAsked(); });
        }
        actions->addStretch();
        if (f.at || f.fix || f.offer != proof::Finding::Offer::none) grid->addLayout(actions, 2, 1);
        grid->setColumnStretch(1, 1);
        list_->addWidget(row);
    }
    if (findings.size() > most) list_->addWidget(captionLabel(tr("and %1 more").arg(findings.size() - most)));
}

void ProofSheet::refresh() {
    const auto proof = session_.prover().proof();
    if (proof != built_ || builtFresh_ != session_.prover().isFresh()) rebuild();
    if (!proof) {
        verdict_->setText(tr("Nothing to proof yet."));
        return;
    }
    const auto looks = proof->count(proof::Verdict::look), noGos = proof->count(proof::Verdict::noGo);
    verdict_->setText(!session_.prover().isFresh() ? tr("Proofing…")
                      : noGos                      ? tr("No-go: %1 to settle before a program is written.").arg(noGos)
                      : looks                      ? tr("Go, with %1 to look at.").arg(looks)
                                                   : tr("Go."));
    setNote(noGos ? tr("no-go") : tr("go"));
    const auto& d = proof->deviation;
    const auto number = [](double v) { return QString::number(v, 'f', 3); };
    if (proof->path.process == shop::Process::blade)
        deviation_->setText(tr("tip off its line by %1 mm at worst").arg(number(d.astray)));
    else
        deviation_->setText(tr("cut into %1 mm · left standing %2 mm").arg(number(d.cutInto), number(d.leftStanding)));
    legend_->setText(view_ == ProofView::deviation
                         ? tr("● small green: within 0.01 mm   ● ochre: left standing, by its size   ● red: cut into")
                     : d.unreachedArea >= 0.5
                         ? tr("Corners keep up to %1 mm that the tool cannot reach.").arg(number(d.corners))
                         : QString());
    QString rows;
    for (const auto& sum : proof::sumsOf(proof->path, proof->timing))
        rows +=
            QStringLiteral("<tr><td>%1</td><td align='right'>&nbsp;&nbsp;%2</td></tr>")
                .arg(QString::fromStdString(sum.name).toHtmlEscaped(), QString::fromStdString(shownTime(sum.motion)));
    rows += QStringLiteral("<tr><td>%1</td><td align='right'>&nbsp;&nbsp;%2</td></tr>")
                .arg(tr("Changes and spin-up"),
                     QString::fromStdString(shownTime(proof->timing.total - proof->timing.motion)));
    rows += QStringLiteral("<tr><td><b>%1</b></td><td align='right'>&nbsp;&nbsp;<b>%2</b></td></tr>")
                .arg(tr("Total"), QString::fromStdString(shownTime(proof->timing.total)));
    const auto cost = proof::costOf(session_.job(), proof->path, proof->timing).words();
    cost_->setVisible(!cost.empty());
    cost_->setText(tr("Costs %1").arg(QString::fromStdString(cost)));
    times_->setText("<table width='100%'>" + rows + "</table>");
}

} // namespace ferro::app
